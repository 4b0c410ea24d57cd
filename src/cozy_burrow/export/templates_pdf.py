"""templates.pdf: every sheet at 1:1, tiled to the paper, with a 100 mm check bar and joining marks on every page.

Neighbouring tiles meet edge to edge without overlap in the plan; each page shows 6 mm beyond its tile, and both
pages bear the same crosses on the common edge, to lay one over the other. A small map says where a page belongs.
"""

from __future__ import annotations

import io
from typing import Any

from shapely.geometry import LineString

from cozy_burrow.core.bench.cut import Cut, SheetCuts
from cozy_burrow.core.model.records import Point, Record
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import Unit, format_length
from cozy_burrow.export.drawing import SheetDrawing
from cozy_burrow.export.lettering import letter, width_of
from cozy_burrow.export.paper import BOLD, INK, REGULAR, Paper, register_fonts
from cozy_burrow.export.template_words import Written, blank_of, joints_of, write, written
from cozy_burrow.export.tiling import FOOT_MM, MARGIN_MM, Place, Tiling, mark_points, tile_corner, tiling

BLEED_MM = 6.0
BAR_MM = 100.0
_MARK_MM = 4.0
_MAP_MM = 10.0  # the map of all pages fits into a square of it, beside the bar


class Way(Record, frozen=True, kw_only=True):
    """How a line is cut: the method and its steps, the blade in each pass, why it comes now, what to look out for.

    why: empty where it only follows what is near.
    """

    method: str
    steps: str
    passes: str
    why: str
    care: tuple[str, ...]


class SheetTemplate(Record, frozen=True, kw_only=True):
    """What is printed for one sheet: its drawing, its cuts (lines in export coordinates), their texts and names.

    guides: lines that are seen and not cut, where parts float over the foam. ways: by the number of its cut, how a line
    is cut, in words. first: what is done before the first cut.
    """

    drawing: SheetDrawing
    plan: SheetCuts
    texts: dict[int, str]
    names: dict[int, str]
    title: str
    guides: tuple[tuple[Point, ...], ...] = ()
    ways: dict[int, Way] = {}
    first: tuple[str, ...] = ()


def templates_pdf(sheets: list[SheetTemplate], *, paper: Paper, units: Unit) -> bytes:
    """Return all tiles of all sheets as the bytes of a PDF."""
    from reportlab.lib.units import mm
    from reportlab.pdfgen import canvas

    register_fonts()
    stream = io.BytesIO()
    page = canvas.Canvas(stream, invariant=1, pageCompression=1)
    page.setTitle(tr("Templates 1:1"))
    for sheet in sheets:
        spread = spread_of(sheet, paper)
        words = words_of(sheet, spread)
        for place in spread.pages:
            page.setPageSize((spread.page_width_mm * mm, spread.page_height_mm * mm))
            page.scale(mm, mm)
            _tile(page, sheet, spread, words, place, units)
            page.showPage()
    page.save()
    return stream.getvalue()


def spread_of(sheet: SheetTemplate, paper: Paper) -> Tiling:
    """Return the pages that a sheet is printed on."""
    return tiling(sheet.drawing.width_mm, sheet.drawing.height_mm, paper, drawn_lines(sheet))


def words_of(sheet: SheetTemplate, spread: Tiling) -> tuple[Written, ...]:
    """Return what is written on a sheet, whole on one page each."""
    size_mm = sheet.drawing.width_mm, sheet.drawing.height_mm
    marks = []
    for row, column in spread.pages:
        low_x, low_y = tile_corner(spread, size_mm[1], row, column)
        marks += [(x - MARGIN_MM + low_x, y - MARGIN_MM - FOOT_MM + low_y) for x, y in mark_points(spread, row, column)]
    return written(
        sheet.plan.cuts,
        sheet.texts,
        size_mm=size_mm,
        blank=blank_of((sheet.drawing.blank, *sheet.drawing.holes)),
        lines=drawn_lines(sheet),
        joints=joints_of((spread.tile_width_mm, spread.tile_height_mm), size_mm, marks, _MARK_MM),
    )


def drawn_lines(sheet: SheetTemplate) -> list[LineString]:
    """Return every line that a template bears, in export coordinates."""
    rings = [ring for ring in (sheet.drawing.blank, *sheet.drawing.holes) if ring]
    rings += [cut.line for cut in sheet.plan.cuts]
    return [
        *(LineString((*ring, ring[0])) for ring in rings),
        *map(LineString, sheet.drawing.slits),
        *(LineString(line) for line in sheet.guides if len(line) > 1),
    ]


def _tile(
    page: Any,
    sheet: SheetTemplate,
    spread: Tiling,
    words: tuple[Written, ...],
    place: Place,
    units: Unit,
) -> None:
    row, column = place
    # Row 0 is the back row: pages lie on the bench as they come.
    low_x, low_y = tile_corner(spread, sheet.drawing.height_mm, row, column)
    page.saveState()
    window = page.beginPath()
    window.rect(
        MARGIN_MM - BLEED_MM,
        MARGIN_MM + FOOT_MM - BLEED_MM,
        spread.tile_width_mm + 2 * BLEED_MM,
        spread.tile_height_mm + 2 * BLEED_MM,
    )
    page.clipPath(window, stroke=0, fill=0)
    page.translate(MARGIN_MM - low_x, MARGIN_MM + FOOT_MM - low_y)
    _lines(page, sheet, words)
    page.restoreState()
    _marks(page, spread, row, column)
    _foot(page, sheet, spread, row, column, units)


