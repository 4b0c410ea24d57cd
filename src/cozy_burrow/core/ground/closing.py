"""Does it close? What meets the lid's foam, the frame or the tier above, how far it presses in, what comes first."""

from __future__ import annotations

from cozy_burrow.core.container.bay import headroom_mm, lid_touch_mm
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.ground.sits import sitting_in
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Record
from cozy_burrow.core.tolerances import FOAM_GIVES_MM, RULE_SLACK_MM


class Press(Record, frozen=True, kw_only=True):
    """One zone that what closes meets: how far it stands out of the foam, and how far it presses in."""

    placement: str
    zone: int
    proud_mm: float
    into_mm: float


class Closing(Record, frozen=True, kw_only=True):
    """What happens as the lid comes down, the drawer goes in or the tier is set on.

    touch_mm: a thing may stand out so far before it is met; room_mm: and so far with the lid's foam pressed in.
    pressed: what is met, the highest first. open_mm: by how much it stays open. spare_mm: room over the highest thing.
    """

    has_foam: bool
    touch_mm: float
    room_mm: float
    pressed: tuple[Press, ...]
    open_mm: float
    spare_mm: float

    @property
    def first(self) -> Press | None:
        """What is met first."""
        return self.pressed[0] if self.pressed else None


@memo(rows=16)
def closing_of(ground: Ground) -> Closing | None:
    """Return how the insert closes; None where nothing comes down on it, as on an open wall."""
    room_mm = headroom_mm(ground.bay)
    if room_mm == float("inf"):
        return None
    touch = lid_touch_mm(ground.bay)
    touch_mm = room_mm if touch is None else touch
    found: list[Press] = []
    highest_mm = 0.0
    for key in ground.pockets:
        for zone, proud_mm in enumerate(sitting_in(ground, key).zone_proud_mm):
            highest_mm = max(highest_mm, proud_mm)
            if proud_mm > touch_mm + RULE_SLACK_MM:
                found.append(Press(placement=key, zone=zone, proud_mm=proud_mm, into_mm=proud_mm - touch_mm))
    found.sort(key=lambda one: (-one.proud_mm, one.placement, one.zone))
    return Closing(
        has_foam=touch is not None and touch_mm < room_mm,
        touch_mm=touch_mm,
        room_mm=room_mm,
        pressed=tuple(found),
        open_mm=highest_mm - room_mm if highest_mm > room_mm + FOAM_GIVES_MM else 0.0,
        spare_mm=touch_mm - highest_mm,
    )
