"""What one thing, or a row that shares a trench, looks like by itself: cut out of the lit picture with its shadow.

So it can be carried over the foam as it is lit: its pocket, its pulls and itself as they are, its shadow as a shade
that darkens whatever lies under it.
"""

from __future__ import annotations

import numpy as np
import shapely
from msgspec.structs import replace
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.model.memo import Frozen, memo
from cozy_burrow.core.model.pull_kinds import kind_of_pull
from cozy_burrow.core.relief.grid import Grid, covered
from cozy_burrow.core.relief.light import COARSEST, Pixels
from cozy_burrow.core.relief.picture import SHARP, Picture, fall_mm

_BEFORE_MM, _BEYOND_MM = 3.0, 4.0  # round all that is its own, and beyond its shadow
_FAINT = 4  # of 255: less shade than that is nobody's shadow
Shares = NDArray[np.float32]


class Sprite(Frozen):
    """Pixels (rows, columns, 4) over a grid: red, green, blue and how much they cover."""

    __slots__ = ("grid", "keys", "pixels")

    def __init__(self, grid: Grid, pixels: Pixels, keys: frozenset[str]) -> None:
        self.grid, self.pixels, self.keys = grid, pixels, keys


@memo(rows=16)
def bare_ground(ground: Ground) -> Ground:
    """Return the same foam in the same container with nothing taken out of it; itself where nothing is."""
    if not (ground.insert.placements or ground.insert.pulls):
        return ground
    return Ground(replace(ground.insert, placements=(), pulls=()), ground.rules, ground.bay, ground.layers, {}, ())


def rows_of(ground: Ground) -> tuple[frozenset[str], ...]:
    """Return the placements that are carried together: those that share a trench, each other one alone."""
    found: list[set[str]] = []
    for pull in ground.pulls:
        if kind_of_pull(pull.pull).shared:
            row = set(pull.reaches) | {key for key in pull.pull.serves if key in ground.pockets}
            for other in [one for one in found if one & row]:
                found.remove(other)
                row |= other
            found.append(row)
    together = set().union(*found)
    return (*map(frozenset, found), *(frozenset((key,)) for key in ground.pockets if key not in together))


def sprite_of(picture: Picture, bare: Picture, keys: frozenset[str]) -> Sprite | None:
    """Return what some placements of a picture look like with all that is cut for them; None where nothing is seen.

    bare: the picture of the same foam, uncut, over the same grid.
    """
    ground = picture.ground
    mine = _areas_of(ground, keys)
    own_bounds = shapely.total_bounds(np.array(mine, dtype=object)) if mine else np.full(4, np.nan)
    if np.isnan(own_bounds).any():
        return None
    left, top, right, bottom = (float(value) for value in own_bounds)
    fall = fall_mm(max(ground.pockets[key].seating.proud_mm for key in keys)) + _BEYOND_MM
    whole = picture.grid.bounds
    bounds = (
        max(left - _BEFORE_MM, whole[0]),
        max(top - _BEFORE_MM, whole[1]),
        min(right + fall, whole[2]),
        min(bottom + fall, whole[3]),
    )
    if bounds[0] >= bounds[2] or bounds[1] >= bounds[3]:
        return None  # it lies beside the picture
    grid = Grid.over(bounds, picture.grid.px_per_mm, by=COARSEST)
    there = grid.place_in(picture.grid)
    seen, under = picture.pixels[there], bare.pixels[there]
    own = _share_covered(mine, grid)
    others = _share_covered(_areas_of(ground, frozenset(ground.pockets) - keys), grid)
    light, before = (one[:, :, :3].astype(np.float32).sum(axis=2) for one in (seen, under))
    shade = np.where((before - light > 3 * _FAINT) & (others == 0), 1.0 - light / np.maximum(before, 1.0), 0.0)
    pixels = np.zeros((*grid.shape, 4), dtype=np.uint8)
    cover = own + (1.0 - own) * shade
    pixels[:, :, :3] = seen[:, :, :3] * (own / np.maximum(cover, 1e-6))[:, :, None]
    pixels[:, :, 3] = np.round(cover * 255.0)
    return Sprite(grid, pixels, keys)


def _areas_of(ground: Ground, keys: frozenset[str]) -> list[BaseGeometry]:
    """Return all that is cut for some placements, and what they cover themselves."""
    areas: list[BaseGeometry] = [one.areas[0] for one in ground.cutouts if one.areas and one.owners & keys]
    for where in ground.insert.placements:
        if where.id in keys:
            outline = polygon_of(ground.pockets[where.id].item.outline)
            areas.append(placed(outline, x_mm=where.x_mm, y_mm=where.y_mm, angle_deg=where.angle_deg))
    return areas


def _share_covered(areas: list[BaseGeometry], grid: Grid) -> Shares:
    """Return how much of each pixel is covered by any of some areas, 0 to 1."""
    import cv2

    fine = grid.finer(SHARP)
    mask = np.zeros(fine.shape, dtype=np.float32)
    for area in areas:
        found = covered(area, fine)
        if found is not None:
            mask[found[0]][found[1]] = 1.0
    smaller = cv2.resize(mask, (grid.columns, grid.rows), interpolation=cv2.INTER_AREA)
    share: Shares = np.asarray(smaller, dtype=np.float32)
    return share
