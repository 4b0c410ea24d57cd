"""Rings, axes and placing, against closed forms and each other."""

from __future__ import annotations

import math
import unittest

import numpy as np
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from cozy_burrow.core.capture.drawing.areas import filled_by_rule, joined, nested
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.axes import half_widths, long_axis_deg, spread_across
from cozy_burrow.core.geometry.placing import direction, placed, points_to_item, to_item, to_plan
from cozy_burrow.core.geometry.rings import (
    centre_shift,
    checked_outline,
    ellipse_ring,
    filled,
    outline_of,
    polygon_of,
    polygons_in,
    shifted,
)
from cozy_burrow.core.model.records import Outline, Placement


def shoelace(ring: tuple[tuple[float, float], ...]) -> float:
    return sum(x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in zip(ring, (*ring[1:], ring[0]))) / 2


class Rings(unittest.TestCase):
    def test_outer_rings_are_positive_and_holes_negative(self) -> None:
        washer = shapely.Point(0, 0).buffer(20).difference(shapely.Point(0, 0).buffer(8))
        outline = outline_of(washer)
        self.assertGreater(shoelace(outline.outer), 0)
        self.assertLess(shoelace(outline.holes[0]), 0)
        self.assertNotEqual(outline.outer[0], outline.outer[-1])
        self.assertAlmostEqual(polygon_of(outline).area, washer.area, places=2)

    def test_an_ellipse_stays_within_the_flattening(self) -> None:
        for width, height in ((80.0, 80.0), (200.0, 40.0), (1.0, 1.0)):
            ring = np.array(ellipse_ring(width, height))
            middles = (ring + np.roll(ring, -1, axis=0)) / 2
            reach = np.hypot(middles[:, 0] / (width / 2), middles[:, 1] / (height / 2))
            self.assertGreater(reach.min() * min(width, height) / 2, min(width, height) / 2 - 0.021)

    def test_small_crossings_are_mended_and_large_ones_refused(self) -> None:
        nearly = shapely.Polygon([(0, 0), (50, 0), (50, 30), (0.01, 30), (0, 30.01), (0, 29.99)])
        self.assertAlmostEqual(polygon_of(checked_outline(nearly, where="a")).area, 1500, delta=1)
        with self.assertRaises(UnusableInput):
            checked_outline(shapely.Polygon([(0, 0), (40, 40), (40, 0), (0, 40)]), where="a")
        for bad in (
            shapely.Polygon(),
            shapely.Polygon([(0, 0), (50, 0), (100, 0)]),
            shapely.box(0, 0, 1e6, 5),
            shapely.box(0, 0, 0.01, 0.01),
        ):
            with self.assertRaises(UnusableInput):
                checked_outline(bad, where="a")

    def test_filling_leaves_no_hole_and_parts_come_largest_first(self) -> None:
        washer = shapely.Point(0, 0).buffer(20).difference(shapely.Point(0, 0).buffer(8))
        both = shapely.union(washer, shapely.box(100, 0, 110, 10))
        self.assertEqual([round(part.area) for part in polygons_in(filled(both))], [1255, 100])
        self.assertEqual(polygons_in(shapely.GeometryCollection([shapely.Point(0, 0)])), [])

    def test_a_shifted_outline_is_centred(self) -> None:
        outline = Outline(outer=((10.0, 5.0), (40.0, 5.0), (40.0, 25.0)))
        dx, dy = centre_shift(outline)
        self.assertEqual(polygon_of(shifted(outline, dx_mm=dx, dy_mm=dy)).bounds, (-15, -10, 15, 10))


class Axes(unittest.TestCase):
    @settings(derandomize=True, deadline=None, max_examples=60)
    @given(st.floats(-89, 90), st.floats(30, 200), st.floats(2, 20))
    def test_the_long_axis_of_a_turned_bar_is_its_turn(self, angle: float, length: float, width: float) -> None:
        bar = shapely.affinity.rotate(shapely.box(-length / 2, -width / 2, length / 2, width / 2), angle, origin=(0, 0))
        found = long_axis_deg(bar)
        away = abs((found - angle + 90) % 180 - 90)
        self.assertLess(away, 0.01)

    def test_a_square_lies_flat(self) -> None:
        self.assertAlmostEqual(abs(long_axis_deg(shapely.box(0, 0, 30, 30))) % 90, 0.0)

    def test_a_line_across_meets_the_outermost_edges(self) -> None:
        fork = shapely.union(shapely.box(0, 0, 50, 5), shapely.box(0, 15, 50, 20))
        ends = spread_across(fork, (25.0, 10.0), angle_deg=90.0)
        assert ends is not None
        self.assertAlmostEqual(ends[0][1], 0.0)
        self.assertAlmostEqual(ends[1][1], 20.0)
        self.assertIsNone(spread_across(fork, (80.0, 10.0), angle_deg=90.0))

    def test_half_widths_follow_a_cone(self) -> None:
        ring = np.array([(0.0, -10.0), (100.0, -2.0), (100.0, 2.0), (0.0, 10.0)])
        low, high = half_widths(ring, np.array([0.001, 50.0, 99.999, 150.0]))
        self.assertAlmostEqual(high[1], 6.0)
        self.assertAlmostEqual(low[1], -6.0)
        self.assertTrue(math.isnan(high[3]))