def _lines(page: Any, sheet: SheetTemplate, words: tuple[Written, ...]) -> None:
    page.setLineJoin(1)
    page.setStrokeColorRGB(*INK)
    page.setLineWidth(0.4)
    for ring in (sheet.drawing.blank, *sheet.drawing.holes):
        if ring:
            _closed(page, ring)
    for start, end in sheet.drawing.slits:
        page.line(*start, *end)
    for cut in sheet.plan.cuts:
        _style(page, cut)
        _closed(page, cut.line)
    _guides(page, sheet)
    page.setDash()
    page.setFillColorRGB(*INK)
    for one in words:
        write(page, one)


def _guides(page: Any, sheet: SheetTemplate) -> None:
    """Draw what floats in dashes and dots, thinner than anything that is cut."""
    page.setLineWidth(0.15)
    page.setDash([3.0, 1.2, 0.4, 1.2])
    for line in sheet.guides:
        path = page.beginPath()
        path.moveTo(*line[0])
        for x, y in line[1:]:
            path.lineTo(x, y)
        page.drawPath(path, stroke=1, fill=0)


def _style(page: Any, cut: Cut) -> None:
    """Full line: cut first, from the surface. Dashed: inside another opening, deeper. Dotted: finger pull."""
    page.setLineWidth(0.25)
    if cut.kind == "pull":
        page.setDash([0.5, 1.0])
    elif cut.from_layer > 1:
        page.setDash([2.5, 1.2])
    else:
        page.setDash()


def _closed(page: Any, ring: tuple[Point, ...]) -> None:
    path = page.beginPath()
    path.moveTo(*ring[0])
    for point in ring[1:]:
        path.lineTo(*point)
    path.close()
    page.drawPath(path, stroke=1, fill=0)


def _marks(page: Any, spread: Tiling, row: int, column: int) -> None:
    page.setDash()
    page.setLineWidth(0.2)
    page.setStrokeColorRGB(*INK)
    for x, y in mark_points(spread, row, column):
        page.line(x - _MARK_MM, y, x + _MARK_MM, y)
        page.line(x, y - _MARK_MM, x, y + _MARK_MM)
        page.circle(x, y, 2.0, stroke=1, fill=0)


def _foot(page: Any, sheet: SheetTemplate, spread: Tiling, row: int, column: int, units: Unit) -> None:
    left, y = MARGIN_MM, MARGIN_MM + 3.0
    page.setFillColorRGB(*INK)
    page.setStrokeColorRGB(*INK)
    page.setLineWidth(0.3)
    page.line(left, y, left + BAR_MM, y)
    for x in (left, left + BAR_MM):
        page.line(x, y - 2.5, x, y + 2.5)
    for tenth in range(1, 10):
        page.line(left + tenth * 10, y, left + tenth * 10, y + 1.2)
    page.setFont(REGULAR, 2.6)
    page.drawString(
        left, y - 5.6, tr("This bar is 100 mm. Measure it: if it is not, print again at 100 %, without fitting.")
    )
    right = spread.page_width_mm - MARGIN_MM
    if len(spread.pages) > 1:
        _map(page, spread, row, column)
    room = right - (left + BAR_MM + _MAP_MM + 6.0)
    letter(page, right, y + 1.2, sheet.title, font=BOLD, size=_fitting(sheet.title, room), align="right")
    page.setFont(REGULAR, 2.6)
    size = tr(
        "{width} × {height} · row {row} of {rows} from the back, column {column} of {columns}",
        width=format_length(sheet.drawing.width_mm, units),
        height=format_length(sheet.drawing.height_mm, units),
        row=row + 1,
        rows=spread.rows,
        column=column + 1,
        columns=spread.columns,
    )
    page.drawRightString(right, y - 2.2, size)
    if sheet.drawing.notes:
        page.setFont(BOLD, 2.8)
        page.drawRightString(right, y + 5.2, " · ".join(sheet.drawing.notes))
        page.setFont(REGULAR, 2.6)
    page.drawRightString(
        right, y - 5.6, tr("full line: cut from the top · dashed: deeper, inside · dotted: finger pull, last")
    )
    if sheet.guides:
        page.drawString(left, y + 4.4, tr("dash and dot: floats over the foam, not cut"))


def _fitting(title: str, room_mm: float) -> float:
    """Return how large a title is written so that it stays beside the bar; below half its size it may not."""
    return max(1.5, min(3.0, 3.0 * room_mm / max(1e-6, width_of(title, BOLD, 3.0))))


def _map(page: Any, spread: Tiling, row: int, column: int) -> None:
    """Draw all pages as they are taped together, this one filled; tiles that are left out are not there."""
    wide, high = spread.tile_width_mm * spread.columns, spread.tile_height_mm * spread.rows
    scale = _MAP_MM / max(wide, high)
    cell_x, cell_y = spread.tile_width_mm * scale, spread.tile_height_mm * scale
    left, top = MARGIN_MM + BAR_MM + 4.0, MARGIN_MM + 1.5 + _MAP_MM
    page.setLineWidth(0.15)
    for other in spread.pages:
        x, y = left + other[1] * cell_x, top - (other[0] + 1) * cell_y
        page.rect(x, y, cell_x, cell_y, stroke=1, fill=int(other == (row, column)))
