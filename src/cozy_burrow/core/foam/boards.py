"""Boards and pieces: the shipped library, what is refused, the measured outline, whether a box fits on it.

Measured   four sides, one diagonal and the hollow of each edge say what the real sheet looks like: the label does not
"""

from __future__ import annotations

import math
import tomllib
from functools import lru_cache

import numpy as np
import shapely
from msgspec import convert
from shapely import affinity
from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry

from cozy_burrow.assets.read import asset
from cozy_burrow.core.container.survey import impossible, solve_survey
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.foam.layers import checked_sheet
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Sheet
from cozy_burrow.core.model.vessels import Board, Corner, Piece, Stores, Taped
from cozy_burrow.core.tongue import tr

SAME_THICKNESS_MM = 1.0  # sheets of one label differ by less
MOST_BOARDS = 200


@lru_cache(maxsize=1)
def shipped_stores() -> Stores:
    """Return the generic foams that come with the program, without prices."""
    rows = tomllib.loads(asset("foams.toml").read_text(encoding="utf-8"))["boards"]
    return Stores(boards=tuple(convert(row, Board) for row in rows))


def sheet_of(board: Board) -> Sheet:
    """Return a sheet as this board is labelled."""
    return Sheet(
        name=board.name,
        thickness_mm=board.thickness_mm,
        pitch_mm=board.pitch_mm,
        contrast_layers=board.contrast_layers,
        material=board.material,
        cell_mm=board.cell_mm,
        density_kg_m3=board.density_kg_m3,
        board_id=board.id,
    )


def serves(board: Board, sheet: Sheet) -> bool:
    """Return whether the sheet can be cut from this board: named as its own, or the same foam by its figures."""
    if sheet.board_id:
        return board.id == sheet.board_id
    return (
        board.material == sheet.material
        and abs(board.thickness_mm - sheet.thickness_mm) <= SAME_THICKNESS_MM
        and abs(board.pitch_mm - sheet.pitch_mm) <= 0.1
        and board.contrast_layers == sheet.contrast_layers
    )


def checked_board(board: Board, *, where: str) -> Board:
    """Return a board that a dealer could sell; raises UnusableInput for the rest."""
    if not board.name.strip():
        raise UnusableInput(tr("a price without a sheet"), where=where, remedy=tr("name the sheet that it is for"))
    checked_sheet(sheet_of(board), where=where)
    for name, value in (("width", board.width_mm), ("depth", board.depth_mm)):
        if not (math.isfinite(value) and 10.0 <= value <= 10_000.0):
            raise UnusableInput(
                tr("a {name} of {value:g} mm", name=name, value=value),
                where=where,
                remedy=tr("give 10 mm to ten metres"),
            )
    if board.price is not None and not (math.isfinite(board.price) and 0 <= board.price <= 1e6):
        raise UnusableInput(
            tr("a price of {price:g}", price=board.price), where=where, remedy=tr("give 0 or more, or leave it empty")
        )
    if not 1 <= board.pack <= 1000:
        raise UnusableInput(
            tr("a pack of {pack}", pack=board.pack), where=where, remedy=tr("give 1 for sheets that are sold singly")
        )
    if not (1.0 <= board.density_kg_m3 <= 500.0 and 0.1 <= board.stiffness_kpa <= 5000.0):
        raise UnusableInput(
            tr("its density or stiffness"), where=where, remedy=tr("take them from the maker's data sheet")
        )
    return board


def checked_piece(piece: Piece, *, where: str) -> Piece:
    """Return a piece that can be cut from; raises UnusableInput for the rest."""
    checked_board(piece.board, where=where)
    if not all(math.isfinite(side) and 10.0 <= side <= 10_000.0 for side in piece.sides_mm):
        raise UnusableInput(tr("a side of the piece"), where=where, remedy=tr("tape all four, 10 mm to ten metres"))
    if not all(abs(bow) <= min(piece.sides_mm) / 8 for bow in piece.bow_mm):
        raise UnusableInput(
            tr("a bow of the piece"), where=where, remedy=tr("lay a rule along the edge and measure again")
        )
    broken = impossible(_taped(piece))
    if broken is not None or measured_outline(piece).area < 100.0:
        raise UnusableInput(
            tr("its sides and diagonal cannot belong together"),
            where=where,
            remedy=tr("tape the diagonal and the sides again"),
        )
    return piece


def _taped(piece: Piece) -> tuple[Taped, ...]:
    back, right, front, left = piece.sides_mm
    found = [("A", "B", back), ("B", "C", right), ("D", "C", front), ("A", "D", left)]
    if piece.diagonal_mm is not None:
        found.append(("A", "C", piece.diagonal_mm))
    return tuple(Taped(first=a, second=b, length_mm=length) for a, b, length in found)


@memo(rows=256)
def measured_outline(piece: Piece) -> Polygon:
    """Return a piece as it really is: the quadrilateral of its sides and diagonal, each edge with its hollow."""
    back, right, front, left = piece.sides_mm
    width, depth = (back + front) / 2, (left + right) / 2
    sketch = tuple(
        Corner(name=name, x_mm=x, y_mm=y)
        for name, x, y in (("A", 0.0, 0.0), ("B", width, 0.0), ("C", width, depth), ("D", 0.0, depth))
    )
    corners = solve_survey(sketch, _taped(piece)).corners
    points = np.array([(one.x_mm, one.y_mm) for one in corners])
    ring = []
    for n, hollow in enumerate(piece.bow_mm):
        here, after = points[n], points[(n + 1) % 4]
        along = (after - here) / max(float(np.hypot(*(after - here))), 1e-9)
        ring.append(here)
        if hollow:
            ring.append((here + after) / 2 + hollow * np.array([-along[1], along[0]]))
    return Polygon(ring)


@memo(rows=256)
def labelled_outline(board: Board) -> Polygon:
    """Return a board as its label says."""
    return box(0, 0, board.width_mm, board.depth_mm)


@memo(rows=4096)
def box_spot(outline: Polygon, width_mm: float, depth_mm: float) -> tuple[float, float, float] | None:
    """Return where an upright box fits on an outline: (x, y, angle in degrees) of its back left corner, or None.

    Tried along each of the outline's edges, as a fitter lays a rule along one. Exact for outlines that are convex
    but for hollow edges: all four corners lie on it, and no hollow's tip lies in the box.
    """
    points = shapely.get_coordinates(outline)[:-1]
    angles = {0.0}
    for n in range(len(points)):
        along = points[(n + 1) % len(points)] - points[n]
        angles.add(round(math.degrees(math.atan2(along[1], along[0])) % 90.0, 6) % 90.0)
    for angle in sorted(angles):
        turned = affinity.rotate(outline, -angle, origin=(0, 0)) if angle else outline
        spots: BaseGeometry = turned.buffer(1e-6, join_style="mitre")
        for dx, dy in ((width_mm, 0.0), (width_mm, depth_mm), (0.0, depth_mm)):
            spots = spots.intersection(affinity.translate(turned, -dx, -dy).buffer(1e-6, join_style="mitre"))
        for x, y in shapely.get_coordinates(turned)[:-1]:
            inner = box(x - width_mm, y - depth_mm, x, y).buffer(-2e-6, join_style="mitre")
            spots = spots.difference(inner)
        if not spots.is_empty:
            corners = shapely.get_coordinates(spots)
            x, y = corners[int(np.lexsort((corners[:, 0], np.round(corners[:, 1], 3)))[0])]
            cos, sin = math.cos(math.radians(angle)), math.sin(math.radians(angle))
            return float(x * cos - y * sin), float(x * sin + y * cos), angle
    return None
