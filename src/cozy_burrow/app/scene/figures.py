"""Figures over the plan, on small cards: none over another, each whole within the view, near what it speaks of."""

from __future__ import annotations

import math
from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRect, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QPainter, QPen, QTransform

from cozy_burrow.app.look.theme.theme import Theme
from cozy_burrow.core.geometry.apart import apart_within
from cozy_burrow.core.ground.gaps import Gap
from cozy_burrow.core.model.records import Point
from cozy_burrow.core.tolerances import RULE_SLACK_MM

_NEAR_PX = 22.0  # from a figure to what it speaks of: farther off, a line leads there
_STEP_PX, _STEPS = 4.0, 24  # in which a figure looks for a place beside others


class Figures:
    """Paints figures, and gaps with theirs, in the pixels of the view."""

    def __init__(self, painter: QPainter, theme: Theme, font: QFont, transform: QTransform, view: QRect) -> None:
        self.painter, self.theme, self.transform, self.view = painter, theme, transform, view
        painter.setFont(font)
        self.metrics = QFontMetricsF(font)
        self._cards: list[QRectF] = []
        self.gaps_area = QRect()  # of the view, that the figures of gaps take up with the lines to them

    def figure(self, text: str, at: QPointF, colour: QColor, *, filled: bool = False) -> QRectF:
        """Paint a figure on a small card centred at a point, or as near to it as there is room; return the card."""
        card = self._card_for(text, at)
        self.card(card, text, colour, filled=filled)
        return card

    def _card_for(self, text: str, at: QPointF) -> QRectF:
        width, height = self.metrics.horizontalAdvance(text) + 12, self.metrics.height() + 4
        return self._free_card(QRectF(at.x() - width / 2, at.y() - height / 2, width, height))

    def card(self, card: QRectF, text: str, colour: QColor, *, filled: bool) -> None:
        """Paint a small card with a text."""
        self.painter.setPen(QPen(colour, 1.5))
        self.painter.setBrush(colour if filled else self.theme.colour("paper"))
        self.painter.drawRoundedRect(card, 5, 5)
        self.painter.setPen(self.theme.colour("paper") if filled else self.theme.colour("ink"))
        self.painter.drawText(card, Qt.AlignmentFlag.AlignCenter, text)

    def to_view(self, point: Point) -> QPointF:
        """Return the pixel of a place on the plan."""
        return self.transform.map(QPointF(*point))

    def _free_card(self, card: QRectF) -> QRectF:
        """Return the card moved no farther than it takes to hide no other figure, and to be whole within the view.

        One that stands a little beyond the edge is brought in; what lies farther out is of what is not looked at.
        """
        view = QRectF(self.view)
        near = view.adjusted(-card.width() / 2, -card.height(), card.width() / 2, card.height())
        is_near = near.contains(card.center())
        if is_near:
            card = _within(card, view)
        if not any(card.intersects(other) for other in self._cards):
            self._cards.append(card)
            return card
        inside = corners_of(view) if is_near else (-math.inf, -math.inf, math.inf, math.inf)
        centre, size = card.center(), card.size()
        (place,) = apart_within(
            [(centre.x(), centre.y())],
            [(size.width(), size.height())],
            room=_STEP_PX,
            steps=_STEPS,
            inside=inside,
            beside=[corners_of(one) for one in self._cards],
        )
        if place is not None:
            card.moveCenter(QPointF(*place))
            self._cards.append(card)
        return card

    def gaps(self, gaps: Sequence[tuple[Gap, str]]) -> None:
        """Paint gaps as measures, then their figures over them, so that no line runs through a figure."""
        placed = []
        for gap, text in gaps:
            self._gap_line(gap)
            middle = (self.to_view(gap.from_mm) + self.to_view(gap.to_mm)) / 2
            card = self._card_for(text, middle + self._beside(gap, text))
            placed.append((card, text, gap))
            self._lead(middle, card, self._gap_colour(gap))
            self.gaps_area |= card.united(QRectF(middle, middle)).toAlignedRect().adjusted(-3, -3, 3, 3)
        for card, text, gap in placed:
            self.card(card, text, self._gap_colour(gap), filled=gap.short_mm > RULE_SLACK_MM)

    def _lead(self, at: QPointF, card: QRectF, colour: QColor) -> None:
        """Paint a thin line to a card that found no place near what it speaks of."""
        end = QPointF(min(max(at.x(), card.left()), card.right()), min(max(at.y(), card.top()), card.bottom()))
        if math.hypot(end.x() - at.x(), end.y() - at.y()) > _NEAR_PX:
            for ink, width in ((self.theme.colour("paper"), 3.0), (colour, 1.2)):
                self.painter.setPen(QPen(ink, width))
                self.painter.drawLine(at, end)

    def _gap_colour(self, gap: Gap) -> QColor:
        return self.theme.colour("stop" if gap.short_mm > RULE_SLACK_MM else "accent")

    def _gap_line(self, gap: Gap) -> None:
        start, end = self.to_view(gap.from_mm), self.to_view(gap.to_mm)
        colour = self._gap_colour(gap)
        self.painter.setPen(QPen(self.theme.colour("paper"), 4))
        self.painter.drawLine(start, end)
        self.painter.setPen(QPen(colour, 2))
        self.painter.drawLine(start, end)
        for at in (start, end):
            self.painter.setBrush(colour)
            self.painter.drawEllipse(at, 3, 3)

    def _beside(self, gap: Gap, text: str) -> QPointF:
        """Return how far from a gap's middle its figure stands: in it, or beside one that it would hide."""
        along = self.to_view(gap.to_mm) - self.to_view(gap.from_mm)
        length = math.hypot(along.x(), along.y())
        if length >= self.metrics.horizontalAdvance(text) + 20:
            return QPointF()
        across = QPointF(-along.y(), along.x()) / max(length, 1e-6) if length > 1 else QPointF(0, -1)
        reach = 20.0 + (self.metrics.horizontalAdvance(text) / 2 if abs(across.x()) > 0.5 else 0.0)
        return across * reach


def _within(card: QRectF, view: QRectF) -> QRectF:
    """Return the card moved by as little as it takes to stand in the view; a larger one begins where that does."""
    right = min(0.0, view.right() - card.right())
    down = min(0.0, view.bottom() - card.bottom())
    return card.translated(max(right, view.left() - card.left()), max(down, view.top() - card.top()))


def corners_of(card: QRectF) -> tuple[float, float, float, float]:
    """Return left, top, right and bottom."""
    return card.left(), card.top(), card.right(), card.bottom()