class Placing(unittest.TestCase):
    @settings(derandomize=True, deadline=None, max_examples=60)
    @given(st.floats(-500, 500), st.floats(-500, 500), st.floats(0, 360), st.floats(-80, 80), st.floats(-80, 80))
    def test_there_and_back_again(self, x: float, y: float, angle: float, px: float, py: float) -> None:
        one = Placement(id="a#1", item_id="a", copy=1, x_mm=x, y_mm=y, angle_deg=angle)
        there = to_plan(one, (px, py))
        back = to_item(one, there)
        self.assertAlmostEqual(back[0], px, places=6)
        self.assertAlmostEqual(back[1], py, places=6)
        moved = placed(shapely.Point(px, py), x_mm=x, y_mm=y, angle_deg=angle)
        self.assertAlmostEqual(moved.x, there[0], places=6)
        many = points_to_item(one, np.array([there, there]))
        self.assertAlmostEqual(float(many[1, 1]), py, places=6)

    def test_a_positive_angle_turns_clockwise_as_seen_from_above(self) -> None:
        one = Placement(id="a#1", item_id="a", copy=1, x_mm=0, y_mm=0, angle_deg=90)
        self.assertEqual(to_plan(one, (10.0, 0.0)), (0.0, 10.0))  # right becomes towards the person

    def test_quarter_turns_are_exact(self) -> None:
        self.assertEqual([direction(angle) for angle in (0, 90, 180, 270, 360)],
                         [(1, 0), (0, 1), (-1, 0), (0, -1), (1, 0)])  # fmt: skip


class Areas(unittest.TestCase):
    def loop(self, x: float, y: float, size: float, *, back: bool = False) -> np.ndarray:
        ring = np.array([(x, y), (x + size, y), (x + size, y + size), (x, y + size)])
        return ring[::-1] if back else ring

    def test_fill_rules_agree_with_their_definitions(self) -> None:
        outer, inner, inner_back = self.loop(0, 0, 40), self.loop(10, 10, 20), self.loop(10, 10, 20, back=True)
        self.assertAlmostEqual(filled_by_rule([outer, inner], even_odd=True).area, 1200)
        self.assertAlmostEqual(filled_by_rule([outer, inner], even_odd=False).area, 1600)
        self.assertAlmostEqual(filled_by_rule([outer, inner_back], even_odd=False).area, 1200)
        star = np.array([(math.cos(math.tau * 2 * n / 5), math.sin(math.tau * 2 * n / 5)) for n in range(5)]) * 50
        whole = filled_by_rule([star], even_odd=False).area
        self.assertGreater(whole, filled_by_rule([star], even_odd=True).area * 1.2)

    def test_nested_lines_are_holes_and_islands(self) -> None:
        loops = [shapely.box(0, 0, 60, 60), shapely.box(10, 10, 50, 50), shapely.box(20, 20, 40, 40)]
        self.assertAlmostEqual(nested(loops).area, 3600 - 1600 + 400)
        crossing = [shapely.box(0, 0, 40, 40), shapely.box(20, 20, 60, 60)]
        self.assertAlmostEqual(nested(crossing).area, 1600 + 1600 - 400)

    def test_ends_join_when_they_are_near_and_stay_open_when_not(self) -> None:
        sides = [np.array([(0, 0), (40, 0)]), np.array([(40.02, 0), (40, 30)]), np.array([(40, 30.03), (0.0, 0.0)])]
        loops, left = joined([side.astype(float) for side in sides])
        self.assertEqual((len(loops), left), (1, 0))
        self.assertAlmostEqual(loops[0].area, 600, delta=2)
        sides[2] = np.array([(40, 31), (0, 0)])
        loops, left = joined([side.astype(float) for side in sides])
        self.assertEqual(len(loops), 0)
        self.assertGreater(left, 0)
