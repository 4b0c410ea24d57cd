"""Sink and Grip: advice taken, lid, peel view, pulls of every kind, coupons and pull tests, forms of pockets."""

from __future__ import annotations

import unittest
from unittest.mock import patch

from msgspec.structs import replace
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from cozy_burrow.app.look import motion as motion_module
from cozy_burrow.app.screens.gather import forming
from cozy_burrow.app.screens.grip.choosing import why_none
from cozy_burrow.app.screens.lay_out import sharing_pockets
from cozy_burrow.app.section import line
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.model.pull_kinds import PULL_KINDS
from cozy_burrow.core.model.records import Rules
from tests.app.qt import QtCase, key, settle
from tests.app.screens import at_cut, at_grip, at_sink
from tests.makers import box, laid, project, van_drawer
from tests.real_window.sink import mallet_case

LEFT = Qt.MouseButton.LeftButton
VAN = van_drawer()


class Sink(QtCase):
    def test_the_verdict_names_what_holds_it_and_advice_can_be_taken(self) -> None:
        window = self.window(mallet_case(), stage="sink")
        window.workspace.select(("thing#1",))
        self.assertIn("rocks", at_sink(window).panel.verdict.text())
        self.assertIn("Rests on part 1", at_sink(window).panel.verdict.toolTip())
        settle(window)
        self.assertTrue(at_sink(window).panel.option_buttons)
        for button in at_sink(window).panel.option_buttons:
            self.assertTrue(button.accessibleName())
        QTest.mouseClick(at_sink(window).panel.option_buttons[0], LEFT)
        self.assertIn("Lies level", at_sink(window).panel.verdict.text())
        self.assertEqual(window.workspace.history.undo_label, "Seat ‘mallet’ as advised")

    def test_all_that_lie_askew_are_seated_at_once(self) -> None:
        by_rule = [replace(one, zone_layers=None, risers_mm=None) for one in VAN.inserts[0].placements]
        plain = replace(VAN, inserts=(replace(VAN.inserts[0], placements=tuple(by_rule)),))
        plain = replace(plain, rules=replace(plain.rules, seat="half"))  # by its own judgement nothing lies askew
        window = self.window(plain, stage="sink")
        self.assertTrue(at_sink(window).panel.all_button.isVisible())
        before = len([one for one in window.workspace.findings if one.code in {"ROCKS", "LIES_ASKEW"}])
        window.actions_by_id["sink.advise"].trigger()
        settle(window)
        after = len([one for one in window.workspace.findings if one.code in {"ROCKS", "LIES_ASKEW"}])
        self.assertLess(after, before)
        self.assertLessEqual(after, 2)

    def test_the_lid_follows_its_slider_and_lies_on_what_is_too_high(self) -> None:
        plan = mallet_case()
        window = self.window(replace(plan, rules=replace(plan.rules, seat="half")), stage="sink")
        slider = at_sink(window).panel.closing.slider
        slider.setValue(300)
        self.assertEqual(window.section.settling.motion.lid_raised_mm, 30.0)
        slider.setValue(0)
        self.assertGreater(window.section.settling.motion.lid_raised_mm, 1.0)
        self.assertIn("stays open", at_sink(window).panel.closing.verdict.text())
        window.show_stage("lay-out")
        self.assertEqual(window.section.settling.motion.lid_raised_mm, 0.0)

    def test_the_lid_moves_before_the_eye_turns_back_and_stays_where_a_hand_holds_it(self) -> None:
        window = self.window(mallet_case(), stage="sink")
        closing, motion = at_sink(window).panel.closing, window.section.settling.motion
        closed = motion.lid_raised_mm
        closing.toggle()
        closing.glide.setCurrentTime(closing.glide.duration() // 2)
        half = motion.lid_raised_mm
        self.assertTrue(closed < half < 60.0, half)
        closing.toggle()  # on its way up: down again
        closing.glide.setCurrentTime(closing.glide.duration() // 2)
        self.assertTrue(closed < motion.lid_raised_mm < half)
        closing.glide.finish()
        self.assertEqual(motion.lid_raised_mm, closed)
        closing.toggle()
        closing.glide.setCurrentTime(closing.glide.duration() // 2)
        key(closing.slider, Qt.Key.Key_Right)
        held = motion.lid_raised_mm
        self.assertFalse(closing.glide.is_moving)
        self.assertTrue(closed < held < 60.0)
        # On its way, its stage is left: it is up at once, and no other stage shows it open.
        closing.toggle()
        window.show_stage("lay-out")
        self.assertFalse(closing.glide.is_moving)
        self.assertEqual(motion.lid_raised_mm, 0.0)

    def test_with_less_movement_wanted_the_lid_is_there_at_once(self) -> None:
        window = self.window(mallet_case(), stage="sink")
        with patch.object(motion_module, "moves", lambda _: False):
            at_sink(window).panel.closing.toggle()
            self.assertEqual(window.section.settling.motion.lid_raised_mm, 60.0)

    def test_the_section_turns_about_the_thing_and_looks_near(self) -> None:
        window = self.window(VAN, stage="sink")
        window.workspace.select(("item-1#1",))
        line.section_along(window.workspace, across=False)
        along = window.section.cut.bodies
        at_sink(window).panel.turntable.setValue(60)
        self.assertNotEqual(window.section.cut.bodies, along)
        self.assertEqual(window.workspace.history.undo_label, "Rotate the section")
        near = window.section.frame().px_per_mm
        window.actions_by_id["section.near"].trigger()
        self.assertLess(window.section.frame().px_per_mm, near)

    def test_the_peel_view_has_a_picture_a_layer_and_chooses_by_a_press(self) -> None:
        window = self.window(VAN, stage="sink")
        at_sink(window).panel.peel_button.click()
        self.assertTrue(at_sink(window).peel.isVisible())
        cells = at_sink(window).peel.cells()
        self.assertEqual(len(cells), 4)  # three that are cut, and one for those that stay whole
        layer, _, transform = cells[0]
        pocket = window.workspace.ground.pockets["item-1#1"].surface.representative_point()
        QTest.mouseClick(at_sink(window).peel, LEFT, pos=transform.map(QPointF(pocket.x, pocket.y)).toPoint())
        self.assertEqual((layer.number, window.workspace.selection), (1, ("item-1#1",)))
        window.grab()
        at_sink(window).panel.peel_button.click()
        self.assertTrue(window.plan.isVisible())

    def test_a_thing_that_is_peeled_settles_and_a_key_ends_it(self) -> None:
        window = self.window(mallet_case(), stage="sink")
        window.workspace.select(("thing#1",))
        line.section_along(window.workspace, across=False)
        window.section.setFocus()
        QTest.keyClick(window.section, Qt.Key.Key_Down)
        window.grab()
        QTest.keyClick(window.section, Qt.Key.Key_Right)
        self.assertEqual(window.section.settling.motion.rings, {})


class Grip(QtCase):
    def test_every_kind_can_be_given_and_is_judged(self) -> None:
        plan = laid(project(box(120, 18, 12), rules=Rules(seat="flush", allowance_mm=0.0)), (150, 100))
        window = self.window(plan, stage="grip")
        window.workspace.select(("item-1#1",))
        said: set[str] = set()
        box_of_kinds = at_grip(window).panel.kind_box
        for row in range(1, 1 + sum(not kind.shared for kind in PULL_KINDS.values())):
            box_of_kinds.setCurrentIndex(row)
            at_grip(window).panel._take_kind()
            (pull,) = window.workspace.insert.pulls
            said.add(pull.kind)
            self.assertTrue(
                at_grip(window).panel.verdict.text().startswith("Comes out"), at_grip(window).panel.verdict.text()
            )
            window.grab()
        self.assertEqual(len(said), 6)
        self.assertEqual([one for one in window.workspace.findings if one.severity == "stop"], [])
        held = (("hook", "by its hook"), ("hollow", "hollow handle"))
        for row, says in ((box_of_kinds.findData(data), says) for data, says in held):
            box_of_kinds.setCurrentIndex(row)
            at_grip(window).panel._take_kind()
            self.assertIn(says, at_grip(window).panel.verdict.text())
            self.assertEqual(window.workspace.insert.pulls, ())

    def test_the_list_of_verdicts_leads_to_the_thing(self) -> None:
        window = self.window(replace(VAN, inserts=(replace(VAN.inserts[0], pulls=()),)), stage="grip")
        first = at_grip(window).panel.list.item(0)
        self.assertTrue(first.text().startswith("✗"))
        at_grip(window).panel._choose(first)
        self.assertEqual(len(window.workspace.selection), 1)
        self.assertIn("Can't be lifted out", at_grip(window).panel.verdict.text())

    def test_walls_and_hold_are_laid_over_the_plan(self) -> None:
        window = self.window(VAN, stage="grip")
        plain = window.plan.grab().toImage()
        for name in ("walls", "hold"):
            at_grip(window).panel.over_buttons[name].click()
            self.assertEqual(at_grip(window).layer.over, name)
            self.assertNotEqual(window.plan.grab().toImage(), plain)

    def test_what_is_gone_by_the_time_its_answer_comes_is_said_and_no_error(self) -> None:
        window = self.window(VAN, stage="grip")
        self.assertIn("no longer", why_none(window.workspace, ("item-99#1",)))

    def test_a_sheet_that_was_taken_away_is_not_peeled(self) -> None:
        window = self.window(VAN, stage="cut")
        shown: list[int] = []
        at_cut(window).panel.layer_shown.connect(shown.append)
        at_cut(window).panel.sheet.blockSignals(True)
        at_cut(window).panel.sheet.addItem("Sheet 2: taken away")
        at_cut(window).panel.sheet.setCurrentIndex(1)
        at_cut(window).panel.sheet.blockSignals(False)
        at_cut(window).panel.peel()
        self.assertEqual(len(shown), 1)

    def test_a_fit_is_chosen_and_the_pocket_follows(self) -> None:
        plan = laid(project(box(60, 20, 12), rules=Rules()), (150, 100))
        window = self.window(plan, stage="grip")
        window.workspace.select(("item-1#1",))
        self.assertIn("On the line", at_grip(window).panel.hold.verdict.text())
        before = window.workspace.ground.pockets["item-1#1"].surface.area
        QTest.mouseClick(at_grip(window).panel.hold.fit_buttons["snug"], LEFT)
        self.assertLess(window.workspace.ground.pockets["item-1#1"].surface.area, before)
        self.assertIn("Held with about", at_grip(window).panel.hold.verdict.text())
        self.assertIn("0.2 mm tighter", at_grip(window).panel.hold.verdict.toolTip())

    def test_a_coupon_and_a_pull_test_change_fit_and_estimate(self) -> None:
        item = replace(box(60, 20, 12), fit="snug")
        window = self.window(laid(project(item, rules=Rules()), (150, 100)), stage="grip")
        window.workspace.select(("item-1#1",))
        at_grip(window).panel.hold.try_it()
        tests = at_grip(window).panel.hold.tests
        tests.write(self.folder / "coupon.pdf")
        self.assertTrue((self.folder / "coupon.pdf").read_bytes().startswith(b"%PDF"))
        tests.best.setCurrentIndex(1)  # 1.5 mm smaller
        tests.take_best()
        self.assertEqual(window.workspace.project.rules.snug_mm, 1.5)
        for _ in range(5):
            tests.scale_button.click()
        self.assertIn("5 pull tests", tests.says.text())
        calibration = at_grip(window).panel.hold.calibration()
        self.assertEqual(calibration.tests, 5)
        self.assertAlmostEqual(calibration.factor, 0.8, delta=0.2)
        self.assertIn("5 pull tests", at_grip(window).panel.hold.verdict.toolTip())
        tests.close()


class Forms(QtCase):
    def test_stack_slit_and_cable_change_the_thing_in_one_step_each(self) -> None:
        card = replace(box(80, 50, 3, name="card"), quantity=4)
        window = self.window(project(card), stage="gather")
        for form, seen in (
            (forming.stack_copies, "4 × card"),
            (forming.stand_upright, "card"),
            (forming.give_cable, "card"),
        ):
            window.workspace.choose_item(card.id)
            form(window.workspace)
            self.assertNotEqual(window.workspace.project.items[0], card)
            self.assertEqual(window.workspace.project.items[0].name, seen)
            window.undo()
            self.assertEqual(window.workspace.project.items[0], card)

    def test_two_things_share_a_pocket_and_a_third_goes_under(self) -> None:
        things = (box(120, 60, 10, name="tin"), replace(box(120, 20, 10, name="file"), id="item-2"))
        small = replace(box(30, 12, 6, name="key"), id="item-3")
        plan = laid(project(*things, small, rules=Rules(allowance_mm=0.0, seat="flush")), (150, 80), (150, 122))
        window = self.window(plan, stage="lay-out")
        window.workspace.select(("item-1#1", "item-2#1"))
        sharing_pockets.share_pocket(window.workspace)
        self.assertEqual([one.name for one in window.workspace.project.items], ["tin with file", "key"])
        self.assertEqual([one for one in window.workspace.findings if one.code == "POCKETS_MEET"], [])
        window.workspace.choose_item("item-3")
        sharing_pockets.lay_under(window.workspace)
        ground = ground_of(window.workspace.project, window.workspace.insert)
        self.assertEqual(ground.under, {"item-3#1": "item-1#1"})
        sharing_pockets.lay_under(window.workspace)
        self.assertIn("no place yet", window.statusBar().currentMessage())


if __name__ == "__main__":
    unittest.main()
