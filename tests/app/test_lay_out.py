"""Laying out in the window: styles and wishes, variations, a hand that goes in between, pushing, areas."""

from __future__ import annotations

import weakref
from typing import Any
from unittest.mock import patch

from msgspec.structs import replace
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from cozy_burrow.app.desk import arranging as arranging_module
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.ground.arranging import Arranged, LeftOver
from cozy_burrow.core.ground.variations import Variations
from cozy_burrow.core.model.edits import lock_placements, remove_items
from cozy_burrow.core.model.records import Rules
from tests.app.qt import QtCase, drag, key, plan_pixel, settle, wait_until, work_waits
from tests.app.screens import at_lay_out
from tests.makers import box, laid, project, two_tiers, van_drawer

DEMO = van_drawer()
HALF = remove_items(DEMO, [one.id for one in DEMO.items[1::2]])  # enough to search in, and soon laid
RULES = Rules(allowance_mm=0.0)


def arranged(window: Window) -> bool:
    return wait_until(lambda: not window.arranging.is_arranging)


class Hasty(QtCase):
    """Searches end after two seconds, what is said of them then takes as long as it takes."""

    def setUp(self) -> None:
        super().setUp()
        for name, seconds in (("ARRANGE_SECONDS", 2.0), ("ADVICE_SECONDS", 3_600.0)):
            change = patch.object(arranging_module, name, seconds)
            change.start()
            self.addCleanup(change.stop)


