"""One piece into a bed where the rest stays: where it nestles best, or as near as it may lie to where it is wanted."""

from __future__ import annotations

import numpy as np
import shapely
from shapely import affinity

from cozy_burrow.core.arrange.pieces import Bed, Piece, Spot
from cozy_burrow.core.arrange.placing_in import Laid, best_place
from cozy_burrow.core.arrange.raster import Grid
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.progress import make_way

_CLOSE_MM = 12.0  # how far half millimetres are tried before the raster


def spot_of(laid: Laid) -> Spot:
    """Return the spot of a piece that lies."""
    return Spot(key=laid.piece.key, form=laid.form, x_mm=laid.x_mm, y_mm=laid.y_mm, angle_deg=laid.angle_deg)


def best_spot(piece: Piece, bed: Bed, *, cell_mm: float = 1.2) -> Spot | None:
    """Return where the piece nestles best, in the best form that fits anywhere; None where none does."""
    if bed.area.is_empty:
        return None
    found = best_place(piece, Grid(bed, cell_mm=cell_mm), None, ())
    return None if found is None else spot_of(found)


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
        make_way()
        moved = affinity.translate(shape, dx, dy)
        if bed.area.covers(moved) and all(moved.distance(area) >= wall for area, wall in near):
            return Spot(key=piece.key, form=0, x_mm=round(x_mm + dx, 3), y_mm=round(y_mm + dy, 3), angle_deg=angle_deg)
    return None


def nearest_spot(piece: Piece, bed: Bed, *, x_mm: float, y_mm: float, angle_deg: float) -> Spot | None:
    """Return the valid spot nearest to where the piece is wanted, at the same angle; None where there is none.

    Close by, half millimetres are tried on the true shapes: the raster, which never says yes wrongly, loses a
    millimetre or two, and a thing that was nudged out of a tight place must find back.
    """
    if bed.area.is_empty:
        return None
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
