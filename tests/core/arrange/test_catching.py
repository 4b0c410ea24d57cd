"""Who is next to whom along an axis: the same as when everything is measured against everything."""

from __future__ import annotations

import random
import unittest

import numpy as np
import shapely

from cozy_burrow.core.arrange.catching import _BESIDE_MM, _FACING, Neighbours, Seen, _neighbours
from tests.core.arrange.shapes import random_shape


def by_all(seen: Seen, shifts: np.ndarray, number: int, axis: int) -> Neighbours:
    """Measure all that face one, and take the nearest on either side; of several, the first."""
    bounds = seen.bounds + np.tile(shifts, 2)
    across, mine = 1 - axis, bounds[number]
    before: list[tuple[float, int]] = []
    after: list[tuple[float, int]] = []
    for n, other in enumerate(bounds):
        shared = min(other[across + 2], mine[across + 2]) - max(other[across], mine[across])
        breadth = min(other[across + 2] - other[across], mine[across + 2] - mine[across])
        if n != number and shared >= _FACING * breadth:
            by_x, by_y = (shifts[number] - shifts[n]).tolist()
            back, on = seen.run(n, number, (by_x, by_y), axis)
            before.append((back, n))
            after.append((on, n))
    found = [min((one for one in side if one[0] < _BESIDE_MM), default=None) for side in (before, after)]
    first, second = (None if one is None else (one[1], one[0]) for one in found)
    return first, second


class Next(unittest.TestCase):
    def test_nobody_is_passed_over_whoever_is_measured(self) -> None:
        chance, seen_pairs = random.Random(4), 0
        for _ in range(12):
            shapes: list[shapely.Geometry] = []
            for _ in range(40):
                one = shapely.affinity.translate(random_shape(chance), chance.uniform(0, 400), chance.uniform(0, 260))
                if all(one.distance(other) > 4.0 for other in shapes):
                    shapes.append(one)
            seen = Seen(shapes)
            shifts = np.array([(chance.uniform(-1, 1), chance.uniform(-1, 1)) for _ in shapes])
            bounds = seen.bounds + np.tile(shifts, 2)
            for number in range(len(shapes)):
                for axis in (0, 1):
                    by = shifts[number].tolist()
                    found = _neighbours(seen, shifts, bounds, number, bounds[number], by, axis)
                    self.assertEqual(found, by_all(seen, shifts, number, axis))
                    seen_pairs += sum(one is not None for one in found)
        self.assertGreater(seen_pairs, 200)

    def test_far_ones_behind_the_next_are_not_measured(self) -> None:
        blocks = [shapely.box(40 * n, 0, 40 * n + 20, 20) for n in range(6)]
        seen = Seen(blocks)
        shifts = np.zeros((6, 2))
        found = _neighbours(seen, shifts, seen.bounds, 0, seen.bounds[0], (0.0, 0.0), 0)
        self.assertEqual(found, (None, (1, 20.0)))
        self.assertEqual(len(seen._runs), 1)
