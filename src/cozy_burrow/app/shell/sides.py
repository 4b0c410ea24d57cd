"""The middle of the window: the scene, and beside it two panels that fold to a rail where the scene needs the room.

At any size of type the scene keeps half of the width. A folded panel opens over the scene, by its rail, and goes again
with Escape or a press on the rail. The right one stands in its place only while it is used: its rail stays beside it.
"""

from __future__ import annotations

from typing import Literal

from PySide6.QtCore import QEvent, QObject, QRect, Qt, QTimer
from PySide6.QtGui import QKeyEvent, QResizeEvent
from PySide6.QtWidgets import QApplication, QHBoxLayout, QSplitter, QToolButton, QWidget

PANEL = 262  # pixels of a panel at plain type
LEAST_SCENE = 0.5  # of the width
_RAIL = 46  # pixels at plain type; it grows with half of the type's growth
_GAP = 8

SideName = Literal["left", "right"]


class Side:
    """One panel: in its place, or folded behind its rail, and then open over the scene or not.

    keeps_rail: it is used by its rail, and folded while it is not.
    """

    def __init__(self, name: SideName, panel: QWidget, rail: QToolButton, *, keeps_rail: bool) -> None:
        self.name, self.panel, self.rail, self.keeps_rail = name, panel, rail, keeps_rail
        self.is_used = not keeps_rail
        self.is_wanted = True  # the stage has use for it
        self.is_folded = False
        self.is_open = False


