"""What lies there already, as pieces to go on from: single things with their pulls, rows with their trench."""

from __future__ import annotations

from collections.abc import Mapping, Set

import shapely
from shapely.geometry import LineString

from cozy_burrow.core.arrange.facts import Facts
from cozy_burrow.core.arrange.pieces import Form, Part, Piece, Spot
from cozy_burrow.core.depth.wall_rule import wanted_wall_mm
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.model.pull_kinds import kind_of_pull
from cozy_burrow.core.model.records import Placement
from cozy_burrow.core.pulls.forms import footprint, form_of_placed, piece_for, wall_of
from cozy_burrow.core.pulls.placed import PlacedPull
from cozy_burrow.core.pulls.rows import RowPlan


def standing(
    ground: Ground, moving: Set[str], facts: Mapping[str, Facts], *, with_pulls: bool
) -> list[tuple[Piece, Spot]]:
    """Return the pieces that the moving placements make up as they lie, each with its spot.

    A trench that serves several of them makes one piece of these; it falls apart where it finds no other place.
    """
    placements = {one.id: one for one in ground.insert.placements}
    found: list[tuple[Piece, Spot]] = []
    seen: set[str] = set()
    for pull in ground.pulls:
        row = [key for key in pull.pull.serves if key in ground.pockets]
        if kind_of_pull(pull.pull).shared and len(row) > 1 and set(row) <= moving and not seen.intersection(row):
            seen |= set(row)
            found.append(_row(ground, pull, [placements[key] for key in row], facts, with_pulls))
    for key in (one.id for one in ground.insert.placements):
        if key in moving and key not in seen:
            found.append(_single(ground, placements[key], facts, with_pulls))
    return found


def _single(ground: Ground, placement: Placement, facts: Mapping[str, Facts], with_pulls: bool) -> tuple[Piece, Spot]:
    pocket = ground.pockets[placement.id].local
    known = facts[placement.item_id]
    own = tuple(one for one in ground.insert.pulls if one.serves == (placement.id,) and not kind_of_pull(one).shared)
    usual = piece_for(pocket.item, placement.copy, ground.bay, ground.rules, with_pulls=with_pulls, facts=known)
    form = form_of_placed(pocket, own, ground.bay, ground.rules)
    part = Part((placement.item_id, placement.copy), pocket.surface, known)
    # With pulls as good as the best; without, no better than the form that has none.
    worse = 0.0 if own else usual.worse(len(usual.forms) - 1)
    as_is = Form(form.shape, form.wall_mm, own or None, snap_mm=form.snap_mm, parts=(part,), worse=worse)
    forms = (as_is, *usual.forms) if own else (*usual.forms[:-1], as_is)
    piece = Piece(usual.key, forms, group=usual.group, angles_deg=usual.angles_deg)
    at = 0 if own else len(forms) - 1
    spot = Spot(key=piece.key, form=at, x_mm=placement.x_mm, y_mm=placement.y_mm, angle_deg=placement.angle_deg % 360.0)
    return piece, spot


def _row(
    ground: Ground, pull: PlacedPull, row: list[Placement], facts: Mapping[str, Facts], with_pulls: bool
) -> tuple[Piece, Spot]:
    pockets = [ground.pockets[one.id] for one in row]
    bulges = [
        placed(
            footprint(pocket, wall_of(pocket.local, ground.bay, ground.rules)[0]),
            x_mm=one.x_mm,
            y_mm=one.y_mm,
            angle_deg=one.angle_deg,
        )
        for one, pocket in zip(row, pockets)
    ]
    whole = shapely.union_all([*(pocket.surface for pocket in pockets), *bulges, pull.area])
    x, y = round(float(whole.centroid.x), 3), round(float(whole.centroid.y), 3)
    parts = [
        Part(
            (one.item_id, one.copy),
            pocket.local.surface,
            facts[one.item_id],
            x_mm=one.x_mm - x,
            y_mm=one.y_mm - y,
            angle_deg=one.angle_deg,
        )
        for one, pocket in zip(row, pockets)
    ]
    walls = [wall_of(pocket.local, ground.bay, ground.rules) for pocket in pockets]
    wall = max(*(wall for wall, _ in walls), wanted_wall_mm(ground.layers[pull.layers - 1].bottom_mm, ground.rules))
    line = placed(LineString(pull.pull.points_mm), x_mm=-x, y_mm=-y, angle_deg=0.0)
    ends = [(float(a), float(b)) for a, b in shapely.get_coordinates(line)]
    plan = RowPlan((ends[0], ends[1]), pull.pull.width_mm, tuple((one.item_id, one.copy) for one in row))
    form = Form(
        placed(whole, x_mm=-x, y_mm=-y, angle_deg=0.0),
        wall,
        plan,
        snap_mm=max(snap for _, snap in walls),
        parts=parts,
        worse=0.0,
    )
    singles = [
        piece_for(p.item, one.copy, ground.bay, ground.rules, with_pulls=with_pulls, facts=facts[one.item_id])
        for one, p in zip(row, pockets)
    ]
    key = (f"row as it lies: {row[0].item_id}", row[0].copy)
    piece = Piece(key, (form,), group=singles[0].group, angles_deg=(0.0, 90.0, 180.0, 270.0), instead=lambda: singles)
    return piece, Spot(key=key, form=0, x_mm=x, y_mm=y, angle_deg=0.0)
