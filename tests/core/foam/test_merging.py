"""Two windows on one price list: both sides' changes are kept."""

from __future__ import annotations

import random
import unittest

from msgspec.structs import replace

from cozy_burrow.core.foam.merging import merged_stores
from cozy_burrow.core.model.vessels import FitTest, Stores
from cozy_burrow.demo.build import demo_stores
from cozy_burrow.storage.stores_file import checked_stores


def priced(stores: Stores, number: int, price: float) -> Stores:
    boards = list(stores.boards)
    boards[number] = replace(boards[number], price=price)
    return replace(stores, boards=tuple(boards))


class Merging(unittest.TestCase):
    def setUp(self) -> None:
        self.base = demo_stores()

    def test_nothing_changed_on_one_side_is_the_other_side(self) -> None:
        mine = priced(self.base, 0, 41.0)
        self.assertEqual(merged_stores(self.base, mine, self.base), mine)
        self.assertEqual(merged_stores(self.base, self.base, mine), mine)
        self.assertEqual(merged_stores(self.base, mine, mine), mine)

    def test_changes_of_different_rows_are_both_kept_and_of_one_row_mine(self) -> None:
        mine, theirs = priced(self.base, 0, 41.0), priced(priced(self.base, 0, 7.0), 1, 12.5)
        both = merged_stores(self.base, mine, theirs)
        self.assertEqual([board.price for board in both.boards[:2]], [41.0, 12.5])

    def test_new_rows_of_one_number_are_two_rows(self) -> None:
        piece = self.base.shelf[0]
        mine = replace(self.base, shelf=(*self.base.shelf, replace(piece, id="piece-9", note="mine")))
        theirs = replace(self.base, shelf=(*self.base.shelf, replace(piece, id="piece-9", note="theirs")))
        both = merged_stores(self.base, mine, theirs)
        self.assertEqual([one.note for one in both.shelf[-2:]], ["mine", "theirs"])
        self.assertEqual(len({one.id for one in both.shelf}), len(both.shelf))

    def test_taken_away_goes_unless_the_other_side_changed_it(self) -> None:
        mine = replace(self.base, boards=self.base.boards[1:])
        self.assertEqual(merged_stores(self.base, mine, self.base), mine)
        theirs = priced(self.base, 0, 9.0)
        both = merged_stores(self.base, mine, theirs)
        self.assertIn(theirs.boards[0], both.boards)
        self.assertEqual(merged_stores(self.base, theirs, mine).boards[0], theirs.boards[0])

    def test_tests_of_fits_from_both_windows_are_kept(self) -> None:
        first, second = (FitTest(foam=foam, blade="snap-off", best_mm=-0.5) for foam in ("a", "b"))
        both = merged_stores(
            self.base, replace(self.base, fits=(first,)), replace(self.base, fits=(second,), kerf_mm=2.5)
        )
        self.assertEqual(both.fits, (first, second))
        self.assertEqual(both.kerf_mm, 2.5)

    def test_whatever_both_do_the_result_can_be_planned_with_and_no_change_of_mine_is_lost(self) -> None:
        chance = random.Random(5)

        def changed(stores: Stores) -> Stores:
            boards = [board for board in stores.boards if chance.random() < 0.8]
            boards = [
                replace(one, price=round(chance.uniform(1, 90), 2)) if chance.random() < 0.3 else one for one in boards
            ]
            for n in range(chance.randrange(3)):
                boards.append(replace(stores.boards[0], id=f"board-{20 + n}", name=f"new {chance.random()}"))
            shelf = tuple(piece for piece in stores.shelf if chance.random() < 0.7)
            return replace(stores, boards=tuple(boards), shelf=shelf)

        for _ in range(200):
            mine, theirs = changed(self.base), changed(self.base)
            both = merged_stores(self.base, mine, theirs)
            checked_stores(both, where="both")
            kept = {board.id: board for board in both.boards}
            for board in mine.boards:
                if board not in self.base.boards:
                    self.assertEqual(kept[board.id], board)
            names = {board.name for board in both.boards}
            self.assertTrue(
                {one.name for one in theirs.boards if one not in self.base.boards}
                <= names | {one.name for one in mine.boards}
            )


if __name__ == "__main__":
    unittest.main()
