"""Lay everything: one piece after the other where it nestles best, in many orders, the best order kept.

Every result is valid. The search stops when all lies well, or when its token says so, with the best so far;
with the same seed the same attempts follow each other.
"""

from __future__ import annotations

import random
from collections.abc import Sequence

import numpy as np
import shapely
from shapely import affinity

from cozy_burrow.core.arrange.pieces import Bed, Piece, Spot, fits_at_all
from cozy_burrow.core.arrange.raster import Grid
from cozy_burrow.core.errors import Cancelled
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.model.records import Record
from cozy_burrow.core.progress import Token

MOST_ATTEMPTS = 400
_COARSE_TRIES = 6  # then the grid gets finer: what does not fit may have missed by a cell
_CLOSE_MM = 12.0  # how far half millimetres are tried before the raster
_SETTLED = 8  # tries without gain, once everything lies somewhere


class Layout(Record, frozen=True, kw_only=True):
    """What came of a search: spots, and the keys of what found none; how many attempts it took."""

    spots: tuple[Spot, ...]
    left_over: tuple[tuple[str, int], ...]
    attempts: int

    def worth(self) -> tuple[int, int]:
        """Smaller is better: things left over, then how far forms had to be given up."""
        return len(self.left_over), sum(spot.form for spot in self.spots)


def arrange(pieces: Sequence[Piece], bed: Bed, *, seed: int, token: Token) -> Layout:
    """Return the best layout found. Never raises Cancelled: a stop returns what was best until then."""
    chance = random.Random(seed)
    possible = [piece for piece in pieces if fits_at_all(piece.forms[-1].shape, bed)]
    hopeless = tuple(piece.key for piece in pieces if piece not in possible)
    best = Layout(spots=(), left_over=tuple(piece.key for piece in pieces), attempts=0)
    if not possible or bed.area.is_empty:
        return best
    grid = Grid(bed)
    since = 0
    for attempt in range(MOST_ATTEMPTS):
        if attempt == _COARSE_TRIES:
            grid = Grid(bed, cell_mm=max(0.7, grid.cell_mm * 0.6))
        order = _order(possible, attempt, chance)
        spots, stopped = _lay_all(order, grid, token, attempt, len(pieces))
        laid = {spot.key for spot in spots}
        found = Layout(
            spots=tuple(spots),
            left_over=hopeless + tuple(piece.key for piece in possible if piece.key not in laid),
            attempts=attempt + 1,
        )
        since += 1
        if attempt == 0 or found.worth() < best.worth():
            best, since = found, 0
        settled = len(best.left_over) == len(hopeless) and (best.worth()[1] == 0 or since >= _SETTLED)
        if stopped or settled:
            break
    return best


def _order(pieces: list[Piece], attempt: int, chance: random.Random) -> list[Piece]:
    """Return an order to lay in: groups together and long things first, then by area, then shaken."""
    if attempt == 0:
        weight: dict[str, float] = {}
        for piece in pieces:
            weight[piece.group] = weight.get(piece.group, 0.0) + piece.size[0]
        return sorted(pieces, key=lambda one: (-weight[one.group], one.group, -one.size[0], one.key))
    if attempt == 1:
        return sorted(pieces, key=lambda one: (-one.size[0], one.key))
    if attempt == 2:
        return sorted(pieces, key=lambda one: (-one.size[1], one.key))
    shaken = {id(one): one.size[attempt % 2] * chance.uniform(0.6, 1.4) for one in pieces}
    return sorted(pieces, key=lambda one: (-shaken[id(one)], one.key))


def _lay_all(order: Sequence[Piece], grid: Grid, token: Token, attempt: int, count: int) -> tuple[list[Spot], bool]:
    grid.clear()
    spots: list[Spot] = []
    for index, piece in enumerate(order):
        try:
            token.step((attempt + index / max(1, count)) / (attempt + 1.0))
        except Cancelled:
            return spots, True
        spot = best_spot(piece, grid)
        if spot is not None:
            spots.append(spot)
    return spots, False


