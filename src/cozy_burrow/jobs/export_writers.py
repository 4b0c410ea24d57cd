"""The kinds of files that an export writes, one writer each: a new kind is a function in this table."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from cozy_burrow.core.model.edits import item_of
from cozy_burrow.export.dxf import sheet_dxf
from cozy_burrow.export.layout_json import layout_json
from cozy_burrow.export.svg import sheet_svg
from cozy_burrow.jobs.export_job import ExportJob
from cozy_burrow.jobs.export_tables import cuts_csv, items_csv
from cozy_burrow.jobs.insert_pictures import as_png, insert_picture, lettered
from cozy_burrow.jobs.papers import PAPERS

Files = Iterator[tuple[str, bytes]]
WRITERS: dict[str, Callable[[ExportJob], Files]] = {}  # by the word that asks for them, in the order that help says
WHEN_ASKED: list[str] = []  # of these: what takes long, and is for others than the bench
SHEET_ENDINGS: list[str] = []  # of files of which there is one a sheet: those of sheets that are gone go too


def writes(
    kind: str, *, a_sheet_each: bool = False, when_asked: bool = False
) -> Callable[[Callable[[ExportJob], Files]], Callable[[ExportJob], Files]]:
    """Put a function into the table: it yields names and bytes of the files of one kind."""

    def take(writer: Callable[[ExportJob], Files]) -> Callable[[ExportJob], Files]:
        WRITERS[kind] = writer
        if when_asked:
            WHEN_ASKED.append(kind)
        if a_sheet_each:
            SHEET_ENDINGS.append(kind)
        return writer

    return take


@writes("pdf")
def papers_of(job: ExportJob) -> Files:
    """Yield the templates at 1:1, the bench plan, the job sheet for the customer, and what frames are built of."""
    yield from _papers(job, "templates", "bench", "job", "frame")


@writes("svg", a_sheet_each=True)
def svg_of(job: ExportJob) -> Files:
    """Yield a drawing a sheet."""
    for one in job.inserts:
        for drawing in one.drawings:
            yield f"{drawing.name}.svg", sheet_svg(drawing)


@writes("dxf", a_sheet_each=True)
def dxf_of(job: ExportJob) -> Files:
    """Yield a drawing a sheet."""
    for one in job.inserts:
        for drawing in one.drawings:
            yield f"{drawing.name}.dxf", sheet_dxf(drawing)


@writes("json")
def layouts_of(job: ExportJob) -> Files:
    """Yield the layout of every insert."""
    for one in job.inserts:
        pairs = {lying.id: (item_of(job.project, lying.item_id).name, lying.copy) for lying in one.insert.placements}
        yield f"{one.stem}-layout.json", layout_json(one.ground, pairs)


@writes("csv")
def tables_of(job: ExportJob) -> Files:
    """Yield where everything lies, and every cut."""
    yield "items.csv", items_csv(job.project)
    yield "cuts.csv", cuts_csv(job.project, job.stems, job.workshop.tools)


@writes("labels")
def labels_of(job: ExportJob) -> Files:
    """Yield a label for everything that has a place."""
    yield from _papers(job, "labels")


def _papers(job: ExportJob, *kinds: str) -> Files:
    for kind in kinds:
        data = PAPERS[kind][1](job)
        if data is not None:
            yield f"{kind}.pdf", data


@writes("png", when_asked=True)
def pictures_of(job: ExportJob) -> Files:
    """Yield pictures of every insert: filled, filled with names, and empty."""
    for one in job.inserts:
        filled = insert_picture(one.ground)
        yield f"{one.stem}-filled.png", as_png(filled)
        yield f"{one.stem}-names.png", as_png(lettered(filled, one.ground, one.names))
        empty = insert_picture(one.ground, filled=False)
        yield f"{one.stem}-empty.png", as_png(empty)
        yield f"{one.stem}-empty-names.png", as_png(lettered(empty, one.ground, one.names))