class LayOut(Hasty):
    def test_variations_are_picked_by_a_click_and_all_of_it_is_one_step_of_undo(self) -> None:
        window = self.window(HALF, stage="lay-out")
        with patch.object(arranging_module, "ARRANGE_SECONDS", 3_600.0):
            window.arranging.begin()
            self.assertTrue(wait_until(lambda: len(window.arranging.results) >= 3))
            window.arranging.stop()
            self.assertTrue(arranged(window))
        cards = [card for card in at_lay_out(window).variations.cards if card.isVisible()]
        self.assertGreaterEqual(len(cards), 3)
        self.assertEqual([card.isChecked() for card in cards].count(True), 1)
        taken = window.workspace.project
        other = next(card for card in cards if not card.isChecked())
        self.assertIn("of 100", other.accessibleName())
        QTest.mouseClick(other, Qt.MouseButton.LeftButton)
        self.assertIsNot(window.workspace.project, taken)
        self.assertTrue(other.isChecked())
        steps = len(window.workspace.history.steps)
        window.undo()
        self.assertEqual((window.workspace.project, steps), (HALF, 2))
        window.redo()
        at_lay_out(window).variations.close_button.click()
        self.assertIs(window.frame.below.currentWidget(), window.section)

    def test_the_best_so_far_lies_on_the_plan_and_the_score_shown_is_the_one_that_is_kept(self) -> None:
        window = self.window(HALF, stage="lay-out")
        arranging = window.arranging
        shown: list[float] = []

        def look() -> None:
            if arranging.is_arranging and arranging.best is not None:
                shown.append(arranging.total(arranging.best))
                self.assertIsNotNone(at_lay_out(window).layer.ghost)
                self.assertEqual(
                    at_lay_out(window).layer.ghost.insert.placements, arranging.best.project.inserts[0].placements
                )  # type: ignore[union-attr]
                self.assertEqual(arranging.curve[-1][1], shown[-1])
                window.plan.grab()

        arranging.gained.connect(look)
        with patch.object(arranging_module, "ARRANGE_SECONDS", 3_600.0):
            arranging.begin()
            self.assertTrue(wait_until(lambda: len(arranging.results) >= 3))
            arranging.stop()
            self.assertTrue(arranged(window))
        self.assertGreater(len(shown), 2)
        self.assertEqual(shown, sorted(shown))  # what was best is never lost again
        assert arranging.chosen is not None
        kept = arranging.total(arranging.results[arranging.chosen])
        self.assertGreaterEqual(kept, shown[-1])
        self.assertEqual(arranging.curve[-1][1], kept)
        self.assertIsNone(at_lay_out(window).layer.ghost)

    def test_a_machine_so_slow_that_the_time_is_over_at_once_gives_a_first_layout(self) -> None:
        window = self.window(HALF, stage="lay-out")
        with patch.object(arranging_module, "ARRANGE_SECONDS", 1e-9):
            window.arranging.begin()
            self.assertTrue(arranged(window))
        self.assertEqual(len(window.arranging.results), 1)
        self.assertEqual(window.workspace.project, window.arranging.results[0].project)
        self.assertEqual(len(window.workspace.insert.placements), len(HALF.inserts[0].placements))

    def test_what_was_searched_is_gone_when_the_advice_is_searched_for(self) -> None:
        """Both at once took more memory than all pictures of the window."""
        made: list[weakref.ref[Variations]] = []
        left: list[Variations | None] = []

        def variations(*args: Any, **more: Any) -> Variations:
            one = Variations(*args, **more)
            made.append(weakref.ref(one))
            return one

        def advice(*_: object) -> None:
            left.extend(one() for one in made)

        window = self.window(HALF, stage="lay-out")
        with (
            patch.object(arranging_module, "ARRANGE_SECONDS", 1e-9),
            patch.object(arranging_module, "Variations", variations),
            patch.object(arranging_module, "_advice", advice),
        ):
            window.arranging.begin()
            self.assertTrue(arranged(window))
        self.assertEqual(left, [None])

    def test_a_worse_later_state_of_a_variation_is_not_kept(self) -> None:
        window = self.window(HALF, stage="lay-out")
        arranging = window.arranging
        full = Arranged(project=HALF, left_over=(), attempts=1)
        short = replace(full, left_over=(LeftOver(item_id="x", copy=1, why="no_room", length_mm=1, longest_mm=2),))
        for one, kept in ((short, short), (full, full), (short, full)):
            arranging._keep(0, one)
            self.assertIs(arranging.results[0], kept)

    def test_a_press_on_a_variation_while_they_are_made_stops_and_takes_it(self) -> None:
        window = self.window(HALF, stage="lay-out")
        with patch.object(arranging_module, "ARRANGE_SECONDS", 3_600.0):
            window.arranging.begin()
            self.assertTrue(wait_until(lambda: 1 in window.arranging.results))
            QTest.mouseClick(at_lay_out(window).variations.cards[1], Qt.MouseButton.LeftButton)
            self.assertTrue(arranged(window))
        self.assertEqual(window.arranging.chosen, 1)

    def test_a_hand_that_moves_a_thing_meanwhile_is_gone_round(self) -> None:
        window = self.window(HALF, stage="lay-out")
        with patch.object(arranging_module, "ARRANGE_SECONDS", 3_600.0):
            window.arranging.begin()
            self.assertTrue(wait_until(lambda: window.arranging.results != {}))
            window.workspace.select(("item-9#1",))
            window.plan.setFocus()
            key(window.plan, Qt.Key.Key_Right)
            moved = next(one for one in window.workspace.insert.placements if one.id == "item-9#1")
            self.assertTrue(wait_until(lambda: window.arranging._scope == "improve"))
            self.assertTrue(wait_until(lambda: window.arranging.results != {}))
            window.arranging.stop()
            self.assertTrue(arranged(window))
        after = next(one for one in window.workspace.insert.placements if one.id == "item-9#1")
        self.assertEqual((after.x_mm, after.y_mm), (moved.x_mm, moved.y_mm))
        self.assertIn("Improve", window.workspace.history.undo_label or "")

    def test_wishes_show_their_figures_and_their_picture_over_the_plan(self) -> None:
        window = self.window(DEMO, stage="lay-out")
        rows = at_lay_out(window).panel.wishes.rows
        self.assertTrue(wait_until(lambda: rows["together"].wish is not None))
        self.assertIn(" mm", rows["together"].accessibleName())
        self.assertIn("of 100", at_lay_out(window).panel.wishes.total.text())
        rows["together"].click()
        self.assertEqual(at_lay_out(window).layer.wish, rows["together"].wish)
        rows["room"].click()
        self.assertFalse(rows["together"].isChecked())
        self.assertEqual(at_lay_out(window).layer.wish, rows["room"].wish)
        rows["room"].click()
        self.assertIsNone(at_lay_out(window).layer.wish)

    def test_a_style_brings_its_weights_and_a_slider_changes_one(self) -> None:
        window = self.window(DEMO, stage="lay-out")
        self.assertTrue(wait_until(lambda: "Tidy rows" in at_lay_out(window).panel.wishes.total.text()))
        tray = at_lay_out(window).panel
        tray.style_box.setCurrentIndex(1)
        tray.style_box.activated.emit(1)
        self.assertEqual(window.arranging.style, "tight")
        self.assertEqual(tray.wishes.sliders["room"].value(), 16)
        self.assertTrue(wait_until(lambda: "Tight" in tray.wishes.total.text()))
        tray.wishes.weights_button.click()
        tray.wishes.sliders["rows"].setValue(6)
        self.assertEqual(window.arranging.weights["rows"], 3.0)
        rows = tray.wishes.rows
        self.assertTrue(rows["symmetry"].isHidden())  # what counts for nothing is no row
        tray.wishes.sliders["symmetry"].setValue(2)
        self.assertFalse(rows["symmetry"].isHidden())
        tray.wishes.weights_button.click()
        rows["symmetry"].click()
        self.assertEqual(at_lay_out(window).layer.wish, rows["symmetry"].wish)
        tray.wishes.sliders["symmetry"].setValue(0)
        self.assertTrue(rows["symmetry"].isHidden())
        self.assertIsNone(at_lay_out(window).layer.wish)

    def test_what_finds_no_room_is_told_with_the_reason_and_a_second_drawer(self) -> None:
        plan = project(replace(box(150, 120, 20, "Box"), quantity=8), box(900, 20, 10, "Bar"), rules=RULES)
        plan = replace(plan, containers=(replace(plan.containers[0], width_mm=400, depth_mm=300),))
        window = self.window(plan, stage="lay-out")
        window.arranging.begin()
        self.assertTrue(arranged(window))
        told = at_lay_out(window).panel.advice.text()
        self.assertIn("‘Bar’ is too long for this drawer even on the diagonal: 900.2 of 458 mm", told)
        self.assertIn("a second one of 400 x 300 mm would take", told)
        self.assertTrue(at_lay_out(window).panel.advice.isVisible())


