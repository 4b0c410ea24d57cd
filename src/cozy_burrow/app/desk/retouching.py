"""From the retouch bench into the kit, and more photos: of an item on its side, of the layout from another place."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QFileDialog, QWidget

from cozy_burrow.app.desk import ask
from cozy_burrow.app.desk.bench_session import RetouchSession
from cozy_burrow.app.desk.tasks import Task
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.edits import add_items
from cozy_burrow.core.tongue import tr, trn

if TYPE_CHECKING:
    from cozy_burrow.core.capture.photo.trace import Traced
    from cozy_burrow.core.capture.retouch.draft import Draft, Table
    from cozy_burrow.core.progress import Token
    from cozy_burrow.jobs.capture import Printed


class Retouching(QObject):
    """Carries what is on the bench to the project."""

    def __init__(self, session: RetouchSession, workspace: Workspace, parent: QWidget) -> None:
        super().__init__(parent)
        self._session, self._workspace, self._window = session, workspace, parent
        self._task: Task | None = None

    def send(self) -> bool:
        """Put every thing on the bench into the kit, as one step of undo, and close the bench; False where it can't."""
        from cozy_burrow.jobs.item_photo import kit_item_with_photo

        capture = self._session.capture
        if capture is None:
            return False
        workspace = self._workspace
        try:
            items = [kit_item_with_photo(draft, capture) for draft in self._session.table.drafts]
            project = add_items(workspace.project, items)
        except UnusableInput as error:
            workspace.refused.emit(error.sentence())
            return False
        label = (
            tr("Gather ‘{name}’", name=items[0].name)
            if len(items) == 1
            else tr("Gather {count} items from a picture", count=len(items))
        )
        workspace.do(label, project)
        self._session.close()
        workspace.choose_item(project.items[-1].id)
        return True

    def may_clear(self) -> bool:
        """Ask what happens to outlines that were worked on; True where the bench may be cleared."""
        if not self._session.has_work:
            return True
        count = len(self._session.table.drafts)
        these = (
            tr("{count} outlines on the retouch bench were", count=count)
            if count > 1
            else tr("An outline on the retouch bench was")
        )
        answer = ask.which(
            self._window,
            tr("Work on the retouch bench"),
            tr("{these} changed by hand and not sent to the kit yet.", these=these),
            (tr("Send to the kit"), tr("Discard"), tr("Cancel")),
        )
        if answer == 0:
            return self.send()
        return answer == 1

    def close(self) -> None:
        """Take the picture off the bench, after asking where something was done on it."""
        if self.may_clear():
            self._session.close()

    def restore(self, bench: bytes, picture: bytes) -> None:
        """Lay on the bench what lay there when the program was killed; its picture is read again in the background."""
        from cozy_burrow.jobs.apart import run_apart
        from cozy_burrow.jobs.bench_copy import bench_from_bytes, without_picture
        from cozy_burrow.jobs.capture import captured

        try:
            copy = bench_from_bytes(bench)
        except UnusableInput as error:
            self._workspace.refused.emit(error.sentence())
            return
        task = Task(lambda token: run_apart(captured, picture, copy.recipe, token=token), self, elsewhere=True)
        self._task = task
        task.done.connect(lambda capture: self._session.open(capture, restored=copy.table))
        task.failed.connect(lambda _: self._session.open(without_picture(copy.table), restored=copy.table))
        task.begin()
        self._workspace.said.emit(tr("Reading the picture of the retouch bench again…"))

    def ask_side(self, printed: Callable[[], Printed]) -> None:
        """Ask for a photo of the thing on its side. printed: what the mat's scales were measured to be."""
        self._with_picture(tr("A photo of it on its side"), lambda data, name: self.take_side(data, name, printed()))

    def _with_picture(self, title: str, take: Callable[[bytes, str], None]) -> None:
        """Ask for a picture and take its bytes; what is refused is said."""
        from cozy_burrow.jobs.capture import read_picture

        pictures = tr("Pictures (*.jpg *.jpeg *.png *.tif *.tiff *.heic *.heif)")
        path, _ = QFileDialog.getOpenFileName(self._window, title, "", pictures)
        if path:
            try:
                take(read_picture(Path(path)), Path(path).name)
            except UnusableInput as error:
                self._session.said.emit(error.sentence())

    def take_side(self, data: bytes, source: str, printed: Printed = (None, None)) -> None:
        """Read the side photo in the background and give the chosen thing's zones their heights."""
        from cozy_burrow.jobs.apart import run_apart
        from cozy_burrow.jobs.capture import side_outline

        if not self._session.is_open:
            return
        draft = self._session.draft
        edge = draft.across_mm
        task = Task(
            lambda token: run_apart(side_outline, data, source, edge, printed, token=token), self, elsewhere=True
        )
        self._task = task
        task.done.connect(lambda found: self._take(draft, found))
        task.failed.connect(self._fail)
        task.begin()
        self._session.said.emit(tr("Reading the photo of its side…"))

    def _take(self, before: Draft, found: Traced) -> None:
        from cozy_burrow.core.capture.retouch.draft import heights_from_side

        if self._session.is_open and self._session.draft is before:
            self._session.do_draft(
                tr("Take heights from its side"), lambda draft: heights_from_side(draft, found.shape)
            )
        else:
            self._session.said.emit(tr("The item was changed meanwhile; take the heights from its side again"))

    def ask_another(self, printed: Callable[[], Printed]) -> None:
        """Ask for another photo of the layout on the bench; of the demo's, the simulated camera takes it."""
        from cozy_burrow.demo.photo import DEMO_PHOTO, demo_another
        from cozy_burrow.jobs.apart import run_apart

        capture = self._session.capture
        if capture is None or capture.trace is None:
            self._session.said.emit(tr("Only a photo on the mat can be measured from another one"))
            return
        if capture.recipe is not None and capture.recipe.source == DEMO_PHOTO:
            table, trace = self._session.table, capture.trace
            self._measure(lambda token: run_apart(demo_another, table, trace, token=token))
            return
        self._with_picture(
            tr("Another photo of the same layout"), lambda data, name: self.take_another(data, name, printed())
        )

    def take_another(self, data: bytes, source: str, printed: Printed = (None, None)) -> None:
        """Read another photo of the layout in the background; every edge gets the height that both photos say."""
        from cozy_burrow.jobs.apart import run_apart
        from cozy_burrow.jobs.capture import with_another_photo

        capture = self._session.capture
        if capture is None or capture.trace is None:
            return
        table, trace = self._session.table, capture.trace
        self._measure(lambda token: run_apart(with_another_photo, table, trace, data, source, printed, token=token))

    def _measure(self, work: Callable[[Token], Table]) -> None:
        before = self._session.table
        task = Task(work, self, elsewhere=True)
        self._task = task
        task.done.connect(lambda table: self._take_heights(before, table))
        task.failed.connect(self._fail)
        task.begin()
        self._session.said.emit(tr("Reading the other photo…"))

    def _take_heights(self, before: Table, found: Table) -> None:
        if not self._session.is_open or self._session.table is not before:
            self._session.said.emit(tr("The outlines were changed meanwhile; take the other photo again"))
            return
        measured = sum(draft.measured_mm is not None for draft in found.drafts)
        if self._session.do(tr("Measure from another photo"), lambda _: found):
            self._session.said.emit(
                trn("The thickness of {count} item is measured", "Thicknesses of {count} items are measured", measured)
            )
        else:
            self._session.said.emit(tr("Both photos are taken from one place: nothing could be measured"))

    def _fail(self, error: Exception) -> None:
        if not isinstance(error, UnusableInput):
            raise error  # on the interface's thread, where the crash guard keeps the work
        self._session.said.emit(error.sentence())
