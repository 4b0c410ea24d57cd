"""Several layouts side by side: searches that go about it in different ways, a step each in turn.

Different: no two of them may have their things in much the same places; one that comes too near another begins anew.
"""

from __future__ import annotations

import math
from collections.abc import Mapping

from cozy_burrow.core.arrange.search import Search, Way
from cozy_burrow.core.arrange.wishes import STYLES, StyleName, WishName
from cozy_burrow.core.ground.arranging import Arranged, Arranger
from cozy_burrow.core.progress import Token

SHARE_APART = 0.08  # of the insert's diagonal that things lie apart on average, or two layouts are one
_MOST_ANEW = 3

_NEXT: dict[StyleName, StyleName] = {"tidy": "balanced", "tight": "tidy", "balanced": "tidy"}


def ways_of(style: StyleName, weights: Mapping[WishName, float], *, seed: int) -> tuple[Way, ...]:
    """Return four ways: from either front corner, lengthways and across, and one in the style next to this."""
    return (
        Way(weights, seed=4 * seed + 1, corner=(-1.0, 1.0), lengthways=-0.6, name="from the front left"),
        Way(weights, seed=4 * seed + 2, corner=(1.0, 1.0), lengthways=0.6, name="from the front right, lying across"),
        Way(weights, seed=4 * seed + 3, corner=(-1.0, -1.0), lengthways=0.2, name="from the back left"),
        Way(STYLES[_NEXT[style]], seed=4 * seed + 4, corner=(1.0, -1.0), lengthways=-0.3, name=_NEXT[style]),
    )


class Variations:
    """Searches in turn. `advance` takes one step of one of them and returns which won something, or None."""

    def __init__(self, arranger: Arranger, ways: tuple[Way, ...], *, seed: int) -> None:
        self.arranger = arranger
        self.searches: list[Search] = [arranger.search(way) for way in ways]
        self._seed = seed
        self._turn = -1
        self._anew = 0

    @property
    def is_stuck(self) -> bool:
        """Whether none of them has won anything for long."""
        return all(search.is_stuck for search in self.searches)

    def advance(self, token: Token) -> int | None:
        """Let the next search take one step. Raises Cancelled; every search then holds its best so far."""
        self._turn = (self._turn + 1) % len(self.searches)
        search = self.searches[self._turn]
        begins = search.best is None
        won = search.advance(token)
        if begins and search.best is not None:
            self._mind_copies(self._turn)
        return self._turn if won else None

    def _mind_copies(self, number: int) -> None:
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
                name=way.name,
            )
            self.searches[number] = self.arranger.search(anew)
            return

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
