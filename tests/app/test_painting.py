"""An error in a paint handler: the painter is ended, the place is hatched, the error is reported once."""

from __future__ import annotations

import sys
import unittest
from unittest.mock import patch

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QImage, QPainter, QPixmap
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.desk.crash import CrashGuard
from cozy_burrow.app.look.painting import drawing_on, guarded, paints
from cozy_burrow.app.scene.overlay import Overlay
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.demo.shipped import demo_project
from tests.app.qt import QtCase


class Broken(QWidget):
    """Paints a little, then fails with its painter turned and twice saved."""

    @paints
    def paintEvent(self, painter: QPainter) -> None:
        painter.fillRect(self.rect(), Qt.GlobalColor.white)
        painter.setPen(Qt.GlobalColor.red)
        with guarded(painter, QRectF(0, 0, 10, 10)):
            painter.rotate(30.0)
        raise KeyError("insert-2")


class Paints(QtCase):
    def test_a_widget_that_fails_is_hatched_and_painted_again_without_harm(self) -> None:
        widget = Broken()
        widget.resize(60, 40)
        widget.show()
        for _ in range(5):
            picture = widget.grab().toImage()
        self.assertEqual({type(error) for error in self.uncaught}, {KeyError})
        colours = {picture.pixelColor(x, y).name() for x in range(0, 60, 3) for y in range(0, 40, 3)}
        self.assertGreater(len(colours), 1)
        self.uncaught.clear()
        widget.close()

    def test_a_painter_that_is_lent_comes_back_as_it_came(self) -> None:
        picture = QImage(40, 40, QImage.Format.Format_RGB32)
        picture.fill(Qt.GlobalColor.white)
        painter = QPainter(picture)
        painter.translate(3, 4)
        before = painter.transform()
        with guarded(painter, QRectF(0, 0, 20, 20)):
            painter.scale(5, 5)
            painter.setClipRect(0, 0, 1, 1)
            raise ValueError("a gap of nothing")
        self.assertEqual(painter.transform(), before)
        self.assertFalse(painter.hasClipping())
        painter.end()
        self.assertEqual([type(error) for error in self.uncaught], [ValueError])
        self.uncaught.clear()

    def test_a_picture_that_fails_tells_whoever_wanted_it(self) -> None:
        picture = QPixmap(20, 20)
        with self.assertRaises(ValueError), drawing_on(picture) as brush:
            self.assertTrue(brush.isActive())
            raise ValueError("no")
        self.assertFalse(picture.paintingActive())

    def test_the_window_goes_on_where_a_part_of_the_plan_fails(self) -> None:
        """What lies on the plan failed sixty times a second, and the painter that was left crashed the program."""
        window = self.window(demo_project(), stage="lay-out")
        with patch.object(Overlay, "section_line", side_effect=ValueError("of nothing")):
            for _ in range(3):
                window.plan.viewport().update()
                window.grab()
        self.assertTrue(self.uncaught)
        self.uncaught.clear()
        window.plan.viewport().update()
        window.grab()
        self.assertEqual(self.uncaught, [])


class Guard(QtCase):
    def setUp(self) -> None:
        super().setUp()
        self.said: list[str] = []
        self.kept = 0
        self.guard = CrashGuard(self.folder, keep_work=self._keep, say=self.said.append)

    def _keep(self) -> None:
        self.kept += 1

    def meet(self, error: Exception) -> None:
        try:
            raise error
        except Exception as caught:
            self.guard.caught(type(caught), caught, caught.__traceback__)

    def reports(self) -> int:
        return len(list((self.folder / "reports").glob("report-*.txt")))

    def test_one_error_is_one_report_however_often_it_comes(self) -> None:
        for _ in range(60):
            self.meet(KeyError("insert-2"))
        self.assertEqual((self.reports(), len(self.said), self.kept), (1, 1, 1))
        self.assertIn("Your work is kept", self.said[0])

    def test_a_refusal_that_nobody_heard_is_said_and_is_no_report(self) -> None:
        self.meet(UnusableInput("it is too long", remedy="shorten it"))
        self.assertEqual(self.said, ["it is too long; shorten it"])
        self.assertFalse((self.folder / "reports").exists())

    def test_reports_do_not_fill_the_disk(self) -> None:
        (self.folder / "reports").mkdir()
        for number in range(80):
            (self.folder / "reports" / f"report-{number:04}.txt").write_text("old")
        self.meet(ValueError("new"))
        self.assertEqual(self.reports(), 40)

    def test_a_guard_that_cannot_write_stays_quiet(self) -> None:
        (self.folder / "reports").write_text("a file in its place")
        self.meet(ValueError("new"))
        self.assertNotIn("report lies", self.said[0])
        self.assertIs(sys.excepthook, sys.excepthook)


class Points(QtCase):
    def test_a_press_point_dragged_off_its_thing_leaves_the_window_whole(self) -> None:
        """Its floor has no area any more: the distance to the edge of nothing was asked for while painting."""
        from msgspec.structs import replace

        from cozy_burrow.core.model.edits import add_pulls, change_pull, insert_of
        from cozy_burrow.core.model.records import FingerPull

        plan = demo_project()
        insert = plan.inserts[0]
        key = insert.placements[0].id
        pull = FingerPull(id="", kind="press", serves=(key,), points_mm=((-40.0, 0.0), (-20.0, 0.0)), width_mm=20.0)
        plan = add_pulls(plan, insert.id, [pull])
        pull = insert_of(plan, insert.id).pulls[-1]
        window = self.window(plan, stage="grip")
        off = ((9000.0, 9000.0), (9000.0, 9010.0))
        nothing = ((-40.0, 0.0), (-40.0, 0.0))
        beside = ((0.0, 90.0), (5.0, 90.0))
        for points in (off, nothing, beside):
            far = change_pull(plan, insert.id, replace(pull, points_mm=points))
            window.workspace.do(f"Move it {points}", far)
            for stage in ("grip", "lay-out", "sink", "cut"):
                window.show_stage(stage)  # type: ignore[arg-type]
                window.grab()
            _ = window.workspace.findings
        self.assertEqual(self.uncaught, [])


if __name__ == "__main__":
    unittest.main()
