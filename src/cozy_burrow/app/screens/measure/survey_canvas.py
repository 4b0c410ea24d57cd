"""The survey drawn to scale: corners with their letters, every taped distance with what it is off."""

from __future__ import annotations

import math
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.painting import paints, saved
from cozy_burrow.app.look.theme.theme import Theme, type_font
from cozy_burrow.app.scene.paths import area_path
from cozy_burrow.core.container.rim import rim_polygon
from cozy_burrow.core.container.survey import Residual, solve_survey
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.survey_words import signed

_GRAB_PX = 16.0


@dataclass(frozen=True)
class _Scale:
    left: float
    top: float
    px_per_mm: float

    def to_px(self, x_mm: float, y_mm: float) -> QPointF:
        return QPointF(self.left + x_mm * self.px_per_mm, self.top + y_mm * self.px_per_mm)

    def to_mm(self, at: QPointF) -> tuple[float, float]:
        return (at.x() - self.left) / self.px_per_mm, (at.y() - self.top) / self.px_per_mm


class SurveyCanvas(QWidget):
    """Corners may be dragged while the sketch is rough; a click on two corners makes them the next pair to tape."""

    pair_chosen = Signal(str, str)
    corner_moved = Signal(str, float, float)

    def __init__(self, workspace: Workspace, theme: Theme, scale: float, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._workspace, self._theme, self._type_scale = workspace, theme, scale
        self.pair: tuple[str, str] | None = None
        self._held: str | None = None
        self._moved = False
        self._picked: str | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName(tr("Sketch of the survey"))
        workspace.document_changed.connect(self._follow)

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self._theme = theme
        self.update()

    def show_pair(self, pair: tuple[str, str]) -> None:
        """Show between which corners the next distance goes."""
        self.pair = pair
        self.update()

    def _scale(self) -> _Scale:
        box = self._workspace.container
        side = 70 * self._type_scale
        wide, high = max(1.0, box.width_mm), max(1.0, box.depth_mm)
        scale = max(0.02, min((self.width() - 2 * side) / wide, (self.height() - 2 * side) / high))
        return _Scale((self.width() - wide * scale) / 2, (self.height() - high * scale) / 2, scale)

    def _follow(self) -> None:
        """What was held or picked may be gone."""
        names = {one.name for one in self._workspace.container.corners}
        self._held = self._held if self._held in names else None
        self._picked = self._picked if self._picked in names else None
        self.update()

    def corner_px(self, name: str) -> QPointF:
        """Return where a corner is painted."""
        one = next(one for one in self._workspace.container.corners if one.name == name)
        return self._scale().to_px(one.x_mm, one.y_mm)

    @paints
    def paintEvent(self, painter: QPainter) -> None:
        """Paint the outline, the distances and the corners."""
        theme, box = self._theme, self._workspace.container
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("paper"))
        painter.setFont(type_font("figure", self._type_scale))
        scale = self._scale()
        with saved(painter):
            painter.translate(scale.left, scale.top)
            painter.scale(scale.px_per_mm, scale.px_per_mm)
            pen = QPen(theme.colour("line_strong"), 3)
            pen.setCosmetic(True)
            painter.setPen(pen)
            painter.setBrush(theme.colour("foam_top", 0.25))
            painter.drawPath(area_path(rim_polygon(box)))
        if not box.corners:
            text = (
                tr("A card template is the rim.")
                if box.outline
                else tr("Choose a sketch at the left, or a card template.")
            )
            painter.setPen(theme.colour("ink"))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, text)
            return
        found = solve_survey(box.corners, box.taped)
        if self.pair is not None and self.pair[0] != self.pair[1]:
            self._line(painter, self.pair, QPen(theme.colour("accent"), 2.5, Qt.PenStyle.DashLine))
        cards: list[QRectF] = []
        for number, one in enumerate(found.residuals):
            odd = number == found.suspect
            pen = QPen(theme.colour("stop" if odd else "line_strong"), 2.5 if odd else 1.2)
            self._line(painter, (one.taped.first, one.taped.second), pen)
        for number, one in enumerate(found.residuals):
            self._figure(painter, one, number == found.suspect, cards)
        for corner in box.corners:
            self._corner(painter, corner.name)
        painter.setFont(type_font("small", self._type_scale))
        painter.setPen(theme.colour("ink"))
        foot = tr("By each line: what was taped, and by how much that is off what all distances together say.")
        if not box.taped:
            foot = tr(
                "Tape distances between corners; click two corners, or press their letters, to choose the next pair."
            )
        painter.drawText(
            QRectF(self.rect()).adjusted(10, 0, -10, -8), Qt.AlignmentFlag.AlignBottom | Qt.TextFlag.TextWordWrap, foot
        )
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("accent"), 2))
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))

    def _line(self, painter: QPainter, pair: tuple[str, str], pen: QPen) -> None:
        names = {one.name for one in self._workspace.container.corners}
        if names.issuperset(pair):
            painter.setPen(pen)
            painter.drawLine(self.corner_px(pair[0]), self.corner_px(pair[1]))

    def _figure(self, painter: QPainter, one: Residual, odd: bool, cards: list[QRectF]) -> None:
        theme = self._theme
        start, end = self.corner_px(one.taped.first), self.corner_px(one.taped.second)
        off = signed(one.off_mm, self._workspace.unit) if one.is_checked else tr("unchecked")
        text = f"{self._workspace.length(one.taped.length_mm)}  {off}"
        metrics = QFontMetricsF(painter.font())
        size = (metrics.horizontalAdvance(text) + 12, metrics.height() + 4)
        card = QRectF()
        for share in (0.5, 0.38, 0.62, 0.28, 0.72, 0.2, 0.8):  # along the line until it hides no other figure
            middle = start + (end - start) * share
            card = QRectF(middle.x() - size[0] / 2, middle.y() - size[1] / 2, *size)
            if not any(card.intersects(other) for other in cards):
                break
        cards.append(card)
        painter.setPen(QPen(theme.colour("stop" if odd else "line_strong"), 2 if odd else 1))
        painter.setBrush(theme.colour("stop_soft" if odd else "panel"))
        painter.drawRoundedRect(card, 5, 5)
        painter.setPen(theme.colour("ink"))
        painter.drawText(card, Qt.AlignmentFlag.AlignCenter, text)

    def _corner(self, painter: QPainter, name: str) -> None:
        theme, at = self._theme, self.corner_px(name)
        size = 13.0 * self._type_scale
        chosen = self.pair is not None and name in self.pair
        painter.setPen(QPen(theme.colour("paper"), 2))
        painter.setBrush(theme.colour("accent" if chosen else "ink"))
        painter.drawEllipse(at, size, size)
        painter.setPen(theme.colour("on_accent" if chosen else "paper"))
        painter.drawText(QRectF(at.x() - 20, at.y() - 20, 40, 40), Qt.AlignmentFlag.AlignCenter, name)

    def _corner_at(self, at: QPointF) -> str | None:
        found = [
            (math.hypot(self.corner_px(one.name).x() - at.x(), self.corner_px(one.name).y() - at.y()), one.name)
            for one in self._workspace.container.corners
        ]
        nearest = min(found, default=(math.inf, ""))
        return nearest[1] if nearest[0] <= _GRAB_PX * self._type_scale else None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Take hold of a corner."""
        self._held, self._moved = self._corner_at(event.position()), False

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Say that a corner can be taken; note that it is being carried."""
        if self._held is None:
            over = self._corner_at(event.position()) is not None
            self.setCursor(Qt.CursorShape.OpenHandCursor if over else Qt.CursorShape.ArrowCursor)
        else:
            at = self.corner_px(self._held)
            self._moved |= math.hypot(event.position().x() - at.x(), event.position().y() - at.y()) > 6

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Put the corner down, or take it as one end of the next distance."""
        held, self._held = self._held, None
        if held is None:
            return
        if self._moved:
            x, y = self._scale().to_mm(event.position())
            self.corner_moved.emit(held, round(x, 1), round(y, 1))
        else:
            self.pick(held)

    def pick(self, name: str) -> None:
        """Take a corner as one end of the next distance; the second one makes a pair of both."""
        if self._picked is None or self._picked == name:
            self._picked = name
            self.show_pair((name, name))
        else:
            self.pair_chosen.emit(self._picked, name)
            self._picked = None

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Letters choose corners, two of them a pair."""
        name = event.text().upper()
        if name not in {one.name for one in self._workspace.container.corners}:
            event.ignore()
        else:
            self.pick(name)
