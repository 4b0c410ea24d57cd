"""Try the fit: one item after the other is laid into its pocket; what does not fit is mended, and the plan with it."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import LengthField, soft
from cozy_burrow.core.bench.remedies import FAULTS, GLUED, Fault, lies_on_riser, mended_fit, usual_mm
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.names import SIDE_NAMES, placement_name
from cozy_burrow.core.model.vessels import SIDES, Side
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.bench_words import FAULT_NAMES, remedy_text

_TALL = 56


class FitTry(QWidget):
    """Asks how an item fits; `told` says the remedy, `glued` at what, `done` that all were tried."""

    told = Signal(str)
    glued = Signal(str)
    done = Signal()

    def __init__(
        self, workspace: Workspace, insert_id: str, keys: tuple[str, ...], parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self._workspace, self._insert_id, self._keys, self.at = workspace, insert_id, keys, 0
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 0, 12, 0)
        row = QHBoxLayout()
        column.addLayout(row)
        self.good_button = self._button(row, tr("Good, next"), self.good)
        self.good_button.setObjectName("main")
        self.buttons = {fault: self._button(row, FAULT_NAMES[fault], partial(self.mend, fault)) for fault in FAULTS}
        fields = QHBoxLayout()
        column.addLayout(fields)
        fields.addWidget(soft(tr("Where it is too tight or too loose:")))
        self.side = QComboBox()
        self.side.setAccessibleName(tr("Where it is too tight or too loose"))
        self.side.addItem(tr("all round"), None)
        for side in SIDES:
            self.side.addItem(SIDE_NAMES[side], side)
        fields.addWidget(self.side)
        fields.addWidget(soft(tr("By how much (empty: as usual):")))
        self.by = LengthField(tr("By how much; for a wrong place: to the right"), optional=True)
        self.dy = LengthField(tr("For a wrong place: to the front"), optional=True)
        for field, name in ((self.by, tr("by, or to the right")), (self.dy, tr("to the front"))):
            field.set_unit(workspace.unit)
            fields.addWidget(QLabel(name))
            fields.addWidget(field)
        fields.addStretch(1)

    def _button(self, row: QHBoxLayout, text: str, do: Callable[[], object]) -> QPushButton:
        button = QPushButton(text)
        button.setMinimumHeight(_TALL)
        button.setProperty("far", True)
        button.setAutoDefault(False)
        button.clicked.connect(lambda _: do())
        row.addWidget(button, 1)
        return button

    @property
    def key(self) -> str | None:
        """What is tried now; None once all were."""
        return self._keys[self.at] if self.at < len(self._keys) else None

    @property
    def name(self) -> str:
        """What it is called."""
        return placement_name(self._workspace.project, self.key) if self.key is not None else ""

    def good(self) -> None:
        """It fits: try the next."""
        self.at += 1
        for field in (self.by, self.dy):
            field.clear()
        self.side.setCurrentIndex(0)
        if self.key is None:
            self.done.emit()
        else:
            self.told.emit("")

    def mend(self, fault: Fault) -> None:
        """Take the remedy into the plan, a step of undo, and say it; the same item is tried again."""
        key, workspace = self.key, self._workspace
        if key is None:
            return
        try:
            by, dy = self.by.value(), self.dy.value() or 0.0
            if fault == "place" and not (by or dy):
                raise UnusableInput(
                    tr("the right place is missing"), remedy=tr("type how far to the right and to the front")
                )
            side: Side | None = self.side.currentData() if fault in {"tight", "loose"} else None
            amount = usual_mm(workspace.project, self._insert_id, key, fault, side) if by is None else by
            on_riser = lies_on_riser(workspace.project, self._insert_id, key)
            after = mended_fit(workspace.project, self._insert_id, key, fault, by_mm=amount, dy_mm=dy, side=side)
        except UnusableInput as error:
            self.told.emit(error.sentence())
            return
        workspace.do(tr("{fault}: ‘{name}’", fault=FAULT_NAMES[fault], name=self.name), after)
        if fault in GLUED:
            self.glued.emit(self.name)
        self.told.emit(remedy_text(fault, amount, workspace.unit, on_riser=on_riser, side=side))
