"""What goes in? In the window: looked at beside it, a box taken instead of ten items, undone, looked at again."""

from __future__ import annotations

from msgspec.structs import replace
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from cozy_burrow.app.screens.lay_out.first_look_card import FirstLookCard
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.model.edits import remove_items
from cozy_burrow.core.model.records import Rules
from tests.app.qt import QtCase, settle, wait_until, work_waits
from tests.app.screens import at_lay_out
from tests.makers import box, drawer, project, rod

BOTTLES = replace(rod(90, 30, "bottle"), quantity=10)
KIT = project(
    BOTTLES, box(120, 40, 20, "plane"), rules=Rules(wall_mm=10.0), bay=drawer(width=500, depth=400, height=140)
)


class FirstLooks(QtCase):
    def card(self, window: Window) -> FirstLookCard:
        QTest.mouseClick(at_lay_out(window).panel.look_button, Qt.MouseButton.LeftButton)
        return next(one for one in window.findChildren(FirstLookCard) if one.isVisible())

    def known(self, card: FirstLookCard) -> None:
        self.assertTrue(wait_until(lambda: card.list.isEnabled() and not card.aside.is_busy))

    def test_a_box_instead_of_ten_items_is_one_step_and_it_looks_again(self) -> None:
        window = self.window(KIT, stage="lay-out")
        card = self.card(window)
        self.known(card)
        self.assertIn("10 × ‘bottle’", card.list.item(0).text())
        self.assertIn("less to cut", card.told.text())
        QTest.mouseClick(card.take_button, Qt.MouseButton.LeftButton)
        self.assertEqual([one.quantity for one in window.workspace.project.items], [1, 1])
        self.known(card)
        self.assertNotIn("bottle", card.list.item(0).text() if card.list.count() else "")
        window.workspace.undo()
        self.assertEqual(window.workspace.project, KIT)
        self.known(card)
        self.assertIn("bottle", card.list.item(0).text())
        self.assertIn("One box for 10", window.workspace.history.redo_label or "")
        card.close()

    def test_a_kit_that_is_changed_while_it_is_looked_at_is_looked_at_again(self) -> None:
        window = self.window(KIT, stage="lay-out")
        with work_waits():
            card = self.card(window)
            self.assertFalse(card.take_button.isEnabled())
            window.workspace.do("Take out", remove_items(KIT, [KIT.items[0].id]))
        self.known(card)
        self.assertEqual(card._of, window.workspace.project)
        self.assertNotIn("bottle", card.list.item(0).text())
        card.close()
        settle(window)

    def test_it_is_offered_while_nothing_lies_there(self) -> None:
        window = self.window(KIT, stage="lay-out")
        button = at_lay_out(window).panel.look_button
        self.assertTrue(button.isVisible())
        window.laying_in.lay_in_best(f"{KIT.items[1].id}#1")
        settle(window)
        self.assertFalse(button.isVisible())
