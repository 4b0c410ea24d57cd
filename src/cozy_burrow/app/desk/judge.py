"""Judging the plan while the window stays awake: findings are worked out in slices, the last ones shown until then."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator

from PySide6.QtCore import QObject, QTimer, Signal

from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.findings.report import findings_of, judging
from cozy_burrow.core.model.records import Project

IN_A_DRAG_MS = 80  # findings follow a hand a few times a second


class Judge(QObject):
    """Knows the findings of a document; `judged`: they are those of the document as it is now."""

    judged = Signal()
    patience_s = 0.03  # of work at a time: with what is painted after it, well below a tenth of a second

    def __init__(self, project: Callable[[], Project], parent: QObject) -> None:
        super().__init__(parent)
        self._project = project
        self._seen: tuple[Finding, ...] = ()
        self.is_judged = False
        self._under_way: Iterator[None] | None = None
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
            self._end()
        return self._seen

    def forget(self) -> None:
        """Another document is shown: the findings of the one before say nothing here."""
        self._seen = ()

    def document_changed(self) -> None:
        """What was worked out so far belongs to another state of the document."""
        self.is_judged, self._under_way = False, None

    def begin(self, *, in_gesture: bool) -> None:
        """Begin to judge: at once, or while a hand moves a little later."""
        if self.is_judged:
            return
        if not in_gesture:
            self.go_on()
        elif not self._later.isActive():
            self._later.start(IN_A_DRAG_MS)

    def go_on(self) -> None:
        """Work for a little while, and go on when the window has had its turn."""
        if self.is_judged:
            return
        if self._under_way is None:
            self._under_way = judging(self._project())
        end = time.monotonic() + self.patience_s
        for _ in self._under_way:
            if time.monotonic() > end:
                self._later.start(0)
                return
        self._end()

    def _end(self) -> None:
        self._seen = findings_of(self._project())
        self.is_judged, self._under_way = True, None
        self._later.stop()
        self.judged.emit()
