"""Foam: the sheets of the insert, and every stack that fits its height, worked out beside the interface."""

from __future__ import annotations

from functools import partial
from typing import Any

from msgspec.structs import replace
from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QComboBox, QGridLayout, QHBoxLayout, QLabel, QPushButton, QSpinBox, QWidget

from cozy_burrow.app.desk.stores_desk import StoresDesk
from cozy_burrow.app.desk.tasks import Task
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.count_box import CountBox
from cozy_burrow.app.look.fields import LengthField, clear_grid, head, soft
from cozy_burrow.app.look.long_words import Words, row_of
from cozy_burrow.app.screens.measure.foam_look import FoamLook
from cozy_burrow.app.screens.measure.page import Page, narrow
from cozy_burrow.core.container.bay import headroom_mm, lid_touch_mm, stack_mm
from cozy_burrow.core.errors import Gone
from cozy_burrow.core.foam.boards import sheet_of
from cozy_burrow.core.foam.layers import checked_sheet, layers_of
from cozy_burrow.core.foam.stacks import Ranked, Stack, StackWish, stacks_for
from cozy_burrow.core.ground.stack_wish import stack_wish
from cozy_burrow.core.model.edits import change_insert
from cozy_burrow.core.model.records import Project, Sheet
from cozy_burrow.core.tongue import tr

MOST_SHEETS = 8


