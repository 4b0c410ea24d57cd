"""Background work: runs off the interface's thread, reports how far it is, can be stopped."""

from __future__ import annotations

import sys
import time
from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QObject, QRunnable, QThreadPool, Signal, SignalInstance
from shiboken6 import isValid

from cozy_burrow.app.memory import give_back
from cozy_burrow.core.errors import Cancelled

_TELL_EVERY_S = 0.03
# Qt comes back to Python a thousand times for one change of the screen, and geometry lets go of it as often; with the
# usual 5 ms the window then waits so long each time while a search computes: half a second of work took twelve.
_TURN_S = 0.0001
_WAIT_S = 0.01
_running: set[Task] = set()
_hurried: set[Task] = set()  # at work, and somebody waits for what comes out


def take_short_turns() -> None:
    """Let threads take turns often enough that the window does not wait long for its own."""
    sys.setswitchinterval(_TURN_S)


def stop_all() -> None:
    """Ask everything that runs to stop: the window closes."""
    for task in list(_running):
        task.stop()


class _Token:
    """Handed to the work; asked at every step whether to go on."""

    def __init__(self, task: Task) -> None:
        self._task = task
        self.stopped = False
        self._told = 0.0

    def step(self, fraction: float) -> None:
        """Report how far the work is; raise Cancelled once somebody asked to stop."""
        while self._task.patient and _hurried and not self.stopped:
            time.sleep(_WAIT_S)
        if self.stopped:
            raise Cancelled
        if not isValid(self._task):
            raise Cancelled
        now = time.monotonic()
        if now - self._told > _TELL_EVERY_S or fraction >= 1.0:  # more often than it is painted is for nobody
            self._told = now
            self._task.progressed.emit(fraction)


class _Run(QRunnable):
    def __init__(self, task: Task) -> None:
        super().__init__()
        self._task = task

    def run(self) -> None:
        """Run the task's work on a thread of the pool."""
        self._task.execute()


class Task(QObject):
    """One piece of work; lives on the interface's thread, its signals arrive there.

    patient: a search that may take its time rests at its next step while something that somebody waits for is worked
    out: that is done sooner, and the window has one thread to share the interpreter with instead of two.
    """

    progressed = Signal(float)
    done = Signal(object)
    failed = Signal(object)
    finished = Signal()

    def __init__(self, work: Callable[[Any], object], parent: QObject | None = None, *, patient: bool = False) -> None:
        super().__init__(parent)
        self.patient = patient
        self._work: Callable[[Any], object] | None = work
        self.token = _Token(self)

    def begin(self) -> None:
        """Start the work on a thread of the pool."""
        _running.add(self)
        QThreadPool.globalInstance().start(_Run(self))

    def stop(self) -> None:
        """Ask the work to stop; a search then gives the best it has."""
        self.token.stopped = True

    def execute(self) -> None:
        """Do the work. Off the interface's thread; touches no widget."""
        # A task stays with its parent (deleted at its own end, it takes signals along that were not heard yet); what it
        # was given to work on, a photo, a project, must not.
        work, self._work = self._work, None
        try:
            if work is None:
                return
            if not self.patient:
                _hurried.add(self)
            outcome = work(self.token)
        except Cancelled:
            pass
        except Exception as error:
            self._tell(self.failed, error)
        else:
            self._tell(self.done, outcome)
        finally:
            _running.discard(self)
            _hurried.discard(self)
            give_back()
            self._tell(self.finished)

    def _tell(self, signal: SignalInstance, *told: object) -> None:
        """Emit a signal, unless whoever wanted the outcome was closed meanwhile."""
        if isValid(self):
            signal.emit(*told)
