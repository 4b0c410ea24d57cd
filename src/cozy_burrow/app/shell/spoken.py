"""What the window says aloud: scenes painted by hand have no names and values that a screen reader could read.

Told are the selection with its place, what a command said or refused, how many checks there are, and how far a search
has come; each a moment after its last change, so that a drag or a search is not a torrent. What lies on the plan and in
the section has names and places of its own (`heard_parts`).
"""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject, QTimer
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.checks.check_list import CheckList
from cozy_burrow.app.desk.arranging import Arranging
from cozy_burrow.app.desk.selected import selected_words
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.speaking import announce
from cozy_burrow.app.scene.plan_view import PlanView
from cozy_burrow.app.section.section_view import SectionView
from cozy_burrow.app.shell.heard_parts import hear_plan, hear_section
from cozy_burrow.core.tongue import tr

_AFTER_MS = 250
_SEARCH_MS = 4_000  # between two words about a search


class Spoken(QObject):
    """Listens to what changes, and has it said."""

    def __init__(
        self,
        workspace: Workspace,
        arranging: Arranging,
        checks: CheckList,
        window: QWidget,
        *,
        plan: PlanView,
        section: SectionView,
    ) -> None:
        super().__init__(window)
        self._window = window
        self.parts = hear_plan(plan, workspace), hear_section(section, workspace)
        self._later: dict[str, tuple[QTimer, Callable[[], str]]] = {}
        self._said: dict[str, str] = {}
        self._soon("selection", lambda: selected_words(workspace).replace("\n", ", "), _AFTER_MS)
        self._soon("checks", lambda: checks.title, 4 * _AFTER_MS)
        self._soon("search", lambda: _so_far(arranging), _SEARCH_MS)
        workspace.selection_changed.connect(lambda: self._tell("selection"))
        workspace.document_changed.connect(lambda: self._tell("selection"))  # what is selected was moved
        workspace.said.connect(lambda text: announce(window, text))
        workspace.refused.connect(lambda text: announce(window, text, at_once=True))
        checks.headed.connect(lambda *_: self._tell("checks"))
        arranging.gained.connect(lambda: self._tell("search"))

    def _soon(self, topic: str, words: Callable[[], str], after_ms: int) -> None:
        timer = QTimer(self)
        timer.setSingleShot(True)
        timer.setInterval(after_ms)
        timer.timeout.connect(lambda: self._say(topic))
        self._later[topic] = (timer, words)

    def _tell(self, topic: str) -> None:
        timer, _ = self._later[topic]
        if topic != "search" or not timer.isActive():  # a search goes on: it is told now and then, not once it rests
            timer.start()

    def _say(self, topic: str) -> None:
        text = self._later[topic][1]()
        if text != self._said.get(topic):
            self._said[topic] = text
            announce(self._window, text)


def _so_far(arranging: Arranging) -> str:
    best = arranging.best
    return tr("Best layout so far: {score:.0f} of 100", score=arranging.total(best)) if best is not None else ""
