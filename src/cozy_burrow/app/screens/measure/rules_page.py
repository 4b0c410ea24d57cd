"""Rules: what must stay, how pockets fit, how is cut, the hand, the road; made from what the fields declare."""

from __future__ import annotations

from functools import partial
from typing import Any

from msgspec.structs import replace
from PySide6.QtWidgets import QCheckBox, QComboBox, QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.count_box import CountBox
from cozy_burrow.app.look.fields import Form, LengthField, soft
from cozy_burrow.app.look.fold import Fold
from cozy_burrow.app.screens.measure.page import Page, narrow
from cozy_burrow.core.depth.wall_rule import wanted_wall_mm
from cozy_burrow.core.foam.layers import floor_of, layers_of
from cozy_burrow.core.model.records import SEATS, Rules
from cozy_burrow.core.model.told import Field, fields_of
from cozy_burrow.core.tongue import tr, within
from cozy_burrow.jobs.cut_words import MARKING_NAMES
from cozy_burrow.jobs.wording import SEAT_NAMES

GROUPS = {
    "stays": tr("What must stay"),
    "fit": tr("How pockets fit"),
    "cut": tr("Marking and cutting"),
    "hand": tr("The hand"),
    "road": tr("On the road"),
}


_OPEN = ("stays", "fit")  # what most jobs ask for; the others open as soon as somebody sets something


