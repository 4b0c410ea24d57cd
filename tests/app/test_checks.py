"""The checks beside the scene: bundles that open, figures beside words, and sides that fold where room is short."""

from __future__ import annotations

from msgspec.structs import replace
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QImage, QPainter
from PySide6.QtTest import QAbstractItemModelTester, QTest

from cozy_burrow.app.checks.check_model import BUNDLE, Bundle, rows_of
from cozy_burrow.app.checks.sketch import DRAWINGS
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.model.records import Container, Project, Rules
from cozy_burrow.demo.shipped import demo_project
from tests.app.qt import QtCase, key, settle
from tests.app.screens import at_grip
from tests.makers import box, laid, project

ROWS = [(60.0 + 60 * n, 60.0 + 50 * m) for m in range(3) for n in range(4)]


def bare(count: int) -> Project:
    """Flat things without pulls: each complains of the same."""
    things = [box(40, 20, 8, f"thing {n}") for n in range(count)]
    return laid(project(*things, rules=Rules(allowance_mm=0.0, wall_mm=5.0)), *ROWS[:count])


class _Pen:
    """A painter that keeps where it wrote what."""

    def __init__(self, painter: QPainter) -> None:
        self.painter = painter
        self.drawn: list[tuple[QRectF, str]] = []

    def __getattr__(self, name: str) -> object:
        return getattr(self.painter, name)

    def drawText(self, room: QRectF, flags: Qt.AlignmentFlag, text: str) -> None:
        wide = self.painter.fontMetrics().horizontalAdvance(text)
        left = room.right() - wide if flags & Qt.AlignmentFlag.AlignRight else room.left()
        self.drawn.append((QRectF(left, 0, wide, 9), text))
        self.painter.drawText(room, flags, text)


class Bundles(QtCase):
    def test_many_with_one_complaint_are_one_row_that_opens(self) -> None:
        plan = bare(12)
        window = self.window(plan, stage="grip")
        model, view = window.checks.model, window.checks.view
        QAbstractItemModelTester(model, QAbstractItemModelTester.FailureReportingMode.Fatal)
        findings = window.workspace.findings
        self.assertGreaterEqual(sum(one.code == "NO_GRIP" for one in findings), 12)
        self.assertLess(model.rowCount(), 6)
        row = next(n for n in range(model.rowCount()) if model.index(n).data(BUNDLE) is not None)
        closed = model.rowCount()
        self.assertIn("12 times", model.index(row).data(Qt.ItemDataRole.AccessibleTextRole))
        view.setCurrentIndex(model.index(row))
        self.assertIn("12 times", window.checks._text.text())
        view.setFocus()
        key(view, Qt.Key.Key_Return)
        self.assertEqual(model.rowCount(), closed + 12)
        key(view, Qt.Key.Key_Return)
        self.assertEqual(model.rowCount(), closed)
        QTest.mouseClick(view.viewport(), Qt.MouseButton.LeftButton, pos=view.visualRect(model.index(row)).center())
        self.assertEqual(model.rowCount(), closed + 12)

    def test_a_reserved_word_is_shown_with_its_drawing(self) -> None:
        plan = laid(project(replace(box(80, 40, 16), mass_g=300.0), rules=Rules(seat="half")), (150, 100))
        case = Container(kind="case", width_mm=300, depth_mm=200, height_mm=75)
        window = self.window(replace(plan, containers=(case,)), stage="grip")
        numbers = {one.code: n for n, one in enumerate(window.workspace.findings)}
        self.assertFalse(window.checks.sketch.isVisible())
        window.checks.choose(numbers["LOOSE"])
        self.app.processEvents()
        self.assertTrue(window.checks.sketch.isVisible())
        self.assertIn("out of its pocket", window.checks.sketch.accessibleName())
        painted = window.checks.sketch.grab().toImage()
        self.assertGreater(len({painted.pixel(x, 30) for x in range(painted.width())}), 3)
        window.checks.choose(next(n for code, n in numbers.items() if code not in DRAWINGS))
        self.assertFalse(window.checks.sketch.isVisible())

    def test_stepping_goes_through_all_findings_and_opens_what_they_lie_in(self) -> None:
        window = self.window(bare(5), stage="grip")
        findings = window.workspace.findings
        seen = []
        for _ in findings:
            window.next_finding()
            seen.append(window.checks.current())
        self.assertEqual(seen, list(findings))
        window.next_finding()
        self.assertEqual(window.checks.current(), findings[0])

    def test_a_bundle_closes_with_the_last_of_its_kind(self) -> None:
        window = self.window(bare(4), stage="grip")
        window.checks.choose(next(n for n, one in enumerate(window.workspace.findings) if one.code == "NO_GRIP"))
        at_grip(window).panel.give_all()
        settle(window)
        self.assertNotIn("NO_GRIP", [one.code for one in window.checks.model.findings])
        window.undo()
        rows = rows_of(window.workspace.findings, frozenset())
        self.assertEqual(window.checks.model.rowCount(), len(rows))

    def test_no_finding_is_lost_in_any_row(self) -> None:
        for count in (1, 2, 3, 7):
            findings = findings_of(bare(count))
            for opened in (frozenset[str](), frozenset(one.code for one in findings)):
                rows = rows_of(findings, opened)  # type: ignore[arg-type]
                told = [one for row in rows for one in (row.findings if isinstance(row, Bundle) else (row,))]
                self.assertEqual(set(map(id, told)), set(map(id, findings)))

    def test_figures_never_cover_words(self) -> None:
        window = self.window(bare(1), stage="grip")
        delegate = window.checks._delegate
        for width in (90, 140, 200, 300):
            image = QImage(width, 30, QImage.Format.Format_ARGB32)
            painter = QPainter(image)
            pen = _Pen(painter)
            delegate._words(pen, QRectF(0, 0, width, 30), "No way to grip it", "3.4 mm ‹ 8 mm")  # type: ignore[arg-type]
            painter.end()
            (figure, _), (words, shown) = pen.drawn
            self.assertLessEqual(words.right(), max(figure.left(), words.left()), (width, shown))


