"""change-sheet.pdf: for whoever cuts only the difference: the plan small, what has changed, every changed layer at 1:1.

Bold lines are cut, grey pieces are glued in, thin ones show where everything else is. Millimetres, y to the back.
"""

from __future__ import annotations

import io
from typing import Any

import shapely
from shapely.geometry import LineString

from cozy_burrow.core.model.records import Record, Ring
from cozy_burrow.core.tongue import tr
from cozy_burrow.export.lettering import letter, width_of
from cozy_burrow.export.paper import BOLD, INK, REGULAR, Paper, register_fonts
from cozy_burrow.export.tiling import FOOT_MM, MARGIN_MM, Tiling, mark_points, tile_corner, tiling

BAR_MM = 100.0
_BLEED_MM, _AROUND_MM, _MARK_MM = 6.0, 12.0, 4.0
_PICTURE_MM = 110.0  # at most so high
_LINE_MM, _SIZE_MM = 4.6, 3.2
_GREY, _THIN = (0.8, 0.8, 0.8), (0.5, 0.5, 0.5)
Rings = tuple[Ring, ...]


class ChangedLayer(Record, frozen=True, kw_only=True):
    """One layer: what is cut and what is glued in, and what else is open there, in export coordinates."""

    title: str
    cut: Rings
    fill: Rings
    open: Rings


class ChangeSheet(Record, frozen=True, kw_only=True):
    """What has changed in an insert. blank: the foam's outline; lines: in words."""

    title: str
    blank: Rings
    lines: tuple[str, ...]
    layers: tuple[ChangedLayer, ...]


def change_pdf(sheet: ChangeSheet, *, paper: Paper) -> bytes:
    """Return the sheet as the bytes of a PDF."""
    from reportlab.lib.units import mm
    from reportlab.pdfgen import canvas

    register_fonts()
    stream = io.BytesIO()
    page = canvas.Canvas(stream, invariant=1, pageCompression=1)
    page.setTitle(sheet.title)
    for lines, first in _pages_of(sheet, paper):
        page.setPageSize((paper.width_mm * mm, paper.height_mm * mm))
        page.scale(mm, mm)
        _words(page, sheet, lines, paper, with_picture=first)
        page.showPage()
    for layer in sheet.layers:
        spread, (left, low, _, top) = spread_of(layer, paper)
        for row, column in spread.pages:
            page.setPageSize((spread.page_width_mm * mm, spread.page_height_mm * mm))
            page.scale(mm, mm)
            _tile(page, sheet, layer, spread, (row, column), (left, low, top - low))
            page.showPage()
    page.save()
    return stream.getvalue()


def spread_of(layer: ChangedLayer, paper: Paper) -> tuple[Tiling, tuple[float, float, float, float]]:
    """Return the pages that a layer's changes are printed on, and which part of the insert that is."""
    changed = [LineString((*ring, ring[0])) for ring in (*layer.cut, *layer.fill)]
    left, low, right, top = shapely.total_bounds(changed)
    window = (left - _AROUND_MM, low - _AROUND_MM, right + _AROUND_MM, top + _AROUND_MM)
    moved = [shapely.transform(line, lambda xy: xy - [window[0], window[1]]) for line in changed]
    return tiling(window[2] - window[0], window[3] - window[1], paper, moved), window


def _pages_of(sheet: ChangeSheet, paper: Paper) -> list[tuple[list[str], bool]]:
    """Return the lines of each page of words; the first has the picture."""
    room = paper.width_mm - 2 * MARGIN_MM
    lines = [part for line in sheet.lines for part in _broken(line, room)]
    first = int((paper.height_mm - 2 * MARGIN_MM - _PICTURE_MM - 26.0) / _LINE_MM)
    later = int((paper.height_mm - 2 * MARGIN_MM - 14.0) / _LINE_MM)
    pages = [(lines[:first], True)]
    return pages + [(lines[at : at + later], False) for at in range(first, len(lines), later)]


def _broken(line: str, room_mm: float) -> list[str]:
    """Return a line broken where it is longer than the page is wide."""
    found, now = [], ""
    for word in line.split(" "):
        longer = f"{now} {word}" if now else word
        if now and width_of(longer, REGULAR, _SIZE_MM) > room_mm:
            found.append(now)
            now = f"   {word}"
        else:
            now = longer
    return [*found, now]


def _words(page: Any, sheet: ChangeSheet, lines: list[str], paper: Paper, *, with_picture: bool) -> None:
    y = paper.height_mm - MARGIN_MM - 6.0
    page.setFillColorRGB(*INK)
    letter(page, MARGIN_MM, y, sheet.title[:120], font=BOLD, size=5.0)
    if with_picture:
        y = _picture(page, sheet, y - 6.0, paper) - 8.0
    else:
        y -= 8.0
    page.setFillColorRGB(*INK)
    for number, line in enumerate(lines):
        letter(page, MARGIN_MM, y - number * _LINE_MM, line, font=REGULAR, size=_SIZE_MM)


