"""The reference mat as a PDF to print at 100 %: markers, two check scales, what to do."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import TYPE_CHECKING

from cozy_burrow.core.capture.photo.mat import FIELD_FROM_MM, MatPage, black_boxes
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
    sheet.setTitle("Reference mat")
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
        _words(sheet, page, len(pages), mm)
        sheet.showPage()
    sheet.save()
    return stream.getvalue()


def _words(sheet: Canvas, page: MatPage, count: int, mm: float) -> None:
    low = page.height_mm - FIELD_FROM_MM
    sheet.setFillColorRGB(*INK)
    sheet.setFont(BOLD, 6.5)
    title = f"Cozy Burrow mat, {page.paper.capitalize()}" + (f", page {page.page} of {count}" if count > 1 else "")
    sheet.drawString(FIELD_FROM_MM * mm, (page.height_mm - low - 3.2) * mm, title)
    sheet.setFont(REGULAR, 6.5)
    text = "Print at 100 %. Measure both scales. Lay it flat, things apart on the white, light from all sides."
    sheet.drawRightString((page.width_mm - FIELD_FROM_MM) * mm, (page.height_mm - low - 3.2) * mm, text)
    sheet.saveState()
    sheet.translate((page.width_mm - FIELD_FROM_MM + 3.2) * mm, (page.height_mm - FIELD_FROM_MM) * mm)
    sheet.rotate(-90)
    line = f"Scale at the top {page.scale_x_mm:.0f} mm, at the left {page.scale_y_mm:.0f} mm, between the longest ends."
    sheet.drawString(0, 0, line)
    sheet.restoreState()
