"""The zones of a thing one under the other: layers out under each, with a press for one more or less."""

from __future__ import annotations

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtWidgets import QGridLayout, QLabel, QPushButton, QSizePolicy, QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import clear_grid
from cozy_burrow.app.look.long_words import Words
from cozy_burrow.core.depth.seat import Seating
from cozy_burrow.core.depth.sitting import Sitting
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.tongue import tr


class ZonesGrid(QWidget):
    """Says which zone and by how many layers when one is pressed."""

    stepped = Signal(int, int)

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._workspace = workspace
        self._shown: Item | None = None
        self._rows: list[tuple[QPushButton, QLabel, QPushButton, QLabel]] = []
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setColumnStretch(0, 1)

    def show_zones(self, item: Item, seating: Seating, sitting: Sitting) -> None:
        """Show the figures of an item's zones."""
        if self._shown is not item:
            self._shown = item
            self._build(item)
        layers = self._workspace.ground.layers
        for index, (less, figure, more, depth) in enumerate(self._rows):
            count = seating.zone_layers[index]
            figure.setText(str(count))
            gap = sitting.gaps_mm[index]
            hangs = tr(", hangs {gap}", gap=self._workspace.length(gap)) if gap > 0.1 else tr(", rests")
            depth.setText(self._workspace.length(layers[count - 1].bottom_mm) + hangs)
            proud = sitting.zone_proud_mm[index]
            how = "above" if proud >= 0 else "below"
            depth.setToolTip(
                tr("Its top lies {proud} {how} the foam's surface", proud=self._workspace.length(abs(proud)), how=how)
            )
            less.setEnabled(count > 1)
            more.setEnabled(count < len(layers))

    def _build(self, item: Item) -> None:
        clear_grid(self._grid)
        self._rows = []
        for index, zone in enumerate(item.zones):
            less, more = QPushButton("−"), QPushButton("+")
            less.setAccessibleName(tr("One layer less under {name}", name=zone.name))
            more.setAccessibleName(tr("One layer more under {name}", name=zone.name))
            less.clicked.connect(lambda _=False, n=index: self.stepped.emit(n, -1))
            more.clicked.connect(lambda _=False, n=index: self.stepped.emit(n, 1))
            figure, depth = QLabel(), QLabel()
            depth.setObjectName("soft")
            self._grid.addWidget(Words(zone.name), 2 * index, 0)
            for column, widget in enumerate((less, figure, more), start=1):
                self._grid.addWidget(widget, 2 * index, column)
            self._grid.addWidget(depth, 2 * index + 1, 0, 1, 4)
            self._rows.append((less, figure, more, depth))


class OptionButton(QPushButton):
    """A button whose sentence runs over several lines."""

    def __init__(self, text: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setText(text)
        self.setAccessibleName(text)
        self._label = Words(text, self)
        self._label.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.setText("")
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Minimum)

    def text(self) -> str:
        """Return the sentence."""
        return self._label.text()

    def _high(self, width: int) -> int:
        return self._label.heightForWidth(max(60, width - 20)) + 12

    def sizeHint(self) -> QSize:
        """As high as its lines."""
        return QSize(self.width(), self._high(self.width()))

    def resizeEvent(self, event: object) -> None:
        """Keep the lines inside."""
        self.setFixedHeight(self._high(self.width()))
        self._label.setGeometry(10, 6, self.width() - 20, self.height() - 12)
