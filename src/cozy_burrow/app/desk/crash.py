"""Last resort: a bug never costs work and never shows a traceback; the report goes to a file.

One error is reported once: an event that fails may come sixty times a second.
"""

from __future__ import annotations

import contextlib
import faulthandler
import sys
import threading
import traceback
from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from types import TracebackType
from typing import Any

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.tongue import tr

_MOST_REPORTS = 40  # in the folder; the oldest go


class CrashGuard:
    """Takes over what nobody caught: keeps the work first, then writes the report, then says it in a sentence."""

    def __init__(self, folder: Path, *, keep_work: Callable[[], None], say: Callable[[str], None]) -> None:
        self._folder, self._keep_work, self._say = folder / "reports", keep_work, say
        self._busy = False
        self._seen: set[tuple[object, ...]] = set()
        self._fault_file: Any = None

    def install(self) -> None:
        """Take over the hooks of the interpreter and its threads."""
        sys.excepthook = self.caught
        threading.excepthook = lambda args: self.caught(
            args.exc_type, args.exc_value or args.exc_type(), args.exc_traceback
        )
        with contextlib.suppress(OSError):
            self._folder.mkdir(parents=True, exist_ok=True)
            self._fault_file = (self._folder / "fault.txt").open("w", encoding="utf-8")
            faulthandler.enable(self._fault_file)

    def caught(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        """Deal with one error that nobody caught."""
        if issubclass(kind, KeyboardInterrupt):
            raise SystemExit(130)
        if self._busy:  # the guard itself stumbled: stay quiet rather than go round
            return
        if isinstance(error, UnusableInput):  # no bug in what was computed: a sentence meant for a person
            with contextlib.suppress(Exception):
                self._say(error.sentence())
            return
        place = (kind, *((frame.filename, frame.lineno) for frame in traceback.extract_tb(trace)[-3:]))
        if place in self._seen:
            return
        self._seen.add(place)
        self._busy = True
        kept = report = ""
        try:
            with contextlib.suppress(Exception):
                self._keep_work()
                kept = tr("Your work is kept. ")
            with contextlib.suppress(Exception):
                report = tr(" A report lies in {written}.", written=self._written(kind, error, trace))
            with contextlib.suppress(Exception):
                self._say(
                    tr(
                        "Something in the program went wrong. {kept}You can go on or save now.{report}",
                        kept=kept,
                        report=report,
                    )
                )
        finally:
            self._busy = False

    def _written(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> Path:
        self._folder.mkdir(parents=True, exist_ok=True)
        for old in sorted(self._folder.glob("report-*.txt"))[: -_MOST_REPORTS + 1]:
            old.unlink(missing_ok=True)
        path = self._folder / f"report-{datetime.now():%Y%m%d-%H%M%S-%f}.txt"
        path.write_text("".join(traceback.format_exception(kind, error, trace)), encoding="utf-8")
        return path
