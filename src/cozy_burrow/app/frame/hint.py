"""Quiet hints for whoever is here for the first time: one a stage, at its place, gone for good once it was followed."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, QPoint, Qt
from PySide6.QtWidgets import QAbstractButton, QFrame, QHBoxLayout, QPushButton, QWidget

from cozy_burrow.app.desk.settings import HINTS, TYPE_SCALE, Settings
from cozy_burrow.app.look.long_words import Words
from cozy_burrow.app.look.theme.dressing import Dressing
from cozy_burrow.core.tongue import tr

_GAP_PX = 10
_WIDE_PX = 320
_HINTED = "hinted"  # of a widget that has its hint already


class Hint(QFrame):
    """A card beside what it speaks of. It never takes the focus, and the scene behind it can be used."""

    are_on = False  # while somebody sits at the window; not for pictures of it

    def __init__(self, name: str, anchor: QWidget, text: str, settings: Settings) -> None:
        super().__init__(anchor.window())
        self._name, self._anchor, self._settings = name, anchor, settings
        self.setObjectName("panel")
        self.setAccessibleName(text)
        row = QHBoxLayout(self)
        label = Words("◂ " + text)
        row.addWidget(label, 1)
        self.button = QPushButton(tr("Got it"))
        self.button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.button.clicked.connect(self.done)
        row.addWidget(self.button)
        self.setFixedWidth(round(_WIDE_PX * settings.get(TYPE_SCALE)))
        if isinstance(anchor, QAbstractButton):
            anchor.clicked.connect(self.done)
        anchor.installEventFilter(self)

    def place(self) -> None:
        """Stand to the right of what it speaks of, inside the window."""
        layout = self.layout()
        if layout is not None:
            layout.activate()
            self.setFixedHeight(layout.totalHeightForWidth(self.width()))
        window = self._anchor.window()
        corner = self._anchor.mapTo(window, QPoint(self._anchor.width() + _GAP_PX, 0))
        top = min(max(0, corner.y()), window.height() - self.height())
        self.move(min(corner.x(), window.width() - self.width()), top)
        self.show()
        self.raise_()

    def done(self) -> None:
        """It was followed, or read: it is never shown again."""
        known = self._settings.get(HINTS)
        if self._name not in known:
            self._settings.set(HINTS, [*known, self._name])
        self._anchor.removeEventFilter(self)
        self.hide()
        self.deleteLater()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Go where the anchor goes."""
        if watched is self._anchor:
            match event.type():
                case QEvent.Type.Hide:
                    self.hide()
                case QEvent.Type.Show | QEvent.Type.Resize | QEvent.Type.Move if self._anchor.isVisible():
                    self.place()
                case _:
                    pass
        return False


def hint(name: str, anchor: QWidget, text: str, settings: Settings, dressing: Dressing) -> Hint | None:
    """Show a hint beside a widget, unless it was shown before or nobody is there to read it."""
    if not Hint.are_on or name in settings.get(HINTS) or anchor.property(_HINTED):
        return None
    anchor.setProperty(_HINTED, True)
    found = Hint(name, anchor, text, settings)
    dressing.add(found)
    if anchor.isVisible():
        found.place()
    return found
