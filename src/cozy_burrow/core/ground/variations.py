"""Several layouts side by side: searches that go about it in different ways, a step each in turn.

Different: no two of them may have their things in much the same places; one that comes too near another begins anew.
"""

from __future__ import annotations

import math
from collections.abc import Mapping

from cozy_burrow.core.arrange.search import Search
from cozy_burrow.core.arrange.way import Way
from cozy_burrow.core.arrange.wishes import STYLES, StyleName, WishName
from cozy_burrow.core.ground.arranging import Arranged, Arranger, first_way
from cozy_burrow.core.progress import Token
from cozy_burrow.core.tongue import tr

SHARE_APART = 0.15  # of the insert's diagonal that things lie apart on average, or two layouts are one
_MOST_ANEW = 8
PATIENCE_WATCHED = 250  # moves without gain that somebody who looks on waits for
_NOISE = 0.25

NEXT_STYLE: dict[StyleName, StyleName] = {"tidy": "balanced", "tight": "tidy", "balanced": "tidy"}
IN_STYLE: dict[StyleName, str] = {
    "tidy": tr("in tidy rows"),
    "tight": tr("tightly"),
    "balanced": tr("balanced for carrying"),
}


def ways_of(style: StyleName, weights: Mapping[WishName, float], *, seed: int) -> tuple[Way, ...]:
    """Return four ways: from the front left, in lanes if may be; from other corners; in the next style."""
    return (
        Way(
            weights,
            seed=4 * seed + 1,
            corner=(-1.0, 1.0),
            lengthways=-0.6,
            lanes=first_way(weights, seed=seed).lanes,
            name=tr("from the front left"),
        ),
        Way(
            weights,
            seed=4 * seed + 2,
            corner=(1.0, 1.0),
            lengthways=1.5,
            noise=_NOISE,
            name=tr("from the front right, lying across"),
        ),
        Way(
            weights,
            seed=4 * seed + 3,
            corner=(-1.0, -1.0),
            lengthways=0.2,
            noise=_NOISE,
            name=tr("from the back left"),
        ),
        Way(
            STYLES[NEXT_STYLE[style]],
            seed=4 * seed + 4,
            corner=(1.0, -1.0),
            lengthways=-0.3,
            noise=_NOISE,
            name=IN_STYLE[NEXT_STYLE[style]],
        ),
    )


class Variations:
    """Searches in turn. `advance` takes one step of one of them and returns which won something, or None."""

    def __init__(self, arranger: Arranger, ways: tuple[Way, ...], *, seed: int) -> None:
        self.arranger = arranger
        self.searches: list[Search] = [self._search(way) for way in ways]
        self._seed = seed
        self._turns = 0
        self._anew = 0

    def _search(self, way: Way) -> Search:
        search = self.arranger.search(way)
        search.patience, search.most_steps = PATIENCE_WATCHED, 1_000_000
        return search

    @property
    def is_stuck(self) -> bool:
        """Whether none of them has won anything for long, and what could lie does."""
        return all(search.is_stuck and not search.is_short for search in self.searches)

    def advance(self, token: Token) -> int | None:
        """Let the next search take one step. Raises Cancelled; every search then holds its best so far."""
        number = self._next()
        search = self.searches[number]
        begins = search.best is None
        won = search.advance(token)
        if begins and search.best is not None and self._is_copy(number):
            return None
        return number if won else None

    def _next(self) -> int:
        """Return whose turn it is: once all are laid, every other step goes to the one that is best."""
        self._turns += 1
        begun = [search.best is not None for search in self.searches]
        if not all(begun):
            return begun.index(False)
        if self._turns % 2:
            return min(range(len(begun)), key=lambda n: self.searches[n].best or (0, 0.0, 0.0))
        return (self._turns // 2) % len(begun)

    def _is_copy(self, number: int) -> bool:
        """Return whether a layout comes too near an earlier one; its search is then begun anew in another way."""
        mine = self.searches[number]
        for other in self.searches[:number]:
            if other.best is None or self._anew >= _MOST_ANEW or apart(mine, other) >= SHARE_APART:
                continue
            self._anew += 1
            way = mine.way
            anew = Way(
                way.weights,
                seed=self._seed + 1000 + self._anew,
                corner=(-way.corner[0], way.corner[1]),
                lengthways=-way.lengthways,
                noise=_NOISE * (1 + self._anew),
                name=way.name,
            )
            self.searches[number] = self._search(anew)
            return True
        return False

    def results(self) -> tuple[Arranged, ...]:
        """Return what each has so far, in the order of the ways."""
        return tuple(self.arranger.result(search) for search in self.searches if search.best is not None)


def apart(first: Search, second: Search) -> float:
    """Return how far things lie from where the other has them, on average, as a share of the diagonal."""
    if first.plan is None or second.plan is None:
        return 0.0
    left, top, right, bottom = first.plan.aims.room
    diagonal = max(1.0, math.hypot(right - left, bottom - top))
    there = {one.key: one.balance for one in second.plan.lying}
    fixed = {one.key for one in first.plan.always}
    moved = [
        math.dist(one.balance, there[one.key]) / diagonal
        for one in first.plan.lying
        if one.key in there and one.key not in fixed
    ]
    return sum(moved) / len(moved) if moved else 0.0
