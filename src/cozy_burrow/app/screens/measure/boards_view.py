"""Boards and pieces as they are cut, to scale: measured outlines, blanks on them, what is left."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QFontMetricsF, QPainter, QPen, QTransform
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.painting import paints, saved
from cozy_burrow.app.look.theme.theme import Theme, type_font
from cozy_burrow.app.scene.paths import area_path
from cozy_burrow.core.foam.purchase import CutBoard, Purchase, offcut_boxes, offcuts
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import format_length


class BoardsView(QWidget):
    """One picture a board, in as many rows as show them largest."""

    def __init__(self, workspace: Workspace, theme: Theme, scale: float, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._workspace, self._theme, self._type_scale = workspace, theme, scale
        self._purchase: Purchase | None = None
        self.setAccessibleName(tr("Cutting plan of all boards"))

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self._theme = theme
        self.update()

    def show_purchase(self, purchase: Purchase | None) -> None:
        """Show a plan; None: it is being worked out."""
        self._purchase = purchase
        if purchase is not None:
            self.setAccessibleDescription(
                "; ".join(f"{_title(one)}: {', '.join(w.name for w, _ in one.laid)}" for one in purchase.boards)
            )
        self.update()

    @paints
    def paintEvent(self, painter: QPainter) -> None:
        """Paint all boards at one scale."""
        theme = self._theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surface"))
        painter.setFont(type_font("figure", self._type_scale))
        if self._purchase is None or not self._purchase.boards:
            text = (
                tr("Working out how to cut…")
                if self._purchase is None
                else tr("Nothing can be cut yet: give boards a price, or put pieces on the shelf.")
            )
            painter.setPen(theme.colour("ink"))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, text)
            return
        boards = self._purchase.boards
        head = 26.0 * self._type_scale
        widest = max(one.outline.bounds[2] - one.outline.bounds[0] for one in boards)
        deepest = max(one.outline.bounds[3] - one.outline.bounds[1] for one in boards)
        best = (0.0, 1)
        for columns in range(1, len(boards) + 1):
            rows = -(-len(boards) // columns)
            scale = min((self.width() / columns - 28) / widest, (self.height() / rows - head - 22) / deepest)
            best = max(best, (scale, columns))
        scale, columns = max(0.01, best[0]), best[1]
        rows = -(-len(boards) // columns)
        for number, one in enumerate(boards):
            cell = QRectF(
                number % columns * self.width() / columns,
                number // columns * self.height() / rows,
                self.width() / columns,
                self.height() / rows,
            )
            self._board(painter, one, cell.adjusted(14, 8, -14, -8), scale, head)

    def _board(self, painter: QPainter, one: CutBoard, cell: QRectF, scale: float, head: float) -> None:
        theme = self._theme
        painter.setPen(theme.colour("ink"))
        title = QRectF(cell.left(), cell.top(), cell.width(), head)
        used = one.used_mm2 / max(1.0, one.outline.area)
        text = tr("{title} · {used:.0%} used", title=_title(one), used=used)
        metrics = QFontMetricsF(painter.font())
        painter.drawText(
            title,
            Qt.AlignmentFlag.AlignVCenter,
            metrics.elidedText(text, Qt.TextElideMode.ElideRight, title.width()),
        )
        left, top, _, _ = one.outline.bounds
        map_ = QTransform(scale, 0, 0, scale, cell.left() - left * scale, cell.top() + head - top * scale)
        painter.setPen(QPen(theme.colour("foam_edge"), 1.5))
        painter.setBrush(theme.colour("foam_top", 0.35))
        painter.drawPath(map_.map(area_path(one.outline)))
        for left_over in offcut_boxes(one):
            self._offcut(painter, left_over, map_)
        for wanted, outline in one.laid:
            path = map_.map(area_path(outline))
            painter.setPen(QPen(theme.colour("accent"), 1.6))
            painter.setBrush(theme.colour("foam_top"))
            painter.drawPath(path)
            box = path.boundingRect()
            self._label(painter, wanted.name, box)

    def _offcut(self, painter: QPainter, box: tuple[float, float, float, float], map_: QTransform) -> None:
        x0, y0, x1, y1 = box
        place = map_.mapRect(QRectF(x0, y0, x1 - x0, y1 - y0))
        pen = QPen(self._theme.colour("ink_soft"), 1.2, Qt.PenStyle.DashLine)
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(place.adjusted(2, 2, -2, -2))
        text = tr("keep {size}", size=size_words((math.floor(x1 - x0), math.floor(y1 - y0)), self._workspace))
        wide = QFontMetricsF(type_font("small", self._type_scale)).horizontalAdvance(text) + 14
        self._label(painter, text if wide <= place.width() else text.replace(" ", ", ", 1), place)

    def _label(self, painter: QPainter, name: str, box: QRectF) -> None:
        font = type_font("small", self._type_scale)
        lines = name.split(", ")
        metrics = QFontMetricsF(font)
        wide = max(metrics.horizontalAdvance(line) for line in lines) + 12
        card = QRectF(0, 0, min(wide, max(20.0, box.width() - 6)), metrics.height() * len(lines) + 6)
        card.moveCenter(QPointF(box.center()))
        painter.setPen(QPen(self._theme.colour("line"), 1))
        painter.setBrush(self._theme.colour("paper"))
        painter.drawRoundedRect(card, 4, 4)
        with saved(painter):
            painter.setFont(font)
            painter.setPen(self._theme.colour("ink"))
            painter.drawText(card, Qt.AlignmentFlag.AlignCenter, "\n".join(lines))


def _title(one: CutBoard) -> str:
    if one.piece is None:
        return tr("a board of {name}", name=one.board.name)
    return tr("from the shelf: {name}", name=one.board.name) + (f" ({one.piece.note})" if one.piece.note else "")


def offcut_words(one: CutBoard, workspace: Workspace) -> str:
    """Return the offcuts of a board in words."""
    return ", ".join(size_words(size, workspace) for size in offcuts(one))


def size_words(size: tuple[float, float], workspace: Workspace) -> str:
    """Return a width and a depth with their unit said once."""
    wide = format_length(size[0], workspace.unit, digits=0, suffix=False)
    return f"{wide} × {workspace.length(size[1], digits=0)}"
