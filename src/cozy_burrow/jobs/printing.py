"""What a printer gets: the pages of some papers as they look at true size, in dots.

A printer draws dots anyway; made here, a page is the same on every printer, and its size is known to the dot.
"""

from __future__ import annotations

import io
from collections.abc import Iterator, Sequence

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Project, Record
from cozy_burrow.core.progress import Token
from cozy_burrow.core.tongue import tr
from cozy_burrow.export.paper import Paper
from cozy_burrow.jobs.export_job import ExportJob
from cozy_burrow.jobs.papers import PAPERS
from cozy_burrow.jobs.workshop import ANY, Workshop

DPI = 300  # the thinnest line is two of its dots wide
NEEDS_BLANK_MM = 5.0  # from there on inwards a template bears lines
_POINTS_PER_MM = 72.0 / 25.4
_LEAST_MM = (200.0, 260.0)  # a page must have room for the check bar, the map and their words


class PrintedPage(Record, frozen=True, kw_only=True):
    """One page: which paper it is of, its size as it lies, and its dots (a grey PNG of DPI)."""

    paper: str
    width_mm: float
    height_mm: float
    dots_png: bytes


def pages_to_print(
    project: Project,
    kinds: Sequence[str],
    width_mm: float,
    height_mm: float,
    workshop: Workshop = ANY,
    *,
    token: Token,
) -> tuple[PrintedPage, ...]:
    """Return all pages of some papers on sheets of that size, as a piece of work that another process may do.

    Raises UnusableInput where the sheet is too small.
    """
    short, long = sorted((width_mm, height_mm))
    if short < _LEAST_MM[0] or long < _LEAST_MM[1]:
        raise UnusableInput(
            tr("a page of {width:.0f} x {height:.0f} mm has no room for the check bar", width=short, height=long),
            where=tr("printer"),
            remedy=tr("choose A4, Letter or larger"),
        )
    job = ExportJob(project, Paper(width_mm=short, height_mm=long), workshop)
    found: list[PrintedPage] = []
    for number, kind in enumerate(kinds):
        token.step(number / len(kinds))
        data = PAPERS[kind][1](job)
        if data is not None:
            for page in _pages(kind, data):
                token.step((number + 0.5) / len(kinds))
                found.append(page)
    return tuple(found)


def _pages(kind: str, data: bytes) -> Iterator[PrintedPage]:
    import pypdfium2

    document = pypdfium2.PdfDocument(data)
    try:
        for page in document:
            width, height = page.get_size()
            picture = page.render(scale=DPI / 72.0, grayscale=True).to_pil().convert("L")
            stream = io.BytesIO()
            picture.save(stream, "PNG", dpi=(DPI, DPI))
            yield PrintedPage(
                paper=kind,
                width_mm=width / _POINTS_PER_MM,
                height_mm=height / _POINTS_PER_MM,
                dots_png=stream.getvalue(),
            )
            page.close()
    finally:
        document.close()
