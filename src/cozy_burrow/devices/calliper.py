"""A calliper that types: each reading arrives as the figure and an Enter, as from a keyboard."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from typing import Protocol


class Calliper(Protocol):
    """Anything that gives one reading a press of its button."""

    def read_mm(self) -> float:
        """Return the next reading."""


@dataclass
class SimulatedCalliper:
    """A calliper over known lengths: rounds to its hundredth, and is a little off each time, as hands are."""

    lengths_mm: Sequence[float]
    off_mm: float = 0.02
    seed: int = 1
    _left: Iterator[float] = field(init=False, repr=False)

    def __post_init__(self) -> None:
        import numpy as np

        chance = np.random.default_rng(self.seed)
        self._left = iter([round(one + float(chance.normal(0, self.off_mm)), 2) for one in self.lengths_mm])

    def read_mm(self) -> float:
        """Return the next reading; raises StopIteration when all lengths are read."""
        return next(self._left)


def keystrokes(reading_mm: float) -> str:
    """Return what a calliper types for a reading."""
    return f"{reading_mm:.2f}\n"
