"""Tilings against trying every way: fewest pages, none without a line, all in one piece, rolls as long as is needed."""

from __future__ import annotations

import unittest
from itertools import product

import numpy as np
from shapely.geometry import LineString, Point, box

from cozy_burrow.core.capture.photo.mat import Paper
from cozy_burrow.export.paper import papers, template_papers
from cozy_burrow.export.tiling import FOOT_MM, MARGIN_MM, Tiling, hanging_together, mark_points, tile_corner, tiling


def drawn_on(spread: Tiling, height_mm: float, lines: list[LineString]) -> set[tuple[int, int]]:
    """The tiles that any line touches, looked at one by one."""
    found = set()
    for row, column in product(range(spread.rows), range(spread.columns)):
        x, y = tile_corner(spread, height_mm, row, column)
        tile = box(x, y, x + spread.tile_width_mm, y + spread.tile_height_mm)
        if any(tile.intersects(line) for line in lines):
            found.add((row, column))
    return found


def in_one_piece(places: set[tuple[int, int]]) -> bool:
    reached, edge = set(), [min(places)]
    while edge:
        row, column = edge.pop()
        if (row, column) in places and (row, column) not in reached:
            reached.add((row, column))
            edge += [(row + 1, column), (row - 1, column), (row, column + 1), (row, column - 1)]
    return reached == places


class FewestPages(unittest.TestCase):
    def test_no_way_to_lay_the_paper_needs_fewer(self) -> None:
        chance = np.random.default_rng(5)
        for _ in range(200):
            wide, high = chance.uniform(40, 1500, 2)
            paper = Paper(width_mm=float(chance.uniform(200, 450)), height_mm=float(chance.uniform(450, 700)))
            found = tiling(wide, high, paper)
            for across, down in ((paper.width_mm, paper.height_mm), (paper.height_mm, paper.width_mm)):
                tile = across - 2 * MARGIN_MM, down - 2 * MARGIN_MM - FOOT_MM
                columns = next(n for n in range(1, 99) if n * tile[0] >= wide - 1e-6)
                rows = next(n for n in range(1, 99) if n * tile[1] >= high - 1e-6)
                self.assertLessEqual(len(found.pages), columns * rows)

    def test_pages_without_a_line_are_left_out_and_all_others_are_there(self) -> None:
        chance = np.random.default_rng(8)
        for _ in range(60):
            wide, high = chance.uniform(600, 1800, 2)
            lines = [LineString(box(0, 0, wide, high).exterior)]
            for _ in range(chance.integers(1, 6)):
                x, y = chance.uniform(60, wide - 60), chance.uniform(60, high - 60)
                lines.append(LineString(Point(x, y).buffer(40).exterior))
            found = tiling(wide, high, papers()["a4"], lines)
            drawn = drawn_on(found, high, lines)
            self.assertLessEqual(drawn, set(found.pages))
            self.assertTrue(in_one_piece(set(found.pages)))
            if in_one_piece(drawn):
                self.assertEqual(drawn, set(found.pages))

    def test_a_line_in_the_middle_of_nothing_is_joined_to_the_rest(self) -> None:
        self.assertEqual(hanging_together([(0, 0), (0, 1), (3, 2)]), ((0, 0), (0, 1), (0, 2), (1, 2), (2, 2), (3, 2)))
        chance = np.random.default_rng(2)
        for _ in range(80):
            places = {(int(row), int(column)) for row, column in chance.integers(0, 9, (7, 2))}
            joined = set(hanging_together(sorted(places)))
            self.assertLessEqual(places, joined)
            self.assertTrue(in_one_piece(joined))

    def test_marks_are_where_two_printed_pages_meet(self) -> None:
        lines = [LineString(box(0, 0, 1500, 1500).exterior)]
        found = tiling(1500, 1500, papers()["a4"], lines)
        left_out = set(product(range(found.rows), range(found.columns))) - set(found.pages)
        self.assertTrue(left_out)
        row, column = next((row, column) for row, column in found.pages if (row, column + 1) in left_out)
        right = MARGIN_MM + found.tile_width_mm
        self.assertFalse([x for x, _ in mark_points(found, row, column) if abs(x - right) < 1e-6])


class LargePapers(unittest.TestCase):
    def test_a_roll_is_cut_to_the_length_that_is_needed(self) -> None:
        roll = template_papers()["roll-610"]
        found = tiling(573, 393, roll)
        self.assertEqual(len(found.pages), 1)
        self.assertEqual((found.page_width_mm, found.page_height_mm), (610.0, 393 + 2 * MARGIN_MM + FOOT_MM))
        long = tiling(1400, 500, roll)  # across the roll it would take three pages
        self.assertEqual((len(long.pages), long.page_height_mm), (1, 610.0))
        self.assertAlmostEqual(long.page_width_mm, 1400 + 2 * MARGIN_MM)
        self.assertEqual(len(tiling(1800, 1300, roll).pages), 3)

    def test_larger_paper_never_needs_more_pages(self) -> None:
        sizes = [len(tiling(1130, 720, template_papers()[name]).pages) for name in ("a4", "a3", "a2", "a1", "a0")]
        self.assertEqual(sizes, sorted(sizes, reverse=True))
        self.assertEqual(sizes[-1], 1)
