"""Findings: computed judgements of a plan, each with its place, figure, limit and mends."""

from __future__ import annotations

from typing import Literal

from cozy_burrow.core.model.records import Point, Record

Severity = Literal["stop", "care", "note"]
WEIGHT: dict[str, int] = {"stop": 0, "care": 1, "note": 2}


class Mend(Record, frozen=True, kw_only=True):
    """Something the program can do about a finding, of a kind in `mend_kinds.MENDS`.

    target: a placement, a pull, an insert, or `item_id#copy`.
    """

    kind: str
    target: str


class Finding(Record, frozen=True, kw_only=True):
    """One judgement, of the kind that its code names (`kinds.KINDS`).

    placements are those it speaks of; value against limit, in `unit`; where on the plan.

    subject: the kind of opening, or the id of the insert or container; extra: a word that the sentence needs besides.
    """

    severity: Severity
    code: str
    placements: tuple[str, ...]
    value: float
    limit: float
    unit: str
    where_mm: Point | None = None
    layer: int | None = None
    subject: str = ""
    extra: str = ""
    mends: tuple[Mend, ...] = ()
