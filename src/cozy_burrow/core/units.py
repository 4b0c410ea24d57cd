"""Lengths as people write them, and back: millimetres, centimetres, inches and inch fractions."""

from __future__ import annotations

import math
import re
from fractions import Fraction
from typing import Literal

from cozy_burrow.core.errors import UnusableInput, quoted
from cozy_burrow.core.tolerances import LARGEST_LENGTH_MM
from cozy_burrow.core.tongue import decimal, tr

Unit = Literal["mm", "inch"]  # that a project shows
BareUnit = Literal["mm", "cm", "m", "inch"]  # that a bare figure may be meant in
MM_PER_INCH = 25.4  # exact since 1959, by definition of the international inch
_MM_PER = {
    "": 1.0,
    "mm": 1.0,
    "cm": 10.0,
    "m": 1000.0,
    "in": MM_PER_INCH,
    '"': MM_PER_INCH,
    "inch": MM_PER_INCH,
}
_LENGTH = re.compile(
    r"""^\s*(?P<sign>[-+−]?)\s*
        (?: (?:(?P<whole>\d+)[\s-]+)? (?P<top>\d+)\s*/\s*(?P<bottom>\d+)
          | (?P<number>\d+(?:[.,]\d*)?|[.,]\d+) )
        \s*(?P<unit>mm|cm|m|inch|in|")?\s*$""",
    re.VERBOSE | re.IGNORECASE,
)
_AMBIGUOUS = re.compile(r"[1-9]\d{0,2},\d{3}")
_LONGEST = 100
_REMEDY = tr("write a length such as 12, 12mm, 1.2cm, 0.5in or 1 1/8in")


def parse_length(text: str, *, unit: BareUnit = "mm", where: str = "") -> float:
    """Return the length in millimetres that text states.

    text: `12`, `12mm`, `1.2cm`, `0.5in`, `1/2in`, `1 1/8in`, with a sign where wanted; a comma may stand
    for the decimal point, but for one before three figures: `1,200` is 1.2 to one and 1200 to another.
    unit: what a bare number means.
    where: the field or column, put into the error.
    Raises UnusableInput where text is no length or lies beyond ten metres.
    """
    # No length that anybody means has so many digits; numbers of thousands of them take minutes, or are refused.
    found = _LENGTH.match(text) if len(text) <= _LONGEST else None
    if not found:
        raise UnusableInput(tr("{text} is not a length", text=quoted(text)), where=where, remedy=_REMEDY)
    if found["number"] and _AMBIGUOUS.fullmatch(found["number"]):
        one, other = found["number"].replace(",", "."), found["number"].replace(",", "")
        raise UnusableInput(
            tr("{text} may be {one} or {other}", text=quoted(text), one=one, other=other),
            where=where,
            remedy=tr("write {one} or {other}", one=one.rstrip("0").rstrip("."), other=other),
        )
    if found["top"]:
        if int(found["bottom"]) == 0:
            raise UnusableInput(tr("{text} divides by zero", text=quoted(text)), where=where, remedy=_REMEDY)
        value = int(found["whole"] or 0) + int(found["top"]) / int(found["bottom"])
    else:
        value = float(found["number"].replace(",", "."))
    suffix = (found["unit"] or "").lower()
    if not suffix:
        suffix = unit
    length_mm = value * _MM_PER[suffix] * (-1.0 if found["sign"] in {"-", "−"} else 1.0)
    if not math.isfinite(length_mm) or abs(length_mm) > LARGEST_LENGTH_MM:
        raise UnusableInput(
            tr("{text} is longer than ten metres", text=quoted(text)),
            where=where,
            remedy=tr("check the unit of this length"),
        )
    return length_mm


def parse_size(text: str, *, parts: int, where: str = "") -> tuple[float, ...]:
    """Return the lengths in millimetres of `WxD` or `WxDxH`; all must be above zero."""
    pieces = re.split(r"[x×*]", text, flags=re.IGNORECASE)
    if len(pieces) != parts:
        wanted = "x".join("WDH"[:parts])
        raise UnusableInput(
            tr("{text} is not {wanted}", text=quoted(text), wanted=wanted),
            where=where,
            remedy=tr("write {parts} lengths joined by x", parts=parts),
        )
    lengths = tuple(parse_length(piece, where=where) for piece in pieces)
    if any(length <= 0 for length in lengths):
        raise UnusableInput(
            tr("{text} has a side that is not above zero", text=quoted(text)),
            where=where,
            remedy=tr("measure it again"),
        )
    return lengths


def format_length(length_mm: float, unit: Unit = "mm", *, digits: int = 1, suffix: bool = True) -> str:
    """Return the length as a person reads it: `12.5 mm`, or the nearest 32nd of an inch `1 1/8 in`."""
    if not math.isfinite(length_mm):
        return "—"
    if unit == "inch":
        return _inches(length_mm) + (" in" if suffix else "")
    text = f"{length_mm:.{digits}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    if text == "-0":
        text = "0"
    return decimal(text.replace("-", "−")) + (" mm" if suffix else "")


def format_fine(length_mm: float, unit: Unit = "mm", *, digits: int = 1) -> str:
    """Return a length too small for 32nds of an inch: `0.35 mm`, or `0.014 in` with two digits more than millimetres.

    For scatter, gaps and what is off: fractions would say nothing of them.
    """
    if unit == "mm":
        return format_length(length_mm, unit, digits=digits)
    return decimal(f"{length_mm / MM_PER_INCH:.{digits + 2}f}".replace("-", "−")) + " in"


def _inches(length_mm: float) -> str:
    thirty_seconds = round(abs(length_mm) / MM_PER_INCH * 32)
    whole, rest = divmod(thirty_seconds, 32)
    sign = "−" if length_mm < 0 and thirty_seconds else ""
    if not rest:
        return f"{sign}{whole}"
    part = Fraction(rest, 32)
    return f"{sign}{f'{whole} ' if whole else ''}{part.numerator}/{part.denominator}"
