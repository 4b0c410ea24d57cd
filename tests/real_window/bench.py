"""A practice piece from paper to a finished sheet in a real window; started by a test in a process under Xvfb."""

from __future__ import annotations

from pathlib import Path

import pypdfium2
from PySide6.QtCore import Qt
from PySide6.QtPrintSupport import QPrinter
from PySide6.QtTest import QTest

from cozy_burrow.app.screens.cut.bench_mode import BenchMode
from cozy_burrow.app.screens.cut.screen import CutScreen
from cozy_burrow.app.shell.print_card import PrintCard
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.bench.work import bench_work
from cozy_burrow.core.model.records import Project
from cozy_burrow.jobs.bench_log import read_log
from tests.app.qt import application, key, settle, wait_until
from tests.real_window.at_hand import at_hand, bring_to_front, go_through, put_away

CONTROL = Qt.KeyboardModifier.ControlModifier
LEFT = Qt.MouseButton.LeftButton


def print_templates(window: Window, path: Path) -> int:
    """Print the templates into a file; return how many pages."""
    QTest.keyClick(window, Qt.Key.Key_E, CONTROL | Qt.KeyboardModifier.ShiftModifier)
    application().processEvents()
    card = next(one for one in window.findChildren(PrintCard) if one.isVisible())
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(path))
    card.print_on(printer)
    assert wait_until(lambda: not card.is_busy)
    application().processEvents()
    card.close()
    return len(pypdfium2.PdfDocument(path.read_bytes()))


def cut_a_sheet(folder: Path) -> None:
    """Print it, cut it line by line, change the blade, mend two fits, note it: the forecast is narrower."""
    window = at_hand(Project(), folder, stage="cut")
    bring_to_front(window)
    window.desk.open_practice()
    workspace, desk = window.workspace, CutScreen.of(window).bench
    settle(window)
    assert print_templates(window, folder / "practice.pdf") >= 1

    works = [sheet.work for sheet in bench_work(workspace.ground, desk.tools)]
    before = desk.forecast.minutes(works)
    now = [0.0]
    desk.clock_s = lambda: now[0]
    window.show_stage("cut")
    QTest.keyClick(window, Qt.Key.Key_B, CONTROL)
    mode = next(one for one in window.findChildren(BenchMode) if one.isVisible())
    assert wait_until(lambda: mode.isFullScreen() and mode.isActiveWindow() and mode.sheet.hasFocus())
    assert "Blank" in mode.sheet.accessibleDescription()
    key(mode.sheet, Qt.Key.Key_Space)
    for number in range(len(mode._bench.cuts)):
        now[0] += 75.0
        if number == 3:
            key(mode.sheet, Qt.Key.Key_T)
            key(mode.sheet, Qt.Key.Key_B)
        key(mode.sheet, Qt.Key.Key_Space)
    assert mode.work.is_done

    # The round is too tight, what comes next lies too deep.
    assert wait_until(lambda: mode.fits.isVisible())
    first = mode.fits.key
    assert first is not None
    area = workspace.ground.pockets[first].surface.area
    QTest.mouseClick(mode.fits.buttons["tight"], LEFT)
    assert workspace.ground.pockets[first].surface.area > area
    QTest.mouseClick(mode.fits.good_button, LEFT)
    second = mode.fits.key
    assert second not in {None, first}
    proud = workspace.ground.pockets[str(second)].seating.proud_mm
    QTest.mouseClick(mode.fits.buttons["deep"], LEFT)
    assert workspace.ground.pockets[str(second)].seating.proud_mm > proud
    mended = workspace.project
    assert "press" in mode.sheet._said.glue

    mode.sheet.setFocus()
    key(mode.sheet, Qt.Key.Key_Space)
    (row,) = read_log(desk.path)
    assert row.blades == 2.0 and abs(row.minutes - 75.0 * len(mode._bench.cuts) / 60.0) < 0.01, row
    key(mode.sheet, Qt.Key.Key_Space)
    assert wait_until(lambda: not any(one.isVisible() for one in window.findChildren(BenchMode)))
    after = desk.forecast.minutes(works)
    assert after.high / after.low < before.high / before.low, (before, after)
    assert workspace.project is mended
    workspace.undo()
    workspace.undo()
    assert workspace.project is not mended
    put_away(window)


if __name__ == "__main__":
    go_through(cut_a_sheet)
