"""Where one by one leaves something over: a crowd of whole rows, then of rows that fall apart one after the other."""

from __future__ import annotations

import random
import unittest
from itertools import pairwise

import shapely

from cozy_burrow.core.arrange.contacts import shortfalls
from cozy_burrow.core.arrange.crowding import longest_apart, that_go_in, whole_in
from cozy_burrow.core.arrange.pieces import Bed, Form, Part, Piece, taken_apart
from cozy_burrow.core.arrange.search import Search
from cozy_burrow.core.arrange.way import Way
from cozy_burrow.core.arrange.wishes import STYLES, Aims
from cozy_burrow.core.errors import Cancelled
from cozy_burrow.core.ground.arranging import Arranger
from cozy_burrow.core.model.records import Rules
from cozy_burrow.core.progress import Quiet
from tests.core.arrange.shapes import StopsAfter, judge
from tests.core.arrange.test_growing import kit
from tests.makers import drawer, project

STICK = shapely.box(-40, -6, 40, 6)


def row(name: str, count: int) -> Piece:
    """Return sticks one beside the other, 10 mm apart, that fall apart into two halves and then into sticks."""
    places = [(n - (count - 1) / 2) * 22.0 for n in range(count)]
    parts = [Part((name, n + 1), STICK, y_mm=y) for n, y in enumerate(places)]
    shape = shapely.union_all([shapely.box(-40, y - 6, 40, y + 6) for y in places])
    if count == 1:
        return Piece((name, 1), [Form(STICK, 10.0)], angles_deg=(0.0, 90.0))

    def halves() -> list[Piece]:
        half = (count + 1) // 2
        return [row(f"{name}a", half), row(f"{name}b", count - half)]

    form = Form(shapely.box(*shape.bounds), 10.0, parts=parts)
    return Piece((f"row {name}", 1), [form], angles_deg=(0.0, 90.0, 180.0, 270.0), instead=halves)


class FallingApart(unittest.TestCase):
    def test_a_row_too_long_for_the_bed_is_its_halves(self) -> None:
        nine, two = row("nine", 9), row("two", 2)
        self.assertEqual(that_go_in([nine, two], Bed(shapely.box(0, 0, 200, 200))), [nine, two])  # 188 long
        found = that_go_in([nine, two], Bed(shapely.box(0, 0, 150, 120)))
        self.assertEqual([piece.copies for piece in found], [5, 4, 2])

    def test_the_row_of_most_things_falls_apart_first_until_there_is_none(self) -> None:
        pieces: list[Piece] | None = [row("five", 5), row("one", 1), row("two", 2)]
        counts = []
        while pieces is not None:
            counts.append([piece.copies for piece in pieces])
            pieces = longest_apart(pieces)
        self.assertEqual(counts[:3], [[5, 1, 2], [3, 2, 1, 2], [2, 1, 2, 1, 2]])
        self.assertEqual(counts[-1], [1] * 8)
        self.assertTrue(all(len(before) < len(after) for before, after in pairwise(counts)))


class WholeRows(unittest.TestCase):
    def jeweller(self, wide: float, deep: float) -> tuple[Arranger, Search]:
        """Return a search in which things were laid one by one, and not all of them lie."""
        plan = project(*kit(), bay=drawer(width=wide, depth=deep), rules=Rules())
        arranger = Arranger(plan, "insert-1")
        search = arranger.search(Way(STYLES["tidy"], seed=1))
        assert search.plan is not None
        search._laying.lay_all(search.possible, Quiet())
        self.assertTrue(search.plan.left)
        return arranger, search

    def test_what_one_by_one_leaves_over_lies_with_every_row_whole(self) -> None:
        arranger, search = self.jeweller(540.0, 336.0)
        assert search.plan is not None
        pieces = that_go_in(search.possible, arranger.bed)
        self.assertTrue(whole_in(search.plan, pieces, chance=random.Random(1), token=Quiet(), is_roomy=True))
        self.assertEqual((search.plan.left, len(search.plan.laid)), ([], len(pieces)))
        self.assertEqual([one.key for one in search.plan.rows if search.plan.is_apart(one)], [])
        judge(self, search.layout(), arranger.pieces, arranger.bed)

    def test_the_first_layout_leaves_no_more_rows_apart_than_it_must(self) -> None:
        """In this drawer all four rows lay apart, and all things without pulls, for one thing that was left over."""
        plan = project(*kit(), bay=drawer(width=500.0, depth=348.0), rules=Rules())
        arranger = Arranger(plan, "insert-1")
        search = arranger.search(Way(STYLES["tidy"], seed=1))
        search.first(Quiet())
        assert search.plan is not None
        self.assertEqual(search.layout().left_over, ())
        self.assertLessEqual(sum(search.plan.is_apart(one) for one in search.plan.rows), 1)
        self.assertEqual(shortfalls(search.plan.bodies(), arranger.bed), (0.0, 0.0))

    def test_a_stop_leaves_what_lay(self) -> None:
        _, search = self.jeweller(540.0, 336.0)
        plan = search.plan
        assert plan is not None
        before = (list(plan.laid), list(plan.left))
        with self.assertRaises(Cancelled):
            whole_in(plan, search.possible, chance=random.Random(1), token=StopsAfter(3))
        self.assertEqual((plan.laid, plan.left), before)

    def test_more_than_the_bed_holds_is_not_tried(self) -> None:
        pieces = [row(f"r{n}", 4) for n in range(6)]
        bed = Bed(shapely.box(0, 0, 190, 190))
        search = Search(pieces, bed, Aims(bed.room), Way(STYLES["tidy"], seed=1))
        assert search.plan is not None
        self.assertFalse(whole_in(search.plan, pieces, chance=random.Random(1), token=StopsAfter(0)))
        self.assertEqual(len(taken_apart(search.plan.left)), 24)


if __name__ == "__main__":
    unittest.main()