def best_spot(piece: Piece, grid: Grid) -> Spot | None:
    """Lay the piece where it nestles best, in the best form that fits anywhere; None where none does."""
    taken, solid = grid.taken_spectrum(), grid.solid_spectrum()
    for number, form in enumerate(piece.forms):
        found: tuple[float, float, int, int] | None = None
        for angle_deg in piece.angles_deg:
            free = grid.free_shifts(form, angle_deg, taken)
            if free is None:
                continue
            rows, columns = free.shape
            worth = grid.contact(form, angle_deg, solid)[:rows, :columns].astype(np.float64)
            # Of equal nooks the one nearest the front left: there the hand comes in.
            worth += np.arange(rows)[:, None] / rows * 0.03 - np.arange(columns)[None, :] / columns * 0.02
            worth[~free] = -np.inf
            at = int(worth.argmax())
            row, column = divmod(at, columns)
            value = float(worth[row, column])
            if found is None or value > found[0] + 1e-9:
                found = (value, angle_deg, row, column)
        if found is not None:
            _, angle_deg, row, column = found
            grid.lay(form, angle_deg, row, column)
            x_mm, y_mm = grid.position(form, angle_deg, row, column)
            return Spot(
                key=piece.key,
                form=number,
                x_mm=round(x_mm, 3),
                y_mm=round(y_mm, 3),
                angle_deg=round(angle_deg % 360.0, 6),
            )
    return None


def _close_spot(piece: Piece, bed: Bed, *, x_mm: float, y_mm: float, angle_deg: float) -> Spot | None:
    form = piece.forms[0]
    shape = placed(form.shape, x_mm=x_mm, y_mm=y_mm, angle_deg=angle_deg)
    reach = form.wall_mm + 2 * _CLOSE_MM
    near = [(area, (wall + form.wall_mm) / 2) for area, wall in bed.fixed if area.distance(shape) < reach + wall]
    steps = np.arange(-_CLOSE_MM, _CLOSE_MM + 0.25, 0.5)
    shifts = sorted(((float(dx), float(dy)) for dx in steps for dy in steps), key=lambda one: np.hypot(*one))
    shapely.prepare(bed.area)
    for dx, dy in shifts:
        if np.hypot(dx, dy) > _CLOSE_MM:
            break
        moved = affinity.translate(shape, dx, dy)
        if bed.area.covers(moved) and all(moved.distance(area) >= wall for area, wall in near):
            return Spot(key=piece.key, form=0, x_mm=round(x_mm + dx, 3), y_mm=round(y_mm + dy, 3), angle_deg=angle_deg)
    return None


def nearest_spot(piece: Piece, bed: Bed, *, x_mm: float, y_mm: float, angle_deg: float) -> Spot | None:
    """Return the valid spot nearest to where the piece is wanted, at the same angle; None where there is none.

    Close by, half millimetres are tried on the true shapes: the raster, which never says yes wrongly, loses a
    millimetre or two, and a thing that was nudged out of a tight place must find back.
    """
    close = _close_spot(piece, bed, x_mm=x_mm, y_mm=y_mm, angle_deg=angle_deg)
    if close is not None:
        return close
    grid = Grid(bed, cell_mm=1.0)
    taken = grid.taken_spectrum()
    for number, form in enumerate(piece.forms):
        free = grid.free_shifts(form, angle_deg, taken)
        if free is None:
            continue
        rows, columns = np.nonzero(free)
        stamp = grid.stamp(form, angle_deg)
        x = grid.origin[0] + (columns - stamp.column) * grid.cell_mm
        y = grid.origin[1] + (rows - stamp.row) * grid.cell_mm
        nearest = int(np.hypot(x - x_mm, y - y_mm).argmin())
        return Spot(
            key=piece.key,
            form=number,
            x_mm=round(float(x[nearest]), 3),
            y_mm=round(float(y[nearest]), 3),
            angle_deg=angle_deg,
        )
    return None
