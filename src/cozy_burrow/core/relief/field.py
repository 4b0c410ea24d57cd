"""The height field of an insert: how high foam, container and things stand at every pixel, and whose surface that is.

height_mm counts up from the foam's surface: pockets are negative, what is proud positive. owner is a number in
`finishes`. Things stand as they come to rest, tilt counted; what hangs under an overhang is not seen from above and is
not in the field.

Colours have edges, light has hardly any: so owners may be told finer than heights, `sharp` of them to one each way.
"""

from __future__ import annotations

import math
from collections.abc import Container, Sequence
from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.container.bay import stack_mm
from cozy_burrow.core.container.blank import inside_polygon
from cozy_burrow.core.depth.settling import Pose
from cozy_burrow.core.foam.layers import Layer
from cozy_burrow.core.geometry.placing import direction, placed
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.ground.sits import sits_known, sitting_in
from cozy_burrow.core.model.materials import said_of
from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.model.records import Item, Placement
from cozy_burrow.core.progress import make_way
from cozy_burrow.core.relief.finish import FOAM_GRAIN, Finish, Look, finish_of, rgb
from cozy_burrow.core.relief.grid import Grid, Mask, Window, covered, runs_of
from cozy_burrow.core.relief.photo import Texture, texture_of
from cozy_burrow.core.relief.tops import top_at

RIM_MM = 9.0  # breadth of the container's wall in the picture
RIM_HIGH_MM = 8.0  # and no higher above the foam: the lower tier of a case would lie in the dark
_TILE = 512  # a power of two
_SAME_MM, _SAME_SLOPE = 0.002, 1e-5  # nobody sees less
_FEW = 256  # owners that a byte tells apart
Heights = NDArray[np.float32]
Values = NDArray[np.float32]
Owners = NDArray[np.integer[Any]]
OUTSIDE, RIM, FLOOR, FOAM, CONTRAST = range(5)


class Field(Frozen):
    """Heights (rows, columns) in mm over a grid, grain (-1 to 1) of the same shape, owners and their finishes.

    sharp: rows and columns of owners to one of the grid. texture: colours from photos (rows, columns, 3) and where
    they lie; None where there are none.
    """

    __slots__ = ("finishes", "grain", "grid", "height_mm", "owner", "sharp", "texture")

    def __init__(
        self,
        grid: Grid,
        height_mm: Heights,
        owner: Owners,
        grain: NDArray[np.floating[Any]],
        finishes: tuple[Finish, ...],
        sharp: int = 1,
        texture: tuple[NDArray[np.uint8], Mask] | None = None,
    ) -> None:
        self.grid, self.height_mm, self.owner, self.grain, self.finishes = grid, height_mm, owner, grain, finishes
        self.sharp, self.texture = sharp, texture

    def cut(self, part: Window) -> Field:
        """Return the same field of some of its pixels only."""
        rows, columns = part
        finer = tuple(slice(one.start * self.sharp, one.stop * self.sharp) for one in part)
        texture = None if self.texture is None else (self.texture[0][part], self.texture[1][part])
        grid = Grid(
            left_mm=self.grid.left_mm + columns.start / self.grid.px_per_mm,
            top_mm=self.grid.top_mm + rows.start / self.grid.px_per_mm,
            px_per_mm=self.grid.px_per_mm,
            columns=columns.stop - columns.start,
            rows=rows.stop - rows.start,
        )
        return Field(
            grid, self.height_mm[part], self.owner[finer], self.grain[part], self.finishes, self.sharp, texture
        )

    def kept(self) -> Field:
        """Return the same field in less memory; its grain is true to a thousandth."""
        grain = self.grain.astype(np.float16)
        return Field(self.grid, self.height_mm, self.owner, grain, self.finishes, self.sharp, self.texture)

    def with_part(self, part: Field) -> Field | None:
        """Return this field with some of its pixels as another field of them has it.

        None where they have more owners by then than are told apart here: those of former times stay in `finishes`.
        """
        finishes = list(self.finishes)
        # What is no thing's has the same numbers in every field.
        numbers = {one: number for number, one in enumerate(finishes) if number > CONTRAST}
        table = np.arange(len(part.finishes))
        for number, one in enumerate(part.finishes):
            if number > CONTRAST:
                if one not in numbers:
                    numbers[one] = len(finishes)
                    finishes.append(one)
                table[number] = numbers[one]
        if len(finishes) > np.iinfo(self.owner.dtype).max:
            return None
        place = part.grid.place_in(self.grid)
        finer = tuple(slice(one.start * self.sharp, one.stop * self.sharp) for one in place)
        height, owner, grain, texture = self.height_mm.copy(), self.owner.copy(), self.grain.copy(), self.texture
        height[place], owner[finer], grain[place] = part.height_mm, table[part.owner], part.grain
        if texture is not None or part.texture is not None:
            texture = _no_texture(self.grid) if texture is None else (texture[0].copy(), texture[1].copy())
            colours, there = part.texture if part.texture is not None else _no_texture(part.grid)
            texture[0][place], texture[1][place] = colours, there
        return Field(self.grid, height, owner, grain, tuple(finishes), self.sharp, texture)