class FoamPage(Page):
    """The stack as it is, and the way to a better one. `found`: the ranked stacks, for the scene."""

    found = Signal(object)

    def __init__(self, workspace: Workspace, stores: StoresDesk, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        self._stores = stores
        self._task: Task | None = None
        self._asked: tuple[StackWish, object] | None = None
        self.ranked: tuple[Ranked, ...] = ()
        self.column.addWidget(head(tr("The sheets, top first")))
        self._sheets = QWidget()
        self._grid = QGridLayout(self._sheets)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._rows: list[tuple[LengthField, LengthField, QSpinBox, FoamLook]] = []
        self.column.addWidget(self._sheets)
        self.board = QComboBox()
        self.board.setAccessibleName(tr("Foam of a sheet to add"))
        narrow(self.board)
        self.column.addWidget(self.board)
        self.add = QPushButton(tr("Add it below"))
        self.add.clicked.connect(self._one_more)
        self.drop = QPushButton(tr("Take lowest out"))
        self.drop.clicked.connect(self._one_less)
        changes = QHBoxLayout()
        changes.addWidget(self.add)
        changes.addWidget(self.drop)
        self.column.addLayout(changes)
        self.whole_bottom = QCheckBox(tr("the lowest sheet is never cut"))
        self.whole_bottom.clicked.connect(lambda on: self.change_tray(tr("Change the floor"), whole_bottom=on))
        self.column.addWidget(self.whole_bottom)
        self._text = soft("")
        self.column.addWidget(self._text)
        self.column.addWidget(head(tr("A better stack")))
        self.advice = Words()
        self.advice.setObjectName("verdict")
        self.advice.setToolTip(
            tr(
                "Of all combinations from price list and shelf: deep enough first, then to be had, then "
                "without a wide gap, then the cheapest, the smaller gap, the more layers. Price: packs "
                "and delivery for this stack alone."
            )
        )
        self.column.addWidget(self.advice)
        self.use = QPushButton(tr("Use the advised stack"))
        self.use.setObjectName("main")
        self.use.clicked.connect(self._use_best)
        self.column.addWidget(self.use)
        self.column.addStretch(1)
        stores.changed.connect(self._follow_if_seen)
        self.follow()

    def follow(self) -> None:
        """Show the sheets, and ask for stacks where what they depend on has changed."""
        workspace = self._workspace
        insert, unit, length = workspace.insert, workspace.unit, workspace.length
        if len(self._rows) != len(insert.sheets):
            self._build(len(insert.sheets))
        for sheet, (thickness, pitch, contrast, look) in zip(insert.sheets, self._rows):
            thickness.show_length(sheet.thickness_mm, unit)
            pitch.show_length(sheet.pitch_mm, unit)
            pitch.setEnabled(sheet.material == "layered")
            contrast.blockSignals(True)
            contrast.setValue(sheet.contrast_layers)
            contrast.blockSignals(False)
            look.show_sheet(sheet)
        boards = self._stores.stores.boards
        if self.board.count() != len(boards):
            self.board.clear()
            for board in boards:
                self.board.addItem(row_of(board.name), board.id)
            self.board.setCurrentIndex(max(0, self.board.findData("thick-20")))
        room = headroom_mm(workspace.ground.bay)
        over = workspace.ground.bay.top_mm - workspace.container.height_mm
        said = (
            tr("{over} too high", over=length(over)) if over > 0.005 else tr("{room} of room above", room=length(room))
        )
        touch = lid_touch_mm(workspace.ground.bay)
        if touch is not None and over <= 0.005:
            said += tr("; the lid's foam touches what stands out {touch}", touch=length(touch))
        if room == float("inf"):
            said = tr("nothing in front of it")
        self._text.setText(
            tr(
                "{count} layers, {stack} of foam, {said}.",
                count=len(layers_of(insert.sheets)),
                stack=length(stack_mm(insert.sheets)),
                said=said,
            )
        )
        self.drop.setEnabled(len(insert.sheets) > 1)
        self.add.setEnabled(len(insert.sheets) < MOST_SHEETS and bool(boards))
        self.whole_bottom.setChecked(insert.whole_bottom)
        self.whole_bottom.setEnabled(len(insert.sheets) > 1)
        self._ask()

    def _build(self, count: int) -> None:
        clear_grid(self._grid)
        self._rows = []
        for column, text in enumerate(("", tr("Thickness"), tr("Layer"), tr("Base"))):
            self._grid.addWidget(QLabel(text), 0, column)
        for index in range(count):
            thickness = LengthField(tr("Thickness of sheet {index}", index=index + 1), least_mm=0.5)
            pitch = LengthField(tr("Layer of sheet {index}", index=index + 1), least_mm=0.5)
            contrast = CountBox()
            contrast.setRange(0, 99)
            contrast.setAccessibleName(tr("Lowest layers of another colour in sheet {index}", index=index + 1))
            contrast.setToolTip(
                tr("Lowest layers of another colour: an empty pocket that reaches them shows at a glance.")
            )
            thickness.entered.connect(lambda mm, n=index: self._set_sheet(n, thickness_mm=mm))
            pitch.entered.connect(lambda mm, n=index: self._set_sheet(n, pitch_mm=mm))
            contrast.valueChanged.connect(lambda value, n=index: self._set_sheet(n, contrast_layers=value))
            for field in (thickness, pitch):
                field.refused.connect(lambda sentence, n=index: self._hear(tr("sheet {n}", n=n + 1), sentence))
            contrast.setMaximumWidth(64)  # two digits; lengths have their unit beside them
            look = FoamLook(index, partial(self._set_look, index))
            self._grid.addWidget(QLabel(str(index + 1)), 2 * index + 1, 0)
            for column, widget in enumerate((thickness, pitch, contrast), start=1):
                self._grid.addWidget(widget, 2 * index + 1, column)
            self._grid.addWidget(look, 2 * index + 2, 1, 1, 3)
            self._rows.append((thickness, pitch, contrast, look))

    def _set_look(self, index: int, field: str, word: str) -> None:
        self._set_sheet(index, **{field: word})

    def _set_sheet(self, index: int, **fields: Any) -> None:
        def change() -> Project:
            sheets = list(self._workspace.insert.sheets)
            if index >= len(sheets):  # its row was left with something typed after the sheet had gone
                raise Gone(tr("sheet {index}", index=index + 1))
            sheet = replace(sheets[index], **fields)
            if sheet.material != "layered" and "thickness_mm" in fields:
                sheet = replace(sheet, pitch_mm=sheet.thickness_mm)
            sheet = checked_sheet(sheet, where=tr("sheet {index}", index=index + 1))
            sheets[index] = replace(sheet, name=sheet.name or f"{sheet.thickness_mm:g}/{sheet.pitch_mm:g}")
            return self._changed(tuple(sheets))

        self.attempt(tr("Change sheet {index}", index=index + 1), change, place=tr("sheet {index}", index=index + 1))

    def _changed(self, sheets: tuple[Sheet, ...]) -> Project:
        return change_insert(self._workspace.project, self._workspace.insert_id, sheets=sheets)

    def _one_more(self) -> None:
        board = next((one for one in self._stores.stores.boards if one.id == self.board.currentData()), None)
        if board is not None:
            self.attempt(tr("Add a sheet"), lambda: self._changed((*self._workspace.insert.sheets, sheet_of(board))))

    def _one_less(self) -> None:
        self.attempt(tr("Take a sheet out"), lambda: self._changed(self._workspace.insert.sheets[:-1]))

    def _use_best(self) -> None:
        if self.ranked:
            self.use_stack(self.ranked[0].stack)

    def use_stack(self, stack: Stack) -> None:
        """Make the insert of these boards."""
        sheets = tuple(sheet_of(board) for board in stack.boards)
        self.attempt(tr("Use {stack_name}", stack_name=stack_name(stack)), lambda: self._changed(sheets))

    # Stacks, off this thread

    def _ask(self) -> None:
        if not self.isVisible():
            return  # worked out only while somebody looks
        wish, stores = stack_wish(self._workspace.project, self._workspace.insert), self._stores.stores
        if self._asked is not None and self._asked[0] == wish and self._asked[1] is stores:
            self._say(wish)
            return
        self._asked = (wish, stores)
        self.stop()
        task = Task(lambda token: stacks_for(wish, stores, token=token), self)
        task.done.connect(lambda ranked: self._take(wish, ranked))
        self._task = task
        task.begin()

    def stop(self) -> None:
        """Stop the search that is under way."""
        if self._task is not None:
            self._task.stop()

    def _take(self, wish: StackWish, ranked: tuple[Ranked, ...]) -> None:
        if self._asked is None or self._asked[0] != wish:
            return
        self.ranked = ranked
        self._say(wish)
        self.found.emit(ranked)

    def _say(self, wish: StackWish) -> None:
        self.use.setEnabled(bool(self.ranked))
        if not self.ranked:
            self.advice.setText(tr("No combination of boards fits this height. Name boards and prices under Sheets."))
            return
        self.advice.setText(advice_text(self.ranked, wish, self._workspace, self._stores.stores.currency))


def stack_name(stack: Stack) -> str:
    """Return the boards of a stack in words, top first."""
    return tr(" over ").join(board.name for board in stack.boards)


def advice_text(ranked: tuple[Ranked, ...], wish: StackWish, workspace: Workspace, currency: str) -> str:
    """Return the advice with its reason."""
    best, length = ranked[0].stack, workspace.length
    deep = tr("pockets down to {deepest}", deepest=length(best.deepest_mm))
    enough = best.deepest_mm >= wish.needed_mm - 1e-6
    reason = (
        tr("{deep}, {needed} are wanted", deep=deep, needed=length(wish.needed_mm))
        if enough
        else tr("no stack is deeper than {deep}", deep=deep)
    )
    cost = (
        tr("some of it has no price")
        if best.price is None
        else tr("{currency}{price:.2f} to buy", currency=currency, price=best.price)
    )
    shelf = tr(", {from_shelf} from the shelf", from_shelf=best.from_shelf) if best.from_shelf else ""
    rest = tr(", {left_over} more of this size in what is bought", left_over=best.left_over) if best.left_over else ""
    return tr(
        "{stack_name}: {reason}; {gap} of gap, {layers} layers to choose from, {cost}{shelf}{rest}. Best of {count}.",
        stack_name=stack_name(best),
        reason=reason,
        gap=length(best.gap_mm),
        layers=best.layers,
        cost=cost,
        shelf=shelf,
        rest=rest,
        count=len(ranked),
    )
