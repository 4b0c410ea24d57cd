"""Labels on sheets and tapes as they are sold, from any place on; and for the floors of pockets, at true size."""

from __future__ import annotations

import io
import tomllib
from collections.abc import Sequence
from functools import cache
from typing import Any

import msgspec
import shapely
from shapely.geometry import Polygon

from cozy_burrow.assets.read import asset
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Record
from cozy_burrow.core.tongue import tr
from cozy_burrow.export.lettering import letter, width_of
from cozy_burrow.export.paper import BOLD, INK, REGULAR, papers, register_fonts

_PT_MM = 25.4 / 72
_PAD_MM = 1.5
_MOST_TAPE_MM = 180.0
_LEAST_SIZE_MM = 1.6
_MOST_TRIED = 120  # characters: more go on no label, however small
_FLOOR_MARGIN_MM, _FLOOR_APART_MM = 12.0, 3.0


class LabelSheet(Record, frozen=True, kw_only=True):
    """A sheet of labels; without a paper a tape, whose labels are as long as their text."""

    height_mm: float
    paper: str = ""
    columns: int = 1
    rows: int = 1
    width_mm: float = 0.0
    left_mm: float = 0.0
    top_mm: float = 0.0
    between_x_mm: float = 0.0
    between_y_mm: float = 0.0

    @property
    def is_tape(self) -> bool:
        """Whether its labels are cut to their length."""
        return not self.paper

    @property
    def count(self) -> int:
        """How many labels a sheet has."""
        return self.columns * self.rows


class Label(Record, frozen=True, kw_only=True):
    """What stands on a label: a name, a smaller line below, and a shape beside them where a picture is wanted."""

    name: str
    second: str = ""
    shape: Polygon | None = None


class FloorPiece(Record, frozen=True, kw_only=True):
    """A label for the floor of a pocket. whose: written beside it, to know where it goes."""

    text: str
    width_mm: float
    height_mm: float
    whose: str


@cache
def label_sheets() -> dict[str, LabelSheet]:
    """Return the sheets and tapes that are known, by name."""
    found = tomllib.loads(asset("label-sheets.toml").read_text(encoding="utf-8"))
    return {name: msgspec.convert(one, LabelSheet) for name, one in found.items()}


def place_of(sheet: LabelSheet, number: int) -> tuple[float, float]:
    """Return where on its page the label of a number (0 is the first) begins: from the left, from the top."""
    row, column = divmod(number % sheet.count, sheet.columns)
    return (
        sheet.left_mm + column * (sheet.width_mm + sheet.between_x_mm),
        sheet.top_mm + row * (sheet.height_mm + sheet.between_y_mm),
    )


def label_sheets_pdf(labels: Sequence[Label], sheet: LabelSheet, *, start: int = 1) -> bytes:
    """Return labels as the bytes of a PDF. start: which place of the first sheet is free, 1 the first.

    Raises UnusableInput for a place that the sheet has not.
    """
    if not sheet.is_tape and not 1 <= start <= sheet.count:
        raise UnusableInput(
            tr("the sheet has no place {start}", start=start), remedy=tr("give 1 to {count}", count=sheet.count)
        )
    from reportlab.lib.units import mm
    from reportlab.pdfgen import canvas

    register_fonts()
    stream = io.BytesIO()
    page = canvas.Canvas(stream, invariant=1)
    page.setTitle(tr("Labels"))
    if sheet.is_tape:
        for label in labels:
            width = tape_length_mm(label, sheet)
            page.setPageSize((width * mm, sheet.height_mm * mm))
            page.scale(mm, mm)
            _label(page, label, 0.0, 0.0, width, sheet.height_mm)
            page.showPage()
    else:
        size = papers()[sheet.paper]
        for number, label in enumerate(labels, start=start - 1):
            if number == start - 1 or number % sheet.count == 0:
                if number != start - 1:
                    page.showPage()
                page.setPageSize((size.width_mm * mm, size.height_mm * mm))
                page.scale(mm, mm)
            x, y = place_of(sheet, number)
            _label(page, label, x, size.height_mm - y - sheet.height_mm, sheet.width_mm, sheet.height_mm)
        page.showPage()
    page.save()
    return stream.getvalue()


def tape_length_mm(label: Label, sheet: LabelSheet) -> float:
    """Return how long a label on a tape is."""
    inner = sheet.height_mm - 2 * _PAD_MM
    size = inner * (0.5 if label.second else 0.7)
    wide = max(width_of(label.name[:_MOST_TRIED], BOLD, size), width_of(label.second, REGULAR, 0.6 * size))
    picture = inner * 1.6 + _PAD_MM if label.shape is not None else 0.0
    return min(_MOST_TAPE_MM, max(12.0, wide + picture + 3 * _PAD_MM))


