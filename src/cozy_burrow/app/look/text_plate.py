"""A text that changes at every step of a drag: painted in a place of fixed height, so that nothing is laid out anew."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter, QPalette
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.look.painting import paints


class TextPlate(QWidget):
    """A few lines of wrapped text on paper with a bar in the accent colour at its left."""

    def __init__(self, lines: int) -> None:
        super().__init__()
        self._text = ""
        self.setFixedHeight(lines * self.fontMetrics().lineSpacing() + 16)

    def text(self) -> str:
        """Return the text."""
        return self._text

    def setText(self, text: str) -> None:
        """Show another text."""
        if text != self._text:
            self._text = text
            self.setAccessibleName(text)
            self.update()

    @paints
    def paintEvent(self, painter: QPainter) -> None:
        """Paint plate, bar and text."""
        painter.fillRect(self.rect(), self.palette().color(QPalette.ColorRole.Base))
        painter.fillRect(0, 0, 4, self.height(), self.palette().color(QPalette.ColorRole.Highlight))
        painter.setPen(self.palette().color(QPalette.ColorRole.Text))
        room = QRectF(self.rect()).adjusted(12, 8, -6, -8)
        painter.drawText(room, int(Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignTop), self._text)
