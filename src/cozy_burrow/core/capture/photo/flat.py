"""The picture laid flat on the mat and evened out: 1 everywhere is paper in full light.

Raster coordinates: cell (row r, column c) of a Flat has its middle at origin + (c, r) * cell_mm, in mat millimetres.

Even   light divided by the light that white paper gives back at that place
Due    what is printed on the pages, 1 white, 0 black, as the picture would show it: taken out again
Dots   how far the dots of the field are seen; they are divided out where they are
Known  where what lies there can be told: not beside the large black of markers and words, unless something brighter
       than ink is seen there
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.capture.photo.dots import PRINT_CELL_MM, Dots, darker, dots_raster, seen_dots
from cozy_burrow.core.capture.photo.ink import Ink, without_letters, without_print
from cozy_burrow.core.capture.photo.lie import Lying, PixelMap, lie_of
from cozy_burrow.core.capture.photo.markers import tone_table
from cozy_burrow.core.capture.photo.masks import Mask, closed_far
from cozy_burrow.core.capture.photo.mat import DOT_PITCH_MM, Box, black_boxes, mat_page
from cozy_burrow.core.capture.photo.picture import Pixels
from cozy_burrow.core.capture.photo.pose import Sight
from cozy_burrow.core.capture.photo.rasters import Raster, level_of

CELL_MM = 0.25
_BLOCK_MM = 3.0
_RIM_MM = 1.2  # the cut edge of paper casts a line of its own
_GRID_PX = 16  # of the raster: pixel places are worked out this far apart and are straight in between
_BORDER_MM = 27.0
_UNKNOWN_MM = 3.0  # from what is known: a gap between pages
_LEAST_LIE_MM = 0.03  # a page that lies flatter is taken as flat


@dataclass(frozen=True)
class Flat:
    """The evened picture. even: (rows, columns, 3), print taken out; on: where there is paper; noise: of `even`.

    dots: None where the mat bears none, or none are seen; view: where places of the mat are seen in the picture, None
    for a scan; bent_mm: how far the page is seen beside where a flat one would be; ink: its marks and scales.
    """

    even: Raster
    known: Mask
    on: Mask
    origin_mm: tuple[float, float]
    cell_mm: float
    noise: float
    blur_mm: float
    dots: Dots | None = None
    view: PixelMap | None = None
    bent_mm: float = 0.0
    ink: Ink | None = None

    @cached_property
    def guessed(self) -> Mask:
        """Where the raster only guesses: farther from what is known than a gap between pages reaches."""
        import cv2

        far = cv2.distanceTransform((~self.known).astype(np.uint8), cv2.DIST_L2, 5) * self.cell_mm
        wide = cv2.dilate((far > _UNKNOWN_MM).astype(np.uint8), np.ones((3, 3), np.uint8), iterations=6)
        return np.asarray(wide, dtype=bool)

    def to_mat(self, cells: NDArray[np.float64]) -> NDArray[np.float64]:
        """Return mat points (n, 2) of columns and rows (n, 2)."""
        return np.asarray(cells * self.cell_mm + np.array(self.origin_mm))


def light_of(pixels: Pixels, sight: Sight) -> tuple[Raster, tuple[int, int]]:
    """Return the light where the pages lie in a picture, (rows, columns, 3), and its first column and row."""
    import cv2

    corners = sight.camera.pixels(np.concatenate([place.corners_mm for place in sight.pages]))
    height, width = pixels.shape[:2]
    left, top = (int(max(0, one - 40)) for one in corners.min(axis=0))
    right, low = (int(min(most, one + 40)) for one, most in zip(corners.max(axis=0), (width, height)))
    return np.asarray(cv2.LUT(pixels[top:low, left:right], tone_table(sight.tone)), dtype=np.float32), (left, top)


def lay_flat(light: Raster, first: tuple[int, int], sight: Sight, *, cell_mm: float = CELL_MM) -> Flat:
    """Return the picture laid flat. light, first: from `light_of`."""
    view: PixelMap = sight.camera
    maps, origin = _maps(view, sight, first, cell_mm)
    origin_mm = (float(origin[0]), float(origin[1]))
    flat, seen = _sampled(light, maps, sight, cell_mm)
    due, spotted, words, gap, on = _printed(sight, seen.shape, origin, cell_mm)
    on &= seen
    field = closed_far(spotted > 0.01, DOT_PITCH_MM / cell_mm) & on
    dark = darker(flat, spotted, field, cell_mm)
    lie = None if dark is None else lie_of(dark[0], spotted, field, origin_mm, cell_mm)
    if lie is not None and lie.most_mm > _LEAST_LIE_MM:
        view = Lying(sight.camera, lie)
        flat, _ = _sampled(light, _maps(view, sight, first, cell_mm)[0], sight, cell_mm)
        dark = darker(flat, spotted, field, cell_mm)
    dots = None if dark is None else seen_dots(*dark, spotted, field, origin_mm, cell_mm)
    if dots is not None:
        flat = flat / dots.left[..., None]
    even, noise = _evened(flat, due, on & ~words & ~gap, cell_mm)
    even = without_letters(even, words & ~gap, cell_mm)
    even, known, ink = without_print(even, due, gap, on, origin_mm, cell_mm)
    return Flat(
        even=even,
        known=known,
        on=on,
        origin_mm=origin_mm,
        cell_mm=cell_mm,
        noise=noise,
        blur_mm=sight.blur_mm if math.isfinite(sight.blur_mm) else 0.2,
        dots=dots if dots is not None and dots.are_clear else None,
        view=view,
        bent_mm=0.0 if lie is None else lie.most_mm,
        ink=ink,
    )


def _sampled(light: Raster, maps: list[Raster], sight: Sight, cell_mm: float) -> tuple[Raster, Mask]:
    """Return the light at the places that maps give, noise of several pixels to a cell taken together, and where."""
    import cv2

    step = sight.camera.height_mm / sight.camera.focal_px
    seen = (maps[0] > 0) & (maps[1] > 0) & (maps[0] < light.shape[1] - 1) & (maps[1] < light.shape[0] - 1)
    if cell_mm > 1.2 * step:  # several pixels to a cell: their mean has less noise
        size = 2 if cell_mm < 1.8 * step else 3
        light = np.asarray(cv2.blur(light, (size, size)), dtype=np.float32)
        if size == 2:  # the mean of a pixel and the one before it is that of a place half a pixel before it
            maps = [one + np.float32(0.5) for one in maps]
    flat = cv2.remap(light, maps[0], maps[1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    return np.asarray(flat, dtype=np.float32), seen


def rectified(
    picture: Pixels, sight: Sight, view: PixelMap | None = None, *, cell_mm: float = 0.15
) -> tuple[Pixels, tuple[float, float]]:
    """Return the pages of a photo as seen from straight above, for people to look at, and its origin on the mat.

    view: where places of the mat are seen, if the page doesn't lie flat before the camera.
    """
    import cv2

    maps, origin = _maps(view or sight.camera, sight, (0, 0), cell_mm)
    flat = cv2.remap(picture, maps[0], maps[1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    return np.asarray(flat, dtype=np.uint8), (float(origin[0]), float(origin[1]))


def _maps(
    view: PixelMap, sight: Sight, first: tuple[int, int], cell_mm: float
) -> tuple[list[Raster], NDArray[np.float64]]:
    """Return the column and the row of the picture that each cell of the pages' raster is seen at, and its origin."""
    import cv2

    corners = np.concatenate([place.corners_mm for place in sight.pages])
    origin, end = corners.min(axis=0), corners.max(axis=0)
    columns, rows = (math.ceil(one / cell_mm) for one in end - origin)
    xs = np.arange(0, columns + _GRID_PX, _GRID_PX, dtype=float)
    ys = np.arange(0, rows + _GRID_PX, _GRID_PX, dtype=float)
    knots = np.stack(np.meshgrid(xs, ys), axis=-1)
    places = view.pixels(knots.reshape(-1, 2) * cell_mm + origin).reshape(knots.shape) - np.array(first)
    column, row = np.meshgrid(
        np.arange(columns, dtype=np.float32) / _GRID_PX, np.arange(rows, dtype=np.float32) / _GRID_PX
    )
    maps = [
        np.asarray(
            cv2.remap(np.asarray(places[..., k], dtype=np.float32), column, row, cv2.INTER_LINEAR), dtype=np.float32
        )
        for k in (0, 1)
    ]
    return maps, origin


