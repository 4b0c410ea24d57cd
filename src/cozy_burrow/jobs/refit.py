"""A changed tool in a cut insert: every place that the old one has, tried; the answer of `refit` as one JSON object."""

from __future__ import annotations

import difflib
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from msgspec.structs import replace

from cozy_burrow.core.errors import UnusableInput, quoted
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.model.edits import (
    add_items,
    change_item,
    insert_of,
    item_of,
    placement_of,
    remove_items,
    unplaced,
)
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Item, Project
from cozy_burrow.core.progress import Token
from cozy_burrow.core.refit.refit import Refit, refits
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.report import as_plain


@dataclass(frozen=True)
class Proposal:
    """One way to take a new thing in, and the insert that it is in."""

    insert_id: str
    way: Refit


def named(items: Sequence[Item], name: str, *, where: str) -> Item:
    """Return the item of a name, whatever its capitals. Raises UnusableInput with the nearest name."""
    wanted = name.strip().casefold()
    for item in items:
        if item.name.casefold() == wanted:
            return item
    near = difflib.get_close_matches(name, [item.name for item in items], n=1)
    raise UnusableInput(
        tr("there is no item {name}", name=quoted(name)),
        where=where,
        remedy=tr("did you mean {near}?", near=near[0]) if near else tr("give the name as it stands there"),
    )


def proposals(project: Project, new: Item, old: Item) -> tuple[Proposal, ...]:
    """Return every way to lay a new item where the old one lies, least filling first, each without the old one.

    Of several copies the last one is replaced. Raises UnusableInput where it lies nowhere, or nowhere has room.
    """
    there = [(insert.id, one) for insert in project.inserts for one in insert.placements if one.item_id == old.id]
    if not there:
        raise UnusableInput(
            tr("{name} lies in no insert", name=quoted(old.name)), where="--replaces", remedy=tr("name one that lies")
        )
    last = max(one.copy for _, one in there)
    with_new = add_items(project, [replace(new, quantity=1)])
    joined = with_new.items[-1]
    found = []
    for insert_id, placement in there:
        if placement.copy == last:
            for way in refits(with_new, insert_id, placement.id, joined):
                left = _without(way.project, old)
                found.append(Proposal(insert_id=insert_id, way=Refit(left, way.placement, way.patch, way.moved)))
    if not found:
        raise _no_room(project, there[0][0], new)
    return tuple(sorted(found, key=lambda one: (round(one.way.patch.fill_mm3), one.way.patch.cut_mm3)))


def replacing(project: Project, insert_id: str, key: str, new_id: str, *, token: Token) -> tuple[Proposal, ...]:
    """Return every way to lay a thing of the kit that lies nowhere yet where a placement lies, least filling first.

    The old thing leaves the kit. Raises UnusableInput where nowhere has room, Cancelled.
    """
    old, new = item_of(project, placement_of(insert_of(project, insert_id), key).item_id), item_of(project, new_id)
    copy = next((number for item, number in unplaced(project) if item.id == new_id), None)
    if copy is None:
        raise UnusableInput(
            tr("{name} has its place already", name=quoted(new.name)), remedy=tr("take it off the foam")
        )
    found = [
        Proposal(insert_id=insert_id, way=Refit(_without(one.project, old), one.placement, one.patch, one.moved))
        for one in refits(project, insert_id, key, new, copy=copy, token=token)
    ]
    if not found:
        raise _no_room(project, insert_id, new)
    return tuple(found)


def _no_room(project: Project, insert_id: str, new: Item) -> UnusableInput:
    return UnusableInput(
        tr("there is no room for {name}, not even with one neighbour moved", name=quoted(new.name)),
        where=insert_of(project, insert_id).name,
        remedy=tr("lay the insert out anew, or take it into another one"),
    )


def _without(project: Project, old: Item) -> Project:
    """Return the project without the copy that was replaced."""
    if old.quantity <= 1:
        return remove_items(project, [old.id])
    return change_item(project, replace(old, quantity=old.quantity - 1))


def as_json(project: Project, found: Sequence[Proposal]) -> dict[str, Any]:
    """Return the object that `refit --json` prints."""
    return {
        "proposals": [
            {
                "insert": insert_of(project, one.insert_id).name,
                "x_mm": round(one.way.placement.x_mm, 3),
                "y_mm": round(one.way.placement.y_mm, 3),
                "angle_deg": round(one.way.placement.angle_deg, 3),
                "cut_mm3": round(one.way.patch.cut_mm3, 1),
                "fill_mm3": round(one.way.patch.fill_mm3, 1),
                "moved": [placement_name(project, key) for key in one.way.moved],
                "findings": [
                    as_plain(one.way.project, finding)
                    for finding in findings_of(one.way.project)
                    if one.way.placement.id in finding.placements
                ],
            }
            for one in found
        ]
    }
