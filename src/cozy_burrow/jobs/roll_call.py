"""A roll call of an insert from photo files, as the answer of `roll-call` and in words."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import shapely

from cozy_burrow.core.capture.photo.picture import Picture, open_picture
from cozy_burrow.core.errors import UnusableInput, quoted
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.keep.log import full_photo_of
from cozy_burrow.core.keep.marks import USUAL_MM, marks, size_that_fits
from cozy_burrow.core.keep.roll_call import RollCall, roll_call
from cozy_burrow.core.model.edits import insert_of, item_of
from cozy_burrow.core.model.kept import Called, PlaceState
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Insert, Project
from cozy_burrow.core.progress import Token
from cozy_burrow.core.relief.field import lying_in
from cozy_burrow.core.tongue import tr
from cozy_burrow.export.marks_pdf import marks_pdf
from cozy_burrow.jobs.full_photo import kept_photo
from cozy_burrow.storage.whole_file import read_whole

STATE_NAMES: dict[PlaceState, str] = {
    "filled": tr("there"),
    "empty": tr("missing"),
    "unsure": tr("unsure"),
    "turned": tr("there, but end for end"),
    "other": tr("something else lies there"),
}
_MOST_NAMED = 3


def insert_called(project: Project, name: str | None, *, where: str) -> Insert:
    """Return the insert of a name; None: the only one that anything lies in. Raises UnusableInput with the names."""
    laid = [one for one in project.inserts if one.placements]
    if name is None:
        if len(laid) == 1:
            return laid[0]
        what = tr("several inserts have items in them") if laid else tr("nothing lies in any insert")
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
        remedy=tr("name one with --insert: {names}", names=names) if laid else tr("lay the items in first"),
    )


def call_roll(project: Project, insert: Insert, photo: Path, full: Path | None = None) -> RollCall:
    """Return what a photo file says of every place of an insert. Raises UnusableInput."""
    if not insert.placements:
        raise UnusableInput(
            tr("nothing lies in {name}", name=quoted(insert.name)),
            where=photo.name,
            remedy=tr("lay the items in first"),
        )
    now = _picture(photo)
    return roll_call(
        ground_of(project, insert), now, where=photo.name, full=_picture(full) if full is not None else None
    )


def called_apart(project: Project, insert_id: str, photo: bytes, name: str, *, token: Token) -> tuple[RollCall, bytes]:
    """Return what a photo says of every place of an insert, and the photo as it would be kept.

    It is compared with the photo of the full insert, where the project keeps one of this layout. Raises UnusableInput,
    Cancelled.
    """
    insert = insert_of(project, insert_id)
    picture = open_picture(photo, where=name)
    token.step(0.1)
    kept = full_photo_of(insert)
    full = open_picture(kept, where=tr("the photo of the full insert")) if kept is not None else None
    said = roll_call(ground_of(project, insert), picture, where=name, full=full)
    token.step(0.95)
    return said, kept_photo(picture)


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


def marks_for(project: Project, insert_id: str) -> tuple[bytes, float | None]:
    """Return the page of corner marks for an insert, and how large they are; None: there is no room on its foam."""
    ground = ground_of(project, insert_of(project, insert_id))
    taken = shapely.union_all([ground.taken_out(1), *(one.outline for one in lying_in(ground))])
    size_mm = size_that_fits(ground.blank, taken)
    return marks_pdf(marks(size_mm or USUAL_MM)), size_mm


def absent_words(call: Called) -> str:
    """Return what was not in its place at a roll call, in a line."""
    if not call.absent:
        return tr("everything home")
    told = []
    for state, name in STATE_NAMES.items():
        names = [one.name for one in call.absent if one.state == state]
        if names:
            shown = ", ".join(names[:_MOST_NAMED])
            more = tr(" and {count} more", count=len(names) - _MOST_NAMED) if len(names) > _MOST_NAMED else ""
            told.append(f"{name}: {shown}{more}")
    return "; ".join(told)
