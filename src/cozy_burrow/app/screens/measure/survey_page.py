"""Survey: distances between named corners, what each is off, which to tape next or again, what shape that makes."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QListWidget, QListWidgetItem, QPushButton, QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import MOST_ROOM, Form, LengthField, head, soft, verdict
from cozy_burrow.app.look.fold import Fold
from cozy_burrow.app.look.long_words import row_of
from cozy_burrow.app.screens.measure.page import Page, narrow
from cozy_burrow.core.container.blank import as_outline
from cozy_burrow.core.container.checks import checked_container
from cozy_burrow.core.container.starts import SKETCHES, sketched
from cozy_burrow.core.container.survey import (
    TAPE_MM,
    Surveyed,
    radius_from_chord,
    solve_survey,
    with_corner_after,
    with_taped,
    without_corner,
)
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.edits import change_container, remove_items
from cozy_burrow.core.model.records import Container, Project
from cozy_burrow.core.model.vessels import Corner, Taped
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import format_fine
from cozy_burrow.jobs.survey_words import signed, survey_words


class SurveyPage(Page):
    """Sketch, distances and words. `pair_shown`: the two corners between which the next distance goes."""

    pair_shown = Signal(object)

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        self.column.addWidget(head(tr("Odd-shaped inside")))
        form = Form()
        self.sketch = QComboBox()
        self.sketch.setAccessibleName(tr("Sketch to start from"))
        self.sketch.addItem(tr("choose…"), "")
        for name in SKETCHES:
            self.sketch.addItem(tr(name), name)
        self.sketch.activated.connect(self._begin)
        form.addRow(tr("Sketch"), self.sketch)
        self.template = QComboBox()
        self.template.setAccessibleName(tr("Card template from the kit"))
        narrow(self.template)
        narrow(self.sketch)
        self.template.activated.connect(self._take_template)
        form.addRow(tr("or a card"), self.template)
        self.column.addLayout(form)
        self._about = soft(
            tr(
                "Gather the card template like an item (photo, scan, drawing), then choose it here: its "
                "outline is the rim."
            )
        )
        self.column.addWidget(self._about)
        self._tape = QWidget()
        row = QHBoxLayout(self._tape)
        row.setContentsMargins(0, 0, 0, 0)
        self.first, self.second = QComboBox(), QComboBox()
        self.length_field = LengthField(tr("Taped distance"), least_mm=1.0)
        self.length_field.setPlaceholderText(tr("taped"))
        for name, widget in ((tr("From corner"), self.first), (tr("To corner"), self.second)):
            widget.setAccessibleName(name)
            widget.setMinimumContentsLength(1)
            widget.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            widget.activated.connect(self._show_pair)
            row.addWidget(widget)
        row.addWidget(self.length_field, 1)
        self.length_field.entered.connect(self._enter)
        self.length_field.refused.connect(lambda sentence: self._hear(tr("taped distance"), sentence))
        self.column.addWidget(self._tape)
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Taped distances and how far each is off"))
        self.list.setMinimumHeight(150)
        self.column.addWidget(self.list, MOST_ROOM)
        self.forget = QPushButton(tr("Delete the distance"))
        self.forget.clicked.connect(self._forget)
        self.column.addWidget(self.forget)
        self._words = verdict()
        self.column.addWidget(self._words)
        self._corners()
        self.plain = QPushButton(tr("No survey: a plain rectangle again"))
        self.plain.clicked.connect(lambda: self.change_box(tr("plain rim"), corners=(), taped=(), outline=None))
        self.column.addWidget(self.plain)
        self.column.addStretch(1)
        self.follow()

    def _corners(self) -> None:
        self.corners = Fold(tr("Corners"))
        form = Form()
        self.corners.column.addLayout(form)
        self.corner = QComboBox()
        self.corner.setAccessibleName(tr("Corner to round"))
        self.corner.activated.connect(self.follow)
        form.addRow(tr("Corner"), self.corner)
        self.more, self.fewer = QPushButton(tr("Add a corner after")), QPushButton(tr("Remove the corner"))
        self.more.setToolTip(tr("Half way along the wall: for a corner of the outline, or to measure a bow."))
        self.more.clicked.connect(lambda: self._corners_changed(tr("Add a corner"), with_corner_after))
        self.fewer.clicked.connect(lambda: self._corners_changed(tr("Take a corner out"), without_corner))
        form.addRow(self.more)
        form.addRow(self.fewer)
        self.radius_field = self.length(form, tr("Its radius"), self._radius, self._set_radius)
        self.chord_field = LengthField(tr("Chord across it"), least_mm=0.1)
        self.rise_field = LengthField(tr("Height over the chord"), least_mm=0.1)
        for label, field in ((tr("or chord"), self.chord_field), (tr("and height"), self.rise_field)):
            field.entered.connect(self._from_chord)
            form.addRow(label, field)
        self.column.addWidget(self.corners)

    # Showing

    def follow(self) -> None:
        """Show the survey as it is now."""
        super().follow()
        box, unit = self._workspace.container, self._workspace.unit
        surveyed = bool(box.corners)
        if not surveyed:  # undone, say, while a figure was half typed: hidden, it would be taken
            for field in (self.length_field, self.chord_field, self.rise_field):
                field.setText("")
        for widget in (self._tape, self.list, self.forget, self._words, self.corners):
            widget.setVisible(surveyed)
        self._about.setVisible(not surveyed)
        self.plain.setVisible(surveyed or box.outline is not None)
        self._fill_templates()
        if not surveyed:
            return
        names = [one.name for one in box.corners]
        for chooser in (self.first, self.second, self.corner):
            if [chooser.itemText(n) for n in range(chooser.count())] != names:
                chooser.clear()
                chooser.addItems(names)
        self.length_field.set_unit(unit)
        found = solve_survey(box.corners, box.taped)
        chosen = self.list.currentRow()
        self.list.clear()
        for number, one in enumerate(found.residuals):
            self.list.addItem(self._row(found, number))
            self.list.item(number).setToolTip(tr("checked by the others: {redundancy:.0%}", redundancy=one.redundancy))
        self.list.setCurrentRow(min(chosen, self.list.count() - 1))
        self.forget.setEnabled(bool(box.taped))
        self._words.setText(survey_words(box, found, unit))
        self._words.setToolTip(
            tr(
                "Least squares over all distances with a robust loss; a tape read by eye scatters by {tape}.",
                tape=format_fine(TAPE_MM, unit),
            )
        )
        if not self.length_field.hasFocus():
            self.suggest()

    def _row(self, found: Surveyed, number: int) -> QListWidgetItem:
        one, length = found.residuals[number], self._workspace.length
        off = tr("{off} off", off=signed(one.off_mm, self._workspace.unit)) if one.is_checked else tr("unchecked")
        again = (
            tr("   ◆ tape again") if number == found.suspect else tr("   ◇ or this") if number in found.rivals else ""
        )
        text = f"{one.taped.first} – {one.taped.second}   {length(one.taped.length_mm)}   {off}{again}"
        return QListWidgetItem(text)

    def _fill_templates(self) -> None:
        items = self._workspace.project.items
        wanted = [tr("choose…"), *(item.name for item in items)]
        if [self.template.itemText(n) for n in range(self.template.count())] != wanted:
            self.template.clear()
            self.template.addItem(tr("choose…"), "")
            for item in items:
                self.template.addItem(row_of(item.name), item.id)

    def suggest(self) -> None:
        """Turn to the distance that would help most."""
        box = self._workspace.container
        pair = solve_survey(box.corners, box.taped).next_pair
        if pair is None and self.second.count() > 1 and self.first.currentText() == self.second.currentText():
            pair = self.first.itemText(0), self.second.itemText(1)
        if pair is not None:
            self.choose_pair(*pair)

    def choose_pair(self, first: str, second: str) -> None:
        """Turn to a pair of corners."""
        self.first.setCurrentText(first)
        self.second.setCurrentText(second)
        self._show_pair()

    def _show_pair(self) -> None:
        self.pair_shown.emit((self.first.currentText(), self.second.currentText()))

    # Changing

    def _survey(self, label: str, corners: tuple[Corner, ...], taped: tuple[Taped, ...]) -> bool:
        if not corners:
            return False  # it was undone, and with it what a field of it hands on as it is hidden

        def change() -> Project:
            box = with_taped(self._workspace.container, corners, taped)
            return change_container(self._workspace.project, checked_container(box, where="survey"))

        return self.attempt(label, change, place="survey")

    def _begin(self) -> None:
        name = self.sketch.currentData()
        self.sketch.setCurrentIndex(0)
        if name:
            self._survey(tr("Begin a survey"), sketched(name), ())

    def _enter(self, length_mm: float) -> None:
        box = self._workspace.container
        first, second = self.first.currentText(), self.second.currentText()
        if first == second and box.corners:
            self._hear(tr("taped distance"), tr("Taped distance: the two corners are the same; choose two"))
            return
        self._hear(tr("taped distance"), "")
        new = Taped(first=first, second=second, length_mm=length_mm)
        if self._survey(tr("Tape {first} to {second}", first=first, second=second), box.corners, (*box.taped, new)):
            self.length_field.clear()
            self.suggest()
            self.length_field.setFocus(Qt.FocusReason.OtherFocusReason)

    def _forget(self) -> None:
        box, row = self._workspace.container, self.list.currentRow()
        if 0 <= row < len(box.taped):
            self._survey(tr("Forget a distance"), box.corners, (*box.taped[:row], *box.taped[row + 1 :]))

    def _corners_changed(self, label: str, change: Callable[[Container, str], Container]) -> None:
        name = self.corner.currentText()

        def changed() -> Project:
            box = change(self._workspace.container, name)
            return change_container(self._workspace.project, checked_container(box, where="survey"))

        self.attempt(label, changed, place="survey")

    def move_corner(self, name: str, x_mm: float, y_mm: float) -> None:
        """Put a corner of the sketch elsewhere; what is taped holds."""
        box = self._workspace.container
        corners = tuple(replace(one, x_mm=x_mm, y_mm=y_mm) if one.name == name else one for one in box.corners)
        self._survey(tr("Move corner {name}", name=name), corners, box.taped)

    def _radius(self) -> float | None:
        name = self.corner.currentText()
        return next((one.radius_mm for one in self._workspace.container.corners if one.name == name), None)

    def _set_radius(self, radius_mm: float) -> None:
        box, name = self._workspace.container, self.corner.currentText()
        corners = tuple(replace(one, radius_mm=radius_mm) if one.name == name else one for one in box.corners)
        self._survey(tr("Round corner {name}", name=name), corners, box.taped)

    def _from_chord(self) -> None:
        try:
            chord, rise = self.chord_field.value(), self.rise_field.value()
        except UnusableInput:
            return  # the other one is still empty
        if chord and rise:
            self._set_radius(round(radius_from_chord(chord, rise), 2))

    def _take_template(self) -> None:
        key = self.template.currentData()
        self.template.setCurrentIndex(0)
        item = next((one for one in self._workspace.project.items if one.id == key), None)
        if item is None:
            return

        def change() -> Project:
            rim = as_outline(polygon_of(replace(item.outline, holes=())))
            left, top, right, bottom = polygon_of(rim).bounds
            box = replace(
                self._workspace.container,
                outline=rim,
                corners=(),
                taped=(),
                width_mm=right - left,
                depth_mm=bottom - top,
            )
            project = remove_items(self._workspace.project, [item.id])
            return change_container(project, checked_container(box, where=tr("card template")))

        self.attempt(tr("Take the rim from ‘{name}’", name=item.name), change)
