"""What still fits into ground that is partly used: a pull beside a pocket, a clear spot for a thing, the next thing."""

from __future__ import annotations

from msgspec.structs import replace

from cozy_burrow.core.arrange.by_itself import best_spot, nearest_spot
from cozy_burrow.core.arrange.pieces import Bed, Piece
from cozy_burrow.core.depth.seated import local_pocket
from cozy_burrow.core.depth.wall_rule import wanted_wall_mm
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.model.edits import (
    add_pulls,
    change_insert,
    check_waiting,
    insert_of,
    item_of,
    placement_id,
    placement_of,
)
from cozy_burrow.core.model.pull_kinds import kind_of_pull
from cozy_burrow.core.model.records import Item, Placement, Project
from cozy_burrow.core.pulls.forms import bed_for, form_of_placed, piece_for, pulls_of


def used_bed(ground: Ground, *, without: frozenset[str]) -> Bed:
    """Return the bed with everything lying in it but the named placements and the pulls that serve only them."""
    taken = []
    for cutout in ground.cutouts:
        if cutout.owners <= without:
            continue
        depth_mm = ground.layers[len(cutout.areas) - 1].bottom_mm
        taken.append((cutout.areas[0], wanted_wall_mm(depth_mm, ground.rules)))
    return bed_for(ground.bay, ground.rules, taken=taken, spare=ground.insert.spare)


def moved_clear(project: Project, insert_id: str, key: str) -> Project | None:
    """Return the project with one placement moved to the nearest spot that keeps walls and edge; None: no room."""
    insert = insert_of(project, insert_id)
    placement = placement_of(insert, key)
    if placement.locked:
        return None
    ground = ground_of(project, insert)
    pocket = local_pocket(item_of(project, placement.item_id), placement, ground.bay, project.rules)
    own = tuple(pull for pull in insert.pulls if pull.serves == (key,) and not kind_of_pull(pull).shared)
    form = form_of_placed(pocket, own, ground.bay, project.rules)
    piece = Piece((placement.item_id, placement.copy), (form,), angles_deg=(placement.angle_deg,))
    spot = nearest_spot(
        piece,
        used_bed(ground, without=frozenset((key,))),
        x_mm=placement.x_mm,
        y_mm=placement.y_mm,
        angle_deg=placement.angle_deg,
    )
    if spot is None:
        return None
    moved = tuple(replace(one, x_mm=spot.x_mm, y_mm=spot.y_mm) if one.id == key else one for one in insert.placements)
    return change_insert(project, insert_id, placements=moved)


def laid_in(project: Project, insert_id: str, item: Item, copy: int) -> Project | None:
    """Return the project with one more thing laid where it nestles best among what lies there; None: no room.

    Raises UnusableInput where this copy lies somewhere already, or the item has no such copy.
    """
    check_waiting(project, item, copy)
    insert = insert_of(project, insert_id)
    ground = ground_of(project, insert)
    piece = piece_for(item, copy, ground.bay, project.rules, with_pulls=True)
    spot = best_spot(piece, used_bed(ground, without=frozenset()))
    if spot is None:
        return None
    new = Placement(
        id=placement_id(item.id, copy),
        item_id=item.id,
        copy=copy,
        x_mm=spot.x_mm,
        y_mm=spot.y_mm,
        angle_deg=spot.angle_deg,
    )
    project = change_insert(project, insert_id, placements=(*insert.placements, new))
    return add_pulls(project, insert_id, pulls_of(piece.forms[spot.form], new.id))
