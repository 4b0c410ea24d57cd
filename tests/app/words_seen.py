"""Goes through every stage in the language that nobody speaks, and prints what is said in plain English all the same.

Run as a process of its own, since texts are made when their module is imported. Prints JSON: texts that passed by the
catalogue, with where they were seen; and buttons and lines that are cut off.
"""

from __future__ import annotations

import json
import os
import re
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

os.environ["COZY_BURROW_LANGUAGE"] = "pseudo"
os.environ["QT_QPA_PLATFORM"] = "offscreen"

from PySide6.QtCore import QAbstractItemModel, QAbstractTableModel, Qt, QThreadPool
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QComboBox,
    QLabel,
    QLineEdit,
    QMenu,
    QPlainTextEdit,
    QScrollArea,
    QSpinBox,
    QTableView,
    QWidget,
)

from cozy_burrow.app.look.fields import LengthField, NumberField, room_of
from cozy_burrow.app.opening import open_window
from cozy_burrow.app.screens.cut.bench_mode import BenchMode
from cozy_burrow.app.screens.cut.screen import CutScreen
from cozy_burrow.app.screens.gather.screen import GatherScreen
from cozy_burrow.app.screens.keep.pages import PAGE_NAMES as KEEP_PAGES
from cozy_burrow.app.screens.keep.screen import KeepScreen
from cozy_burrow.app.screens.measure.pages import PAGES
from cozy_burrow.app.screens.measure.screen import MeasureScreen
from cozy_burrow.app.screens.sink.screen import SinkScreen
from cozy_burrow.app.shell.commands import COMMANDS
from cozy_burrow.app.shell.window import Window
from cozy_burrow.app.start import Start
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.model.stages import STAGES
from cozy_burrow.core.model.vessels import Stores
from tests.app.settled import settle_whole
from tests.core.capture.scenes import photo

# What is the same in every language: units, signs, names of files, papers and keys.
SAME = re.compile(
    r"\b(mm|cm|m|kg|g|kPa|N|s|x|Nr|in|inches|CSV|SVG|DXF|PDF|JSON|A\d|Ctrl|Alt|Shift|PgUp|PgDown|Tab|Esc|F\d+|[A-Z])\b"
    r"|\.?burrow~?|Cozy Burrow|Letter|Tabloid|Deutsch|English|[\w-]+\.(pdf|csv|svg|dxf|json)|https?\S*"
)
PAINTED: set[str] = set()
SEEN: dict[str, str] = {}
CUT_OFF: dict[str, str] = {}


def record_painting() -> None:
    """Hear of every text that is painted by hand."""
    real = QPainter.drawText

    def draw(self: QPainter, *args: object) -> object:
        PAINTED.update(one for one in args if isinstance(one, str))
        return real(self, *args)  # type: ignore[call-overload]

    QPainter.drawText = draw  # type: ignore[method-assign, assignment]


def names_of(project: Project, stores: Stores) -> list[str]:
    """Return what people have named, longest first."""
    found = {project.title}
    for item in project.items:
        found |= {item.name, item.group, item.notes, item.provenance.source, *(zone.name for zone in item.zones)}
    for container in project.containers:
        found |= {container.name, *(one.name for one in container.obstacles)}
    for insert in project.inserts:
        found |= {insert.name, *(sheet.name for sheet in insert.sheets)}
    for board in stores.boards:
        found |= {board.name, board.supplier, board.knife, board.colours}
    found |= {one.name for one in stores.suppliers} | {one.note for one in stores.shelf}
    return sorted((name for name in found if len(name) > 1), key=len, reverse=True)


def is_plain(text: str, names: list[str]) -> bool:
    """Return whether a text says something that no catalogue was asked for."""
    if "~" in text.replace(".burrow~", ""):
        return False
    for name in names:
        text = text.replace(name, " ")
    rest = SAME.sub(" ", text)
    return re.search(r"[A-Za-z]{2,}", rest) is not None


def texts_of(widget: QWidget) -> Iterator[str]:
    """Yield everything that a widget says, to eyes or to a reader."""
    yield from (widget.toolTip(), widget.accessibleName(), widget.accessibleDescription())
    if isinstance(widget, QLabel | QAbstractButton):
        yield widget.text()
    if isinstance(widget, QLineEdit):
        yield widget.placeholderText()
    if isinstance(widget, QPlainTextEdit):
        yield widget.placeholderText()
    if isinstance(widget, QSpinBox):
        yield from (widget.prefix(), widget.suffix(), widget.specialValueText())
    if isinstance(widget, QComboBox):
        for number in range(widget.count()):
            yield widget.itemText(number)
            yield str(widget.itemData(number, Qt.ItemDataRole.ToolTipRole) or "")
    if isinstance(widget, QMenu):
        yield from (action.text() for action in widget.actions())
    if isinstance(widget, QAbstractItemView) and widget.model() is not None:
        yield from texts_of_model(widget.model(), heads=isinstance(widget, QTableView))


def texts_of_model(model: QAbstractItemModel, *, heads: bool) -> Iterator[str]:
    """Yield what rows, their hints and their heads say."""
    columns = model.columnCount() if isinstance(model, QAbstractTableModel) else 1
    for row in range(min(model.rowCount(), 200)):
        for column in range(columns):
            index = model.index(row, column)
            for role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.ToolTipRole, Qt.ItemDataRole.AccessibleTextRole):
                said = index.data(role)
                if isinstance(said, str):
                    yield said
    for column in range(columns if heads else 0):
        yield str(model.headerData(column, Qt.Orientation.Horizontal) or "")


