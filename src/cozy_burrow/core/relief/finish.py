"""What a surface looks like before light falls on it: of foam, of a container, of every part of a thing."""

from __future__ import annotations

import zlib

from cozy_burrow.core.model.materials import (
    BLACK_PLASTIC,
    CARD,
    MATERIALS,
    PLASTIC,
    STEEL,
    Material,
    colour_called,
    said_of,
)
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Item, Record

Colour = tuple[int, int, int]  # red, green, blue, 0 to 255

# Handles of things whose colour nobody has said: muted, apart from each other and from foam, the same for one group.
_HANDLES = ("#8f3b2e", "#2f5d7c", "#7a6a2c", "#3f6b4a", "#6a4a78", "#a3622c")
_THIN_MM = 9.0  # of a tool, and not more: a blade, a shaft, a rule
FOAM_GRAIN = 0.055


class Finish(Record, frozen=True, kw_only=True):
    """One surface. body: the placement that it belongs to; empty: foam or container."""

    colour: Colour
    gloss: float = 0.0
    sharp: float = 20.0
    metal: bool = False
    grain: str = "none"
    grain_share: float = 0.0
    body: str = ""


class Look(Record, frozen=True, kw_only=True):
    """The colours of what is no item: the foam's upper sheets, its contrast layers, the container and its floor."""

    foam: Colour
    contrast: Colour
    rim: Colour
    floor: Colour


def rgb(text: str) -> Colour:
    """Return the shares of a colour written as #rrggbb. Raises ValueError."""
    digits = text.removeprefix("#")
    if len(digits) != 6:
        raise ValueError(text)
    return int(digits[0:2], 16), int(digits[2:4], 16), int(digits[4:6], 16)


def finish_of(item: Item, zone: int, body: str) -> Finish:
    """Return what a part of a placed item looks like."""
    found, colour = _made_of(item, zone)
    return Finish(
        colour=colour,
        gloss=found.gloss,
        sharp=found.sharp,
        metal=found.metal,
        grain=found.grain,
        grain_share=found.grain_share,
        body=body,
    )


@memo(rows=1024)
def _made_of(item: Item, number: int) -> tuple[Material, Colour]:
    """Return what a part is made of and its colour: as was said of it, else as it probably is."""
    guess, colour = _guessed(item, number)
    said = MATERIALS.get(said_of(item.material, number))
    if said is not None and said is not guess:
        guess, colour = said, rgb(said.colour)
    named = colour_called(said_of(item.colour, number))
    return guess, rgb(named) if named else colour


def _guessed(item: Item, number: int) -> tuple[Material, Colour]:
    """Return what a part is probably made of where nobody has said: by its shape, as tools mostly are.

    What is thin is steel; the thickest part of several is the handle; a box is card; what is thick is plastic.
    """
    zone = item.zones[number]
    handle = max(one.thickness_mm for one in item.zones)
    if item.provenance.way == "box" and zone.thickness_mm > _THIN_MM:
        return CARD, rgb(CARD.colour)
    if zone.thickness_mm <= _THIN_MM and (len(item.zones) == 1 or zone.thickness_mm < handle):
        return STEEL, rgb(STEEL.colour)
    if len(item.zones) > 1 and zone.thickness_mm < 0.6 * handle:
        return STEEL, rgb(STEEL.colour)
    if zone.section == "round":
        return PLASTIC, rgb(_HANDLES[zlib.crc32((item.group or item.name).encode()) % len(_HANDLES)])
    return BLACK_PLASTIC, rgb(BLACK_PLASTIC.colour)
