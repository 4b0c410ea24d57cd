"""After a pocket is cut the fit is tried; what does not fit is mended, and the plan becomes the real insert.

fault     remedy
tight     shave its wall, all round or at one side
loose     glue a strip of foam along its wall, or all round
deep      put so much of the plug back under it, a riser
shallow   take one layer more, or as much off the riser that lies under it
place     glue the plug back, and cut it where it should have been
"""

from __future__ import annotations

from typing import Literal

from msgspec.structs import replace

from cozy_burrow.core.container.bay import Bay, bay_of
from cozy_burrow.core.depth.seat import Seating
from cozy_burrow.core.depth.seated import seating_of
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.foam.layers import layers_of
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.model.edits import change_placements, insert_of, item_of, placement_of
from cozy_burrow.core.model.records import MOST_EASED_MM, MOST_EASED_SIDES, EasedSide, Item, Placement, Project
from cozy_burrow.core.model.vessels import Side
from cozy_burrow.core.tongue import tr

Fault = Literal["tight", "loose", "deep", "shallow", "place"]
FAULTS: tuple[Fault, ...] = ("tight", "loose", "deep", "shallow", "place")
GLUED: frozenset[Fault] = frozenset({"loose", "deep", "place"})  # their remedies need glue
SHAVED_MM = 0.5  # a usual shave; too small can be enlarged
STRIP_MM = 2.0  # thinner than that no strip of foam is cut
SLICE_MM = 5.0  # off a plug of plain foam, which has no layers
LEAST_MM = 0.1
_SIDE_DEG: dict[Side, float] = {"right": 0.0, "front": 90.0, "left": 180.0, "back": 270.0}


def mended_fit(
    project: Project,
    insert_id: str,
    key: str,
    fault: Fault,
    *,
    by_mm: float | None = None,
    dy_mm: float = 0.0,
    side: Side | None = None,
) -> Project:
    """Return the project as the insert is once a fault of a thing's fit was mended.

    by_mm: by how much it is shaved or narrowed all round, raised or sunk (`usual_mm` where nobody says), how far it
    goes to the right, with dy_mm to the front; a layer more is a whole one. side: only there it is shaved or narrowed;
    None: all round. Raises UnusableInput where that can't be.
    """
    insert = insert_of(project, insert_id)
    where = placement_of(insert, key)
    item, bay = item_of(project, where.item_id), bay_of(project, insert)
    seating = seating_of(item, where, bay, project.rules)
    by = usual_mm(project, insert_id, key, fault, side) if by_mm is None else by_mm
    match fault:
        case "tight" | "loose":
            _amount(by, MOST_EASED_MM)
            if side is not None:
                changed = _eased_at(where, side, by if fault == "tight" else -by)
                return _with(project, insert_id, key, changed)
            eased = round(where.eased_mm + (by if fault == "tight" else -by), 3)
            _amount(abs(eased), MOST_EASED_MM, least=0.0)
            changed = replace(where, eased_mm=eased)
        case "deep":
            changed = _raised(where, item, bay, seating, by)
        case "shallow":
            changed = _off_riser(where, seating, by) if any(seating.risers_mm) else _deeper(where, bay, seating, by)
        case "place":
            changed = replace(where, x_mm=where.x_mm + by, y_mm=where.y_mm + dy_mm)
    return _with(project, insert_id, key, changed)


def _eased_at(where: Placement, side: Side, by_mm: float) -> Placement:
    """Ease a pocket at one side of the insert: shaves and strips at the same wall add up."""
    side_deg = round((_SIDE_DEG[side] - where.angle_deg) % 360.0, 6)
    before = {one.side_deg: one.by_mm for one in where.eased_sides}
    eased = round(before.get(side_deg, 0.0) + by_mm, 3)
    _amount(abs(eased), MOST_EASED_MM, least=0.0)
    after = before | {side_deg: eased}
    if len(after) > MOST_EASED_SIDES:
        raise UnusableInput(tr("its pocket was eased at too many sides"), remedy=tr("ease it all round"))
    sides = tuple(EasedSide(side_deg=each, by_mm=by) for each, by in after.items() if by)
    return replace(where, eased_sides=sides)


