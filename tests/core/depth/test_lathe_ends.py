"""Lathe shapes below a plane: how far they reach and how much they open, against the closed form of a cone."""

from __future__ import annotations

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from cozy_burrow.core.depth.sections import reach_below
from tests.makers import stations


class Cones(unittest.TestCase):
    @settings(derandomize=True, deadline=None, max_examples=80)
    @given(st.floats(20, 150), st.floats(10, 50), st.floats(0.2, 9), st.floats(0.02, 0.98))
    def test_a_cone_ends_where_its_radius_is_the_height_of_the_plane(
        self, length: float, wide: float, narrow: float, share: float
    ) -> None:
        (zone,) = stations(f"0:{wide} {length}:{narrow}").zones
        below = share * wide / 2
        area = reach_below(zone, -below)
        ends = min(length, (wide / 2 - below) / ((wide - narrow) / 2) * length)
        left, back, right, front = area.bounds
        self.assertAlmostEqual(right - left, ends, delta=0.005)
        self.assertAlmostEqual(front - back, 2 * (wide**2 / 4 - below**2) ** 0.5, delta=0.02)
        x = np.linspace(0.0, ends, 20_001)
        radius = (wide + (narrow - wide) * x / length) / 2
        opening = 2 * np.trapezoid(np.sqrt(np.maximum(0.0, radius**2 - below**2)), x)
        self.assertAlmostEqual(area.area, opening, delta=0.02 * opening + 0.2)
        self.assertTrue(area.is_valid)

    def test_a_waist_is_two_openings_that_end_exactly(self) -> None:
        (zone,) = stations("0:40 50:10 100:40").zones
        area = reach_below(zone, -10.0)  # radius 20, 5, 20: as wide as the plane is low a third in from either end
        parts = sorted(part.bounds for part in getattr(area, "geoms", [area]))
        self.assertEqual(len(parts), 2)
        for (left, _, right, _), (wanted_left, wanted_right) in zip(
            parts, ((-50.0, -50 + 100 / 3), (50 - 100 / 3, 50.0))
        ):
            self.assertAlmostEqual(left, wanted_left, delta=0.005)
            self.assertAlmostEqual(right, wanted_right, delta=0.005)

    def test_a_bulge_that_dips_in_for_less_than_a_station_is_seen(self) -> None:
        (zone,) = stations("0:10 50:20 100:10").zones
        area = reach_below(zone, -9.95)  # of a radius of 10 in the middle: half a millimetre to either side
        left, _, right, _ = area.bounds
        self.assertAlmostEqual(right - left, 2 * 0.05 / 5 * 50, delta=0.005)


if __name__ == "__main__":
    unittest.main()
