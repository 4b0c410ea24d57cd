"""The lit picture of an insert at the size that it is looked at, whole or the part that a change touched.

Owners are told finer than the picture is, SHARP to a pixel each way, so that edges come out smooth.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
from shapely.errors import GEOSException

from cozy_burrow.core.container.bay import stack_mm
from cozy_burrow.core.ground.ground import Cutout, Ground
from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.progress import make_way
from cozy_burrow.core.relief.field import RIM_HIGH_MM, RIM_MM, Field, field_of, lying_in
from cozy_burrow.core.relief.finish import Look
from cozy_burrow.core.relief.grid import Grid
from cozy_burrow.core.relief.light import COARSEST, LOW_DEG, Pixels, lit

SHARP = 2
Bounds = tuple[float, float, float, float]
_AROUND_MM = 4.0  # that a thing which tilts may reach beyond where it lies
_CORNER_SEEN_MM = 16.0  # beyond, what is lower or higher takes less than a shade of a place's light
_CORNER_WHOLE_MM = 36.0  # beyond, it takes nothing
_INTO_POCKET_MM = 12.0
_AT_ONCE_PX = 1_000_000  # of a picture: more is made in bands, or it would take some hundred megabytes
_BAND_ROWS = 256  # a whole number of COARSEST
_MOST_SHARE = 0.7  # of the picture: where more has to be looked at, all of it is made anew
_QUICK_SHARE = 0.3


class Picture(Frozen):
    """A lit picture: pixels (rows, columns, 4) over a grid, and what it is a picture of.

    field: the heights and owners that it was lit from, so that only what changes in them must be found out anew; None
    for one that is too large to keep them.
    """

    __slots__ = ("field", "filled", "grid", "ground", "look", "pixels")

    def __init__(
        self, grid: Grid, pixels: Pixels, ground: Ground, look: Look, filled: bool, field: Field | None = None
    ) -> None:
        self.grid, self.pixels, self.ground, self.look, self.filled = grid, pixels, ground, look, filled
        self.field = field


def picture_of(
    ground: Ground, px_per_mm: float, look: Look, *, filled: bool = True, soon: bool = False, mends: bool = False
) -> Picture:
    """Return the picture of a whole insert with its container's wall.

    filled: with its things. soon: somebody waits: what is not known of how things rest is guessed. mends: it will be
    brought up to date, so it keeps what it was lit from where that is not too large.
    """
    grid = _whole_grid(ground, px_per_mm)
    if grid.rows * grid.columns <= _AT_ONCE_PX:
        field = field_of(ground, grid, look, filled=filled, soon=soon, sharp=SHARP)
        return Picture(grid, lit(field), ground, look, filled, field.kept() if mends else None)
    pixels, first = np.empty((*grid.shape, 4), dtype=np.uint8), 0
    for band in bands_of(ground, px_per_mm, look, filled=filled, soon=soon, sharp=SHARP):
        pixels[first : first + len(band)] = band
        first += len(band)
    return Picture(grid, pixels, ground, look, filled)


def picture_corner(ground: Ground, px_per_mm: float) -> tuple[float, float]:
    """Return where in the plan the back left corner of an insert's picture lies, mm."""
    grid = _whole_grid(ground, px_per_mm)
    return grid.left_mm, grid.top_mm


def bands_of(
    ground: Ground, px_per_mm: float, look: Look, *, filled: bool = True, soon: bool = False, sharp: int = 1
) -> Iterator[Pixels]:
    """Yield a large picture from the back to the front, in bands of some hundred rows: whole, it would take gigabytes.

    Each is what picture_of gives there within a shade: it is lit with what stands round it.
    """
    grid = _whole_grid(ground, px_per_mm)
    drop_mm = max(RIM_HIGH_MM, _highest(ground, grid.bounds)) + stack_mm(ground.insert.sheets)
    around_mm = max(_CORNER_WHOLE_MM, drop_mm / math.tan(math.radians(LOW_DEG)))
    for first in range(0, grid.rows, _BAND_ROWS):
        make_way()
        rows = min(_BAND_ROWS, grid.rows - first)
        top = grid.top_mm + first / px_per_mm
        band = Grid(left_mm=grid.left_mm, top_mm=top, px_per_mm=px_per_mm, columns=grid.columns, rows=rows)
        seen = _grid_in(grid, _wider(band.bounds, around_mm, _CORNER_WHOLE_MM))
        yield lit(field_of(ground, seen, look, filled=filled, soon=soon, sharp=sharp), band.place_in(seen))


