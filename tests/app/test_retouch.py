"""The retouch bench offscreen: pictures come in, are said no to, are mended, and go into the kit."""

from __future__ import annotations

import math
import tempfile
from collections.abc import Callable
from dataclasses import replace
from functools import cache
from pathlib import Path
from typing import Any
from unittest.mock import patch

import numpy as np
import shapely
import shapely.ops
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QWidget
from shapely.geometry import LineString, MultiLineString

from cozy_burrow.app.screens.gather import picture_ways
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.progress import Quiet
from cozy_burrow.demo.photo import side_camera
from cozy_burrow.devices.calliper import SimulatedCalliper
from cozy_burrow.jobs.apart import run_apart
from cozy_burrow.jobs.capture import Capture
from tests.app.qt import QtCase, key, wait_until
from tests.app.screens import at_gather
from tests.core.capture.scenes import photo, three_things
from tests.core.capture.test_paper import scan_of, tool


@cache
def kept_capture(function: Callable[..., Capture], *args: Any) -> Capture:
    """Return what the child process makes of a picture; once for all tests here, which ask for the same picture."""
    return run_apart(function, *args, token=Quiet())


class Pictures(QtCase):
    def setUp(self) -> None:
        super().setUp()
        kept = patch.object(picture_ways, "run_apart", lambda function, *args, token: kept_capture(function, *args))
        kept.start()
        self.addCleanup(kept.stop)

    def with_photo(self) -> Window:
        window = self.window(Project())
        at_gather(window).show_way("Photo")
        at_gather(window).add.pictures.take_photo(photo(15.0, "straight"), "bench.jpg")
        self.assertTrue(wait_until(lambda: window.retouch.is_open), at_gather(window).add._refused.text())
        self.app.processEvents()
        return window

    def test_marks_stand_where_colours_meet_and_part_the_item_there(self) -> None:
        window = self.with_photo()
        bench, mends = window.retouch, at_gather(window).retouch_tools.mends
        before = len(bench.table.drafts)
        told: list[str] = []
        bench.said.connect(told.append)
        mends.buttons["colours"].click()  # a thing of one colour
        self.assertIn("no two colours", told[-1])
        shape = polygon_of(bench.draft.item.outline)
        assert bench.capture is not None
        shown = bench.capture.backdrop
        pixels = shown.pixels.copy()
        middle = shape.centroid.x
        columns = slice(0, round((middle - shown.origin_mm[0]) / shown.cell_mm))
        pixels[:, columns] = pixels[:, columns] // 3 + np.array([20, 90, 160], dtype=np.uint8) // 2
        bench.capture = replace(bench.capture, backdrop=replace(shown, pixels=pixels))
        mends.buttons["colours"].click()
        for x, _ in bench.marks:
            self.assertAlmostEqual(x, middle, delta=2.5)
        mends.buttons["part"].click()
        self.assertEqual(len(bench.table.drafts), before + 1)
        bench.undo()
        self.assertEqual(len(bench.table.drafts), before)

    def written(self, data: bytes, name: str) -> str:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        path = Path(folder.name) / name
        path.write_bytes(data)
        return str(path)

    def test_a_photo_becomes_things_with_its_figures_beside_it(self) -> None:
        window = self.with_photo()
        self.assertEqual(len(window.retouch.table.drafts), 3)
        self.assertIs(window.frame.above.currentWidget(), at_gather(window).retouch_canvas)
        self.assertIn("marks fit to 0.0", window.retouch.capture.told)  # type: ignore[union-attr]
        tools = at_gather(window).retouch_tools
        tools.thickness.setFocus()
        tools.thickness.selectAll()
        QTest.keyClicks(tools.thickness, "15")
        key(tools.thickness, Qt.Key.Key_Return)
        left, _, right, _ = window.retouch.draft.bounds_mm
        true = min((one.shape.bounds for one in three_things(15.0, "straight")), key=lambda one: abs(one[0] - left))
        self.assertAlmostEqual(right - left, true[2] - true[0], delta=0.3)
        self.assertIn("Edge seen 15 mm above the mat", tools.verdict.text())

    def test_every_mend_is_one_step_that_undo_takes_back(self) -> None:
        window = self.with_photo()
        session, tools = window.retouch, at_gather(window).retouch_tools
        ring = max(range(3), key=lambda n: len(session.table.drafts[n].item.outline.holes))
        session.choose(ring)
        hole = session.draft.item.outline.holes[0]
        middle = (sum(x for x, _ in hole) / len(hole), sum(y for _, y in hole) / len(hole))
        rim = polygon_of(session.draft.item.outline).exterior
        ends = [rim.interpolate(share, normalized=True).coords[0] for share in (0.1, 0.2)]
        for field, text in (
            (tools.mends.knob_width, "6"),
            (tools.mends.knob_thickness, "9"),
            (tools.mends.wider, "0.5"),
            (tools.mends.hole_width, "4"),
            (tools.mends.calliper, "12"),
        ):
            field.setText(text)
        start = session.table
        for name, marks in (
            ("fill", (middle, middle)),
            ("straighten", ends),
            ("round", ends),
            ("smooth", ends),
            ("mirror", ((middle[0] - 30, middle[1]), (middle[0] + 30, middle[1]))),
            ("zones", ((middle[0] - 30, middle[1]), (middle[0] + 30, middle[1]))),
            ("knob", (middle, (middle[0], middle[1] - 25))),
            ("hole", (middle, middle)),
            ("widen", ends),
            ("check", (middle, (middle[0] + 11.5, middle[1]))),
        ):
            with self.subTest(name):
                before = session.table
                session.set_mark(0, marks[0])
                session.set_mark(1, marks[1])
                QTest.mouseClick(tools.mends.buttons[name], Qt.MouseButton.LeftButton)
                self.assertNotEqual(session.table, before, window.statusBar().currentMessage())
        self.assertIn("The calliper says", tools.mends.compared.text())
        window.undo()
        self.assertEqual(tools.mends.compared.text(), "")
        for _ in range(9):
            window.undo()
        self.assertEqual(session.table.drafts, start.drafts)
        self.assertIsNone(session.undo_label)

    def test_what_cannot_be_done_is_said_and_changes_nothing(self) -> None:
        window = self.with_photo()
        session, tools = window.retouch, at_gather(window).retouch_tools
        before = session.table
        session.set_mark(0, (0.0, 0.0))
        session.set_mark(1, (5.0, 0.0))
        for name in ("part", "knob", "check", "fill", "zones"):
            QTest.mouseClick(tools.mends.buttons[name], Qt.MouseButton.LeftButton)
            self.assertTrue(window.statusBar().currentMessage(), name)
        self.assertEqual(session.table, before)

    def test_a_thing_on_its_side_gives_the_heights(self) -> None:
        window = self.with_photo()
        session = window.retouch
        driver = min(range(3), key=lambda n: session.table.drafts[n].bounds_mm[1])
        session.choose(driver)
        shape = polygon_of(session.draft.item.outline)
        x = shape.centroid.x
        across = shape.intersection(LineString([(x + 12, 0), (x + 12, 300)])).bounds
        session.set_mark(0, (x + 12, across[1] - 10))
        session.set_mark(1, (x + 8, across[3] + 10))
        at_gather(window).retouch_tools.mends.split_zones()
        zones = len(session.draft.item.zones)
        self.assertGreaterEqual(zones, 2)
        from cozy_burrow.core.kit.stations import parse_stations, station_item

        turned = station_item("item-1", "driver", parse_stations("0:18x18 50:18x18 50:6x6 95:6x6"))
        window.retouching.take_side(side_camera(turned).take_photo(), "side.jpg")
        self.assertTrue(wait_until(lambda: session.undo_label == "Take heights from its side"))
        self.assertAlmostEqual(max(zone.top_mm for zone in session.draft.item.zones), 18.0, delta=1.0)

    def test_another_photo_measures_every_thickness_in_one_step(self) -> None:
        window = self.with_photo()
        session, tools = window.retouch, at_gather(window).retouch_tools
        before = session.table
        self.assertTrue(tools.another.isVisible())
        aside = photo(15.0, "straight", tilt_deg=11.0, towards_deg=230.0)
        with patch.object(QFileDialog, "getOpenFileName", return_value=(self.written(aside, "aside.jpg"), "")):
            QTest.mouseClick(tools.another, Qt.MouseButton.LeftButton)
        self.assertTrue(wait_until(lambda: session.undo_label == "Measure from another photo"))
        for draft in session.table.drafts:
            self.assertAlmostEqual(draft.thickness_mm, 15.0, delta=0.6)
        self.assertIn("Measured from photos", tools.verdict.text())
        session.undo()
        self.assertEqual(session.table.drafts, before.drafts)
        window.retouching.take_another(photo(15.0, "straight"), "same.jpg")
        self.assertTrue(wait_until(lambda: "one place" in window.statusBar().currentMessage()))
        window.retouching.take_another(b"no picture", "broken.jpg")
        self.assertTrue(wait_until(lambda: "broken.jpg" in window.statusBar().currentMessage()))
        self.assertEqual(session.table.drafts, before.drafts)

    def test_unsure_runs_are_shown_one_after_the_other_until_a_hand_has_been_there(self) -> None:
        window = self.with_photo()
        session, tools = window.retouch, at_gather(window).retouch_tools
        self.assertFalse(tools.look.isVisible())
        capture = session.capture
        assert capture is not None and capture.trace is not None
        rim = capture.trace.things[0].shape.exterior
        runs = [shapely.ops.substring(rim, start, start + long) for start, long in ((10.0, 8.0), (60.0, 14.0))]
        doubted = replace(capture.trace.things[0], weak=MultiLineString(runs))
        trace = replace(capture.trace, things=(doubted, *capture.trace.things[1:]))
        session.open(replace(capture, trace=trace))
        self.assertTrue(tools.look.isVisible())
        lengths = []
        for _ in range(2):
            QTest.mouseClick(tools.look, Qt.MouseButton.LeftButton)
            lengths.append(math.dist(*session.marks))
            place = at_gather(window).retouch_canvas.pixel_of(session.marks[0])
            self.assertTrue(at_gather(window).retouch_canvas.rect().contains(place.toPoint()))
        self.assertGreater(lengths[0], lengths[1])  # the longest first
        tools.mends.straighten()
        self.assertFalse(tools.look.isVisible())

    def test_sending_is_one_step_of_the_project(self) -> None:
        window = self.with_photo()
        at_gather(window).retouch_tools.name.setText("Mute")
        at_gather(window).retouch_tools.name.setModified(True)
        at_gather(window).retouch_tools.name.editingFinished.emit()
        at_gather(window).retouch_tools.notes.setText("spring: strapped shut")
        at_gather(window).retouch_tools.notes.editingFinished.emit()
        window.retouching.send()
        items = window.workspace.project.items
        self.assertEqual(len(items), 3)
        self.assertEqual((items[0].name, items[0].notes), ("Mute", "spring: strapped shut"))
        self.assertIs(window.frame.above.currentWidget(), at_gather(window).gallery)
        window.undo()
        self.assertEqual(window.workspace.project.items, ())

    def test_the_lens_and_large_type_paint(self) -> None:
        window = self.with_photo()
        canvas = at_gather(window).retouch_canvas
        QTest.mouseMove(canvas, QPointF(200, 150).toPoint())
        self.app.processEvents()
        with_lens = canvas.grab().toImage()
        canvas.lens = False
        canvas.update()
        self.assertNotEqual(with_lens, canvas.grab().toImage())
        zoomed = canvas.px_per_mm
        window.zoom(1.25)
        self.assertAlmostEqual(canvas.px_per_mm, 1.25 * zoomed)
        window.fit()
        self.assertAlmostEqual(canvas.px_per_mm, zoomed)

    def test_the_bench_works_by_keys_alone(self) -> None:
        window = self.with_photo()
        canvas, session = at_gather(window).retouch_canvas, window.retouch
        canvas.setFocus()
        chosen = session.table.chosen
        key(canvas, Qt.Key.Key_PageDown)
        self.assertNotEqual(session.table.chosen, chosen)
        before = session.marks
        key(canvas, Qt.Key.Key_Right)
        key(canvas, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
        self.assertAlmostEqual(session.marks[0][0], before[0][0] + 1.0)
        self.assertAlmostEqual(session.marks[0][1], before[0][1] + 0.1)
        key(canvas, Qt.Key.Key_M)
        key(canvas, Qt.Key.Key_N)
        self.assertNotEqual(session.marks[1], before[1])
        self.assertEqual(session.active_mark, 1)

    def test_controls_of_the_new_pages_have_names(self) -> None:
        window = self.with_photo()
        from PySide6.QtWidgets import QAbstractButton, QAbstractSpinBox, QComboBox, QLineEdit

        for page in (at_gather(window).retouch_tools, at_gather(window).add):
            for child in page.findChildren(QWidget):
                if isinstance(child, QAbstractSpinBox | QComboBox):
                    self.assertTrue(child.accessibleName(), child)
                if isinstance(child, QLineEdit) and child.objectName() != "qt_spinbox_lineedit":
                    self.assertTrue(child.accessibleName() or child.placeholderText(), child)
                if isinstance(child, QAbstractButton) and not child.objectName().startswith("qt_"):
                    self.assertTrue(child.text() or child.accessibleName(), child)


class PaperAndCalliper(QtCase):
    def test_a_picture_without_a_mat_is_said_no_to_beside_the_button(self) -> None:
        window = self.window(Project())
        at_gather(window).show_way("Photo")
        at_gather(window).add.pictures.take_photo(scan_of([(tool(), (60, 60, 66))]), "no-mat.png")
        self.assertTrue(wait_until(lambda: "no reference mat" in at_gather(window).add._refused.text()))
        self.assertFalse(window.retouch.is_open)

    def test_scans_and_traced_sheets_come_to_the_bench(self) -> None:
        window = self.window(Project())
        at_gather(window).show_way("Paper")
        pictures = at_gather(window).add.pictures
        pictures.take_scan(scan_of([(tool(), (60, 60, 66))]), "scan.png")
        self.assertTrue(wait_until(lambda: window.retouch.is_open))
        self.assertEqual(window.retouch.draft.item.provenance.way, "scan")
        window.retouch.close()
        pictures.tip.setText("1.4")
        pictures.lean.setText("15")
        pictures.touch.setText("12")
        stand_off = 12 * math.tan(math.radians(15))
        line = tool().buffer(stand_off + 1.4).difference(tool().buffer(stand_off))
        pictures.take_sheet(scan_of([(line, (40, 40, 120))]), "sheet.png")
        self.assertTrue(wait_until(lambda: window.retouch.is_open))
        self.assertAlmostEqual(polygon_of(window.retouch.draft.item.outline).area / tool().area, 1.0, delta=0.03)

    def test_figures_that_are_none_are_said(self) -> None:
        window = self.window(Project())
        pictures = at_gather(window).add.pictures
        pictures.scale_across.setText("30 mm")
        pictures._try(lambda: pictures.take_photo(b"", "a.jpg"))
        self.assertIn("at 100 %", at_gather(window).add._refused.text())
        pictures.scale_across.setText("")
        pictures.dpi.setText("many")
        pictures._try(lambda: pictures.take_scan(b"", "a.png"))
        self.assertIn("not a number", at_gather(window).add._refused.text())

    def test_the_mat_is_written_and_the_scales_are_kept(self) -> None:
        window = self.window(Project())
        pictures = at_gather(window).add.pictures
        out = self.folder / "mat.pdf"
        with patch.object(QFileDialog, "getSaveFileName", return_value=(str(out), "")):
            at_gather(window).write_mat()
        self.assertTrue(wait_until(out.exists))
        self.assertTrue(out.read_bytes().startswith(b"%PDF"))
        with patch.object(QFileDialog, "getSaveFileName", return_value=(str(out / "mat.pdf"), "")):
            at_gather(window).write_mat()
        self.assertTrue(wait_until(lambda: bool(at_gather(window).add._refused.text())))
        self.assertIn("mat.pdf", at_gather(window).add._refused.text())
        pictures.scale_across.setText("150.4")
        pictures.scale_across.editingFinished.emit()
        again = self.window(Project())
        self.assertEqual(at_gather(again).add.pictures.printed_mm()[0], 150.4)

    def test_a_calliper_types_a_driver_and_it_grows(self) -> None:
        window = self.window(Project())
        calliper = at_gather(window).add.calliper
        calliper.type_from(SimulatedCalliper((0.0, 24.0, 82.0, 24.0), off_mm=0.0))
        self.assertIsNotNone(calliper.growing.item)
        calliper.type_from(SimulatedCalliper((82.0, 5.0, 190.0, 5.0), off_mm=0.0))
        assert calliper.growing.item is not None
        self.assertEqual(len(calliper.growing.item.zones), 2)
        left, _, right, _ = polygon_of(calliper.growing.item.outline).bounds
        self.assertAlmostEqual(right - left, 190.0)
