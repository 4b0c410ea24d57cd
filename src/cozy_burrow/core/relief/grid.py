"""A grid of pixels over the plan, and which of them an area covers.

A pixel is covered where its middle lies inside: even-odd by the crossings of its row, so that holes count and areas
that share an edge share no pixel. (What drawing libraries fill takes the pixels that an edge touches along, and every
pocket would be a pixel too large.)
"""

from __future__ import annotations

import math

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.model.records import Record

Window = tuple[slice, slice]  # rows and columns
Mask = NDArray[np.bool_]
_SAME = 1e-6  # pixels: bounds that were worked out from a grid lie on its lines


class Grid(Record, frozen=True, kw_only=True):
    """Pixels of 1 / px_per_mm from (left_mm, top_mm) on, in plan coordinates."""

    left_mm: float
    top_mm: float
    px_per_mm: float
    columns: int
    rows: int

    @staticmethod
    def over(bounds: tuple[float, float, float, float], px_per_mm: float, *, by: int = 1) -> Grid:
        """Return the grid that covers some bounds; it begins and ends on every `by`-th pixel of the plan.

        So a part of a picture made anew falls on the pixels of the whole.
        """
        left, top = (math.floor(value * px_per_mm / by + _SAME) * by for value in bounds[:2])
        right, bottom = (math.ceil(value * px_per_mm / by - _SAME) * by for value in bounds[2:])
        return Grid(
            left_mm=left / px_per_mm,
            top_mm=top / px_per_mm,
            px_per_mm=px_per_mm,
            columns=max(1, right - left),
            rows=max(1, bottom - top),
        )

    @property
    def shape(self) -> tuple[int, int]:
        """Rows and columns."""
        return self.rows, self.columns

    @property
    def first(self) -> tuple[int, int]:
        """Row and column of its first pixel among those of the whole plan."""
        return round(self.top_mm * self.px_per_mm), round(self.left_mm * self.px_per_mm)

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """Left, top, right and bottom in the plan, mm."""
        right, bottom = self.left_mm + self.columns / self.px_per_mm, self.top_mm + self.rows / self.px_per_mm
        return self.left_mm, self.top_mm, right, bottom

    def window(self, bounds: tuple[float, float, float, float]) -> Window | None:
        """Return the pixels whose middles may lie within bounds; None where there are none."""
        scale = self.px_per_mm
        first = (
            max(0, math.floor((bounds[0] - self.left_mm) * scale)),
            max(0, math.floor((bounds[1] - self.top_mm) * scale)),
        )
        last = (
            min(self.columns, math.ceil((bounds[2] - self.left_mm) * scale) + 1),
            min(self.rows, math.ceil((bounds[3] - self.top_mm) * scale) + 1),
        )
        if first[0] >= last[0] or first[1] >= last[1]:
            return None
        return slice(first[1], last[1]), slice(first[0], last[0])

    def middles(self, window: Window) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """Return where the middles of the pixels of a window lie in the plan: x of its columns, y of its rows."""
        rows, columns = window
        x, y = (np.arange(one.start, one.stop, dtype=np.float64) + 0.5 for one in (columns, rows))
        return np.asarray(self.left_mm + x / self.px_per_mm), np.asarray(self.top_mm + y / self.px_per_mm)

    def place_in(self, whole: Grid) -> Window:
        """Return which pixels of a grid of the same scale these are."""
        row, column = self.first[0] - whole.first[0], self.first[1] - whole.first[1]
        return slice(row, row + self.rows), slice(column, column + self.columns)

    def finer(self, times: int) -> Grid:
        """Return the same place in so many times as many pixels each way."""
        return Grid(
            left_mm=self.left_mm,
            top_mm=self.top_mm,
            px_per_mm=self.px_per_mm * times,
            columns=self.columns * times,
            rows=self.rows * times,
        )


def covered(area: BaseGeometry, grid: Grid) -> tuple[Window, Mask] | None:
    """Return the pixels that an area in plan coordinates covers, in a window of the grid; None where there are none."""
    if area.is_empty:
        return None
    window = grid.window(area.bounds)
    if window is None:
        return None
    return window, _inside(_edges(area, grid, window), window)


def runs_of(area: BaseGeometry, grid: Grid) -> list[Window]:
    """Return the pixels that `covered` tells, as blocks that cover none twice: for areas as large as a container, of
    which most rows are like the one before.
    """
    window = None if area.is_empty else grid.window(area.bounds)
    if window is None:
        return []
    row, column = _crossings(_edges(area, grid, window), window)
    order = np.lexsort((column, row))
    row, start, end = row[order][::2], column[order][::2], column[order][1::2]  # of every row an even number
    some = end > start
    row, start, end = row[some], start[some], end[some]
    if not len(row):
        return []
    order = np.lexsort((row, end, start))
    row, start, end = row[order], start[order], end[order]
    goes_on = (np.diff(row) == 1) & (np.diff(start) == 0) & (np.diff(end) == 0)
    first = np.concatenate([[0], np.flatnonzero(~goes_on) + 1])
    last = np.concatenate([first[1:], [len(row)]]) - 1
    down, right = window[0].start, window[1].start
    blocks = np.column_stack([row[first] + down, row[last] + down + 1, start[first] + right, end[first] + right])
    return [(slice(top, bottom), slice(left, beyond)) for top, bottom, left, beyond in blocks.tolist()]


def _edges(area: BaseGeometry, grid: Grid, window: Window) -> NDArray[np.float64]:
    """Return the edges of an area as (x0, y0, x1, y1), in pixels from the middle of the window's first one."""
    found = []
    for polygon in polygons_in(area):
        for ring in (polygon.exterior, *polygon.interiors):
            corners = shapely.get_coordinates(ring)
            found.append(np.concatenate([corners[:-1], corners[1:]], axis=1))
    corner = np.array([grid.left_mm, grid.top_mm])
    first = np.array([window[1].start, window[0].start]) + 0.5
    edges: NDArray[np.float64] = (np.concatenate(found) - np.tile(corner, 2)) * grid.px_per_mm - np.tile(first, 2)
    return edges


def _inside(edges: NDArray[np.float64], window: Window) -> Mask:
    rows, columns = window[0].stop - window[0].start, window[1].stop - window[1].start
    row, column = _crossings(edges, window)
    odd = np.zeros(rows * (columns + 1), dtype=np.uint8)
    np.bitwise_xor.at(odd, row * (columns + 1) + column, np.uint8(1))
    inside: Mask = np.bitwise_xor.accumulate(odd.reshape(rows, columns + 1), axis=1)[:, :-1].view(np.bool_)
    return inside


def _crossings(edges: NDArray[np.float64], window: Window) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Return where edges cross the middle lines of a window's rows: the row, and the first column after it.

    A row is inside between its first crossing and the second, the third and the fourth, and so on.
    """
    rows, columns = window[0].stop - window[0].start, window[1].stop - window[1].start
    x0, y0, x1, y1 = edges.T
    first = np.clip(np.ceil(np.minimum(y0, y1)), 0, rows).astype(np.int64)
    after = np.clip(np.ceil(np.maximum(y0, y1)), 0, rows).astype(np.int64)
    count = after - first
    of = np.repeat(np.arange(len(edges)), count)
    row = np.arange(len(of)) - np.repeat(np.cumsum(count) - count, count) + first[of]
    x = x0[of] + (row - y0[of]) * (x1[of] - x0[of]) / (y1[of] - y0[of])  # count is 0 where an edge lies level
    return row, np.clip(np.ceil(x), 0, columns).astype(np.int64)
