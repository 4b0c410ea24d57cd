"""Papers whose text flows over pages: one way to lay them out, one look for their tables."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Any

from cozy_burrow.export.paper import BOLD, INK, REGULAR, Paper


def flowing_pdf(
    story: Sequence[Any], *, paper: Paper, title: str, side_mm: float = 15.0, top_mm: float = 14.0
) -> bytes:
    """Return a story as the bytes of a PDF; the same story gives the same bytes."""
    from reportlab.lib.units import mm
    from reportlab.platypus import SimpleDocTemplate

    stream = io.BytesIO()
    SimpleDocTemplate(
        stream,
        pagesize=(paper.width_mm * mm, paper.height_mm * mm),
        leftMargin=side_mm * mm,
        rightMargin=side_mm * mm,
        topMargin=top_mm * mm,
        bottomMargin=top_mm * mm,
        title=title,
        invariant=1,
    ).build(list(story))
    return stream.getvalue()


def ruled(*more: tuple[Any, ...]) -> Any:
    """Return the look of a table with a line below each row. more: commands beside that."""
    from reportlab.lib.colors import Color
    from reportlab.platypus import TableStyle

    ink = Color(*INK)
    return TableStyle(
        [
            ("FONT", (0, 0), (-1, 0), BOLD, 9.5),
            ("FONT", (0, 1), (-1, -1), REGULAR, 9.5),
            ("TEXTCOLOR", (0, 0), (-1, -1), ink),
            ("LINEBELOW", (0, 0), (-1, -1), 0.25, ink),
            *more,
        ]
    )