def _printed(
    sight: Sight, shape: tuple[int, int], origin: NDArray[np.float64], cell_mm: float
) -> tuple[Raster, Raster, Mask, Mask, Mask]:
    """Return what is printed (1 white) and the ink of the dots, blurred as the picture is; words; gaps; where paper is.

    Gaps are those between pages, which count as paper.
    """
    import cv2

    rows, columns = shape
    due, spotted = np.ones(shape, dtype=np.float32), np.zeros(shape, dtype=np.float32)
    words, gap, on = (np.zeros(shape, dtype=bool) for _ in range(3))
    column, row = np.meshgrid(np.arange(columns, dtype=float), np.arange(rows, dtype=float))
    points = np.column_stack([column.ravel(), row.ravel()]) * cell_mm + origin
    for place in sight.pages:
        on_page = place.to_page(points)
        x, y = (np.ascontiguousarray(on_page[:, k].reshape(shape), dtype=np.float32) for k in (0, 1))
        page = place.page
        inside = (x > _RIM_MM) & (y > _RIM_MM) & (x < page.width_mm - _RIM_MM) & (y < page.height_mm - _RIM_MM)
        x, y = x / PRINT_CELL_MM - 0.5, y / PRINT_CELL_MM - 0.5
        print_, text = page_raster(page.paper, page.page)
        white = cv2.remap(print_, x, y, cv2.INTER_LINEAR)
        written = cv2.remap(text, x, y, cv2.INTER_LINEAR)
        due[inside] = white[inside]
        ink = cv2.remap(dots_raster(page.paper, page.page).astype(np.float32), x, y, cv2.INTER_LINEAR)
        spotted[inside] = ink[inside] / 255
        words |= inside & (written > 0)
        on |= inside
    if len(sight.pages) > 1:  # a thing may lie over the gap between pages, where nothing is known of the table
        joined = closed_far(on, _MOST_GAP_MM / 2 / cell_mm)
        gap = joined & ~on
        on = joined
    blur = sight.blur_mm if math.isfinite(sight.blur_mm) else 0.2
    due, spotted = (
        np.asarray(cv2.GaussianBlur(one, (0, 0), max(0.3, blur / cell_mm)), dtype=np.float32) for one in (due, spotted)
    )
    return due, spotted, words, gap, on


