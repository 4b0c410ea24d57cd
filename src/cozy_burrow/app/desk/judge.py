"""Judging the plan while the window stays awake: findings are worked out beside it, the last ones shown until then."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject, QTimer, Signal

from cozy_burrow.app.desk.tasks import Task
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.findings.report import findings_of, judging
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.progress import Token

IN_A_DRAG_MS = 80  # findings follow a hand a few times a second
# Qt paints what has changed some 5 ms later. Geometry lets go of the interpreter at every call: a thread that judges
# meanwhile makes that painting take twice as long.
_PAINTED_MS = 12


class Judge(QObject):
    """Knows the findings of a document. `judged`: there are new ones; in a drag they may be some frames old."""

    judged = Signal()
    at_once = False  # in the window's own thread: for tests, in which nothing may hang on how much time there was

    def __init__(self, project: Callable[[], Project], shown: Callable[[], str], parent: QObject) -> None:
        super().__init__(parent)
        self._project, self._shown = project, shown  # the document, and the insert of it that is looked at
        self._seen: tuple[Finding, ...] = ()
        self.is_judged = False
        self._task: Task | None = None
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self.go_on)

    @property
    def seen(self) -> tuple[Finding, ...]:
        """The findings that were last worked out: what is shown, some frames old while a hand moves or work goes on."""
        return self._seen

    @property
    def findings(self) -> tuple[Finding, ...]:
        """The findings as they are now, worked out at once: for what must not act on old ones."""
        if not self.is_judged:
            self._end(findings_of(self._project()))
        return self._seen

    def forget(self) -> None:
        """Another document is shown: the findings of the one before say nothing here."""
        self._seen = ()

    def document_changed(self, *, in_gesture: bool) -> None:
        """What is known belongs to another state of the document; what is under way is still wanted in a drag."""
        self.is_judged = False
        if not in_gesture:
            self._stop()

    def begin(self, *, in_gesture: bool) -> None:
        """Begin to judge: as soon as what has changed is painted, or while a hand moves a little later."""
        if self.is_judged:
            return
        if self.at_once:
            self.go_on()
        elif not self._later.isActive():
            self._later.start(IN_A_DRAG_MS if in_gesture else _PAINTED_MS)

    def go_on(self) -> None:
        """Judge the document as it is now, beside the window."""
        project = self._project()
        if self.is_judged or self._task is not None:
            return
        if self.at_once:
            self._end(findings_of(project))
            return

        shown = self._shown()

        def work(token: Token) -> tuple[Finding, ...]:
            for _ in judging(project, first=shown):
                token.step(0.0)
            return findings_of(project)

        task = self._task = Task(work, self, beside=True)
        task.done.connect(lambda found: self._take(task, project, found))
        task.failed.connect(_raise)
        task.begin()

    def _take(self, task: Task, project: Project, found: tuple[Finding, ...]) -> None:
        if task is not self._task:
            return
        if project is self._project():
            self._end(found)
            return
        self._task, self._seen = None, found  # a hand has moved on: what is shown follows it
        self.judged.emit()
        self._later.start(IN_A_DRAG_MS)

    def _stop(self) -> None:
        if self._task is not None:
            self._task.stop()
            self._task = None

    def _end(self, found: tuple[Finding, ...]) -> None:
        self._stop()
        self._later.stop()
        self._seen, self.is_judged = found, True
        self.judged.emit()


def _raise(error: Exception) -> None:
    raise error  # on the interface's thread, where the crash guard keeps the work
