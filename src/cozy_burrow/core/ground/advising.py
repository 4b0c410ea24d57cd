"""Advice for a whole insert: what lies askew or rocks, and the insert with each of these seated as advised."""

from __future__ import annotations

from functools import partial

from cozy_burrow.core.depth.options import options_for, seated
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.ground.sits import lies_firm_in
from cozy_burrow.core.model.edits import change_placements, insert_of, placement_of
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Placement, Project


def _instead(new: Placement, _: Placement) -> Placement:
    return new


@memo(rows=16)
def needs_advice(ground: Ground) -> tuple[str, ...]:
    """Return the placements that lie askew or rock."""
    found = []
    for key in ground.pockets:
        if not lies_firm_in(ground, key):
            found.append(key)
    return tuple(found)


def advised_all(project: Project, insert_id: str) -> tuple[Project, tuple[str, ...]]:
    """Return the project with everything that lies askew seated as advised, and what no layers or riser helps."""
    ground = ground_of(project, insert_of(project, insert_id))
    left: list[str] = []
    for key in needs_advice(ground):
        placement = placement_of(ground.insert, key)
        options = options_for(ground.pockets[key].item, placement, ground.bay, project.rules)
        chosen = next((one for one in options if one.kind in {"layers", "riser"}), None)
        if chosen is None:
            left.append(key)
            continue
        new = seated(placement, chosen)
        project = change_placements(project, insert_id, [key], partial(_instead, new))
    return project, tuple(left)
