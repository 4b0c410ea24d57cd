"""The path of stages: chambers along a burrow, each showing how far its part of the work is."""

from __future__ import annotations

import math
from itertools import pairwise

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QFont, QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPen
from PySide6.QtWidgets import QToolTip, QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.painting import paints
from cozy_burrow.app.look.theme.theme import Theme, type_font
from cozy_burrow.core.findings.stages import Progress, progress
from cozy_burrow.core.model.stages import ABOUT, STAGES, Stage
from cozy_burrow.core.tongue import tr

STATES = {"untouched": tr("untouched"), "under way": tr("under way"), "fine": tr("fine")}

_SHIFT = 24  # pixels at usual type: from a chamber's end to its name, with the state between
_LEAST_PAD, _APART = 12, 8  # round a name that has the state above it; between chambers
_SMALLEST_PX = 11


class StagePath(QWidget):
    """One chamber a stage; a click or the arrow keys go there."""

    chosen = Signal(str)

    def __init__(self, workspace: Workspace, theme: Theme, scale: float, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._workspace, self._theme, self._scale = workspace, theme, scale
        self.current: Stage = "gather"
        self._progress: tuple[Progress, ...] = ()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setFixedHeight(round(56 * scale))
        self.setAccessibleName(tr("Stages of the work"))
        workspace.document_changed.connect(self.follow)
        workspace.judged.connect(self.follow)
        self.follow()

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self._theme = theme
        self.update()

    def sizeHint(self) -> QSize:
        """Wide enough for all the names."""
        return QSize(round(640 * self._scale), self.height())

    def follow(self) -> None:
        """Show how far the stages are."""
        found = progress(self._workspace.project, self._workspace.findings_seen)
        if found != self._progress:
            self._progress = found
            self._describe()
            self.update()

    def _describe(self) -> None:
        parts = [
            f"{ABOUT[one.stage].title}: {STATES[one.state]}"
            + (tr(", {stops} to fix", stops=one.stops) * bool(one.stops))
            for one in self._progress
        ]
        self.setAccessibleDescription(tr("{title} is shown. ", title=ABOUT[self.current].title) + "; ".join(parts))

    def show_stage(self, stage: Stage) -> None:
        """Mark a stage as the one that is shown."""
        self.current = stage
        self._describe()
        self.update()

    def chamber(self, stage: Stage) -> QRectF:
        """Return where a stage's chamber lies on this widget: each as wide as its name, and what is left shared."""
        font, beside = self._fitting()
        metrics = QFontMetricsF(font)
        more = 2 * _SHIFT * self._scale if beside else _LEAST_PAD
        wanted = [metrics.horizontalAdvance(ABOUT[one].title) + more + _APART for one in STAGES]
        extra = (self.width() - sum(wanted)) / len(STAGES)
        at = STAGES.index(stage)
        return QRectF(sum(wanted[:at]) + at * extra + _APART / 2, 7, wanted[at] + extra - _APART, self.height() - 14)

    @property
    def readable_px(self) -> int:
        """Width in which all names stand in usual type, each with its state above it."""
        return math.ceil(self._wanted(type_font("figure", self._scale), _LEAST_PAD))

    @staticmethod
    def _wanted(font: QFont, more: float) -> float:
        metrics = QFontMetricsF(font)
        return sum(metrics.horizontalAdvance(ABOUT[one].title) + more + _APART for one in STAGES)

    def _fitting(self) -> tuple[QFont, bool]:
        """Return the type that all names are written in, and whether the state has room beside them.

        Large type in a narrow window: the state stands above the name, and all names get smaller alike.
        """
        font = type_font("figure", self._scale)
        if self._wanted(font, 2 * _SHIFT * self._scale) <= self.width():
            return font, True
        while font.pixelSize() > _SMALLEST_PX and self._wanted(font, _LEAST_PAD) > self.width():
            font.setPixelSize(font.pixelSize() - 1)
        return font, False

    @paints
    def paintEvent(self, painter: QPainter) -> None:
        """Paint the tunnel and its chambers."""
        theme = self._theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        tunnel = QPainterPath(self.chamber(STAGES[0]).center())
        for before, after in pairwise(STAGES):
            a, b = self.chamber(before).center(), self.chamber(after).center()
            dip = QPointF((a.x() + b.x()) / 2, a.y() + 13 * self._scale)
            tunnel.quadTo(dip, b)
        painter.setPen(QPen(theme.colour("bench"), 10 * self._scale, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        painter.drawPath(tunnel)
        font, beside = self._fitting()
        for one in self._progress:
            painter.setFont(font)
            self._paint_chamber(painter, one, beside=beside)

    def _paint_chamber(self, painter: QPainter, one: Progress, *, beside: bool) -> None:
        theme, rect = self._theme, self.chamber(one.stage)
        current = one.stage == self.current
        painter.setBrush(theme.colour("accent" if current else "paper"))
        edge = theme.colour("accent" if current or one.state != "untouched" else "line_strong")
        painter.setPen(QPen(edge, 3 if current and self.hasFocus() else 1.5))
        bend = min(rect.height() / 2, rect.width() / 4)
        painter.drawRoundedRect(rect, bend, bend)
        if current and self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("on_accent"), 1.5))
            painter.drawRoundedRect(rect.adjusted(4, 4, -4, -4), bend - 4, bend - 4)
        ink = theme.colour("on_accent" if current else "ink")
        painter.setPen(ink)
        name = ABOUT[one.stage].title
        if beside:
            shift = _SHIFT * self._scale
            painter.drawText(rect.adjusted(shift, 0, -6, 0), Qt.AlignmentFlag.AlignCenter, name)
            self._paint_state(painter, one, QPointF(rect.left() + shift * 0.9, rect.center().y()), current)
            return
        low = rect.adjusted(2, rect.height() * 0.48, -2, -4)
        name = painter.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, round(low.width()))
        painter.drawText(low, Qt.AlignmentFlag.AlignCenter, name)
        self._paint_state(painter, one, QPointF(rect.center().x(), rect.top() + rect.height() * 0.28), current)

    def _paint_state(self, painter: QPainter, one: Progress, at: QPointF, current: bool) -> None:
        """Hollow ring: untouched. Half: under way. Tick: fine. A figure: so many stops."""
        theme, r = self._theme, 8.0 * self._scale
        ink = theme.colour("on_accent" if current else "ink")
        painter.setPen(QPen(ink, 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        ring = QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r)
        if one.stops:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.colour("stop"))
            painter.drawEllipse(ring.adjusted(-1, -1, 1, 1))
            painter.setPen(theme.colour("paper"))
            font = type_font("small", self._scale)
            font.setBold(True)
            painter.setFont(font)
            painter.drawText(ring, Qt.AlignmentFlag.AlignCenter, str(min(99, one.stops)))
            return
        painter.drawEllipse(ring)
        if one.state == "fine":
            tick = QPainterPath(QPointF(at.x() - r * 0.5, at.y()))
            tick.lineTo(at.x() - r * 0.1, at.y() + r * 0.45)
            tick.lineTo(at.x() + r * 0.55, at.y() - r * 0.45)
            painter.setPen(QPen(ink, 2.2))
            painter.drawPath(tick)
        elif one.state == "under way":
            painter.setBrush(ink)
            painter.drawPie(ring, 90 * 16, -180 * 16)

    def _stage_at(self, at: QPointF) -> Stage | None:
        return next((stage for stage in STAGES if self.chamber(stage).contains(at)), None)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Go to the stage under the pointer."""
        stage = self._stage_at(event.position())
        if stage is not None:
            self.chosen.emit(stage)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Say what the stage under the pointer asks."""
        stage = self._stage_at(event.position())
        if stage is not None:
            one = self._progress[STAGES.index(stage)]
            QToolTip.showText(event.globalPosition().toPoint(), f"{ABOUT[stage].question}\n{STATES[one.state]}", self)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Left and right go from stage to stage."""
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        if step:
            index = min(max(0, STAGES.index(self.current) + step), len(STAGES) - 1)
            self.chosen.emit(STAGES[index])
        else:
            event.ignore()
