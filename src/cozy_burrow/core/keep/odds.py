"""How much likelier a ray's light is of a thing than of the empty place: of any thing, or of the very one.

Every density has a floor: dust, a splinter, a glint come from something else, of which anything is due.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.keep.empty_look import Kind, Look, Mask, kind_numbers
from cozy_burrow.core.keep.looked import Looked
from cozy_burrow.core.keep.rays import Hits, crossing

MOST_ODDS = 4.0  # of one ray
_ANOTHER = 2.0  # that it is another thing than the one of the photo with all in their places, which happens seldom
_ANYTHING = 0.02  # the density of what is explained by nothing
# Of things of which nothing is known: their light against the foam's, and their colour: half of them are grey.
_THING_LEVEL, _THING_LEVEL_SPREAD, _GREY_SPREAD, _COLOUR_SPREAD = 0.5, 1.0, 0.07, 0.35
_KNOWN_LEVEL_SPREAD, _KNOWN_HUE_SPREAD = 0.45, 0.09  # of the very thing in another light


def odds_of(now: Looked, then: Looked | None) -> NDArray[np.float64]:
    """Return for each ray the odds of a thing."""
    level, hue = now.look.level, now.look.hue
    empty = np.full(level.shape, -50.0)
    of = kind_numbers(now.empty)
    for number, kind in now.kinds.items():
        cells = of == number
        if cells.any():
            empty[cells] = _likely_empty(kind, level[cells], hue[cells], -now.empty.height_mm[cells])
    thing = likely_thing(level, hue)
    if then is not None:
        very, known = likely_the_very(now.look, then, now.full)
        thing = np.where(known, np.maximum(very, thing - _ANOTHER), thing)
    return np.asarray(np.clip(thing - empty, -MOST_ODDS, MOST_ODDS), dtype=float)


def likely_the_very(look: Look, then: Looked, met: Hits) -> tuple[NDArray[np.float64], Mask]:
    """Return how likely light is of the very places that another photo shows, and where it shows them.

    met: what the rays of `look` meet; the other photo is looked at where its own rays meet the same.
    """
    import cv2

    column, row = crossing(then.sight.camera, then.grid, met.column, met.row, met.height_mm)
    level, *hues = (
        cv2.remap(np.ascontiguousarray(one), column, row, cv2.INTER_LINEAR)
        for one in (then.look.level, then.look.hue[..., 0], then.look.hue[..., 1])
    )
    owner = cv2.remap(then.full.owner, column, row, cv2.INTER_NEAREST, borderValue=-1)
    told = cv2.remap(then.look.told.astype(np.uint8), column, row, cv2.INTER_NEAREST).astype(bool)
    known = told & (owner == met.owner) & ~met.side
    very = _gauss((look.level - level) / _KNOWN_LEVEL_SPREAD, _KNOWN_LEVEL_SPREAD)
    for k, one in enumerate(hues):
        very += _gauss((look.hue[..., k] - one) / _KNOWN_HUE_SPREAD, _KNOWN_HUE_SPREAD)
    return very, np.asarray(known, dtype=bool)


def likely_thing(level: NDArray[np.floating], hue: NDArray[np.floating]) -> NDArray[np.float64]:
    """Return how likely light is of a thing of which nothing is known."""
    likely = _gauss((level - _THING_LEVEL) / _THING_LEVEL_SPREAD, _THING_LEVEL_SPREAD)
    grey = _gauss(hue[..., :2] / _GREY_SPREAD, _GREY_SPREAD).sum(axis=-1)
    coloured = _gauss(hue[..., :2] / _COLOUR_SPREAD, _COLOUR_SPREAD).sum(axis=-1)
    return np.asarray(likely + np.logaddexp(grey, coloured) - math.log(2), dtype=float)


def _likely_empty(
    kind: Kind, level: NDArray[np.floating], hue: NDArray[np.floating], depth_mm: NDArray[np.floating]
) -> NDArray[np.float64]:
    due = kind.level + kind.fall * depth_mm
    likely = _gauss((level - due) / kind.level_spread, kind.level_spread)
    # In a cast shadow it is darker, the more so the deeper; nothing empty is brighter than that.
    shade = _gauss((level - due + 0.7) / (1.6 * kind.level_spread), 1.6 * kind.level_spread)
    likely = np.logaddexp(likely + math.log(0.7), shade + math.log(0.3))
    off = (hue - np.array(kind.hue))[..., :2] / kind.hue_spread
    return np.asarray(likely + _gauss(off, kind.hue_spread).sum(axis=-1), dtype=float)


def _gauss(off: NDArray[np.floating], spread: float) -> NDArray[np.float64]:
    """Return the logarithm of a normal density; what is far off comes from something else, of which anything is due."""
    return np.logaddexp(-0.5 * off.astype(float) ** 2 - math.log(spread), math.log(_ANYTHING))
