"""Surveys of made-up boxes: corners recovered, the wrong distance named, what cannot be refused by name."""

from __future__ import annotations

import math
import unittest
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.container.survey import bends, impossible, radius_from_chord, solve_survey
from cozy_burrow.core.model.vessels import Corner, Taped
from tests.many import many

NAMES = "ABCDEF"


def corners_of(points: NDArray[np.float64]) -> tuple[Corner, ...]:
    return tuple(Corner(name=name, x_mm=float(x), y_mm=float(y)) for name, (x, y) in zip(NAMES, points))


def best_fit_mm(found: tuple[Corner, ...], true: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return how far each corner is off once the whole is turned and moved to fit best (Kabsch)."""
    got = np.array([(one.x_mm, one.y_mm) for one in found])
    a, b = got - got.mean(axis=0), true - true.mean(axis=0)
    u, _, vt = np.linalg.svd(a.T @ b)
    turn = u @ np.diag([1.0, math.copysign(1.0, np.linalg.det(u @ vt))]) @ vt
    return np.hypot(*(a @ turn - b).T)


def taped(points: NDArray[np.float64], pairs: list[tuple[int, int]]) -> tuple[Taped, ...]:
    return tuple(
        Taped(first=NAMES[i], second=NAMES[j], length_mm=float(np.hypot(*(points[i] - points[j])))) for i, j in pairs
    )


class Surveys(unittest.TestCase):
    def test_a_thousand_boxes_with_a_slip_of_the_tape(self) -> None:
        # Half are four corners with every distance taped twice, half five corners (one cut off) with two taped twice.
        chance = np.random.default_rng(5)
        off, named = [], 0
        tried = many(1000)
        for number in range(tried):
            width, depth = chance.uniform(250, 900), chance.uniform(200, 600)
            if number % 2:
                points = np.array([(0, 0), (width, 0), (width, depth), (0, depth)])
                pairs = list(combinations(range(4), 2)) * 2
            else:
                cut = width * chance.uniform(0.15, 0.5), depth * chance.uniform(0.15, 0.5)
                points = np.array([(0, 0), (width, 0), (width, depth - cut[1]), (width - cut[0], depth), (0, depth)])
                pairs = [*combinations(range(5), 2), (0, 2), (1, 4)]
            points = points + chance.normal(0, 4.0, points.shape)
            lengths = [one.length_mm + chance.normal(0, 0.7) for one in taped(points, pairs)]
            wrong = int(chance.integers(len(pairs)))
            lengths[wrong] += 8.0 * chance.choice((-1.0, 1.0))
            measured = tuple(
                Taped(first=NAMES[i], second=NAMES[j], length_mm=length) for (i, j), length in zip(pairs, lengths)
            )
            sketch = corners_of(points * chance.uniform(0.8, 1.2) + chance.normal(0, 25.0, points.shape))
            found = solve_survey(sketch, measured)
            off.append(float(best_fit_mm(found.corners, points).max()))
            named += found.suspect == wrong
        self.assertLess(float(np.median(off)), 1.5)
        self.assertGreaterEqual(named, 0.9 * tried)

    def test_exact_distances_give_the_outline_back_and_suspect_nothing(self) -> None:
        points = np.array([(0.0, 0.0), (402.0, 0.0), (398.0, 250.0), (3.0, 247.0)])
        found = solve_survey(corners_of(points[:, ::1] + 9.0), taped(points, list(combinations(range(4), 2))))
        self.assertLess(float(best_fit_mm(found.corners, points).max()), 1e-3)
        self.assertIsNone(found.suspect)
        self.assertEqual((found.missing, found.spare), (0, 1))
        self.assertEqual((found.corners[0].y_mm, found.corners[1].y_mm), (0.0, 0.0))

    def test_four_sides_and_a_diagonal_fix_a_box_and_less_says_what_is_missing(self) -> None:
        points = np.array([(0.0, 0.0), (400.0, 0.0), (390.0, 250.0), (0.0, 260.0)])
        sketch = corners_of(np.array([(0.0, 0.0), (40.0, 0.0), (40.0, 30.0), (0.0, 30.0)]))
        five = solve_survey(sketch, taped(points, [(0, 1), (1, 2), (2, 3), (3, 0), (0, 2)]))
        self.assertEqual((five.missing, five.spare, five.next_pair), (0, 0, ("B", "D")))
        self.assertLess(float(best_fit_mm(five.corners, points).max()), 1e-3)
        four = solve_survey(sketch, taped(points, [(0, 1), (1, 2), (2, 3), (3, 0)]))
        self.assertEqual(four.missing, 1)
        self.assertIn(four.next_pair, {("A", "C"), ("B", "D")})
        self.assertEqual(solve_survey(sketch, ()).missing, 5)

    def test_a_straight_way_longer_than_the_way_round_is_impossible(self) -> None:
        good = taped(np.array([(0.0, 0.0), (300.0, 0.0), (300.0, 200.0)]), [(0, 1), (1, 2), (0, 2)])
        self.assertIsNone(impossible(good))
        found = impossible((*good[:2], Taped(first="A", second="C", length_mm=560.0)))
        assert found is not None
        self.assertEqual((found[0].first, found[0].second, found[1]), ("A", "C", 500.0))

    def test_a_distance_that_nothing_checks_is_never_blamed(self) -> None:
        points = np.array([(0.0, 0.0), (400.0, 0.0), (400.0, 300.0), (0.0, 300.0), (-120.0, 150.0)])
        pairs = [*combinations(range(4), 2), (0, 4), (3, 4)]  # E hangs on two distances only
        lengths = list(taped(points, pairs))
        lengths[-1] = Taped(first="D", second="E", length_mm=lengths[-1].length_mm + 8.0)
        found = solve_survey(corners_of(points), tuple(lengths))
        self.assertIsNone(found.suspect)
        self.assertLess(found.residuals[-1].redundancy, 0.02)

    def test_where_one_spare_distance_cannot_tell_all_that_may_be_wrong_are_named(self) -> None:
        points = np.array([(0.0, 0.0), (402.0, 0.0), (398.0, 251.0), (2.0, 249.0)])
        pairs = [(0, 1), (1, 2), (1, 3), (0, 2), (2, 3), (3, 0), (0, 2), (2, 3), (3, 0)]  # B has three, each once
        lengths = list(taped(points, pairs))
        lengths[1] = Taped(first="B", second="C", length_mm=lengths[1].length_mm + 9.0)
        found = solve_survey(corners_of(points), tuple(lengths))
        self.assertEqual({found.suspect, *found.rivals}, {0, 1, 2})

    def test_square_corners_bows_and_arcs_in_figures(self) -> None:
        leaning = corners_of(np.array([(0.0, 0.0), (400.0, 0.0), (404.0, 200.0), (0.0, 200.0)]))
        angle = math.degrees(math.atan2(4.0, 200.0))
        by_name = {one.corner: one for one in bends(leaning)}
        self.assertAlmostEqual(by_name["B"].angle_deg, 90.0 + angle, places=6)
        self.assertAlmostEqual(abs(by_name["B"].off_mm), 4.0, delta=0.01)
        self.assertAlmostEqual(by_name["A"].off_mm, 0.0)
        bowed = corners_of(np.array([(0.0, 0.0), (400.0, 0.0), (400.0, 200.0), (200.0, 205.0), (0.0, 200.0)]))
        self.assertAlmostEqual({one.corner: one for one in bends(bowed)}["D"].bow_mm or 0.0, 5.0, delta=0.01)
        self.assertAlmostEqual(radius_from_chord(2 * 30.0 * math.sin(0.6), 30.0 * (1 - math.cos(0.6))), 30.0)