_MOST_GAP_MM = 30.0


@lru_cache(maxsize=4)
def page_raster(paper: str, number: int) -> tuple[Raster, Raster]:
    """Return the print of a page in cells of 0.15 mm, 1 white, 0 black; and where words stand."""
    page = mat_page(paper, number)
    shape = (math.ceil(page.height_mm / PRINT_CELL_MM), math.ceil(page.width_mm / PRINT_CELL_MM))
    return 1 - _boxes_raster(black_boxes(page), shape), _boxes_raster(list(page.text_boxes_mm), shape)


def _boxes_raster(boxes: list[Box], shape: tuple[int, int]) -> Raster:
    raster = np.zeros(shape, dtype=np.float32)
    for box in boxes:
        x0, y0, x1, y1 = (one / PRINT_CELL_MM for one in box)
        across, down = _covered(x0, x1), _covered(y0, y1)
        part = raster[int(y0) : int(y0) + len(down), int(x0) : int(x0) + len(across)]
        part += np.outer(down, across)[: part.shape[0], : part.shape[1]]
    return np.asarray(np.clip(raster, 0, 1), dtype=np.float32)


def _covered(low: float, high: float) -> NDArray[np.float64]:
    """Return how much of each cell from the one with `low` to the one with `high` lies between them."""
    starts = np.arange(int(low), math.ceil(high), dtype=float)
    return np.asarray(np.clip(np.minimum(starts + 1, high) - np.maximum(starts, low), 0, 1))


