"""Bench mode as hands use it: keys and buttons, the clock, the log, what is told and painted."""

from __future__ import annotations

import csv
import unittest
import unittest.mock

import numpy as np
from msgspec.structs import replace
from PySide6.QtCore import QModelIndex, Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest

from cozy_burrow.app.desk import ask
from cozy_burrow.app.desk.tasks import Task
from cozy_burrow.app.screens.cut.bench_mode import BenchMode
from cozy_burrow.app.screens.cut.bench_picture import way_of
from cozy_burrow.app.screens.cut.price_card import PriceCard
from cozy_burrow.app.screens.cut.screen import CutScreen
from cozy_burrow.app.screens.cut.tools_card import ToolsCard
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.bench.methods import Tools
from cozy_burrow.core.model.records import Rules
from cozy_burrow.jobs.bench_log import CUTS_NAME
from cozy_burrow.jobs.my_tools import kept_tools
from cozy_burrow.jobs.workshop import kept_workshop
from tests.app.qt import QtCase, key, wait_until
from tests.app.screens import at_cut
from tests.core.bench.test_route import line
from tests.makers import box, laid, project

TWO = laid(project(box(120, 40, 30), box(60, 20, 20), rules=Rules(seat="flush")), (150, 60), (150, 140))


class Bench(QtCase):
    now_s = 100.0

    def bench(self, window: Window, *, prepared: bool = True) -> BenchMode:
        """Go to the bench with a clock turned by hand. prepared: what is done before the first cut is done."""
        screen = CutScreen.of(window)
        screen.bench.clock_s = lambda: self.now_s
        screen.to_bench()
        self.app.processEvents()
        (mode,) = [one for one in window.findChildren(BenchMode) if one.isVisible()]
        if prepared and mode._prepares:
            mode.on()
        return mode

    def assert_left(self, window: Window) -> None:
        """Nobody is at the bench any more."""
        self.app.processEvents()
        self.assertEqual([one for one in window.findChildren(BenchMode) if one.isVisible()], [])

    def after(self, seconds: float) -> None:
        self.now_s += seconds

    def test_a_sheet_is_cut_with_one_key_and_noted_in_the_log(self) -> None:
        window = self.window(TWO, stage="cut")
        panel = at_cut(window).panel
        before = panel._times.text()
        self.assertIn("This sheet: about", before)
        mode = self.bench(window)
        count = len(mode._bench.cuts)
        self.assertGreater(count, 1)
        for number in range(count):
            self.assertIn(f"cut {number + 1} of {count}", mode.sheet.accessibleName())
            self.after(30.0)
            key(mode.sheet, Qt.Key.Key_Space)
        self.assertIn("All cut", mode.sheet.accessibleName())
        self.assertFalse(mode.rest_button.isEnabled())
        key(mode.sheet, Qt.Key.Key_Space)
        log = CutScreen.of(window).bench
        self.assertEqual(len(log.log), 1)
        self.assertAlmostEqual(log.log[0].minutes, 0.5 * count, places=3)
        self.assertEqual(log.log[0].blades, 1.0)
        self.assertTrue(log.path.read_text().startswith("date,sheet,"))
        self.assertIn("Saved to your log", mode.sheet.accessibleDescription())
        with log.path.with_name(CUTS_NAME).open(newline="") as stream:
            lines = list(csv.DictReader(stream))
        self.assertEqual([line["number"] for line in lines], [str(n + 1) for n in range(count)])
        self.assertEqual({line["minutes"] for line in lines}, {"0.5"})
        self.assertEqual({line["sheet"] for line in lines}, {"Drawer 1"})
        key(mode.sheet, Qt.Key.Key_Left)  # what is noted stays noted
        self.assertTrue(mode.work.is_done)
        key(mode.sheet, Qt.Key.Key_Space)
        self.assert_left(window)
        self.assertEqual(len(log.log), 1)
        self.assertNotEqual(panel._times.text(), before)
        # The next time it begins anew, and another window knows the log.
        self.assertEqual(self.bench(window).work.at, 0)

    def test_what_comes_before_the_first_cut_is_said_and_takes_no_time(self) -> None:
        window = self.window(TWO, stage="cut")
        mode = self.bench(window, prepared=False)
        said = mode.sheet.accessibleDescription()
        self.assertIn("Before the first cut", mode.sheet.accessibleName())
        self.assertIn("Blank: 300 × 200 mm of 50 mm foam", said)
        self.assertIn("5 passes along a rule", said)
        self.assertIn("pin it inside cuts 1, 2", said)
        CutScreen.of(window).bench.glue("the sheet before")
        self.after(600.0)
        mode._tick()  # glue cures meanwhile
        self.assertIn("cures, 50 min more", mode.sheet._said.glue)
        for pressed in (Qt.Key.Key_P, Qt.Key.Key_B, Qt.Key.Key_T):  # there is nothing yet to rest from, or to tear
            key(mode.sheet, pressed)
        mode.close()
        mode = self.bench(window, prepared=False)
        self.assertIn("Before the first cut", mode.sheet.accessibleName())
        key(mode.sheet, Qt.Key.Key_Space)
        self.assertIn("cut 1 of", mode.sheet.accessibleName())
        self.after(20.0)
        key(mode.sheet, Qt.Key.Key_Left)
        self.assertIn("Before the first cut", mode.sheet.accessibleName())
        self.after(600.0)
        key(mode.sheet, Qt.Key.Key_Space)
        self.after(10.0)
        key(mode.sheet, Qt.Key.Key_Space)
        self.assertEqual((mode.work.at, mode.work.spent_s[0], mode.work.blades), (1, 30.0, 1))

    def test_who_leaves_finds_it_as_it_was_and_no_time_has_gone_by(self) -> None:
        window = self.window(TWO, stage="cut")
        mode = self.bench(window)
        self.after(20.0)
        key(mode.sheet, Qt.Key.Key_Space)
        self.after(10.0)
        key(mode.sheet, Qt.Key.Key_P)
        self.assertEqual(mode.rest_button.text(), "Go on")
        self.after(1000.0)
        self.assertIn("paused · 0:30", mode._clock())
        key(mode.sheet, Qt.Key.Key_Space)  # goes on, and is not a cut
        self.assertEqual(mode.work.at, 1)
        key(mode.sheet, Qt.Key.Key_B)
        key(mode.sheet, Qt.Key.Key_T)
        self.assertIn("Torn here", mode.sheet.accessibleDescription())
        key(mode.sheet, Qt.Key.Key_Escape)
        self.assert_left(window)
        self.after(5000.0)
        again = self.bench(window)
        self.assertEqual((again.work.at, again.work.blades, again.work.torn), (1, 2, {1}))
        self.assertIn("0:30", again._clock())
        key(again.sheet, Qt.Key.Key_Left)
        self.assertEqual(again.work.at, 0)
        again.close()
        # Another plan is another sheet: nothing of it is cut.
        moved = replace(TWO.inserts[0].placements[0], x_mm=160.0)
        other = replace(TWO.inserts[0], placements=(moved, TWO.inserts[0].placements[1]))
        window.workspace.open(replace(TWO, inserts=(other,)), None)
        self.assertEqual(self.bench(window).work.at, 0)

    def test_buttons_do_what_the_keys_do(self) -> None:
        window = self.window(TWO, stage="cut")
        mode = self.bench(window)
        mode.on_button.click()
        mode.blade_button.click()
        mode.torn_button.click()
        mode.rest_button.click()
        self.assertEqual((mode.work.at, mode.work.blades, mode.work.torn), (1, 2, {1}))
        self.assertTrue(mode.work.rests)
        mode.back_button.click()
        self.assertEqual(mode.work.at, 0)
        mode.leave_button.click()
        self.assert_left(window)

    def test_fits_are_tried_and_mended_and_taken_back(self) -> None:
        window = self.window(TWO, stage="cut")
        mode, workspace = self.bench(window), window.workspace
        self.assertFalse(mode.fits.isVisible())
        for _ in mode._bench.cuts:
            key(mode.sheet, Qt.Key.Key_Space)
        self.assertTrue(mode.fits.isVisible())
        first = mode.fits.key
        assert first is not None
        before = workspace.ground.pockets[first].surface.area
        mode.fits.buttons["tight"].click()
        self.assertIn("Shave 0.5 mm", mode.sheet.accessibleDescription())
        self.assertGreater(workspace.ground.pockets[first].surface.area, before)
        self.assertEqual(mode.fits.key, first)  # it is tried again
        mode.fits.by.setText("0.2 mm")
        mode.fits.buttons["loose"].click()
        self.assertIn("0.2 mm foam strips", mode.sheet.accessibleDescription())
        mode.fits.by.setText("")
        narrow = workspace.ground.pockets[first].surface.bounds
        mode.fits.side.setCurrentIndex(mode.fits.side.findData("right"))
        mode.fits.buttons["loose"].click()
        self.assertIn("2 mm foam strip along its right wall", mode.sheet.accessibleDescription())
        moved = [round(b - a, 3) for a, b in zip(narrow, workspace.ground.pockets[first].surface.bounds)]
        self.assertEqual(moved, [0.0, 0.0, -2.0, 0.0])
        workspace.undo()
        proud = workspace.ground.pockets[first].seating.proud_mm
        mode.fits.buttons["deep"].click()
        self.assertIn("10 mm of the plug", mode.sheet.accessibleDescription())
        self.assertAlmostEqual(workspace.ground.pockets[first].seating.proud_mm, proud + 10.0)
        self.assertIn("press 5:00 more", mode.sheet._said.glue)
        self.after(600.0)
        mode._tick()
        self.assertIn("cures, 50 min more", mode.sheet._said.glue)
        mode.fits.buttons["place"].click()
        self.assertIn("the right place is missing", mode.sheet.accessibleDescription())
        mode.fits.by.setText("rubbish")
        mode.fits.buttons["tight"].click()
        self.assertIn("rubbish", mode.sheet.accessibleDescription())
        for _ in range(3):
            workspace.undo()
        self.assertEqual(workspace.project, TWO)
        mode.fits.good_button.click()
        self.assertNotEqual(mode.fits.key, first)
        mode.fits.good_button.click()
        self.assertFalse(mode.fits.isVisible())

    def test_a_blade_that_has_gone_far_is_told_before_it_tears(self) -> None:
        mode = self.bench(self.window(TWO, stage="cut"))
        self.assertNotIn("cut a long way", mode.sheet.accessibleDescription())
        mode._take(replace(mode.work, since_blade_mm=60_000.0))
        self.assertIn("cut a long way", mode.sheet.accessibleDescription())
        key(mode.sheet, Qt.Key.Key_B)
        self.assertNotIn("cut a long way", mode.sheet.accessibleDescription())

    def test_a_damaged_log_is_told_and_left_as_it_is(self) -> None:
        window = self.window(TWO, stage="cut")
        desk = CutScreen.of(window).bench
        desk.path.parent.mkdir(parents=True, exist_ok=True)
        desk.path.write_text("not a log\n")
        mode = self.bench(window)
        mode._take(replace(mode.work, at=len(mode._bench.cuts), since_s=None))
        mode.on()
        self.assertIn("no column", mode.sheet.accessibleDescription())
        self.assertEqual(desk.path.read_text(), "not a log\n")
        mode.close()
        desk.path.unlink()  # somebody has looked at it: the sheet is still there to be saved
        again = self.bench(window)
        again.on()
        self.assertIn("Saved to your log", again.sheet.accessibleDescription())
        self.assertEqual(len(desk.log), 1)

    def test_a_log_that_cannot_be_read_is_told_beside_the_forecast(self) -> None:
        (self.folder / "bench-log.csv").write_text("not a log\n")
        window = self.window(TWO, stage="cut")
        self.assertIn("Your log is not counted: bench-log.csv", at_cut(window).panel._times.text())

    def test_a_log_of_cuts_that_is_something_else_keeps_no_sheet_out_of_the_log(self) -> None:
        window = self.window(TWO, stage="cut")
        desk, said = CutScreen.of(window).bench, []
        desk.path.parent.mkdir(parents=True, exist_ok=True)
        desk.path.with_name(CUTS_NAME).write_text("letters\n")
        window.workspace.said.connect(said.append)
        mode = self.bench(window)
        mode._take(replace(mode.work, at=len(mode._bench.cuts), since_s=None))
        mode.on()
        self.assertIn("Saved to your log", mode.sheet.accessibleDescription())
        self.assertEqual(desk.path.with_name(CUTS_NAME).read_text(), "letters\n")
        self.assertIn("the log of cuts is damaged", said[-1])

    def test_a_log_is_copied_and_deleted(self) -> None:
        window = self.window(TWO, stage="cut")
        screen = CutScreen.of(window)
        mode = self.bench(window)
        mode._take(replace(mode.work, at=len(mode._bench.cuts), since_s=None))
        mode.on()
        mode.close()
        screen.ask_tools()
        (card,) = window.findChildren(ToolsCard)
        self.assertIn("1 finished sheet", card.log.text())
        with unittest.mock.patch.object(ask, "target", return_value=self.folder / "copy.csv"):
            card.copy_button.click()
        self.assertEqual((self.folder / "copy.csv").read_text(), screen.bench.path.read_text())
        with unittest.mock.patch.object(ask, "target", return_value=self.folder / "copy.csv" / "copy.csv"):
            card.copy_button.click()
        self.assertIn("copy.csv", card.told.text())
        for answer, left in ((1, True), (0, False)):
            with unittest.mock.patch.object(ask, "which", return_value=answer):
                card.forget_button.click()
            self.assertEqual(screen.bench.path.exists(), left)
            self.assertEqual(screen.bench.path.with_name(CUTS_NAME).exists(), left)
        self.assertIn("0 finished sheets", card.log.text())
        self.assertFalse(card.forget_button.isEnabled())

    def test_what_goes_back_under_an_item_is_glued_first_and_its_time_runs(self) -> None:
        rod_ = replace(TWO.inserts[0].placements[0], zone_layers=(4,), risers_mm=(6.0,))
        raised = replace(TWO.inserts[0], placements=(rod_, TWO.inserts[0].placements[1]))
        window = self.window(replace(TWO, inserts=(raised,)), stage="cut")
        mode = self.bench(window)
        self.assertFalse(mode.glue_button.isVisible())
        while not mode.work.is_done:
            mode.on()
        while mode.fits.key != rod_.id:
            self.assertFalse(mode.glue_button.isVisible())
            mode.fits.good()
        said = mode.sheet.accessibleDescription()
        self.assertIn("6 mm of its plug back", said)
        self.assertRegex(said, r"\(118 × 38 mm\)|\(120 × 40 mm\)")
        key(mode.sheet, Qt.Key.Key_G)
        self.assertIn("press 5:00 more", mode.sheet._said.glue)
        mode.fits.good()

    def test_who_leaves_a_sheet_that_is_cut_has_it_in_the_log(self) -> None:
        window = self.window(TWO, stage="cut")
        mode = self.bench(window)
        while not mode.work.is_done:
            self.after(30.0)
            mode.on()
        mode.fits.buttons["tight"].click()  # the plan is another one by then
        key(mode.sheet, Qt.Key.Key_Escape)
        self.assert_left(window)
        log = CutScreen.of(window).bench
        self.assertEqual(len(log.log), 1)
        self.assertEqual(log.works, {})

    def test_one_sheet_lies_on_the_bench_at_a_time(self) -> None:
        window = self.window(TWO, stage="cut")
        mode = self.bench(window)
        CutScreen.of(window).to_bench()
        self.assertEqual([one for one in window.findChildren(BenchMode) if one.isVisible()], [mode])

    def test_nothing_is_cut_from_an_empty_sheet(self) -> None:
        window = self.window(project(box()), stage="cut")
        self.assertFalse(at_cut(window).panel.bench_button.isEnabled())
        CutScreen.of(window).to_bench()
        self.assertEqual(window.findChildren(BenchMode), [])

    def test_what_is_owned_decides_how_lines_are_cut_and_is_kept(self) -> None:
        window = self.window(TWO, stage="cut")
        panel, screen = at_cut(window).panel, CutScreen.of(window)

        def hows() -> set[str]:
            return {panel.table.index(row, 2).data() for row in range(panel.table.rowCount())}

        self.assertIn("knife along a rule", hows())
        panel.tools_button.click()
        (card,) = window.findChildren(ToolsCard)
        card.rule.click()
        self.assertNotIn("knife along a rule", hows())
        card.saws.setText("40, nonsense")
        card.saws.editingFinished.emit()
        self.assertIn("nonsense", card.told.text())
        self.assertEqual(screen.bench.tools.saws_mm, ())
        card.saws.setText("40, 25")
        card.saws.editingFinished.emit()
        self.assertEqual((screen.bench.tools.saws_mm, card.told.text()), ((25.0, 40.0), ""))
        self.assertEqual(kept_tools(screen.bench.path.parent), screen.bench.tools)

    def test_who_is_paid_by_the_hour_is_told_the_price_and_it_is_kept(self) -> None:
        window = self.window(TWO, stage="cut")
        at_cut(window).panel.price_button.click()
        (card,) = window.findChildren(PriceCard)
        self.assertIn("an hour of work has none", card.told.text())
        for field, typed in ((card.hour, "36"), (card.blade, "0,5"), (card.layout_h, "2")):
            field.setText(typed)
            field.setModified(True)
            field.editingFinished.emit()
        self.assertTrue(wait_until(lambda: not card.is_busy))
        self.assertRegex(card.told.text(), r"^About €\d+ \(€\d+ to €\d+\): .* of work at €36 an hour")
        kept = kept_workshop(self.folder).stores
        self.assertEqual((kept.hour_rate, kept.blade_price, kept.layout_h), (36.0, 0.5, 2.0))
        before = card.told.text()
        card.layout_h.setText("20")
        card.layout_h.setModified(True)
        card.layout_h.editingFinished.emit()
        self.assertTrue(wait_until(lambda: not card.is_busy))
        self.assertNotEqual(card.told.text(), before)
        with unittest.mock.patch.object(Task, "begin") as begun:  # other tools cut in another time
            CutScreen.of(window).bench.own(Tools(rule=False))
            self.assertEqual(begun.call_count, 1)
        card.hour.setText("much")
        card.hour.setModified(True)
        card.hour.editingFinished.emit()
        self.assertIn("much", card.trouble.text())
        self.assertEqual(window.stores.stores.hour_rate, 36.0)
        card.hour.setText("")
        card.hour.setModified(True)
        card.hour.editingFinished.emit()
        self.assertIn("an hour of work has none", card.told.text())

    def test_the_order_of_the_cuts_is_the_fitters(self) -> None:
        window = self.window(TWO, stage="cut")
        panel = at_cut(window).panel
        keys = [one.cut.key for one in panel.table.cuts]
        self.assertFalse(panel.advised_button.isVisible())
        panel.view.setFocus()
        panel.view.selectRow(1)
        QTest.keyClick(panel.view, Qt.Key.Key_Up, Qt.KeyboardModifier.AltModifier)
        self.assertEqual([one.cut.key for one in panel.table.cuts][:2], [keys[1], keys[0]])
        self.assertEqual(panel.view.currentIndex().row(), 0)
        QTest.keyClick(panel.view, Qt.Key.Key_Up, Qt.KeyboardModifier.AltModifier)  # it is the first
        self.assertEqual(panel.table.cuts[0].cut.key, keys[1])
        self.assertTrue(panel.advised_button.isVisible())
        panel.move_cut(1)
        self.assertEqual([one.cut.key for one in panel.table.cuts], keys)
        panel.move_cut(1)  # it is the last
        panel.move_cut(-1)
        panel.advised_button.click()
        self.assertEqual([one.cut.key for one in panel.table.cuts], keys)
        self.assertFalse(panel.advised_button.isVisible())

    def test_a_row_is_dragged_to_where_it_shall_have_its_turn(self) -> None:
        window = self.window(TWO, stage="cut")
        panel = at_cut(window).panel
        table, keys = panel.table, [one.cut.key for one in panel.table.cuts]
        data = table.mimeData([table.index(0, column) for column in range(6)])
        self.assertTrue(table.index(0, 1).flags() & Qt.ItemFlag.ItemIsDragEnabled)
        for row, parent in ((len(keys), QModelIndex()), (-1, QModelIndex())):  # below the last row, or on no row
            table.dropMimeData(data, Qt.DropAction.MoveAction, row, 0, parent)
            self.assertEqual([one.cut.key for one in table.cuts], [*keys[1:], keys[0]])
            window.workspace.undo()
            self.assertEqual([one.cut.key for one in table.cuts], keys)
        table.dropMimeData(data, Qt.DropAction.MoveAction, 0, 0, QModelIndex())  # where it is
        table.dropMimeData(data, Qt.DropAction.MoveAction, 1, 0, QModelIndex())
        last = table.mimeData([table.index(len(keys) - 1, 0)])
        table.dropMimeData(last, Qt.DropAction.CopyAction, 0, 0, QModelIndex())
        table.dropMimeData(table.mimeData([]), Qt.DropAction.MoveAction, 0, 0, QModelIndex())
        self.assertEqual([one.cut.key for one in table.cuts], keys)
        table.dropMimeData(last, Qt.DropAction.MoveAction, 0, 0, QModelIndex())
        self.assertEqual([one.cut.key for one in table.cuts], [keys[-1], *keys[:-1]])
        self.assertEqual(panel.view.currentIndex().row(), 0)

    def test_a_table_is_written_once_for_a_plan_and_again_for_other_units(self) -> None:
        window = self.window(TWO, stage="cut")
        panel = at_cut(window).panel
        with unittest.mock.patch.object(panel.table, "_row", side_effect=panel.table._row) as written:
            panel.view.grab()
            self.assertEqual(written.call_count, 0)
        self.assertIn("mm", panel.table.index(0, 5).data())
        window.workspace.do("inch", replace(window.workspace.project, units="inch"))
        self.assertNotIn("mm", panel.table.index(0, 5).data())
        self.assertIn("in", panel.table.index(0, 5).data())

    def test_the_line_in_hand_is_seen_and_changes(self) -> None:
        mode = self.bench(self.window(TWO, stage="cut"))
        mode.resize(1280, 800)
        first = self.pixels(mode)
        mode.on()
        second = self.pixels(mode)
        self.assertGreater(float((np.abs(first - second).max(axis=2) > 40).mean()), 0.02)

    def pixels(self, mode: BenchMode) -> np.ndarray:
        image = mode.sheet.grab().toImage().convertToFormat(QImage.Format.Format_RGBA8888)
        rows = np.frombuffer(image.constBits(), dtype=np.uint8).reshape(image.height(), image.bytesPerLine())
        return rows[:, : image.width() * 4].reshape(image.height(), image.width(), 4)[:, :, :3].astype(int)

    def test_the_way_goes_round_once_and_first_to_the_right(self) -> None:
        mode = self.bench(self.window(TWO, stage="cut"))
        for one in mode._bench.cuts:
            way = way_of(one)
            self.assertAlmostEqual(way.length(), sum(_sides(one.cut.line)), delta=0.5)
        square = replace(mode._bench.cuts[0], cut=line("a", 50, 50))
        start, soon = way_of(square).pointAtPercent(0.0), way_of(square).pointAtPercent(0.1)
        self.assertEqual((start.x(), start.y()), (35.0, 35.0))
        self.assertGreater(soon.x(), start.x())
        self.assertAlmostEqual(soon.y(), start.y())


def _sides(line_: tuple[tuple[float, float], ...]) -> list[float]:
    return [float(np.hypot(b[0] - a[0], b[1] - a[1])) for a, b in zip(line_, (*line_[1:], line_[0]))]


if __name__ == "__main__":
    unittest.main()
