"""What a part of an item is made of, and its colour: two choices beside its heights."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtGui import QColor

from cozy_burrow.app.look.colour_box import colour_box, plain_box, show_colour
from cozy_burrow.core.model.materials import MATERIALS, said_of, with_said
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.relief.finish import finish_of
from cozy_burrow.core.tongue import started, tr


class PartLook:
    """The choices of one part. changed hears the name of the item's field and what it says by then."""

    def __init__(self, part: int, changed: Callable[[str, str], object]) -> None:
        self._part, self._item = part, None
        self._changed = changed
        self.material = plain_box(
            tr("Material of zone {index}", index=part + 1),
            tr("For the picture: how it shines, and its colour where no other is chosen"),
        )
        self.material.addItem(tr("as guessed"), "")
        for one in MATERIALS.values():
            self.material.addItem(started(one.called), one.name)
        self.colour = colour_box(
            tr("Colour of zone {index}", index=part + 1),
            tr("For the picture; its own: that of the material"),
            tr("its own"),
        )
        self.material.activated.connect(lambda at: self._say("material", self.material.itemData(at)))
        self.colour.activated.connect(lambda at: self._say("colour", self.colour.itemData(at)))

    _item: Item | None

    def show(self, item: Item) -> None:
        """Show what is said of the part; what is not, as it is guessed."""
        self._item = item
        self.material.setCurrentIndex(max(0, self.material.findData(said_of(item.material, self._part))))
        show_colour(self.colour, said_of(item.colour, self._part), QColor(*finish_of(item, self._part, "").colour))

    def _say(self, field: str, word: str) -> None:
        if self._item is not None:
            text: str = getattr(self._item, field)
            self._changed(field, with_said(text, self._part, word, len(self._item.zones)))
