"""Compare: this plan against the file as it was saved, or against another; what moved, what is to be cut."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QFileDialog, QPushButton, QWidget

from cozy_burrow.app.desk.aside import Aside
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.frame.paged_panel import RefusingPage
from cozy_burrow.app.look.fields import head, soft, verdict
from cozy_burrow.app.screens.keep.sheet_button import Make, SheetButton
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.refit.compare import InsertChange, compared
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.change_sheet import change_sheet
from cozy_burrow.jobs.refit_words import change_lines, layer_lines, patch_words
from cozy_burrow.storage.project_file import load


class ComparePage(RefusingPage):
    """`shown` carries the patch that is to be laid over the plan, or None."""

    shown = Signal(object, object)

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        self._before: Project | None = None
        self._named = ""
        self._told: tuple[Project, Project, tuple[InsertChange, ...]] | None = None
        self._of = workspace.opened_count
        self.aside = Aside(workspace, self)
        self.aside.changed.connect(self._follow_if_seen)
        self.column.addWidget(head(tr("What has changed?")))
        self.column.addWidget(soft(tr("Compare the plan with:")))
        self.saved_button = QPushButton(tr("the file as it was saved"))
        self.saved_button.clicked.connect(self.with_saved)
        self.column.addWidget(self.saved_button)
        self.other_button = QPushButton(tr("another file…"))
        self.other_button.clicked.connect(self._ask)
        self.column.addWidget(self.other_button)
        self.verdict = verdict(tip=tr("Items by where they lie, foam by what is taken out of each layer"))
        self.column.addWidget(self.verdict)
        self.sheet_button = SheetButton(workspace, self.aside, self, self._sheet)
        self.column.addWidget(self.sheet_button)
        self.column.addStretch(1)
        self.follow()

    def follow(self) -> None:
        """Compare anew where the plan has changed."""
        workspace = self._workspace
        if workspace.opened_count != self._of:
            self._of, self._before, self._told = workspace.opened_count, None, None
        self.saved_button.setEnabled(workspace.path is not None)
        if self._before is not None and (self._told is None or self._told[1] is not workspace.project):
            before = self._before
            self.aside.run(lambda project: (before, project, compared(before, project)), self._take, tell=False)
        self._show()

    def _take(self, told: tuple[Project, Project, tuple[InsertChange, ...]]) -> None:
        self._told = told
        self._show()

    def _change(self) -> InsertChange | None:
        told, here = self._told, self._workspace.insert_id
        if told is None or told[1] is not self._workspace.project:
            return None
        return next((one for one in told[2] if one.after is not None and one.after.id == here), None)

    def _show(self) -> None:
        change = self._change()
        self.sheet_button.setEnabled(change is not None and not change.is_same and not self.aside.is_busy)
        if self._before is None:
            self.verdict.setText(tr("Choose what to compare with."))
        elif change is None or self._told is None:
            self.verdict.setText(tr("Comparing…"))
        else:
            self.verdict.setText("\n".join(self._lines(change)))
        self.shown.emit(change.patch if change is not None else None, None)

    def _lines(self, change: InsertChange) -> list[str]:
        assert self._told is not None
        before, after, changes = self._told
        length = self._workspace.length
        lines = [tr("Since {name}:", name=self._named), *change_lines(before, after, change, lambda mm: length(mm))]
        if change.patch is not None and change.patch.layers:
            lines += [patch_words(change.patch), *layer_lines(change.patch, lambda mm: length(mm))]
        others = sum(1 for one in changes if one is not change and not one.is_same)
        if others:
            lines.append(tr("Other inserts have changed too: {count}", count=others))
        return lines

    # With what

    def with_saved(self) -> None:
        """Compare with the file as it was saved last."""
        if self._workspace.path is not None:
            self.with_project(self._workspace.saved, self._workspace.path.name)

    def _ask(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, tr("Compare with"), "", tr("Projects (*.burrow *.burrow~)"))
        if path:
            self.with_file(Path(path))

    def with_file(self, path: Path) -> None:
        """Compare with what a file holds."""
        try:
            project = load(path)
        except UnusableInput as error:
            self.refused.emit(error.sentence())
            return
        self.with_project(project, path.name)

    def with_project(self, project: Project, name: str) -> None:
        """Compare with a project. name: what it is called here."""
        self.refused.emit("")
        self._before, self._named, self._told = project, name, None
        self.follow()

    def _sheet(self) -> Make | None:
        """Return what makes the sheet of what has changed in the insert that is shown."""
        change, told, name = self._change(), self._told, self._named
        if change is None or told is None:
            return None
        before = told[0]
        return lambda project: change_sheet(before, project, change, since=name)
