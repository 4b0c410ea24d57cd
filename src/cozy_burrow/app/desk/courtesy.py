"""Threads that make way for the window: Python does one thing at a time, and what a hand waits for comes first.

Whether the window's thread is at work is read from its own processor clock: one that waits, for events or for a thread,
is not, so that nobody waits for somebody who waits.
"""

from __future__ import annotations

import sys
import threading
import time
from collections.abc import Callable

from cozy_burrow.core.progress import BREATHERS, rest

_LOOK_EVERY_S = 0.002
_AT_WORK = 0.6  # of what it would get of a stretch of time if all took turns: then its thread wants more of it
_REST_S = 0.002
_MOST_S = 0.03  # at a time: whatever the window does, other work goes on, if slowly
_SEEN_S = 0.3  # who has asked for so long is at work, too


class Courtesy:
    """Rests, on any thread but the window's, while that is at work: the longer, the more threads there are.

    So all of them together take no more of its time than one would.

    work_s: what the window's thread has worked so far; clock_s: the time; rest: sleeps. All in seconds.
    """

    def __init__(
        self,
        work_s: Callable[[], float],
        *,
        clock_s: Callable[[], float] = time.monotonic,
        rest: Callable[[float], object] = time.sleep,
    ) -> None:
        self._window = threading.get_ident()
        self._work_s, self._clock_s, self._rest = work_s, clock_s, rest
        self._seen = threading.local()
        self._asked_s: dict[int, float] = {}  # by every thread, when it did last

    def __call__(self) -> None:
        """Make way, if the window is at work."""
        if threading.get_ident() == self._window:
            return
        now, before = self._clock_s(), getattr(self._seen, "at", None)
        if before is not None and now - before[0] < _LOOK_EVERY_S:
            return
        self._asked_s[threading.get_ident()] = now
        others = self._at_work(now)
        work, end, share = self._work_s(), now + _MOST_S * others, _AT_WORK / (others + 1)
        while before is not None and now < end and work - before[1] > share * (now - before[0]):
            before = (now, work)
            self._rest(_REST_S)
            now, work = self._clock_s(), self._work_s()
        self._seen.at = (now, work)

    def _at_work(self, now_s: float) -> int:
        """Return how many threads have asked lately; those that did not for long are forgotten."""
        for thread, asked_s in list(self._asked_s.items()):
            if now_s - asked_s > _SEEN_S:
                self._asked_s.pop(thread, None)
        return max(1, len(self._asked_s))


class ImportsMakeWay:
    """Asked first for every module: a library of hundreds of modules, read on another thread, makes way between them.

    Nothing is found here. It only rests: an import that is broken off leaves half a library behind.
    """

    def find_spec(self, name: str, path: object = None, target: object = None) -> None:
        """Make way, and leave the finding to the others."""
        rest()


def be_courteous() -> None:
    """Let all threads make way for this one, where the system tells how much it works."""
    if not any(isinstance(one, ImportsMakeWay) for one in sys.meta_path):
        sys.meta_path.insert(0, ImportsMakeWay())
    if hasattr(time, "pthread_getcpuclockid"):
        clock = time.pthread_getcpuclockid(threading.get_ident())
        BREATHERS[:] = [Courtesy(lambda: time.clock_gettime(clock))]
