"""The reference mat as a PDF to print at 100 %: markers, two check scales, what to do."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import TYPE_CHECKING

from cozy_burrow.core.capture.photo.mat import FIELD_FROM_MM, MatPage, black_boxes, dot_boxes
from cozy_burrow.core.tongue import tr
from cozy_burrow.export.paper import BOLD, INK, REGULAR, register_fonts

if TYPE_CHECKING:
    from reportlab.pdfgen.canvas import Canvas

_BLEED_MM = 0.01  # rows of cells overlap by this, so that no viewer shows a hairline between them


def mat_pdf(pages: Sequence[MatPage]) -> bytes:
    """Return the pages of a mat as the bytes of a PDF, 1:1."""
    from reportlab.lib.units import mm
    from reportlab.pdfgen import canvas

    register_fonts()
    stream = io.BytesIO()
    sheet = canvas.Canvas(stream, invariant=1)
    sheet.setTitle(tr("Reference mat"))
    for page in pages:
        sheet.setPageSize((page.width_mm * mm, page.height_mm * mm))
        sheet.setFillColorRGB(0, 0, 0)
        for left, top, right, bottom in black_boxes(page):
            sheet.rect(
                left * mm,
                (page.height_mm - bottom - _BLEED_MM) * mm,
                (right - left) * mm,
                (bottom - top + _BLEED_MM) * mm,
                stroke=0,
                fill=1,
            )
        _dots(sheet, page, mm)
        _words(sheet, page, len(pages), mm)
        sheet.showPage()
    sheet.save()
    return stream.getvalue()


def _dots(sheet: Canvas, page: MatPage, mm: float) -> None:
    """Put the dots on the field as one path: tens of thousands by themselves make a file that printers choke on."""
    path = sheet.beginPath()
    for left, top, right, bottom in dot_boxes(page):
        path.rect(left * mm, (page.height_mm - bottom) * mm, (right - left) * mm, (bottom - top) * mm)
    sheet.drawPath(path, stroke=0, fill=1)


def _words(sheet: Canvas, page: MatPage, count: int, mm: float) -> None:
    low = page.height_mm - FIELD_FROM_MM
    sheet.setFillColorRGB(*INK)
    sheet.setFont(BOLD, 6.5)
    title = tr("Cozy Burrow mat, {paper}", paper=page.paper.capitalize()) + (
        tr(", page {page} of {count}", page=page.page, count=count) if count > 1 else ""
    )
    sheet.drawString(FIELD_FROM_MM * mm, (page.height_mm - low - 3.2) * mm, title)
    sheet.setFont(REGULAR, 6.5)
    text = tr("Print at 100 %. Measure both scales. Lay it flat, items apart on the white, light from all sides.")
    sheet.drawRightString((page.width_mm - FIELD_FROM_MM) * mm, (page.height_mm - low - 3.2) * mm, text)
    sheet.saveState()
    sheet.translate((page.width_mm - FIELD_FROM_MM + 3.2) * mm, (page.height_mm - FIELD_FROM_MM) * mm)
    sheet.rotate(-90)
    line = tr(
        "Scale at the top {scale_x:.0f} mm, at the left {scale_y:.0f} mm, between the longest ends.",
        scale_x=page.scale_x_mm,
        scale_y=page.scale_y_mm,
    )
    sheet.drawString(0, 0, line)
    sheet.restoreState()
