"""A selection made into a row: side by side, sorted by size, with one trench, as near as it fits to where it lay."""

from __future__ import annotations

from collections.abc import Sequence

import shapely

from cozy_burrow.core.arrange.by_itself import spot_of
from cozy_burrow.core.arrange.facts import facts_of
from cozy_burrow.core.arrange.placing_in import nearest_place
from cozy_burrow.core.arrange.raster import Grid
from cozy_burrow.core.ground.arranging import laid_out
from cozy_burrow.core.ground.fitting import used_bed
from cozy_burrow.core.ground.gripping import regripped
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.model.edits import insert_of, item_of, placement_of, take_out
from cozy_burrow.core.model.records import Point, Project
from cozy_burrow.core.pulls.rows import ROW_MOST, row_piece


def laid_in_row(project: Project, insert_id: str, ids: Sequence[str]) -> Project | None:
    """Return the project with the things in one row, or None where no row of them has room. Locked ones stay out.

    Of all directions and ends, the one that lies nearest to the middle of where they lay.
    """
    insert = insert_of(project, insert_id)
    ground = ground_of(project, insert)
    chosen = [key for key in ids if not placement_of(insert, key).locked]
    if not 2 <= len(chosen) <= ROW_MOST:
        return None
    middle = shapely.union_all([ground.pockets[key].surface for key in chosen]).centroid
    at: Point = (float(middle.x), float(middle.y))
    members = []
    for key in chosen:
        placement = placement_of(insert, key)
        item = item_of(project, placement.item_id)
        members.append((item, placement.copy, facts_of(item)))
    cleared = take_out(project, insert_id, chosen)
    free = ground_of(cleared, insert_of(cleared, insert_id))
    piece = row_piece(members, "selection", free.bay, free.rules, with_pulls=True)
    shares = bool(piece.angles_deg)
    if not shares:  # no one trench serves them: they stand in a row, each with a pull of its own
        piece = row_piece(members, "selection", free.bay, free.rules, with_pulls=False)
    bed = used_bed(free, without=frozenset())
    if bed.area.is_empty:
        return None
    grid = Grid(bed, cell_mm=1.2)
    taken = grid.taken_spectrum()
    found = [
        laid
        for number in range(len(piece.forms))
        for angle in piece.angles_deg
        if (laid := nearest_place(piece, number, grid, angle, at, taken)) is not None
    ]
    if not found:
        return None
    best = min(found, key=lambda one: (round(shapely.Point(one.x_mm, one.y_mm).distance(middle)), one.angle_deg))
    row = laid_out(cleared, insert_id, (spot_of(best),), {piece.key: piece})
    return row if shares else regripped(row, insert_id, chosen)