def _with(project: Project, insert_id: str, key: str, changed: Placement) -> Project:
    after = change_placements(project, insert_id, [key], lambda _: changed)
    if not ground_of(after, insert_of(after, insert_id)).pockets[key].layers:
        raise UnusableInput(tr("nothing would be left of its pocket"), remedy=tr("glue in less"))
    return after


def usual_mm(project: Project, insert_id: str, key: str, fault: Fault, side: Side | None = None) -> float:
    """Return by how much a fault is mended where nobody says: a shave, a layer where it lies, a slice of a plug."""
    if fault == "loose" and side is not None:
        return STRIP_MM
    if fault in {"tight", "loose"}:
        return SHAVED_MM
    if fault == "place":
        return 0.0
    insert = insert_of(project, insert_id)
    where, bay = placement_of(insert, key), bay_of(project, insert)
    seating = seating_of(item_of(project, where.item_id), where, bay, project.rules)
    layers = layers_of(bay.sheets)
    deepest = max(seating.zone_layers)
    if layers[deepest - 1].in_whole:
        return SLICE_MM
    lies_on = deepest if fault == "shallow" and not any(seating.risers_mm) else deepest - 1
    return layers[min(lies_on, len(layers) - 1)].thickness_mm


def lies_on_riser(project: Project, insert_id: str, key: str) -> bool:
    """Whether something of the plug lies under a thing."""
    insert = insert_of(project, insert_id)
    where = placement_of(insert, key)
    item = item_of(project, where.item_id)
    return any(seating_of(item, where, bay_of(project, insert), project.rules).risers_mm)


def _raised(where: Placement, item: Item, bay: Bay, seating: Seating, by_mm: float) -> Placement:
    """Put foam back under every part that rests on a floor; parts keep their steps."""
    layers = layers_of(bay.sheets)
    by = _amount(by_mm, layers[max(seating.zone_layers) - 1].bottom_mm)
    before = seating.risers_mm if len(seating.risers_mm) == len(item.zones) else (0.0,) * len(item.zones)
    risers = tuple(
        min(layers[count - 1].bottom_mm, round(riser + by, 3)) for count, riser in zip(seating.zone_layers, before)
    )
    return replace(where, zone_layers=seating.zone_layers, risers_mm=risers)


def _off_riser(where: Placement, seating: Seating, by_mm: float) -> Placement:
    by = _amount(by_mm, max(seating.risers_mm))
    risers = tuple(max(0.0, round(riser - by, 3)) for riser in seating.risers_mm)
    return replace(where, zone_layers=seating.zone_layers, risers_mm=risers)


def _deeper(where: Placement, bay: Bay, seating: Seating, by_mm: float) -> Placement:
    """Take one layer more under every part; of one that is a whole sheet, put back what it is not to sink by."""
    layers = layers_of(bay.sheets)
    wanted = tuple(count + 1 for count in seating.zone_layers)
    if max(wanted) > len(layers):
        raise UnusableInput(tr("no layer left below it"), remedy=tr("take a thicker stack"))
    taken = [layers[count - 1] for count in wanted]
    risers = tuple(
        round(one.thickness_mm - _amount(by_mm, one.thickness_mm), 3) if one.in_whole else 0.0 for one in taken
    )
    return replace(where, zone_layers=wanted, risers_mm=risers if any(risers) else None)


def _amount(by_mm: float, most_mm: float, *, least: float = LEAST_MM) -> float:
    if not least <= by_mm <= most_mm:
        raise UnusableInput(
            tr("{by:g} mm is out of range", by=by_mm),
            remedy=tr("give {least:g} to {most:g} mm", least=least, most=most_mm),
        )
    return by_mm
