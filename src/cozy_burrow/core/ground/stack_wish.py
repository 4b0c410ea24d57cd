"""What a stack must hold: the height that is free for it, and the deepest pocket that its things ask for."""

from __future__ import annotations

from cozy_burrow.core.container.bay import bay_of, stack_mm, tiers_of
from cozy_burrow.core.container.blank import inside_polygon
from cozy_burrow.core.depth.seat import seat_for
from cozy_burrow.core.foam.stacks import StackWish
from cozy_burrow.core.model.edits import item_of, unplaced
from cozy_burrow.core.model.records import Insert, Item, Placement, Project

_SHARE = {"half": 0.5, "flush": 1.0, "deep": 1.0, "lid": 1.0}


def stack_wish(project: Project, insert: Insert) -> StackWish:
    """Return what a stack for this insert must do; other tiers of its container keep their height."""
    bay = bay_of(project, insert)
    others = sum(stack_mm(one.sheets) for one in tiers_of(project, bay.container.id) if one.id != insert.id)
    left, back, right, front = inside_polygon(bay.container).bounds
    return StackWish(
        height_mm=max(0.0, bay.container.height_mm - others),
        needed_mm=deepest_wanted_mm(project, insert),
        blank_mm=(right - left + 2 * insert.press_fit_mm, front - back + 2 * insert.press_fit_mm),
        whole_bottom=insert.whole_bottom,
        floor_layers=project.rules.floor_layers,
    )


def deepest_wanted_mm(project: Project, insert: Insert) -> float:
    """Return the deepest pocket that the seats of the things ask for: those laid in the insert, else those in the tray.

    Half: half the thickness. Proud: all but what is held. Flush, deep and up to the lid: all of it. By judgement: half
    in a drawer, all of it in a case, on a wall and under a tier.
    """
    bay = bay_of(project, insert)
    things: list[tuple[Item, Placement | None]] = [
        (item_of(project, one.item_id), one) for one in insert.placements
    ] or [(item, None) for item, _ in unplaced(project)]
    depths = []
    for item, placement in things:
        seat = seat_for(item, placement, project.rules)
        if seat == "proud":
            depths.append(item.thickness_mm - project.rules.proud_to_hold_mm)
        elif seat == "judged":
            shallow = bay.container.kind == "drawer" and bay.above != "tier"
            depths.append(item.thickness_mm * _SHARE["half" if shallow else "flush"])
        else:
            depths.append(item.thickness_mm * _SHARE[seat])
    return max(depths, default=0.0)
