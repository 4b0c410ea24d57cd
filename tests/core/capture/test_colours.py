"""Where the colours of a thing meet: painted pictures, of which the line is known."""

from __future__ import annotations

import math
import unittest

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import affinity
from shapely.geometry import Polygon, box

from cozy_burrow.core.capture.retouch.colours import colours_meet

CELL_MM = 0.2
STEEL, RED, DARK, WOOD = (0.62, 0.62, 0.64), (0.75, 0.25, 0.22), (0.2, 0.2, 0.22), (0.72, 0.55, 0.36)
Colour = tuple[float, float, float]


def painted(parts: list[tuple[Polygon, Colour]], *, noise: float = 0.03, shade: float = 0.25) -> NDArray[np.uint8]:
    """A picture of 120 by 100 mm: white, parts over it, each brighter towards its middle, with noise."""
    chance = np.random.default_rng(3)
    y, x = (np.mgrid[0:500, 0:600] + 0.5) * CELL_MM
    picture = np.full((500, 600, 3), 0.9)
    for shape, colour in parts:
        within = shapely.contains_xy(shape, x, y)
        deep = np.minimum(shapely.distance(shapely.points(x[within], y[within]), shape.exterior) / 6.0, 1.0)
        picture[within] = np.array(colour) * (1 - shade + 2 * shade * deep)[:, None]
    picture += chance.normal(0.0, noise, picture.shape)
    return np.asarray(np.clip(picture * 255, 0, 255), dtype=np.uint8)


def met(parts: list[tuple[Polygon, Colour]], **more: float) -> tuple[tuple[float, float], tuple[float, float]] | None:
    shape = shapely.union_all([one for one, _ in parts])
    assert isinstance(shape, Polygon)
    return colours_meet(shape, painted(parts, **more), (0.0, 0.0), CELL_MM)


class Meeting(unittest.TestCase):
    def test_a_handle_ends_where_its_colour_does_however_it_lies(self) -> None:
        for turn_deg in (0.0, 20.0, 77.0, 145.0):
            parts = [(box(-1, -3, 45, 3), STEEL), (box(-45, -9, 0, 9), RED)]
            laid = [(affinity.translate(affinity.rotate(s, turn_deg, (0, 0)), 60, 50), c) for s, c in parts]
            found = met(laid)
            assert found is not None, turn_deg
            across = np.array([-math.sin(math.radians(turn_deg)), math.cos(math.radians(turn_deg))])
            along = np.array([across[1], -across[0]])
            for mark in found:
                self.assertLess(abs(float((np.array(mark) - (60, 50)) @ along)), 1.6, turn_deg)
            self.assertGreater(math.dist(*found), 5.0)

    def test_two_things_side_by_side_are_parted_where_they_touch(self) -> None:
        found = met([(box(20, 20, 100, 40), DARK), (box(30, 40, 90, 62), WOOD)])
        assert found is not None
        for _, y in found:
            self.assertAlmostEqual(y, 40.0, delta=1.0)
        self.assertAlmostEqual(abs(found[0][0] - found[1][0]), 70.0, delta=11.0)

    def test_two_handles_of_one_colour_are_crossed_from_the_first_to_the_last(self) -> None:
        head = box(20, 40, 60, 62)
        handles = [box(60, 40, 105, 48), box(60, 54, 105, 62)]
        found = met([(head, STEEL), *((one, RED) for one in handles)])
        assert found is not None
        self.assertLess(min(y for _, y in found), 43.0)
        self.assertGreater(max(y for _, y in found), 59.0)
        for x, _ in found:
            self.assertAlmostEqual(x, 60.0, delta=1.6)

    def test_a_thing_of_one_colour_shaded_and_gleaming_has_no_such_line(self) -> None:
        self.assertIsNone(met([(box(20, 20, 100, 60), STEEL)], shade=0.35))
        self.assertIsNone(met([(box(20, 20, 100, 60), WOOD)]))

    def test_a_label_in_the_middle_is_no_place_where_things_touch(self) -> None:
        self.assertIsNone(met([(box(20, 20, 100, 60), DARK), (box(45, 30, 75, 50), WOOD)]))

    def test_a_splinter_has_none(self) -> None:
        self.assertIsNone(met([(box(20, 20, 26, 21.5), STEEL)]))


if __name__ == "__main__":
    unittest.main()
