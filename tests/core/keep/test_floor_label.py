"""Labels at the bottom of pockets: within the floor, upright, as large as a closed form says."""

from __future__ import annotations

import unittest

from hypothesis import given
from hypothesis import strategies as st
from shapely import affinity
from shapely.geometry import Polygon, box

from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.keep.floor_label import LEAST_HIGH_MM, MOST_HIGH_MM, TO_WALL_MM, FloorLabel, floor_label, floor_of
from tests.makers import DRIVER, laid, project, stations


def area_of(one: FloorLabel) -> Polygon:
    """Return where a label lies."""
    flat = box(-one.width_mm / 2, -one.height_mm / 2, one.width_mm / 2, one.height_mm / 2)
    return affinity.translate(affinity.rotate(flat, one.angle_deg, origin=(0, 0)), one.x_mm, one.y_mm)


class FloorLabels(unittest.TestCase):
    @given(long=st.floats(30, 200), wide=st.floats(10, 60), turn=st.floats(0, 360), proportion=st.floats(1.5, 9.0))
    def test_on_a_rectangle_it_is_what_one_works_out_by_hand(
        self, long: float, wide: float, turn: float, proportion: float
    ) -> None:
        floor = affinity.rotate(box(0, 0, long, wide), turn, origin=(0, 0))
        inner = sorted((long - 2 * TO_WALL_MM, wide - 2 * TO_WALL_MM), reverse=True)
        high = max(min(inner[1], inner[0] / proportion), min(inner[0], inner[1] / proportion))
        found = floor_label(floor, proportion)
        if high < LEAST_HIGH_MM - 0.2:
            self.assertIsNone(found)
            return
        if high < LEAST_HIGH_MM + 0.2:
            return
        assert found is not None
        self.assertAlmostEqual(found.height_mm, min(high, MOST_HIGH_MM), delta=0.25 + 0.02 * high)
        self.assertTrue(floor.buffer(-TO_WALL_MM + 0.05).covers(area_of(found)))
        self.assertLessEqual(abs(found.angle_deg), 90.0)

    def test_on_a_tools_floor_it_lies_within(self) -> None:
        plan = laid(project(stations(DRIVER)), (130, 60, 25))
        ground = ground_of(plan, plan.inserts[0])
        (pocket,) = ground.pockets.values()
        floor = floor_of(pocket)
        found = floor_label(floor, 3.0)
        assert found is not None
        self.assertTrue(floor.buffer(-TO_WALL_MM + 0.05).covers(area_of(found)))

    def test_where_nothing_fits_there_is_none(self) -> None:
        self.assertIsNone(floor_label(box(0, 0, 60, 5), 4.0))
        self.assertIsNone(floor_label(Polygon(), 4.0))
