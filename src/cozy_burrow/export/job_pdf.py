"""job.pdf: a page an insert for whoever gets it: its picture, what goes in, container, foam and weight."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Any

from cozy_burrow.core.model.records import Record
from cozy_burrow.core.tongue import tr
from cozy_burrow.export.flowing import flowing_pdf
from cozy_burrow.export.lettering import marked_up
from cozy_burrow.export.paper import BOLD, INK, REGULAR, Paper, register_fonts

_MARGIN_MM = 15.0
_PICTURE_SHARE = 0.48  # of the page's height, at most
_MOST_LETTERS = 120  # of a name: longer ones would push the list off the page
_ROWS_A_COLUMN = 14


class JobPage(Record, frozen=True, kw_only=True):
    """One insert: facts are pairs of a word and what is said of it; items are names with how many of each."""

    title: str
    picture_png: bytes
    facts: tuple[tuple[str, str], ...]
    items: tuple[tuple[str, int], ...]


def job_pdf(pages: Sequence[JobPage], *, paper: Paper) -> bytes:
    """Return the job sheet as the bytes of a PDF; each insert has one page, however much goes in."""
    from reportlab.lib.units import mm
    from reportlab.platypus import KeepInFrame, PageBreak

    register_fonts()
    width, height = (paper.width_mm - 2 * _MARGIN_MM) * mm, (paper.height_mm - 2 * _MARGIN_MM) * mm
    story: list[Any] = []
    for number, page in enumerate(pages):
        if number:
            story.append(PageBreak())
        story.append(KeepInFrame(width - 13, height - 13, _page(page, width - 13, height), mode="shrink"))
    return flowing_pdf(story, paper=paper, title=tr("Job sheet"), side_mm=_MARGIN_MM, top_mm=_MARGIN_MM)


def _page(page: JobPage, width: float, height: float) -> list[Any]:
    from reportlab.lib.colors import Color
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.platypus import Image, Paragraph, Spacer, Table, TableStyle

    ink = Color(*INK)
    body = ParagraphStyle("body", fontName=REGULAR, fontSize=9.5, leading=12.5, textColor=ink)
    head = ParagraphStyle("head", parent=body, fontName=BOLD, fontSize=16, leading=21)
    picture = Image(io.BytesIO(page.picture_png))
    share = min(width / picture.imageWidth, height * _PICTURE_SHARE / picture.imageHeight)
    picture.drawWidth, picture.drawHeight = picture.imageWidth * share, picture.imageHeight * share
    facts = Table(
        [[Paragraph(marked_up(name, BOLD), body), Paragraph(marked_up(text), body)] for name, text in page.facts],
        colWidths=[width * 0.2, width * 0.8],
        style=TableStyle([("VALIGN", (0, 0), (-1, -1), "TOP"), ("LEFTPADDING", (0, 0), (0, -1), 0)]),
    )
    found: list[Any] = [Paragraph(marked_up(page.title, BOLD), head), Spacer(1, 6), picture, Spacer(1, 8), facts]
    if page.items:
        found += [Spacer(1, 8), _list(page.items, width, body, ink)]
    return found


def _list(items: Sequence[tuple[str, int]], width: float, body: Any, ink: Any) -> Any:
    """Return the items in as many columns as their number asks for, read down each."""
    from reportlab.platypus import Paragraph, Table, TableStyle

    columns = min(3, -(-len(items) // _ROWS_A_COLUMN))
    rows = -(-len(items) // columns)
    cells: list[list[Any]] = [["" for _ in range(2 * columns)] for _ in range(rows)]
    for number, (name, count) in enumerate(items):
        short = name if len(name) <= _MOST_LETTERS else name[:_MOST_LETTERS] + "…"
        column, row = divmod(number, rows)
        cells[row][2 * column] = f"{count} x" if count > 1 else ""
        cells[row][2 * column + 1] = Paragraph(marked_up(short), body)
    one = width / columns
    return Table(
        cells,
        colWidths=[one * share for _ in range(columns) for share in (0.14, 0.86)],
        style=TableStyle(
            [
                ("FONT", (0, 0), (-1, -1), REGULAR, 9.5),
                ("TEXTCOLOR", (0, 0), (-1, -1), ink),
                ("LINEBELOW", (0, 0), (-1, -1), 0.25, ink),
                ("VALIGN", (0, 0), (-1, -1), "MIDDLE"),
                ("ALIGN", (0, 0), (0, -1), "RIGHT"),
            ]
        ),
    )
