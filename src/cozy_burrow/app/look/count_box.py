"""A field for a count, whose figure stands as far from its frame as in every other field."""

from __future__ import annotations

from PySide6.QtCore import QEvent
from PySide6.QtWidgets import QSpinBox, QWidget

_MARGIN = 0.45  # of a letter's height; the style sheet's padding does not reach the line inside


class CountBox(QSpinBox):
    """A count with buttons for one more and one less."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._keep_off()

    def changeEvent(self, event: QEvent) -> None:
        """Larger letters want a larger margin."""
        super().changeEvent(event)
        if event.type() in {QEvent.Type.FontChange, QEvent.Type.StyleChange}:
            self._keep_off()

    def _keep_off(self) -> None:
        self.lineEdit().setTextMargins(round(_MARGIN * self.fontMetrics().height()), 0, 0, 0)
