"""Where pulls are looked for: out from a thing's edge at both sides, however it lies in its own coordinates."""

from __future__ import annotations

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace
from shapely import affinity
from shapely.geometry import box as rectangle
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.depth.seated import local_pocket
from cozy_burrow.core.geometry.rings import outline_of
from cozy_burrow.core.kit.shapes import outline_item
from cozy_burrow.core.model.pull_kinds import PULL_KINDS
from cozy_burrow.core.model.records import Item, Rules, Zone
from cozy_burrow.core.pulls.choose import Choice, choices_at
from tests.makers import drawer

RULES = Rules(allowance_mm=0.0)
WIDE_MM, HANDLE_MM = 24.0, 60.0


def bar(turn_deg: float = 0.0, x: float = 0.0, y: float = 0.0) -> Item:
    """Return a bar of 160 x 24 mm: a thick handle of 60 mm to the left, a thin rest."""

    def moved(shape: BaseGeometry) -> BaseGeometry:
        return affinity.translate(affinity.rotate(shape, turn_deg, origin=(0, 0)), x, y)

    whole = rectangle(-80, -WIDE_MM / 2, 80, WIDE_MM / 2)
    handle, rest = rectangle(-80, -WIDE_MM / 2, HANDLE_MM - 80, WIDE_MM / 2), rectangle(HANDLE_MM - 80, -12, 80, 12)
    item = outline_item("item-1", "bar", outline_of(moved(whole)), thickness_mm=20, way="drawn")
    zones = tuple(
        Zone(name=name, region=outline_of(moved(shape)), section="flat", under_mm=0.0, top_mm=top)
        for name, shape, top in (("handle", handle, 20.0), ("rest", rest, 6.0))
    )
    return replace(item, zones=zones)


def choices(item: Item, along_mm: float) -> list[Choice]:
    """Return what is offered at one place of an item."""
    return choices_at(local_pocket(item, None, drawer(), RULES), RULES, along_mm=along_mm)


class Places(unittest.TestCase):
    def test_a_pair_stands_out_from_both_sides_and_a_single_one_from_one_of_them(self) -> None:
        for one in choices(bar(30.0), 0.0):
            kind = PULL_KINDS[one.pull.kind]
            out_mm = WIDE_MM / 2 + kind.out * one.pull.width_mm / 2
            across = math.radians(30.0 + 90.0)
            from_axis = [x * math.cos(across) + y * math.sin(across) for x, y in one.pull.points_mm]
            with self.subTest(kind=one.pull.kind, width=one.pull.width_mm, side=one.side):
                for off in from_axis:
                    self.assertAlmostEqual(abs(off), out_mm, delta=0.1)
                if kind.both_sides:
                    self.assertAlmostEqual(sum(from_axis), 0.0, delta=0.1)

    @settings(max_examples=12, deadline=None)
    @given(turn=st.floats(-80.0, 80.0), x=st.floats(-200, 200), y=st.floats(-200, 200), along=st.floats(-30, 50))
    def test_they_lie_and_cost_the_same_wherever_the_thing_has_its_origin(
        self, turn: float, x: float, y: float, along: float
    ) -> None:
        cos, sin = math.cos(math.radians(turn)), math.sin(math.radians(turn))
        here, there = choices(bar(), along), choices(bar(turn, x, y), along)
        self.assertEqual(len(here), len(there))
        for one, other in zip(here, there):
            due = np.array(one.pull.points_mm) @ np.array([[cos, sin], [-sin, cos]]) + (x, y)
            np.testing.assert_allclose(np.array(other.pull.points_mm), due, atol=0.1)
            self.assertAlmostEqual(one.cost, other.cost, delta=0.01)

    def test_a_place_off_the_handle_is_dearer_by_one_sum_wherever_it_is(self) -> None:
        item = bar(25.0, 100.0, 40.0)  # it balances on its handle, 3.3 mm from its end
        extra = [choices(item, along)[0].cost - choices(item, -along)[0].cost for along in (6.0, 10.0, 30.0)]
        self.assertGreater(extra[0], 0.1)
        np.testing.assert_allclose(extra, extra[0], atol=0.005)


if __name__ == "__main__":
    unittest.main()
