"""The height field of an insert: how high foam, container and things stand at every pixel, and whose surface that is.

height_mm counts up from the foam's surface: pockets are negative, what is proud positive. owner is a number in
`finishes`. Things stand as they come to rest, tilt counted; what hangs under an overhang is not seen from above and is
not in the field.

Colours have edges, light has hardly any: so owners may be told finer than heights, `sharp` of them to one each way.
"""

from __future__ import annotations

import math
from functools import cache

import numpy as np
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.container.bay import stack_mm
from cozy_burrow.core.container.blank import inside_polygon
from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.depth.settling import Pose
from cozy_burrow.core.geometry.placing import direction, placed
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.ground.sits import sitting_in
from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.model.records import Placement
from cozy_burrow.core.progress import make_way
from cozy_burrow.core.relief.finish import FOAM_GRAIN, Finish, Look, finish_of
from cozy_burrow.core.relief.grid import Grid, Mask, Window, covered
from cozy_burrow.core.relief.tops import top_at

RIM_MM = 9.0  # breadth of the container's wall in the picture
RIM_HIGH_MM = 8.0  # and no higher above the foam: the lower tier of a case would lie in the dark
_TILE = 512  # a power of two
Heights = NDArray[np.float32]
Values = NDArray[np.float32]
OUTSIDE, RIM, FLOOR, FOAM, CONTRAST = range(5)


class Field(Frozen):
    """Heights (rows, columns) in mm over a grid, grain (-1 to 1) of the same shape, owners and their finishes.

    sharp: rows and columns of owners to one of the grid.
    """

    __slots__ = ("finishes", "grain", "grid", "height_mm", "owner", "sharp")

    def __init__(
        self,
        grid: Grid,
        height_mm: Heights,
        owner: NDArray[np.int16],
        grain: NDArray[np.float32],
        finishes: tuple[Finish, ...],
        sharp: int = 1,
    ) -> None:
        self.grid, self.height_mm, self.owner, self.grain, self.finishes = grid, height_mm, owner, grain, finishes
        self.sharp = sharp


def field_of(
    ground: Ground, grid: Grid, look: Look, *, filled: bool = True, soon: bool = False, sharp: int = 1
) -> Field:
    """Return the height field of an insert over a grid.

    filled: with its things; else as the empty places will look. soon: somebody waits: a thing whose rest is not worked
    out yet stands as it was seated. sharp: how much finer owners are told, a power of two.
    """
    build = _Build(ground, grid, look, sharp)
    build.container()
    build.foam()
    if filled:
        placements = {one.id: one for one in ground.insert.placements}
        for key, pocket in ground.pockets.items():
            known = not soon or sitting_in.knows(ground, key)
            pose = sitting_in(ground, key).pose if known else Pose(datum_mm=pocket.seating.datum_mm)
            build.thing(pocket, placements[key], pose)
    return build.done()


