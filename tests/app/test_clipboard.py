"""Items go from one window to another by the clipboard; pictures on it come in as if they were dropped."""

from __future__ import annotations

from unittest.mock import patch

from PySide6.QtCore import QMimeData, Qt
from PySide6.QtGui import QGuiApplication, QImage
from PySide6.QtTest import QTest

from cozy_burrow.app.screens.gather.picture_ways import PictureWays
from cozy_burrow.app.shell.clipboard import MIME
from cozy_burrow.core.model.records import Project
from tests.app.qt import QtCase, wait_until
from tests.app.screens import at_gather
from tests.makers import box, laid, project, rod

PLAN = laid(project(box(name="block"), rod(name="rod")), (80, 60), (180, 120, 30))
CTRL = Qt.KeyboardModifier.ControlModifier


class Clipboard(QtCase):
    def setUp(self) -> None:
        super().setUp()
        self.addCleanup(QGuiApplication.clipboard().clear)  # what is left there outlives Python

    def test_what_is_selected_comes_into_another_windows_kit_as_one_step(self) -> None:
        mine, theirs = self.window(PLAN, stage="lay-out"), self.window(Project(), stage="gather")
        mine.workspace.select([one.id for one in mine.workspace.insert.placements])
        mine._command("project.copy")
        self.assertEqual(QGuiApplication.clipboard().text(), "block\nrod")
        theirs._command("project.paste")
        self.assertEqual([one.name for one in theirs.workspace.project.items], ["block", "rod"])
        self.assertEqual(theirs.workspace.project.items[1].outline, PLAN.items[1].outline)
        theirs._command("project.paste")
        self.assertEqual(len({one.id for one in theirs.workspace.project.items}), 4)
        theirs.workspace.undo()
        theirs.workspace.undo()
        self.assertEqual(theirs.workspace.project.items, ())

    def test_at_the_end_of_the_program_nothing_of_ours_is_left_there(self) -> None:
        window = self.window(PLAN, stage="lay-out")
        window.workspace.select([one.id for one in window.workspace.insert.placements])
        window._command("project.copy")
        self.app.aboutToQuit.emit()
        self.assertEqual(QGuiApplication.clipboard().text(), "")

    def test_a_field_keeps_its_own_copy_and_paste(self) -> None:
        window = self.window(PLAN, stage="gather")
        window.workspace.choose_item("item-1")
        name = at_gather(window).add.name
        name.setFocus()
        QTest.keyClicks(name, "awl")
        QTest.keyClick(name, Qt.Key.Key_A, CTRL)
        QTest.keyClick(name, Qt.Key.Key_C, CTRL)
        self.assertEqual(QGuiApplication.clipboard().text(), "awl")
        QTest.keyClick(name, Qt.Key.Key_V, CTRL)
        self.assertEqual((name.text(), len(window.workspace.project.items)), ("awl", 2))

    def test_a_picture_is_taken_and_rubbish_is_refused(self) -> None:
        window = self.window(Project(), stage="gather")
        refused: list[str] = []
        window.workspace.refused.connect(refused.append)
        picture = QImage(40, 30, QImage.Format.Format_RGB32)
        picture.fill(Qt.GlobalColor.white)
        QGuiApplication.clipboard().setImage(picture)
        with patch.object(PictureWays, "take_photo") as photo:
            window._command("project.paste")
            self.assertTrue(wait_until(lambda: photo.called))
        self.assertEqual(QImage.fromData(photo.call_args.args[0]).width(), 40)
        for nothing in (lambda: QGuiApplication.clipboard().clear(), lambda: QGuiApplication.clipboard().setText("x")):
            nothing()
            window._command("project.paste")
            self.assertIn("no item, picture or file", refused.pop())
        data = QMimeData()
        data.setData(MIME, b"no project")
        QGuiApplication.clipboard().setMimeData(data)
        window._command("project.paste")
        self.assertIn("the clipboard", refused.pop())
        self.assertEqual(window.workspace.project.items, ())
