"""A kitchen scale: what lies on it is read in whole grams."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

STEP_G = 1.0  # what its display shows


class KitchenScale(Protocol):
    """Anything that gives the mass of what lies on it."""

    def read_g(self) -> float:
        """Return the mass of what lies on it, in grams."""


@dataclass
class SimulatedKitchenScale:
    """A scale with a thing of a known mass on it: rounds to its gram, and is a little off, as its feet are."""

    true_g: float
    off_g: float = 0.4
    seed: int = 1

    def __post_init__(self) -> None:
        import numpy as np

        self._chance = np.random.default_rng(self.seed)

    def read_g(self) -> float:
        """Return what its display shows."""
        shown = self.true_g + float(self._chance.normal(0.0, self.off_g))
        return max(0.0, round(shown / STEP_G) * STEP_G)