def _picture(page: Any, sheet: ChangeSheet, top: float, paper: Paper) -> float:
    """Draw the whole insert small; return where it ends, and its legend with it."""
    left, low, right, high = shapely.total_bounds([LineString((*ring, ring[0])) for ring in sheet.blank])
    scale = min((paper.width_mm - 2 * MARGIN_MM) / (right - left), _PICTURE_MM / (high - low))
    bottom = top - (high - low) * scale
    page.saveState()
    page.translate(MARGIN_MM - left * scale, bottom - low * scale)
    page.scale(scale, scale)
    _outlines(page, sheet.blank, INK, 0.5 / scale)
    for layer in sheet.layers:
        _outlines(page, layer.open, _THIN, 0.15 / scale)
    for layer in sheet.layers:
        _areas(page, layer.fill, _GREY, 0.2 / scale)
    for layer in sheet.layers:
        _outlines(page, layer.cut, INK, 0.6 / scale)
    page.restoreState()
    page.setFillColorRGB(*INK)
    letter(page, MARGIN_MM, bottom - 4.5, _legend(), font=REGULAR, size=2.8)
    return float(bottom - 6.0)


def _legend() -> str:
    return tr("bold: cut · grey: glue in, one layer thick each · thin: open already")


def _tile(
    page: Any,
    sheet: ChangeSheet,
    layer: ChangedLayer,
    spread: Tiling,
    place: tuple[int, int],
    window: tuple[float, float, float],
) -> None:
    left, low, high = window
    corner_x, corner_y = tile_corner(spread, high, *place)
    page.saveState()
    clip = page.beginPath()
    clip.rect(
        MARGIN_MM - _BLEED_MM,
        MARGIN_MM + FOOT_MM - _BLEED_MM,
        spread.tile_width_mm + 2 * _BLEED_MM,
        spread.tile_height_mm + 2 * _BLEED_MM,
    )
    page.clipPath(clip, stroke=0, fill=0)
    page.translate(MARGIN_MM - corner_x - left, MARGIN_MM + FOOT_MM - corner_y - low)
    page.setLineJoin(1)
    _areas(page, layer.fill, _GREY, 0.25)
    _outlines(page, layer.open, _THIN, 0.2)
    _outlines(page, sheet.blank, INK, 0.4)
    _outlines(page, layer.cut, INK, 0.6)
    page.restoreState()
    page.setStrokeColorRGB(*INK)
    page.setLineWidth(0.2)
    for x, y in mark_points(spread, *place):
        page.line(x - _MARK_MM, y, x + _MARK_MM, y)
        page.line(x, y - _MARK_MM, x, y + _MARK_MM)
    _foot(page, sheet, layer, spread, place)


def _foot(page: Any, sheet: ChangeSheet, layer: ChangedLayer, spread: Tiling, place: tuple[int, int]) -> None:
    y = MARGIN_MM + 2.0
    page.setLineWidth(0.3)
    page.line(MARGIN_MM, y, MARGIN_MM + BAR_MM, y)
    for x in (MARGIN_MM, MARGIN_MM + BAR_MM):
        page.line(x, y - 1.5, x, y + 1.5)
    page.setFillColorRGB(*INK)
    letter(page, MARGIN_MM, y - 4.0, tr("This bar is {bar:.0f} mm long.", bar=BAR_MM), font=REGULAR, size=2.6)
    letter(page, MARGIN_MM, y + 3.0, _legend(), font=REGULAR, size=2.6)
    right = spread.page_width_mm - MARGIN_MM
    title = f"{sheet.title} · {layer.title}"
    size = min(3.0, 3.0 * (right - MARGIN_MM) / max(1e-6, width_of(title, BOLD, 3.0)))
    letter(page, right, y + 7.5, title, font=BOLD, size=size, align="right")
    if len(spread.pages) > 1:
        told = tr("page {page} of {pages}", page=spread.pages.index(place) + 1, pages=len(spread.pages))
        letter(page, right, y - 4.0, told, font=REGULAR, size=2.6, align="right")


def _outlines(page: Any, rings: Rings, colour: tuple[float, float, float], width: float) -> None:
    page.setStrokeColorRGB(*colour)
    page.setLineWidth(width)
    for ring in rings:
        page.drawPath(_path(page, (ring,)), stroke=1, fill=0)


def _areas(page: Any, rings: Rings, colour: tuple[float, float, float], width: float) -> None:
    """Fill rings, of which some are holes in others, by the even-odd rule."""
    if not rings:
        return
    page.setFillColorRGB(*colour)
    page.setStrokeColorRGB(*INK)
    page.setLineWidth(width)
    page.drawPath(_path(page, rings), stroke=1, fill=1, fillMode=0)


def _path(page: Any, rings: Rings) -> Any:
    path = page.beginPath()
    for ring in rings:
        path.moveTo(*ring[0])
        for point in ring[1:]:
            path.lineTo(*point)
        path.close()
    return path