class Hands(Hasty):
    def test_a_neighbour_makes_way_and_one_step_of_undo_brings_both_back(self) -> None:
        plan = laid(project(box(40, 40), box(40, 40), rules=RULES), (60, 100), (130, 100))
        window = self.window(plan, stage="lay-out")
        start = plan_pixel(window, 60, 100)
        drag(window.plan.viewport(), start, start + QPointF(30 * window.plan.px_per_mm, 0))
        first, second = window.workspace.insert.placements
        self.assertAlmostEqual(first.x_mm, 90, delta=1.5)
        self.assertAlmostEqual(second.x_mm - first.x_mm, 52.2, delta=0.3)
        self.assertEqual([one.code for one in window.workspace.findings if one.code == "THIN_WALL"], [])
        window.undo()
        self.assertEqual(window.workspace.project, plan)

    def test_what_is_refused_springs_back_and_ctrl_carries_freely(self) -> None:
        plan = laid(project(box(40, 40), box(40, 120), rules=RULES), (60, 100), (200, 100))
        plan = lock_placements(plan, "insert-1", ["item-2#1"], locked=True)
        window = self.window(plan, stage="lay-out")
        start = plan_pixel(window, 60, 100)
        far = start + QPointF(140 * window.plan.px_per_mm, 0)
        drag(window.plan.viewport(), start, far, steps=14)
        there = window.workspace.insert.placements[0].x_mm
        self.assertLess(there, 60 + 140 - 40 - 12 + 0.1)
        self.assertGreater(there, 60)
        self.assertIn("went back", window.statusBar().currentMessage())
        window.undo()
        window.plan.handling.press((60, 100), reach_mm=8, more=False)
        window.plan.handling.move((200, 100), freely=True)
        window.plan.handling.release()
        self.assertEqual(window.workspace.insert.placements[0].x_mm, 200)

    def test_an_area_is_drawn_kept_free_and_used_again(self) -> None:
        plan = project(box(40, 30), rules=RULES)
        window = self.window(plan, stage="lay-out")
        window.actions_by_id["lay.keep_free"].trigger()
        start, end = plan_pixel(window, 40, 40), plan_pixel(window, 140, 110)
        drag(window.plan.viewport(), start, end)
        (ring,) = window.workspace.insert.spare
        self.assertAlmostEqual(ring[2][0] - ring[0][0], 100, delta=1.5)
        window.grab()
        window.actions_by_id["lay.free_again"].trigger()
        self.assertEqual(window.workspace.insert.spare, ())

    def test_an_area_is_filled_from_the_tray(self) -> None:
        plan = project(box(40, 30), box(50, 20), rules=RULES)
        window = self.window(plan, stage="lay-out")
        window.actions_by_id["lay.fill_area"].trigger()
        drag(window.plan.viewport(), plan_pixel(window, 20, 20), plan_pixel(window, 180, 160))
        self.assertTrue(arranged(window))
        self.assertEqual(len(window.workspace.insert.placements), 2)
        self.assertEqual(window.workspace.history.undo_label, "Fill an area: tidy rows")
        key(window.plan, Qt.Key.Key_Escape)

    def test_a_selection_is_made_a_row_by_key_and_spread_from_back_to_front(self) -> None:
        bars = [box(length, 14, 10, f"bar {length}") for length in (60, 80, 100)]
        plan = laid(project(*bars, rules=RULES), (60, 60), (160, 100, 30), (230, 60, 90))
        window = self.window(plan, stage="lay-out")
        window.workspace.select([one.id for one in window.workspace.insert.placements])
        window.plan.setFocus()
        key(window.plan, Qt.Key.Key_R)
        self.assertEqual(window.workspace.history.undo_label, "Lay 3 items in a row")
        self.assertEqual([one.kind for one in window.workspace.insert.pulls], ["trench"])
        window.workspace.select([one.id for one in window.workspace.insert.placements])
        window.actions_by_id["lay.spread_down"].trigger()
        self.assertEqual(len(window.workspace.insert.placements), 3)

    def test_a_gap_is_typed_places_are_mirrored_and_what_lies_is_put_in_order(self) -> None:
        plan = laid(
            project(*(box(30, 40, 10, f"box {n}") for n in range(3)), rules=RULES), (50, 80), (110, 86), (210, 77)
        )
        window = self.window(plan, stage="lay-out")
        panel, workspace = at_lay_out(window).panel, window.workspace
        self.assertFalse(panel.gap_field.isEnabled())
        workspace.select([one.id for one in workspace.insert.placements])
        QTest.keyClicks(panel.gap_field, "14")
        QTest.keyClick(panel.gap_field, Qt.Key.Key_Return)
        self.assertEqual([one.x_mm for one in workspace.insert.placements], [50, 94, 138])
        self.assertIn("14 mm", workspace.history.undo_label or "")
        window.actions_by_id["lay.mirror"].trigger()
        self.assertEqual([round(one.x_mm, 2) for one in workspace.insert.placements], [138, 94, 50])
        window.undo()
        window.undo()
        self.assertEqual(workspace.project, plan)
        window.actions_by_id["lay.order"].trigger()
        self.assertTrue(arranged(window))
        self.assertEqual(workspace.history.undo_label, "Put in order: tidy rows")
        fronts = {round(pocket.surface.bounds[3], 1) for pocket in workspace.ground.pockets.values()}
        self.assertEqual(len(fronts), 1)
        window.undo()
        self.assertEqual(workspace.project, plan)

    def test_a_drag_catches_on_a_line_and_on_a_gap_and_shows_it(self) -> None:
        """Gaps of 30 and about 30: what is dragged between two others comes to lie in their middle, on their line."""
        plan = laid(
            project(*(box(30, 40, 10, f"box {n}") for n in range(3)), rules=RULES), (50, 80), (110, 110), (168, 80)
        )
        window = self.window(plan, stage="lay-out")
        hand = window.plan.handling
        hand.press((110, 110), reach_mm=2.0, more=False)
        hand.move((109.4, 80.9))
        self.assertEqual(sorted(one.gap_mm or 0 for one in hand.catches), [0, 29.0, 29.0])
        window.grab()
        hand.release()
        moved = window.workspace.insert.placements[1]
        self.assertEqual((round(moved.x_mm, 2), round(moved.y_mm, 2)), (109, 80))
        self.assertEqual(hand.catches, ())


