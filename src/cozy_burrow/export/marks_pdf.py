"""The four corner marks as a PDF to print at 100 %: stickers with cutting lines, numbers and the corner of each."""

from __future__ import annotations

import io
from typing import TYPE_CHECKING

import numpy as np

from cozy_burrow.core.capture.photo.mat import marker_cells
from cozy_burrow.core.keep.marks import CORNER_NAMES, Mark
from cozy_burrow.core.tongue import tr
from cozy_burrow.export.paper import BOLD, INK, REGULAR, papers, register_fonts

if TYPE_CHECKING:
    from reportlab.pdfgen.canvas import Canvas

_MARGIN_MM, _APART_MM, _TOP_MM = 15.0, 14.0, 52.0
_BAR_MM = 100.0
_BLEED_MM = 0.01  # rows of cells overlap by this, so that no viewer shows a hairline between them


def marks_pdf(marks: tuple[Mark, ...], *, paper: str = "a4") -> bytes:
    """Return one page with the marks as the bytes of a PDF, 1:1, laid out as they lie in the plan."""
    from reportlab.lib.units import mm
    from reportlab.pdfgen import canvas

    register_fonts()
    size = papers()[paper]
    stream = io.BytesIO()
    sheet = canvas.Canvas(stream, pagesize=(size.width_mm * mm, size.height_mm * mm), invariant=1)
    sheet.setTitle(tr("Corner marks"))
    sheet.translate(0, size.height_mm * mm)
    sheet.scale(mm, -mm)  # millimetres from the top left corner on, down the page
    _words(sheet, marks[0])
    for mark, (x, y) in zip(marks, sticker_places(marks[0])):
        _sticker(sheet, mark, x, y)
    _bar(sheet, sticker_places(marks[0])[2][1] + marks[0].sticker_mm + 24.0)
    sheet.showPage()
    sheet.save()
    return stream.getvalue()


def sticker_places(mark: Mark) -> tuple[tuple[float, float], ...]:
    """Return where on the page the stickers 1 to 4 begin, mm from its top left corner: each as it lies in the plan."""
    step = mark.sticker_mm + _APART_MM
    left, right, top, low = _MARGIN_MM, _MARGIN_MM + step, _TOP_MM, _TOP_MM + step
    return (left, top), (right, top), (right, low), (left, low)


def _sticker(sheet: Canvas, mark: Mark, x: float, y: float) -> None:
    side = mark.sticker_mm
    sheet.setLineWidth(0.15)
    sheet.setStrokeColorRGB(0.55, 0.55, 0.55)
    sheet.rect(x, y, side, side, stroke=1, fill=0)
    sheet.setFillColorRGB(0, 0, 0)
    cell = mark.size_mm / 7
    for row, columns in enumerate(marker_cells(mark.pattern)):
        for first, last in _runs(columns):
            sheet.rect(
                x + mark.rim_mm + first * cell,
                y + mark.rim_mm + row * cell,
                (last - first) * cell,
                cell + (_BLEED_MM if row < 6 else 0.0),
                stroke=0,
                fill=1,
            )
    # A triangle in the rim points at the corner that goes to the foam's corner.
    at_x = x if mark.corner.startswith("left") else x + side
    at_y = y if mark.corner.endswith("back") else y + side
    inwards_x, inwards_y = (1.0 if at == low else -1.0 for at, low in ((at_x, x), (at_y, y)))
    reach = 0.55 * mark.rim_mm
    path = sheet.beginPath()
    path.moveTo(at_x + inwards_x * 0.4, at_y + inwards_y * 0.4)
    path.lineTo(at_x + inwards_x * reach, at_y + inwards_y * 0.4)
    path.lineTo(at_x + inwards_x * 0.4, at_y + inwards_y * reach)
    path.close()
    sheet.setFillColorRGB(0.35, 0.35, 0.35)
    sheet.drawPath(path, stroke=0, fill=1)
    _text(sheet, x, y + side + 4.2, f"{mark.number}  {CORNER_NAMES[mark.corner]}", font=BOLD)


def _runs(cells: np.ndarray) -> list[tuple[int, int]]:
    """Return the stretches of black in a row of cells, first and one past the last."""
    edges = np.flatnonzero(np.diff(np.concatenate([[0], cells.astype(np.int8), [0]])))
    return list(zip(edges[::2].tolist(), edges[1::2].tolist()))


def _words(sheet: Canvas, mark: Mark) -> None:
    _text(sheet, _MARGIN_MM, 20.0, tr("Corner marks for the roll call"), font=BOLD, size=12)
    lines = (
        tr("Print at 100 % on paper or sticker sheets, matt, and cut along the grey lines."),
        tr("Stick each into its corner of the foam: the corner with the triangle goes to the foam's corner."),
        tr("Or onto the frame round it, the corner of the black square at the foam's corner. The top is to the back."),
        tr("The black squares are {size:g} mm wide; all four must lie flat and be seen.", size=mark.size_mm),
    )
    for number, line in enumerate(lines):
        _text(sheet, _MARGIN_MM, 27.0 + 5.0 * number, line)


def _bar(sheet: Canvas, y: float) -> None:
    """Draw a bar of 100 mm, by which a print that was scaled is told."""
    sheet.setStrokeColorRGB(*INK)
    sheet.setLineWidth(0.3)
    sheet.line(_MARGIN_MM, y, _MARGIN_MM + _BAR_MM, y)
    for x in (_MARGIN_MM, _MARGIN_MM + _BAR_MM):
        sheet.line(x, y - 2, x, y + 2)
    _text(sheet, _MARGIN_MM, y + 5.0, tr("This bar is {bar:.0f} mm long.", bar=_BAR_MM))


def _text(sheet: Canvas, x: float, y: float, text: str, *, font: str = REGULAR, size: float = 9.0) -> None:
    """Write in a sheet whose y runs down."""
    sheet.saveState()
    sheet.translate(x, y)
    sheet.scale(1, -1)
    sheet.setFillColorRGB(*INK)
    sheet.setFont(font, size * 25.4 / 72)
    sheet.drawString(0, 0, text)
    sheet.restoreState()
