"""Roll call: which places of an insert are filled, empty or unsure, from a photo of it.

Every ray of the photo meets one thing with everything in its place, and another with that place empty. What it shows
is weighed: how likely is this light of the empty surface there (learnt from what is empty in this photo anyway), how
likely of a thing, of which hardly anything is known, or of the very thing, where a photo with everything in its place
is given. A place is what most of its rays say; where they don't agree, it is unsure.

Odds   the logarithm of how much likelier a ray's light is of the thing than of the empty place
"""

from __future__ import annotations

import math
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.capture.photo.picture import Picture
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.keep.empty_look import Kind, Look, Mask, kind_numbers, kinds_of, look_of
from cozy_burrow.core.keep.rays import Hits, crossing, hits, seen_from_above
from cozy_burrow.core.keep.sight import DrawerSight, drawer_sight
from cozy_burrow.core.keep.turned import lying_turned
from cozy_burrow.core.model.records import Record
from cozy_burrow.core.relief import finish
from cozy_burrow.core.relief.field import CONTRAST, FOAM, RIM_MM, Field, Lying, field_of, lying_in
from cozy_burrow.core.relief.grid import Grid
from cozy_burrow.core.tongue import tr

State = Literal["filled", "empty", "unsure", "turned", "other"]
_MOST_CELLS = 600_000
_MOST_PX_PER_MM = 2.0
_MOST_ODDS = 4.0  # of one ray: dust, a glint, a splinter
_FEWEST_CELLS = 12
_ANOTHER = 2.0  # that it is another thing than the one of the photo with all in their places, which happens seldom
_ANYTHING = 0.02  # the density of what is explained by nothing
_SURE = 0.4  # of the balance of what speaks for the one and for the other
_FAINT, _LEAST_SPEAKS = 0.7, 0.02
_ROUND_MM, _FEWEST_MM2, _TURNED = 12.0, 40.0, 0.8
_EMPTY_COLOURS = finish.Look(foam=(60, 60, 60), contrast=(200, 120, 40), rim=(140, 120, 95), floor=(90, 90, 90))
# Of things of which nothing is known: their light against the foam's, and their colour: half of them are grey.
_THING_LEVEL, _THING_LEVEL_SPREAD, _GREY_SPREAD, _COLOUR_SPREAD = 0.5, 1.0, 0.07, 0.35
_KNOWN_LEVEL_SPREAD, _KNOWN_HUE_SPREAD = 0.45, 0.09  # of the very thing in another light


class Place(Record, frozen=True, kw_only=True):
    """What a photo says of one place.

    odds: 1 where all that speaks says that the thing is there, -1 where all says that it is not; seen: rays that speak.
    """

    key: str
    state: State
    why: str
    odds: float
    seen: int


class RollCall(Record, frozen=True, kw_only=True):
    """What a photo says of all places of an insert."""

    places: tuple[Place, ...]
    marks_found: int
    off_mm: float


class Looked:
    """One photo of an insert, laid onto it."""

    def __init__(self, ground: Ground, picture: Picture, *, where: str) -> None:
        self.sight: DrawerSight = drawer_sight(picture, ground.blank, where=where)
        left, back, right, front = ground.extent
        area = (right - left + 2 * RIM_MM) * (front - back + 2 * RIM_MM)
        scale = min(_MOST_PX_PER_MM, math.sqrt(_MOST_CELLS / area))
        self.grid = Grid.over((left - RIM_MM, back - RIM_MM, right + RIM_MM, front + RIM_MM), scale)
        full, empty = (field_of(ground, self.grid, _EMPTY_COLOURS, filled=filled) for filled in (True, False))
        self.names = tuple(one.body for one in full.finishes)
        self.lying = lying_in(ground)
        camera = self.sight.camera
        self.full, self.empty = hits(full, camera), hits(empty, camera)
        light, shown = seen_from_above(picture.pixels, camera, self.grid)
        foam = _surface(ground, empty)
        look = look_of(light, shown, self.full, self.empty, foam, 1 / self.grid.px_per_mm)
        if look is None:
            raise UnusableInput(
                tr("hardly any foam is seen"), where=where, remedy=tr("photograph the open insert from above")
            )
        self.look: Look = look
        self.kinds = kinds_of(look, self.full, self.empty, foam, _said_colours(empty))

    def owners(self, key: str) -> list[int]:
        """Return the numbers of a place's thing among the owners of what rays meet."""
        return [number for number, name in enumerate(self.names) if name == key]