class Middle(QWidget):
    """Left panel, scene and right panel. `arrange` folds what does not fit, the right one first."""

    def __init__(self, left: QWidget, scene: QWidget, right: QWidget, scale: float) -> None:
        super().__init__()
        self._scale = scale
        self._splitter = QSplitter(Qt.Orientation.Horizontal)
        self._splitter.setChildrenCollapsible(False)
        self._splitter.setHandleWidth(_GAP)
        for widget, stretch in ((left, 0), (scene, 1), (right, 0)):
            self._splitter.addWidget(widget)
            self._splitter.setStretchFactor(self._splitter.count() - 1, stretch)
        self._splitter.setSizes([self._wide, 740, self._wide])
        self._is_set_by_hand = False
        self._splitter.splitterMoved.connect(self._note_hand)
        self.sides: dict[SideName, Side] = {
            "left": Side("left", left, self._rail_for("left"), keeps_rail=False),
            "right": Side("right", right, self._rail_for("right"), keeps_rail=True),
        }
        row = QHBoxLayout(self)
        row.setContentsMargins(_GAP, _GAP, _GAP, _GAP)
        row.setSpacing(_GAP)
        row.addWidget(self.sides["left"].rail)
        row.addWidget(self._splitter, 1)
        row.addWidget(self.sides["right"].rail)
        self._is_sized = False
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self.arrange)

    @property
    def _wide(self) -> int:
        return round(PANEL * self._scale)

    def _rail_for(self, name: SideName) -> QToolButton:
        rail = QToolButton(self)
        rail.setObjectName("rail")
        rail.setCheckable(True)
        rail.setFixedWidth(round(_RAIL * (1 + (self._scale - 1) / 2)))
        rail.setSizePolicy(rail.sizePolicy().horizontalPolicy(), rail.sizePolicy().Policy.Expanding)
        rail.setVisible(False)
        rail.clicked.connect(lambda wanted: self.press(name, wanted=wanted))
        return rail

    def want(self, name: SideName, wanted: bool) -> None:
        """Say whether the stage has use for a panel at all."""
        self.sides[name].is_wanted = wanted
        self.arrange()

    def label(self, name: SideName, text: str, about: str) -> None:
        """Say what stands on a rail, and what it is called."""
        rail = self.sides[name].rail
        rail.setText(text)
        rail.setToolTip(about)
        rail.setAccessibleName(about)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Fold and unfold by the room there is: when the event is over, since it moves widgets to other parents."""
        super().resizeEvent(event)
        if self._is_sized:
            self._later.start(0)
        else:  # the first time: before anything is painted
            self._is_sized = True
            self.arrange()

    def arrange(self) -> None:
        """Fold panels until the scene has half of the width."""
        if not self._is_sized:  # nobody knows yet how much room there will be
            for side in self.sides.values():
                side.panel.setVisible(side.is_wanted)
            return
        left, right = self.sides["left"], self.sides["right"]
        rail = left.rail.width() + _GAP
        room = self.width() - 2 * _GAP
        need = {side.name: max(self._wide, side.panel.minimumSizeHint().width()) + _GAP for side in (left, right)}
        folded: set[SideName] = {side.name for side in (left, right) if not side.is_used}

        def taken() -> int:
            wanted = [one for one in (left, right) if one.is_wanted]
            rails = sum(rail for one in wanted if one.keeps_rail or one.name in folded)
            return rails + sum(need[one.name] for one in wanted if one.name not in folded)

        for side in (right, left):
            if side.is_wanted and room - taken() < LEAST_SCENE * room:
                folded.add(side.name)
        for side in (left, right):
            self._fold(side, side.name in folded)
        if not left.is_folded and not self._is_set_by_hand:
            self._fit_width(left)

    def _note_hand(self) -> None:
        self._is_set_by_hand = True

    def _fit_width(self, left: Side) -> None:
        """Make the left panel as wide as the page that is shown needs, and give the rest to the scene."""
        wide = max(self._wide, left.panel.minimumSizeHint().width())
        panel, scene, *others = self._splitter.sizes()
        if panel != wide:
            self._splitter.setSizes([wide, scene + panel - wide, *others])

    def _fold(self, side: Side, folded: bool) -> None:
        side.rail.setVisible((folded or side.keeps_rail) and side.is_wanted)
        if folded != side.is_folded:
            side.is_folded, side.is_open = folded, False
            side.rail.setChecked(not folded)
            if folded:
                side.panel.setParent(self)
                side.panel.installEventFilter(self)
            else:
                side.panel.removeEventFilter(self)
                self._splitter.insertWidget(0 if side.name == "left" else self._splitter.count(), side.panel)
                self._splitter.setStretchFactor(self._splitter.indexOf(side.panel), 0)
                sizes = self._splitter.sizes()
                sizes[self._splitter.indexOf(side.panel)] = self._wide
                self._splitter.setSizes(sizes)
        side.panel.setVisible(side.is_wanted and (not folded or side.is_open))
        if folded and side.is_open:
            side.panel.setGeometry(self._place_of(side))
            side.panel.raise_()

    def _place_of(self, side: Side) -> QRect:
        width = min(max(self._wide, side.panel.minimumSizeHint().width()), self.width() - 2 * side.rail.width())
        left = side.rail.geometry().right() + 2 if side.name == "left" else side.rail.geometry().left() - width - 2
        return QRect(left, _GAP, width, self.height() - 2 * _GAP)

    def press(self, name: SideName, *, wanted: bool) -> None:
        """The rail was pressed: use its panel where that stands in its place, else open it over the scene."""
        self.use(name, wanted)
        if self.sides[name].is_folded:
            self.open(name, wanted=wanted)

    def use(self, name: SideName, used: bool) -> None:
        """Put a panel that keeps its rail into its place, if there is room, or fold it."""
        side = self.sides[name]
        if side.keeps_rail and side.is_used != used:
            side.is_used = used
            self.arrange()

    def open(self, name: SideName, *, wanted: bool = True) -> None:
        """Open a folded panel over the scene, or put it away; one that stands in its place stays."""
        for side in self.sides.values():
            if side.is_folded:
                side.is_open = wanted and side.name == name
                side.rail.setChecked(side.is_open)
                self._fold(side, True)
        if wanted and self.sides[name].is_folded:
            self.sides[name].panel.setFocus()
            if not self.sides[name].panel.isAncestorOf(QApplication.focusWidget() or self):
                self.sides[name].panel.focusNextPrevChild(True)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Escape in an open panel that nobody else took puts it away, and the rail has the focus."""
        if event.type() == QEvent.Type.KeyPress and isinstance(event, QKeyEvent) and event.key() == Qt.Key.Key_Escape:
            side = next((one for one in self.sides.values() if one.panel is watched and one.is_open), None)
            if side is not None:
                self.press(side.name, wanted=False)
                side.rail.setFocus()
                return True
        return super().eventFilter(watched, event)
