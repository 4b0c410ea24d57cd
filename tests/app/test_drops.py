"""What is dropped on the window goes where it belongs: drawings, tables and photos are no projects."""

from __future__ import annotations

from pathlib import Path
from unittest.mock import patch

from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PySide6.QtGui import QDragEnterEvent, QDropEvent, QImage
from PySide6.QtTest import QTest

from cozy_burrow.app.screens.gather.picture_ways import PictureWays
from cozy_burrow.app.screens.keep.roll import Roll
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.model.records import Project
from cozy_burrow.storage.project_file import save
from tests.app.qt import QtCase, wait_until
from tests.app.screens import at_gather
from tests.app.test_files_way import SQUARE
from tests.makers import box, laid, project

_BUTTON, _KEYS = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier


class Drops(QtCase):
    def setUp(self) -> None:
        super().setUp()
        for name in ("plate.svg", "Cover.SVG", "third.svg"):
            (self.folder / name).write_text(SQUARE)
        (self.folder / "broken.svg").write_text(SQUARE[:-20])
        (self.folder / "kit.csv").write_text("name,length,width,thickness\nfile,150,12,4\npunch,90,8,8\n")
        (self.folder / "tools.jpg").write_bytes(b"no picture, but nobody reads it here")
        (self.folder / "notes.txt").write_text("nothing")

    def drop(self, window: Window, data: QMimeData) -> None:
        """Drop something in the middle of the window, as a file manager does."""
        at = QPoint(640, 400)
        entered = QDragEnterEvent(at, Qt.DropAction.CopyAction, data, _BUTTON, _KEYS)
        self.app.sendEvent(window, entered)
        self.assertTrue(entered.isAccepted())
        self.app.sendEvent(window, QDropEvent(QPointF(at), Qt.DropAction.CopyAction, data, _BUTTON, _KEYS))

    def drop_files(self, window: Window, *names: str) -> None:
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(self.folder / name)) for name in names])
        self.drop(window, data)

    def refusals(self, window: Window) -> list[str]:
        said: list[str] = []
        window.workspace.refused.connect(said.append)
        return said

    def test_drawings_wait_for_their_thickness_and_come_in_as_one_step(self) -> None:
        window = self.window(project(box()), stage="lay-out")
        self.drop_files(window, "plate.svg", "broken.svg", "Cover.SVG")
        files = at_gather(window).add.files
        self.assertEqual(window.stage, "gather")
        self.assertTrue(files.thickness.hasFocus())
        self.assertFalse(files.is_reading)
        QTest.keyClicks(files.thickness, "12")
        QTest.keyClick(files.thickness, Qt.Key.Key_Return)
        self.assertTrue(wait_until(lambda: not files.is_reading))
        added = window.workspace.project.items[1:]
        self.assertEqual([(one.name, one.thickness_mm) for one in added], [("plate", 12.0), ("Cover", 12.0)])
        self.assertIn("Not taken: broken.svg", at_gather(window).add._refused.text())
        window.workspace.undo()
        self.assertEqual(len(window.workspace.project.items), 1)

    def test_enter_in_the_thickness_reads_only_what_waits_for_it(self) -> None:
        window = self.window(Project(), stage="gather")
        self.drop_files(window, "plate.svg")
        files = at_gather(window).add.files
        files.stop()
        QTest.keyClicks(files.thickness, "12")
        QTest.keyClick(files.thickness, Qt.Key.Key_Return)
        self.assertFalse(files.is_reading)

    def test_what_cannot_be_taken_together_is_told(self) -> None:
        window = self.window(Project(), stage="gather")
        said: list[str] = []
        window.workspace.said.connect(said.append)
        with patch.object(PictureWays, "take_photo"):
            self.drop_files(window, "tools.jpg", "tools.jpg")
        self.drop_files(window, "kit.csv", "plate.svg", "notes.txt")
        self.assertTrue(wait_until(lambda: not at_gather(window).add.files.is_reading))
        told = [one for one in said if "files taken" in one]
        self.assertEqual([one.split(" files")[0] for one in told], ["1 of 2", "1 of 3"])

    def test_a_table_brings_its_kit(self) -> None:
        window = self.window(Project(), stage="gather")
        self.drop_files(window, "kit.csv")
        self.assertTrue(wait_until(lambda: not at_gather(window).add.files.is_reading))
        self.assertEqual([one.name for one in window.workspace.project.items], ["file", "punch"])

    def test_a_photo_is_read_on_the_mat_and_at_keep_as_the_open_drawer(self) -> None:
        window = self.window(laid(project(box()), (60, 60)), stage="lay-out")
        with patch.object(PictureWays, "take_photo") as photo, patch.object(Roll, "read") as call:
            self.drop_files(window, "tools.jpg")
            photo.assert_called_once_with((self.folder / "tools.jpg").read_bytes(), "tools.jpg")
            self.assertEqual(window.stage, "gather")
            window.show_stage("keep")
            self.drop_files(window, "tools.jpg")
            call.assert_called_once_with((self.folder / "tools.jpg").read_bytes(), "tools.jpg")
            self.assertEqual((window.stage, photo.call_count), ("keep", 1))

    def test_a_picture_without_a_file_is_read_as_well(self) -> None:
        window = self.window(Project(), stage="gather")
        picture = QImage(40, 30, QImage.Format.Format_RGB32)
        picture.fill(Qt.GlobalColor.white)
        data = QMimeData()
        data.setImageData(picture)
        data.setUrls([QUrl("https://example.invalid/tools.png")])
        with patch.object(PictureWays, "take_photo") as photo:
            self.drop(window, data)
            photo.assert_not_called()  # a large one takes a second to be put into bytes: beside the window
            self.assertTrue(wait_until(lambda: photo.called))
        read = QImage.fromData(photo.call_args.args[0])
        self.assertEqual((read.width(), read.height()), (40, 30))

    def test_a_picture_on_paper_is_left_to_its_two_buttons(self) -> None:
        window = self.window(Project(), stage="gather")
        panel = at_gather(window).add
        panel.show_way("Paper")
        with patch.object(PictureWays, "take_photo") as photo:
            self.drop_files(window, "tools.jpg")
        photo.assert_not_called()
        self.assertIn("traced sheet", panel._refused.text())

    def test_what_nobody_reads_is_said_and_leaves_the_project_alone(self) -> None:
        window = self.window(project(box()), stage="lay-out")
        said = self.refusals(window)
        self.drop_files(window, "notes.txt")
        link = QMimeData()
        link.setUrls([QUrl("https://example.invalid/kit")])
        self.drop(window, link)
        self.assertIn("notes.txt", said[0])
        self.assertIn("only a link", said[1])
        self.assertEqual((window.stage, len(window.workspace.project.items)), ("lay-out", 1))

    def test_a_project_is_opened_once_unsaved_work_was_asked_for(self) -> None:
        save(Project(title="Another drawer"), Path(self.folder / "other.burrow"))
        window = self.window(project(box()), stage="lay-out")
        window.workspace.do("x", project(box(), box()))
        self.answers = ["Cancel"]
        self.drop_files(window, "other.burrow")
        self.assertEqual(len(self.asked), 1)
        self.assertEqual(len(window.workspace.project.items), 2)
        self.answers = ["Discard"]
        self.drop_files(window, "other.burrow")
        self.assertEqual(window.workspace.project.title, "Another drawer")
