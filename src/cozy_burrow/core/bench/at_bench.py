"""One sheet under the knife: which line is in hand, how long each took, blades that were changed, lines that tore.

Nothing here looks at a clock: whoever asks says what time it is, in seconds.
"""

from __future__ import annotations

from msgspec.structs import replace

from cozy_burrow.core.model.records import Record


class AtBench(Record, frozen=True, kw_only=True):
    """The state of the work. at: the line in hand, from 0; as many as there are lines once all are cut.

    spent_s: at every line so far; since_s: when the line in hand was taken up; None: the work rests. since_blade_mm:
    how far this blade has gone.
    """

    spent_s: tuple[float, ...]
    ways_mm: tuple[float, ...]
    at: int = 0
    since_s: float | None = None
    blades: int = 1
    since_blade_mm: float = 0.0
    torn: frozenset[int] = frozenset()

    @property
    def is_done(self) -> bool:
        """Whether every line is cut."""
        return self.at >= len(self.spent_s)

    @property
    def rests(self) -> bool:
        """Whether no time is counted."""
        return self.since_s is None


def begun(ways_mm: tuple[float, ...], now_s: float) -> AtBench:
    """Return a sheet of which nothing is cut yet. ways_mm: how far the blade goes at each line, every pass counted."""
    return AtBench(spent_s=(0.0,) * len(ways_mm), ways_mm=ways_mm, since_s=now_s if ways_mm else None)


def onward(work: AtBench, now_s: float) -> AtBench:
    """The line in hand is cut: take up the next."""
    if work.is_done:
        return work
    counted = _counted(work, now_s)
    gone = work.since_blade_mm + work.ways_mm[work.at]
    after = replace(counted, at=work.at + 1, since_blade_mm=gone, since_s=now_s)
    return replace(after, since_s=None) if after.is_done else after


def back(work: AtBench, now_s: float) -> AtBench:
    """Take up the line before again; what it took so far stays counted."""
    if work.at == 0:
        return work
    counted = _counted(work, now_s)
    gone = max(0.0, work.since_blade_mm - work.ways_mm[work.at - 1])
    return replace(counted, at=work.at - 1, since_blade_mm=gone, since_s=now_s)


def rested(work: AtBench, now_s: float) -> AtBench:
    """Stop counting, or go on where it was stopped."""
    if work.is_done:
        return work
    return replace(work, since_s=now_s) if work.rests else replace(_counted(work, now_s), since_s=None)


def with_new_blade(work: AtBench) -> AtBench:
    """Go on with a new blade."""
    return replace(work, blades=work.blades + 1, since_blade_mm=0.0)


def torn(work: AtBench) -> AtBench:
    """Note that the foam tore at the line in hand, or that it did not."""
    return work if work.is_done else replace(work, torn=work.torn ^ {work.at})


def spent_s(work: AtBench, now_s: float) -> float:
    """Return how long the whole sheet has taken by now."""
    return sum(_counted(work, now_s).spent_s)


def _counted(work: AtBench, now_s: float) -> AtBench:
    if work.since_s is None or work.is_done:
        return work
    took = max(0.0, now_s - work.since_s)
    times = (*work.spent_s[: work.at], work.spent_s[work.at] + took, *work.spent_s[work.at + 1 :])
    return replace(work, spent_s=times, since_s=now_s)
