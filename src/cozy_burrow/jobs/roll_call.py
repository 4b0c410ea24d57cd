"""A roll call of an insert from photo files, as the answer of `roll-call` and in words."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from cozy_burrow.core.capture.photo.picture import Picture, open_picture
from cozy_burrow.core.errors import UnusableInput, quoted
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.keep.place import State
from cozy_burrow.core.keep.roll_call import RollCall, roll_call
from cozy_burrow.core.model.edits import item_of
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Insert, Project
from cozy_burrow.core.tongue import tr
from cozy_burrow.storage.whole_file import read_whole

STATE_NAMES: dict[State, str] = {
    "filled": tr("there"),
    "empty": tr("missing"),
    "unsure": tr("unsure"),
    "turned": tr("there, but end for end"),
    "other": tr("something else lies there"),
}


def insert_called(project: Project, name: str | None, *, where: str) -> Insert:
    """Return the insert of a name; None: the only one that anything lies in. Raises UnusableInput with the names."""
    laid = [one for one in project.inserts if one.placements]
    if name is None:
        if len(laid) == 1:
            return laid[0]
        what = tr("several inserts have things in them") if laid else tr("nothing lies in any insert")
    else:
        wanted = name.strip().casefold()
        for one in project.inserts:
            if one.name.casefold() == wanted:
                return one
        what = tr("there is no insert {name}", name=quoted(name))
    names = ", ".join(quoted(one.name) for one in laid)
    raise UnusableInput(
        what,
        where=where,
        remedy=tr("name one with --insert: {names}", names=names) if laid else tr("lay the things in first"),
    )


def call_roll(project: Project, insert: Insert, photo: Path, full: Path | None = None) -> RollCall:
    """Return what a photo file says of every place of an insert. Raises UnusableInput."""
    if not insert.placements:
        raise UnusableInput(
            tr("nothing lies in {name}", name=quoted(insert.name)),
            where=photo.name,
            remedy=tr("lay the things in first"),
        )
    now = _picture(photo)
    return roll_call(
        ground_of(project, insert), now, where=photo.name, full=_picture(full) if full is not None else None
    )


def _picture(path: Path) -> Picture:
    return open_picture(read_whole(path), where=path.name)


def as_json(project: Project, insert: Insert, said: RollCall) -> dict[str, Any]:
    """Return the answer as it is printed."""
    return {
        "insert": insert.name,
        "marks_found": said.marks_found,
        "places": [
            {
                "name": item_of(project, one.key.rpartition("#")[0]).name,
                "copy": int(one.key.rpartition("#")[2]),
                "state": one.state,
                "why": one.why,
            }
            for one in said.places
        ],
    }


def in_words(project: Project, insert: Insert, said: RollCall) -> list[str]:
    """Return a line for every place that is not simply filled, and one for all others."""
    odd = [one for one in said.places if one.state != "filled"]
    lines = [
        tr(
            "{name}: {state} ({why})",
            name=placement_name(project, one.key),
            state=STATE_NAMES[one.state],
            why=one.why,
        )
        for one in odd
    ]
    count = len(said.places) - len(odd)
    lines.append(
        tr("{insert}: {count} of {total} places filled", insert=insert.name, count=count, total=len(said.places))
    )
    return lines