def _no_texture(grid: Grid) -> tuple[NDArray[np.uint8], Mask]:
    return np.zeros((*grid.shape, 3), dtype=np.uint8), np.zeros(grid.shape, dtype=bool)


class Lying(Frozen):
    """A thing as it lies: its placement says where, its pose how deep and how askew."""

    __slots__ = ("item", "placement", "pose")

    def __init__(self, item: Item, placement: Placement, pose: Pose) -> None:
        self.item, self.placement, self.pose = item, placement, pose

    @property
    def outline(self) -> Polygon:
        """Its outline in the plan."""
        where = self.placement
        return placed(polygon_of(self.item.outline), x_mm=where.x_mm, y_mm=where.y_mm, angle_deg=where.angle_deg)

    def is_like(self, other: Lying) -> bool:
        """Return whether another lies just there too, and looks the same."""
        here, there = self.placement, other.placement
        same_place = (here.x_mm, here.y_mm, here.angle_deg) == (there.x_mm, there.y_mm, there.angle_deg)
        pose, its = self.pose, other.pose
        same_pose = abs(pose.datum_mm - its.datum_mm) < _SAME_MM and (
            max(abs(pose.slope_x - its.slope_x), abs(pose.slope_y - its.slope_y)) < _SAME_SLOPE
        )
        return self.item is other.item and same_place and same_pose


def lying_in(ground: Ground, *, soon: bool = False, only: Container[str] | None = None) -> tuple[Lying, ...]:
    """Return the things of an insert, or only some, as they come to rest.

    soon: as they were seated, where that is not known yet.
    """
    placements = {one.id: one for one in ground.insert.placements}
    found = []
    for key, pocket in ground.pockets.items():
        if only is not None and key not in only:
            continue
        known = not soon or sits_known(ground, key)
        pose = sitting_in(ground, key).pose if known else Pose(datum_mm=pocket.seating.datum_mm)
        found.append(Lying(pocket.item, placements[key], pose))
    return tuple(found)


def field_of(
    ground: Ground,
    grid: Grid,
    look: Look,
    *,
    filled: bool = True,
    soon: bool = False,
    sharp: int = 1,
    things: Sequence[Lying] | None = None,
) -> Field:
    """Return the height field of an insert over a grid.

    filled: with its things; else as the empty places will look. soon: somebody waits: a thing whose rest is not worked
    out yet stands as it was seated. sharp: how much finer owners are told, a power of two. things: other things than
    those that are planned, where something is missing or lies otherwise.
    """
    build = _InsertBuild(ground, grid, look, sharp)
    build.container()
    build.foam()
    if filled:
        for one in lying_in(ground, soon=soon) if things is None else things:
            build.thing(one.item, one.placement, one.pose)
    return build.done()


def field_of_item(item: Item, grid: Grid, *, sharp: int = 1) -> Field:
    """Return the height field of an item by itself, in its own coordinates, its lowest point at 0."""
    build = _Build(grid, sharp, 0.0, [Finish(colour=(0, 0, 0))])
    lowest = min(zone.lowest_mm for zone in item.zones)
    build.thing(item, Placement(id="", item_id=item.id, copy=1, x_mm=0.0, y_mm=0.0), Pose(datum_mm=lowest))
    return build.done()