def repainted(before: Picture, ground: Ground, *, soon: bool = False) -> Picture:
    """Return the picture of another ground, made anew only where it differs from the one before.

    It is the picture of that ground within a shade or two: far from what was touched light changes so little that
    nobody sees it.
    """
    if before.ground is ground:
        return before
    grid, scale = before.grid, before.grid.px_per_mm
    if not can_be_mended(before, ground):
        return picture_of(ground, scale, before.look, filled=before.filled, soon=soon, mends=True)
    patch = _patch(before, ground, soon=soon)
    if patch is None:
        return Picture(grid, before.pixels, ground, before.look, before.filled, before.field)
    touched, changed, seen = patch
    if seen.rows * seen.columns > _MOST_SHARE * grid.rows * grid.columns:
        return picture_of(ground, scale, before.look, filled=before.filled, soon=soon, mends=True)
    kept = None
    if before.field is None:
        field = field_of(ground, seen, before.look, filled=before.filled, soon=soon, sharp=SHARP)
    else:
        kept = before.field
        if touched is not None:
            part = field_of(ground, touched, before.look, filled=before.filled, soon=soon, sharp=SHARP)
            kept = kept.with_part(part)
        if kept is None:
            return picture_of(ground, scale, before.look, filled=before.filled, soon=soon, mends=True)
        field = kept.cut(seen.place_in(grid))
    pixels = before.pixels.copy()
    pixels[changed.place_in(grid)] = lit(field, changed.place_in(seen))
    return Picture(grid, pixels, ground, before.look, before.filled, kept)


def mends_quickly(before: Picture, ground: Ground) -> bool:
    """Return whether a picture of another ground differs from one in a small part only, so that somebody may wait."""
    if before.ground is ground:
        return True
    if not can_be_mended(before, ground):
        return False
    patch = _patch(before, ground, soon=True)
    return patch is None or patch[2].rows * patch[2].columns <= _QUICK_SHARE * before.grid.rows * before.grid.columns


def _patch(before: Picture, ground: Ground, *, soon: bool) -> tuple[Grid | None, Grid, Grid] | None:
    """Return what of a picture another ground changes: where it is built otherwise (None: beside the picture), where
    that changes the light, and what is looked at for that; None for nothing.
    """
    old, grid = before.ground, before.grid
    bounds = touched_bounds(old, ground, soon=soon)
    if bounds is None:
        return None
    # The light comes from the back left: what changes here changes what lies to the right and in front of it.
    beyond_mm = max(fall_mm(_highest(one, bounds)) for one in (old, ground))
    reached = _wider(bounds, _CORNER_SEEN_MM, max(_CORNER_SEEN_MM, beyond_mm))
    if not _meets(grid.bounds, reached):
        return None
    touched = _grid_in(grid, bounds) if _meets(grid.bounds, bounds) else None
    changed = _grid_in(grid, reached)
    farthest_mm = fall_mm(_highest(ground, grid.bounds))
    upstream_mm = fall_mm(_highest(ground, _wider(changed.bounds, farthest_mm, 0.0)))
    seen = _grid_in(grid, _wider(changed.bounds, max(_CORNER_SEEN_MM, upstream_mm), _CORNER_SEEN_MM))
    return touched, changed, seen


def can_be_mended(before: Picture, ground: Ground) -> bool:
    """Return whether a picture of another ground is one of the same foam in the same container."""
    return before.ground.bay is ground.bay and before.ground.layers == ground.layers


