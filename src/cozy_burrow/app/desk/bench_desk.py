"""The bench on the desk: the fitter's own log, kept beside the settings, and the sheets under the knife."""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QObject, Signal

from cozy_burrow.app.desk.settings import Settings
from cozy_burrow.core.bench.at_bench import AtBench
from cozy_burrow.core.bench.forecast import Forecast, LogRow, forecast_from
from cozy_burrow.core.bench.glue import Joint
from cozy_burrow.core.bench.methods import Tools
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.jobs.bench_log import LOG_NAME, add_to_log, kept_log
from cozy_burrow.jobs.bench_words import glue_text
from cozy_burrow.jobs.my_tools import checked_tools, keep_tools, kept_tools


class BenchDesk(QObject):
    """Holds the log and what is owned; `changed`: there is more of either. trouble: why the log cannot be read."""

    changed = Signal()

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

    def take(self, row: LogRow) -> str:
        """Keep a finished sheet; return why it could not be kept, or nothing."""
        try:
            self.log = add_to_log(self.path, row)
        except UnusableInput as error:
            return error.sentence()
        self.trouble = ""
        self.changed.emit()
        return ""
