"""Everything the bench, a cutting shop and a spreadsheet need, written whole or not at all."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.progress import Token
from cozy_burrow.core.tongue import tr
from cozy_burrow.export.lettering import unprintable
from cozy_burrow.jobs.export_job import ExportJob, stems_of
from cozy_burrow.jobs.export_writers import SHEET_ENDINGS, WHEN_ASKED, WRITERS
from cozy_burrow.jobs.files import replace_set
from cozy_burrow.jobs.workshop import ANY, Workshop


def parse_only(text: str | None) -> tuple[str, ...]:
    """Return the kinds in `pdf,svg`; all that nobody must ask for where text is None. Raises UnusableInput."""
    if text is None:
        return unasked()
    kinds = tuple(part.strip().lower() for part in text.split(",") if part.strip())
    for kind in kinds:
        if kind not in WRITERS:
            raise UnusableInput(
                tr("'{kind}' is no kind of export", kind=kind),
                where="--only",
                remedy=tr("write {list}", list=",".join(WRITERS)),
            )
    if not kinds:
        raise UnusableInput(tr("no kind is named"), where="--only", remedy=tr("write {list}", list=",".join(WRITERS)))
    return kinds


def unasked() -> tuple[str, ...]:
    """Return the kinds that an export writes where nobody says which."""
    return tuple(kind for kind in WRITERS if kind not in WHEN_ASKED)


def write_export(
    project: Project, folder: Path, *, kinds: tuple[str, ...], paper: str = "a4", workshop: Workshop = ANY
) -> list[str]:
    """Write the chosen kinds into a folder and return the files' names. Raises UnusableInput."""
    files = export_files(project, kinds=kinds, paper=paper, workshop=workshop)
    return replace_set(folder, files, whole_set=_drawing_names(project))


def export_apart(
    project: Project, folder: Path, kinds: tuple[str, ...] = (), workshop: Workshop = ANY, *, token: Token
) -> tuple[int, tuple[str, ...]]:
    """Write an export as a piece of work that another process does; return the number of files, and what to tell.

    kinds: which; else all that nobody must ask for.
    Papers are made by loops of Python that would hold up whoever waits for the interpreter. Raises as write_export.
    """
    token.step(0.0)
    return len(write_export(project, folder, kinds=kinds or unasked(), workshop=workshop)), print_remarks(project)


def print_remarks(project: Project) -> tuple[str, ...]:
    """Return a sentence for each name that prints blank in part: neither the shipped fonts nor the system's have it."""
    names = [project.title, *(one.name for one in project.inserts), *(one.name for one in project.items)]
    groups = [one.group for one in project.items]
    found = []
    for name in dict.fromkeys((*names, *groups)):
        lacking = unprintable(name)
        if lacking:
            found.append(
                tr(
                    "'{name}': no font on this system has {list}; it prints blank on paper",
                    name=name,
                    list=" ".join(lacking),
                )
            )
    return tuple(found)


def _drawing_names(project: Project) -> frozenset[str]:
    """Return the names of all drawings that the project has, whether they are asked for or not."""
    stems = stems_of(project)
    names = [f"{stem}-layout.json" for stem in stems.values()]
    for insert in project.inserts:
        for number in range(1, len(insert.sheets) + 1):
            names += [f"{stems[insert.id]}-sheet-{number}.{ending}" for ending in SHEET_ENDINGS]
    return frozenset(names)


def export_files(
    project: Project, *, kinds: tuple[str, ...], paper: str = "a4", workshop: Workshop = ANY
) -> Iterator[tuple[str, bytes]]:
    """Yield the name and the bytes of every file of the chosen kinds."""
    job = ExportJob(project, paper, workshop)
    for kind, writer in WRITERS.items():
        if kind in kinds:
            yield from writer(job)