def _label(page: Any, label: Label, x: float, y: float, width: float, height: float) -> None:
    """Write one label into its room; y is the lower edge, up the page."""
    pad = max(_PAD_MM, 0.04 * min(width, height))
    left, room = x + pad, width - 2 * pad
    inner = height - 2 * pad
    if label.shape is not None and not label.shape.is_empty:
        taken = min(inner * 1.6, 0.35 * room)
        _shape(page, label.shape, left, y + pad, taken, inner)
        left, room = left + taken + pad, room - taken - pad
    page.setFillColorRGB(*INK)
    share = 0.42 if label.second else 0.6
    name, size = _fitted(label.name, BOLD, min(inner * share, 8.0), room)
    if not label.second:
        letter(page, left, y + height / 2 - 0.35 * size, name, font=BOLD, size=size)
        return
    second, small = _fitted(label.second, REGULAR, min(0.6 * size, 4.0), room)
    gap = 0.35 * small
    low = y + (height - 0.75 * size - gap - 0.75 * small) / 2
    letter(page, left, low + 0.75 * small + gap, name, font=BOLD, size=size)
    letter(page, left, low, second, font=REGULAR, size=small)


def _fitted(text: str, font: str, size: float, room_mm: float) -> tuple[str, float]:
    """Return a text and its size so that it fits: smaller, then shorter."""
    text = text[:_MOST_TRIED]
    wide = width_of(text, font, size)
    if wide > room_mm:
        size = max(min(size, _LEAST_SIZE_MM), size * room_mm / wide)
    while len(text) > 2 and width_of(text, font, size) > room_mm:
        text = text[:-2].rstrip() + "…"
    return text, size


def _shape(page: Any, shape: Polygon, x: float, y: float, width: float, height: float) -> None:
    left, low, right, high = shape.bounds
    scale = min(width / (right - left), height / (high - low))
    path = page.beginPath()
    for ring in (shape.exterior, *shape.interiors):
        points = [
            (
                x + width / 2 + (px - (left + right) / 2) * scale,
                y + height / 2 - (py - (low + high) / 2) * scale,
            )
            for px, py in shapely.get_coordinates(shapely.simplify(ring, 0.05 / scale))
        ]
        path.moveTo(*points[0])
        for point in points[1:]:
            path.lineTo(*point)
        path.close()
    page.setFillColorRGB(0.35, 0.35, 0.35)
    page.drawPath(path, stroke=0, fill=1, fillMode=0)


def floor_labels_pdf(pieces: Sequence[FloorPiece], *, paper: str = "a4") -> bytes:
    """Return labels for floors at their true size, to cut out, as the bytes of a PDF."""
    from reportlab.lib.units import mm
    from reportlab.pdfgen import canvas

    register_fonts()
    size = papers()[paper]
    stream = io.BytesIO()
    page = canvas.Canvas(stream, pagesize=(size.width_mm * mm, size.height_mm * mm), invariant=1)
    page.setTitle(tr("Floor labels"))
    page.scale(mm, mm)
    for piece, number, x, y in floor_places(pieces, size.width_mm, size.height_mm):
        if number:
            page.showPage()
            page.setPageSize((size.width_mm * mm, size.height_mm * mm))
            page.scale(mm, mm)
        low = size.height_mm - y - piece.height_mm
        page.setStrokeColorRGB(0.5, 0.5, 0.5)
        page.setLineWidth(0.15)
        page.rect(x, low, piece.width_mm, piece.height_mm)
        page.setFillColorRGB(*INK)
        text, letters = _fitted(piece.text, BOLD, 0.62 * piece.height_mm, piece.width_mm - 2.0)
        middle = low + piece.height_mm / 2 - 0.35 * letters
        letter(page, x + piece.width_mm / 2, middle, text, font=BOLD, size=letters, align="centre")
        letter(page, x, low - 2.4, piece.whose[:60], font=REGULAR, size=1.9)
    page.showPage()
    page.save()
    return stream.getvalue()


def floor_places(
    pieces: Sequence[FloorPiece], wide_mm: float, high_mm: float
) -> list[tuple[FloorPiece, bool, float, float]]:
    """Return each piece with whether it begins a new page, and where it lies there: from the left, from the top."""
    found: list[tuple[FloorPiece, bool, float, float]] = []
    x, y, row = _FLOOR_MARGIN_MM, _FLOOR_MARGIN_MM, 0.0
    for piece in sorted(pieces, key=lambda one: -one.height_mm):
        if x > _FLOOR_MARGIN_MM and x + piece.width_mm > wide_mm - _FLOOR_MARGIN_MM:
            x, y, row = _FLOOR_MARGIN_MM, y + row + 2 * _FLOOR_APART_MM, 0.0
        new = y + piece.height_mm > high_mm - _FLOOR_MARGIN_MM
        if new:
            x, y, row = _FLOOR_MARGIN_MM, _FLOOR_MARGIN_MM, 0.0
        found.append((piece, new, x, y))
        x, row = x + piece.width_mm + _FLOOR_APART_MM, max(row, piece.height_mm)
    return found
