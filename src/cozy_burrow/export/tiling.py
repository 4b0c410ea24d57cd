"""How a sheet is spread over pages: the way with the fewest, those left out that nothing is drawn on, and the joints.

Neighbouring tiles meet edge to edge; a page shows a little more. Pages that nothing is drawn on are left out where the
others still hang together: what is taped must be one piece, or nobody knows how far its parts are from each other.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise

import shapely
from shapely.geometry import LineString, box

from cozy_burrow.core.model.records import Point, Record
from cozy_burrow.export.paper import Paper

MARGIN_MM = 11.0  # what common printers leave blank, and some
FOOT_MM = 17.0  # room for the check bar under the tile
_SHORTEST_MM = 180.0  # of a page from a roll: the foot's words and bar need so much
Place = tuple[int, int]  # row and column; row 0 is the back one


class Tiling(Record, frozen=True, kw_only=True):
    """Tile size, columns and rows, page size as turned, and which of the tiles are printed, row by row."""

    page_width_mm: float
    page_height_mm: float
    tile_width_mm: float
    tile_height_mm: float
    columns: int
    rows: int
    pages: tuple[Place, ...]


def tiling(width_mm: float, height_mm: float, paper: Paper, lines: Sequence[LineString] | None = None) -> Tiling:
    """Return the tiling with the fewest pages, the paper upright or turned.

    lines: all that is drawn, from the sheet's front left corner, y to the back; None: every tile bears something.
    """
    if paper.is_roll:
        ways = [_from_roll(width_mm, height_mm, paper), _from_roll_turned(width_mm, height_mm, paper)]
    else:
        ways = [(paper.width_mm, paper.height_mm), (paper.height_mm, paper.width_mm)]
    found = [_spread(width_mm, height_mm, *size, lines) for size in ways]
    return min(found, key=lambda one: (len(one.pages), _area(one)))  # upright where both come to the same


def _from_roll(width_mm: float, height_mm: float, paper: Paper) -> Point:
    """Return a page as wide as the roll, and as long as the sheet needs."""
    return paper.width_mm, height_mm + 2 * MARGIN_MM + FOOT_MM


def _from_roll_turned(width_mm: float, height_mm: float, paper: Paper) -> Point:
    """Return a page as high as the roll is wide."""
    return max(_SHORTEST_MM, width_mm + 2 * MARGIN_MM), paper.width_mm


def _area(one: Tiling) -> float:
    return len(one.pages) * one.page_width_mm * one.page_height_mm


def _spread(
    width_mm: float, height_mm: float, page_width: float, page_height: float, lines: Sequence[LineString] | None
) -> Tiling:
    tile_width, tile_height = page_width - 2 * MARGIN_MM, page_height - 2 * MARGIN_MM - FOOT_MM
    columns = max(1, math.ceil((width_mm - 1e-6) / tile_width))
    rows = max(1, math.ceil((height_mm - 1e-6) / tile_height))
    every = [(row, column) for row in range(rows) for column in range(columns)]
    used = every
    if lines is not None and len(every) > 1:
        drawn = shapely.STRtree(lines)
        used = [
            (row, column)
            for row, column in every
            if len(drawn.query(_tile(row, column, tile_width, tile_height, height_mm), predicate="intersects"))
        ]
    return Tiling(
        page_width_mm=page_width,
        page_height_mm=page_height,
        tile_width_mm=tile_width,
        tile_height_mm=tile_height,
        columns=columns,
        rows=rows,
        pages=hanging_together(used) or ((0, 0),),
    )


def tile_corner(spread: Tiling, height_mm: float, row: int, column: int) -> Point:
    """Return the front left corner of a tile on a sheet of that height."""
    return column * spread.tile_width_mm, height_mm - (row + 1) * spread.tile_height_mm


def _tile(row: int, column: int, width: float, height: float, sheet_height_mm: float) -> shapely.Polygon:
    x, y = column * width, sheet_height_mm - (row + 1) * height
    return box(x, y, x + width, y + height)


def hanging_together(places: Sequence[Place]) -> tuple[Place, ...]:
    """Return places with as many between them as make one piece of them, edge to edge."""
    found = set(places)
    while True:
        parts = _parts(found)
        if len(parts) < 2:
            return tuple(sorted(found))
        start, end = min(
            ((a, b) for n, one in enumerate(parts) for other in parts[n + 1 :] for a in one for b in other),
            key=lambda pair: (abs(pair[0][0] - pair[1][0]) + abs(pair[0][1] - pair[1][1]), pair),
        )
        corner = (start[0], end[1])
        for a, b in pairwise((start, corner, end)):
            low, high = min(a, b), max(a, b)
            found.update((row, column) for row in range(low[0], high[0] + 1) for column in range(low[1], high[1] + 1))


def _parts(places: set[Place]) -> list[list[Place]]:
    """Return the pieces that places make, each in order."""
    left, found = set(places), []
    while left:
        part, edge = [], [min(left)]
        left.discard(edge[0])
        while edge:
            row, column = edge.pop()
            part.append((row, column))
            for near in ((row + 1, column), (row - 1, column), (row, column + 1), (row, column - 1)):
                if near in left:
                    left.discard(near)
                    edge.append(near)
        found.append(sorted(part))
    return found


def mark_points(spread: Tiling, row: int, column: int) -> list[Point]:
    """Return where the joining marks of a page lie, on the page in mm from its lower left corner."""
    left, bottom = MARGIN_MM, MARGIN_MM + FOOT_MM
    right, top = left + spread.tile_width_mm, bottom + spread.tile_height_mm
    quarter_y, quarter_x = spread.tile_height_mm / 4, spread.tile_width_mm / 4
    printed = set(spread.pages)
    marks: list[Point] = []
    for beside, x in (((row, column - 1), left), ((row, column + 1), right)):
        if beside in printed:
            marks += [(x, bottom + quarter_y), (x, top - quarter_y)]
    for beside, y in (((row + 1, column), bottom), ((row - 1, column), top)):
        if beside in printed:
            marks += [(left + quarter_x, y), (right - quarter_x, y)]
    return marks or [(left, bottom), (right, bottom), (left, top), (right, top)]