class RulesPage(Page):
    """All rules by group; a new one is declared beside its default, and has its field here."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        own = {"wall_mm": self._walls, "floor_layers": self._floors, "allowance_mm": self._allowances}
        self.folds: dict[str, Fold] = {}
        for group, title in GROUPS.items():
            fold = self.folds[group] = Fold(title)
            form = Form()
            fold.column.addLayout(form)
            self.column.addWidget(fold)
            if group in _OPEN:
                fold.button.setChecked(True)
            self._readers.append(partial(self._open_where_set, group))
            if group == "fit":
                self._seats(form)
            if group == "cut":
                self._markings(form)
            for field in fields_of(Rules):
                if field.group == group:
                    own.get(field.name, self._plain)(form, field)
        self._rule_text = soft("")
        self.folds["stays"].column.addWidget(self._rule_text)
        lifting = soft(tr("Above the limit two people lift; your local rule counts."))
        self.folds["road"].column.addWidget(lifting)
        self.column.addStretch(1)
        self.follow()

    def _open_where_set(self, group: str) -> None:
        """Open a group in which something is set otherwise than the program has it; closed, it says how much is."""
        own = type(self._rules)()
        names = [field.name for field in fields_of(Rules) if field.group == group]
        changed = sum(getattr(self._rules, name) != getattr(own, name) for name in names)
        self.folds[group].follow(changed > 0)
        self.folds[group].tell(tr("{count} set", count=changed) if changed else "")

    @property
    def _rules(self) -> Rules:
        return self._workspace.project.rules

    # Fields

    def _plain(self, form: Form, field: Field) -> None:
        """Add a field by its kind and unit."""
        what = within(field.label)
        if field.kind is bool:
            box = QCheckBox(field.label)
            box.setToolTip(_sentence(field))
            box.clicked.connect(lambda on: self._set_rule(what, **{field.name: on}))
            self._readers.append(lambda: box.setChecked(getattr(self._rules, field.name)))
            form.addRow(box)
            return
        assert field.least is not None and field.most is not None
        if field.unit == "mm":
            shown: QWidget = self.length(
                form,
                field.label,
                lambda: float(getattr(self._rules, field.name)),
                lambda length_mm: self._set_rule(what, **{field.name: length_mm}),
                least_mm=field.least,
                most_mm=field.most,
            )
        else:
            shown = self.number(
                form,
                field.label,
                lambda: float(getattr(self._rules, field.name)),
                lambda value: self._set_rule(what, **{field.name: value}),
                least=field.least,
                most=field.most,
                unit=field.unit if field.unit in {"", "°"} else f" {field.unit}",
            )
        shown.setToolTip(_sentence(field))

    def _walls(self, form: Form, field: Field) -> None:
        """Add the schools of walls, and the fitter's own figure."""
        assert field.least is not None and field.most is not None
        self._school = QComboBox()
        self._school.setAccessibleName(tr("Walls"))
        narrow(self._school)
        for text, school in (
            (tr("by depth, compact"), "compact"),
            (tr("by depth, standard"), "standard"),
            (tr("by depth, for travel"), "travel"),
            (tr("my own figure"), ""),
        ):
            self._school.addItem(text, school)
        self._school.activated.connect(self._set_school)
        form.addRow(tr("Walls"), self._school)
        self.wall_field = self.length(
            form,
            field.label,
            lambda: wanted_wall_mm(0.0, self._rules),
            lambda mm: self._set_rule(tr("wall"), wall_mm=mm),
            least_mm=field.least,
            most_mm=field.most,
        )

    def _floors(self, form: Form, field: Field) -> None:
        """Add the layers of the floor: what is shown is the program's own rule until somebody sets it."""
        self._floor = CountBox()
        self._floor.setAccessibleName(tr("Floor in layers"))
        self._floor.setRange(0, 99)
        self._floor.valueChanged.connect(lambda count: self._set_rule(tr("floor"), floor_layers=count))
        form.addRow(field.label, self._floor)

    def _allowances(self, form: Form, field: Field) -> None:
        """Add the allowance, which may be empty: then every item has its own."""
        assert field.least is not None and field.most is not None
        self.allowance = LengthField(field.label, least_mm=field.least, most_mm=field.most, optional=True)
        self.allowance.refused.connect(lambda sentence: self._hear(field.label, sentence))
        self.allowance.setPlaceholderText(tr("by the item"))
        self.allowance.entered.connect(lambda mm: self._set_rule(tr("allowance"), allowance_mm=mm))
        form.addRow(field.label, self.allowance)
        self._readers.append(
            lambda: self.allowance.setToolTip(
                _sentence(field)
                + " "
                + tr(
                    "Without one, pockets are {snug} smaller all round, boxes on the line.",
                    snug=self._workspace.length(self._rules.snug_mm),
                )
            )
        )

    def _seats(self, form: Form) -> None:
        """Add the seat of everything that names none."""
        named = tuple((SEAT_NAMES[seat], seat) for seat in SEATS)
        self.choice(
            form,
            tr("Seat"),
            ((SEAT_NAMES["judged"], None), *named),
            lambda: self._rules.seat,
            lambda seat: self._set_rule(tr("seat"), seat=seat),
        )

    def _markings(self, form: Form) -> None:
        self._marking = QComboBox()
        self._marking.setAccessibleName(tr("How outlines are marked"))
        narrow(self._marking)
        for marking, name in MARKING_NAMES.items():
            self._marking.addItem(name, marking)
        self._marking.activated.connect(lambda _: self._set_rule(tr("marking"), marking=self._marking.currentData()))
        form.addRow(tr("Marking"), self._marking)

    # Reading and changing

    def follow(self) -> None:
        """Show the document as it is now."""
        super().follow()
        workspace = self._workspace
        insert, rules, length = workspace.insert, self._rules, workspace.length
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
            tr("Walls of {wanted_wall} near the surface", wanted_wall=length(wanted_wall_mm(0.0, rules)))
            + (
                ""
                if own
                else tr(
                    ", {wanted_wall} at {deepest}",
                    wanted_wall=length(wanted_wall_mm(deepest, rules)),
                    deepest=length(deepest),
                )
            )
            + tr(
                ". The floor keeps {deepest}.",
                deepest=length(deepest - (layers[-floor].top_mm if floor else deepest)),
            )
        )

    def _set_rule(self, what: str, **fields: Any) -> None:
        project = self._workspace.project
        self.attempt(tr("Set the {what}", what=what), lambda: replace(project, rules=replace(project.rules, **fields)))

    def _set_school(self) -> None:
        school = self._school.currentData()
        if school:
            self._set_rule(tr("walls"), wall_school=school, wall_mm=None)
        else:
            self._set_rule(tr("walls"), wall_mm=wanted_wall_mm(0.0, self._rules))


def _sentence(field: Field) -> str:
    return f"{field.label}: {field.about}."
