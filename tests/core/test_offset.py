"""Areas grown and shrunk, and snug pockets of them: sound for any shape, and right where GEOS alone goes astray."""

from __future__ import annotations

import random
import unittest
import warnings

import shapely
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.depth.pocket import grown
from cozy_burrow.core.geometry.offset import mitred, rounded
from cozy_burrow.core.geometry.rings import polygons_in


def ragged(chance: random.Random) -> BaseGeometry:
    """Boxes, discs and stars over and beside each other, bitten, on a grid of a micrometre: some only touch."""
    parts: list[BaseGeometry] = []
    for _ in range(chance.randint(1, 6)):
        x, y = chance.uniform(-60, 60), chance.choice([0, 0, chance.uniform(-30, 30)])
        kind = chance.randrange(3)
        if kind == 0:
            low, high = chance.choice([0.5, 2, 11.361]), chance.choice([0, 0.5, chance.uniform(0.1, 20)])
            parts.append(shapely.box(x, y - low, x + chance.uniform(0.5, 80), y + high))
        elif kind == 1:
            parts.append(shapely.Point(x, y).buffer(chance.uniform(0.3, 30), quad_segs=chance.choice([4, 8, 16])))
        else:
            corners = [(x + chance.gauss(0, 20), y + chance.gauss(0, 20)) for _ in range(chance.randint(3, 12))]
            parts.append(shapely.Polygon(corners).buffer(0))
    found = shapely.union_all(parts)
    for _ in range(chance.randint(0, 3)):
        bite = shapely.Point(chance.uniform(-50, 50), chance.uniform(-20, 20)).buffer(chance.uniform(0.2, 15))
        found = found.difference(bite)
    return shapely.set_precision(found, 0.001)


def many(count: int) -> list[BaseGeometry]:
    chance = random.Random(11)
    found = [ragged(chance) for _ in range(count)]
    return [one for one in found if not one.is_empty]


class Offsets(unittest.TestCase):
    def test_what_comes_back_is_sound_and_never_loses_an_area(self) -> None:
        chance, strayed = random.Random(3), 0
        for shape in many(500):
            by_mm = chance.choice([0.2, 0.5, 1.0, 3.0, chance.uniform(0.01, 6.0)])
            small = mitred(shape, -by_mm)
            self.assertTrue(small.is_valid and mitred(shape, by_mm).is_valid)
            self.assertTrue(rounded(shape, -by_mm).is_valid and rounded(shape, by_mm, arc=4).is_valid)
            alone = shape.buffer(-by_mm, join_style="mitre")
            strayed += not alone.is_valid or abs(alone.area - small.area) > 0.01
            for part in polygons_in(shape):  # a disc that fits well into a part is never given up
                middle = shapely.maximum_inscribed_circle(part, tolerance=0.05)
                if middle.length > 1.5 * by_mm:
                    self.assertLess(small.distance(shapely.get_point(middle, 0)), 0.2)
        self.assertGreater(strayed, 0)  # else these shapes would prove nothing

    def test_corners_stay_sharp_or_become_round(self) -> None:
        square = shapely.box(0, 0, 10, 10)
        self.assertTrue(mitred(square, 2.0).equals(shapely.box(-2, -2, 12, 12)))
        self.assertTrue(mitred(square, -2.0).equals(shapely.box(2, 2, 8, 8)))
        self.assertAlmostEqual(rounded(square, 2.0, arc=400).area, 100 + 80 + 4 * 3.14159265, places=2)
        self.assertTrue(mitred(square, -6.0).is_empty)

    def test_areas_that_touch_at_a_point_are_shrunk_one_by_one(self) -> None:
        two = shapely.MultiPolygon([shapely.box(0, 0, 10, 10), shapely.box(10, 10, 30, 30)])
        self.assertAlmostEqual(mitred(two, -1.0).area, 8 * 8 + 18 * 18)

    def test_corners_that_are_one_but_for_the_last_digit_warn_nobody(self) -> None:
        hair = 7e-15  # as an overlay on a grid of its own leaves them
        left = [(-63.9, 7.02), (-63.9, 6.94956296476628), (-63.9 - hair, 6.949562964766206), (-63.9 - hair, 5.66)]
        rest = [(-63.9 - hair, -5.66), (-63.9 - hair, -6.949562964766206), (-63.9, -6.94956296476628), (-63.9, -7.02)]
        shape = shapely.Polygon([(0, 8), *left, *rest, (0, -8)])
        with warnings.catch_warnings():
            warnings.simplefilter("error")
            grown_by = mitred(shape, 1.3)
        plain = shapely.Polygon([(0, 8), (-63.9, 7.02), (-63.9, -7.02), (0, -8)])
        self.assertLess(grown_by.symmetric_difference(mitred(plain, 1.3)).area, 1e-6)

    def test_a_snug_pocket_is_cut_for_whatever_shape(self) -> None:
        chance = random.Random(5)
        for shape in many(250):
            by_mm = chance.choice([0.2, 0.3, 0.5, 1.0, chance.uniform(0.05, 6.0)])
            cut = grown(shape, -by_mm)
            self.assertTrue(cut.is_valid)
            self.assertLess(shapely.difference(cut, shape.buffer(0.01), grid_size=1e-4).area, 0.01)
            self.assertGreaterEqual(cut.area, mitred(shape, -by_mm).area - 0.05)
