"""The colours of a sheet, of its foam and of the layers of another colour at its base: two choices below its sizes."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QHBoxLayout, QWidget

from cozy_burrow.app.look.colour_box import colour_box, show_colour
from cozy_burrow.core.model.records import Sheet
from cozy_burrow.core.tongue import tr


class FoamLook(QWidget):
    """The choices of one sheet. changed hears the name of the sheet's field and the colour's."""

    def __init__(self, index: int, changed: Callable[[str, str], object]) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 6)
        self.colour = colour_box(
            tr("Colour of sheet {index}", index=index + 1),
            tr("Colour of the foam: for the picture, and for how well an empty place shows."),
            tr("any foam"),
        )
        self.base = colour_box(
            tr("Colour of the base of sheet {index}", index=index + 1),
            tr("Colour of the lowest layers where they have one of their own."),
            tr("any base"),
        )
        self.colour.activated.connect(lambda at: changed("colour", self.colour.itemData(at)))
        self.base.activated.connect(lambda at: changed("base_colour", self.base.itemData(at)))
        row.addWidget(self.colour, 1)
        row.addWidget(self.base, 1)

    def show_sheet(self, sheet: Sheet) -> None:
        """Show what is said of the sheet."""
        show_colour(self.colour, sheet.colour)
        show_colour(self.base, sheet.base_colour)
        self.base.setVisible(sheet.contrast_layers > 0)
