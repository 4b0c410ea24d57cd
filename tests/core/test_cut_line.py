"""Beside which line the blade goes, against figures worked out by hand."""

from __future__ import annotations

import math
import unittest

from msgspec.structs import replace
from shapely.geometry import Point
from shapely.geometry import box as rectangle

from cozy_burrow.core.bench.cut_line import cut_line, floats_mm, saw_for, straight_mm
from cozy_burrow.core.depth.seated import local_pocket
from cozy_burrow.core.model.records import Marking, Rules
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

    def test_a_leaning_pen_is_off_by_the_height_that_it_leans_over(self) -> None:
        # The rod's widest line floats 15 mm over the foam: at 5 degrees the line lies 1.31 mm farther out.
        lean = 15 * math.tan(math.radians(5))
        self.assertAlmostEqual(self.beside("marker", lean_deg=5.0), 1.4 + lean)

    def test_a_leaning_knife_shrinks_the_floor_with_depth(self) -> None:
        rules = Rules(lean_deg=3.0)
        line = cut_line(local_pocket(box(), None, drawer(), rules), 40.0, rules)
        self.assertAlmostEqual(line.lean_mm, 40 * math.tan(math.radians(3)))

    def test_a_thin_shaft_beside_a_fat_handle_floats(self) -> None:
        self.assertAlmostEqual(floats_mm(stations(DRIVER)), 16.0)
        self.assertEqual(floats_mm(box()), 0.0)


class RoundAndStraight(unittest.TestCase):
    def test_a_saw_is_found_only_within_a_millimetre_all_round(self) -> None:
        self.assertEqual(saw_for(Point(3, 4).buffer(19.0)), 38.0)
        self.assertEqual(saw_for(Point(0, 0).buffer(19.8)), 40.0)
        self.assertIsNone(saw_for(Point(0, 0).buffer(24.0)))  # 48: neither 44 nor 51
        self.assertIsNone(saw_for(rectangle(0, 0, 38, 38)))

    def test_straight_runs_are_those_a_rule_is_laid_along(self) -> None:
        straight, whole = straight_mm(rectangle(0, 0, 100, 30))
        self.assertEqual((straight, whole), (200.0, 260.0))
        self.assertEqual(straight_mm(Point(0, 0).buffer(40.0))[0], 0.0)


if __name__ == "__main__":
    unittest.main()