def look(window: Window, where: str, names: list[str], *, over: QWidget | None = None) -> None:
    """Note what is said in plain words here, and what is cut off. over: another window, which lies over it."""
    _ = window.workspace.findings
    settle_whole(window)
    PAINTED.clear()
    (over or window).grab()
    for text in PAINTED:
        if is_plain(text, names):
            SEEN.setdefault(text, f"{where}, painted")
    for widget in (window, *window.findChildren(QWidget)):
        for text in texts_of(widget):
            if text and is_plain(text, names):
                SEEN.setdefault(text, f"{where}, {type(widget).__name__}")
        if widget.isVisible():
            note_if_cut(widget, where)


def note_if_cut(widget: QWidget, where: str) -> None:
    """Note a button or a line of text that has less room than its words need."""
    if isinstance(widget, QAbstractButton) and widget.text():
        needs = max(widget.fontMetrics().horizontalAdvance(line) for line in widget.text().split("\n"))
        if needs > widget.width() and not widget.property("elides"):
            CUT_OFF.setdefault(widget.text(), f"{where}: {needs} of {widget.width()}")
    if isinstance(widget, QScrollArea) and widget.widget() is not None:
        beyond = widget.widget().width() - widget.viewport().width()
        if beyond > 0:
            CUT_OFF.setdefault(where, f"{type(widget).__name__} is {beyond} too narrow for what is in it")
    if isinstance(widget, LengthField | NumberField) and widget.text() and room_of(widget) > widget.width():
        CUT_OFF.setdefault(widget.text(), f"{where}: {room_of(widget)} of {widget.width()}")
    if isinstance(widget, QLabel) and widget.text() and not widget.text().startswith("<"):
        if widget.wordWrap():
            needs, room = widget.heightForWidth(widget.width()), widget.height()
        else:
            needs, room = widget.fontMetrics().horizontalAdvance(widget.text()), widget.width()
        if needs > room + 2:
            CUT_OFF.setdefault(widget.text(), f"{where}: {needs} of {room}")


def look_at_bench(window: Window, names: list[str]) -> None:
    """Go through some lines of a sheet at the bench, and to its end; what is owned is asked, too."""
    window.workspace.show_insert(window.workspace.project.inserts[0].id)
    screen = CutScreen.of(window)
    screen.to_bench()
    (mode,) = window.findChildren(BenchMode)
    mode.setWindowState(mode.windowState() & ~Qt.WindowState.WindowFullScreen)
    mode.resize(1280, 800)
    look(window, "bench, before the first cut", names, over=mode)
    mode.on()
    for number in range(len(mode._bench.cuts)):
        if number % 9 == 0:
            mode.tore()
            look(window, f"bench, line {number + 1}", names, over=mode)
        mode.on()
    mode.fits.buttons["deep"].click()
    look(window, "bench, fits", names, over=mode)
    mode.on()
    look(window, "bench, noted", names, over=mode)
    mode.close()
    window.workspace.undo()
    screen.ask_tools()
    look(window, "my tools", names)
    screen.ask_price()
    look(window, "price", names)


def main() -> int:
    """Go through everything and print what was seen."""
    record_painting()
    with tempfile.TemporaryDirectory() as folder:
        app, window = open_window(Start(demo=True), folder=Path(folder))
        window.resize(1280, 800)
        window.show()
        names = names_of(window.workspace.project, window.stores.stores)
        for insert in window.workspace.project.inserts:
            window.workspace.show_insert(insert.id)
            for stage in STAGES:
                window.show_stage(stage)
                if window.workspace.insert.placements:
                    window.workspace.select((window.workspace.insert.placements[0].id,))
                look(window, f"{insert.id}, {stage}", names)
        for way in GatherScreen.of(window).add.ways:
            GatherScreen.of(window).show_way(way)
            look(window, f"gather, {way}", names)
        for page in PAGES:
            MeasureScreen.of(window).show_page(page)
            look(window, f"measure, {page}", names)
        for name in KEEP_PAGES:
            KeepScreen.of(window).show_page(name)
            look(window, f"keep, {name}", names)
        screen = KeepScreen.of(window)
        screen.show_page("Roll")
        screen.roll.begin()
        screen.roll.tap(window.workspace.insert.placements[0].id)
        look(window, "keep, a roll call", names)
        screen.roll.note("")
        look(window, "keep, written down", names)
        window.workspace.undo()
        SinkScreen.of(window).show_peel()
        look(window, "layer by layer", names)
        for number in range(min(12, len(window.workspace.findings))):
            window.checks.choose(number)
            look(window, f"check {number}", names)
        look_at_bench(window, names)
        GatherScreen.of(window).add.pictures.take_photo(photo(15.0, "straight"), "bench.jpg")
        while not window.retouch.is_open:
            app.processEvents()
            QThreadPool.globalInstance().waitForDone(50)
        look(window, "retouch bench", [*names, "bench.jpg"])
        window.retouch.close()
        for command in COMMANDS:
            for text in (command.text, command.chapter):
                if is_plain(text, names):
                    SEEN.setdefault(text, f"command {command.id}")
        window.workspace.saved = window.workspace.project
        window.close()
    json.dump({"plain": SEEN, "cut off": CUT_OFF}, sys.stdout, ensure_ascii=False, indent=1)
    return 0


if __name__ == "__main__":
    sys.exit(main())
