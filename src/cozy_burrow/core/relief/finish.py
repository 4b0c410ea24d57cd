"""What a surface looks like before light falls on it: of foam, of a container, of every part of a thing."""

from __future__ import annotations

import colorsys
import tomllib
import zlib
from functools import cache

from cozy_burrow.assets.read import asset
from cozy_burrow.core.model.materials import (
    BLACK_PLASTIC,
    BRASS,
    CARD,
    MATERIALS,
    PLASTIC,
    STEEL,
    WOOD,
    Material,
    colour_called,
    said_of,
)
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Item, Record
from cozy_burrow.core.relief.photo import mean_colour

Colour = tuple[int, int, int]  # red, green, blue, 0 to 255

# Handles of things whose colour nobody has said: muted, apart from each other and from foam, the same for one group.
_HANDLES = ("#8f3b2e", "#2f5d7c", "#7a6a2c", "#3f6b4a", "#6a4a78", "#a3622c")
_THIN_MM = 9.0  # of a tool, and not more: a blade, a shaft, a rule
FOAM_GRAIN = 0.055
# Of mean colours in photos: hues in turns, saturation and value as shares.
_BLACK_VALUE, _BRIGHT_VALUE, _COLOURFUL = 0.24, 0.55, 0.45
_WOOD_HUE, _WOOD_SATURATION = (0.03, 0.13), (0.28, 0.68)
_BRASS_HUE = (0.10, 0.16)


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


@cache
def daylight() -> Look:
    """Return the colours that foam and container have in the window by day, where nobody has named others."""
    theme = tomllib.loads(asset("themes", "light.toml").read_text(encoding="utf-8"))
    foam, contrast, rim, floor = (
        rgb(theme[name]) for name in ("relief_foam", "foam_contrast", "relief_rim", "relief_floor")
    )
    return Look(foam=foam, contrast=contrast, rim=rim, floor=floor)


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
    """Return what a part is probably made of where nobody has said: by its photo, else by its shape."""
    seen = mean_colour(item, number)
    by_shape = _by_shape(item, number)
    return by_shape if seen is None else (_by_colour(seen, by_shape[0]), seen)


def _by_colour(seen: Colour, by_shape: Material) -> Material:
    """Return what a part is probably made of by its mean colour and, where that says nothing, its shape.

    Between dull yellow and red, neither pale nor dark, it is wood; colourful, plastic; nearly black, black plastic;
    grey things are what their shape says, unless that has a colour.
    """
    hue, saturation, value = colorsys.rgb_to_hsv(*(share / 255.0 for share in seen))
    if value < _BLACK_VALUE:
        return BLACK_PLASTIC
    if _WOOD_HUE[0] <= hue <= _WOOD_HUE[1] and _WOOD_SATURATION[0] <= saturation <= _WOOD_SATURATION[1]:
        return WOOD
    if saturation >= _COLOURFUL:
        return BRASS if by_shape is STEEL and _BRASS_HUE[0] <= hue <= _BRASS_HUE[1] else PLASTIC
    return by_shape if by_shape in {STEEL, CARD} else (STEEL if value > _BRIGHT_VALUE else BLACK_PLASTIC)


def _by_shape(item: Item, number: int) -> tuple[Material, Colour]:
    """Return what a part is probably made of, as tools mostly are.

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
