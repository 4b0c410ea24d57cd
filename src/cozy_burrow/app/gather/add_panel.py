"""The ways in: calliper stations, plain shapes, drawings, a whole table."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from msgspec.structs import replace
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QLabel, QPushButton, QTabWidget, QVBoxLayout, QWidget

from cozy_burrow.app.fields import Form, LengthField, NextOnEnter, head, panel, soft
from cozy_burrow.app.workspace import Workspace
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.kit.shapes import box_item, outline_item, renamed, round_item
from cozy_burrow.core.kit.stations import Station, station_item
from cozy_burrow.core.model.edits import add_items, free_id
from cozy_burrow.core.model.records import Item
from cozy_burrow.jobs.kit_file import read_kit
from cozy_burrow.jobs.outlines import read_one_outline


class AddPanel(QWidget):
    """Gathers new things into the kit."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        panel(self)
        self._workspace = workspace
        self._stations: list[Station] = []
        layout = QVBoxLayout(self)
        layout.addWidget(head("Gather a thing"))
        form = Form()
        self.name, self.group = NextOnEnter(), NextOnEnter()
        self.name.setPlaceholderText("tuning lever")
        self.group.setPlaceholderText("what it stays with")
        form.addRow("Name", self.name)
        form.addRow("Group", self.group)
        layout.addLayout(form)
        self.tabs = QTabWidget()
        self.tabs.addTab(self._calliper_tab(), "Calliper")
        self.tabs.addTab(self._box_tab(), "Box")
        self.tabs.addTab(self._round_tab(), "Round")
        self.tabs.addTab(self._file_tab(), "Files")
        layout.addWidget(self.tabs, 1)
        self._refused = QLabel()
        self._refused.setObjectName("refused")
        self._refused.setWordWrap(True)
        layout.addWidget(self._refused)

    def _calliper_tab(self) -> QWidget:
        page = QWidget()
        layout = QVBoxLayout(page)
        layout.addWidget(soft("Along the thing's axis, from one end. Leave the thickness empty for a round place."))
        form = Form()
        self.at = LengthField("Distance", least_mm=0.0)
        self.width_field = LengthField("Width or diameter", least_mm=0.1)
        self.thickness = LengthField("Thickness", least_mm=0.1, optional=True)
        for field in (self.at, self.width_field, self.thickness):
            form.addRow(field.accessibleName(), field)
        layout.addLayout(form)
        self.thickness.returnPressed.connect(self.add_station)
        add = QPushButton("Take this reading")
        add.clicked.connect(self.add_station)
        layout.addWidget(add)
        self._readings = QLabel("No reading yet")
        self._readings.setWordWrap(True)
        self._readings.setObjectName("verdict")
        self._readings.setAlignment(Qt.AlignmentFlag.AlignTop)
        layout.addWidget(self._readings, 1)
        back = QPushButton("Drop the last reading")
        back.clicked.connect(self._drop_station)
        layout.addWidget(back)
        self.add_calliper = self._main_button(
            "Add it to the kit", lambda: station_item("item-1", self._named(), self._stations), layout
        )
        return page

    def _box_tab(self) -> QWidget:
        page = QWidget()
        layout = QVBoxLayout(page)
        form = Form()
        self._box = [LengthField(text, least_mm=0.1) for text in ("Length", "Width", "Thickness")]
        for field in self._box:
            form.addRow(field.accessibleName(), field)
        layout.addLayout(form)
        self.add_box = self._main_button("Add the box", self._make_box, layout)
        layout.addStretch(1)
        return page

    def _round_tab(self) -> QWidget:
        page = QWidget()
        layout = QVBoxLayout(page)
        layout.addWidget(soft("A cylinder that lies on its side: a bottle, a tin, a tube."))
        form = Form()
        self._round = [LengthField(text, least_mm=0.1) for text in ("Length", "Diameter")]
        for field in self._round:
            form.addRow(field.accessibleName(), field)
        layout.addLayout(form)
        self._main_button("Add the round thing", self._make_round, layout)
        layout.addStretch(1)
        return page

    def _file_tab(self) -> QWidget:
        page = QWidget()
        layout = QVBoxLayout(page)
        layout.addWidget(soft("An SVG or DXF drawing gives the outline; its thickness is typed here."))
        form = Form()
        self.drawn_thickness = LengthField("Thickness", least_mm=0.1)
        form.addRow("Thickness", self.drawn_thickness)
        layout.addLayout(form)
        drawing = QPushButton("Choose a drawing…")
        drawing.clicked.connect(self._ask_drawing)
        layout.addWidget(drawing)
        layout.addSpacing(12)
        layout.addWidget(soft("A table (CSV) brings a whole kit at once; the help page lists its columns."))
        table = QPushButton("Choose a table…")
        table.clicked.connect(self._ask_table)
        layout.addWidget(table)
        layout.addStretch(1)
        return page

    def _main_button(self, text: str, make: Callable[[], Item], layout: QVBoxLayout) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName("main")
        button.clicked.connect(lambda: self._add(make))
        layout.addWidget(button)
        return button

    def _named(self) -> str:
        return " ".join(self.name.text().split()) or "new thing"

    def _make_box(self) -> Item:
        length, width, thickness = (self._needed(field) for field in self._box)
        return box_item("item-1", self._named(), length_mm=length, width_mm=width, thickness_mm=thickness)

    def _make_round(self) -> Item:
        length, diameter = (self._needed(field) for field in self._round)
        return round_item("item-1", self._named(), length_mm=length, diameter_mm=diameter)

    def _needed(self, field: LengthField) -> float:
        field.set_unit(self._workspace.unit)
        value = field.value()
        assert value is not None
        return value

    def add_station(self) -> None:
        """Take what stands in the three fields as a reading and wait for the next distance."""
        try:
            at, width = self._needed(self.at), self._needed(self.width_field)
            self.thickness.set_unit(self._workspace.unit)
            self._stations.append(Station(at_mm=at, width_mm=width, thickness_mm=self.thickness.value()))
        except UnusableInput as error:
            self._refused.setText(error.sentence())
            return
        self._refused.setText("")
        for field in (self.at, self.width_field, self.thickness):
            field.clear()
        self._show_stations()
        self.at.setFocus()

    def _drop_station(self) -> None:
        if self._stations:
            self._stations.pop()
            self._show_stations()

    def _show_stations(self) -> None:
        length = self._workspace.length
        lines = [
            f"{length(one.at_mm)}: "
            + (
                f"⌀ {length(one.width_mm)}"
                if one.thickness_mm is None
                else f"{length(one.width_mm)} wide, {length(one.thickness_mm)} thick"
            )
            for one in self._stations
        ]
        self._readings.setText("\n".join(lines) or "No reading yet")

    def _add(self, make: Callable[[], Item]) -> None:
        try:
            self.take_in([make()])
        except UnusableInput as error:
            self._refused.setText(error.sentence())
            return
        if self._stations:
            self._stations = []
            self._show_stations()
        for field in (*self._box, *self._round, self.name):
            field.clear()
        self.name.setFocus()

    def take_in(self, items: list[Item]) -> None:
        """Put items into the kit as one step of undo, the last of them chosen."""
        self._refused.setText("")
        group = " ".join(self.group.text().split())
        if group:
            items = [item if item.group else replace(item, group=group) for item in items]
        project = add_items(self._workspace.project, items)
        text = f"‘{items[0].name}’" if len(items) == 1 else f"{len(items)} things"
        self._workspace.do(f"Gather {text}", project)
        self._workspace.choose_item(self._workspace.project.items[-1].id)

    def _ask_drawing(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, "Choose a drawing", "", "Drawings (*.svg *.dxf)")
        if path:
            self._add(lambda: self.from_drawing(Path(path)))

    def from_drawing(self, path: Path) -> Item:
        """Return the item of a drawing with the typed thickness. Raises UnusableInput."""
        outline, way = read_one_outline(path)
        name = " ".join(self.name.text().split()) or path.stem
        thickness = self._needed(self.drawn_thickness)
        made = outline_item(free_id("item", ()), name, outline, thickness_mm=thickness, way=way, source=path.name)
        return renamed(made, name)

    def _ask_table(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, "Choose a table", "", "Tables (*.csv)")
        if path:
            try:
                self.take_in(list(read_kit(Path(path))))
            except UnusableInput as error:
                self._refused.setText(error.sentence())
