"""A choice of a colour by its name, each with a dot of it."""

from __future__ import annotations

from PySide6.QtGui import QColor, QIcon, QPixmap
from PySide6.QtWidgets import QComboBox

from cozy_burrow.core.model.materials import COLOUR_NAMES, COLOURS
from cozy_burrow.core.tongue import started

_DOT_PX = 14


def plain_box(name: str, about: str) -> QComboBox:
    """Return a choice that takes no more room than it must."""
    box = QComboBox()
    box.setAccessibleName(name)
    box.setToolTip(about)
    box.setMinimumContentsLength(2)
    box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
    return box


def colour_box(name: str, about: str, own: str) -> QComboBox:
    """Return a choice of all colours that have a name. own: what the first says, which names none."""
    box = plain_box(name, about)
    box.addItem(own, "")
    for word, code in COLOURS.items():
        box.addItem(_dot(QColor(code)), started(COLOUR_NAMES[word]), word)
    return box


def show_colour(box: QComboBox, word: str, own: QColor | None = None) -> None:
    """Show a colour's name; one that has none, as if it were not named. own: what is seen where none is named."""
    box.setCurrentIndex(max(0, box.findData(word)))
    if own is not None:
        box.setItemIcon(0, _dot(own))


def _dot(colour: QColor) -> QIcon:
    picture = QPixmap(_DOT_PX, _DOT_PX)
    picture.fill(colour)
    return QIcon(picture)
