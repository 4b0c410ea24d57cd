"""What is left over: the largest area in one piece that more things could go into, and the largest rectangle in it."""

from __future__ import annotations

import math

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.arrange.wishes import Wish

Mask = NDArray[np.bool_]
NARROW_MM = 26.0  # no thing with its walls goes into a strip of foam narrower than this
EMPTY = 0.25  # of the foam taken: with less, things are spread over it, and nothing is kept together for later
_STEP_MM = 3.2  # the grid is thinned to about this: a room is no finer


def room(free: Mask, origin: tuple[float, float], cell_mm: float, *, picture: bool, of_mm2: float = math.inf) -> Wish:
    """Return how much of the free foam is one area wide enough for things, and how much of it one rectangle.

    free: cells (rows, columns) that neither things with half their walls nor the edge take up. Half of the score is
    the share of the free foam that hangs together and is wide enough, half the share that is one rectangle: a maze
    hangs together too. The figure is the rectangle in mm². picture: with both as areas. of_mm2: all the foam there is;
    where little of it is taken there is room for later wherever things lie, and the wish does not apply.
    """
    from scipy.ndimage import distance_transform_edt, label

    every = max(1, round(_STEP_MM / cell_mm))
    free = free[every // 2 :: every, every // 2 :: every]
    cell_mm *= every
    total = int(free.sum())
    if total == 0:
        return Wish("room", 0.0, 0.0)
    if total * cell_mm**2 > (1.0 - EMPTY) * of_mm2:
        return Wish("room", None)
    padded = np.pad(free, 1)
    wide = distance_transform_edt(padded) * cell_mm > NARROW_MM / 2
    if not wide.any():
        return Wish("room", 0.0, 0.0)
    parts, _ = label(wide)
    sizes = np.bincount(parts.ravel())
    sizes[0] = 0
    largest = parts == int(sizes.argmax())
    opened = distance_transform_edt(~largest) * cell_mm <= NARROW_MM / 2 - cell_mm / 2
    opened &= padded
    whole = opened[1:-1, 1:-1]
    thin = 1 if picture else 2  # a search is content with a rectangle to the nearest 6 mm
    row, column, rows, columns = largest_rectangle(whole[::thin, ::thin])
    rectangle_mm2 = rows * columns * (thin * cell_mm) ** 2
    score = min(1.0, 0.5 * float(whole.sum()) / total + 0.5 * rectangle_mm2 / (total * cell_mm**2))
    if not picture:
        return Wish("room", score, rectangle_mm2)
    x = origin[0] + column * cell_mm
    y = origin[1] + row * cell_mm
    rectangle = shapely.box(x, y, x + columns * cell_mm, y + rows * cell_mm)
    return Wish(
        "room", score, rectangle_mm2, areas=[(rectangle, "rectangle"), (_outline(whole, origin, cell_mm), "area")]
    )


def largest_rectangle(cells: Mask) -> tuple[int, int, int, int]:
    """Return (row, column, rows, columns) of the largest rectangle of true cells; all 0 where there is none.

    Row by row, the largest rectangle under the heights that stand on the row, with a stack: O(cells).
    """
    heights = np.zeros(cells.shape[1] + 1, dtype=np.int64)
    best, found = 0, (0, 0, 0, 0)
    for row in range(cells.shape[0]):
        heights[:-1] = np.where(cells[row], heights[:-1] + 1, 0)
        stack: list[tuple[int, int]] = []
        for column, height in enumerate(heights.tolist()):
            start = column
            while stack and stack[-1][1] >= height:
                start, tall = stack.pop()
                if tall * (column - start) > best:
                    best = tall * (column - start)
                    found = (row - tall + 1, start, tall, column - start)
            if height:
                stack.append((start, height))
    return found


def _outline(cells: Mask, origin: tuple[float, float], cell_mm: float) -> BaseGeometry:
    """Return the cells as one shape, run by run."""
    boxes = []
    edges = np.diff(np.pad(cells, ((0, 0), (1, 1))).astype(np.int8), axis=1)
    for row in range(cells.shape[0]):
        starts, ends = np.flatnonzero(edges[row] == 1), np.flatnonzero(edges[row] == -1)
        y = origin[1] + row * cell_mm
        boxes += [
            shapely.box(origin[0] + a * cell_mm, y, origin[0] + b * cell_mm, y + cell_mm) for a, b in zip(starts, ends)
        ]
    return shapely.union_all(boxes)
