"""Background work: runs off the interface's thread, reports how far it is, can be stopped."""

from __future__ import annotations

import ctypes
import sys
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import cache
from typing import Any

from PySide6.QtCore import QObject, QRunnable, QThreadPool, QTimer, Signal
from shiboken6 import isValid

from cozy_burrow.app.desk.courtesy import be_courteous
from cozy_burrow.app.desk.memory import give_back
from cozy_burrow.core.errors import Cancelled
from cozy_burrow.core.progress import heeding, make_way

_TELL_EVERY_S = 0.03
# Qt comes back to Python a thousand times for one change of the screen, and geometry lets go of it as often; with the
# usual 5 ms the window then waits so long each time while a search computes: half a second of work took twelve.
_TURN_S = 0.0001
_WAIT_S = 0.01
_MOST_THREADS = 8  # most of them wait: for a picture that is read apart, for a disk, for their turn
_running: set[Task] = set()
# One computes at a time: Python does no two things at once, so two take as long as one after the other, and the window
# would get a third of it instead of half.
_turn = threading.Lock()
_light = threading.Lock()
_hurried: set[Task] = set()  # at work, and somebody waits for what comes out


def take_short_turns() -> None:
    """Let threads take turns so often that the window does not wait long for its own, and make way for it."""
    sys.setswitchinterval(_TURN_S)
    pool = QThreadPool.globalInstance()
    pool.setMaxThreadCount(_MOST_THREADS)
    pool.setExpiryTimeout(-1)  # each keeps its Python state: see _stay_known
    be_courteous()


def stop_all() -> None:
    """Ask everything that runs to stop: the window closes."""
    for task in list(_running):
        task.stop()


class _Post(QObject):
    """Brings to the interface's thread what others have to tell.

    A signal must not be sent from another thread by what a window owns: the window may be closed in that very moment,
    and the process ends where Qt reads what is gone. This one belongs to nobody and outlives all threads.
    """

    brought = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.brought.connect(self._bring)

    def _bring(self, call: Callable[[], None]) -> None:
        call()


@cache
def _post() -> _Post:
    return _Post()


def tell(receiver: QObject, hear: Callable[..., object], *told: object) -> None:
    """From any thread: let the interface's thread call `hear`, unless the receiver is gone by then."""

    def bring() -> None:
        if isValid(receiver):
            hear(*told)

    if isValid(post := _post()):  # at the end of the process Qt takes it along, and nobody hears any more
        post.brought.emit(bring)


class TaskToken:
    """Handed to the work; asked at every step whether to go on."""

    def __init__(self, task: Task) -> None:
        self._task = task
        self.stopped = False
        self._told = 0.0

    def step(self, fraction: float) -> None:
        """Report how far the work is; raise Cancelled once somebody asked to stop."""
        make_way()
        while self._task.patient and _hurried and not self.stopped:
            time.sleep(_WAIT_S)
        if self.stopped:
            raise Cancelled
        if not isValid(self._task):
            raise Cancelled
        now = time.monotonic()
        if now - self._told > _TELL_EVERY_S or fraction >= 1.0:  # more often than it is painted is for nobody
            self._told = now
            tell(self._task, self._task.hear_progress, fraction)


@contextmanager
def only_light(token: TaskToken) -> Iterator[None]:
    """Wait until no other picture is lit: a large one takes some forty megabytes while it is made, two take twice that.

    Raises Cancelled where nobody wants the picture any more by then.
    """
    with _waited_for(_light, token):
        yield


@contextmanager
def _waited_for(lock: threading.Lock, token: TaskToken) -> Iterator[None]:
    while not lock.acquire(timeout=_WAIT_S):
        if token.stopped:
            raise Cancelled
    try:
        if token.stopped:
            raise Cancelled
        yield
    finally:
        lock.release()


class _Run(QRunnable):
    def __init__(self, task: Task) -> None:
        super().__init__()
        self._task = task

    def run(self) -> None:
        """Run the task's work on a thread of the pool."""
        _stay_known()
        self._task.execute()


_known = threading.local()


def _stay_known() -> None:
    """Let Python remember this thread after its work, as it remembers threads of its own.

    A thread of Qt's is made known to Python for each piece of work and forgotten after it. Libraries in C++ (solver,
    Fourier transforms) keep what Python called the thread when they were first imported there, and use it the next
    time: then that is gone, and the process ends. So every thread is announced once more than it is forgotten.
    """
    if not hasattr(_known, "already"):
        ctypes.pythonapi.PyGILState_Ensure()
        _known.already = True


class Task(QObject):
    """One piece of work; lives on the interface's thread, its signals arrive there.

    patient: a search that may take its time rests at its next step while something that somebody waits for is worked
    out: that is done sooner, and the window has one thread to share the interpreter with instead of two.
    elsewhere: the work is done by another process or by the disk; nothing waits for it, and it waits for nothing.
    beside: it is computed at once whatever else is, since it must never wait for that: the checks of what is seen.
    Stopped, it ends in the middle of a step: what was begun for one state of a plan must not slow down that for the
    next. All other work takes turns.
    """

    progressed = Signal(float)
    done = Signal(object)
    failed = Signal(object)
    finished = Signal()

    def __init__(
        self,
        work: Callable[[Any], object],
        parent: QObject | None = None,
        *,
        patient: bool = False,
        elsewhere: bool = False,
        beside: bool = False,
    ) -> None:
        super().__init__(parent)
        _post()  # here, since it belongs to the thread that makes it
        self.patient, self._beside, self._takes_turns = patient, beside, not (patient or elsewhere or beside)
        self._work: Callable[[Any], object] | None = work
        self.token = TaskToken(self)

    def begin(self) -> None:
        """Start the work on a thread of the pool."""
        _running.add(self)
        QThreadPool.globalInstance().start(_Run(self))

    def begin_soon(self) -> None:
        """Start it once the loop has its turn: what is asked for while something is painted must not slow that down."""
        QTimer.singleShot(0, self._begin_now)

    def _begin_now(self) -> None:
        self.begin()  # of a task that is still there: Qt forgets the call with it

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
            if self._takes_turns:
                with self._in_turn():
                    outcome = work(self.token)
            elif self._beside:
                with heeding(lambda: self.token.stopped):
                    outcome = work(self.token)
            else:
                outcome = work(self.token)
        except Cancelled:
            pass
        except Exception as error:
            tell(self, self._hear_failure, error)
        else:
            tell(self, self._hear_outcome, outcome)
        finally:
            _running.discard(self)
            give_back()
            tell(self, self._hear_end)

    @contextmanager
    def _in_turn(self) -> Iterator[None]:
        """Wait until nothing else is computed; raise Cancelled where nobody wants it any more by then."""
        _hurried.add(self)
        try:
            with _waited_for(_turn, self.token):
                yield
        finally:
            _hurried.discard(self)

    def hear_progress(self, fraction: float) -> None:
        """Pass on how far the work is. On the interface's thread, as all that is heard."""
        self.progressed.emit(fraction)

    def _hear_outcome(self, outcome: object) -> None:
        self.done.emit(outcome)

    def _hear_failure(self, error: Exception) -> None:
        self.failed.emit(error)

    def _hear_end(self) -> None:
        self.finished.emit()
