"""The project on the desk: new, opened, saved, restored after a kill; nothing is written over unasked."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from pathlib import Path

from msgspec.structs import replace
from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QFileDialog, QMessageBox, QWidget

from cozy_burrow.app.desk import ask
from cozy_burrow.app.desk.autosave import Autosave
from cozy_burrow.app.desk.settings import Settings
from cozy_burrow.app.desk.stores_desk import StoresDesk
from cozy_burrow.app.desk.tasks import Task
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.busy import busy
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.coherence import Loss
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.progress import Token
from cozy_burrow.core.tongue import forms, tr, trn
from cozy_burrow.demo.shipped import demo_project
from cozy_burrow.jobs.workshop import Workshop, kept_workshop
from cozy_burrow.storage.project_file import Opened, open_file, save
from cozy_burrow.storage.recovery import LeftBehind
from cozy_burrow.storage.whole_file import Mark, is_changed, mark_of, read_whole, write_whole
from cozy_burrow.storage.window_lock import WindowLock

ENDING = ".burrow"
KINDS = tr("Projects (*.burrow)")
_LOST = {
    "laid_twice": forms("{count} lay twice and is laid once now", "{count} lay twice and are laid once now"),
    "not_in_kit": forms(
        "{count} was laid in but is in no kit, and is gone",
        "{count} were laid in but are in no kit, and are gone",
    ),
    "serves_nothing": forms(
        "{count} was a finger pull for nothing, and is gone",
        "{count} were finger pulls for nothing, and are gone",
    ),
}


class ProjectDesk(QObject):
    """Files in and out of the workspace, with the questions that belong to them.

    `opened`: another project is shown. `noticed`: a name, a sentence that stays true (empty once it does not), details.
    `bench_found`: what lay on the retouch bench of a restored copy.
    """

    opened = Signal()
    demo_shown = Signal()
    noticed = Signal(str, str, str)
    bench_found = Signal(object)

    def __init__(
        self,
        workspace: Workspace,
        settings: Settings,
        autosave: Autosave,
        parent: QWidget,
        *,
        may_clear: Callable[[], bool] = lambda: True,
        stores: StoresDesk | None = None,
    ) -> None:
        super().__init__(parent)
        self.workspace, self.settings, self.autosave = workspace, settings, autosave
        self._window, self._may_clear, self._stores = parent, may_clear, stores
        self._marks: dict[Path, Mark | None] = {}  # what each file was when this window last read or wrote it
        self._brought: dict[Path, Project] = {}  # copies that were restored and are not saved yet
        self._lock = WindowLock(settings.state_folder)
        self._home: Path | None = None
        autosave.mark = lambda: self._marks.get(workspace.path) if workspace.path is not None else None
        workspace.document_changed.connect(self._follow_home)

    def workshop(self) -> Workshop:
        """Return what papers need to know of whoever cuts, with the price list as it is shown."""
        return kept_workshop(
            self.settings.state_folder, stores=self._stores.stores if self._stores is not None else None
        )

    def close(self) -> None:
        """The window goes: others may have its project."""
        self._lock.release()

    def _follow_home(self) -> None:
        """Hold the lock of the file that the project lies in, and say who else has it open."""
        if self.workspace.path == self._home:
            return
        self._home = self.workspace.path
        other = self._lock.take(self._home, since=f"{datetime.now():%H:%M}")
        if other is None or self._home is None:
            self.noticed.emit("shared", "", "")
            return
        since = tr(" since {since}", since=other.since) if other.since else ""
        self.noticed.emit(
            "shared",
            tr("‘{name}’ is open in another window too{since}. Saving asks first.", name=self._home.name, since=since),
            tr(
                "The other window is process {process} on {machine}. Whoever saves second is asked "
                "whether to keep theirs, take the other's, or save beside.",
                process=other.process,
                machine=other.machine,
            ),
        )

    # Leaving

    def may_leave(self) -> bool:
        """Ask what happens to unsaved work, on the bench first; True where it may be left."""
        if not self._may_clear():
            return False
        if not self.workspace.is_dirty:
            return True
        answer = ask.which(
            self._window,
            tr("Unsaved work"),
            tr("‘{title}’ has changes that are not saved.", title=self.workspace.project.title),
            (tr("Save"), tr("Discard"), tr("Cancel")),
        )
        if answer == 0:
            return self.save()
        if answer == 1:
            self._settle_copies()
        return answer == 1

    def new_project(self) -> None:
        """Begin with an empty kit."""
        if self.may_leave():
            self.workspace.open(Project(), None)
            self.opened.emit()

    def open_demo(self) -> None:
        """Open a fresh copy of the demo project."""
        if self.may_leave():
            with busy():
                self.workspace.open(demo_project(), None)
                self.demo_shown.emit()
                self.opened.emit()

    def open_practice(self) -> None:
        """Open a fresh practice piece."""
        from cozy_burrow.demo.practice import practice_project

        if self.may_leave():
            with busy():
                self.workspace.open(practice_project(), None)
                self.opened.emit()

    # Opening

    def ask_open(self) -> None:
        """Ask for a project and open it."""
        if not self.may_leave():
            return
        path, _ = QFileDialog.getOpenFileName(self._window, tr("Open a project"), "", KINDS)
        if path:
            self.open_path(Path(path))

    def open_path(self, path: Path) -> None:
        """Open a project file; says what is wrong with it where it cannot be."""
        try:
            found = open_file(path, newer_too=True)
        except UnusableInput as error:
            QMessageBox.warning(self._window, tr("This file cannot be opened"), error.sentence())
            return
        with busy():
            self.show_file(path, found)
            self.opened.emit()

    def show_file(self, path: Path, found: Opened) -> None:
        """Show what was read from a file. Of a newer program's it is a copy: saved over it, the rest would be gone."""
        path = path.absolute()
        self._marks[path] = found.mark
        self.workspace.open(found.project, None if found.is_newer else path, saved=not found.lost)
        self._follow_home()
        self.settings.add_recent(path)
        lost = tr("‘{name}’ was damaged: {lost_words}.", name=path.name, lost_words=lost_words(found.lost))
        self.noticed.emit("lost", lost if found.lost else "", tr("The file is as it was until you save."))
        newer = tr("‘{name}’ was saved by a newer program: this is a copy of what can be read.", name=path.name)
        rest = tr("What this program does not know of is left out. Save it under another name, or use the newer one.")
        self.noticed.emit("newer", newer if found.is_newer else "", rest)

    # Saving

    def save(self) -> bool:
        """Save where the project lies; asks where it has no place yet."""
        if self.workspace.path is None:
            return self.ask_save()
        return self.save_to(self.workspace.path)

    def ask_save(self) -> bool:
        """Ask for a name and save."""
        name = str(self.workspace.path or "insert.burrow")
        path = ask.target(self._window, tr("Save the project"), name, KINDS, ENDING)
        return self.save_to(path) if path is not None else False

    def save_to(self, path: Path) -> bool:
        """Save into a file; asks where it holds something else than this window knows of. Returns whether it did."""
        path = path.absolute()
        if path == self.workspace.path and is_changed(path, self._marks.get(path)):
            return self._save_beside_others(path)
        return self._write(path)

    def _write(self, path: Path) -> bool:
        workspace = self.workspace
        project = workspace.project
        if workspace.path is None and project.title == "Untitled":
            workspace.do(tr("Name the project"), replace(project, title=path.stem))
        try:
            mark = save(workspace.project, path)
        except UnusableInput as error:
            self.autosave.keep()
            kept = tr(" A recovery copy of your work is kept.") if self.autosave.store.is_on else ""
            QMessageBox.warning(self._window, tr("The project is not saved"), f"{error.sentence()}.{kept}")
            return False
        self._marks[path] = mark
        workspace.mark_saved(path)
        self.noticed.emit("newer", "", "")
        self._settle_copies()
        self.settings.add_recent(path)
        self.workspace.said.emit(tr("Saved {name}", name=path.name))
        return True

    def _save_beside_others(self, path: Path) -> bool:
        """The file was changed by another window or program: keep mine, take theirs, or save beside."""
        answer = ask.which(
            self._window,
            tr("Changed by somebody else"),
            tr(
                "‘{name}’ was changed by another window or program after this window last read it.\n\nKeep "
                "mine: theirs stays beside it as ‘{name}~’.\nTake theirs: it is shown here; undo brings "
                "yours back.\nSave beside: both stay, yours under a new name.",
                name=path.name,
            ),
            (tr("Keep mine"), tr("Take theirs"), tr("Save beside"), tr("Cancel")),
        )
        if answer == 0:
            try:
                write_whole(path.with_name(path.name + "~"), read_whole(path))
            except UnusableInput as error:
                QMessageBox.warning(self._window, tr("The project is not saved"), error.sentence())
                return False
            return self._write(path)
        if answer == 1:
            self._take_theirs(path)
        if answer == 2:
            return self._write(free_place(path))
        return False

    def _take_theirs(self, path: Path) -> None:
        try:
            found = open_file(path)
        except UnusableInput as error:
            QMessageBox.warning(self._window, tr("This file cannot be opened"), error.sentence())
            return
        self._marks[path] = found.mark
        self.workspace.bring_in(
            tr("Take ‘{name}’ as saved elsewhere", name=path.name), found.project, path, saved=found.project
        )
        self.opened.emit()

    # Writing for the bench

    def ask_export(self) -> None:
        """Ask for a folder and write everything into it."""
        folder = QFileDialog.getExistingDirectory(self._window, tr("Where should templates and papers go?"))
        if folder:
            self.export_to(Path(folder))

    def ask_pictures(self) -> None:
        """Ask for a folder and write pictures of all inserts into it."""
        folder = QFileDialog.getExistingDirectory(self._window, tr("Where should the pictures go?"))
        if folder:
            self.export_to(Path(folder), ("png",))

    def export_to(self, folder: Path, kinds: tuple[str, ...] = ()) -> None:
        """Write an export into a folder, in another process; kinds: all that nobody must ask for."""
        from cozy_burrow.jobs.apart import run_apart
        from cozy_burrow.jobs.export import export_apart

        project, workshop = self.workspace.project, self.workshop()

        def write(token: Token) -> str:
            count, remarks = run_apart(export_apart, project, folder, kinds, workshop, token=token)
            return ". ".join((tr("{count} files written to {folder}", count=count, folder=folder), *remarks))

        task = Task(write, self, elsewhere=True)
        task.done.connect(self.workspace.said.emit)
        task.failed.connect(self._hear_export_failure)
        self.workspace.said.emit(tr("Drawing the pictures…") if kinds else tr("Writing templates and papers…"))
        task.begin()

    def _hear_export_failure(self, error: Exception) -> None:
        if not isinstance(error, UnusableInput):
            raise error
        QMessageBox.warning(self._window, tr("Nothing was written"), error.sentence())

    # Restoring

    def bring_back(self, copy: Path) -> bool:
        """Show a recovery copy as unsaved work: one step of undo, what was open before lies behind it."""
        try:
            left = self.autosave.store.bring_back(copy)
        except UnusableInput as error:
            QMessageBox.warning(self._window, tr("The recovery copy is damaged"), error.sentence())
            return False
        if left.bench and not self._may_clear():
            return False
        self._bring_in(copy, left)
        return True

    def _bring_in(self, copy: Path, left: LeftBehind) -> None:
        home = left.original
        if home is not None:
            # The copy was made from the file as its own mark says, even where this window has read the file since.
            # Copies of older programs say nothing of it: what is there now is taken as known then.
            self._marks[home] = left.mark or self._marks.get(home) or mark_of(home)
        self.workspace.bring_in(tr("Restore unsaved work"), left.project, home)
        self._brought[copy] = self.workspace.project
        self.autosave.store.claim(copy)
        self.autosave.keep()
        self.opened.emit()
        if left.bench:
            self.bench_found.emit(left)
        self.workspace.said.emit(tr("Your work is back. Save it; undo shows what was open before"))

    def _settle_copies(self) -> None:
        """Delete restored copies that what was just saved, or given up, has come from."""
        history = self.workspace.history
        for copy, project in list(self._brought.items()):
            if any(step.project is project for step in history.steps[: history.index + 1]):
                del self._brought[copy]
                self.autosave.store.discard(copy)


def free_place(path: Path) -> Path:
    """Return `kit-2.burrow`, `kit-3.burrow`, …: the first that is not there."""
    number = 2
    while (beside := path.with_name(f"{path.stem}-{number}{path.suffix}")).exists():
        number += 1
    return beside


def lost_words(lost: tuple[Loss, ...]) -> str:
    """Return what was left out of a damaged project, in words."""
    parts = [trn(*_LOST[one.kind], one.count) for one in lost]
    return "; ".join(parts)