def _evened(flat: Raster, due: Raster, on: Mask, cell_mm: float) -> tuple[Raster, float]:
    """Return the raster divided by the light of white paper, and the noise that is left.

    The paper between the markers is white for sure; from there a smooth surface grows inwards over what agrees.
    """
    size = max(2, round(_BLOCK_MM / cell_mm))
    rows, columns = flat.shape[0] // size, flat.shape[1] // size
    cut = (slice(0, rows * size), slice(0, columns * size))
    white = (on & (due > 0.97))[cut].reshape(rows, size, columns, size)
    enough = white.mean(axis=(1, 3)) > 0.5
    values = flat[cut].reshape(rows, size, columns, size, 3)
    total = np.maximum(white.sum(axis=(1, 3)), 1)[..., None]
    blocks = (values * white[..., None]).sum(axis=(1, 3)) / total
    down, across = np.meshgrid(np.linspace(-1, 1, rows), np.linspace(-1, 1, columns), indexing="ij")
    rim = max(1, round(_BORDER_MM / _BLOCK_MM))
    border = np.ones((rows, columns), dtype=bool)
    border[rim:-rim, rim:-rim] = False
    level = np.log(np.maximum(blocks, 1e-4))
    grey = level.mean(axis=-1)
    chosen = enough & border
    chosen &= grey > np.median(grey[chosen]) - 0.5
    fit: Any = None
    for degree, slack in ((1, 0.25), (2, 0.15), (2, 0.08), (3, 0.05), (3, 0.04)):
        terms = _terms(across, down, degree)
        fit = np.linalg.lstsq(terms[chosen], level[chosen], rcond=None)[0]
        off = level - terms @ fit
        close = enough & (np.abs(off).max(axis=-1) < slack)
        if close.sum() >= 30:
            chosen = close
    y = (np.arange(flat.shape[0]) + 0.5) / size / rows * 2 * rows / max(1, rows - 1) - rows / max(1, rows - 1)
    x = (np.arange(flat.shape[1]) + 0.5) / size / columns * 2 * columns / max(1, columns - 1) - columns / max(
        1, columns - 1
    )
    import cv2

    surface = np.exp(terms @ fit).astype(np.float32)
    grid_x = np.broadcast_to(((x + 1) / 2 * (columns - 1)).astype(np.float32), flat.shape[:2])
    grid_y = np.broadcast_to(((y + 1) / 2 * (rows - 1)).astype(np.float32)[:, None], flat.shape[:2])
    full = cv2.remap(surface, grid_x, grid_y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    even = np.asarray(flat / np.maximum(full, 1e-4), dtype=np.float32)
    even_level = level_of(even)
    small = np.abs(np.diff(even_level, axis=1))
    sure = (on & (due > 0.97))[:, 1:] & (np.abs(even_level[:, 1:] - 1) < 0.05)
    noise = float(np.median(small[sure])) / 0.954 if sure.any() else 0.01  # the median of |difference| is 0.954 sigma
    return even, max(0.001, noise)


def _terms(x: NDArray[np.float64], y: NDArray[np.float64], degree: int) -> NDArray[np.float64]:
    return np.stack([x**i * y**j for i in range(degree + 1) for j in range(degree + 1 - i)], axis=-1)
