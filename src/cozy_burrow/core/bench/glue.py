"""Glue beside the cutting: a joint is pressed for five minutes and has cured after an hour."""

from __future__ import annotations

from typing import Literal

from cozy_burrow.core.model.records import Record

PRESS_S, CURE_S = 5 * 60.0, 60 * 60.0  # five minutes to hold, an hour to cure: contact glue on closed-cell foam
_TOLD_S = 120.0  # that a joint has cured
Stage = Literal["press", "cure", "cured"]


class Joint(Record, frozen=True, kw_only=True):
    """Something that was glued, and when, in seconds of the clock of whoever asks."""

    name: str
    at_s: float

    def stage(self, now_s: float) -> tuple[Stage, float] | None:
        """Return what it is at, and for how many seconds more; None once that is told."""
        gone = now_s - self.at_s
        if gone < PRESS_S:
            return "press", PRESS_S - gone
        if gone < CURE_S:
            return "cure", CURE_S - gone
        return ("cured", 0.0) if gone < CURE_S + _TOLD_S else None
