"""How empty places look in one photo, learnt from what is empty in it anyway: pulls, clearances, foam between them.

Light is told against that of the foam's surface round about, so that lamps and corners of a room matter little:
level   the logarithm of how bright, all colours together
hue     that of each colour less the level: nought for what has the foam's own colour
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.keep.rays import Hits, Raster, light_table
from cozy_burrow.core.relief.field import FLOOR
from cozy_burrow.core.relief.grid import Window

Mask = NDArray[np.bool_]
_ROUND_MM = 14.0  # foam so near tells the light of a place
_DARKEST = 0.004
_SURFACE_MM = 0.6
_FEWEST = 60  # cells of a kind, or what is usual is taken instead
_USUAL_LEVEL, _USUAL_FALL = -0.35, -0.008  # of foam in a pocket, and for each millimetre down
_LEVEL_SPREAD, _HUE_SPREAD = 0.4, 0.05
_LEAST_SPREAD = 0.15  # of a floor's level in the light: foam is rough, corners are darker
_OTHER_LEVEL = 0.5  # no floor of the surface's own foam is so much brighter or darker in the light
_LIT = 0.05  # of the likelihood of shade: surely none
WALL, SURFACE = -1, -2  # of whatever colour the floor is, walls are foam; the foam's surface is what light is told by
_SHADED, _BRIGHTER, _OTHER_HUE = 0.7, 0.35, 0.2  # of what may be foam's surface, against most of it
_OFF_CELLS = 7  # from what may be seen of a thing, twice and one
_STEPS_OFF = 0.6
INTO_MM = 2.0  # deeper than that it is a pocket


@dataclass(frozen=True)
class Kind:
    """How one kind of empty surface looks."""

    level: float
    fall: float
    hue: tuple[float, float, float]
    level_spread: float
    hue_spread: float


# Nothing of the kind is surely seen in the photo: foam has its own colour, a contrasting floor may have any.
_WALL = Kind(_USUAL_LEVEL, _USUAL_FALL, (0.0, 0.0, 0.0), 1.3 * _LEVEL_SPREAD, 1.5 * _HUE_SPREAD)
_FOAM = Kind(0.0, 0.0, (0.0, 0.0, 0.0), 0.3, 1.5 * _HUE_SPREAD)
_UNKNOWN = Kind(0.4, 0.0, (0.0, 0.0, 0.0), 0.8, 0.35)


@dataclass(frozen=True)
class Shine:
    """What is known of the light in empty places.

    open_level: by how much less of it comes into a place with walls round it, as a level; in_shade: how likely it lies
    in the lamp's shadow; is_known: whether the lamp was found.
    """

    open_level: Raster
    in_shade: Raster
    is_known: bool

    @property
    def may_be_lit(self) -> Mask:
        """Where the shadow is not due."""
        return np.asarray(self.in_shade < 0.5, dtype=bool)


@dataclass(frozen=True)
class Look:
    """A photo against the foam's light: level (rows, columns), hue (rows, columns, 3), and where both can be told.

    coarse: how far off hues may be where it is dark, a standard deviation (rows, columns, 3).
    """

    level: Raster
    hue: Raster
    told: Mask
    coarse: Raster

    def part(self, window: Window) -> Look:
        """Return the look of some cells."""
        return Look(self.level[window], self.hue[window], self.told[window], self.coarse[window])


def look_of(light: Raster, shown: Mask, full: Hits, empty: Hits, foam: int, cell_mm: float) -> Look | None:
    """Return a photo's light against that of the foam's surface round about; None where hardly any foam is seen."""
    import cv2

    surface = shown & (full.owner == foam) & (empty.owner == foam) & ~full.side & ~empty.side
    surface &= np.abs(full.height_mm) < _SURFACE_MM
    # The edge of a pocket is neither surface nor wall.
    surface = cv2.erode(surface.astype(np.uint8), np.ones((3, 3), np.uint8)).astype(bool)
    if surface.mean() < 0.02:
        return None
    surface &= _of_one_colour(light, surface)
    if int(surface.sum()) < _FEWEST:
        return None
    weight = surface.astype(np.float32)
    round_cells = _ROUND_MM / cell_mm
    total = cv2.GaussianBlur(weight, (0, 0), round_cells)
    around = cv2.GaussianBlur(light * weight[..., None], (0, 0), round_cells)
    usual = np.median(light[surface], axis=0)
    base = (around + 0.02 * usual) / (total[..., None] + 0.02)
    ratio = np.log(np.maximum(light, _DARKEST * usual)) - np.log(np.maximum(base, _DARKEST * usual))
    level = ratio.mean(axis=-1)
    return Look(
        level=np.asarray(level, dtype=np.float32),
        hue=np.asarray(ratio - level[..., None], dtype=np.float32),
        told=shown,
        coarse=coarse_of(light),
    )


def coarse_of(light: Raster) -> Raster:
    """Return how far off the logarithm of each colour may be: a photo has light in 256 steps, wide ones in the dark.

    Noise, less over the pixels of a cell, is about as large as a step.
    """
    table = light_table().astype(float)
    off = _STEPS_OFF * np.gradient(table) / np.maximum(table, table[1])
    return np.asarray(np.interp(light, table, off), dtype=np.float32)


def _of_one_colour(light: Raster, surface: Mask) -> Mask:
    """Return where light is that of most of a surface, which changes smoothly over it: no mark, no thing laid over it.

    A quadratic over the picture in the logarithm of each colour, fitted again without what is far off.
    """
    rows, columns = np.nonzero(surface)
    every = max(1, len(rows) // 20_000)
    high, wide = surface.shape
    y, x = (np.asarray(one, dtype=float) for one in (2 * rows / high - 1, 2 * columns / wide - 1))
    terms = np.column_stack([np.ones(len(x)), x, y, x * x, x * y, y * y])
    seen = np.log(np.maximum(light[rows, columns], 1e-4))
    used = np.zeros(len(x), dtype=bool)
    used[::every] = True
    off = np.zeros(seen.shape)
    for _ in range(5):
        fit = np.linalg.lstsq(terms[used], seen[used], rcond=None)[0]
        off = seen - terms @ fit
        limit = np.maximum(0.1, 2.5 * np.median(np.abs(off[used]), axis=0))
        used = (np.abs(off) < limit).all(axis=1)
        used[np.arange(len(used)) % every != 0] = False
        if used.sum() < 100:
            break
    found = np.zeros(surface.shape, dtype=bool)
    level = off.mean(axis=1)
    hue = np.abs(off - level[:, None]).max(axis=1)
    found[rows, columns] = (level > -_SHADED) & (level < _BRIGHTER) & (hue < _OTHER_HUE)
    return found


def kinds_of(
    look: Look, full: Hits, empty: Hits, foam: int, colours: Mapping[int, tuple[int, int, int]], shine: Shine
) -> dict[int, Kind]:
    """Return how each kind of empty surface looks in the light.

    foam: whose the surface is; walls have its colour. colours: that the plan says of foams, by owner.
    """
    same = look.told & apart_from_things(full, empty)
    of = kind_numbers(empty)
    found = {}
    for number in np.unique(of).tolist():
        cells = same & (of == number)
        if number == SURFACE:
            kind = _surface(look, cells)
        elif number == WALL:
            kind = _wall(look, cells, -empty.height_mm) if int(cells.sum()) >= _FEWEST else _WALL
        else:
            seen = _floor(look, cells, shine)
            if number == foam:
                kind = seen if seen is not None and _is_foam(seen) else _FOAM
            else:
                kind = seen or _said(colours.get(number), colours.get(foam))
        found[int(number)] = kind
    return found


def apart_from_things(full: Hits, empty: Hits) -> Mask:
    """Return which rays meet what is empty anyway, whether things are in or not.

    Beside a thing it may be the thing that is seen: marks are stuck on by hand, things lie a little aside.
    """
    import cv2

    either = (full.owner != empty.owner) | (np.abs(full.height_mm - empty.height_mm) >= _SURFACE_MM)
    near = cv2.dilate(either.astype(np.uint8), np.ones((_OFF_CELLS, _OFF_CELLS), np.uint8))
    return np.asarray(near == 0)


def due_level(kinds: Mapping[int, Kind], of: NDArray[np.int16], empty: Hits, shine: Shine) -> Raster:
    """Return the level that is due of each ray by the kind of surface that it meets, in the light; of: those kinds."""
    due = np.zeros(of.shape, dtype=np.float32)
    for number, kind in kinds.items():
        cells = of == number
        due[cells] = kind.level - kind.fall * empty.height_mm[cells]
        if number >= 0:
            due[cells] += shine.open_level[cells]
    return due


def _said(colour: tuple[int, int, int] | None, foam: tuple[int, int, int] | None) -> Kind:
    """Return how a floor looks of which nothing is surely seen, by the colours that the plan says of it and the foam.

    Colours are told as screens have them.
    """
    if colour is None or foam is None:
        return _UNKNOWN
    light = light_table()
    apart = np.log(light[np.maximum(colour, 8)]) - np.log(light[np.maximum(foam, 8)])
    level = float(apart.mean())
    red, green, blue = (float(one) - level for one in apart)
    return Kind(level, 0.0, (red, green, blue), 1.5 * _LEVEL_SPREAD, 3 * _HUE_SPREAD)


def kind_numbers(empty: Hits) -> NDArray[np.int16]:
    """Return for each ray which kind of empty surface it meets: the owner of the floor, WALL or SURFACE."""
    of = np.where(empty.side & (empty.owner > FLOOR), WALL, empty.owner)  # the container's sides are of its own colour
    return np.asarray(np.where(~empty.side & (empty.height_mm > -INTO_MM), SURFACE, of), dtype=np.int16)


def _surface(look: Look, cells: Mask) -> Kind:
    """Return how the foam's surface and the container's rim look: like the foam's surface, but for shadows."""
    if int(cells.sum()) < _FEWEST:
        return Kind(0.0, 0.0, (0.0, 0.0, 0.0), 0.2, _HUE_SPREAD)
    level_spread = max(0.12, 1.48 * float(np.median(np.abs(look.level[cells]))))
    hue_spread = max(0.03, 1.2 * float(np.median(np.abs(look.hue[cells]).max(axis=-1))))
    return Kind(0.0, 0.0, (0.0, 0.0, 0.0), level_spread, hue_spread)


