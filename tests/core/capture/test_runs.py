"""Straight runs and arcs: found where they are, not invented where they are not."""

from __future__ import annotations

import math
import unittest

import numpy as np
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import affinity
from shapely.geometry import Point, Polygon, box

from cozy_burrow.core.capture.runs import evenly, faired, straight_and_round_runs
from tests.core.capture.scenes import SQUARE, apart_mm


def noisy(shape: Polygon, noise_mm: float, seed: int = 1) -> Polygon:
    """The shape with points 0.4 mm apart, each off by a little."""
    points = evenly(shapely.get_coordinates(shape.exterior)[:-1], 0.4)
    return Polygon(points + np.random.default_rng(seed).normal(0, noise_mm, points.shape))


class Runs(unittest.TestCase):
    @given(angle=st.floats(0, 90), seed=st.integers(0, 50))
    @settings(max_examples=25, deadline=None, derandomize=True)
    def test_a_square_stop_gets_its_six_corners_back(self, angle: float, seed: int) -> None:
        true = affinity.rotate(SQUARE, angle)
        fair = faired(noisy(true, 0.015, seed), noise_mm=0.015)
        for corner in shapely.get_coordinates(true)[:-1]:
            self.assertLess(fair.boundary.distance(Point(corner)), 0.2)
        self.assertLess(apart_mm(fair, true)[0], 0.02)
        self.assertLess(len(fair.exterior.coords), 60)

    def test_a_disc_keeps_its_radius_and_has_no_corners(self) -> None:
        true = Point(0, 0).buffer(20, quad_segs=64)
        fair = faired(noisy(true, 0.02), noise_mm=0.02)
        self.assertAlmostEqual(math.sqrt(fair.area / math.pi), 20.0, delta=0.01)
        self.assertLess(apart_mm(fair, true)[1], 0.05)

    def test_a_flat_bend_is_not_made_straight(self) -> None:
        points = [(x, (x - 40) ** 2 / 800) for x in np.linspace(0, 80, 200)]
        runs = straight_and_round_runs(np.array([*points, (80.0, 30.0), (0.0, 30.0)]), within_mm=0.03)
        lines = [run for run in runs if run.centre is None and abs(run.start[1] - run.end[1]) < 2.5]
        self.assertTrue(all(math.dist(run.start, run.end) < 30 for run in lines))

    def test_nothing_moves_farther_than_the_noise_allows(self) -> None:
        t = np.linspace(0, math.tau, 240, endpoint=False)
        far = 24 + 3 * np.sin(2 * t) + 2 * np.sin(3 * t + 1)
        blob = Polygon(np.column_stack([far * np.cos(t), far * np.sin(t)]))
        mean, p95 = apart_mm(faired(noisy(blob, 0.01), noise_mm=0.01), blob)
        self.assertLess(mean, 0.03)
        self.assertLess(p95, 0.09)

    def test_holes_stay_holes(self) -> None:
        plate = box(0, 0, 60, 40).difference(Point(30, 20).buffer(8, quad_segs=32))
        self.assertEqual(len(faired(plate, noise_mm=0.02).interiors), 1)