class Sides(QtCase):
    def test_the_scene_keeps_half_of_the_width_at_every_scale(self) -> None:
        for scale in (1.0, 1.3, 1.6, 2.0):
            window = self.window(demo_project(), stage="lay-out", scale=scale)
            for stage in ("lay-out", "gather", "measure", "sink", "grip", "cut"):
                window.show_stage(stage)  # type: ignore[arg-type]
                settle(window)
                self.assertGreaterEqual(window.frame.scene.width(), 0.49 * 1280, (scale, stage))
            window.workspace.saved = window.workspace.project
            window.close()

    def test_a_folded_list_shows_its_counts_and_opens_over_the_scene(self) -> None:
        window = self.window(bare(3), stage="grip", scale=2.0)
        settle(window)
        side = window.frame.middle.sides["right"]
        self.assertTrue(side.is_folded)
        self.assertTrue(side.rail.isVisible())
        self.assertFalse(window.checks.isVisible())
        counts = {mark: sum(one.severity == kind for one in window.workspace.findings) for mark, kind in
                  (("▲", "stop"), ("◆", "care"), ("●", "note"))}  # fmt: skip
        self.assertEqual(side.rail.text(), "\n".join(f"{mark} {count}" for mark, count in counts.items() if count))
        wide = window.frame.scene.width()
        side.rail.setFocus()
        key(side.rail, Qt.Key.Key_Return)
        self.assertTrue(window.checks.isVisible())
        self.assertEqual(window.frame.scene.width(), wide)
        self.assertTrue(window.checks.geometry().intersects(window.frame.middle._splitter.geometry()))
        window.checks.view.setFocus()
        key(window.checks.view, Qt.Key.Key_Escape)
        self.assertFalse(window.checks.isVisible())
        self.assertTrue(side.rail.hasFocus())

    def test_folded_sides_come_back_where_there_is_room(self) -> None:
        window = self.window(bare(1), stage="grip", scale=2.0)
        settle(window)
        window.resize(760, 700)
        settle(window)
        self.assertTrue(all(side.is_folded for side in window.frame.middle.sides.values()))
        window.frame.middle.sides["left"].rail.click()
        self.assertTrue(window.frame.left.isVisible())
        window.show_stage("sink")
        self.assertFalse(window.frame.left.isVisible())
        window.resize(2600, 1500)
        settle(window)
        sides = window.frame.middle.sides
        self.assertEqual([side.is_folded for side in sides.values()], [False, True])
        sides["right"].rail.click()
        settle(window)
        self.assertFalse(any(side.is_folded for side in sides.values()))
        self.assertEqual(
            [window.frame.middle._splitter.widget(n) for n in range(3)],
            [window.frame.left, window.frame.scene, window.checks],
        )
        self.assertTrue(window.frame.left.isVisible())
        self.assertTrue(window.checks.isVisible())

    def test_the_scene_has_most_of_the_window_while_no_check_is_chosen(self) -> None:
        window = self.window(bare(3))
        for stage in ("lay-out", "sink", "grip", "cut"):
            window.show_stage(stage)  # type: ignore[arg-type]
            settle(window)
            scene = window.frame.scene
            self.assertGreaterEqual(scene.width() * scene.height(), 0.62 * 1280 * 800, stage)
        side = window.frame.middle.sides["right"]
        self.assertEqual((side.is_folded, side.rail.isVisible()), (True, True))
        window.next_finding()
        settle(window)
        self.assertEqual((side.is_folded, side.rail.isChecked(), window.checks.isVisible()), (False, True, True))
        side.rail.click()
        settle(window)
        self.assertEqual((side.is_folded, side.rail.isChecked(), window.checks.isVisible()), (True, False, False))

    def test_another_finding_is_said_where_the_list_is_folded(self) -> None:
        plan = bare(1)
        window = self.window(replace(plan, title="a"), stage="grip", scale=2.0)
        settle(window)
        window.next_finding()
        self.assertIn("thing 0", window.statusBar().currentMessage())
