"""What is remembered of an insert that is in use, as frozen records.

Called     a roll call that was written down       Absent   a place that was not simply filled then
GluedIn    a piece of foam that was put back, since another thing lies there now
"""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from cozy_burrow.core.model.base import Outline, Record

PlaceState = Literal["filled", "empty", "unsure", "turned", "other"]
MOST_CALLS = 2_000  # one a day for five years
MOST_NOTE = 500


class Absent(Record, frozen=True, kw_only=True):
    """A place that was not simply filled: which, what its thing was called then, how it was found."""

    key: Annotated[str, Meta(max_length=300)]
    name: Annotated[str, Meta(max_length=1000)]
    state: PlaceState


class Called(Record, frozen=True, kw_only=True):
    """A roll call of an insert. at: local time to the minute, as 2026-11-29T16:40; places: how many were looked at."""

    at: Annotated[str, Meta(pattern=r"^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$")]
    insert_id: str
    places: Annotated[int, Meta(ge=0, le=100_000)]
    absent: Annotated[tuple[Absent, ...], Meta(max_length=10_000)] = ()
    note: Annotated[str, Meta(max_length=MOST_NOTE)] = ""


class GluedIn(Record, frozen=True, kw_only=True):
    """A piece of one layer's thickness that was glued in. layer: 1 is the top of the stack; outline: in the plan."""

    layer: Annotated[int, Meta(ge=1, le=1000)]
    outline: Outline
