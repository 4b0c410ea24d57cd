"""A button that takes one step back or on: a word where there is room for it, else an arrow that bends that way."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QIcon, QPainter, QPainterPath, QPalette, QPen, QPixmap
from PySide6.QtWidgets import QPushButton

from cozy_burrow.app.look.painting import drawing_on

_SIDE_PX = 18  # at usual type


class TurnButton(QPushButton):
    """`shorten` changes between word and arrow; whoever listens hears the word either way."""

    def __init__(self, word: str, scale: float, *, back: bool) -> None:
        super().__init__(word)
        self._word, self._back, self._scale = word, back, scale
        self._long = 0
        self.setAccessibleName(word)

    @property
    def long_width(self) -> int:
        """Pixels that it takes with its word."""
        if not self.icon().isNull():
            return self._long
        return self.sizeHint().width()

    def shorten(self, short: bool) -> None:
        """Show the arrow, or the word."""
        if short == (not self.icon().isNull()):
            return
        if short:
            self._long = self.sizeHint().width()
            side = round(_SIDE_PX * self._scale)
            self.setIconSize(QSize(side, side))
            self._draw()
        else:
            self.setIcon(QIcon())
        self.setText("" if short else self._word)

    def changeEvent(self, event: QEvent) -> None:
        """Draw the arrow anew in another theme."""
        super().changeEvent(event)
        if event.type() == QEvent.Type.PaletteChange and not self.icon().isNull():
            self._draw()

    def _draw(self) -> None:
        icon = QIcon()
        for mode, group in (
            (QIcon.Mode.Normal, QPalette.ColorGroup.Active),
            (QIcon.Mode.Disabled, QPalette.ColorGroup.Disabled),
        ):
            picture = QPixmap(self.iconSize() * self.devicePixelRatioF())
            picture.setDevicePixelRatio(self.devicePixelRatioF())
            picture.fill(Qt.GlobalColor.transparent)
            with drawing_on(picture) as painter:
                self._paint_arrow(painter, self.palette().color(group, QPalette.ColorRole.ButtonText))
            icon.addPixmap(picture, mode)
        self.setIcon(icon)

    def _paint_arrow(self, painter: QPainter, ink: QColor) -> None:
        """Two thirds of a turn that begin with a tip, in a square of one by one."""
        side = float(self.iconSize().width())
        painter.scale(side, side)
        if not self._back:
            painter.translate(1.0, 0.0)
            painter.scale(-1.0, 1.0)
        painter.setPen(QPen(ink, 0.1, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin))
        round_ = QRectF(0.22, 0.26, 0.58, 0.58)
        line = QPainterPath()
        line.arcMoveTo(round_, 120.0)
        at = line.currentPosition()
        line.arcTo(round_, 120.0, -250.0)
        painter.drawPath(line)
        tip = QPainterPath(at + QPointF(0.02, -0.2))
        tip.lineTo(at + QPointF(-0.14, 0.02))
        tip.lineTo(at + QPointF(0.1, 0.14))
        painter.drawPath(tip)
