"""A thing laid into a place in thought: what the photo's rays would meet then, and how well that is what they show."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.keep.edges import Edges
from cozy_burrow.core.keep.empty_look import Mask
from cozy_burrow.core.keep.looked import EMPTY_COLOURS, Looked
from cozy_burrow.core.keep.rays import Hits, hits
from cozy_burrow.core.relief.field import Lying, field_of
from cozy_burrow.core.relief.grid import Grid, Window

_ROUND_MM = 12.0
# What rays say beside edges, and at most: a colour that fits by chance is no outline.
_RAYS_WEIGH, _MOST_RAYS, _MOST_AGAINST_OTHER = 1 / 3, 1.5, 3.0


@dataclass(frozen=True)
class InThought:
    """A place with something else in it: the part of the photo, what its rays meet, which of them meet it or its own.

    window: in the whole photo. is_other, is_own: rays that meet what was laid there, or its own thing in its place.
    """

    grid: Grid
    window: Window
    hits: Hits
    is_other: Mask
    is_own: Mask
    told: Mask


@dataclass(frozen=True)
class Supposed:
    """What speaks for a thing in a place: by its rays and its edges, against the place's own thing and against none.

    rays: the mean odds where the two differ, for it. edges, rim: the balance of its edges against those of the place's
    own thing, and against those of the empty pocket. shows: the mean odds that something lies where it would.
    """

    rays: float
    edges: float
    rim: float
    shows: float

    @property
    def beats(self) -> float:
        """Above nought where the photo shows it rather than the place's own thing."""
        return float(np.clip(self.rays, -_MOST_RAYS, _MOST_RAYS)) * _RAYS_WEIGH + self.edges

    @property
    def fits(self) -> float:
        """Above nought where the photo shows it rather than the place's own thing, or nothing."""
        return self.beats + self.rim


def in_thought(ground: Ground, now: Looked, own: Lying, other: Lying) -> InThought:
    """Return a place of a photo with something else in it than its own thing."""
    key = own.placement.id
    things = [other if one is own else one for one in now.lying]
    bounds = np.array([own.outline.bounds, other.outline.bounds])
    low, high = bounds[:, :2].min(axis=0) - _ROUND_MM, bounds[:, 2:].max(axis=0) + _ROUND_MM
    grid = Grid.over((float(low[0]), float(low[1]), float(high[0]), float(high[1])), now.grid.px_per_mm)
    grid = _within(grid, now.grid)
    window = grid.place_in(now.grid)
    field = field_of(ground, grid, EMPTY_COLOURS, things=things)
    met = hits(field, now.sight.camera)
    is_other = np.isin(met.owner, [n for n, one in enumerate(field.finishes) if one.body == key])
    is_own = np.isin(now.full.owner[window], now.owners(key))
    # What lies in a place beside it speaks for nothing here, also where it would be hidden.
    neighbours = [number for number, name in enumerate(now.names) if name and name != key]
    told = now.look.told[window] & ~np.isin(now.full.owner[window], neighbours)
    return InThought(grid, window, met, np.asarray(is_other), np.asarray(is_own), np.asarray(told))


def supposed(now: Looked, odds: NDArray[np.float64], one: InThought) -> Supposed:
    """Return what speaks for what was laid into a place."""
    there, window = odds[one.window], one.window
    rays = _mean_apart(there, one.is_other & one.told, one.is_own & one.told)
    shown = one.is_other & one.told
    look = now.look.part(window)
    edges = Edges(look, one.hits, now.full.part(window)).of((one.is_other | one.is_own) & one.told)
    rim = Edges(look, one.hits, now.empty.part(window)).of(shown)
    shows = float(there[shown].mean()) if shown.any() else 0.0
    return Supposed(rays, edges.balance, rim.balance, shows)


def more_than(odds: NDArray[np.float64], one: tuple[InThought, Supposed], other: tuple[InThought, Supposed]) -> float:
    """Return what speaks for one thing in a place against another, neither of them its own."""
    covers = []
    for thought, _ in (one, other):
        cells = np.zeros(odds.shape, dtype=bool)
        cells[thought.window] = thought.is_other & thought.told
        covers.append(cells)
    rays = float(np.clip(_mean_apart(odds, *covers), -_MOST_AGAINST_OTHER, _MOST_AGAINST_OTHER))
    return rays * _RAYS_WEIGH + (one[1].edges + one[1].rim) - (other[1].edges + other[1].rim)


def _mean_apart(odds: NDArray[np.float64], one: Mask, other: Mask) -> float:
    """Return the mean odds for what covers some cells against what covers others, where only either does."""
    only_one, only_other = one & ~other, other & ~one
    count = int(only_one.sum() + only_other.sum())
    return float(odds[only_one].sum() - odds[only_other].sum()) / max(1, count)


def _within(part: Grid, whole: Grid) -> Grid:
    """Return the part of a grid that lies in another of its scale."""
    row, column = (max(0, one - first) for one, first in zip(part.first, whole.first))
    last_row = min(whole.rows, part.first[0] - whole.first[0] + part.rows)
    last_column = min(whole.columns, part.first[1] - whole.first[1] + part.columns)
    return Grid(
        left_mm=whole.left_mm + column / whole.px_per_mm,
        top_mm=whole.top_mm + row / whole.px_per_mm,
        px_per_mm=whole.px_per_mm,
        columns=max(1, last_column - column),
        rows=max(1, last_row - row),
    )
