"""How much likelier a ray's light is of a thing than of the empty place: of any thing, or of the very one.

Every density has a floor: dust, a splinter, a glint come from something else, of which anything is due.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.keep.empty_look import INTO_MM, Kind, Look, Mask, apart_from_things, due_level, kind_numbers
from cozy_burrow.core.keep.looked import Looked
from cozy_burrow.core.keep.rays import Hits, crossing, differs

Values = NDArray[np.floating]
MOST_ODDS = 4.0  # of one ray
_ANOTHER = 2.0  # that it is another thing than the one of the photo with all in their places, which happens seldom
_ANYTHING = 0.02  # the density of what is explained by nothing
# Of things of which nothing is known: their light against the foam's, and their colour: half of them are grey.
_THING_LEVEL, _THING_LEVEL_SPREAD, _GREY_SPREAD, _COLOUR_SPREAD = 0.5, 1.0, 0.07, 0.35
_SHADED, _SHADED_SPREAD = 0.6, 0.4  # by how much darker shadows are, where the photo shows none in what is empty anyway
_FEWEST_SHADED, _SURELY_SHADED = 200, 0.8
_LEAST_SHADED, _MOST_SHADED, _LEAST_SHADED_SPREAD = 0.15, 1.4, 0.2
_HOLLOW_SPREAD = 0.4  # of how much darker it is between walls: how much light comes from all round, nobody knows
_ONE_LEVEL_SPREAD, _ONE_HUE_SPREAD = 0.25, 0.05  # of a thing, about what most of it shows
_FEWEST_OF_A_COLOUR = 30  # cells
_AS_EMPTY = 1.0  # at most, what it counts against a thing that its colour is one of an empty place
_KNOWN_LEVEL_SPREAD, _KNOWN_HUE_SPREAD = 0.45, 0.09  # of the very thing in another light


@dataclass(frozen=True)
class Weighed:
    """What each ray of a photo says.

    odds: of a thing against the empty place; empty: how likely its light is of the empty place, as a logarithm.
    """

    odds: NDArray[np.float64]
    empty: NDArray[np.float64]


def weighed(now: Looked, then: Looked | None) -> Weighed:
    """Return what each ray says. then: a photo with everything in its place, or None."""
    level = now.look.level
    empty = np.full(level.shape, -50.0)
    of = kind_numbers(now.empty)
    due = due_level(now.kinds, of, now.empty, now.shine)
    shade = _shade_of(now, level - due)
    for number, kind in now.kinds.items():
        cells = of == number
        if cells.any():
            off, in_shade, hollow = (one[cells] for one in (level - due, now.shine.in_shade, now.shine.open_level))
            empty[cells] = _likely_empty(kind, off, in_shade, hollow, shade) + _likely_hue(kind, now.look, cells)
    thing = likely_thing(now.look, np.ones(level.shape, dtype=bool)).reshape(level.shape)
    empty = np.logaddexp(empty, thing + math.log(_ANYTHING))  # dust, a splinter, a mark: seldom, and of any colour
    if then is not None:
        very, known = likely_the_very(now.look, then, now.full)
        thing = np.where(known, np.maximum(very, thing - _ANOTHER), thing)
    _raise_of_one_colour(now, empty, thing)
    return Weighed(np.asarray(np.clip(thing - empty, -MOST_ODDS, MOST_ODDS), dtype=float), empty)


def _raise_of_one_colour(now: Looked, empty: NDArray[np.float64], thing: NDArray[np.float64]) -> None:
    """Raise how likely rays are of their things: what most of a thing shows is its colour, whatever that is.

    Nobody knew it before, so a colour that an empty place has anyway counts a little against the thing.
    """
    where = now.look.told & differs(now.full, now.empty)
    for number, body in enumerate(now.names):
        if not body:
            continue
        for side in (False, True):
            cells = where & (now.full.owner == number) & (now.full.side == side)
            if int(cells.sum()) < _FEWEST_OF_A_COLOUR:
                continue
            own = likely_of_colour(now.look, cells, cells)
            typical = own > np.median(own)
            usual = float(np.median((thing[cells] - empty[cells])[typical]))
            thing[cells] = np.logaddexp(thing[cells], own + np.clip(usual, -_AS_EMPTY, 0.0)) - math.log(2)


def likely_of_colour(look: Look, shown: Mask, cells: Mask) -> NDArray[np.float64]:
    """Return how likely the light of some cells is of the colour that most of those where it is shown have."""
    level = look.level[cells] - np.median(look.level[shown])
    hue = (look.hue[cells] - np.median(look.hue[shown], axis=0))[..., :2]
    likely = _gauss(level / _ONE_LEVEL_SPREAD, _ONE_LEVEL_SPREAD)
    spread = np.hypot(_ONE_HUE_SPREAD, look.coarse[cells][..., :2])
    return np.asarray(likely + _gauss(hue / spread, spread).sum(axis=-1), dtype=float)


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
        spread = np.hypot(_KNOWN_HUE_SPREAD, look.coarse[..., k])
        very += _gauss((look.hue[..., k] - one) / spread, spread)
    return very, np.asarray(known, dtype=bool)


def likely_thing(look: Look, cells: Mask) -> NDArray[np.float64]:
    """Return how likely the light of some cells is of a thing of which nothing is known."""
    hue, coarse = look.hue[cells][..., :2], look.coarse[cells][..., :2]
    likely = _gauss((look.level[cells] - _THING_LEVEL) / _THING_LEVEL_SPREAD, _THING_LEVEL_SPREAD)
    grey, coloured = (
        _gauss(hue / spread, spread).sum(axis=-1)
        for spread in (np.hypot(one, coarse) for one in (_GREY_SPREAD, _COLOUR_SPREAD))
    )
    return np.asarray(likely + np.logaddexp(grey, coloured) - math.log(2), dtype=float)


def _shade_of(now: Looked, off: Values) -> tuple[float, float]:
    """Return by how much darker a photo's shadows are, and how evenly so: one lamp, one room, so alike in all places.

    off: by how much brighter each ray is than due in the light. Told by pulls and clearances that lie in the shade.
    """
    pits = now.look.told & apart_from_things(now.full, now.empty) & ~now.empty.side & (now.empty.height_mm < -INTO_MM)
    dark = off[pits & (now.shine.in_shade > _SURELY_SHADED)]
    if len(dark) < _FEWEST_SHADED:
        return _SHADED, _SHADED_SPREAD
    middle = float(np.median(dark))
    spread = 1.48 * float(np.median(np.abs(dark - middle)))
    darker = min(_MOST_SHADED, max(_LEAST_SHADED, -middle))
    return darker, min(_SHADED_SPREAD, max(_LEAST_SHADED_SPREAD, spread))


def _likely_empty(
    kind: Kind, off: Values, in_shade: Values, hollow: Values, shade: tuple[float, float]
) -> NDArray[np.float64]:
    """Return how likely light is so bright of an empty surface.

    off: by how much brighter it is than due of it in the light; hollow: how much of that is walls round about;
    shade: by how much darker shadows are, and how evenly.
    """
    spread = np.hypot(kind.level_spread, _HOLLOW_SPREAD * hollow)
    likely = _normal(off / spread) - np.log(spread) + np.log1p(-in_shade)
    # In a cast shadow it is darker, the more so the deeper; nothing empty is brighter than that.
    darker, evenly = shade
    shaded = _normal((off + darker) / evenly) - math.log(evenly) + np.log(in_shade)
    return np.asarray(np.logaddexp(likely, shaded), dtype=float)


def _likely_hue(kind: Kind, look: Look, cells: Mask) -> NDArray[np.float64]:
    """Return how likely the colours of some cells are of an empty surface: in the dark they tell little."""
    spread = np.hypot(kind.hue_spread, look.coarse[cells])[..., :2]
    off = (look.hue[cells] - np.array(kind.hue))[..., :2]
    return np.asarray((_normal(off / spread) - np.log(spread)).sum(axis=-1), dtype=float)


def _normal(off: Values) -> NDArray[np.float64]:
    return np.asarray(-0.5 * off.astype(float) ** 2, dtype=float)


def _gauss(off: Values, spread: float | Values) -> NDArray[np.float64]:
    """Return the logarithm of a normal density; what is far off comes from something else, of which anything is due."""
    return np.logaddexp(-0.5 * off.astype(float) ** 2 - np.log(spread), math.log(_ANYTHING))
