"""What things are made of, each declared once: its colour, how it shines, what its surface looks like from near.

Colours are those of new things on a bench by daylight.
"""

from __future__ import annotations

import difflib
import re
from typing import Literal

from cozy_burrow.core.errors import UnusableInput, quoted
from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.tongue import tr

PARTED = "/"  # between the materials, or the colours, of a thing's parts
_HEX = re.compile(r"#[0-9a-f]{6}")
Grain = Literal["none", "wood", "brushed", "nap"]


class Material(Frozen):
    """One material. `name` is what files say.

    called: in words. colour: #rrggbb, where nobody names another. gloss: share of the light that comes back as from a
    mirror. sharp: how narrow a glint is (the exponent of a Blinn lobe). metal: its glints have its own colour.
    grain: what its surface looks like from near, and how strongly.
    """

    __slots__ = ("called", "colour", "gloss", "grain", "grain_share", "metal", "name", "sharp")

    def __init__(
        self,
        name: str,
        called: str,
        colour: str,
        *,
        gloss: float = 0.0,
        sharp: float = 20.0,
        metal: bool = False,
        grain: Grain = "none",
        grain_share: float = 0.0,
    ) -> None:
        self.name, self.called, self.colour = name, called, colour
        self.gloss, self.sharp, self.metal, self.grain, self.grain_share = gloss, sharp, metal, grain, grain_share


MATERIALS: dict[str, Material] = {}  # in the order in which they are offered


def material(one: Material) -> Material:
    """Make a material known. Raises ValueError for a name that is taken."""
    if one.name in MATERIALS:
        raise ValueError(one.name)
    MATERIALS[one.name] = one
    return one


STEEL = material(
    Material("steel", tr("steel"), "#aab0b6", gloss=0.75, sharp=48, metal=True, grain="brushed", grain_share=0.05)
)
BRASS = material(Material("brass", tr("brass"), "#c4a14d", gloss=0.7, sharp=40, metal=True))
ALUMINIUM = material(
    Material(
        "aluminium", tr("aluminium"), "#c3c6c8", gloss=0.5, sharp=18, metal=True, grain="brushed", grain_share=0.06
    )
)
WOOD = material(Material("wood", tr("wood"), "#a8743f", gloss=0.16, sharp=12, grain="wood", grain_share=0.22))
BLACK_PLASTIC = material(Material("black plastic", tr("black plastic"), "#2b2b2d", gloss=0.3, sharp=30))
PLASTIC = material(Material("plastic", tr("coloured plastic"), "#a63a2b", gloss=0.35, sharp=34))
RUBBER = material(Material("rubber", tr("rubber"), "#3a3836", gloss=0.06, sharp=6))
FELT = material(Material("felt", tr("felt"), "#5d7a58", grain="nap", grain_share=0.18))
LEATHER = material(Material("leather", tr("leather"), "#6b4226", gloss=0.12, sharp=8, grain="nap", grain_share=0.1))
GLASS = material(Material("glass", tr("glass"), "#9fb9ba", gloss=0.8, sharp=90))
CARD = material(Material("card", tr("card"), "#b89a6b", grain="nap", grain_share=0.06))

COLOUR_NAMES = {
    "white": tr("white"), "grey": tr("grey"), "black": tr("black"), "red": tr("red"), "orange": tr("orange"),
    "yellow": tr("yellow"), "green": tr("green"), "blue": tr("blue"), "purple": tr("purple"), "brown": tr("brown"),
    "beige": tr("beige"),
}  # fmt: skip
# What people call colours, as they are on things of plastic, paint and felt: rather muted.
COLOURS = {
    "white": "#e4e0d6", "grey": "#8b8d90", "black": "#2b2b2d", "red": "#a63a2b", "orange": "#c0692a",
    "yellow": "#cda23a", "green": "#3f7048", "blue": "#2f5d8f", "purple": "#6a4a78", "brown": "#6f4a2d",
    "beige": "#c9b48c",
}  # fmt: skip


# What else people write. A word that says more than the material (oak, chrome steel) is taken for what it looks like.
_ALSO_MATERIALS = {
    "coloured plastic": "plastic", "colored plastic": "plastic", "plastics": "plastic", "aluminum": "aluminium",
    "metal": "steel", "stainless steel": "steel", "stainless": "steel", "chrome": "steel", "iron": "steel",
    "wooden": "wood", "cardboard": "card", "paper": "card",
}  # fmt: skip
_ALSO_COLOURS = {"gray": "grey", "violet": "purple", "cream": "beige", "natural": "beige"}


def parts_of(text: str) -> tuple[str, ...]:
    """Return what a cell says of each part, in their order; empty words where it says nothing of one."""
    return tuple(" ".join(word.split()).lower() for word in text.split(PARTED)) if text.strip() else ()


def said_of(text: str, part: int) -> str:
    """Return what a text says of one part; the last word holds for all parts beyond it, too."""
    words = parts_of(text)
    return words[min(part, len(words) - 1)] if words else ""


def with_said(text: str, part: int, word: str, parts: int) -> str:
    """Return a text that says something else of one of so many parts; empty where it then says nothing of any."""
    words = [word if number == part else said_of(text, number) for number in range(parts)]
    return PARTED.join(words) if any(words) else ""


def checked_materials(text: str) -> str:
    """Return the materials of a thing's parts as they are kept. Raises UnusableInput for a word that is none."""
    words = [_ALSO_MATERIALS.get(word, word) for word in parts_of(text)]
    for word in words:
        if word and word not in MATERIALS:
            near = difflib.get_close_matches(word, MATERIALS, n=1)
            raise UnusableInput(
                tr("{word} is no material that is known", word=quoted(word)),
                remedy=tr("did you mean {near}?", near=near[0])
                if near
                else tr("use {names}", names=", ".join(MATERIALS)),
            )
    return PARTED.join(words)


def checked_colours(text: str) -> str:
    """Return the colours of a thing's parts as they are kept. Raises UnusableInput for a word that is none."""
    words = [_ALSO_COLOURS.get(word, word) for word in parts_of(text)]
    for word in words:
        if word and word not in COLOURS and not _HEX.fullmatch(word):
            raise UnusableInput(
                tr("{word} is no colour that is known", word=quoted(word)),
                remedy=tr("use #rrggbb, or {names}", names=", ".join(COLOURS)),
            )
    return PARTED.join(words)


def colour_called(word: str) -> str:
    """Return a colour as #rrggbb; empty for a word that is none."""
    return COLOURS.get(word, word if _HEX.fullmatch(word) else "")
