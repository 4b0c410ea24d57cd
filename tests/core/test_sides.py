"""A wall shaved or narrowed at one side: against areas in closed form, and against many small moves put together."""

from __future__ import annotations

import math
import unittest

import numpy as np
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import affinity
from shapely.geometry import Point, Polygon, box

from cozy_burrow.core.geometry.sides import faced_mm, sided

TOOL = Polygon([(-60, -15), (0, -15), (0, -5), (60, -5), (60, 5), (0, 5), (0, 15), (-60, 15)])


def moves(area: Polygon, side_deg: float, by_mm: float) -> shapely.Geometry:
    """Return all of an area's places on the way put together, or what is common to them, in many small moves."""
    turn = math.radians(side_deg)
    # What stays where strips are glued in lies inside however far the area is moved away from there.
    places = [affinity.translate(area, by_mm * s * math.cos(turn), by_mm * s * math.sin(turn)) for s in _STEPS]
    return shapely.intersection_all(places) if by_mm < 0 else shapely.union_all(places)


_STEPS = np.linspace(0.0, 1.0, 81)


class Sides(unittest.TestCase):
    def test_a_rectangle_is_longer_or_shorter_at_that_side_alone(self) -> None:
        area = box(-40, -15, 40, 15)
        for side, by, bounds in (
            (0.0, 2.0, (-40, -15, 42, 15)),
            (0.0, -2.0, (-40, -15, 38, 15)),
            (90.0, -3.0, (-40, -15, 40, 12)),
            (180.0, 1.0, (-41, -15, 40, 15)),
            (270.0, -1.0, (-40, -14, 40, 15)),
        ):
            found = sided(area, ((side, by),))
            self.assertLess(found.symmetric_difference(box(*bounds)).area, 1e-3, (side, by))

    def test_a_round_grows_by_its_breadth(self) -> None:
        """Closed form: what a stretch adds to a convex area is its length times the breadth across it."""
        disc = Point(0, 0).buffer(20, quad_segs=64)
        for side in (0.0, 33.0, 250.0):
            self.assertAlmostEqual(sided(disc, ((side, 3.0),)).area - disc.area, 3.0 * 40.0, delta=0.2)

    def test_every_edge_that_looks_there_has_its_strip(self) -> None:
        """A tool with a handle is held by a strip along the handle's end as along the shaft's."""
        found = sided(TOOL, ((0.0, -2.0),))
        self.assertAlmostEqual(TOOL.area - found.area, 2.0 * 30.0, delta=1e-3)
        self.assertTrue(TOOL.buffer(1e-3).covers(found))

    @settings(max_examples=40, deadline=None)
    @given(st.floats(0, 360), st.floats(-4, 4))
    def test_any_side_is_all_places_on_the_way(self, side_deg: float, by_mm: float) -> None:
        for area in (TOOL, TOOL.difference(box(-40, -8, -20, 8))):
            found, expected = sided(area, ((side_deg, by_mm),)), moves(area, side_deg, by_mm)
            self.assertLess(found.symmetric_difference(expected).area, 0.005 * area.length * abs(by_mm) + 0.02)

    def test_the_share_of_the_edge_that_is_eased(self) -> None:
        area = box(0, 0, 80, 30)
        self.assertEqual(faced_mm(area, ()), 0.0)
        self.assertAlmostEqual(faced_mm(area, ((0.0, 2.0),)), 1.0 * 60 / 220)
        self.assertAlmostEqual(faced_mm(area, ((90.0, -2.0),)), -1.0 * 160 / 220)
        both = faced_mm(area, ((0.0, 2.0), (180.0, 2.0), (90.0, 2.0), (270.0, 2.0)))
        self.assertAlmostEqual(both, 2.0)  # all four sides: as if it were eased all round
