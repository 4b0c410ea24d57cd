"""The cut-out of an item's photo: made once from the picture on the retouch bench, with the light taken out, and read.

A photo has its own light: a round handle is brighter on one side, a shadow lies along the other. The relief lights the
item anew, so that light must go: over the breadth of the item lightness is levelled. What is small (print, grain,
scratches) stays, and so do colours; a dark handle stays darker than its bright shaft.
"""

from __future__ import annotations

import io
import math

import numpy as np
from msgspec.structs import replace
from numpy.typing import NDArray
from shapely.geometry import Polygon

from cozy_burrow.core.geometry.axes import long_axis_deg
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.memo import Frozen, memo
from cozy_burrow.core.model.records import Item, Photo, Point
from cozy_burrow.core.relief.grid import Grid, Mask, covered

MOST_BYTES = 300_000
_MOST_LONG_PX = 1400
_MOST_PX = 4_000_000  # of a picture that comes in a file: what is larger was made to harm
_AROUND_MM = 1.0
_FRINGE_MM = 0.6  # at the edge, where the paper shines through
_CELL_MM, _SHADE_CELLS = 1.5, 1.5  # what is smaller across a thing than these is its own: print, grain, scratches
_GAIN = (0.5, 2.0)
_QUALITIES = (88, 78, 66, 52, 38)
Pixels = NDArray[np.uint8]
Values = NDArray[np.float32]


