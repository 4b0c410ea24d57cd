"""What can be done to the thing on the retouch bench: its figures, and a button for every mend between two marks."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QLabel,
    QListWidget,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from cozy_burrow.app.desk.bench_session import RetouchSession
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import Form, LengthField, NextOnEnter, clear_grid, head, panel, soft
from cozy_burrow.core.capture.retouch import draft as drafts
from cozy_burrow.core.capture.retouch import shaping
from cozy_burrow.core.capture.retouch.draft import Draft
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.kit.shapes import renamed
from cozy_burrow.core.model.records import Outline, Section
from cozy_burrow.core.tongue import tr

_BODIES: tuple[tuple[Section, str], ...] = (("flat", tr("upright walls")), ("round", tr("round, lying")))


class RetouchTools(QWidget):
    """Beside the picture: the things on it, the figures of the chosen one, the mends."""

    send_wanted = Signal()
    side_wanted = Signal()
    close_wanted = Signal()

    def __init__(self, session: RetouchSession, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        panel(self)
        self._session, self._workspace = session, workspace
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 6, 0)
        column.addLayout(self._things())
        column.addLayout(self._figures())
        column.addLayout(self._mends())
        column.addStretch(1)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setWidget(page)
        outer = QVBoxLayout(self)
        outer.addWidget(area, 1)
        outer.addLayout(self._ends())
        session.changed.connect(self.follow)
        session.marks_moved.connect(self._follow_marks)
        self.follow()

    # Building

    def _things(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.addWidget(head(tr("On the bench")))
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Items found in the picture"))
        self.list.currentRowChanged.connect(self._session.choose)
        self.list.setFixedHeight(self.fontMetrics().height() * 6)
        column.addWidget(self.list)
        return column

    def _ends(self) -> QGridLayout:
        grid = QGridLayout()
        self.send = QPushButton(tr("Send all to the kit"))
        self.send.setObjectName("main")
        self.send.clicked.connect(self.send_wanted)
        grid.addWidget(self.send, 0, 0, 1, 2)
        drop, close = QPushButton(tr("Leave this out")), QPushButton(tr("Close"))
        drop.clicked.connect(
            lambda: self._session.do(tr("Leave an item out"), lambda table: drafts.without(table, table.chosen))
        )
        close.setToolTip(tr("Take the picture off the bench; what was not sent is gone"))
        close.clicked.connect(self.close_wanted)
        grid.addWidget(drop, 1, 0)
        grid.addWidget(close, 1, 1)
        return grid

    def _figures(self) -> QVBoxLayout:
        column = QVBoxLayout()
        form = Form()
        self.name = NextOnEnter()
        self.name.setAccessibleName(tr("Name of the item"))
        self.name.editingFinished.connect(self._rename)
        form.addRow(tr("Name"), self.name)
        self.thickness = LengthField(tr("Thickness by calliper"), least_mm=0.1)
        self.thickness.setToolTip(
            tr("The height of the edge that the camera saw follows from it; parallax is taken out anew.")
        )
        self.thickness.entered.connect(self._set_thickness)
        form.addRow(tr("Thickness"), self.thickness)
        self.body = QComboBox()
        self.body.setAccessibleName(tr("Body below the edge"))
        self.body.setToolTip(tr("Upright: the edge is the top. Round: the widest line is half way up."))
        self.body.addItems([text for _, text in _BODIES])
        self.body.activated.connect(self._set_body)
        form.addRow(tr("Body"), self.body)
        self.notes = NextOnEnter()
        self.notes.setAccessibleName(tr("Notes on the item"))
        self.notes.setPlaceholderText(tr("spring: strapped shut"))
        self.notes.setToolTip(
            tr("What to mind: a spring to strap shut for tracing, a cable, a sharp edge, goes away hot")
        )
        self.notes.editingFinished.connect(self._note)
        form.addRow(tr("Notes"), self.notes)
        column.addLayout(form)
        self.verdict = QLabel()
        self.verdict.setObjectName("verdict")
        self.verdict.setWordWrap(True)
        self.verdict.setToolTip(
            tr(
                "± is one standard deviation: noise of the edge, how well the marks fit the page, and "
                "how surely the height of the lens is known."
            )
        )
        column.addWidget(self.verdict)
        self._zones = QWidget()
        self._zone_grid = QGridLayout(self._zones)
        self._zone_grid.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self._zones)
        return column

    def _mends(self) -> QVBoxLayout:
        column = QVBoxLayout()
        self.between = soft("")
        column.addWidget(self.between)
        grid = QGridLayout()
        grid.setVerticalSpacing(6)
        mends: tuple[tuple[str, str, Callable[[], object]], ...] = (
            (
                tr("Straighten A–B"),
                tr("The rim between the marks becomes a straight line."),
                self._shape(tr("Straighten"), shaping.straightened),
            ),
            (
                tr("Round A–B"),
                tr("The rim between the marks becomes one arc."),
                self._shape(tr("Round off"), shaping.rounded),
            ),
            (
                tr("Smooth A–B"),
                tr("Waves up to 4 mm long go from the rim between the marks."),
                self._shape(tr("Smooth"), shaping.smoothed),
            ),
            (
                tr("Mirror at A–B"),
                tr("The half left of A to B is taken for both."),
                self._shape(tr("Mirror"), shaping.mirrored_half),
            ),
            (tr("Part at A–B"), tr("Items that touch are parted where the line crosses."), self.part),
            (
                tr("Zones at A–B"),
                tr("A zone on either side of the line, each with its own thickness."),
                self.split_zones,
            ),
            (tr("Fill hole at A"), tr("The hole becomes part of the item."), self._fill),
            (
                tr("Side photo…"),
                tr("A second photo, the item on its side, gives the thickness of each zone."),
                self.side_wanted.emit,
            ),
        )
        self.buttons: dict[str, QPushButton] = {}
        for number, (text, tip, run) in enumerate(mends):
            button = QPushButton(text)
            button.setToolTip(tip)
            button.clicked.connect(lambda _=False, run=run: run())
            grid.addWidget(button, number // 2, number % 2)
            self.buttons[text] = button
        column.addLayout(grid)
        column.addLayout(self._measured_mends())
        return column

    def _measured_mends(self) -> QGridLayout:
        grid = QGridLayout()
        grid.setVerticalSpacing(6)
        self.knob_width, self.knob_thickness = (
            LengthField(tr("Knob width"), least_mm=0.1),
            LengthField(tr("Knob thickness"), least_mm=0.1),
        )
        self.hole_width = LengthField(tr("Width of a hole"), least_mm=0.1)
        self.wider = LengthField(tr("Wider all round by"))
        self.calliper = LengthField(tr("A to B by calliper"), least_mm=0.1)
        rows: tuple[tuple[tuple[LengthField, ...], str, str, Callable[[], object]], ...] = (
            (
                (self.knob_width, self.knob_thickness),
                tr("Add a knob"),
                tr("From A to B, for what the photo did not show: a side knob, a clip. Width, then thickness."),
                self.add_knob,
            ),
            (
                (self.hole_width,),
                tr("Cut a hole"),
                tr("From A to B, this wide: where paper in the shade looked like a part of the item."),
                self._cut,
            ),
            (
                (self.wider,),
                tr("Widen"),
                tr("All round; negative makes it smaller. Allowances belong to the pocket, not here."),
                self._widen,
            ),
            (
                (self.calliper,),
                tr("Check A–B"),
                tr("Compares the outline with the calliper and scales it; undo rejects that."),
                self._check_length,
            ),
        )
        for row, (fields, text, tip, run) in enumerate(rows):
            for column, field in enumerate(fields):
                field.setToolTip(tip)
                grid.addWidget(field, row, column, 1, 3 - len(fields))
            fields[-1].returnPressed.connect(run)
            button = QPushButton(text)
            button.setToolTip(tip)
            button.clicked.connect(lambda _=False, run=run: run())
            grid.addWidget(button, row, 2)
            self.buttons[text] = button
        for field, hint in (
            (self.knob_width, tr("width")),
            (self.knob_thickness, tr("thick")),
            (self.hole_width, tr("hole width")),
            (self.wider, tr("wider by")),
            (self.calliper, tr("A to B by calliper")),
        ):
            field.setPlaceholderText(hint)
        self.compared = soft("")
        grid.addWidget(self.compared, len(rows), 0, 1, 3)
        return grid

    # Following

    def follow(self) -> None:
        """Show the table as it is now."""
        if not self._session.is_open:
            return
        table, draft = self._session.table, self._session.draft
        self.compared.setText("")  # what was compared belonged to the state before
        self.list.blockSignals(True)
        if self.list.count() != len(table.drafts):
            self.list.clear()
            self.list.addItems([""] * len(table.drafts))
        for row, one in enumerate(table.drafts):
            entry = self.list.item(row)
            entry.setText(f"{one.item.name}   {self._size(one)}")
        self.list.setCurrentRow(table.chosen)
        self.list.blockSignals(False)
        if not (self.name.hasFocus() and self.name.isModified()):
            self.name.setText(draft.item.name)
        if not (self.notes.hasFocus() and self.notes.isModified()):
            self.notes.setText(draft.item.notes)
        self.thickness.show_length(draft.thickness_mm, self._workspace.unit)
        self.body.setCurrentIndex(next((n for n, (kind, _) in enumerate(_BODIES) if kind == draft.section), 0))
        edge = self._workspace.length(draft.edge_mm)
        seen = tr("Edge seen {edge} above the mat. ", edge=edge) if draft.seen is not None else ""
        sure = self._workspace.length(draft.item.provenance.uncertainty_mm, digits=2)
        self.verdict.setText(f"{self._size(draft)}, ± {sure}. {seen}")
        self.send.setText(
            tr("Send all {count} to the kit", count=len(table.drafts))
            if len(table.drafts) > 1
            else tr("Send it to the kit")
        )
        self._show_zones(draft)
        for field in (self.knob_width, self.knob_thickness, self.hole_width, self.wider, self.calliper):
            field.set_unit(self._workspace.unit)
        self._follow_marks()

    def _follow_marks(self) -> None:
        active = "AB"[self._session.active_mark]
        self.between.setText(
            tr(
                "Click the rim to set A, then B. Mark {active} is next. N and B walk it, M takes the other.",
                active=active,
            )
        )

    def _size(self, draft: Draft) -> str:
        left, top, right, bottom = polygon_of(draft.item.outline).bounds
        length = self._workspace.length
        return f"{length(right - left)} × {length(bottom - top)}"

    def _show_zones(self, draft: Draft) -> None:
        clear_grid(self._zone_grid)
        if len(draft.item.zones) < 2:
            return
        for row, zone in enumerate(draft.item.zones):
            place = (row // 2, 2 * (row % 2))
            self._zone_grid.addWidget(QLabel(zone.name), *place)
            field = LengthField(tr("Thickness of {name}", name=zone.name), least_mm=0.1)
            field.show_length(zone.thickness_mm, self._workspace.unit)
            field.entered.connect(
                lambda mm, row=row: self._session.do_draft(
                    tr("Set a thickness"), lambda one: drafts.with_zone_thickness(one, row, mm)
                )
            )
            self._zone_grid.addWidget(field, place[0], place[1] + 1)

    # Doing

    def _shape(
        self, label: str, change: Callable[[Outline, tuple[float, float], tuple[float, float]], Outline]
    ) -> Callable[[], object]:
        def run() -> None:
            first, second = self._session.marks
            self._session.do_draft(
                label, lambda draft: drafts.reshaped(draft, change(draft.item.outline, first, second))
            )

        return run

    def straighten(self) -> None:
        """Straighten the rim between the marks."""
        self._shape(tr("Straighten"), shaping.straightened)()

    def part(self) -> None:
        """Part things that touch."""
        first, second = self._session.marks
        self._session.do(tr("Part items"), lambda table: drafts.parted(table, first, second))

    def split_zones(self) -> None:
        """Split the zones along the marks."""
        first, second = self._session.marks
        self._session.do_draft(tr("Split zones"), lambda draft: drafts.with_zones(draft, first, second))

    def _fill(self) -> None:
        at = self._session.marks[0]
        self._session.do_draft(
            tr("Fill a hole"), lambda draft: drafts.reshaped(draft, shaping.without_hole(draft.item.outline, at))
        )

    def add_knob(self) -> None:
        """Add a knob between the marks."""
        first, second = self._session.marks

        def change(draft: Draft) -> Draft:
            width, thickness = (self._needed(field) for field in (self.knob_width, self.knob_thickness))
            return drafts.with_knob(draft, first, second, width_mm=width, thickness_mm=thickness)

        self._session.do_draft(tr("Add a knob"), change)

    def _cut(self) -> None:
        first, second = self._session.marks
        self._session.do_draft(
            tr("Cut a hole"),
            lambda draft: drafts.reshaped(
                draft,
                shaping.with_hole(draft.item.outline, first, second, width_mm=self._needed(self.hole_width)),
            ),
        )

    def _widen(self) -> None:
        self._session.do_draft(
            tr("Widen"),
            lambda draft: drafts.reshaped(draft, shaping.widened(draft.item.outline, self._needed(self.wider))),
        )

    def _check_length(self) -> None:
        first, second = self._session.marks
        try:
            length, factor = drafts.measured(first, second, calliper_mm=self._needed(self.calliper))
        except UnusableInput as error:
            self._session.said.emit(error.sentence())
            return
        made = self._session.do_draft(
            tr("Scale by calliper"), lambda draft: drafts.reshaped(draft, shaping.scaled(draft.item.outline, factor))
        )
        if made:
            off = self._workspace.length(length * factor - length, digits=2)
            self.compared.setText(
                tr(
                    "The calliper says {off} more than the outline ({factor:+.2%}). Undo rejects the scaling.",
                    off=off,
                    factor=factor - 1,
                )
            )

    def _needed(self, field: LengthField) -> float:
        value = field.value()
        if value is None:
            raise UnusableInput(tr("a length is missing"), where=field.accessibleName(), remedy=tr("type it"))
        return value

    def _rename(self) -> None:
        if self._session.is_open and self.name.text() != self._session.draft.item.name:
            text = self.name.text()
            self._session.do_draft(tr("Name it"), lambda draft: replace(draft, item=renamed(draft.item, text)))

    def _note(self) -> None:
        text = " ".join(self.notes.text().split())
        if self._session.is_open and text != self._session.draft.item.notes:
            self._session.do_draft(tr("Note it"), lambda draft: replace(draft, item=replace(draft.item, notes=text)))

    def _set_thickness(self, length_mm: float) -> None:
        capture = self._session.capture
        if capture is not None:
            self._session.do_draft(
                tr("Set the thickness"),
                lambda draft: drafts.with_thickness(draft, capture.trace, thickness_mm=length_mm),
            )

    def _set_body(self, index: int) -> None:
        capture = self._session.capture
        if capture is not None:
            self._session.do_draft(
                tr("Set the body"), lambda draft: drafts.with_thickness(draft, capture.trace, section=_BODIES[index][0])
            )
