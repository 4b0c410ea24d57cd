"""The kinds of files that an export writes, one writer each: a new kind is a function in this table."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.findings.telling import finding_text
from cozy_burrow.core.model.edits import item_of
from cozy_burrow.export.bench_pdf import BenchNotes, bench_pdf
from cozy_burrow.export.dxf import sheet_dxf
from cozy_burrow.export.job_pdf import job_pdf
from cozy_burrow.export.labels_pdf import labels_pdf
from cozy_burrow.export.layout_json import layout_json
from cozy_burrow.export.svg import sheet_svg
from cozy_burrow.export.templates_pdf import templates_pdf
from cozy_burrow.jobs.export_job import ExportJob
from cozy_burrow.jobs.export_tables import cuts_csv, items_csv
from cozy_burrow.jobs.insert_pictures import as_png, insert_picture, lettered
from cozy_burrow.jobs.job_sheet import job_pages
from cozy_burrow.jobs.templates import cutting_words

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
    """Yield the templates at 1:1, the bench plan, and the job sheet for the customer."""
    project = job.project
    stops = tuple(finding_text(project, one) for one in findings_of(project) if one.severity == "stop")
    notes = BenchNotes(title=project.title, open_findings=stops, cutting=cutting_words(project))
    yield "templates.pdf", templates_pdf(job.templates, paper=job.paper, units=project.units)
    yield "bench.pdf", bench_pdf(job.templates, notes, paper=job.paper, units=project.units)
    pages = job_pages(job)
    if pages:
        yield "job.pdf", job_pdf(pages, paper=job.paper)


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
    yield "cuts.csv", cuts_csv(job.project, job.stems)


@writes("labels")
def labels_of(job: ExportJob) -> Files:
    """Yield a label for everything that has a place."""
    labels: list[tuple[str, str]] = []
    for one in job.inserts:
        for lying in one.insert.placements:
            item = item_of(job.project, lying.item_id)
            second = " · ".join(filter(None, (one.insert.name, item.group, item.notes)))
            labels.append((one.names[lying.id], second))
    yield "labels.pdf", labels_pdf(labels, paper=job.paper)


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
