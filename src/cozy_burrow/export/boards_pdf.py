"""The cutting plan of all boards of a job on paper: one picture a board with every blank's place, and what to order."""

from __future__ import annotations

import io

from shapely.geometry import Polygon

from cozy_burrow.core.foam.purchase import CutBoard, Purchase
from cozy_burrow.core.tongue import tr
from cozy_burrow.export.lettering import letter
from cozy_burrow.export.paper import BOLD, INK, REGULAR, papers, register_fonts

_MARGIN_MM = 14.0
_HEAD_MM = 24.0


def boards_pdf(purchase: Purchase, *, title: str, words: str) -> bytes:
    """Return the plan as the bytes of a PDF. words: the order and the cost, a line each.

    Figures beside a blank: how far its bounds lie from the board's left and back, its width and depth, in mm.
    """
    from reportlab.lib.units import mm
    from reportlab.pdfgen import canvas

    register_fonts()
    paper = papers()["a4"]
    stream = io.BytesIO()
    page = canvas.Canvas(stream, pagesize=(paper.height_mm * mm, paper.width_mm * mm), invariant=1)
    page.setTitle(tr("Boards to cut"))
    wide, high = paper.height_mm, paper.width_mm
    page.scale(mm, mm)
    page.setFillColorRGB(*INK)
    heading = tr("{title}: boards to order and to cut", title=title)[:90]
    letter(page, _MARGIN_MM, high - _MARGIN_MM - 4, heading, font=BOLD, size=5.5)
    page.setFont(REGULAR, 3.8)
    y = high - _MARGIN_MM - 14
    for line in words.split("\n")[:24]:
        letter(page, _MARGIN_MM, y, line[:150], font=REGULAR, size=3.8)
        y -= 6.0
    page.drawString(
        _MARGIN_MM,
        _MARGIN_MM,
        tr("Sharp blades: cut away from the body, glove on the holding hand. Saw: guards on, no gloves."),
    )
    for number, one in enumerate(purchase.boards, start=1):
        page.showPage()
        page.scale(mm, mm)
        _board(page, one, number, len(purchase.boards), wide, high)
    page.save()
    return stream.getvalue()


def _board(page: object, one: CutBoard, number: int, count: int, wide: float, high: float) -> None:
    from reportlab.pdfgen.canvas import Canvas

    assert isinstance(page, Canvas)
    left, top, right, bottom = one.outline.bounds
    room = (wide - 2 * _MARGIN_MM, high - 2 * _MARGIN_MM - _HEAD_MM)
    scale = min(room[0] / (right - left), room[1] / (bottom - top))

    def ring(shape: Polygon, width: float) -> None:
        page.setLineWidth(width)
        path = page.beginPath()
        for n, (x, y) in enumerate(shape.exterior.coords[:-1]):
            at = (_MARGIN_MM + (x - left) * scale, high - _MARGIN_MM - _HEAD_MM - (y - top) * scale)
            path.moveTo(*at) if n == 0 else path.lineTo(*at)
        path.close()
        page.drawPath(path, stroke=1, fill=0)

    page.setFillColorRGB(*INK)
    page.setStrokeColorRGB(*INK)
    page.setFont(BOLD, 5.0)
    source = tr("from the shelf") if one.piece is not None else tr("a new board")
    page.drawString(
        _MARGIN_MM,
        high - _MARGIN_MM - 4,
        tr(
            "Board {number} of {count}: {name}, {source}",
            number=number,
            count=count,
            name=one.board.name,
            source=source,
        ),
    )
    page.setFont(REGULAR, 3.6)
    used = one.used_mm2 / one.outline.area
    page.drawString(
        _MARGIN_MM,
        high - _MARGIN_MM - 12,
        tr(
            "{right:.0f} × {bottom:.0f} mm, {used:.0%} used; scale 1 : {scale:.1f}; back edge at the top",
            right=right - left,
            bottom=bottom - top,
            used=used,
            scale=1 / scale,
        ),
    )
    ring(one.outline, 0.5)
    for wanted, outline in one.laid:
        ring(outline, 0.3)
        x0, y0, x1, y1 = outline.bounds
        x = _MARGIN_MM + ((x0 + x1) / 2 - left) * scale
        y = high - _MARGIN_MM - _HEAD_MM - ((y0 + y1) / 2 - top) * scale
        letter(page, x, y + 1.5, wanted.name[:60], font=BOLD, size=3.4, align="centre")
        page.setFont(REGULAR, 3.0)
        text = tr(
            "{x0:.1f} from left, {y0:.1f} from back, {x1:.1f} × {y1:.1f}",
            x0=abs(x0 - left),
            y0=abs(y0 - top),
            x1=x1 - x0,
            y1=y1 - y0,
        )
        page.drawCentredString(x, y - 2.5, text)
