"""One line on one sheet, and all of a sheet in the order of the work."""

from __future__ import annotations

from typing import Literal

from cozy_burrow.core.model.records import Point, Record

Reason = Literal[
    "PULLS_LAST", "OUTSIDE_IN", "SINK_FIRST", "MARK_NOW", "UNDER_LATER", "SAME_BLADE", "ALONG_RULE", "SHORT_WAY"
]


class Cut(Record, frozen=True, kw_only=True):
    """One line on one sheet.

    name: the placement or pull that it belongs to. from_layer, to_layer: layers of this sheet that come out
    inside the line. blade_mm: how far the blade stands out over the sheet's top; from_ledge_mm: over the ledge where
    the cut begins, for who has peeled down to it: the other figure would cut too deep there. length_mm: how far it
    travels; straight_mm: how much of that along a rule. slit: too thin for a strip to be cut out; the knife goes along
    it once. why: the rules by which it has its turn, the strongest first; breaks: those that it breaks where the fitter
    has put it elsewhere. key: what it is called in an order of the fitter's own.
    """

    number: int
    sheet: int
    kind: str
    name: str
    owners: tuple[str, ...]
    from_layer: int
    to_layer: int
    blade_mm: float
    from_ledge_mm: float
    length_mm: float
    straight_mm: float = 0.0
    through: bool
    slit: bool
    label_mm: Point
    line: tuple[Point, ...]
    why: tuple[Reason, ...] = ()
    breaks: tuple[Reason, ...] = ()
    key: str = ""


class SheetCuts(Record, frozen=True, kw_only=True):
    """All cuts of one sheet in the order of the work. metres are of knife travel, one pass a cut."""

    sheet: int
    layers: int
    pitch_mm: float
    cuts: tuple[Cut, ...]
    metres: float
