"""Rules: the foam that must stay between pockets, to the edge and as floor; the allowance; when two people lift."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace
from PySide6.QtWidgets import QCheckBox, QComboBox, QSpinBox, QWidget

from cozy_burrow.app.fields import Form, LengthField, head, soft
from cozy_burrow.app.measure.page import Page, narrow
from cozy_burrow.app.workspace import Workspace
from cozy_burrow.core.depth.wall_rule import wanted_wall_mm
from cozy_burrow.core.foam.layers import floor_of, layers_of
from cozy_burrow.core.model.ranges import range_of
from cozy_burrow.core.model.records import Rules
from cozy_burrow.jobs.cut_words import MARKING_NAMES


class RulesPage(Page):
    """What must stay."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        self.column.addWidget(head("What must stay"))
        form = Form()
        self._school = QComboBox()
        self._school.setAccessibleName("Walls")
        narrow(self._school)
        for text, school in (
            ("by depth, compact", "compact"),
            ("by depth, standard", "standard"),
            ("by depth, for travel", "travel"),
            ("my own figure", ""),
        ):
            self._school.addItem(text, school)
        self._school.activated.connect(self._set_school)
        form.addRow("Walls", self._school)

        def rules() -> Rules:
            return self._workspace.project.rules

        least, most = range_of(Rules, "wall_mm")
        self.wall_field = self.length(
            form,
            "Wall",
            lambda: wanted_wall_mm(0.0, rules()),
            lambda mm: self._set_rule("wall", wall_mm=mm),
            least_mm=least,
            most_mm=most,
        )
        self.edge_field = self._rule_length(form, "Edge", "edge_mm")
        self._floor = QSpinBox()
        self._floor.setAccessibleName("Floor in layers")
        self._floor.setRange(0, 99)
        self._floor.valueChanged.connect(lambda count: self._set_rule("floor", floor_layers=count))
        form.addRow("Floor, layers", self._floor)
        least, most = range_of(Rules, "allowance_mm")
        self.allowance = LengthField("Allowance", least_mm=least, most_mm=most, optional=True)
        self.allowance.refused.connect(lambda sentence: self._hear("Allowance", sentence))
        self.allowance.setPlaceholderText("by the thing")
        self.allowance.entered.connect(lambda mm: self._set_rule("allowance", allowance_mm=mm))
        form.addRow("Allowance", self.allowance)
        self._marking = QComboBox()
        self._marking.setAccessibleName("How outlines are marked")
        narrow(self._marking)
        for marking, name in MARKING_NAMES.items():
            self._marking.addItem(name, marking)
        self._marking.activated.connect(lambda _: self._set_rule("marking", marking=self._marking.currentData()))
        form.addRow("Marking", self._marking)
        for label, field in (
            ("Snug by", "snug_mm"),
            ("Tip", "tip_mm"),
            ("Kerf", "kerf_mm"),
            ("Knife bend", "knife_radius_mm"),
            ("Fingertip", "finger_mm"),
        ):
            self._rule_length(form, label, field)
        for label, field, what, unit in (
            ("Lean", "lean_deg", "lean", "°"),
            ("Jolt, weights", "jolt", "jolt", ""),
            ("Two lift above", "two_lift_kg", "lifting limit", " kg"),
        ):
            self._rule_number(form, label, field, what, unit)
        self.column.addLayout(form)
        self.guides = QCheckBox("Templates show what floats")
        self.guides.setToolTip("A thin line of dashes and dots where a part hangs over the foam. It is not cut.")
        self.guides.clicked.connect(lambda on: self._set_rule("guide lines", guides=on))
        self._readers.append(lambda: self.guides.setChecked(self._workspace.project.rules.guides))
        self.column.addWidget(self.guides)
        self._rule_text = soft("")
        self.column.addWidget(self._rule_text)
        self.column.addStretch(1)
        self.follow()

    def _rule_length(self, form: Form, label: str, field: str) -> LengthField:
        """Add one length of the rules, in the range that it declares."""
        least, most = range_of(Rules, field)
        return self.length(
            form,
            label,
            lambda: float(getattr(self._workspace.project.rules, field)),
            lambda length_mm: self._set_rule(label.lower(), **{field: length_mm}),
            least_mm=least,
            most_mm=most,
        )

    def _rule_number(self, form: Form, label: str, field: str, what: str, unit: str) -> None:
        """Add one plain number of the rules, in the range that it declares."""
        least, most = range_of(Rules, field)
        self.number(
            form,
            label,
            lambda: float(getattr(self._workspace.project.rules, field)),
            lambda value: self._set_rule(what, **{field: value}),
            least=least,
            most=most,
            unit=unit,
        )

    def follow(self) -> None:
        """Show the document as it is now."""
        super().follow()
        workspace = self._workspace
        insert, rules, length = workspace.insert, workspace.project.rules, workspace.length
        own = rules.wall_mm is not None
        self._school.setCurrentIndex(self._school.findData("" if own else rules.wall_school))
        layers = layers_of(insert.sheets)
        deepest = layers[-1].bottom_mm
        floor = floor_of(workspace.ground.bay, rules.floor_layers)
        self._floor.blockSignals(True)
        self._floor.setValue(floor)
        self._floor.blockSignals(False)
        self.allowance.show_length(rules.allowance_mm, workspace.unit)
        self._marking.setCurrentIndex(self._marking.findData(rules.marking))
        self._rule_text.setText(
            f"Walls of {length(wanted_wall_mm(0.0, rules))} near the surface"
            + ("" if own else f", {length(wanted_wall_mm(deepest, rules))} at {length(deepest)}")
            + f". The floor keeps {length(deepest - (layers[-floor].top_mm if floor else deepest))}."
            f" Without an allowance, pockets are {length(rules.snug_mm)} smaller all round, boxes on the line."
            " Above the lifting limit two people lift; your local rule counts."
        )

    def _set_rule(self, what: str, **fields: Any) -> None:
        project = self._workspace.project
        self.attempt(f"Set the {what}", lambda: replace(project, rules=replace(project.rules, **fields)))

    def _set_school(self) -> None:
        school = self._school.currentData()
        rules = self._workspace.project.rules
        if school:
            self._set_rule("walls", wall_school=school, wall_mm=None)
        else:
            self._set_rule("walls", wall_mm=wanted_wall_mm(0.0, rules))
