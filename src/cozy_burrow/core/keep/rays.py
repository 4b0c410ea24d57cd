"""What each ray of a photo meets in the insert: with everything in its place, and with every place empty.

A photo is looked at where its rays cross the foam's surface: cell (row, column) of the grid is the ray through the
middle of that cell at the height nought. From there it is followed down (and from above, for what stands out) through
a field of heights in slices, until something is as high as it is.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.capture.photo.camera import Camera
from cozy_burrow.core.capture.photo.picture import Pixels
from cozy_burrow.core.relief.field import Field
from cozy_burrow.core.relief.grid import Grid, Window

Raster = NDArray[np.float32]
_SLICE_MM = 1.0
_WALL_MM = 1.6  # a ray that is so far below what stands there has met its side
_MAP_CELLS = 16  # where cells are seen is worked out so far apart, and is straight in between


@dataclass(frozen=True)
class Hits:
    """What rays meet. owner: a number in the field's finishes; height_mm: how high; side: a wall, or a thing's side.

    column, row: the cells over which they meet it.
    """

    owner: NDArray[np.int16]
    height_mm: Raster
    side: NDArray[np.bool_]
    column: Raster
    row: Raster

    def part(self, window: Window) -> Hits:
        """Return what the rays of some cells meet, in the cells of the whole."""
        return Hits(
            self.owner[window], self.height_mm[window], self.side[window], self.column[window], self.row[window]
        )


@cache
def light_table() -> NDArray[np.float32]:
    """Return the light, 0 to 1, of each of a photo's 256 values as sRGB has them (IEC 61966-2-1).

    A power of 2.2 is as good in the light, but has a third of the light of a value of 13: foam was bluer in shade.
    """
    value = np.arange(256) / 255
    return np.where(value <= 0.04045, value / 12.92, ((value + 0.055) / 1.055) ** 2.4).astype(np.float32)


def seen_from_above(pixels: Pixels, camera: Camera, grid: Grid) -> tuple[Raster, NDArray[np.bool_]]:
    """Return the light of a photo where its rays cross the foam's surface, (rows, columns, 3), and where it does."""
    import cv2

    corners = [np.linspace(0, count - 1, max(2, count // _MAP_CELLS + 2)) for count in (grid.rows, grid.columns)]
    rows, columns = np.meshgrid(*corners, indexing="ij")
    x = grid.left_mm + (columns + 0.5) / grid.px_per_mm
    y = grid.top_mm + (rows + 0.5) / grid.px_per_mm
    places = camera.pixels(np.column_stack([x.ravel(), y.ravel()])).reshape(*rows.shape, 2).astype(np.float32)
    at_row = np.arange(grid.rows, dtype=np.float32) * ((len(corners[0]) - 1) / max(1, grid.rows - 1))
    at_column = np.arange(grid.columns, dtype=np.float32) * ((len(corners[1]) - 1) / max(1, grid.columns - 1))
    wide = np.broadcast_to(at_column[None, :], grid.shape).astype(np.float32)
    high = np.broadcast_to(at_row[:, None], grid.shape).astype(np.float32)
    map_x, map_y = (cv2.remap(places[..., k].copy(), wide, high, cv2.INTER_LINEAR) for k in (0, 1))
    # As many of the photo's pixels as a cell covers are taken together, or thin bright lines come and go.
    step = float(np.hypot(*(np.diff(map_x, axis=1).mean(), np.diff(map_y, axis=1).mean())))
    light = cv2.LUT(pixels, light_table())
    if step > 1.5:
        light = cv2.GaussianBlur(light, (0, 0), 0.35 * step)
    found = cv2.remap(np.asarray(light, dtype=np.float32), map_x, map_y, cv2.INTER_LINEAR)
    high_px, wide_px = pixels.shape[:2]
    shown = (map_x > 1) & (map_y > 1) & (map_x < wide_px - 2) & (map_y < high_px - 2)
    return np.asarray(found, dtype=np.float32), np.asarray(shown, dtype=bool)


def hits(field: Field, camera: Camera) -> Hits:
    """Return what the rays through the cells of a field's own grid meet in it."""
    import cv2

    grid, height = field.grid, np.ascontiguousarray(field.height_mm)
    eye_x, eye_y, eye_z = camera.eye_mm
    rows, columns = (np.asarray(one, dtype=np.float32) for one in np.indices(grid.shape))
    x = grid.left_mm + (columns + np.float32(0.5)) / np.float32(grid.px_per_mm)
    y = grid.top_mm + (rows + np.float32(0.5)) / np.float32(grid.px_per_mm)
    # For a millimetre down from the foam's surface, in cells.
    lean_x = np.asarray((x - eye_x) / eye_z * grid.px_per_mm, dtype=np.float32)
    lean_y = np.asarray((y - eye_y) / eye_z * grid.px_per_mm, dtype=np.float32)
    met = np.zeros(grid.shape, dtype=bool)
    at_column, at_row = columns.copy(), rows.copy()
    where = np.full(grid.shape, float(height.min()), dtype=np.float32)
    highest, lowest = float(height.max()), float(height.min())
    for z in np.arange(np.ceil(highest), np.floor(lowest) - 1, -_SLICE_MM):
        column, row = columns - lean_x * np.float32(z), rows - lean_y * np.float32(z)
        there = cv2.remap(height, column, row, cv2.INTER_NEAREST, borderMode=cv2.BORDER_REPLICATE)
        now = ~met & (there >= z)
        at_column[now], at_row[now], where[now] = column[now], row[now], z
        met |= now
    into = (
        np.clip(np.rint(at_row).astype(int), 0, grid.rows - 1),
        np.clip(np.rint(at_column).astype(int), 0, grid.columns - 1),
    )
    owner = field.owner[:: field.sharp, :: field.sharp][into]
    top = height[into]
    side = np.asarray(top - where > _WALL_MM, dtype=bool)
    there = np.asarray(np.where(side, where, top), dtype=np.float32)
    return Hits(np.asarray(owner, dtype=np.int16), np.asarray(there, dtype=np.float32), side, at_column, at_row)


def differs(full: Hits, empty: Hits) -> NDArray[np.bool_]:
    """Return where a ray meets something else with the things in than without."""
    return np.asarray((full.owner != empty.owner) | (np.abs(full.height_mm - empty.height_mm) > 1.0), dtype=bool)


def crossing(camera: Camera, grid: Grid, column: Raster, row: Raster, height_mm: Raster) -> tuple[Raster, Raster]:
    """Return column and row of the cells whose rays, in a photo by a camera, go through places at some heights."""
    eye_x, eye_y, eye_z = camera.eye_mm
    eye_column = (eye_x - grid.left_mm) * grid.px_per_mm - 0.5
    eye_row = (eye_y - grid.top_mm) * grid.px_per_mm - 0.5
    swell = np.float32(eye_z) / (np.float32(eye_z) - height_mm)
    return (
        np.asarray(eye_column + (column - np.float32(eye_column)) * swell, dtype=np.float32),
        np.asarray(eye_row + (row - np.float32(eye_row)) * swell, dtype=np.float32),
    )
