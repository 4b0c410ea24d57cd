"""Keyboard alone: from an empty window to papers with no mouse; what has the focus is always seen."""

from __future__ import annotations

from collections.abc import Callable
from unittest.mock import patch

from PySide6.QtCore import Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog, QWidget

from cozy_burrow.app.desk import arranging as arranging_module
from cozy_burrow.app.screens.cut.bench_mode import BenchMode
from cozy_burrow.app.shell.start_page import StartPage
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.model.stages import STAGES
from tests.app.qt import QtCase, settle, wait_until
from tests.app.screens import at_cut, at_gather
from tests.makers import box, laid, project, rod

_CTRL, _ALT, _SHIFT = (
    Qt.KeyboardModifier.ControlModifier,
    Qt.KeyboardModifier.AltModifier,
    Qt.KeyboardModifier.ShiftModifier,
)
_NONE = Qt.KeyboardModifier.NoModifier
_MOST_TABS = 150


class KeysAlone(QtCase):
    def press(self, code: Qt.Key, modifier: Qt.KeyboardModifier = _NONE) -> None:
        """Press a key on whatever has the focus, on the window where nothing has."""
        widget = QApplication.focusWidget() or QApplication.activeWindow()
        assert widget is not None
        QTest.keyClick(widget, code, modifier)
        self.app.processEvents()

    def write(self, text: str) -> None:
        widget = QApplication.focusWidget()
        assert widget is not None
        QTest.keyClicks(widget, text)

    def fill(self, *texts: str) -> None:
        """Write a figure into one field after the other; Enter leads on, and adds in the last."""
        for text in texts:
            self.press(Qt.Key.Key_A, _CTRL)
            self.write(text)
            self.press(Qt.Key.Key_Return)

    def tab_to(self, wanted: Callable[[QWidget], bool]) -> QWidget:
        """Tab on until something wanted has the focus."""
        for _ in range(_MOST_TABS):
            found = QApplication.focusWidget()
            if found is not None and wanted(found):
                return found
            self.press(Qt.Key.Key_Tab)
        raise AssertionError("not reached by Tab")

    def test_from_an_empty_window_to_papers(self) -> None:
        window = self.window(Project())
        StartPage(window)
        window.activateWindow()
        self.app.processEvents()
        self.fill("300", "200", "75")
        if window.stage != "measure":
            self.press(Qt.Key.Key_Return)
        self.assertEqual(window.stage, "measure")
        workspace = window.workspace
        self.assertEqual((workspace.container.width_mm, workspace.container.depth_mm), (300.0, 200.0))

        self.press(Qt.Key.Key_1, _ALT)
        add = at_gather(window).add
        self.tab_to(lambda one: one in add.ways.values())
        for way in (Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Left):  # one of a group: arrows lead to the others
            self.press(way)
        self.press(Qt.Key.Key_Space)
        self.assertTrue(add.ways["Box"].isChecked())
        self.tab_to(lambda one: one is add.name)
        for name, sizes in (("Wedge", ("80", "40", "20")), ("Tin", ("90", "60", "18")), ("Rule", ("150", "26", "4"))):
            self.assertTrue(add.name.hasFocus())
            self.write(name)
            self.tab_to(lambda one: one is add._box[0])
            self.fill(*sizes)
        self.assertEqual([one.name for one in workspace.project.items], ["Wedge", "Tin", "Rule"])

        self.press(Qt.Key.Key_3, _ALT)
        with patch.object(arranging_module, "ARRANGE_SECONDS", 3_600.0):
            self.press(Qt.Key.Key_Return, _CTRL)
            self.assertTrue(wait_until(lambda: window.arranging.results != {}))
            window._command("lay.stop")
            self.assertTrue(wait_until(lambda: not window.arranging.is_arranging))
        self.assertEqual(len(workspace.insert.placements), 3)
        self.tab_to(lambda one: one is window.plan)
        self.press(Qt.Key.Key_N)
        (chosen,) = workspace.selection
        before = next(one for one in workspace.insert.placements if one.id == chosen)
        self.press(Qt.Key.Key_Right)
        after = next(one for one in workspace.insert.placements if one.id == chosen)
        self.assertGreater(after.x_mm, before.x_mm)
        self.press(Qt.Key.Key_Z, _CTRL)
        self.assertEqual(next(one for one in workspace.insert.placements if one.id == chosen), before)

        self.press(Qt.Key.Key_4, _ALT)
        settle(window)
        layers = workspace.ground.pockets[chosen].seating.zone_layers
        self.tab_to(lambda one: one is window.plan)
        self.press(Qt.Key.Key_S)  # the section runs along what is selected
        self.tab_to(lambda one: one is window.section)
        self.press(Qt.Key.Key_Down)
        self.assertEqual(workspace.ground.pockets[chosen].seating.zone_layers[0], layers[0] + 1)
        self.press(Qt.Key.Key_Up)

        self.press(Qt.Key.Key_6, _ALT)
        papers = self.folder / "papers"
        with patch.object(QFileDialog, "getExistingDirectory", return_value=str(papers)):
            self.press(Qt.Key.Key_E, _CTRL)
        self.assertTrue(wait_until(lambda: (papers / "templates.pdf").exists()))
        self.press(Qt.Key.Key_B, _CTRL)
        mode = next(one for one in self.app.topLevelWidgets() if isinstance(one, BenchMode) and one.isVisible())
        QTest.keyClick(mode, Qt.Key.Key_Space)
        QTest.keyClick(mode, Qt.Key.Key_Escape)
        self.assertTrue(wait_until(lambda: not mode.isVisible()))
        self.assertGreater(at_cut(window).panel.table.rowCount(), 3)

    def around(self, window: Window) -> list[QWidget]:
        """Tab all the way round and return what had the focus, each once."""
        seen: list[QWidget] = []
        for _ in range(_MOST_TABS):
            self.press(Qt.Key.Key_Tab)
            found = QApplication.focusWidget()
            assert found is not None
            if found in seen:
                return seen
            self.assertFalse(found.visibleRegion().isEmpty(), f"{found} at {window.stage} is out of sight")
            seen.append(found)
        raise AssertionError(f"no end to it at {window.stage}")

    def test_what_has_the_focus_is_seen_and_looks_like_it(self) -> None:
        window = self.window(laid(project(box(), rod()), (80, 60), (180, 120, 30)))
        window.activateWindow()
        for stage in STAGES:
            window.show_stage(stage)
            settle(window)
            window.navigator.screen.catch_up()  # what is only known a moment later takes no focus by then
            for widget in self.around(window):
                with self.subTest(stage=stage, widget=f"{widget} {widget.accessibleName()}"):
                    widget.setFocus(Qt.FocusReason.TabFocusReason)
                    self.app.processEvents()
                    with_focus = picture(widget)
                    widget.clearFocus()
                    self.app.processEvents()
                    self.assertNotEqual(with_focus, picture(widget), "nothing shows that it has the focus")


def picture(widget: QWidget) -> QImage:
    """A widget as it looks now."""
    return widget.grab().toImage()
