"""The papers of a job, each made by itself: for files as for a printer."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.findings.telling import finding_text
from cozy_burrow.core.model.edits import item_of
from cozy_burrow.core.tongue import tr
from cozy_burrow.export.bench_pdf import BenchNotes, bench_pdf
from cozy_burrow.export.frame_pdf import frame_pdf
from cozy_burrow.export.job_pdf import job_pdf
from cozy_burrow.export.labels_pdf import labels_pdf
from cozy_burrow.export.templates_pdf import templates_pdf
from cozy_burrow.jobs.export_job import ExportJob
from cozy_burrow.jobs.frame_words import frame_page
from cozy_burrow.jobs.job_sheet import job_pages
from cozy_burrow.jobs.templates import cutting_words


def templates(job: ExportJob) -> bytes | None:
    """Return the templates at 1:1."""
    return templates_pdf(job.templates, paper=job.template_paper, units=job.project.units)


def bench_plan(job: ExportJob) -> bytes | None:
    """Return the cutting plan in order."""
    project = job.project
    stops = tuple(finding_text(project, one) for one in findings_of(project) if one.severity == "stop")
    notes = BenchNotes(title=project.title, open_findings=stops, cutting=cutting_words(project))
    return bench_pdf(job.templates, notes, paper=job.paper, units=project.units)


def job_sheet(job: ExportJob) -> bytes | None:
    """Return a page an insert for the customer; None where nothing lies in any."""
    pages = job_pages(job)
    return job_pdf(pages, paper=job.paper) if pages else None


def labels(job: ExportJob) -> bytes | None:
    """Return a label for everything that has a place."""
    found: list[tuple[str, str]] = []
    for one in job.inserts:
        for lying in one.insert.placements:
            item = item_of(job.project, lying.item_id)
            second = " · ".join(filter(None, (one.insert.name, item.group, item.notes)))
            found.append((one.names[lying.id], second))
    return labels_pdf(found, paper=job.paper)


def frames(job: ExportJob) -> bytes | None:
    """Return a page for each frame that is built; None where none is, or none can be."""
    pages = []
    for container in job.project.containers:
        if container.frame is not None:
            with suppress(UnusableInput):  # told where it is asked for
                pages.append(frame_page(job.project, container))
    return frame_pdf(pages, paper=job.paper) if pages else None


# By the name that files and choices have, in the order in which they are offered: what they are called and made by.
PAPERS: dict[str, tuple[str, Callable[[ExportJob], bytes | None]]] = {
    "templates": (tr("Templates 1:1"), templates),
    "bench": (tr("Bench plan"), bench_plan),
    "labels": (tr("Labels"), labels),
    "job": (tr("Job sheet"), job_sheet),
    "frame": (tr("Frame of boards"), frames),
}
