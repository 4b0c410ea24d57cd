"""How a plan as it lies meets the wishes: the same scores that a search works for, read from the ground."""

from __future__ import annotations

from collections.abc import Mapping

from msgspec.structs import replace

from cozy_burrow.core.arrange.facts import facts_of, sets_of
from cozy_burrow.core.arrange.pieces import Bed
from cozy_burrow.core.arrange.plan import wishes_of
from cozy_burrow.core.arrange.raster import Grid
from cozy_burrow.core.arrange.wishes import Aims, Lying, Scores, Wish, WishName, weighed
from cozy_burrow.core.container.bay import tiers_of
from cozy_burrow.core.depth.wall_rule import wanted_wall_mm
from cozy_burrow.core.geometry.placing import to_plan
from cozy_burrow.core.ground.carrying import handle_point
from cozy_burrow.core.ground.fitting import used_bed
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.kit.zones import centre_of_mass
from cozy_burrow.core.model.edits import insert_of
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Point, Project


def aims_of(project: Project, ground: Ground, bed: Bed) -> Aims:
    """Return what the wishes of one insert are measured against."""
    container = ground.bay.container
    others = []
    for tier in tiers_of(project, container.id):
        if tier.id == ground.insert.id:
            continue
        for placement in tier.placements:
            item = next(one for one in project.items if one.id == placement.item_id)
            others.append((facts_of(item).mass_g, to_plan(placement, centre_of_mass(item))))
    room = bed.room if not bed.area.is_empty else (0.0, 0.0, 1.0, 1.0)
    least = wanted_wall_mm(0.0, ground.rules)
    if container.handle is None:
        return Aims(room, hand=container.hand_side, least_mm=least, others=others)
    target: Point = handle_point(container)[0]
    along = "x" if container.handle.side in {"back", "front"} else "y"
    return Aims(room, hand=container.hand_side, target=target, along=along, least_mm=least, others=others)  # type: ignore[arg-type]


def lying_in(ground: Ground, sets: Mapping[str, str]) -> tuple[Lying, ...]:
    """Return every copy in an insert with its facts."""
    found = []
    for placement in ground.insert.placements:
        pocket = ground.pockets[placement.id]
        facts = replace(facts_of(pocket.item), set_name=sets.get(pocket.item.id, ""))
        key = (placement.item_id, placement.copy)
        found.append(Lying(key, facts, pocket.surface, placement.x_mm, placement.y_mm, placement.angle_deg))
    return tuple(found)


def scores_of(project: Project, insert_id: str, weights: Mapping[WishName, float]) -> Scores:
    """Return how the insert as it lies meets the wishes under these weights."""
    wishes = _wishes(project, ground_of(project, insert_of(project, insert_id)))
    return Scores(wishes=wishes, total=weighed(wishes, weights))


@memo(rows=8)
def _wishes(project: Project, ground: Ground) -> tuple[Wish, ...]:
    bed = used_bed(ground, without=frozenset())
    if bed.area.is_empty:
        return ()
    grid = Grid(Bed(bed.area))
    for cutout in ground.cutouts:
        depth_mm = ground.layers[len(cutout.areas) - 1].bottom_mm
        grid.take(grid.window_of(cutout.areas[0], wanted_wall_mm(depth_mm, ground.rules)))
    return wishes_of(lying_in(ground, sets_of(project.items)), aims_of(project, ground, bed), grid, picture=True)
