"""What every record stands on: frozen, made from keywords, compared by value; points, rings, outlines."""

from __future__ import annotations

import msgspec

Point = tuple[float, float]
Ring = tuple[Point, ...]


class Record(msgspec.Struct, frozen=True, weakref=True, kw_only=True, forbid_unknown_fields=True):
    """Base of all records: frozen, compared by value, made from keywords."""


class Outline(Record, frozen=True, kw_only=True):
    """True-size shape seen from above; no allowance in it. Rings do not repeat their first point."""

    outer: Ring
    holes: tuple[Ring, ...] = ()
