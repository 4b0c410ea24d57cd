"""History, caches and small edits."""

from __future__ import annotations

import random
import sys
import threading
import unittest
import weakref
from collections import OrderedDict
from typing import Any, NoReturn
from unittest.mock import patch

import shapely
from msgspec.structs import replace

from cozy_burrow.core.errors import Cancelled, UnusableInput
from cozy_burrow.core.model.history import MOST_STEPS, begin, record, redo, undo
from cozy_burrow.core.model.memo import MOST_BYTES, forget_all, kept_bytes, memo, turn_page, weight_of
from cozy_burrow.core.model.records import Item, Project
from cozy_burrow.core.progress import Deadline, heeding
from tests.makers import box


class Histories(unittest.TestCase):
    def test_undo_and_redo_go_through_whole_projects(self) -> None:
        first, second = Project(title="a"), Project(title="b")
        history = record(begin(first), "Name it", second)
        self.assertEqual((history.undo_label, history.redo_label), ("Name it", None))
        back = undo(history)
        self.assertIs(back.project, first)
        self.assertEqual(back.redo_label, "Name it")
        self.assertIs(redo(back).project, second)
        self.assertIs(undo(back).project, first)

    def test_a_new_change_drops_what_was_undone(self) -> None:
        history = undo(record(begin(Project()), "one", Project(title="b")))
        history = record(history, "two", Project(title="c"))
        self.assertEqual([step.label for step in history.steps], ["", "two"])

    def test_a_drag_is_one_step(self) -> None:
        history = begin(Project())
        for title in ("b", "c", "d"):
            history = record(history, "Move", Project(title=title), join=title != "b")
        self.assertEqual(len(history.steps), 2)
        self.assertEqual(undo(history).project.title, "Untitled")

    def test_history_does_not_grow_for_ever(self) -> None:
        history = begin(Project())
        for number in range(MOST_STEPS + 20):
            history = record(history, f"{number}", Project(title=f"{number}"))
        self.assertEqual(len(history.steps), MOST_STEPS)


class Memo(unittest.TestCase):
    def test_the_same_record_is_the_same_answer_and_an_equal_one_is_worked_out(self) -> None:
        calls: list[str] = []

        @memo(rows=4)
        def name(item: Item, times: int) -> str:
            calls.append(item.name)
            return item.name * times

        item = box(name="a")
        self.assertEqual(name(item, 2), "aa")
        self.assertEqual(name(item, 2), "aa")
        self.assertEqual(calls, ["a"])
        name(replace(item, name="b"), 2)
        self.assertFalse(name.knows(item, 3))
        name(item, 3)
        self.assertTrue(name.knows(item, 3))
        self.assertEqual(calls, ["a", "b", "a"])
        forget_all()
        self.assertFalse(name.knows(item, 3))
        name(item, 2)
        self.assertEqual(len(calls), 4)

    def test_old_rows_go_first(self) -> None:
        seen: list[int] = []

        @memo(rows=2)
        def double(value: int) -> int:
            seen.append(value)
            return 2 * value

        for value in (1, 2, 1, 3, 1, 2):
            double(value)
        self.assertEqual(seen, [1, 2, 3, 2])


