"""How each thing sits in the ground as it will be: in its pocket, with pulls and other pockets under it counted."""

from __future__ import annotations

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.depth.pocket import Pocket, allowance_in
from cozy_burrow.core.depth.settling import Pose
from cozy_burrow.core.depth.sitting import LEVEL_DEG, Sitting, is_known, rocked_pose, sitting_of
from cozy_burrow.core.geometry.placing import points_to_item
from cozy_burrow.core.ground.ground import Cutout, Ground
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.pull_kinds import kind_of_pull
from cozy_burrow.core.model.records import Placement
from cozy_burrow.core.pulls.areas import pull_area
from cozy_burrow.core.tolerances import FOAM_GIVES_MM

_LEAST_MM2 = 1.0  # of another cut under the thing
Cuts = tuple[tuple[BaseGeometry, int], ...]


@memo(rows=1024)
def sitting_in(ground: Ground, key: str) -> Sitting:
    """Return how a placed thing comes to rest."""
    pocket = ground.pockets[key]
    snug_mm = -allowance_in(pocket, ground.rules)
    return sitting_of(pocket, ground.layers, snug_mm=snug_mm, cuts=_other_cuts(ground, key, pocket))


def sits_known(ground: Ground, key: str) -> bool:
    """Return whether it is known how a placed thing comes to rest, on this ground or as it lay on one before."""
    pocket = ground.pockets[key]
    snug_mm = -allowance_in(pocket, ground.rules)
    return is_known(pocket, ground.layers, snug_mm=snug_mm, cuts=_other_cuts(ground, key, pocket))


def proud_in(ground: Ground, key: str) -> float:
    """Return how far a placed thing surely stands out: as it was seated, or less where it came to rest deeper.

    What stands up at one end because it lies askew is nothing to rely on.
    """
    return min(ground.pockets[key].seating.proud_mm, sitting_in(ground, key).proud_mm + FOAM_GIVES_MM)


def rocked_in(ground: Ground, key: str) -> Pose | None:
    """Return how a light push would tip a placed thing that rocks; None where it stands firm."""
    pocket = ground.pockets[key]
    snug_mm = -allowance_in(pocket, ground.rules)
    return rocked_pose(pocket, ground.layers, snug_mm=snug_mm, cuts=_other_cuts(ground, key, pocket))


def lies_firm_in(ground: Ground, key: str) -> bool:
    """Return whether a placed thing lies level, and a light push does not tip it so that it is seen."""
    rocked = rocked_in(ground, key)
    return sitting_in(ground, key).level and (rocked is None or rocked.tilt_deg <= LEVEL_DEG)


def _other_cuts(ground: Ground, key: str, pocket: Pocket) -> Cuts:
    """Return what else is taken out under a thing and deeper than the shallowest part of its pocket."""
    near = _deeper_near(ground).get(key)
    if not near:
        return ()
    placement = next(one for one in ground.insert.placements if one.id == key)
    found: list[tuple[BaseGeometry, int]] = []
    for index in near:
        cutout = ground.cutouts[index]
        local = _own(ground, cutout, key) if cutout.kind == "pull" else None
        if local is not None:
            found.append((local, len(cutout.areas)))  # moves with it: the same shape at every step of a drag
        elif _meet(cutout.areas[0], pocket.surface):
            found += _deeper(cutout, placement, min(pocket.seating.zone_layers))
    return tuple(found)


@memo(rows=8)
def _deeper_near(ground: Ground) -> dict[str, list[int]]:
    """Return for each thing the cutouts whose bounds meet its pocket's and that are deeper than its shallowest part."""
    names = list(ground.pockets)
    if not names or not len(ground.cutouts):
        return {}
    reach = ground.reach
    mine = reach[: len(names)]  # pockets come first among the cutouts, in their order
    depth = np.array([len(one.areas) for one in ground.cutouts])
    shallow = np.array([min(pocket.seating.zone_layers) for pocket in ground.pockets.values()])
    meets = (
        (reach[None, :, 0] <= mine[:, None, 2])
        & (reach[None, :, 2] >= mine[:, None, 0])
        & (reach[None, :, 1] <= mine[:, None, 3])
        & (reach[None, :, 3] >= mine[:, None, 1])
        & (depth[None, :] > shallow[:, None])
    )
    found: dict[str, list[int]] = {}
    for one, other in np.argwhere(meets).tolist():
        if one != other:
            found.setdefault(names[one], []).append(other)
    return found


def _own(ground: Ground, cutout: Cutout, key: str) -> BaseGeometry | None:
    pull = next(one.pull for one in ground.pulls if one.pull.id == cutout.name)
    return pull_area(pull) if not kind_of_pull(pull).is_band and pull.serves[0] == key else None


@memo(rows=4096)
def _meet(area: BaseGeometry, surface: BaseGeometry) -> bool:
    return bool(area.intersection(surface).area > _LEAST_MM2)


@memo(rows=512)
def _deeper(cutout: Cutout, placement: Placement, shallowest: int) -> list[tuple[BaseGeometry, int]]:
    """Return the areas of a cutout below a layer in the coordinates of a placed item, the same shape once."""
    found: list[tuple[BaseGeometry, int]] = []
    before: BaseGeometry | None = None
    for number in range(len(cutout.areas), shallowest, -1):
        area = cutout.areas[number - 1]
        if area is not before:
            before = area
            found.append((shapely.transform(area, lambda points: points_to_item(placement, points)), number))
    return found
