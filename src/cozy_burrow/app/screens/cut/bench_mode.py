"""Bench mode: one line of the sheet at a time, full screen, on by one large key; time and blades are noted along."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from cozy_burrow.app.desk.bench_desk import BenchDesk
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.theme.theme import Theme
from cozy_burrow.app.screens.cut.bench_picture import Scene
from cozy_burrow.app.screens.cut.bench_said import on_the_bench, riser_text, said_done, said_first, said_line
from cozy_burrow.app.screens.cut.bench_sheet import BenchSheet, Said
from cozy_burrow.app.screens.cut.fit_try import FitTry
from cozy_burrow.core.bench import at_bench
from cozy_burrow.core.bench.at_bench import AtBench
from cozy_burrow.core.bench.work import SheetBench
from cozy_burrow.core.model.vessels import Stores
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.bench import cut_rows_of, row_of
from cozy_burrow.jobs.bench_words import time_text

_ON = {Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Right, Qt.Key.Key_PageDown, Qt.Key.Key_Down}
_BACK = {Qt.Key.Key_Left, Qt.Key.Key_PageUp, Qt.Key.Key_Up, Qt.Key.Key_Backspace}
_TICK_MS = 1000
_TALL = 64


class BenchMode(QDialog):
    """The plan as it is when the bench is opened, one sheet of it. What is noted stays with the desk."""

    def __init__(
        self,
        workspace: Workspace,
        desk: BenchDesk,
        sheet: int,
        theme: Theme,
        parent: QWidget | None = None,
        *,
        stores: Stores,
    ) -> None:
        super().__init__(parent)
        self._workspace, self._desk = workspace, desk
        self._on = on_the_bench(workspace.project, workspace.insert, sheet, desk.tools, stores)
        self._bench: SheetBench = self._on.bench
        self._likely = time_text(desk.forecast.minutes([self._bench.work]).likely)
        self._key = (self._on.insert.id, sheet, tuple(one.cut.line for one in self._bench.cuts))
        self.setWindowTitle(tr("Bench mode"))
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 8)
        self.sheet = BenchSheet(theme)
        column.addWidget(self.sheet, 1)
        row = QHBoxLayout()
        row.setContentsMargins(12, 0, 12, 0)
        column.addLayout(row)
        self.back_button = self._button(row, tr("Back"), tr("Left arrow"), self.back)
        self.rest_button = self._button(row, tr("Pause"), "P", self.rest)
        self.blade_button = self._button(row, tr("New blade"), "B", self.new_blade)
        self.torn_button = self._button(row, tr("Foam tore"), "T", self.tore)
        self.glue_button = self._button(row, tr("Glued"), "G", self.glue)
        self.leave_button = self._button(row, tr("Leave"), tr("Esc"), self.close)
        self.on_button = self._button(row, tr("Next cut"), tr("Space, or a foot switch"), self.on, wide=3)
        self.on_button.setObjectName("main")
        self.fits = FitTry(workspace, self._on.insert.id, self._tried())
        self.fits.told.connect(self._tell_fit)
        self.fits.done.connect(self._tell_fit)
        self.fits.glued.connect(desk.glue)
        column.insertWidget(1, self.fits)
        self._told_fit = ""
        self._ticks = QTimer(self)
        self._ticks.setInterval(_TICK_MS)
        self._ticks.timeout.connect(self._tick)
        ways = tuple(one.work.metres * 1000.0 for one in self._bench.cuts)
        self.work: AtBench = desk.works.get(self._key) or at_bench.begun(ways, desk.clock_s())
        # The log is of the knife's time: what is prepared before it takes its own.
        self._prepares = self.work.at == 0 and not any(self.work.spent_s)
        if self.work.rests != self._prepares and not self.work.is_done:
            self.work = at_bench.rested(self.work, desk.clock_s())
        self._noted = self._trouble = ""
        self._show()

    def _tried(self) -> tuple[str, ...]:
        """Return what is laid into this sheet's pockets, in the order in which they were cut."""
        keys = dict.fromkeys(one.cut.name for one in self._bench.cuts if one.cut.kind == "pocket")
        return tuple(keys)

    def _tell_fit(self, text: str = "") -> None:
        self._told_fit = text
        self._show()

    def _button(
        self, row: QHBoxLayout, text: str, keys: str, do: Callable[[], object], *, wide: int = 1
    ) -> QPushButton:
        button = QPushButton(text)
        button.setMinimumHeight(_TALL)
        button.setProperty("far", True)
        button.setToolTip(tr("{text}: {keys}", text=text, keys=keys))
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)  # a press leaves the keys where they are
        button.setAutoDefault(False)
        button.clicked.connect(lambda _: do())
        row.addWidget(button, wide)
        return button

    def showEvent(self, event: object) -> None:
        """Keys go to the sheet."""
        self.sheet.setFocus()
        self._ticks.start()

    def hideEvent(self, event: object) -> None:
        """Nothing is counted while nobody is there; what is cut to its end goes into the log, whoever forgot that."""
        self._ticks.stop()
        if self.work.is_done:
            if not self._noted:
                self._note()
        elif not self.work.rests:
            self.work = at_bench.rested(self.work, self._desk.clock_s())
        self._keep()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """One large key goes on; a foot switch is a key."""
        if event.isAutoRepeat():
            return
        key = Qt.Key(event.key())
        if key in _ON:
            self.on()
        elif key in _BACK:
            self.back()
        elif key == Qt.Key.Key_P:
            self.rest()
        elif key == Qt.Key.Key_B:
            self.new_blade()
        elif key == Qt.Key.Key_T:
            self.tore()
        elif key == Qt.Key.Key_G:
            self.glue()
        elif key == Qt.Key.Key_Escape:
            self.close()
        else:
            event.ignore()

    def on(self) -> None:
        """The line is cut: show the next; once all are, note the sheet."""
        if self._prepares:
            self._prepares = False
            self.rest()
        elif self.work.is_done and self._noted:
            self.close()
        elif self.work.is_done:
            self._note()
        elif self.work.rests:
            self.rest()
        else:
            self._take(at_bench.onward(self.work, self._desk.clock_s()))

    def back(self) -> None:
        """Show the line before again."""
        if self.work.at == 0 and not self._prepares:
            self._prepares = True
            self._take(self.work if self.work.rests else at_bench.rested(self.work, self._desk.clock_s()))
        elif not self._noted:
            self._take(at_bench.back(self.work, self._desk.clock_s()))

    def rest(self) -> None:
        """Stop the clock, or let it go on."""
        if self._prepares:
            return
        self._take(at_bench.rested(self.work, self._desk.clock_s()))

    def new_blade(self) -> None:
        """A new blade from here on."""
        if self._prepares:
            return
        self._take(at_bench.with_new_blade(self.work))

    def tore(self) -> None:
        """The foam tore here: a dull blade, mostly."""
        if self._prepares:
            return
        self._take(at_bench.torn(self.work))

    def glue(self) -> None:
        """What is to be glued now is: its time runs beside the work."""
        if self._to_glue():
            self._desk.glue(self._to_glue())
            self._show()

    def _to_glue(self) -> str:
        """Return what is to be glued now, in words; empty where nothing is."""
        if not self.work.is_done:
            return ""
        if self.fits.key is not None:
            return self.fits.name if self._risers() else ""
        lower = self._on.glued_onto
        return tr("sheets {upper} and {lower}", upper=lower - 1, lower=lower) if lower is not None else ""

    def _risers(self) -> str:
        """Return what goes back under the item that is tried, in the plan as it now is."""
        workspace = self._workspace
        if self.fits.key is None or workspace.insert_id != self._on.insert.id:
            return ""
        return riser_text(workspace.ground.pockets.get(self.fits.key), workspace.unit)

    def _take(self, work: AtBench) -> None:
        self.work = work
        self._keep()
        self._show()

    def _keep(self) -> None:
        if self._noted:
            self._desk.works.pop(self._key, None)
        else:
            self._desk.works[self._key] = self.work

    def _note(self) -> None:
        """Write the finished sheet into the log."""
        minutes = max(0.1, at_bench.spent_s(self.work, self._desk.clock_s()) / 60.0)
        row = row_of(self._on.insert, self._bench, minutes=minutes, blades=float(self.work.blades))
        cuts = cut_rows_of(self._bench, self.work, row)
        self._trouble = self._desk.take(row, cuts)  # then it stays with the desk, to be tried again
        self._noted = (
            "" if self._trouble else tr("Saved to your log ({count} sheets so far).", count=len(self._desk.log))
        )
        self._keep()
        self._show()

    def _show(self) -> None:
        work, bench = self.work, self._bench
        tried = self.fits.key if work.is_done else None
        at, pinned = (-1, self._on.pinned) if self._prepares else (work.at, ())
        scene = Scene(self._on.ground, bench.sheet, bench.cuts, at, tried, pinned)
        said = self._said()
        self.sheet.show_line(scene, said)
        self.fits.setVisible(work.is_done and self.fits.key is not None)
        self.back_button.setEnabled(not self._prepares and not self._noted)
        for button in (self.rest_button, self.blade_button, self.torn_button):
            button.setEnabled(not work.is_done and not self._prepares)
        self.glue_button.setVisible(bool(self._to_glue()))
        rests = work.rests and not work.is_done and not self._prepares
        self.rest_button.setText(tr("Go on") if rests else tr("Pause"))
        if self._prepares:
            self.on_button.setText(tr("Begin to cut"))
        elif work.is_done:
            self.on_button.setText(tr("Close bench mode") if self._noted else tr("Save to my log"))
        else:
            self.on_button.setText(tr("Go on") if work.rests else tr("Next cut"))

    def _said(self) -> Said:
        work, glue = self.work, self._desk.glue_text()
        if self._prepares:
            return said_first(self._on, clock=self._clock(), glue=glue)
        if work.is_done:
            return said_done(
                self._on,
                work,
                at_bench.spent_s(work, self._desk.clock_s()),
                tried=self.fits.name,
                told=self._told_fit,
                risers=self._risers(),
                noted=self._noted or self._trouble,
                glue=glue,
            )
        clock, unit = self._clock(), self._workspace.unit
        return said_line(self._on, work, unit, is_dull=self._is_dull(), clock=clock, glue=glue)

    def _is_dull(self) -> bool:
        return self.work.since_blade_mm / 1000.0 > self._desk.forecast.metres_a_blade.likely

    def _clock(self) -> str:
        if self._prepares:
            return tr("about {likely}", likely=self._likely)
        spent = at_bench.spent_s(self.work, self._desk.clock_s())
        minutes, seconds = divmod(int(spent), 60)
        text = tr("{minutes}:{seconds:02} of about {likely}", minutes=minutes, seconds=seconds, likely=self._likely)
        return tr("paused · {text}", text=text) if self.work.rests else text

    def _tick(self) -> None:
        clock = "" if self.work.is_done else self._clock()
        self.sheet.tell_clock(clock, self._desk.glue_text())
