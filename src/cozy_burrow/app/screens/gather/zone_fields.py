"""The zones of one item: how thick each is, where its underside lies, what it looks like."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

from PySide6.QtWidgets import QComboBox, QGridLayout, QLabel, QWidget

from cozy_burrow.app.look.fields import LengthField, clear_grid
from cozy_burrow.app.screens.gather.part_look import PartLook
from cozy_burrow.core.kit.zones import set_zone
from cozy_burrow.core.model.records import Item, Section
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import Unit

_SHAPE, _MATERIAL, _COLOUR = 3, 4, 5  # columns, where a zone has one row
Room = Literal["narrow", "plain", "broad"]  # for the fields: a zone in three rows, in two, in one
_SECTIONS: tuple[Section, ...] = ("flat", "round")
SECTION_NAMES: dict[str, str] = {"flat": tr("flat"), "round": tr("round"), "tapered": tr("tapered")}

Attempt = Callable[[str, Callable[[Item], Item]], object]


class ZoneFields(QWidget):
    """Rows of fields, one zone each.

    attempt hears what a change is called, and the change; looked the name of the item's field and what it says by then.
    """

    def __init__(self, attempt: Attempt, looked: Callable[[str, str], object]) -> None:
        super().__init__()
        self._attempt, self._looked = attempt, looked
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._heads: list[QLabel] = []
        self._numbers: list[QLabel] = []
        self.rows: list[tuple[LengthField, LengthField, QComboBox]] = []
        self.looks: list[PartLook] = []
        self._room: Room = "plain"

    def build(self, count: int) -> None:
        """Have fields for so many zones, all of them new."""
        clear_grid(self._grid)
        for made in (self._heads, self._numbers, self.rows, self.looks):
            made.clear()
        for text, about in (
            (tr("Zone"), tr("A part with one thickness and section; drag a line across the drawing to split one")),
            (tr("Thickness"), tr("From its underside to its top")),
            (tr("Underside"), tr("Its height above the datum, the plane that all zones are measured from")),
            (tr("Shape"), tr("Flat, or round: a lying cylinder")),
            (tr("Material"), tr("For the picture: how it shines, and its colour where no other is chosen")),
            (tr("Colour"), tr("For the picture; its own: that of the material")),
        ):
            label = QLabel(text)
            label.setToolTip(about)
            self._heads.append(label)
        for index in range(count):
            self._numbers.append(QLabel(f"{index + 1}"))
            self.rows.append(self._row(index))
            self.looks.append(PartLook(index, self._looked))
        self.arrange(self._room)

    def _row(self, index: int) -> tuple[LengthField, LengthField, QComboBox]:
        thickness = LengthField(tr("Thickness of zone {index}", index=index + 1), least_mm=0.1)
        under = LengthField(tr("Underside of zone {index} above the datum", index=index + 1))
        section = QComboBox()
        section.setAccessibleName(tr("Section of zone {index}", index=index + 1))
        for name in (*_SECTIONS, "tapered"):
            section.addItem(SECTION_NAMES[name], name)
        section.setMinimumContentsLength(4)
        section.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        height = tr("Set a height")
        thickness.entered.connect(lambda mm: self._attempt(height, lambda item: set_zone(item, index, thickness_mm=mm)))
        under.entered.connect(lambda mm: self._attempt(height, lambda item: set_zone(item, index, under_mm=mm)))
        section.activated.connect(lambda at: self._set_section(index, section.itemData(at)))
        return thickness, under, section

    def _set_section(self, index: int, text: str) -> None:
        section = next((one for one in _SECTIONS if one == text), None)
        if section is not None:
            self._attempt(tr("Set a section"), lambda item: set_zone(item, index, section=section))

    def arrange(self, room: Room) -> None:
        """Lay the fields of each zone out in one row, in two, or where there is little width in three."""
        grid, self._room = self._grid, room
        columns = {"narrow": _SHAPE, "plain": _SHAPE + 1, "broad": _COLOUR + 1}[room]
        for column in range(1, _COLOUR + 1):  # a choice would have two letters of width beside fields that take all
            grid.setColumnStretch(
                column, int(column < columns) + int(column in {_MATERIAL, _COLOUR} and room == "broad")
            )
        for column, label in enumerate(self._heads):
            grid.addWidget(label, 0, column)
            label.setVisible(column < columns)
        for index, ((thickness, under, section), look) in enumerate(zip(self.rows, self.looks)):
            row = 1 + 3 * index
            grid.addWidget(self._numbers[index], row, 0)
            grid.addWidget(thickness, row, 1)
            grid.addWidget(under, row, 2)
            if room == "narrow":
                grid.addWidget(section, row + 1, 1)
                grid.addWidget(look.colour, row + 1, 2)
                grid.addWidget(look.material, row + 2, 1, 1, 2)
            else:
                grid.addWidget(section, row, _SHAPE)
            if room == "plain":
                grid.addWidget(look.material, row + 1, 1, 1, 2)
                grid.addWidget(look.colour, row + 1, _SHAPE)
            if room == "broad":
                grid.addWidget(look.material, row, _MATERIAL)
                grid.addWidget(look.colour, row, _COLOUR)

    def fill(self, item: Item, unit: Unit) -> None:
        """Show the figures of an item that has as many zones as there are rows."""
        for zone, (thickness, under, section) in zip(item.zones, self.rows):
            thickness.show_length(zone.thickness_mm, unit)
            under.show_length(zone.under_mm, unit)
            section.setCurrentIndex(section.findData(zone.section))
            section.model().item(2).setEnabled(zone.section == "tapered")  # type: ignore[attr-defined]
        for look in self.looks:
            look.show(item)