def _said_colours(empty: Field) -> dict[int, tuple[int, int, int]]:
    """Return the colours that the plan says of layers, by the owner; those that it doesn't say may be any."""
    return {number: one.colour for number, one in enumerate(empty.finishes) if number > CONTRAST}


def _surface(ground: Ground, empty: Field) -> int:
    """Return whose the top layer's surface is."""
    first = ground.layers[0]
    if first.colour:
        return next(n for n, one in enumerate(empty.finishes) if one.colour == finish.rgb(first.colour) and n > FOAM)
    return FOAM


def roll_call(ground: Ground, picture: Picture, *, where: str, full: Picture | None = None) -> RollCall:
    """Return what a photo says of every place. full: a photo with everything in its place. Raises UnusableInput."""
    now = Looked(ground, picture, where=where)
    then = Looked(ground, full, where="--full") if full is not None else None
    odds = _odds(now, then)
    places = [_turned(ground, now, then, odds, _place(now, odds, key)) for key in ground.pockets]
    return RollCall(places=tuple(places), marks_found=now.sight.found, off_mm=now.sight.off_mm)


def _odds(now: Looked, then: Looked | None) -> NDArray[np.float64]:
    """Return for each ray the odds of a thing."""
    level, hue = now.look.level, now.look.hue
    empty = np.full(level.shape, -50.0)
    of = kind_numbers(now.empty)
    for number, kind in now.kinds.items():
        cells = of == number
        if cells.any():
            empty[cells] = _likely_empty(kind, level[cells], hue[cells], -now.empty.height_mm[cells])
    thing = _likely_thing(level, hue)
    if then is not None:
        very, known = _likely_the_very(now.look, then, now.full)
        thing = np.where(known, np.maximum(very, thing - _ANOTHER), thing)
    return np.clip(thing - empty, -_MOST_ODDS, _MOST_ODDS)


def _likely_the_very(look: Look, then: Looked, met: Hits) -> tuple[NDArray[np.float64], Mask]:
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


def _gauss(off: NDArray[np.floating], spread: float) -> NDArray[np.float64]:
    """Return the logarithm of a normal density; what is far off comes from something else, of which anything is due."""
    return np.logaddexp(-0.5 * off.astype(float) ** 2 - math.log(spread), math.log(_ANYTHING))


def _likely_empty(
    kind: Kind, level: NDArray[np.floating], hue: NDArray[np.floating], depth_mm: NDArray[np.floating]
) -> NDArray[np.float64]:
    due = kind.level + kind.fall * depth_mm
    likely = _gauss((level - due) / kind.level_spread, kind.level_spread)
    # In a cast shadow it is darker, the more so the deeper; nothing empty is brighter than that.
    shade = _gauss((level - due + 0.7) / (1.6 * kind.level_spread), 1.6 * kind.level_spread)
    likely = np.logaddexp(likely + math.log(0.7), shade + math.log(0.3))
    off = (hue - np.array(kind.hue))[..., :2] / kind.hue_spread
    return likely + _gauss(off, kind.hue_spread).sum(axis=-1)


def _likely_thing(level: NDArray[np.floating], hue: NDArray[np.floating]) -> NDArray[np.float64]:
    likely = _gauss((level - _THING_LEVEL) / _THING_LEVEL_SPREAD, _THING_LEVEL_SPREAD)
    grey = _gauss(hue[..., :2] / _GREY_SPREAD, _GREY_SPREAD).sum(axis=-1)
    coloured = _gauss(hue[..., :2] / _COLOUR_SPREAD, _COLOUR_SPREAD).sum(axis=-1)
    return likely + np.logaddexp(grey, coloured) - math.log(2)


