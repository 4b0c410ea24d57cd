"""What a change touched: what hands and mends do, and random ones, against a comparison of everything."""

from __future__ import annotations

import unittest

from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from cozy_burrow.core.model.edits import (
    add_items,
    change_insert,
    change_item,
    move_placements,
    remove_items,
    take_out,
    turn_placements,
)
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.model.touched import Touched, touched
from tests.makers import box, laid, project

PLAN = laid(project(box(name="a"), box(name="b"), box(name="c")), (100, 60), (100, 120), (250, 60))


class Changes(unittest.TestCase):
    def test_a_thing_that_is_moved_or_turned_touches_its_place_alone(self) -> None:
        for moved in (
            move_placements(PLAN, "insert-1", ["item-2#1"], dx_mm=3, dy_mm=0),
            turn_placements(PLAN, "insert-1", ["item-2#1"], by_deg=90),
        ):
            self.assertEqual(touched(PLAN, moved), Touched(placements=frozenset({"item-2#1"})))
            self.assertFalse(touched(PLAN, moved).kit)

    def test_what_goes_touches_the_kit(self) -> None:
        out = touched(PLAN, take_out(PLAN, "insert-1", ["item-1#1"]))
        self.assertEqual((out.placements, out.items, out.kept), ({"item-1#1"}, frozenset(), False))
        self.assertTrue(out.kit)
        gone = touched(PLAN, remove_items(PLAN, ["item-1"]))
        self.assertEqual((gone.items, gone.placements), ({"item-1"}, {"item-1#1"}))

    def test_an_insert_is_touched_by_what_it_is_not_by_what_lies_in_it(self) -> None:
        self.assertEqual(touched(PLAN, change_insert(PLAN, "insert-1", name="other")).inserts, {"insert-1"})
        self.assertEqual(touched(PLAN, take_out(PLAN, "insert-1", ["item-1#1"])).inserts, frozenset())

    def test_rules_and_words(self) -> None:
        self.assertTrue(touched(PLAN, replace(PLAN, rules=replace(PLAN.rules, jolt=4.0))).rules)
        self.assertTrue(touched(PLAN, replace(PLAN, units="inch")).words)
        self.assertEqual(touched(PLAN, PLAN), Touched())


@st.composite
def changed(draw: st.DrawFn) -> Project:
    plan = PLAN
    for step in draw(st.lists(st.integers(0, 4), max_size=5)):
        ids = [one.id for one in plan.inserts[0].placements]
        match step:
            case 0 if ids:
                plan = move_placements(plan, "insert-1", [draw(st.sampled_from(ids))], dx_mm=1, dy_mm=0)
            case 1 if ids:
                plan = take_out(plan, "insert-1", [draw(st.sampled_from(ids))])
            case 2 if plan.items:
                plan = remove_items(plan, [draw(st.sampled_from(plan.items)).id])
            case 3 if plan.items:
                plan = change_item(plan, replace(draw(st.sampled_from(plan.items)), notes=f"{draw(st.integers())}"))
            case 4:
                plan = add_items(plan, [box(name="new")])
    return plan


class AnyChange(unittest.TestCase):
    @given(changed())
    def test_nothing_differs_that_is_not_named(self, after: Project) -> None:
        found = touched(PLAN, after)
        old, new = ({one.id: one for one in plan.items} for plan in (PLAN, after))
        self.assertEqual({key for key in old.keys() | new.keys() if old.get(key) != new.get(key)} - found.items, set())
        lay, lie = ({one.id: one for one in plan.inserts[0].placements} for plan in (PLAN, after))
        self.assertEqual(
            {key for key in lay.keys() | lie.keys() if lay.get(key) != lie.get(key)} - found.placements, set()
        )
        self.assertEqual(found.kept, list(lay) == list(lie))


if __name__ == "__main__":
    unittest.main()
