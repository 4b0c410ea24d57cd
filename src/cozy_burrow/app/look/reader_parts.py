"""The parts of a scene that is painted by hand, as a screen reader meets them: unseen buttons, one where each part is.

A painted item has no name, no place and no state that anything but an eye could read. So, while something listens, each
has a button over it that paints nothing, takes no mouse and no focus: Qt tells of it what it tells of every button, and
a reader can press it.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

from PySide6.QtCore import QEvent, QObject, QRect, Qt, QTimer
from PySide6.QtGui import QAccessible, QPaintEvent
from PySide6.QtWidgets import QAbstractButton, QWidget

_AFTER_MS = 300  # of rest: in a drag nobody reads


class Part(NamedTuple):
    """One part: what tells it from others, its name, what is said of it, where it is on the scene, how it is chosen."""

    key: str
    name: str
    about: str
    where: QRect
    is_chosen: bool
    choose: Callable[[], object]


class _Unseen(QAbstractButton):
    def __init__(self, scene: QWidget) -> None:
        super().__init__(scene)
        self.setCheckable(True)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.setAttribute(Qt.WidgetAttribute.WA_NoSystemBackground)
        self.part: Part | None = None
        self._follows = False
        self.toggled.connect(lambda _: self._choose())  # a reader presses it or toggles it

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint nothing: the scene does."""

    def _choose(self) -> None:
        if self.part is not None and not self._follows:
            self.part.choose()

    def show_part(self, part: Part) -> None:
        """Be a part; what has not changed is not told again."""
        self.part = part
        if self.geometry() != part.where:
            self.setGeometry(part.where)
        if self.accessibleName() != part.name:
            self.setAccessibleName(part.name)
        if self.accessibleDescription() != part.about:
            self.setAccessibleDescription(part.about)
        if self.isChecked() != part.is_chosen:
            self._follows = True
            self.setChecked(part.is_chosen)
            self._follows = False
        if not self.isVisible():
            self.show()


class ReaderParts(QObject):
    """Keeps the unseen buttons of a scene as its parts are, a moment after it was painted."""

    def __init__(self, scene: QWidget, parts: Callable[[], Sequence[Part]]) -> None:
        super().__init__(scene)
        self._scene, self._parts = scene, parts
        self._buttons: dict[str, _Unseen] = {}
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(_AFTER_MS)
        self._soon.timeout.connect(self.follow)
        scene.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Follow what was painted, where something listens."""
        if event.type() == QEvent.Type.Paint and QAccessible.isActive():
            self._soon.start()
        return False

    def follow(self) -> None:
        """Make, move and take away buttons until they are the parts."""
        gone = dict(self._buttons)
        for part in self._parts():
            button = gone.pop(part.key, None)
            if button is None:
                button = self._buttons[part.key] = _Unseen(self._scene)
            button.show_part(part)
        for key, button in gone.items():
            del self._buttons[key]
            button.deleteLater()
