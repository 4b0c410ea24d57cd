"""From the start page to paper in a real window; started by a test in a process under Xvfb."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pypdfium2
from PySide6.QtCore import Qt
from PySide6.QtGui import QImage
from PySide6.QtPrintSupport import QPrinter
from PySide6.QtTest import QTest

from cozy_burrow.app.desk.settings import PLAN_NAMES
from cozy_burrow.app.shell.print_card import PrintCard
from cozy_burrow.app.shell.start_page import StartPage
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.model.records import Project
from tests.app.qt import application, key, wait_until
from tests.app.screens import at_gather
from tests.jobs.test_printing import bar_mm
from tests.real_window.at_hand import at_hand, bring_to_front, go_through, put_away


def seen(window: Window) -> np.ndarray:
    """The plan's pixels."""
    image = window.plan.viewport().grab().toImage().convertToFormat(QImage.Format.Format_RGBA8888)
    rows = np.frombuffer(image.constBits(), dtype=np.uint8).reshape(image.height(), image.bytesPerLine())
    return rows.copy().astype(int)


def still(window: Window) -> np.ndarray:
    """The plan's pixels once everything that is made beside the window is shown."""
    assert wait_until(lambda: window.plan.is_still)
    application().processEvents()
    return seen(window)


def start_to_paper(folder: Path) -> None:
    """A new drawer, two items, laid out, names, filled and empty, drawing and picture, printed to a file."""
    window = at_hand(Project(), folder)
    page = StartPage(window)
    bring_to_front(window)
    app = application()
    workspace = window.workspace

    # A drawer from its three sizes.
    field = page.cards["drawer"].fields[0]
    assert field.hasFocus()
    for text in ("300", "200", "75"):
        line = app.focusWidget()
        assert line is not None
        QTest.keyClick(line, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
        QTest.keyClicks(line, text)
        QTest.keyClick(line, Qt.Key.Key_Return)
    QTest.mouseClick(page.cards["drawer"].button, Qt.MouseButton.LeftButton)
    assert window.stage == "measure"
    assert (workspace.container.width_mm, workspace.container.depth_mm) == (300.0, 200.0)

    # Two items by calliper.
    QTest.keyClick(window, Qt.Key.Key_1, Qt.KeyboardModifier.AltModifier)
    for name, stations in (
        ("Awl", (("0", "26"), ("90", "26"), ("90", "5"), ("150", "5"))),
        ("Peg", (("0", "18"), ("80", "18"))),
    ):
        add = at_gather(window).add
        add.name.setFocus()
        QTest.keyClicks(add.name, name)
        for at, width in stations:
            add.calliper.at.setFocus()
            for line, text in ((add.calliper.at, at), (add.calliper.width_field, width), (add.calliper.thickness, "")):
                QTest.keyClicks(line, text)
                key(line, Qt.Key.Key_Return)
        QTest.mouseClick(add.add_calliper, Qt.MouseButton.LeftButton)
    assert [one.name for one in workspace.project.items] == ["Awl", "Peg"]

    # Laid in from the list, one press after the other without waiting.
    QTest.keyClick(window, Qt.Key.Key_3, Qt.KeyboardModifier.AltModifier)
    for item in workspace.project.items:
        window.laying_in.lay_in_best(f"{item.id}#1")
    assert wait_until(lambda: len(workspace.insert.placements) == 2)
    workspace.select(())

    # Names, filled and empty, drawing and picture: a key each.
    window.plan.setFocus()
    filled = still(window)
    key(window.plan, Qt.Key.Key_M)
    unnamed = still(window)
    assert (filled != unnamed).any()
    assert window.settings.text(PLAN_NAMES) == "no"
    key(window.plan, Qt.Key.Key_W)
    empty = still(window)
    assert (np.abs(empty - unnamed) > 8).any()
    key(window.plan, Qt.Key.Key_D)
    drawn = still(window)
    assert (np.abs(empty - drawn) > 8).any()
    for pressed in (Qt.Key.Key_D, Qt.Key.Key_W, Qt.Key.Key_M):
        key(window.plan, pressed)
    # The same again, to a shade: once everything is judged, things lie as they rest and not as they were guessed.
    apart = np.abs(still(window) - filled)
    assert float((apart > 8).mean()) < 0.01, float((apart > 8).mean())

    # On paper, into a file: true by its bar.
    QTest.keyClick(window, Qt.Key.Key_E, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    app.processEvents()
    card = next(one for one in window.findChildren(PrintCard) if one.isVisible())
    QTest.mouseClick(card.choices["bench"], Qt.MouseButton.LeftButton)
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(folder / "paper.pdf"))
    card.print_on(printer)
    assert wait_until(lambda: not card.is_busy)
    app.processEvents()
    document = pypdfium2.PdfDocument((folder / "paper.pdf").read_bytes())
    assert len(document) >= 2
    first = np.asarray(document[0].render(scale=300 / 72.0, grayscale=True).to_pil().convert("L"))
    assert abs(bar_mm(first, 300 / 25.4) - 100.0) < 0.2
    card.close()
    put_away(window)


if __name__ == "__main__":
    go_through(start_to_paper)
