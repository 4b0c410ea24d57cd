"""Measure: the inside of the container, the sheets that fill it, the rules of the walls."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from msgspec.structs import replace
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QGridLayout, QLabel, QPushButton, QScrollArea, QSpinBox, QVBoxLayout, QWidget

from cozy_burrow.app.fields import Form, LengthField, NextOnEnter, clear_grid, head, panel, soft
from cozy_burrow.app.following import FollowingPanel
from cozy_burrow.app.workspace import Workspace
from cozy_burrow.core.container.bay import stack_mm
from cozy_burrow.core.container.checks import checked_container
from cozy_burrow.core.depth.wall_rule import wanted_wall_mm
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.foam.layers import checked_sheet, floor_layers, layers_of
from cozy_burrow.core.model.edits import change_container, change_insert
from cozy_burrow.core.model.records import Project, Sheet

MOST_SHEETS = 8


class MeasurePanel(FollowingPanel):
    """Fields that take effect as soon as a figure is whole."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        panel(self)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(4, 4, 4, 4)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        inner = QWidget()
        area.setWidget(inner)
        outer.addWidget(area)
        layout = QVBoxLayout(inner)
        self._container(layout)
        self._stack(layout)
        self._rules(layout)
        layout.addStretch(1)
        self._refused = QLabel()
        self._refused.setObjectName("refused")
        self._refused.setWordWrap(True)
        outer.addWidget(self._refused)
        self.follow()

    def _container(self, layout: QVBoxLayout) -> None:
        layout.addWidget(head("The inside"))
        form = Form()
        self._name = NextOnEnter()
        self._name.setAccessibleName("Name of the insert")
        self._name.editingFinished.connect(self._rename)
        form.addRow("Name", self._name)
        self.width_field = form.add_length("Width", lambda mm: self._set_container("width", width_mm=mm), least_mm=5)
        self.depth_field = form.add_length("Depth", lambda mm: self._set_container("depth", depth_mm=mm), least_mm=5)
        self.height_field = form.add_length(
            "Height", lambda mm: self._set_container("height", height_mm=mm), least_mm=5
        )
        self.corner_field = form.add_length(
            "Corner radius", lambda mm: self._set_container("corner radius", corner_radius_mm=mm), least_mm=0
        )
        self.fit_field = form.add_length("Press fit a side", self._set_press_fit, least_mm=0)
        layout.addLayout(form)
        self._blank_text = soft("")
        self._blank_text.setToolTip("Inside as measured, plus the press fit on both sides: foam that is pressed grips.")
        layout.addWidget(self._blank_text)

    def _stack(self, layout: QVBoxLayout) -> None:
        layout.addWidget(head("The sheets, top first"))
        self._sheets = QWidget()
        self._sheet_grid = QGridLayout(self._sheets)
        self._sheet_grid.setContentsMargins(0, 0, 0, 0)
        self._sheet_rows: list[tuple[LengthField, LengthField, QSpinBox]] = []
        layout.addWidget(self._sheets)
        self._add_sheet = QPushButton("Add a sheet below")
        self._add_sheet.clicked.connect(self._one_more)
        self._drop_sheet = QPushButton("Take the lowest sheet out")
        self._drop_sheet.clicked.connect(self._one_less)
        layout.addWidget(self._add_sheet)
        layout.addWidget(self._drop_sheet)
        self._stack_text = soft("")
        layout.addWidget(self._stack_text)

    def _rules(self, layout: QVBoxLayout) -> None:
        layout.addWidget(head("What must stay"))
        form = Form()
        self._school = QComboBox()
        self._school.setAccessibleName("Walls")
        for text, school in (
            ("by depth, compact", "compact"),
            ("by depth, standard", "standard"),
            ("by depth, for travel", "travel"),
            ("my own figure", ""),
        ):
            self._school.addItem(text, school)
        self._school.activated.connect(self._set_school)
        form.addRow("Walls", self._school)
        self.wall_field = form.add_length("Wall", lambda mm: self._set_rule("wall", wall_mm=mm), least_mm=0)
        self.edge_field = form.add_length("Edge", lambda mm: self._set_rule("edge", edge_mm=mm), least_mm=0)
        self._floor = QSpinBox()
        self._floor.setAccessibleName("Floor in layers")
        self._floor.setRange(0, 99)
        self._floor.valueChanged.connect(lambda count: self._set_rule("floor", floor_layers=count))
        form.addRow("Floor, layers", self._floor)
        self.allowance = LengthField("Allowance", least_mm=-10, optional=True)
        self.allowance.setPlaceholderText("by the thing")
        self.allowance.entered.connect(lambda mm: self._set_rule("allowance", allowance_mm=mm))
        form.addRow("Allowance", self.allowance)
        layout.addLayout(form)
        self._rule_text = soft("")
        layout.addWidget(self._rule_text)

    def follow(self) -> None:
        """Show the document as it is now."""
        workspace = self._workspace
        insert, rules, unit = workspace.insert, workspace.project.rules, workspace.unit
        box = workspace.container
        if not self._name.hasFocus():
            self._name.setText(insert.name)
        for field, value in (
            (self.width_field, box.width_mm),
            (self.depth_field, box.depth_mm),
            (self.height_field, box.height_mm),
            (self.corner_field, box.corner_radius_mm),
            (self.fit_field, insert.press_fit_mm),
            (self.edge_field, rules.edge_mm),
            (self.allowance, rules.allowance_mm),
        ):
            field.show_length(value, unit)
        left, top, right, bottom = workspace.ground.blank.bounds
        length = workspace.length
        self._blank_text.setText(
            f"Cut the blanks {length(right - left)} × {length(bottom - top)}: the inside and the press fit a side."
        )
        if len(self._sheet_rows) != len(insert.sheets):
            self._build_sheets(len(insert.sheets))
        for sheet, (thickness, pitch, contrast) in zip(insert.sheets, self._sheet_rows):
            thickness.show_length(sheet.thickness_mm, unit)
            pitch.show_length(sheet.pitch_mm, unit)
            _quietly(contrast, sheet.contrast_layers)
        high, layers = stack_mm(insert.sheets), layers_of(insert.sheets)
        room = box.height_mm - high
        said = f"{length(room)} of room above" if room >= 0 else f"{length(-room)} too high"
        self._stack_text.setText(f"{len(layers)} layers, {length(high)} of foam, {said}.")
        self._drop_sheet.setEnabled(len(insert.sheets) > 1)
        self._add_sheet.setEnabled(len(insert.sheets) < MOST_SHEETS)
        own = rules.wall_mm is not None
        self._school.setCurrentIndex(self._school.findData("" if own else rules.wall_school))
        deepest = layers[-1].bottom_mm
        self.wall_field.show_length(wanted_wall_mm(0.0, rules), unit)
        floor = floor_layers(insert.sheets, rules.floor_layers, whole_bottom=insert.whole_bottom)
        _quietly(self._floor, floor)
        self._rule_text.setText(
            f"Walls of {length(wanted_wall_mm(0.0, rules))} near the surface"
            + ("" if own else f", {length(wanted_wall_mm(deepest, rules))} at {length(deepest)}")
            + f". The floor keeps {length(deepest - (layers[-floor].top_mm if floor else deepest))}."
            " Without an allowance, pockets are 1 mm smaller all round than the thing, boxes on the line."
        )

    def _build_sheets(self, count: int) -> None:
        grid = self._sheet_grid
        clear_grid(grid)
        self._sheet_rows = []
        for column, text in enumerate(("", "Thickness", "Layer", "Base")):
            grid.addWidget(QLabel(text), 0, column)
        for index in range(count):
            thickness = LengthField(f"Thickness of sheet {index + 1}", least_mm=0.5)
            pitch = LengthField(f"Layer of sheet {index + 1}", least_mm=0.5)
            contrast = QSpinBox()
            contrast.setRange(0, 99)
            contrast.setAccessibleName(f"Lowest layers of another colour in sheet {index + 1}")
            contrast.setToolTip("Lowest layers of another colour: an empty pocket that reaches them shows at a glance.")
            thickness.entered.connect(lambda mm, n=index: self._set_sheet(n, thickness_mm=mm))
            pitch.entered.connect(lambda mm, n=index: self._set_sheet(n, pitch_mm=mm))
            contrast.valueChanged.connect(lambda value, n=index: self._set_sheet(n, contrast_layers=value))
            grid.addWidget(QLabel(str(index + 1)), index + 1, 0)
            for column, widget in enumerate((thickness, pitch, contrast), start=1):
                grid.addWidget(widget, index + 1, column)
            self._sheet_rows.append((thickness, pitch, contrast))

    def _try(self, label: str, change: Callable[[], Project]) -> None:
        try:
            self._workspace.do(label, change())
        except UnusableInput as error:
            self._refused.setText(error.sentence())
            self.follow()
        else:
            self._refused.setText("")

    def _change(self, **fields: Any) -> Project:
        return change_insert(self._workspace.project, self._workspace.insert_id, **fields)

    def _rename(self) -> None:
        name = " ".join(self._name.text().split())
        if name and name != self._workspace.insert.name:
            self._try("Rename the insert", lambda: self._change(name=name))

    def _set_container(self, what: str, **fields: Any) -> None:
        def change() -> Project:
            box = replace(self._workspace.container, **fields)
            return change_container(self._workspace.project, checked_container(box, where=what))

        self._try(f"Set the {what}", change)

    def _set_press_fit(self, press_fit_mm: float) -> None:
        def change() -> Project:
            if press_fit_mm > 20:
                raise UnusableInput(
                    f"{press_fit_mm:g} mm of press fit", remedy="1 to 3 mm a side are usual, 20 the most"
                )
            return self._change(press_fit_mm=press_fit_mm)

        self._try("Set the press fit", change)

    def _set_sheet(self, index: int, **fields: Any) -> None:
        def change() -> Project:
            sheets = list(self._workspace.insert.sheets)
            sheet = checked_sheet(replace(sheets[index], **fields), where=f"sheet {index + 1}")
            sheets[index] = replace(sheet, name=f"{sheet.thickness_mm:g}/{sheet.pitch_mm:g}")
            return self._change(sheets=tuple(sheets))

        self._try(f"Change sheet {index + 1}", change)

    def _one_more(self) -> None:
        sheets = self._workspace.insert.sheets
        self._try("Add a sheet", lambda: self._change(sheets=(*sheets, Sheet(name="20/10", thickness_mm=20.0))))

    def _one_less(self) -> None:
        self._try("Take a sheet out", lambda: self._change(sheets=self._workspace.insert.sheets[:-1]))

    def _set_rule(self, what: str, **fields: Any) -> None:
        project = self._workspace.project
        self._try(f"Set the {what}", lambda: replace(project, rules=replace(project.rules, **fields)))

    def _set_school(self) -> None:
        school = self._school.currentData()
        rules = self._workspace.project.rules
        if school:
            self._set_rule("walls", wall_school=school, wall_mm=None)
        else:
            self._set_rule("walls", wall_mm=wanted_wall_mm(0.0, rules))


def _quietly(box: QSpinBox, value: int) -> None:
    box.blockSignals(True)
    box.setValue(value)
    box.blockSignals(False)
