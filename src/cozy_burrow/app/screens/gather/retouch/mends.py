"""Every mend of an outline between the two marks, each with its button; those that need a figure have its field."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QPushButton, QVBoxLayout, QWidget

from cozy_burrow.app.desk.bench_session import RetouchSession
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import LengthField, soft
from cozy_burrow.core.capture.retouch import draft as drafts
from cozy_burrow.core.capture.retouch import shaping
from cozy_burrow.core.capture.retouch.draft import Draft
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Outline
from cozy_burrow.core.tongue import tr


class Mends(QWidget):
    """Mends the thing on the bench; `buttons` by the name of what they do."""

    side_wanted = Signal()

    def __init__(self, session: RetouchSession, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._workspace = session, workspace
        self.buttons: dict[str, QPushButton] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.between = soft("")
        column.addWidget(self.between)
        column.addLayout(self._bare())
        column.addLayout(self._measured())
        session.marks_moved.connect(self._follow_marks)

    def _bare(self) -> QGridLayout:
        grid = QGridLayout()
        grid.setVerticalSpacing(6)
        mends: tuple[tuple[str, str, str, Callable[[], object]], ...] = (
            (
                "straighten",
                tr("Straighten A–B"),
                tr("The rim between the marks becomes a straight line."),
                self.straighten,
            ),
            (
                "round",
                tr("Round A–B"),
                tr("The rim between the marks becomes one arc."),
                lambda: self._shape(tr("Round off"), shaping.rounded),
            ),
            (
                "smooth",
                tr("Smooth A–B"),
                tr("Waves up to 4 mm long go from the rim between the marks."),
                lambda: self._shape(tr("Smooth"), shaping.smoothed),
            ),
            (
                "mirror",
                tr("Mirror at A–B"),
                tr("The half left of A to B is taken for both."),
                lambda: self._shape(tr("Mirror"), shaping.mirrored_half),
            ),
            (
                "colours",
                tr("A–B by colour"),
                tr("Sets both marks where its colours meet: two items that touch, or where a handle ends."),
                self._session.mark_colours,
            ),
            ("part", tr("Part at A–B"), tr("Items that touch are parted where the line crosses."), self.part),
            (
                "zones",
                tr("Zones at A–B"),
                tr("A zone on either side of the line, each with its own thickness."),
                self.split_zones,
            ),
            ("fill", tr("Fill hole at A"), tr("The hole becomes part of the item."), self._fill),
            (
                "side",
                tr("Side photo…"),
                tr("A second photo, the item on its side, gives the thickness of each zone."),
                self.side_wanted.emit,
            ),
        )
        for number, (name, text, tip, run) in enumerate(mends):
            grid.addWidget(self._button(name, text, tip, run), number // 2, number % 2)
        return grid

    def _measured(self) -> QGridLayout:
        grid = QGridLayout()
        grid.setVerticalSpacing(6)
        self.knob_width = _field(tr("Knob width"), tr("width"))
        self.knob_thickness = _field(tr("Knob thickness"), tr("thick"))
        self.hole_width = _field(tr("Width of a hole"), tr("hole width"))
        self.wider = LengthField(tr("Wider all round by"))
        self.wider.setPlaceholderText(tr("wider by"))
        self.calliper = _field(tr("A to B by calliper"), tr("A to B by calliper"))
        self._fields = (self.knob_width, self.knob_thickness, self.hole_width, self.wider, self.calliper)
        rows: tuple[tuple[str, tuple[LengthField, ...], str, str, Callable[[], object]], ...] = (
            (
                "knob",
                (self.knob_width, self.knob_thickness),
                tr("Add a knob"),
                tr("From A to B, for what the photo did not show: a side knob, a clip. Width, then thickness."),
                self.add_knob,
            ),
            (
                "hole",
                (self.hole_width,),
                tr("Cut a hole"),
                tr("From A to B, this wide: where paper in the shade looked like a part of the item."),
                self._cut,
            ),
            (
                "widen",
                (self.wider,),
                tr("Widen"),
                tr("All round; negative makes it smaller. Allowances belong to the pocket, not here."),
                self._widen,
            ),
            (
                "check",
                (self.calliper,),
                tr("Check A–B"),
                tr("Compares the outline with the calliper and scales it; undo rejects that."),
                self._check_length,
            ),
        )
        for row, (name, fields, text, tip, run) in enumerate(rows):
            for column, field in enumerate(fields):
                field.setToolTip(tip)
                grid.addWidget(field, row, column, 1, 3 - len(fields))
            fields[-1].returnPressed.connect(run)
            grid.addWidget(self._button(name, text, tip, run), row, 2)
        self.compared = soft("")
        grid.addWidget(self.compared, len(rows), 0, 1, 3)
        return grid

    def _button(self, name: str, text: str, tip: str, run: Callable[[], object]) -> QPushButton:
        button = self.buttons[name] = QPushButton(text)
        button.setToolTip(tip)
        button.clicked.connect(lambda: run())
        return button

    def follow(self) -> None:
        """Show the bench as it is now."""
        self.compared.setText("")  # what was compared belonged to the state before
        for field in self._fields:
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

    def _shape(
        self, label: str, change: Callable[[Outline, tuple[float, float], tuple[float, float]], Outline]
    ) -> None:
        first, second = self._session.marks
        self._session.do_draft(label, lambda draft: drafts.reshaped(draft, change(draft.item.outline, first, second)))

    def straighten(self) -> None:
        """Straighten the rim between the marks."""
        self._shape(tr("Straighten"), shaping.straightened)

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
        made = self._session.do_draft(tr("Scale by calliper"), lambda draft: drafts.scaled(draft, factor))
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


def _field(name: str, hint: str) -> LengthField:
    field = LengthField(name, least_mm=0.1)
    field.setPlaceholderText(hint)
    return field
