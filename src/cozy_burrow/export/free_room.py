"""A sheet of paper in small squares: where lines run and words stand, and where there is still room for a box."""

from __future__ import annotations

import math
from collections.abc import Iterable
from functools import cached_property
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.model.records import Point

STEP_MM = 0.5
Squares = NDArray[np.uint8]  # (rows, columns), 1 where there is something; row 0 lies at the front


class Room:
    """What is taken of a sheet, by squares of half a millimetre. A box is free where it touches none of them."""

    def __init__(self, width_mm: float, height_mm: float) -> None:
        self._shape = math.ceil(height_mm / STEP_MM) + 1, math.ceil(width_mm / STEP_MM) + 1
        self.taken: Squares = np.zeros(self._shape, np.uint8)

    def take_lines(self, lines: Iterable[BaseGeometry], clear_mm: float) -> None:
        """Take lines, and so much beside them."""
        import cv2

        drawn: Squares = np.zeros(self._shape, np.uint8)
        points = [_squares(shapely.get_coordinates(line)) for line in lines]
        cv2.polylines(drawn, points, isClosed=False, color=1)
        reach = round(clear_mm / STEP_MM)  # a thick line of cv2's is up to two squares wider than what is asked for
        wide: Any = cv2.dilate(drawn, np.ones((2 * reach + 1, 2 * reach + 1), np.uint8))
        self.taken |= wide

    def take_box(self, low: Point, high: Point) -> None:
        """Take a box."""
        (left, front), (right, back) = _squares(np.array([low, high]))
        self.taken[max(0, front) : max(0, back + 1), max(0, left) : max(0, right + 1)] = 1

    def inside(self, area: BaseGeometry) -> Squares:
        """Return the squares of an area."""
        import cv2

        found: Squares = np.zeros(self._shape, np.uint8)
        for polygon in polygons_in(area):
            cv2.fillPoly(found, [_squares(shapely.get_coordinates(polygon.exterior))], 1)
            for hole in polygon.interiors:
                cv2.fillPoly(found, [_squares(shapely.get_coordinates(hole))], 0)
        return found

    def part(self, area: Squares, beside_mm: float = 0.0) -> Part:
        """Return the room round about an area, as far as so much beside it."""
        rows, columns = np.flatnonzero(area.any(axis=1)), np.flatnonzero(area.any(axis=0))
        if not len(rows):
            return Part(np.ones((1, 1), np.uint8), area[:1, :1], (0, 0))
        beside = math.ceil(beside_mm / STEP_MM)
        low = max(0, int(rows[0]) - beside), max(0, int(columns[0]) - beside)
        window = slice(low[0], int(rows[-1]) + beside + 1), slice(low[1], int(columns[-1]) + beside + 1)
        return Part(self.taken[window], area[window], low)


class Part:
    """A part of a sheet round an area. taken, area: (rows, columns). low: row and column of its corner on the sheet."""

    def __init__(self, taken: Squares, area: Squares, low: tuple[int, int]) -> None:
        import cv2

        self._area, self._low = area, low
        self._inside = cv2.integral(taken | (1 - area))
        self._taken = taken

    @cached_property
    def _away(self) -> NDArray[np.float32]:
        """How far each square is from the area, in mm."""
        import cv2

        found: NDArray[np.float32] = cv2.distanceTransform(1 - self._area, cv2.DIST_L2, 5) * np.float32(STEP_MM)
        return found

    def within(self, size: Point, near: Point) -> Point | None:
        """Return the middle of a free box in the area that lies nearest to a point; None where there is none."""
        at = self._free(self._inside, size)
        if at is None or not len(at):
            return None
        middles = self._middles(at, size)
        return _point(middles[int(np.hypot(*(middles - near).T).argmin())])

    def beside(self, size: Point, shut: Squares, near: Point, most_mm: float) -> NDArray[np.float64]:
        """Return (n, 2) middles of free boxes outside what is shut, the nearest to the area first, none beyond so much.

        shut: squares of the whole sheet. Of equally near ones, that which lies nearest to a point. Some sixty, of
        all distances.
        """
        import cv2

        rows, columns = self._taken.shape
        window = shut[self._low[0] : self._low[0] + rows, self._low[1] : self._low[1] + columns]
        at = self._free(cv2.integral(self._taken | window | self._area), size)
        if at is None or not len(at):
            return np.zeros((0, 2))
        middles = self._middles(at, size)
        cells = np.rint(middles / STEP_MM).astype(int)[:, ::-1] - self._low
        far = self._away[tuple(np.clip(cells, 0, np.array(self._taken.shape) - 1).T)]
        order = np.argsort(far + _SIDEWAYS * np.hypot(*(middles - near).T), kind="stable")
        order = order[far[order] <= most_mm + min(size) / 2]
        found: NDArray[np.float64] = middles[order[:: max(1, len(order) // _TRIED)]]
        return found

    def _free(self, sums: NDArray[Any], size: Point) -> NDArray[np.intp] | None:
        """Return (n, 2) rows and columns of the corners of free boxes; None where the box is larger than the part."""
        high, wide = math.ceil(size[1] / STEP_MM) + 1, math.ceil(size[0] / STEP_MM) + 1
        if high >= sums.shape[0] or wide >= sums.shape[1]:
            return None
        filled = sums[high:, wide:] - sums[:-high, wide:] - sums[high:, :-wide] + sums[:-high, :-wide]
        return np.argwhere(filled == 0)

    def _middles(self, at: NDArray[np.intp], size: Point) -> NDArray[np.float64]:
        low = (at + self._low)[:, ::-1] * STEP_MM
        half = np.array([math.ceil(size[0] / STEP_MM), math.ceil(size[1] / STEP_MM)]) * STEP_MM / 2
        found: NDArray[np.float64] = low + half
        return found


_SIDEWAYS = 0.05  # a place beside the area's middle is worth twenty times as little as one near its edge
_TRIED = 60  # places beside an area


def _squares(points: NDArray[np.float64]) -> NDArray[np.int32]:
    found: NDArray[np.int32] = np.rint(points / STEP_MM).astype(np.int32)
    return found


def _point(row: NDArray[np.float64]) -> Point:
    return float(row[0]), float(row[1])
