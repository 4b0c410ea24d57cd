"""labels.pdf: a small label for every thing that has a place, to cut apart along the dashed lines."""

from __future__ import annotations

import io

from cozy_burrow.core.tongue import tr
from cozy_burrow.export.lettering import letter, width_of
from cozy_burrow.export.paper import BOLD, INK, REGULAR, Paper, register_fonts

LABEL_WIDTH_MM, LABEL_HEIGHT_MM = 60.0, 14.0
_MOST_TRIED = 120  # characters: more go on no label, however small
_MARGIN_MM = 12.0


def labels_pdf(labels: list[tuple[str, str]], *, paper: Paper) -> bytes:
    """Return the labels as the bytes of a PDF. labels: name and a second line each."""
    from reportlab.lib.units import mm
    from reportlab.pdfgen import canvas

    register_fonts()
    stream = io.BytesIO()
    page = canvas.Canvas(stream, pagesize=(paper.width_mm * mm, paper.height_mm * mm), invariant=1)
    page.setTitle(tr("Labels"))
    columns = int((paper.width_mm - 2 * _MARGIN_MM) // LABEL_WIDTH_MM)
    rows = int((paper.height_mm - 2 * _MARGIN_MM) // LABEL_HEIGHT_MM)
    for index, (name, second) in enumerate(labels or [(tr("No item has a place yet"), "")]):
        at = index % (columns * rows)
        if index and at == 0:
            page.showPage()
        x = (_MARGIN_MM + at % columns * LABEL_WIDTH_MM) * mm
        y = (paper.height_mm - _MARGIN_MM - (at // columns + 1) * LABEL_HEIGHT_MM) * mm
        page.setDash(2, 2)
        page.setLineWidth(0.3)
        page.setStrokeColorRGB(0.45, 0.45, 0.45)
        page.rect(x, y, LABEL_WIDTH_MM * mm, LABEL_HEIGHT_MM * mm)
        page.setFillColorRGB(*INK)
        size, name = 12.0, name[:_MOST_TRIED]
        while size > 5.5 and width_of(name, BOLD, size) > (LABEL_WIDTH_MM - 6) * mm:
            size -= 0.5
        while width_of(name, BOLD, size) > (LABEL_WIDTH_MM - 6) * mm and len(name) > 4:
            name = name[:-2].rstrip() + "…"
        letter(page, x + 3 * mm, y + 6.4 * mm, name, font=BOLD, size=size)
        letter(page, x + 3 * mm, y + 2.4 * mm, second[:60], font=REGULAR, size=7.5)
    page.save()
    return stream.getvalue()
