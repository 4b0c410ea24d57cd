"""Where an insert stands in its container: what is below it, what is above it, and how much room that leaves.

Tier      one of several inserts that stand on each other in one container
Headroom  how far things may stand out of the foam: up to the frame, the lid's foam, or the tier above
"""

from __future__ import annotations

import math
from typing import Literal

from cozy_burrow.core.model.edits import container_of
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Container, Insert, Project, Record, Sheet

Above = Literal["rim", "lid", "tier"]


class Bay(Record, frozen=True, kw_only=True):
    """An insert's foam in its container.

    below_mm: height of its underside above the container's floor. above_mm: height of the tiers on top of it.
    """

    container: Container
    sheets: tuple[Sheet, ...]
    press_fit_mm: float = 0.0
    whole_bottom: bool = False
    below_mm: float = 0.0
    above: Above = "rim"
    above_mm: float = 0.0

    @property
    def top_mm(self) -> float:
        """Height of its surface above the container's floor."""
        return self.below_mm + stack_mm(self.sheets)


def stack_mm(sheets: tuple[Sheet, ...]) -> float:
    """Return the height of a whole stack."""
    return sum(sheet.thickness_mm for sheet in sheets)


def bay_of(project: Project, insert: Insert) -> Bay:
    """Return where an insert of the project stands. The tiers below it carry it."""
    container = container_of(project, insert)
    tiers = tiers_of(project, container.id)
    place = next((n for n, one in enumerate(tiers) if one.id == insert.id), 0)
    below_mm = sum(stack_mm(one.sheets) for one in tiers[place + 1 :])
    above_mm = sum(stack_mm(one.sheets) for one in tiers[:place])
    above: Above = "tier" if place > 0 else ("lid" if container.lid is not None else "rim")
    return _bay(container, insert.sheets, insert.press_fit_mm, insert.whole_bottom, below_mm, above, above_mm)


def tiers_of(project: Project, container_id: str) -> tuple[Insert, ...]:
    """Return the inserts that stand in a container, the top one first."""
    return tuple(one for one in project.inserts if one.container_id == container_id)


@memo(rows=64)
def _bay(
    container: Container,
    sheets: tuple[Sheet, ...],
    press_fit_mm: float,
    whole_bottom: bool,
    below_mm: float,
    above: Above,
    above_mm: float,
) -> Bay:
    # The same bay for the same foam in the same container: what is worked out for it is found again after a move.
    return Bay(
        container=container,
        sheets=sheets,
        press_fit_mm=press_fit_mm,
        whole_bottom=whole_bottom,
        below_mm=below_mm,
        above=above,
        above_mm=above_mm,
    )


def headroom_mm(bay: Bay) -> float:
    """Return the room above the foam; negative where the foam itself stands too high.

    Under a lid: its depth less its foam, plus what the foam gives. Under another tier: none, it lies on the foam.
    An open wall has nothing in front of it; a door that closes is given as its lid.
    """
    container = bay.container
    if bay.above == "tier":
        return 0.0
    if container.kind == "wall" and container.lid is None:
        return math.inf
    room = container.height_mm - bay.top_mm
    if bay.above == "lid" and container.lid is not None:
        room += container.lid.depth_mm - container.lid.foam_mm + container.lid.give_mm
    return room


STRAP_END_MM = 90.0  # a hand's width to hold, above the surface at either side


def strap_mm(bay: Bay) -> float:
    """Return the length of a strap under the insert from front to back, up both sides, with an end for each hand."""
    return bay.container.depth_mm + 2 * (stack_mm(bay.sheets) + STRAP_END_MM)


def lid_touch_mm(bay: Bay) -> float | None:
    """Return how far a thing may stand out before the lid's foam touches it; None where there is no lid above."""
    if bay.above != "lid" or bay.container.lid is None:
        return None
    return headroom_mm(bay) - bay.container.lid.give_mm