def touched_bounds(old: Ground, new: Ground, *, soon: bool = False) -> Bounds | None:
    """Return the bounds of all that is not cut, or does not lie, as it did; None where nothing differs.

    Where one of a row with a common trench moves, that is the two ends of its move and of the trench's change, not the
    whole row. soon: as in `picture_of`.
    """
    before, after = ({(one.kind, one.name): one for one in ground.cutouts} for ground in (old, new))
    differ = [(before.get(name), after.get(name)) for name in before.keys() | after.keys()]
    differ = [(one, other) for one, other in differ if one is not other]
    if not differ:
        return None
    found = [bounds for one, other in differ for bounds in _cut_otherwise(one, other)]
    owners = frozenset().union(*(cutout.owners for pair in differ for cutout in pair if cutout is not None))
    lay, lie = ({one.placement.id: one for one in lying_in(ground, soon=soon, only=owners)} for ground in (old, new))
    for key in lay.keys() | lie.keys():
        one, other = lay.get(key), lie.get(key)
        if one is None or other is None or not one.is_like(other):
            found += [lying.outline.bounds for lying in (one, other) if lying is not None]
    if not found:
        return None
    bounds = np.array(found)
    low, high = bounds[:, :2].min(axis=0) - _AROUND_MM, bounds[:, 2:].max(axis=0) + _AROUND_MM
    return float(low[0]), float(low[1]), float(high[0]), float(high[1])


def _cut_otherwise(one: Cutout | None, other: Cutout | None) -> list[Bounds]:
    """Return the bounds of what only one of two cutouts takes out of some layer."""
    if one is None or other is None or len(one.areas) != len(other.areas):
        return [cutout.bounds for cutout in (one, other) if cutout is not None]
    found, seen = [], set()
    for pair in zip(one.areas, other.areas):
        if (names := (id(pair[0]), id(pair[1]))) not in seen:
            seen.add(names)
            try:
                area = pair[0].symmetric_difference(pair[1])
            except GEOSException:  # edges that all but lie on each other
                return [one.bounds, other.bounds]
            if not area.is_empty:
                found.append(area.bounds)
    return found


def _highest(ground: Ground, within: Bounds) -> float:
    """Return how far the highest thing whose pocket reaches into some bounds stands out of the foam."""
    found = [
        pocket.seating.proud_mm
        for pocket, (left, top, right, bottom) in zip(ground.pockets.values(), ground.reach.tolist())
        if left <= within[2] and right >= within[0] and top <= within[3] and bottom >= within[1]
    ]
    return max(found, default=0.0)


def fall_mm(proud_mm: float) -> float:
    """Return how far the shadow falls of what stands out so far: over foam, and some way down into a pocket."""
    if proud_mm <= 0:
        return 0.0
    return (proud_mm + _INTO_POCKET_MM) / math.tan(math.radians(LOW_DEG))


def _whole_grid(ground: Ground, px_per_mm: float) -> Grid:
    left, top, right, bottom = ground.extent
    width, depth = ground.bay.container.width_mm, ground.bay.container.depth_mm
    bounds = (min(left, 0.0), min(top, 0.0), max(right, width), max(bottom, depth))
    return Grid.over(_wider(bounds, RIM_MM + 1.0, RIM_MM + 1.0), px_per_mm, by=COARSEST)


def _meets(one: Bounds, other: Bounds) -> bool:
    return one[0] < other[2] and one[2] > other[0] and one[1] < other[3] and one[3] > other[1]


def _grid_in(whole: Grid, bounds: Bounds) -> Grid:
    left, top, right, bottom = whole.bounds
    cut = (max(bounds[0], left), max(bounds[1], top), min(bounds[2], right), min(bounds[3], bottom))
    return Grid.over(cut, whole.px_per_mm, by=COARSEST)


def _wider(bounds: Bounds, back_left_mm: float, front_right_mm: float) -> Bounds:
    left, top, right, bottom = bounds
    return left - back_left_mm, top - back_left_mm, right + front_right_mm, bottom + front_right_mm
