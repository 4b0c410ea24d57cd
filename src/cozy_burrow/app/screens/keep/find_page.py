"""Find: where an item lies, over all projects of a folder; its place lights up on a picture of its insert."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QPainter, QPen, QShowEvent
from PySide6.QtWidgets import QFileDialog, QListWidgetItem, QPushButton, QWidget

from cozy_burrow.app.desk.project_desk import ProjectDesk
from cozy_burrow.app.desk.settings import PROJECTS_FOLDER, Settings
from cozy_burrow.app.desk.tasks import Task
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.frame.paged_panel import RefusingPage
from cozy_burrow.app.look.fields import NextOnEnter, head, rows, soft, verdict
from cozy_burrow.app.look.long_words import row_of
from cozy_burrow.app.look.painting import paints, saved
from cozy_burrow.app.look.theme.theme import Theme, type_font
from cozy_burrow.app.scene.paths import area_path
from cozy_burrow.app.scene.relief import look_of
from cozy_burrow.app.scene.small_pictures import SmallReliefs
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.model.edits import insert_of
from cozy_burrow.core.progress import Token
from cozy_burrow.core.tongue import tr, trn
from cozy_burrow.jobs.find import Folder, Found, found_in, read_projects
from cozy_burrow.storage.project_file import load

_TYPED_MS = 120


class FindPage(RefusingPage):
    """`shown` carries what is chosen, or None."""

    shown = Signal(object)

    def __init__(
        self, workspace: Workspace, desk: ProjectDesk, settings: Settings, parent: QWidget | None = None
    ) -> None:
        super().__init__(workspace, parent)
        self._desk, self._settings = desk, settings
        self._folder: Folder | None = None
        self._task: Task | None = None
        self.found: tuple[Found, ...] = ()
        self.column.addWidget(head(tr("Where is it?")))
        self.search = NextOnEnter()
        self.search.setPlaceholderText(tr("Name of an item"))
        self.search.setAccessibleName(tr("Find where an item lies"))
        self.search.setClearButtonEnabled(True)
        self.column.addWidget(self.search)
        self._wait = QTimer(self)
        self._wait.setSingleShot(True)
        self._wait.setInterval(_TYPED_MS)
        self._wait.timeout.connect(self.look)
        self.search.textChanged.connect(lambda _: self._wait.start())
        self.search.returnPressed.connect(self.look)
        self.list = rows(tr("Places"), least_px=160)
        self.list.currentRowChanged.connect(self._point)
        self.list.itemActivated.connect(lambda _: self.open())
        self.column.addWidget(self.list, 1)
        self.verdict = verdict()
        self.column.addWidget(self.verdict)
        self.open_button = QPushButton(tr("Open that project"))
        self.open_button.clicked.connect(self.open)
        self.column.addWidget(self.open_button)
        self._where = soft("")
        self.column.addWidget(self._where)
        self.folder_button = QPushButton(tr("Look in another folder…"))
        self.folder_button.clicked.connect(self._ask_folder)
        self.column.addWidget(self.folder_button)
        self.follow()

    @property
    def folder(self) -> Path:
        """Where projects are looked for: as chosen once, else where the one that is open lies, else at home."""
        chosen = self._settings.text(PROJECTS_FOLDER)
        if chosen:
            return Path(chosen)
        return self._workspace.path.parent if self._workspace.path is not None else Path.home()

    def follow(self) -> None:
        """Show where is looked."""
        self._where.setText(tr("Looked in: {folder}", folder=str(self.folder)))
        self._tell()

    def showEvent(self, event: QShowEvent) -> None:
        """Read what has changed in the folder meanwhile."""
        super().showEvent(event)
        self.read()

    def read(self) -> None:
        """Read the folder as far as it has changed, beside the window."""
        self.follow()
        if self._task is None:
            folder, known = self.folder, self._folder
            task = self._task = Task(lambda token: read_projects(folder, known, token=token), self, elsewhere=True)
            task.done.connect(self._take)
            task.failed.connect(self._fail)
            task.finished.connect(self._end)
            task.begin()

    def _take(self, folder: Folder) -> None:
        self._folder = folder
        self.refused.emit(folder.troubles[0] if folder.troubles else "")
        self.look()

    def _fail(self, error: Exception) -> None:
        if not isinstance(error, UnusableInput):
            raise error  # on the interface's thread, where the crash guard keeps the work
        self.refused.emit(error.sentence())

    def _end(self) -> None:
        self._task = None
        self._tell()

    def look(self) -> None:
        """Show where what was typed lies."""
        self.found = found_in(self._folder, self.search.text()) if self._folder is not None else ()
        self.list.blockSignals(True)
        self.list.clear()
        for one in self.found:
            row = QListWidgetItem(row_of(f"{one.name}: {one.where}"))
            row.setToolTip(str(one.path))
            self.list.addItem(row)
        self.list.setCurrentRow(0 if self.found else -1)
        self.list.blockSignals(False)
        self._point(self.list.currentRow())

    def _point(self, row: int) -> None:
        self.shown.emit(self.found[row] if 0 <= row < len(self.found) else None)
        self._tell()

    def _tell(self) -> None:
        row = self.list.currentRow()
        self.open_button.setEnabled(0 <= row < len(self.found))
        if self._folder is None:
            self.verdict.setText(tr("Reading the projects…"))
        elif 0 <= row < len(self.found):
            one = self.found[row]
            self.verdict.setText(f"{one.name}: {one.where}\n{one.title} · {one.path.name}")
        elif self.search.text().strip():
            self.verdict.setText(tr("It is in none of these projects."))
        else:
            self.verdict.setText(
                trn(
                    "{count} project is looked through.",
                    "{count} projects are looked through.",
                    len(self._folder.projects),
                )
            )

    def open(self) -> None:
        """Open the project that is chosen, and select the item there."""
        row = self.list.currentRow()
        if not 0 <= row < len(self.found):
            return
        one = self.found[row]
        if self._workspace.path != one.path:
            self._desk.open_path(one.path)
        if self._workspace.path == one.path and one.insert_id:
            self._workspace.show_insert(one.insert_id)
            self._workspace.select((one.key,))

    def _ask_folder(self) -> None:
        folder = QFileDialog.getExistingDirectory(self, tr("Look in another folder"), str(self.folder))
        if folder:
            self._settings.set(PROJECTS_FOLDER, folder)
            self._folder = None
            self.read()


class FindView(QWidget):
    """The insert in which something was found, and its place."""

    def __init__(self, theme: Theme, scale: float, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._theme, self._type_scale = theme, scale
        self._found: Found | None = None
        self._ground: Ground | None = None
        self._reliefs = SmallReliefs(self, most=6)
        self._reliefs.changed.connect(self.update)
        self.setAccessibleName(tr("Where it lies"))

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self._theme = theme
        self.update()

    def show_found(self, found: Found | None) -> None:
        """Show the place of what was found, once the ground there is worked out beside the window."""
        self._found, self._ground = found, None
        self.update()
        if found is None or not found.insert_id:
            return
        path, insert_id = found.path, found.insert_id

        def work(_: Token) -> Ground:
            project = load(path)
            return ground_of(project, insert_of(project, insert_id))

        task = Task(work, self)
        task.done.connect(lambda ground: self._take(found, ground))
        task.failed.connect(self._fail)
        task.begin()

    def _take(self, found: Found, ground: Ground) -> None:
        if found is self._found:
            self._ground = ground
            self.update()

    def _fail(self, error: Exception) -> None:
        if not isinstance(error, UnusableInput):  # the file was changed since it was looked through
            raise error  # on the interface's thread, where the crash guard keeps the work

    @paints
    def paintEvent(self, painter: QPainter) -> None:
        """Paint the insert, with a bold line round the place."""
        theme, ground = self._theme, self._ground
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("paper"))
        painter.setFont(type_font("figure", self._type_scale))
        painter.setPen(theme.colour("ink"))
        room = QRectF(self.rect()).adjusted(16, 40, -16, -16)
        if self._found is None or ground is None:
            text = tr("Type a name, and its place shows here") if self._found is None else self._found.where
            painter.drawText(room, Qt.AlignmentFlag.AlignCenter, text)
            return
        painter.drawText(QRectF(16, 8, room.width(), 24), Qt.AlignmentFlag.AlignVCenter, self._found.where)
        left, top, right, low = ground.extent
        scale = min(room.width() / max(1.0, right - left), room.height() / max(1.0, low - top))
        with saved(painter):
            painter.translate(room.center())
            painter.scale(scale, scale)
            painter.translate(-(left + right) / 2, -(top + low) / 2)
            if not self._reliefs.put(painter, ground, look_of(theme)):
                painter.setPen(QPen(theme.colour("line_strong"), 1.5))
                painter.setBrush(theme.colour("foam_top"))
                painter.drawPath(area_path(ground.blank))
            pocket = ground.pockets.get(self._found.key)
            if pocket is not None:
                painter.setBrush(Qt.BrushStyle.NoBrush)
                for width, role in ((7.0, "paper"), (4.0, "accent")):
                    painter.setPen(QPen(theme.colour(role), width / scale))
                    painter.drawPath(area_path(pocket.surface))