def _floor(look: Look, cells: Mask, shine: Shine) -> Kind | None:
    """Return how the floors of one owner look in the light, by what surely lies in it; None where hardly any does."""
    lit = cells & (shine.in_shade < _LIT)
    if int(lit.sum()) < _FEWEST:  # or nobody knows
        lit = cells & shine.may_be_lit
    if int(lit.sum()) < _FEWEST:
        return None
    level = look.level[lit] - shine.open_level[lit]
    # Where nobody knows what lies in the dark, the brighter half does not.
    usual = float(np.median(level) if shine.is_known else np.percentile(level, 70.0))
    near = np.abs(level - usual) < 0.5
    hues = look.hue[lit][near] if int(near.sum()) >= _FEWEST else look.hue[lit]
    hue = np.median(hues, axis=0)
    return Kind(
        level=usual,
        fall=0.0,
        hue=(float(hue[0]), float(hue[1]), float(hue[2])),
        level_spread=min(0.5, max(_LEAST_SPREAD, 1.48 * float(np.median(np.abs(level - usual))))),
        hue_spread=min(0.1, max(0.03, 1.2 * float(np.median(np.abs(hues - hue).max(axis=-1))))),
    )


def _is_foam(kind: Kind) -> bool:
    """Return whether a floor may be of the surface's own foam; else a mark or a thing was taken for it."""
    return abs(kind.level) < _OTHER_LEVEL and max(abs(one) for one in kind.hue) < _OTHER_HUE


