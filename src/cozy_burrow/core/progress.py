"""How long work says how far it is, and learns that it should stop."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Protocol

from cozy_burrow.core.errors import Cancelled

# Asked in the middle of work: a thread that somebody waits for less may rest there for a moment.
BREATHERS: list[Callable[[], None]] = []


_heeded = threading.local()


def make_way() -> None:
    """Let a thread that somebody waits for go first: called where an answer is worked out, and in loops without one.

    Raises Cancelled in a thread whose work nobody wants any more, where it heeds that.
    """
    rest()
    unwanted: Callable[[], bool] | None = getattr(_heeded, "unwanted", None)
    if unwanted is not None and unwanted():
        raise Cancelled


def rest() -> None:
    """Let a thread that somebody waits for go first, where work must not end in the middle."""
    for breathe in BREATHERS:
        breathe()


@contextmanager
def heeding(unwanted: Callable[[], bool]) -> Iterator[None]:
    """Let what this thread works out here end wherever it makes way, once nobody wants it; raises Cancelled then.

    For work that gives nothing when it is stopped. A search, which gives the best it has, asks its token instead.
    """
    _heeded.unwanted = unwanted
    try:
        yield
    finally:
        _heeded.unwanted = None


class Token(Protocol):
    """Handed to long work; `step` reports a fraction from 0 to 1 and raises Cancelled."""

    def step(self, fraction: float) -> None: ...


class Quiet:
    """A token that reports nowhere and never stops the work."""

    def step(self, fraction: float) -> None:
        """Do nothing."""


class Deadline:
    """A token that stops the work after `seconds`, on a clock that tests may replace."""

    def __init__(
        self, seconds: float, *, inner: Token | None = None, clock: Callable[[], float] = time.monotonic
    ) -> None:
        self._clock, self._inner = clock, inner
        self._begin = clock()
        self.seconds = seconds

    @property
    def elapsed_s(self) -> float:
        """Seconds since the token was made."""
        return self._clock() - self._begin

    def step(self, fraction: float) -> None:
        """Pass the fraction on; raise Cancelled once the time is used up."""
        if self._inner is not None:
            self._inner.step(fraction)
        if self.elapsed_s >= self.seconds:
            raise Cancelled
