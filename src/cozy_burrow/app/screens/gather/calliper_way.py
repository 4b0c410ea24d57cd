"""Calliper stations, typed by hand or by a calliper: outline and profile grow as the figures come."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtGui import QPainter, QPen
from PySide6.QtWidgets import QApplication, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import Form, LengthField, soft
from cozy_burrow.app.look.painting import paints, saved
from cozy_burrow.app.look.theme.theme import load_theme
from cozy_burrow.app.scene.tool_painting import paint_tool
from cozy_burrow.app.screens.gather.gallery import paint_side
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.kit.stations import Station, station_item
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.tongue import tr
from cozy_burrow.devices.calliper import Calliper, SimulatedCalliper

# What the demo's calliper is put to: distance, diameter, distance, diameter … of a slim driver.
_DEMO_LENGTHS = (0.0, 24.0, 82.0, 24.0, 82.0, 5.0, 190.0, 5.0)


class Growing(QWidget):
    """The thing as far as it is known: from above, and below it from its side."""

    def __init__(self) -> None:
        super().__init__()
        self.item: Item | None = None
        self.setMinimumHeight(84)
        self.setAccessibleName(tr("Drawing of the item as the readings come"))

    def show_item(self, item: Item | None) -> None:
        """Paint another state."""
        self.item = item
        self.setAccessibleDescription("" if item is None else tr("{count} zones", count=len(item.zones)))
        self.update()

    @paints
    def paintEvent(self, painter: QPainter) -> None:
        """Paint both views in the colours of the theme in use."""
        night = self.palette().window().color().lightness() < 128
        theme = load_theme("lamp" if night else "light")
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(theme.colour("line"), 1))
        painter.setBrush(theme.colour("paper"))
        painter.drawRoundedRect(self.rect().adjusted(1, 1, -1, -1), 4, 4)
        if self.item is None:
            painter.setPen(theme.colour("ink_soft"))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, tr("Two readings make a first piece"))
            return
        left, top, right, bottom = polygon_of(self.item.outline).bounds
        depth, gap = bottom - top, 6.0
        total = depth + gap + self.item.thickness_mm
        scale = min((self.width() - 16) / (right - left), (self.height() - 14) / total)
        x, y = self.width() / 2, (self.height() - total * scale) / 2 + depth * scale / 2
        with saved(painter):
            painter.translate(x, y)
            painter.scale(scale, scale)
            paint_tool(painter, self.item, theme, worn=True)
        paint_side(painter, self.item, theme, x, y + (depth / 2 + gap) * scale, scale)


class CalliperWay(QWidget):
    """Three fields that a calliper types into; Enter goes on, and takes the reading at the last."""

    def __init__(self, workspace: Workspace, refused: Callable[[str], object]) -> None:
        super().__init__()
        self._workspace, self._refused = workspace, refused
        self.stations: list[Station] = []
        layout = QVBoxLayout(self)
        layout.addWidget(soft(tr("Along the item's axis, from one end. Leave the thickness empty for a round place.")))
        form = Form()
        self.at = LengthField(tr("Distance"), least_mm=0.0)
        self.width_field = LengthField(tr("Width or diameter"), least_mm=0.1)
        self.thickness = LengthField(tr("Thickness"), least_mm=0.1, optional=True)
        for field in (self.at, self.width_field, self.thickness):
            form.addRow(field.accessibleName(), field)
        layout.addLayout(form)
        self.thickness.returnPressed.connect(self.take)
        row = QHBoxLayout()
        take, back = QPushButton(tr("Take this reading")), QPushButton(tr("Drop the last"))
        take.clicked.connect(self.take)
        back.clicked.connect(self._drop)
        row.addWidget(take)
        row.addWidget(back)
        layout.addLayout(row)
        self.growing = Growing()
        layout.addWidget(self.growing, 1)
        self._readings = soft(tr("No reading yet"))
        layout.addWidget(self._readings)
        demo = QPushButton(tr("Let the demo calliper type"))
        demo.setToolTip(tr("A simulated calliper types the readings of a slim driver, as one on a USB cable would"))
        demo.clicked.connect(lambda: self.type_from(SimulatedCalliper(_DEMO_LENGTHS)))
        layout.addWidget(demo)

    def take(self) -> None:
        """Take what stands in the three fields as a reading and wait for the next distance."""
        unit = self._workspace.unit
        try:
            for field in (self.at, self.width_field, self.thickness):
                field.set_unit(unit)
            at, width = self.at.value(), self.width_field.value()
            assert at is not None
            assert width is not None
            station = Station(at_mm=at, width_mm=width, thickness_mm=self.thickness.value())
            grown = [*self.stations, station]
            item = station_item("item-1", tr("new item"), grown) if len({one.at_mm for one in grown}) > 1 else None
        except UnusableInput as error:
            self._refused(error.sentence())
            wanting = next((one for one in (self.at, self.width_field, self.thickness) if one.is_wanting), self.at)
            wanting.setFocus()
            wanting.selectAll()
            return
        self._refused("")
        self.stations = grown
        self._show(item)
        for field in (self.at, self.width_field, self.thickness):
            field.clear()
        self.at.setFocus()

    def type_from(self, calliper: Calliper) -> None:
        """Let a calliper type its readings into whatever field has the focus, each with an Enter."""
        self.at.setFocus()
        while True:
            try:
                reading = calliper.read_mm()
            except StopIteration:
                break
            field = QApplication.focusWidget() if self.isAncestorOf(QApplication.focusWidget() or self) else self.at
            if field is self.thickness:  # a round place: its Enter takes the reading
                self.take()
                field = self.at
            if isinstance(field, QLineEdit):
                field.setText(f"{max(0.0, reading):.2f}")
                field.setModified(True)
            (self.width_field if field is self.at else self.thickness).setFocus()
        if self.width_field.text():
            self.take()

    def clear(self) -> None:
        """Begin another thing."""
        self.stations = []
        self._show(None)

    def _drop(self) -> None:
        if self.stations:
            self.stations.pop()
            several = len({one.at_mm for one in self.stations}) > 1
            self._show(station_item("item-1", tr("new item"), self.stations) if several else None)

    def _show(self, item: Item | None) -> None:
        self.growing.show_item(item)
        length = self._workspace.length
        texts = [
            f"{length(one.at_mm)}: "
            + (
                f"⌀ {length(one.width_mm)}"
                if one.thickness_mm is None
                else f"{length(one.width_mm)} × {length(one.thickness_mm)}"
            )
            for one in self.stations
        ]
        shown = texts if len(texts) <= 4 else ["…", *texts[-3:]]
        self._readings.setText("\n".join(shown) or tr("No reading yet"))
