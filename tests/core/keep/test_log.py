"""The log of roll calls: what is written down, and what is missing most often."""

from __future__ import annotations

import unittest

from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from cozy_burrow.core.keep.log import calls_of, full_photo_of, missing_most, noted, with_full_photo
from cozy_burrow.core.model.edits import change_insert, change_item, remove_items
from cozy_burrow.core.model.kept import MOST_CALLS, PlaceState
from cozy_burrow.core.model.records import Project
from tests.makers import box, laid, project, rod

BLOCK, ROD = "item-1#1", "item-2#1"


def two() -> Project:
    """A box and a rod in a drawer."""
    return laid(project(box(name="block"), rod(name="rod")), (60, 60), (180, 120, 30))


class Log(unittest.TestCase):
    def test_what_is_in_its_place_is_not_listed_and_a_note_is_kept(self) -> None:
        plan = noted(two(), "insert-1", {BLOCK: "filled", ROD: "empty"}, at="2026-11-29T16:40", note=" lent out ")
        (call,) = plan.roll_calls
        self.assertEqual([(one.key, one.name, one.state) for one in call.absent], [(ROD, "rod", "empty")])
        self.assertEqual((call.places, call.note), (2, "lent out"))

    @given(st.lists(st.tuples(*[st.sampled_from(["filled", "empty", "unsure", "turned", "other"])] * 2), max_size=12))
    def test_what_is_missing_most_is_what_one_counts_by_hand(self, calls: list[tuple[PlaceState, PlaceState]]) -> None:
        plan = two()
        for day, (block, rod_) in enumerate(calls, start=1):
            plan = noted(plan, "insert-1", {BLOCK: block, ROD: rod_}, at=f"2026-11-{day:02d}T08:00")
        counted = {
            name: sum(call[place] in ("empty", "other") for call in calls)
            for place, name in enumerate(("block", "rod"))
        }
        found = missing_most(plan, "insert-1")
        self.assertEqual({one.name: one.missing for one in found}, {name: n for name, n in counted.items() if n})
        self.assertEqual([one.missing for one in found], sorted((one.missing for one in found), reverse=True))
        self.assertTrue(all(one.calls == len(calls) for one in found))
        self.assertEqual([one.at for one in calls_of(plan, "insert-1")], sorted(c.at for c in plan.roll_calls)[::-1])

    def test_a_thing_keeps_its_history_under_a_new_name_and_loses_it_with_its_place(self) -> None:
        plan = noted(two(), "insert-1", {BLOCK: "empty", ROD: "filled"}, at="2026-11-29T16:40")
        renamed = change_item(plan, replace(plan.items[0], name="brick"))
        self.assertEqual([one.name for one in missing_most(renamed, "insert-1")], ["brick"])
        self.assertEqual(renamed.roll_calls[0].absent[0].name, "block")  # what was written down stays
        self.assertEqual(missing_most(remove_items(plan, ["item-1"]), "insert-1"), ())

    def test_a_photo_of_the_full_insert_belongs_to_its_layout(self) -> None:
        plan = with_full_photo(two(), "insert-1", b"photo")
        self.assertEqual(full_photo_of(plan.inserts[0]), b"photo")
        block, rod_ = plan.inserts[0].placements
        moved = change_insert(plan, "insert-1", placements=(replace(block, x_mm=block.x_mm + 5), rod_))
        self.assertIsNone(full_photo_of(moved.inserts[0]))
        back = change_insert(moved, "insert-1", placements=(block, rod_))
        self.assertEqual(full_photo_of(back.inserts[0]), b"photo")

    def test_the_oldest_go_where_there_are_too_many(self) -> None:
        plan = two()
        one = noted(plan, "insert-1", {BLOCK: "filled"}, at="2026-01-01T00:00").roll_calls[0]
        full = replace(plan, roll_calls=(one,) * MOST_CALLS)
        after = noted(full, "insert-1", {BLOCK: "empty"}, at="2026-11-29T16:40")
        self.assertEqual(len(after.roll_calls), MOST_CALLS)
        self.assertEqual(after.roll_calls[-1].at, "2026-11-29T16:40")
