"""Ends brought to lines: against a line sought by trying everywhere, and rows of which a fitter knows the answer."""

from __future__ import annotations

import unittest

from hypothesis import given
from hypothesis import strategies as st

from cozy_burrow.core.pulls.on_line import line_for, onto_lines

# On tenths, so that a grid of tenths meets every place where one more end is reached.
tenths = st.integers(-1000, 1000).map(lambda n: n / 10)
rows = st.lists(st.tuples(tenths, st.integers(0, 400).map(lambda n: n / 10)), min_size=1, max_size=8)


def reached(line: float, row: list[tuple[float, float]]) -> int:
    """Return how many ends come to a line."""
    return sum(abs(line - end) <= most + 1e-6 for end, most in row)


class OnLine(unittest.TestCase):
    @given(rows)
    def test_no_line_of_a_fine_grid_reaches_more_ends_or_as_many_with_less_moving(
        self, row: list[tuple[float, float]]
    ) -> None:
        ends, most = [end for end, _ in row], [most for _, most in row]
        line = line_for(ends, most)
        count = reached(line, row)
        moved = sum(min(abs(line - end), limit) for end, limit in row)
        for other in (n / 10 for n in range(-1400, 1401, 3)):
            self.assertLessEqual(reached(other, row), count)
            if reached(other, row) == count:
                self.assertLessEqual(moved, sum(min(abs(other - end), limit) for end, limit in row) + 1e-6)

    @given(rows)
    def test_no_end_comes_farther_than_it_may_and_those_that_can_come_to_the_line(
        self, row: list[tuple[float, float]]
    ) -> None:
        ends, most = [end for end, _ in row], [most for _, most in row]
        line = line_for(ends, most)
        for (end, limit), come in zip(row, onto_lines(ends, most), strict=True):
            self.assertLessEqual(abs(come - end), limit + 1e-6)
            if abs(line - end) <= limit:
                self.assertAlmostEqual(come, line)

    @given(rows, tenths)
    def test_no_line_that_reaches_as_many_is_nearer_to_where_it_is_wished(
        self, row: list[tuple[float, float]], near: float
    ) -> None:
        line = line_for([end for end, _ in row], [most for _, most in row], near_mm=near)
        for other in (near, *(n / 10 for n in range(-1400, 1401, 3))):
            self.assertLessEqual(reached(other, row), reached(line, row))
            if reached(other, row) == reached(line, row):
                self.assertLessEqual(abs(line - near), abs(other - near) + 1e-6)

    def test_sizes_end_on_a_line_and_what_cannot_in_a_slope_or_on_a_line_of_its_own(self) -> None:
        self.assertEqual(onto_lines([], []), [])
        self.assertEqual(len(set(onto_lines([50.0, 48.0, 45.0, 42.0], [13.0, 12.0, 12.0, 11.0]))), 1)
        slope = onto_lines([100.0, 98.0, 96.0, 70.0, 58.0], [10.0, 10.0, 10.0, 8.0, 6.0])
        self.assertEqual(slope, [98.0, 98.0, 98.0, 78.0, 64.0])
        pair = onto_lines([60.0, 58.0, 56.0, 150.0, 145.0], [8.0, 8.0, 8.0, 39.0, 37.0])
        self.assertEqual(pair, [58.0, 58.0, 58.0, 111.0, 111.0])


if __name__ == "__main__":
    unittest.main()
