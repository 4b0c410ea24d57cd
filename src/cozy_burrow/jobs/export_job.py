"""One export: the project with what several kinds of files need of it, each worked out once."""

from __future__ import annotations

from functools import cached_property
from itertools import groupby

from msgspec.structs import replace

from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Insert, Project
from cozy_burrow.export.drawing import SheetDrawing, file_stem, sheet_drawings
from cozy_burrow.export.paper import Paper, papers, template_papers
from cozy_burrow.export.templates_pdf import SheetTemplate, spread_of
from cozy_burrow.jobs.first_steps import Pages, first_steps
from cozy_burrow.jobs.templates import sheet_templates
from cozy_burrow.jobs.workshop import ANY, Workshop


class ExportedInsert(Frozen):
    """An insert with its ground, the names of what lies in it, how its files begin, and its sheets as drawings."""

    def __init__(self, project: Project, insert: Insert, stem: str) -> None:
        self.insert, self.stem = insert, stem
        self.ground: Ground = ground_of(project, insert)
        self.names = {one.id: placement_name(project, one.id) for one in insert.placements}

    @cached_property
    def drawings(self) -> tuple[SheetDrawing, ...]:
        """Every sheet of the insert."""
        return sheet_drawings(self.ground, self.names, stem=self.stem)


class ExportJob(Frozen):
    """What writers are given. paper: by its name, or as it lies in a printer. workshop: whose work it is."""

    def __init__(self, project: Project, paper: str | Paper, workshop: Workshop = ANY) -> None:
        self.project, self.workshop = project, workshop
        self.template_paper: Paper = template_papers()[paper] if isinstance(paper, str) else paper
        # What is read at the bench fits on a page.
        self.paper: Paper = papers()["a4"] if self._is_large(self.template_paper) else self.template_paper
        self.stems = stems_of(project)

    @staticmethod
    def _is_large(paper: Paper) -> bool:
        return paper.is_roll or paper.height_mm > max(one.height_mm for one in papers().values())

    @cached_property
    def inserts(self) -> tuple[ExportedInsert, ...]:
        """All inserts in order."""
        return tuple(ExportedInsert(self.project, one, self.stems[one.id]) for one in self.project.inserts)

    @cached_property
    def templates(self) -> list[SheetTemplate]:
        """What is printed of all sheets of all inserts."""
        found: list[SheetTemplate] = []
        page = 1
        for one in self.inserts:
            sheets = sheet_templates(self.project, one.insert, one.ground, one.drawings, self.workshop.tools)
            for sheet in sheets:
                places = spread_of(sheet, self.template_paper).pages
                rows = tuple(len(list(row)) for _, row in groupby(places, key=lambda place: place[0]))
                first = self._first_steps(one.insert, sheet, Pages(first=page, rows=rows))
                found.append(replace(sheet, first=first))
                page += len(places)
        return found

    def _first_steps(self, insert: Insert, sheet: SheetTemplate, pages: Pages) -> tuple[str, ...]:
        return first_steps(
            self.project,
            insert,
            sheet.plan,
            sheet.drawing.blank,
            notes=sheet.drawing.notes,
            stores=self.workshop.stores,
            pages=pages,
        )


def stems_of(project: Project) -> dict[str, str]:
    """Return how the files of each insert begin, no two alike."""
    stems: dict[str, str] = {}
    for insert in project.inserts:
        stem, number = file_stem(insert.name), 2
        while stem in stems.values():
            stem, number = f"{file_stem(insert.name)}-{number}", number + 1
        stems[insert.id] = stem
    return stems
