"""What a person calls what lies in an insert."""

from __future__ import annotations

from cozy_burrow.core.errors import Gone
from cozy_burrow.core.model.edits import item_of
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.tongue import tr

SIDE_NAMES: dict[str, str] = {"back": tr("back"), "right": tr("right"), "front": tr("front"), "left": tr("left")}


def placement_name(project: Project, key: str) -> str:
    """Return what a person calls the placement: the item's name, with its number where there are several."""
    item_id, _, copy = key.rpartition("#")
    try:
        item = item_of(project, item_id)
    except Gone:
        return key
    return f"{item.name} {copy}" if item.quantity > 1 else item.name


def named(project: Project, keys: tuple[str, ...]) -> str:
    """Return the names of placements joined for a sentence."""
    names = [f"‘{placement_name(project, key)}’" for key in keys]
    if len(names) > 3:
        names = [*names[:2], tr("{count} others", count=len(names) - 2)]
    if len(names) < 2:
        return "".join(names)
    return tr("{first} and {last}", first=", ".join(names[:-1]), last=names[-1])
