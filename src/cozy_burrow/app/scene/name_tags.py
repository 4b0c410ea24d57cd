"""The names on the plan: where they stand is worked out beside the window, once for a ground and a scale."""

from __future__ import annotations

from PySide6.QtCore import QObject, QTimer, Signal
from PySide6.QtGui import QFont, QFontMetricsF
from shapely.geometry import Point as Dot

from cozy_burrow.app.desk.tasks import Task
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.scene.overlay import Overlay
from cozy_burrow.app.scene.word_stamps import WordStamps
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.ground.naming import NameTag, names_on
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Point, Project
from cozy_burrow.core.progress import Token

_PAD_PX = 2.0
_MARK_PX = 9.0  # round the middle of a check's mark
Tags = tuple[tuple[NameTag, str], ...]


class NameTags(QObject):
    """Knows where names stand. `changed`: it does now."""

    changed = Signal()
    at_once = False  # in the window's own thread: for a picture of the window, which waits for it

    def __init__(self, font: QFont, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._font = font
        self._known: tuple[object, Tags] | None = None
        self._asked: object = None
        self._task: Task | None = None
        self._words = WordStamps(font)
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.timeout.connect(self.changed)

    @property
    def is_known(self) -> bool:
        """Whether nothing is being worked out, and all is written."""
        return self._task is None and self._known is not None and not self._words.rest_is_due

    def paint(self, overlay: Overlay, workspace: Workspace, px_per_mm: float, *, on_dark: bool) -> None:
        """Write the names of what lies in the insert that is shown, as far as it is known where."""
        marks = frozenset(
            one.where_mm for one in workspace.findings_here if one.where_mm is not None and one.severity != "note"
        )
        tags = self.tags(workspace.project, workspace.ground, px_per_mm, QFontMetricsF(self._font), marks)
        self._words.begin(all_at_once=self.at_once)
        overlay.names(tags, self._words, on_dark=on_dark)
        if self._words.rest_is_due:
            self._rest.start(0)

    def tags(
        self,
        project: Project,
        ground: Ground,
        px_per_mm: float,
        metrics: QFontMetricsF,
        marks: frozenset[Point] = frozenset(),
    ) -> Tags:
        """Return the names of what lies in a ground and where they stand, off marks; none while that is not known."""
        words = {one.id: placement_name(project, one.id) for one in ground.insert.placements}
        what = (id(ground), round(px_per_mm, 4), metrics.height(), tuple(words.values()), marks)
        if self._known is not None and self._known[0] == what:
            return self._known[1]
        sizes = {
            key: ((metrics.horizontalAdvance(text) + 2 * _PAD_PX) / px_per_mm, metrics.height() / px_per_mm)
            for key, text in words.items()
        }

        def work(token: Token | None) -> Tags:
            taken = [Dot(one).buffer(_MARK_PX / px_per_mm) for one in sorted(marks)]
            return tuple((tag, words[tag.key]) for tag in names_on(ground, sizes, taken))

        if self.at_once:
            self._known = (what, work(None))
            return self._known[1]
        if self._asked != what:
            if self._task is not None:
                self._task.stop()
            self._asked = what
            task = self._task = Task(work, self)
            task.done.connect(lambda tags: self._take(task, what, ground, tags))
            task.failed.connect(_raise)
            task.begin()
        return ()

    def _take(self, task: Task, what: object, ground: Ground, tags: Tags) -> None:
        del ground  # held until here: its identity is part of what was asked for
        if task is self._task:
            self._known, self._task = (what, tags), None
            self.changed.emit()


def _raise(error: Exception) -> None:
    raise error  # on the interface's thread, where the crash guard keeps the work
