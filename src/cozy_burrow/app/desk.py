"""The project on the desk: new, opened, saved, written for the bench, brought back after a kill."""

from __future__ import annotations

from pathlib import Path

from msgspec.structs import replace
from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QFileDialog, QMessageBox, QWidget

from cozy_burrow.app.autosave import Autosave
from cozy_burrow.app.settings import Settings
from cozy_burrow.app.tasks import Task
from cozy_burrow.app.workspace import Workspace
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Project
from cozy_burrow.demo.shipped import demo_project
from cozy_burrow.storage.project_file import load, save


class ProjectDesk(QObject):
    """Files in and out of the workspace, with the questions that belong to them. `opened`: another project is shown."""

    opened = Signal()
    demo_shown = Signal()

    def __init__(self, workspace: Workspace, settings: Settings, autosave: Autosave, parent: QWidget) -> None:
        super().__init__(parent)
        self.workspace, self.settings, self.autosave = workspace, settings, autosave
        self._window = parent

    def may_leave(self) -> bool:
        """Ask what happens to unsaved work; True where it may be left."""
        if not self.workspace.is_dirty:
            return True
        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(
            self._window,
            "Unsaved work",
            f"‘{self.workspace.project.title}’ has changes that are not saved.",
            buttons.Save | buttons.Discard | buttons.Cancel,
        )
        if answer == buttons.Save:
            return self.save()
        return bool(answer == buttons.Discard)

    def new_project(self) -> None:
        """Begin with an empty kit."""
        if self.may_leave():
            self.workspace.open(Project(), None)
            self.opened.emit()

    def open_demo(self) -> None:
        """Open a fresh copy of the demo project."""
        if self.may_leave():
            self.workspace.open(demo_project(), None)
            self.demo_shown.emit()
            self.opened.emit()

    def ask_open(self) -> None:
        """Ask for a project and open it."""
        if not self.may_leave():
            return
        path, _ = QFileDialog.getOpenFileName(self._window, "Open a project", "", "Projects (*.burrow)")
        if path:
            self.open_path(Path(path))

    def open_path(self, path: Path) -> None:
        """Open a project file; says what is wrong with it where it cannot be."""
        try:
            project = load(path)
        except UnusableInput as error:
            QMessageBox.warning(self._window, "This file cannot be opened", error.sentence())
            return
        self.workspace.open(project, path)
        self.settings.add_recent(path)
        self.opened.emit()

    def save(self) -> bool:
        """Save where the project lies; asks where it has no place yet."""
        if self.workspace.path is None:
            return self.ask_save()
        return self.save_to(self.workspace.path)

    def ask_save(self) -> bool:
        """Ask for a name and save."""
        path, _ = QFileDialog.getSaveFileName(self._window, "Save the project", "insert.burrow", "Projects (*.burrow)")
        return self.save_to(Path(path).with_suffix(".burrow")) if path else False

    def save_to(self, path: Path) -> bool:
        """Save into a file."""
        workspace = self.workspace
        project = workspace.project
        if workspace.path is None and project.title == "Untitled":
            workspace.do("Name the project", replace(project, title=path.stem))
        try:
            save(workspace.project, path)
        except UnusableInput as error:
            QMessageBox.warning(self._window, "The project is not saved", error.sentence())
            return False
        workspace.mark_saved(path)
        self.settings.add_recent(path)
        self.workspace.said.emit(f"Saved {path.name}")
        return True

    def ask_export(self) -> None:
        """Ask for a folder and write everything into it."""
        folder = QFileDialog.getExistingDirectory(self._window, "Where should templates and papers go?")
        if folder:
            self.export_to(Path(folder))

    def export_to(self, folder: Path) -> None:
        """Write everything into a folder, off this thread."""
        from cozy_burrow.jobs.export import KINDS, write_export

        project = self.workspace.project
        task = Task(lambda _token: write_export(project, folder, kinds=KINDS), self)
        task.done.connect(lambda names: self.workspace.said.emit(f"{len(names)} files written to {folder}"))
        task.failed.connect(self._hear_export_failure)
        self.workspace.said.emit("Writing templates and papers…")
        task.begin()

    def _hear_export_failure(self, error: Exception) -> None:
        if not isinstance(error, UnusableInput):
            raise error
        QMessageBox.warning(self._window, "Nothing was written", error.sentence())

    def bring_back(self, copy: Path) -> None:
        """Show a recovery copy as unsaved work, and keep it as this program's own."""
        try:
            project, original = self.autosave.store.bring_back(copy)
        except UnusableInput as error:
            QMessageBox.warning(self._window, "The recovery copy is damaged", error.sentence())
            return
        self.workspace.open(project, original, saved=False)
        self.autosave.keep()
        self.autosave.store.discard(copy)
        self.opened.emit()
        self.workspace.said.emit("Your work is back; save it")