class _Build:
    """Everything is built in the fineness of the owners; grain, which light alone asks for, in that of the grid."""

    def __init__(self, grid: Grid, sharp: int, low_mm: float, finishes: list[Finish]) -> None:
        self._whole, self._sharp = grid, sharp
        self._grid = grid.finer(sharp)
        self._height: Heights = np.full(self._grid.shape, low_mm, dtype=np.float32)
        self._owner: NDArray[np.int16] = np.full(self._grid.shape, OUTSIDE, dtype=np.int16)
        self._grain: NDArray[np.float32] = np.zeros(grid.shape, dtype=np.float32)
        self._finishes = finishes
        self._texture: tuple[NDArray[np.uint8], Mask] | None = None  # made once there is a photo

    def _fill(self, area: BaseGeometry, owner: int, height_mm: float) -> None:
        for block in runs_of(area, self._grid):
            self._height[block] = height_mm
            self._owner[block] = owner

    def thing(self, item: Item, placement: Placement, pose: Pose) -> None:
        """Put a thing where it lies, as it comes to rest there."""
        make_way()
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
            self._finishes.append(finish)
            is_named = said_of(item.colour, number) != ""  # who says a colour wants to see it
            photo = None if is_named else item.photo
            shown = texture_of(photo, self._whole.px_per_mm) if photo is not None else None
            if shown is None and finish.grain_share <= 0 and self._texture is None:
                continue  # nobody looks at what lies there
            place, there, asked = self._pixels_of(window, mask)
            x, y = x[asked], y[asked]
            if shown is not None or self._texture is not None:
                self._lay_texture(shown, x, y, place, there)
            if shown is None and finish.grain_share > 0:
                self._grain[place][there] = grain_at(finish.grain, x, y, _axis_deg(zone.axis))
            elif shown is not None:
                self._grain[place][there] = 0.0  # a photo has its own

    def _pixels_of(self, window: Window, mask: Mask) -> tuple[Window, Mask, Mask]:
        """Return the grid's pixels of a mask of owners: their window, which of it, and which of the mask's points."""
        sharp = self._sharp
        first = tuple(-one.start % sharp for one in window)
        every = (slice(first[0], None, sharp), slice(first[1], None, sharp))
        asked = np.zeros(mask.shape, dtype=bool)
        asked[every] = True
        there = mask[every]
        row, column = (-(-one.start // sharp) for one in window)
        place = (slice(row, row + there.shape[0]), slice(column, column + there.shape[1]))
        return place, there, asked[mask]

    def _lay_texture(self, shown: Texture | None, x: Values, y: Values, place: Window, there: Mask) -> None:
        """Lay a thing's photo over its pixels, at x and y of its own; without one, take off what lay there."""
        if self._texture is None:
            self._texture = _no_texture(self._whole)
        colours, covered_by = self._texture
        covered_by[place][there] = shown is not None
        if shown is not None:
            colours[place][there] = shown.at(x, y)

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
        finishes = tuple(self._finishes)
        owner: Owners = self._owner.astype(np.uint8) if len(finishes) <= _FEW else self._owner
        return Field(self._whole, height, owner, self._grain, finishes, self._sharp, self._texture)


class _InsertBuild(_Build):
    def __init__(self, ground: Ground, grid: Grid, look: Look, sharp: int) -> None:
        super().__init__(
            grid,
            sharp,
            -stack_mm(ground.insert.sheets),
            [
                Finish(colour=look.rim),  # nobody looks at what is outside
                Finish(colour=look.rim, grain="wood", grain_share=0.08),
                Finish(colour=look.floor),
                Finish(colour=look.foam, grain="foam", grain_share=FOAM_GRAIN),
                Finish(colour=look.contrast, grain="foam", grain_share=FOAM_GRAIN),
            ],
        )
        self._ground = ground
        self._foams = [self._foam(layer) for layer in ground.layers]

    def _foam(self, layer: Layer) -> int:
        """Return whose surface a layer's is: that of all foam, or of all of its colour where it has one of its own."""
        if not layer.colour:
            return CONTRAST if layer.contrast else FOAM
        finish = Finish(colour=rgb(layer.colour), grain="foam", grain_share=FOAM_GRAIN)
        if finish not in self._finishes:
            self._finishes.append(finish)
        return self._finishes.index(finish)

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
        self._fill(ground.blank, self._foams[0], 0.0)
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
        seen = FLOOR if number == len(layers) else self._foams[number]
        np.copyto(owner, np.int16(seen), where=deeper)

    def _lay_grain(self) -> None:
        """Lay the noise of foam over everything, always the same at the same place of the plan."""
        row, column = self._grid.first
        begun = np.roll(_noise(), (-row % _TILE, -column % _TILE), axis=(0, 1))[:: self._sharp, :: self._sharp]
        times = [-(-count // (_TILE // self._sharp)) for count in self._whole.shape]
        self._grain = np.tile(begun, times)[: self._whole.rows, : self._whole.columns]


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
