"""One export: the project with what several kinds of files need of it, each worked out once."""

from __future__ import annotations

from functools import cached_property

from cozy_burrow.core.bench.methods import OWNED, Tools
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Insert, Project
from cozy_burrow.export.drawing import SheetDrawing, file_stem, sheet_drawings
from cozy_burrow.export.paper import Paper, papers, template_papers
from cozy_burrow.export.templates_pdf import SheetTemplate
from cozy_burrow.jobs.templates import sheet_templates


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
    """What writers are given. paper: by its name, or as it lies in a printer. tools: that lines are cut with."""

    def __init__(self, project: Project, paper: str | Paper, tools: Tools = OWNED) -> None:
        self.project, self.tools = project, tools
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
        for one in self.inserts:
            found += sheet_templates(self.project, one.insert, one.ground, one.drawings, self.tools)
        return found


def stems_of(project: Project) -> dict[str, str]:
    """Return how the files of each insert begin, no two alike."""
    stems: dict[str, str] = {}
    for insert in project.inserts:
        stem, number = file_stem(insert.name), 2
        while stem in stems.values():
            stem, number = f"{file_stem(insert.name)}-{number}", number + 1
        stems[insert.id] = stem
    return stems
