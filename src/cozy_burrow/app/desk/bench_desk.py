"""The bench on the desk: the fitter's own log, kept beside the settings, and the sheets under the knife."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from pathlib import Path

from PySide6.QtCore import QObject, Signal

from cozy_burrow.app.desk.settings import Settings
from cozy_burrow.core.bench.at_bench import AtBench
from cozy_burrow.core.bench.forecast import Forecast, LogRow, forecast_from
from cozy_burrow.core.bench.glue import Joint
from cozy_burrow.core.bench.methods import Tools
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.jobs.bench_log import CUTS_NAME, LOG_NAME, CutRow, add_cuts, add_to_log, forget_log, kept_log, log_text
from cozy_burrow.jobs.bench_words import glue_text
from cozy_burrow.jobs.my_tools import checked_tools, keep_tools, kept_tools
from cozy_burrow.storage.whole_file import write_whole


class BenchDesk(QObject):
    """Holds the log and what is owned; `changed`: there is more of either; `refused`: what could not be kept.

    trouble: why the log cannot be read.
    """

    changed = Signal()
    refused = Signal(str)

    def __init__(
        self, settings: Settings, parent: QObject | None = None, *, clock_s: Callable[[], float] = time.monotonic
    ) -> None:
        super().__init__(parent)
        self.path: Path = settings.state_folder / LOG_NAME
        self.clock_s = clock_s
        self.log: tuple[LogRow, ...] = ()
        self.trouble = ""
        self.joints: tuple[Joint, ...] = ()  # glued in this sitting
        self.tools: Tools = kept_tools(settings.state_folder)
        # By insert, sheet and its lines: who leaves the bench finds it as it was, as long as the plan is the same.
        self.works: dict[object, AtBench] = {}
        try:
            self.log = kept_log(self.path)
        except UnusableInput as error:
            self.trouble = error.sentence()

    @property
    def forecast(self) -> Forecast:
        """What the log teaches."""
        return forecast_from(self.log)

    def glue(self, name: str) -> None:
        """Something was glued just now."""
        self.joints = (*self.joints, Joint(name=name, at_s=self.clock_s()))

    def glue_text(self) -> str:
        """Say what is pressed and what cures; what has cured is forgotten."""
        now = self.clock_s()
        self.joints = tuple(one for one in self.joints if one.stage(now) is not None)
        return glue_text(self.joints, now)

    def own(self, tools: Tools) -> None:
        """Keep what the fitter owns. Raises UnusableInput."""
        keep_tools(tools, self.path.parent)
        self.tools = checked_tools(tools)
        self.changed.emit()

    def take(self, row: LogRow, cuts: Sequence[CutRow] = ()) -> str:
        """Keep a finished sheet, and how long each of its lines took; return why it could not be kept, or nothing."""
        try:
            self.log = add_to_log(self.path, row)
        except UnusableInput as error:
            return error.sentence()
        self.trouble = ""
        try:
            add_cuts(self.path.with_name(CUTS_NAME), cuts)
        except UnusableInput as error:
            self.refused.emit(error.sentence())  # the sheet is kept all the same: it must not be saved twice
        self.changed.emit()
        return ""

    def forget(self) -> str:
        """Take the log away; return why it could not be, or nothing."""
        try:
            forget_log(self.path.parent)
        except UnusableInput as error:
            return error.sentence()
        self.log, self.trouble = (), ""
        self.changed.emit()
        return ""

    def copy_to(self, path: Path) -> str:
        """Write a copy of the log; return why it could not be written, or nothing."""
        try:
            write_whole(path, log_text(self.log).encode())
        except UnusableInput as error:
            return error.sentence()
        return ""