def cut_out(shape: Polygon, pixels: Pixels, origin_mm: Point, cell_mm: float) -> Photo | None:
    """Return the cut-out of what a picture shows in an area of its paper, evenly lit; None where it shows nothing.

    pixels: (rows, columns, 3), cells of cell_mm, the first at origin_mm. It lies in the paper's coordinates.
    """
    import cv2

    left, top, right, bottom = shape.bounds
    longest = max(right - left, bottom - top) + 2 * _AROUND_MM
    scale = min(1.0 / cell_mm, _MOST_LONG_PX / longest)
    grid = Grid.over((left - _AROUND_MM, top - _AROUND_MM, right + _AROUND_MM, bottom + _AROUND_MM), scale)
    x, y = grid.middles((slice(0, grid.rows), slice(0, grid.columns)))
    column, row = ((at - first) / cell_mm - 0.5 for at, first in zip((x, y), origin_mm))
    rows, columns = pixels.shape[:2]
    if column[-1] < 0 or row[-1] < 0 or column[0] > columns - 1 or row[0] > rows - 1:
        return None
    coarser = 1.0 / (scale * cell_mm)
    # Several cells to a pixel: each must count.
    source = pixels if coarser < 1.5 else np.asarray(cv2.GaussianBlur(pixels, (0, 0), 0.4 * coarser), dtype=np.uint8)
    maps = [np.asarray(one, dtype=np.float32) for one in np.meshgrid(column, row)]
    colours = np.asarray(
        cv2.remap(source, maps[0], maps[1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE), dtype=np.float32
    )
    inside = _mask_of(shape, grid)
    if inside is None:
        return None
    colours = _without_fringe(colours, inside, scale)
    colours = _evened(colours, inside, shape, grid)
    return Photo(
        jpeg=_as_jpeg(np.clip(np.round(colours), 0, 255).astype(np.uint8)),
        left_mm=grid.left_mm,
        top_mm=grid.top_mm,
        px_per_mm=grid.px_per_mm,
    )


def moved_photo(photo: Photo, *, factor: float, about_mm: Point, shift_mm: Point) -> Photo:
    """Return a photo that is so many times as large about a point, and then shifted."""
    left, top = (
        middle + (edge - middle) * factor + shift
        for edge, middle, shift in zip((photo.left_mm, photo.top_mm), about_mm, shift_mm)
    )
    return replace(photo, left_mm=left, top_mm=top, px_per_mm=photo.px_per_mm / factor)


def _without_fringe(colours: Values, inside: Mask, px_per_mm: float) -> Values:
    """Return colours in which every pixel at the edge and beyond has that of the nearest one that surely is inside."""
    from scipy import ndimage

    sure = ndimage.binary_erosion(inside, iterations=max(1, round(_FRINGE_MM * px_per_mm)))
    if not sure.any():
        sure = inside
    nearest = ndimage.distance_transform_edt(~sure, return_distances=False, return_indices=True)
    return np.asarray(colours[tuple(nearest)], dtype=np.float32)


def _mask_of(shape: Polygon, grid: Grid) -> Mask | None:
    found = covered(shape, grid)
    if found is None or not found[1].any():
        return None
    mask = np.zeros(grid.shape, dtype=bool)
    mask[found[0]] = found[1]
    return mask


def _evened(colours: Values, inside: Mask, shape: Polygon, grid: Grid) -> Values:
    """Return colours as if light fell evenly: over the breadth of a thing their lightness is levelled, not along it.

    Light changes over its breadth, what it is made of along its length. So lightness is taken in cells along and across
    its long axis, and each pixel is brought to the median of its slice by what its place in that slice is off.
    """
    from scipy import ndimage

    x, y = np.meshgrid(*grid.middles((slice(0, grid.rows), slice(0, grid.columns))))
    turn = math.radians(long_axis_deg(shape))
    along = (x * math.cos(turn) + y * math.sin(turn)) / _CELL_MM
    across = (y * math.cos(turn) - x * math.sin(turn)) / _CELL_MM
    first = along[inside].min(), across[inside].min()
    along, across = along - first[0], across - first[1]
    size = int(along[inside].max()) + 1, int(across[inside].max()) + 1
    cells = along[inside].astype(np.int64) * size[1] + across[inside].astype(np.int64)
    light = colours.mean(axis=2)
    count = np.bincount(cells, minlength=size[0] * size[1]).reshape(size).astype(np.float64)
    total = np.bincount(cells, weights=light[inside], minlength=size[0] * size[1]).reshape(size)
    spread = ndimage.gaussian_filter1d(count, _SHADE_CELLS, axis=1)
    near = ndimage.gaussian_filter1d(total, _SHADE_CELLS, axis=1) / np.maximum(spread, 1e-6)
    level = np.array([np.median(row[seen]) if seen.any() else 0.0 for row, seen in zip(near, count > 0)])
    gain = np.where(count > 0, level[:, None] / np.maximum(near, 1.0), 1.0)
    there = ndimage.map_coordinates(gain, (along - 0.5, across - 0.5), order=1, mode="nearest")
    return np.asarray(colours * np.clip(there, *_GAIN)[:, :, None], dtype=np.float32)


def _as_jpeg(pixels: Pixels) -> bytes:
    """Return pixels as JPEG of at most MOST_BYTES: less fine where it must be, then smaller."""
    from PIL import Image

    picture = Image.fromarray(pixels)
    while True:
        for quality in _QUALITIES:
            stream = io.BytesIO()
            picture.save(stream, "JPEG", quality=quality, optimize=True)
            if stream.tell() <= MOST_BYTES:
                return stream.getvalue()
        picture = picture.reduce(2)


class Texture(Frozen):
    """A photo at about the scale of a picture: colours (rows, columns, 3), and where its pixels lie on the item."""

    def __init__(self, colours: Pixels, left_mm: float, top_mm: float, px_per_mm: float) -> None:
        self.colours, self.left_mm, self.top_mm, self.px_per_mm = colours, left_mm, top_mm, px_per_mm

    def at(self, x_mm: Values, y_mm: Values) -> Pixels:
        """Return the colours at points of the item, (n, 3)."""
        rows, columns = self.colours.shape[:2]
        column = np.clip(((x_mm - self.left_mm) * self.px_per_mm).astype(np.int32), 0, columns - 1)
        row = np.clip(((y_mm - self.top_mm) * self.px_per_mm).astype(np.int32), 0, rows - 1)
        return self.colours[row, column]


def texture_of(photo: Photo, px_per_mm: float) -> Texture | None:
    """Return a photo for a picture of a scale, no finer than that needs; None where it can't be read."""
    step = max(0, math.floor(math.log2(max(1.0, photo.px_per_mm / max(1e-3, px_per_mm)))))
    return _texture(photo, min(step, 6))


@memo(rows=128)
def _texture(photo: Photo, halvings: int) -> Texture | None:
    from PIL import Image, UnidentifiedImageError

    try:
        with Image.open(io.BytesIO(photo.jpeg), formats=("JPEG",)) as picture:
            if picture.width * picture.height > _MOST_PX or photo.px_per_mm <= 0:
                return None
            whole = (picture.width, picture.height)
            small = picture.convert("RGB").reduce(2**halvings)
    except (OSError, ValueError, SyntaxError, UnidentifiedImageError, Image.DecompressionBombError):
        return None
    return Texture(np.asarray(small), photo.left_mm, photo.top_mm, photo.px_per_mm * small.width / whole[0])


def mean_colour(item: Item, number: int) -> tuple[int, int, int] | None:
    """Return the mean colour of a part in the item's photo; None without one."""
    return _mean_colour(item, number) if item.photo is not None else None


@memo(rows=1024)
def _mean_colour(item: Item, number: int) -> tuple[int, int, int] | None:
    assert item.photo is not None
    texture = texture_of(item.photo, 1.0)
    if texture is None:
        return None
    rows, columns = texture.colours.shape[:2]
    grid = Grid(left_mm=texture.left_mm, top_mm=texture.top_mm, px_per_mm=texture.px_per_mm, columns=columns, rows=rows)
    mask = _mask_of(polygon_of(item.zones[number].region), grid)
    if mask is None:
        return None
    red, green, blue = (round(float(value)) for value in texture.colours[mask].mean(axis=0))
    return red, green, blue
