"""What a screen reader is told of scenes that are painted by hand."""

from __future__ import annotations

from unittest.mock import patch

from PySide6.QtCore import Qt
from PySide6.QtGui import QAccessible, QAccessibleAnnouncementEvent

from cozy_burrow.app.look import speaking
from cozy_burrow.app.shell.window import Window
from tests.app.qt import QtCase, key, wait_until
from tests.makers import box, laid, project, rod

PLAN = laid(project(box(name="block"), rod(name="rod")), (80, 60), (180, 120, 30))


class Spoken(QtCase):
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
        for _ in range(3):
            key(window.plan, Qt.Key.Key_Right)
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

    def test_nobody_listens(self) -> None:
        with patch.object(speaking.QAccessible, "isActive", lambda: False):
            window = self.plan()
            window.workspace.said.emit("done")
        self.assertEqual(self.heard, [])