class _Build:
    """Everything is built in the fineness of the owners; grain, which light alone asks for, in that of the grid."""

    def __init__(self, ground: Ground, grid: Grid, look: Look, sharp: int) -> None:
        self._ground, self._whole, self._sharp = ground, grid, sharp
        self._grid = grid.finer(sharp)
        low = -stack_mm(ground.insert.sheets)
        self._height: Heights = np.full(self._grid.shape, low, dtype=np.float32)
        self._owner: NDArray[np.int16] = np.full(self._grid.shape, OUTSIDE, dtype=np.int16)
        self._grain: NDArray[np.float32] = np.zeros(grid.shape, dtype=np.float32)
        self._finishes = [
            Finish(colour=look.rim),  # nobody looks at what is outside
            Finish(colour=look.rim, grain="wood", grain_share=0.08),
            Finish(colour=look.floor),
            Finish(colour=look.foam, grain="foam", grain_share=FOAM_GRAIN),
            Finish(colour=look.contrast, grain="foam", grain_share=FOAM_GRAIN),
        ]

    def container(self) -> None:
        """Put the wall round the foam, and the floor under it."""
        bay = self._ground.bay
        inside = inside_polygon(bay.container)
        rim_mm = min(RIM_HIGH_MM, bay.container.height_mm - bay.top_mm)
        wall = inside.buffer(RIM_MM, join_style="round")
        self._fill(wall, RIM, max(-stack_mm(bay.sheets) + 1.0, rim_mm))
        self._fill(inside, FLOOR, -stack_mm(bay.sheets))

    def foam(self) -> None:
        """Lay the foam in and take out of every layer what is cut from it."""
        ground = self._ground
        self._fill(ground.blank, FOAM, 0.0)
        self._lay_grain()
        for cutout in ground.cutouts:
            make_way()
            for number, area in enumerate(cutout.areas, start=1):
                # Where the next layer takes the very same away, this one is not seen.
                if number < len(cutout.areas) and cutout.areas[number] is area:
                    continue
                found = covered(area, self._grid)
                if found is not None:
                    self._dig(found[0], found[1], number)

    def _dig(self, window: Window, mask: NDArray[np.bool_], number: int) -> None:
        layers = self._ground.layers
        height, owner = self._height[window], self._owner[window]
        deeper = mask & (height > -layers[number - 1].bottom_mm) & (owner != RIM)
        np.copyto(height, np.float32(-layers[number - 1].bottom_mm), where=deeper)
        seen = FLOOR if number == len(layers) else CONTRAST if layers[number].contrast else FOAM
        np.copyto(owner, np.int16(seen), where=deeper)

    def _fill(self, area: BaseGeometry, owner: int, height_mm: float) -> None:
        found = covered(area, self._grid)
        if found is not None:
            window, mask = found
            np.copyto(self._height[window], np.float32(height_mm), where=mask)
            np.copyto(self._owner[window], np.int16(owner), where=mask)

    def _lay_grain(self) -> None:
        """Lay the noise of foam over everything, always the same at the same place of the plan."""
        row, column = self._grid.first
        begun = np.roll(_noise(), (-row % _TILE, -column % _TILE), axis=(0, 1))[:: self._sharp, :: self._sharp]
        times = [-(-count // (_TILE // self._sharp)) for count in self._whole.shape]
        self._grain = np.tile(begun, times)[: self._whole.rows, : self._whole.columns]

    def thing(self, pocket: Pocket, placement: Placement, pose: Pose) -> None:
        """Put a thing into its pocket as it comes to rest there."""
        make_way()
        item = pocket.item
        for number, zone in enumerate(item.zones):
            region = placed(
                polygon_of(zone.region), x_mm=placement.x_mm, y_mm=placement.y_mm, angle_deg=placement.angle_deg
            )
            found = covered(region, self._grid)
            if found is None:
                continue
            window, mask = found
            x, y = self._own_points(placement, window, mask)
            top = top_at(zone, x, y) - np.float32(pose.datum_mm)
            if pose.slope_x or pose.slope_y:
                top -= x * np.float32(pose.slope_x) + y * np.float32(pose.slope_y)
            seen = top > self._height[window][mask]
            if not seen.all():
                mask[mask] = seen
                x, y, top = x[seen], y[seen], top[seen]
            finish = finish_of(item, number, placement.id)
            self._height[window][mask] = top
            self._owner[window][mask] = len(self._finishes)
            if finish.grain_share > 0:  # else nobody looks at what lies there
                self._lay_grain_of(finish, x, y, _axis_deg(zone.axis), window, mask)
            self._finishes.append(finish)

    def _lay_grain_of(self, finish: Finish, x: Values, y: Values, axis_deg: float, window: Window, mask: Mask) -> None:
        """Lay a thing's grain over the pixels of a mask, which are at x and y of its own."""
        sharp = self._sharp
        first = tuple(-one.start % sharp for one in window)
        every = (slice(first[0], None, sharp), slice(first[1], None, sharp))
        asked = np.zeros(mask.shape, dtype=bool)
        asked[every] = True
        asked = asked[mask]
        rows, columns = (slice(-(-one.start // sharp), None) for one in window)
        there = mask[every]
        place = self._grain[rows, columns][: there.shape[0], : there.shape[1]]
        place[there] = grain_at(finish.grain, x[asked], y[asked], axis_deg)

    def _own_points(self, placement: Placement, window: Window, mask: Mask) -> tuple[Values, Values]:
        """Return the pixels of a mask in the coordinates of a placed item."""
        x, y = self._grid.middles(window)
        x, y = x - placement.x_mm, y - placement.y_mm
        cos, sin = direction(placement.angle_deg)
        along = (cos * x).astype(np.float32)[None, :] + (sin * y).astype(np.float32)[:, None]
        across = (-sin * x).astype(np.float32)[None, :] + (cos * y).astype(np.float32)[:, None]
        return along[mask], across[mask]

    def done(self) -> Field:
        """Return the field."""
        height = np.ascontiguousarray(self._height[:: self._sharp, :: self._sharp])
        return Field(self._whole, height, self._owner, self._grain, tuple(self._finishes), self._sharp)


def _axis_deg(axis: tuple[tuple[float, float], tuple[float, float]] | None) -> float:
    if axis is None:
        return 0.0
    (x0, y0), (x1, y1) = axis
    return math.degrees(math.atan2(y1 - y0, x1 - x0))


# How many pixels of noise a millimetre along and across a thing are.
_STEPS = {"wood": (0.5, 5.0), "brushed": (0.8, 14.0), "nap": (5.0, 5.0)}


def grain_at(grain: str, x: Values, y: Values, axis_deg: float) -> Values:
    """Return the grain (-1 to 1) of a thing at points of its own: it goes with the thing."""
    along, across = _STEPS[grain]
    cos, sin = math.cos(math.radians(axis_deg)), math.sin(math.radians(axis_deg))
    column = np.floor((x * cos + y * sin) * along).astype(np.int32) & (_TILE - 1)
    row = np.floor((y * cos - x * sin) * across).astype(np.int32) & (_TILE - 1)
    found: Values = _noise()[row, column]
    return found


@cache
def _noise() -> NDArray[np.float32]:
    """Return a tile of noise, -1 to 1, that goes on at its edges; always the same."""
    from scipy import ndimage

    rough = np.random.default_rng(7).standard_normal((_TILE, _TILE)).astype(np.float32)
    fine = ndimage.gaussian_filter(rough, 0.7, mode="wrap")
    coarse = ndimage.gaussian_filter(rough, 4.0, mode="wrap")
    mixed = fine / fine.std() * 0.75 + coarse / coarse.std() * 0.4
    tile: NDArray[np.float32] = np.clip(mixed / 2.5, -1.0, 1.0).astype(np.float32)
    return tile