class Forgetting(unittest.TestCase):
    """A cache holds what the documents need: an answer goes with the record that it was worked out from."""

    def test_a_row_goes_with_its_argument_and_its_identity_is_free_again(self) -> None:
        made: list[str] = []

        @memo(rows=1000)
        def answer(item: Item, near: tuple[Item, ...]) -> Answer:
            made.append(item.name)
            return Answer(item.name)

        kept = box(name="kept")
        held = answer(kept, (kept,))
        watched = []
        for number in range(300):  # as a drag does: each step a record that nobody holds at the next
            passing = replace(kept, name=f"step {number}")
            watched.append(weakref.ref(answer(passing, (kept, passing))))
            self.assertEqual(made[-1], f"step {number}")  # never the answer of another that had its place in memory
        del passing
        self.assertIs(answer(kept, (kept,)), held)
        self.assertEqual(sum(1 for one in watched if one() is not None), 0)

    def test_a_long_tuple_is_known_by_itself_and_held(self) -> None:
        calls: list[int] = []

        @memo(rows=10)
        def count(items: tuple[Item, ...]) -> int:
            calls.append(1)
            return len(items)

        many = tuple(box(name=str(n)) for n in range(20))
        self.assertEqual((count(many), count(many), len(calls)), (20, 20, 1))
        count((*many,))
        self.assertEqual(len(calls), 2)

    def test_answers_that_no_late_document_asked_for_go_once_they_weigh_too_much(self) -> None:
        made: list[str] = []

        @memo(rows=1000)
        def circle(item: Item) -> shapely.Polygon:
            made.append(item.name)
            return shapely.Point(0, 0).buffer(10, quad_segs=2_000)

        self.addCleanup(forget_all)
        forget_all()
        history = [box(name=str(n)) for n in range(300)]  # all of them live, as the steps of undo do
        asked_always = history[0]
        for item in history:
            circle(item)
            circle(asked_always)
            turn_page()
        one = weight_of(circle(asked_always))
        self.assertGreater(one, 8_000 * 16)  # two doubles a corner
        self.assertGreater(len(history) * one, MOST_BYTES)
        for _ in range(64):
            circle(asked_always)
            turn_page()
        self.assertLess(kept_bytes(), MOST_BYTES)
        self.assertEqual(made.count("0"), 1)  # what every document asks for is never worked out anew
        before = len(made)
        circle(history[150])
        self.assertEqual(len(made), before + 1)

    def test_a_search_through_one_document_lets_go_of_what_it_asked_for_long_ago(self) -> None:
        """It tries tens of thousands of places, and no other document is looked at meanwhile."""

        @memo(rows=1000)
        def circle(item: Item) -> shapely.Polygon:
            return shapely.Point(0, 0).buffer(10, quad_segs=1_000)

        self.addCleanup(forget_all)
        forget_all()
        tried = [box(name=str(n)) for n in range(832)]  # a whole number of looks at them
        with patch("cozy_burrow.core.model.memo._ROWS_A_PAGE", 2):
            for item in tried:
                circle(item)
        self.assertGreater(len(tried) * weight_of(circle(tried[-1])), 1.5 * MOST_BYTES)
        self.assertLess(kept_bytes(), MOST_BYTES)
        self.assertTrue(circle.knows(tried[-1]))
        self.assertFalse(circle.knows(tried[0]))

    def test_who_changes_documents_keeps_the_answers_of_few_of_them_where_they_weigh_much(self) -> None:
        @memo(rows=1000)
        def circle(item: Item) -> shapely.Polygon:
            return shapely.Point(0, 0).buffer(10, quad_segs=2_000)

        self.addCleanup(forget_all)
        forget_all()
        history = [[box(name=f"{number} {one}") for one in range(12)] for number in range(40)]
        for document in history:
            for item in document:
                circle(item)
            turn_page()
        of_each = len(history[0]) * weight_of(circle(history[-1][0]))
        self.assertGreater(16 * of_each, MOST_BYTES)
        self.assertLess(kept_bytes(), 17 * of_each)
        self.assertTrue(all(circle.knows(item) for document in history[-8:] for item in document))

    def test_a_large_document_that_is_worked_out_anew_does_not_drive_itself_out(self) -> None:
        made: list[int] = []

        @memo(rows=100_000)
        def circle(item: Item, number: int) -> shapely.Polygon:
            made.append(number)
            return shapely.Point(0, 0).buffer(10, quad_segs=20)

        self.addCleanup(forget_all)
        forget_all()
        item = box()
        for _ in range(4):
            for number in range(15_000):
                circle(item, number)
            turn_page()
        self.assertGreater(kept_bytes(), MOST_BYTES)
        self.assertEqual(len(made), 15_000)

    def test_what_the_document_in_hand_needs_stays_however_heavy(self) -> None:
        @memo(rows=1000)
        def circle(item: Item) -> shapely.Polygon:
            made.append(item.name)
            return shapely.Point(0, 0).buffer(10, quad_segs=2_000)

        made: list[str] = []
        self.addCleanup(forget_all)
        needed = [box(name=str(n)) for n in range(300)]
        for _ in range(200):
            for item in needed:
                circle(item)
            turn_page()
        self.assertGreater(kept_bytes(), MOST_BYTES)
        self.assertEqual(len(made), len(needed))

    def test_of_many_answers_that_are_alike_some_are_weighed_for_all(self) -> None:
        items = [box(name=str(n)) for n in range(64)]

        def circle(item: Item) -> shapely.Polygon:
            return shapely.Point(0, 0).buffer(10, quad_segs=100)

        weighed: dict[int, tuple[int, int]] = {}
        for rows in (100, 4096):
            forget_all()
            asked = memo(rows=rows)(circle)
            with patch("cozy_burrow.core.model.memo.weight_of", side_effect=weight_of) as scales:
                for item in items:
                    asked(item)
            weighed[rows] = kept_bytes(), scales.call_count
        forget_all()
        self.assertEqual(weighed[100][1], len(items))
        self.assertEqual(weighed[4096], (weighed[100][0], len(items) // 8))

    def test_rows_may_change_while_all_are_weighed(self) -> None:
        for error in (KeyError("row"), RuntimeError("mutated")):  # what an ordered dictionary raises then

            class Changing(OrderedDict[Any, Any]):
                def values(self, error: Exception = error) -> NoReturn:
                    raise error

                items = values

            changed = patch.multiple("cozy_burrow.core.model.memo", _caches=[Changing()], MOST_BYTES=-1, _LOOK_EVERY=1)
            with changed:
                self.assertEqual(kept_bytes(), 0)
                turn_page()

    def test_what_nobody_wants_any_more_ends_at_the_next_answer_and_keeps_what_it_had(self) -> None:
        made: list[str] = []

        @memo(rows=100)
        def slow(item: Item) -> str:
            made.append(item.name)
            return item.name

        items = [box(name=str(n)) for n in range(6)]
        with self.assertRaises(Cancelled), heeding(lambda: len(made) >= 3):
            for item in items:
                slow(item)
        self.assertEqual(len(made), 3)
        for item in items:  # outside of it nobody is asked
            slow(item)
        self.assertEqual(made, [item.name for item in items])

    def test_threads_may_ask_at_once(self) -> None:
        @memo(rows=8)
        def double(item: Item, times: int) -> str:
            return item.name * times

        wrong: list[object] = []
        items = [box(name=str(n)) for n in range(12)]

        def ask(seed: int) -> None:
            chance = random.Random(seed)
            try:
                for _ in range(4_000):
                    item, times = chance.choice(items), chance.randrange(3)
                    passing = replace(item, notes=str(seed))
                    if (double(item, times), double(passing, times)) != (item.name * times,) * 2:
                        wrong.append((item.name, times))
            except Exception as error:
                wrong.append(error)

        every = sys.getswitchinterval()
        sys.setswitchinterval(1e-6)  # threads take turns in the middle of everything
        self.addCleanup(sys.setswitchinterval, every)
        threads = [threading.Thread(target=ask, args=(seed,)) for seed in range(4)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(wrong, [])


class Answer:
    """Something that can be watched."""

    def __init__(self, name: str) -> None:
        self.name = name


class Errors(unittest.TestCase):
    def test_a_complaint_is_one_line_with_place_and_remedy(self) -> None:
        error = UnusableInput("too\nlong", where="column x", remedy="cut it").at("kit.csv, row 3")
        self.assertEqual(str(error), "kit.csv, row 3, column x: too long; cut it")

    def test_a_deadline_stops_by_the_clock_it_is_given(self) -> None:
        now = [0.0]
        token = Deadline(5, clock=lambda: now[0])
        token.step(0.1)
        now[0] = 5.0
        with self.assertRaises(Cancelled):
            token.step(0.2)
