"""What a screen reader is told of scenes that are painted by hand."""

from __future__ import annotations

from unittest.mock import patch

from PySide6.QtCore import Qt
from PySide6.QtGui import QAccessible, QAccessibleAnnouncementEvent
from PySide6.QtWidgets import QAbstractButton

from cozy_burrow.app.look import speaking
from cozy_burrow.app.shell.spoken import Spoken
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.model.records import Project
from tests.app.qt import NEVER_MS, QtCase, key, plan_pixel, wait_until
from tests.makers import box, laid, project, rod

PLAN = laid(project(box(name="block"), rod(name="rod")), (80, 60), (180, 120, 30))


class Speaking(QtCase):
    def setUp(self) -> None:
        super().setUp()
        self.heard: list[tuple[str, bool]] = []
        assertive = QAccessible.AnnouncementPoliteness.Assertive

        def hear(event: QAccessibleAnnouncementEvent) -> None:
            self.heard.append((event.message(), event.politeness() == assertive))

        for name, stand_in in (("isActive", lambda: True), ("updateAccessibility", hear)):
            replaced = patch.object(speaking.QAccessible, name, stand_in)
            replaced.start()
            self.addCleanup(replaced.stop)

    def hears(self, words: str) -> bool:
        return wait_until(lambda: any(words in text for text, _ in self.heard))

    def plan(self) -> Window:
        window = self.window(PLAN, stage="lay-out")
        window.plan.setFocus()
        return window

    def test_what_is_selected_and_where_it_is_moved_to(self) -> None:
        window = self.plan()
        key(window.plan, Qt.Key.Key_N)
        self.assertTrue(self.hears("block, middle at 80 mm from the left"))
        spoken = window.findChild(Spoken)
        assert spoken is not None
        timer, _ = spoken._later["selection"]
        after_ms = timer.interval()
        timer.setInterval(NEVER_MS)  # however slow the machine is, the hand is not done yet
        for _ in range(3):
            key(window.plan, Qt.Key.Key_Right)
        timer.setInterval(after_ms)
        self.assertTrue(self.hears("middle at 81.5 mm from the left"))
        self.assertFalse(any("80.5 mm" in text for text, _ in self.heard))  # not every step of it

    def test_what_was_refused_comes_at_once_and_checks_are_counted(self) -> None:
        window = self.plan()
        window.workspace.refused.emit("that cannot be")
        self.assertIn(("that cannot be", True), self.heard)
        window.workspace.said.emit("done")
        self.assertIn(("done", False), self.heard)
        moved = laid(project(box(name="block"), rod(name="rod")), (80, 60), (90, 62, 0))
        window.workspace.do("x", moved)
        self.assertTrue(self.hears("ust fix"))

    def test_what_lies_on_the_plan_has_a_name_a_place_and_a_state_and_can_be_chosen(self) -> None:
        window = self.plan()
        key(window.plan, Qt.Key.Key_N)
        plan = window.plan.viewport()
        self.assertTrue(wait_until(lambda: len(plan.findChildren(QAbstractButton)) == 2))
        block, other = plan.findChildren(QAbstractButton)
        self.assertEqual((block.accessibleName(), block.isChecked()), ("block", True))
        self.assertIn("middle at 80 mm from the left, 60 mm from the back, turned 0°", block.accessibleDescription())
        middle = plan_pixel(window, 180, 120).toPoint()
        self.assertTrue(other.geometry().contains(middle))
        self.assertFalse(block.geometry().contains(middle))
        self.assertIs(plan.childAt(middle), None)  # it takes no mouse
        other.click()
        self.assertEqual(window.workspace.selection, ("item-2#1",))
        self.assertTrue(wait_until(lambda: other.isChecked() and not block.isChecked()))
        window.workspace.do("x", Project())
        self.assertTrue(wait_until(lambda: not plan.findChildren(QAbstractButton)))

    def test_the_section_tells_what_the_line_crosses_and_how_deep_it_lies(self) -> None:
        window = self.window(PLAN, stage="sink")
        names = {body.placement for body in window.section.cut.bodies}
        self.assertTrue(names)
        self.assertTrue(wait_until(lambda: len(window.section.findChildren(QAbstractButton)) == len(names)))
        told = window.section.findChildren(QAbstractButton)[0]
        self.assertIn("taken out, it lies from", told.accessibleDescription())
        told.click()
        self.assertEqual(len(window.workspace.selection), 1)

    def test_nobody_listens(self) -> None:
        with patch.object(speaking.QAccessible, "isActive", lambda: False):
            window = self.plan()
            window.workspace.said.emit("done")
        self.assertEqual(self.heard, [])
