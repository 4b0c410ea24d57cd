"""What a photo says of one place: filled, empty or unsure, by what speaks at all."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.keep.empty_look import Mask
from cozy_burrow.core.keep.looked import Looked
from cozy_burrow.core.keep.rays import differs
from cozy_burrow.core.model.kept import PlaceState
from cozy_burrow.core.model.records import Record
from cozy_burrow.core.tongue import tr

FEWEST_CELLS = 12
# Of the balance of rays and edges: of 500 filled places one in a hundred has less, of 200 empty ones none had more than
# -0.6. What lies in shade looks like an empty place by its light, so less will do for it.
_FILLED, _EMPTY = 0.2, -0.5
# An outline so clear, no clearer rim of the pocket, and light that does not speak all over: not surely empty.
_OUTLINE, _MORE_OF_POCKET, _ALL_OVER = 0.12, 0.2, 0.9
_FAINT, _LEAST_SPEAKS = 0.7, 0.02


class Place(Record, frozen=True, kw_only=True):
    """What a photo says of one place.

    odds: 1 where all that speaks says that the thing is there, -1 where all says that it is not; seen: rays that speak.
    """

    key: str
    state: PlaceState
    why: str
    odds: float
    seen: int


def said(place: Place, state: PlaceState, why: str) -> Place:
    """Return a place with another state, and why."""
    return Place(key=place.key, state=state, why=why, odds=place.odds, seen=place.seen)


def cells_of(now: Looked, key: str) -> Mask:
    """Return the rays that meet a thing, and something else in its place when that is empty."""
    return np.asarray(np.isin(now.full.owner, now.owners(key)) & now.look.told & differs(now.full, now.empty))


def place_of(now: Looked, odds: NDArray[np.float64], key: str) -> Place:
    """Return whether a place is filled, empty or unsure, by the odds of its rays and by its edges."""
    cells = cells_of(now, key)
    count = int(cells.sum())
    if count < FEWEST_CELLS:
        return Place(key=key, state="unsure", why=tr("hardly seen from here"), odds=0.0, seen=count)
    # Most of a black thing's face may look like most of a black floor: what speaks at all is what counts.
    clear = np.sign(odds[cells]) * np.clip(np.abs(odds[cells]) - _FAINT, 0, None)
    speaks = int((clear != 0).sum())
    total = float(np.abs(clear).sum())
    balance = float(clear.sum()) / max(total, 1e-6)
    share = float((clear > 0).sum()) / max(1, speaks)
    least = max(FEWEST_CELLS, _LEAST_SPEAKS * count)
    if speaks < least:
        return Place(key=key, state="unsure", why=tr("it looks like both"), odds=balance, seen=speaks)
    edges = now.edges.of(cells)
    with_edges = balance + edges.balance
    told = float(np.clip(with_edges, -1.0, 1.0))
    is_outline = edges.thing > _OUTLINE and edges.balance > -_MORE_OF_POCKET and speaks < _ALL_OVER * count
    if _EMPTY < with_edges < _FILLED or (with_edges < 0 and is_outline):
        return Place(key=key, state="unsure", why=_doubt(share), odds=told, seen=speaks)
    state: PlaceState = "filled" if with_edges > 0 else "empty"
    by_edges = (balance > 0) != (with_edges > 0)
    why = _reason_by_edges(state) if by_edges else _reason(state, share)
    return Place(key=key, state=state, why=why, odds=told, seen=speaks)


def _doubt(share: float) -> str:
    return tr("{share:.0%} of it looks like the item, the rest like an empty place", share=share)


def _reason(state: PlaceState, share: float) -> str:
    if state == "filled":
        return tr("{share:.0%} of it does not look like foam in a pocket", share=share)
    return tr("{share:.0%} of it looks like the bottom and walls of the pocket", share=1 - share)


def _reason_by_edges(state: PlaceState) -> str:
    if state == "filled":
        return tr("its outline is seen where it must be")
    return tr("the rim and the bottom of the pocket are seen")
