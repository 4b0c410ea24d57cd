"""A luggage scale: hooked to a thing in its pocket and pulled, it keeps the highest force it saw."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

STEP_N = 0.1  # what its display shows


class LuggageScale(Protocol):
    """Anything that gives the peak of one pull."""

    def peak_n(self) -> float:
        """Return the highest force of the next pull, in newtons."""


@dataclass
class SimulatedScale:
    """A scale hooked to a thing whose true grip is known: each pull is a little different, as hands and foam are."""

    true_n: float
    scatter: float = 0.12
    seed: int = 1

    def __post_init__(self) -> None:
        import numpy as np

        self._chance = np.random.default_rng(self.seed)

    def peak_n(self) -> float:
        """Return the highest force of the next pull."""
        pulled = self.true_n * float(self._chance.lognormal(0.0, self.scatter))
        return round(pulled / STEP_N) * STEP_N
