"""What the notes of a thing ask for at the bench: the usual caution for what they say."""

from __future__ import annotations

import re

from cozy_burrow.core.model.records import Item
from cozy_burrow.core.tongue import tr

_CAUTIONS: tuple[tuple[str, str], ...] = (
    (r"hot|heat|warm", tr("Put it away cold: foam melts and burns.")),
    (r"fuel|gas|petrol|alcohol|solvent", tr("Put it away emptied and closed; mind its maker's safety sheet.")),
    (
        r"sharp|blade|edge|point(?:ed|y)",
        tr("Cover its edge before laying it in; no finger pull may lead a hand onto it."),
    ),
    (r"spring", tr("Strap it shut before it is traced and laid in.")),
    (r"cable|cord|lead", tr("Coil the cable loosely and leave it room; no sharp bend at the plug.")),
    (r"lithium|li-?ion|batter|cell", tr("Lithium cells in luggage: the carrier's rules say what may travel, and how.")),
)


def note_cautions(notes: str) -> tuple[str, ...]:
    """Return the cautions that belong to what somebody noted about a thing."""
    return tuple(caution for words, caution in _CAUTIONS if re.search(rf"\b(?:{words})", notes, re.IGNORECASE))


def noted(item: Item) -> str:
    """Return the notes of a thing with their cautions as one text; empty where there are none."""
    if not item.notes:
        return ""
    notes = item.notes if item.notes[-1] in ".!?" else f"{item.notes}."
    return " ".join((notes, *note_cautions(item.notes)))
