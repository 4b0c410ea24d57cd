"""Beside which line the blade goes, against figures worked out by hand."""

from __future__ import annotations

import itertools
import math
import unittest

import numpy as np
from msgspec.structs import replace
from shapely.geometry import Point
from shapely.geometry import box as rectangle

from cozy_burrow.core.bench.cut_line import cut_line, floats_mm, saw_for, straight_mm
from cozy_burrow.core.depth.seated import local_pocket
from cozy_burrow.core.geometry.rings import outline_of
from cozy_burrow.core.model.records import Marking, Placement, Rules, Sheet, Zone
from tests.makers import DRIVER, box, drawer, rod, stations


class Beside(unittest.TestCase):
    def beside(self, marking: Marking, **fields: float) -> float:
        rules = replace(Rules(marking=marking), **fields)  # type: ignore[arg-type]
        pocket = local_pocket(rod(100, 30), None, drawer(), rules)
        return cut_line(pocket, 20.0, rules).beside_mm

    def test_a_template_is_cut_on_its_line_and_a_marker_line_inside(self) -> None:
        self.assertEqual(self.beside("template"), 0.0)
        # Snug is 1 mm smaller, and the middle of a 0.8 mm line lies 0.4 mm outside.
        self.assertAlmostEqual(self.beside("marker"), 1.4)
        self.assertAlmostEqual(self.beside("knife"), 1.0)
        self.assertAlmostEqual(self.beside("scribe"), 1.3)

    def test_half_the_kerf_is_added_and_an_easy_fit_goes_outside(self) -> None:
        self.assertAlmostEqual(self.beside("template", kerf_mm=3.0), 1.5)
        self.assertAlmostEqual(self.beside("knife", snug_mm=0.0), 0.0)
        easy = replace(rod(100, 30), fit="easy")
        rules = Rules(marking="knife")
        self.assertAlmostEqual(cut_line(local_pocket(easy, None, drawer(), rules), 10.0, rules).beside_mm, -1.0)

    def test_a_lens_that_lies_shallow_is_cut_far_inside_its_widest_line(self) -> None:
        rules = Rules(marking="marker")
        foam = (Sheet(thickness_mm=48.0, pitch_mm=3.2),)
        lens = replace(rod(160, 72), seat=None)
        shallow = Placement(id="a", item_id="item-1", copy=1, x_mm=0, y_mm=0, zone_layers=(2,))
        line = cut_line(local_pocket(lens, shallow, drawer(sheets=foam), rules), 6.4, rules)
        chord = math.sqrt(36**2 - (36 - 6.4) ** 2)
        self.assertAlmostEqual(line.beside_mm, 0.4 + 1.0 + 36 - chord, delta=0.02)  # 16.9 beside its sides
        self.assertAlmostEqual(line.least_mm, 1.4, delta=0.02)  # and 1.4 at its ends
        self.assertFalse(line.same_all_round)

    def test_every_marking_lean_and_edge_against_a_drawing_of_the_cross_section(self) -> None:
        """The section is drawn as points; a pen is a line that is pushed against them, whatever formula says where."""
        turn = np.linspace(0, 2 * math.pi, 40_001)
        plate = [
            Zone(
                name="plate", region=outline_of(rectangle(-90, -20, 90, 20)), section="flat", under_mm=4.0, top_mm=10.0
            )
        ]
        foot = Zone(
            name="foot", region=outline_of(rectangle(-95, -20, -90, 20)), section="flat", under_mm=0.0, top_mm=10.0
        )
        floating = replace(box(185, 40, 10), outline=outline_of(rectangle(-95, -20, 90, 20)), zones=(foot, *plate))
        things = (
            (rod(180, 30), 15 * np.cos(turn), 15 + 15 * np.sin(turn)),
            (box(180, 40, 10), np.array([20.0]), np.array([0.0])),
            (floating, np.array([20.0]), np.array([4.0])),
        )
        tried = 0
        for item, x, z in things:
            for marking in ("template", "marker", "knife", "card", "scribe"):
                for lean, kerf, fit in itertools.product((0.0, 4.0, 12.0), (0.0, 2.0), ("snug", "line", "easy")):
                    rules = Rules(marking=marking, lean_deg=lean, kerf_mm=kerf)  # type: ignore[arg-type]
                    fitted = replace(item, fit=fit)
                    pocket = local_pocket(fitted, None, drawer(), replace(rules, seat="deep"))
                    slope = math.tan(math.radians(lean))
                    wide = float(x.max())
                    drawn = {
                        "marker": 0.4 + float((x + z * slope).max()),
                        "scribe": 0.3 + float((x + z * slope).max()),
                        "knife": float((x - z * slope).max()),
                        "card": wide,
                    }
                    cut = wide + {"snug": -1.0, "line": 0.0, "easy": 1.0}[fit]
                    wanted = kerf / 2 + (drawn[marking] - cut if marking in drawn else 0.0)
                    with self.subTest(item.name, marking=marking, lean=lean, kerf=kerf, fit=fit):
                        self.assertAlmostEqual(cut_line(pocket, 40.0, rules).beside_mm, wanted, delta=0.01)
                    tried += 1
        self.assertEqual(tried, 270)

    def test_a_leaning_knife_shrinks_the_floor_with_depth(self) -> None:
        rules = Rules(lean_deg=3.0)
        line = cut_line(local_pocket(box(), None, drawer(), rules), 40.0, rules)
        self.assertAlmostEqual(line.lean_mm, 40 * math.tan(math.radians(3)))

    def test_a_thin_shaft_beside_a_fat_handle_floats_and_a_plain_rod_does_not(self) -> None:
        self.assertAlmostEqual(floats_mm(stations(DRIVER)), 13.0)
        self.assertEqual((floats_mm(box()), floats_mm(rod(90, 40))), (0.0, 0.0))


class RoundAndStraight(unittest.TestCase):
    def test_a_saw_is_found_only_within_a_millimetre_all_round(self) -> None:
        self.assertEqual(saw_for(Point(3, 4).buffer(19.0)), 38.0)
        self.assertEqual(saw_for(Point(0, 0).buffer(19.8)), 40.0)
        self.assertIsNone(saw_for(Point(0, 0).buffer(24.0)))  # 48: neither 44 nor 51
        self.assertIsNone(saw_for(rectangle(0, 0, 38, 38)))

    def test_straight_runs_are_those_a_rule_is_laid_along(self) -> None:
        straight, whole = straight_mm(rectangle(0, 0, 100, 25))
        self.assertEqual((straight, whole), (200.0, 250.0))
        self.assertEqual(straight_mm(Point(0, 0).buffer(40.0))[0], 0.0)


if __name__ == "__main__":
    unittest.main()
