"""The log of roll calls: what was not in its place, when, and what is missing most often."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping

import msgspec
from msgspec.structs import replace

from cozy_burrow.core.model.edits import change_insert, insert_of
from cozy_burrow.core.model.kept import MOST_CALLS, MOST_NOTE, Absent, Called, PlaceState
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Insert, Project, Record

_GONE: tuple[PlaceState, ...] = ("empty", "other")  # the thing itself is not where it belongs


class Often(Record, frozen=True, kw_only=True):
    """How often a thing was missing: in so many of the roll calls that looked at its place, and when last."""

    name: str
    missing: int
    calls: int
    last: str


def noted(project: Project, insert_id: str, states: Mapping[str, PlaceState], *, at: str, note: str = "") -> Project:
    """Return the project with a roll call written down; the oldest ones go where there are too many.

    states: of every place that was looked at. at: local time to the minute.
    """
    absent = tuple(
        Absent(key=key, name=placement_name(project, key)[:1000], state=state)
        for key, state in states.items()
        if state != "filled"
    )
    insert = insert_of(project, insert_id)
    called = Called(at=at, insert_id=insert.id, places=len(states), absent=absent, note=note.strip()[:MOST_NOTE])
    return replace(project, roll_calls=(*project.roll_calls, called)[-MOST_CALLS:])


def layout_mark(insert: Insert) -> str:
    """Return what tells one layout of an insert from another: a photo of the full insert belongs to one of them."""
    said = msgspec.json.encode((insert.placements, insert.pulls, insert.sheets))
    return hashlib.blake2b(said, digest_size=16).hexdigest()


def with_full_photo(project: Project, insert_id: str, jpeg: bytes) -> Project:
    """Return the project with a photo of an insert as it is laid out now, everything in its place."""
    mark = layout_mark(insert_of(project, insert_id))
    return change_insert(project, insert_id, full_photo=jpeg, full_of=mark)


def full_photo_of(insert: Insert) -> bytes | None:
    """Return the photo of the full insert; None where there is none, or it is of another layout."""
    return insert.full_photo if insert.full_of == layout_mark(insert) else None


def calls_of(project: Project, insert_id: str) -> tuple[Called, ...]:
    """Return the roll calls of an insert, the last one first."""
    return tuple(one for one in reversed(project.roll_calls) if one.insert_id == insert_id)


def missing_most(project: Project, insert_id: str) -> tuple[Often, ...]:
    """Return what was missing at roll calls of an insert, most often first; of equals, what was missing last.

    Things are told by their places, so that one with a new name is still the same; one whose place is gone is not
    listed, since nobody can do anything about it.
    """
    calls = calls_of(project, insert_id)
    laid = {one.id for one in insert_of(project, insert_id).placements}
    found: dict[str, list[str]] = {}
    for call in calls:
        for absent in call.absent:
            if absent.state in _GONE and absent.key in laid:
                found.setdefault(absent.key, []).append(call.at)
    rows = [
        Often(name=placement_name(project, key), missing=len(times), calls=len(calls), last=max(times))
        for key, times in found.items()
    ]
    return tuple(sorted(rows, key=lambda one: (one.missing, one.last), reverse=True))