def _place(now: Looked, odds: NDArray[np.float64], key: str) -> Place:
    cells = np.isin(now.full.owner, now.owners(key)) & now.look.told & _differs(now.full, now.empty)
    count = int(cells.sum())
    if count < _FEWEST_CELLS:
        return Place(key=key, state="unsure", why=tr("hardly seen from here"), odds=0.0, seen=count)
    # Most of a black thing's face may look like most of a black floor: what speaks at all is what counts.
    clear = np.sign(odds[cells]) * np.clip(np.abs(odds[cells]) - _FAINT, 0, None)
    speaks = int((clear != 0).sum())
    total = float(np.abs(clear).sum())
    balance = float(clear.sum()) / max(total, 1e-6)
    share = float((clear > 0).sum()) / max(1, speaks)
    least = max(_FEWEST_CELLS, _LEAST_SPEAKS * count)
    if speaks < least:
        return Place(key=key, state="unsure", why=tr("it looks like both"), odds=balance, seen=speaks)
    if abs(balance) < _SURE:
        return Place(key=key, state="unsure", why=_doubt(share), odds=balance, seen=speaks)
    state: State = "filled" if balance > 0 else "empty"
    return Place(key=key, state=state, why=_reason(state, share), odds=balance, seen=speaks)


def _turned(ground: Ground, now: Looked, then: Looked | None, odds: NDArray[np.float64], place: Place) -> Place:
    """Return what is said of a place, looked at whether its thing lies in it end for end."""
    if place.state == "empty" or place.seen < _FEWEST_CELLS:
        return place
    index = next(n for n, one in enumerate(now.lying) if one.placement.id == place.key)
    own = now.lying[index]
    things = [*now.lying[:index], lying_turned(own), *now.lying[index + 1 :]]
    bounds = np.array([_bounds(own), _bounds(things[index])])
    low, high = bounds[:, :2].min(axis=0) - _ROUND_MM, bounds[:, 2:].max(axis=0) + _ROUND_MM
    grid = Grid.over((float(low[0]), float(low[1]), float(high[0]), float(high[1])), now.grid.px_per_mm)
    grid = _within(grid, now.grid)
    window = grid.place_in(now.grid)
    field = field_of(ground, grid, _EMPTY_COLOURS, things=things)
    other = hits(field, now.sight.camera)
    is_other = np.isin(other.owner, [n for n, one in enumerate(field.finishes) if one.body == place.key])
    is_own = np.isin(now.full.owner[window], now.owners(place.key))
    told, there = now.look.told[window], odds[window]
    only_own, only_other = is_own & ~is_other & told, is_other & ~is_own & told
    count = int(only_own.sum() + only_other.sum())
    # What only the one covers looks empty, what only the other covers does not.
    speaks = float(there[only_other].sum() - there[only_own].sum()) / max(1, count)
    enough = count / grid.px_per_mm**2 > _FEWEST_MM2
    if enough and speaks > _TURNED and _half(there[only_own]) < 0 < _half(there[only_other]):
        why = tr("its outline lies the other way round")
        return Place(key=place.key, state="turned", why=why, odds=place.odds, seen=place.seen)
    return place


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


def _half(values: NDArray[np.float64]) -> float:
    return float(np.median(values)) if len(values) else 0.0


def _bounds(one: Lying) -> tuple[float, float, float, float]:
    where = one.placement
    return placed(polygon_of(one.item.outline), x_mm=where.x_mm, y_mm=where.y_mm, angle_deg=where.angle_deg).bounds


def _differs(full: Hits, empty: Hits) -> Mask:
    """Where a ray meets something else with the things in than without."""
    return np.asarray((full.owner != empty.owner) | (np.abs(full.height_mm - empty.height_mm) > 1.0), dtype=bool)


def _doubt(share: float) -> str:
    return tr("{share:.0%} of it looks like the item, the rest like an empty place", share=share)


def _reason(state: State, share: float) -> str:
    if state == "filled":
        return tr("{share:.0%} of it does not look like foam in a pocket", share=share)
    return tr("{share:.0%} of it looks like the bottom and walls of the pocket", share=1 - share)
