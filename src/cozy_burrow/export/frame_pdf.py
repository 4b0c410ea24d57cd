"""frame.pdf: the boards round a wall panel or a tray: what is sawn, a drawing with its screws, steps, cautions."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from cozy_burrow.core.bench.frames import FramePlan
from cozy_burrow.core.model.records import Record
from cozy_burrow.core.tongue import tr
from cozy_burrow.export.flowing import flowing_pdf, ruled
from cozy_burrow.export.lettering import marked_up
from cozy_burrow.export.paper import BOLD, INK, REGULAR, Paper, register_fonts

_MOST_HIGH_PT = 300.0


class FramePage(Record, frozen=True, kw_only=True):
    """One frame. boards: rows of what, how many, length, width, thickness."""

    title: str
    plan: FramePlan
    boards: tuple[tuple[str, ...], ...]
    steps: tuple[str, ...]
    cautions: tuple[str, ...]


def frame_pdf(pages: Sequence[FramePage], *, paper: Paper) -> bytes:
    """Return a page a frame as the bytes of a PDF."""
    from reportlab.lib.colors import Color
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.lib.units import mm
    from reportlab.platypus import PageBreak, Paragraph, Spacer, Table

    register_fonts()
    ink = Color(*INK)
    body = ParagraphStyle("body", fontName=REGULAR, fontSize=9.5, leading=13, textColor=ink, spaceAfter=4)
    head = ParagraphStyle("head", parent=body, fontName=BOLD, fontSize=15, leading=20)
    width = (paper.width_mm - 30) * mm
    heads = [tr("Board"), tr("How many"), tr("Length"), tr("Width"), tr("Thickness")]
    story: list[Any] = []
    for number, page in enumerate(pages):
        if number:
            story.append(PageBreak())
        story += [Paragraph(marked_up(page.title, BOLD), head), Spacer(1, 6)]
        shares = (0.32, 0.14, 0.18, 0.18, 0.18)
        table = Table([heads, *page.boards], colWidths=[width * share for share in shares])
        table.setStyle(ruled(("ALIGN", (1, 0), (-1, -1), "RIGHT")))
        story += [table, Spacer(1, 8), _picture(page.plan, width), Spacer(1, 8)]
        story += [Paragraph(marked_up(text), body) for text in page.steps]
        story += [Paragraph(f'<font name="{BOLD}">!</font> {marked_up(text)}', body) for text in page.cautions]
    return flowing_pdf(story, paper=paper, title=tr("Frame"))


def _picture(plan: FramePlan, width: float) -> Any:
    """Return the frame from the front, as it hangs: boards with their joints, screws of the back, where it is fixed."""
    from reportlab.graphics.shapes import Circle, Drawing, Line, Polygon
    from reportlab.lib.colors import Color

    wide, high = plan.outside_mm
    scale = min(width / wide, _MOST_HIGH_PT / high)
    picture = Drawing(wide * scale, high * scale)
    ink = Color(*INK)
    board = plan.boards[0].thick_mm

    def line(x0: float, y0: float, x1: float, y1: float, thick: float = 0.6) -> None:
        picture.add(Line(x0 * scale, y0 * scale, x1 * scale, y1 * scale, strokeColor=ink, strokeWidth=thick))

    def area(x0: float, y0: float, x1: float, y1: float, shade: float) -> None:
        corners = [value * scale for at in ((x0, y0), (x1, y0), (x1, y1), (x0, y1)) for value in at]
        fill = Color(shade, shade, shade)
        picture.add(Polygon(corners, fillColor=fill, strokeColor=ink, strokeWidth=1.0))

    area(0, 0, wide, high, 0.9)
    area(board, board, wide - board, high - board, 1.0)
    upright_through = plan.boards[1].is_through
    for x, y, to_x, to_y in ((0, 0, 1, 1), (wide, 0, -1, 1), (0, high, 1, -1), (wide, high, -1, -1)):
        corner_x, corner_y = x + to_x * board, y + to_y * board
        if plan.corner is None:
            line(x, y, corner_x, corner_y)
        elif upright_through:
            # A tongue reaches into the rebate of the board that runs through.
            line(corner_x - to_x * plan.rebate_mm, y, corner_x - to_x * plan.rebate_mm, corner_y)
        else:
            line(x, corner_y - to_y * plan.rebate_mm, corner_x, corner_y - to_y * plan.rebate_mm)
    for x, y in plan.back_at:
        line(x - 2, y - 2, x + 2, y + 2, 0.4)
        line(x - 2, y + 2, x + 2, y - 2, 0.4)
    for x, y in plan.fixings:
        middle = (board + x) * scale, (board + y) * scale
        picture.add(Circle(*middle, 4.5, fillColor=Color(1, 1, 1), strokeColor=ink, strokeWidth=0.8))
        line(board + x - 6, board + y, board + x + 6, board + y, 0.4)
        line(board + x, board + y - 6, board + x, board + y + 6, 0.4)
    return picture
