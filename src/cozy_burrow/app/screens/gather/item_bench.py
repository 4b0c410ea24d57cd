"""The item bench: one thing large, its zones split by a line dragged across it, their heights typed beside it."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PySide6.QtCore import Qt
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from cozy_burrow.app.desk.following import FollowingPanel
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.count_box import CountBox
from cozy_burrow.app.look.fields import NextOnEnter, NumberField, head, panel, soft
from cozy_burrow.app.look.theme.theme import Theme
from cozy_burrow.app.screens.gather.item_canvas import ItemCanvas
from cozy_burrow.app.screens.gather.zone_fields import ZoneFields
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.kit.shapes import renamed
from cozy_burrow.core.kit.table import MOST_THINGS
from cozy_burrow.core.kit.zones import join_zones, mass_g_of, split_zones
from cozy_burrow.core.model.edits import change_item
from cozy_burrow.core.model.ranges import range_of
from cozy_burrow.core.model.records import USES, Item, Point
from cozy_burrow.core.tongue import tr
from cozy_burrow.devices.kitchen_scale import KitchenScale, SimulatedKitchenScale
from cozy_burrow.jobs.item_words import came_from
from cozy_burrow.jobs.note_words import noted

_WIDE = 560  # pixels at plain type from which on the fields stand in two rows
_NARROW = 400  # and below which those of a zone stand two beside each other
_BROAD = 760  # from which on a zone has one row
USE_NAMES: dict[str, str] = {
    "daily": tr("daily"),
    "weekly": tr("weekly"),
    "rare": tr("rare"),
    "expected": tr("expected"),
}


class ItemBench(FollowingPanel):
    """Edits the chosen item; every figure takes effect as soon as it is whole."""

    def __init__(self, workspace: Workspace, theme: Theme, scale: float, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        panel(self)
        self._shown: Item | None = None
        self.scale: KitchenScale | None = None  # None: the stand-in
        self._row = layout = QHBoxLayout(self)
        self.canvas = ItemCanvas(theme, scale)
        self.canvas.split.connect(self._split)
        layout.addWidget(self.canvas, 3)
        self._scale = scale
        inside = QWidget()
        right = QVBoxLayout(inside)
        right.setContentsMargins(0, 0, 4, 0)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setWidget(inside)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        layout.addWidget(area, 4)
        self._head = head("")
        self._join = QPushButton(tr("One zone again"))
        self._join.clicked.connect(self._join_all)
        right.addWidget(self._head)
        self._about()
        self._more()
        self._fields = QGridLayout()
        right.addLayout(self._fields)
        self._zones = ZoneFields(self._attempt, self._set_look)
        right.addWidget(self._zones)
        right.addWidget(self._join)
        self._source = soft("")
        right.addWidget(self._source)
        right.addStretch(1)
        self._arrange_fields()
        workspace.item_chosen.connect(self.follow)
        self.follow()

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self.canvas.theme = theme
        self.canvas.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Give fields the width that they need."""
        super().resizeEvent(event)
        self._arrange_fields()

    def _arrange_fields(self) -> None:
        """Lay the fields out in two rows, or where the bench is narrow in four."""
        name, group, quantity, use = self._name, self._group, self._quantity, self._use
        wide = self.width() > _WIDE * self._scale
        rows: tuple[tuple[QWidget, ...], ...] = (
            ((name, group, quantity, use), (self._mass, self._weigh, self._notes))
            if wide
            else ((name, group), (quantity, use), (self._mass, self._weigh), (self._notes,))
        )
        columns = max(map(len, rows))
        broad = self.width() > _BROAD * self._scale
        self._row.setStretch(0, 3 if wide and not broad else 1)
        self._row.setStretch(1, 2 if broad else 4 if wide else 3)
        for number, row in enumerate(rows):
            for column, widget in enumerate(row):
                last = column == len(row) - 1
                self._fields.addWidget(widget, number, column, 1, columns - column if last else 1)
        narrow = self.width() < _NARROW * self._scale
        self._zones.arrange("narrow" if narrow else "broad" if broad else "plain")

    def _about(self) -> None:
        self._name, self._group = NextOnEnter(), NextOnEnter()
        self._quantity, self._use = CountBox(), QComboBox()
        self._quantity.setRange(1, MOST_THINGS)
        for use in USES:
            self._use.addItem(USE_NAMES[use], use)
        self._use.setMinimumContentsLength(4)
        self._use.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        for field, name in (
            (self._name, tr("Name")),
            (self._group, tr("Group")),
            (self._quantity, tr("Quantity")),
            (self._use, tr("Use")),
        ):
            field.setAccessibleName(name)
            field.setToolTip(name)
        self._name.editingFinished.connect(self._rename)
        self._group.setPlaceholderText(tr("group"))
        self._group.editingFinished.connect(
            lambda: self._change(tr("Change the group"), group=" ".join(self._group.text().split()))
        )
        self._quantity.valueChanged.connect(lambda count: self._change(tr("Change the quantity"), quantity=count))
        self._use.activated.connect(lambda n: self._change(tr("Change the use"), use=self._use.itemData(n)))

    def _more(self) -> None:
        """Make the fields of mass and notes; the mass may come from a scale."""
        least, most = range_of(Item, "mass_g")
        self._mass = NumberField(tr("Mass of one"), least=least, most=most, unit=" g", optional=True)
        self._mass.setPlaceholderText(tr("mass, g"))
        self._mass.setToolTip(tr("What one of them weighs, in grams: for balance, grip and the load"))
        self._mass.entered.connect(lambda grams: self._change(tr("Set the mass"), mass_g=grams))
        self._mass.refused.connect(self._hear_mass)
        self._weigh = QPushButton(tr("Weigh"))
        self._weigh.setToolTip(
            tr("Reads the kitchen scale; the stand-in shipped with the program: no scale is plugged in")
        )
        self._weigh.clicked.connect(self.weigh)
        self._notes = NextOnEnter()
        self._notes.setAccessibleName(tr("Notes"))
        self._notes.setPlaceholderText(tr("notes: goes away hot, sharp edge, spring, cable"))
        self._notes.editingFinished.connect(
            lambda: self._change(tr("Change the notes"), notes=" ".join(self._notes.text().split()))
        )

    def weigh(self) -> None:
        """Take what the scale shows as the mass of one."""
        item = self._workspace.item
        if item is not None:
            scale = self.scale or SimulatedKitchenScale(mass_g_of(item))
            self._change(tr("Weigh"), mass_g=scale.read_g())

    def _hear_mass(self, sentence: str) -> None:
        self._workspace.set_trouble("mass", sentence)

    def follow(self) -> None:
        """Show the document as it is now."""
        item = self._workspace.item
        self.canvas.item = item
        self.canvas.update()
        about = (self._name, self._group, self._quantity, self._use, self._mass, self._weigh, self._notes)
        for widget in (self.canvas, *about, self._zones, self._join):
            widget.setVisible(item is not None)
        self._head.setVisible(item is None)  # the name stands in its field
        self._source.setVisible(item is not None)
        if item is None:
            self._shown = None
            self._mass.show_number(None)
            self._head.setText(tr("Choose an item to see it large, or gather the first one on the left"))
            return
        rebuilt = self._shown is None or self._shown.id != item.id or len(self._shown.zones) != len(item.zones)
        if item is self._shown:
            return
        self._shown = item
        self._mass.show_number(item.mass_g)
        self._notes.setToolTip(noted(item) or tr("Stands on its label and in the bench plan, with the caution for it"))
        for field, text in ((self._name, item.name), (self._group, item.group), (self._notes, item.notes)):
            if not field.hasFocus():
                field.setText(text)
        for widget in (self._quantity, self._use):
            widget.blockSignals(True)
        self._quantity.setValue(item.quantity)
        self._use.setCurrentIndex(self._use.findData(item.use))
        for widget in (self._quantity, self._use):
            widget.blockSignals(False)
        self._join.setVisible(len(item.zones) > 1)
        came = came_from(item)
        sure = self._workspace.length(item.provenance.uncertainty_mm)
        self._source.setText(
            tr("Outline from {came}, ± {sure}. Drag a line across the drawing to split a zone.", came=came, sure=sure)
        )
        if rebuilt:
            self._zones.build(len(item.zones))
        self._zones.fill(item, self._workspace.unit)

    def _set_look(self, field: str, text: str) -> None:
        label = tr("Change the material") if field == "material" else tr("Change the colour")
        self._change(label, **{field: text})

    def _change(self, label: str, **fields: object) -> None:
        item = self._workspace.item
        if item is not None:
            self._put(label, replace(item, **fields))

    def _put(self, label: str, item: Item) -> None:
        self._workspace.do(
            tr("{label} of ‘{name}’", label=label, name=item.name), change_item(self._workspace.project, item)
        )

    def _rename(self) -> None:
        item = self._workspace.item
        if item is None or self._name.text() == item.name:
            return
        try:
            self._put(tr("Change the name"), renamed(item, self._name.text()))
        except UnusableInput as error:
            self._name.setText(item.name)
            self._workspace.refused.emit(error.sentence())

    def _attempt(self, label: str, change: Callable[[Item], Item]) -> None:
        item = self._workspace.item
        if item is None:
            return
        try:
            self._put(label, change(item))
        except UnusableInput as error:
            self._workspace.refused.emit(error.sentence())

    def _split(self, start: Point, end: Point) -> None:
        self._attempt(tr("Split a zone"), lambda item: split_zones(item, start, end))

    def _join_all(self) -> None:
        item = self._workspace.item
        if item is not None:
            self._put(tr("Join the zones"), join_zones(item))