def _wall(look: Look, cells: Mask, depth_mm: Raster) -> Kind:
    count = int(cells.sum())
    depth, level = depth_mm[cells], look.level[cells]
    # Two unknowns, held near what is usual where all lie at one depth.
    rows = np.column_stack([np.ones(count), depth])
    held = np.array([[30.0, 0.0], [0.0, 30.0 * 40.0]])
    weights = np.ones(count)
    terms = np.array([_USUAL_LEVEL, _USUAL_FALL])
    for _ in range(4):
        left = np.vstack([rows * weights[:, None], held * 0.05])
        right = np.concatenate([level * weights, 0.05 * np.array([30.0 * terms[0], 1200.0 * _USUAL_FALL])])
        terms = np.linalg.lstsq(left, right, rcond=None)[0]
        off = level - rows @ terms
        weights = 1 / np.maximum(1.0, np.abs(off) / (1.5 * max(0.05, float(np.median(np.abs(off))))))
    hue = np.median(look.hue[cells], axis=0)
    hue_off = np.abs(look.hue[cells] - hue).max(axis=-1)
    return Kind(
        level=float(terms[0]),
        fall=float(terms[1]),
        hue=(float(hue[0]), float(hue[1]), float(hue[2])),
        level_spread=max(0.2, 1.48 * float(np.median(np.abs(off)))),
        hue_spread=max(0.03, 1.2 * float(np.median(hue_off))),
    )