class Meanwhile(Hasty):
    """What happens to a search when the plan becomes another one."""

    def begin(self) -> Window:
        window = self.window(HALF, stage="lay-out")
        with patch.object(arranging_module, "ARRANGE_SECONDS", 3_600.0):
            window.arranging.begin()
            self.assertTrue(wait_until(lambda: window.arranging.results != {}))
        return window

    def test_another_project_ends_the_search_and_is_left_alone(self) -> None:
        window = self.begin()
        other = laid(project(box(40, 40), rules=RULES), (60, 100))
        window.workspace.open(other, None)
        self.assertTrue(arranged(window))
        self.assertEqual(window.workspace.project, other)
        self.assertEqual(len(window.workspace.history.steps), 1)
        self.assertIs(window.frame.below.currentWidget(), window.section)

    def test_presses_that_come_faster_than_places_are_found_are_all_heard(self) -> None:
        window = self.window(project(*(box(40.0 + n, 20.0, 12.0, name=f"box {n}") for n in range(4))), stage="lay-out")
        keys = [f"{item.id}#1" for item in window.workspace.project.items]
        for key_ in (*keys, keys[0]):  # one of them twice
            window.laying_in.lay_in_best(key_)
        self.assertTrue(wait_until(lambda: len(window.workspace.insert.placements) == 4))
        settle(window)
        self.assertEqual(sorted(one.id for one in window.workspace.insert.placements), sorted(keys))
        window.workspace.undo()
        self.assertEqual(len(window.workspace.insert.placements), 3)
        # What was asked for in one document is not laid in another.
        window.laying_in.lay_in_best(keys[-1])
        window.laying_in.lay_in_best(keys[-1])
        window.workspace.open(project(box(), box()), None)
        settle(window)
        self.assertEqual(window.workspace.insert.placements, ())

    def test_sharing_out_gives_variations_too_each_with_what_it_comes_to(self) -> None:
        plan = two_tiers()
        window = self.window(plan, stage="lay-out")
        with patch.object(arranging_module, "ARRANGE_SECONDS", 3_600.0):
            window.arranging.begin("inserts")
            self.assertTrue(arranged(window))
        cards = [card for card in at_lay_out(window).variations.cards if card.isVisible()]
        self.assertGreaterEqual(len(cards), 2)
        for card in cards:
            self.assertRegex(card.accessibleName(), r"\d+ of 100 in all")
        totals = {number: window.arranging.total(one) for number, one in window.arranging.results.items()}
        assert window.arranging.chosen is not None
        self.assertEqual(totals[window.arranging.chosen], max(totals.values()))
        taken = window.workspace.project
        self.assertEqual(sum(len(one.placements) for one in taken.inserts), 6)
        QTest.mouseClick(next(card for card in cards if not card.isChecked()), Qt.MouseButton.LeftButton)
        self.assertNotEqual(window.workspace.project, taken)
        window.undo()
        self.assertEqual(window.workspace.project, plan)

    def test_sharing_out_that_is_stopped_at_once_changes_nothing(self) -> None:
        window = self.window(HALF, stage="lay-out")
        with patch.object(arranging_module, "ARRANGE_SECONDS", 3_600.0):
            with work_waits():
                window.arranging.begin("inserts")
                self.assertFalse(at_lay_out(window).variations.close_button.isVisible())
                window.arranging.stop()
            self.assertTrue(arranged(window))
        self.assertIs(window.workspace.project, HALF)
        self.assertIs(window.frame.below.currentWidget(), window.section)

    def test_another_insert_may_be_looked_at_while_one_is_laid(self) -> None:
        from cozy_burrow.demo.shipped import demo_project

        window = self.window(demo_project(), stage="lay-out")
        window.workspace.show_insert("insert-3")
        with patch.object(arranging_module, "ARRANGE_SECONDS", 3_600.0):
            window.arranging.begin()
            self.assertTrue(wait_until(lambda: window.arranging.results != {}))
            window.workspace.show_insert("insert-1")
            window.grab()
            window.arranging.stop()
            self.assertTrue(arranged(window))
        self.assertEqual(window.workspace.insert_id, "insert-3")
        self.assertEqual(window.workspace.project.inserts[0], demo_project().inserts[0])
