"""What is painted on the retouch bench: the picture, the outlines with their points, the two marks, the lens."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QImage, QPainter, QPainterPath, QPen, QTransform
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.desk.bench_session import RetouchSession
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.painting import saved
from cozy_burrow.app.look.theme.theme import Theme, type_font
from cozy_burrow.app.scene.paths import ring_path
from cozy_burrow.core.capture.photo.sides import swell
from cozy_burrow.core.capture.retouch.draft import Draft, doubtful
from cozy_burrow.core.model.records import Outline

_LENS_PX = 82.0
_LENS_TIMES = 3.5
_POINT_ROOM_PX = 7.0  # points nearer to each other than this on screen are not shown one by one


class BenchPainting:
    """Paints an open session on a widget.

    image: its picture. dragged: the chosen outline while a point of it is moved.
    """

    def __init__(self, on: QWidget, session: RetouchSession, workspace: Workspace, theme: Theme, scale: float) -> None:
        self._on = on
        self._session, self._workspace, self.theme, self.scale = session, workspace, theme, scale
        self.image = QImage()
        self.dragged: Outline | None = None

    def all(self, painter: QPainter, view: QTransform) -> None:
        """Paint the picture and everything on it; view: from millimetres to pixels."""
        capture = self._session.capture
        assert capture is not None
        with saved(painter):
            painter.setTransform(view, True)
            with saved(painter):
                if capture.trace is not None:
                    camera = capture.trace.sight.camera
                    factor = 1 / swell(camera, min(self._session.draft.edge_mm, 0.45 * camera.height_mm))
                    foot = camera.eye_mm
                    painter.translate(foot[0], foot[1])
                    painter.scale(factor, factor)
                    painter.translate(-foot[0], -foot[1])
                box = capture.backdrop
                painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, view.m11() * box.cell_mm < 4)
                room = QRectF(
                    box.origin_mm[0],
                    box.origin_mm[1],
                    self.image.width() * box.cell_mm,
                    self.image.height() * box.cell_mm,
                )
                painter.drawImage(room, self.image)
            for number, draft in enumerate(self._session.table.drafts):
                self._draft(painter, draft, chosen=number == self._session.table.chosen)
        self._points(painter, view)
        self._marks(painter, view)

    def _draft(self, painter: QPainter, draft: Draft, *, chosen: bool) -> None:
        outline = self.dragged if chosen and self.dragged is not None else draft.item.outline
        path = QPainterPath()
        for ring in (outline.outer, *outline.holes):
            path.addPath(ring_path(ring))
        painter.setBrush(self.theme.colour("accent", 0.16) if chosen else Qt.BrushStyle.NoBrush)
        halo = QPen(self.theme.colour("paper", 0.85), 3.6 if chosen else 3.0)
        halo.setCosmetic(True)
        painter.setPen(halo)
        painter.drawPath(path)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        line = QPen(self.theme.colour("accent" if chosen else "ink_soft"), 1.8 if chosen else 1.4)
        line.setCosmetic(True)
        if not chosen:
            line.setStyle(Qt.PenStyle.DashLine)
        painter.setPen(line)
        painter.drawPath(path)
        if chosen and self.dragged is None:
            self._doubts(painter, draft)
        if len(draft.item.zones) > 1:
            line.setStyle(Qt.PenStyle.DotLine)
            painter.setPen(line)
            for zone in draft.item.zones:
                painter.drawPath(ring_path(zone.region.outer))

    def _doubts(self, painter: QPainter, draft: Draft) -> None:
        """Paint the runs of an outline that the photo hardly supports in another line."""
        capture = self._session.capture
        runs = [] if capture is None else doubtful(draft, capture.trace)
        for pen in (QPen(self.theme.colour("paper"), 5.0), QPen(self.theme.colour("care"), 2.6, Qt.PenStyle.DotLine)):
            pen.setCosmetic(True)
            painter.setPen(pen)
            for run in runs:
                painter.drawPolyline([QPointF(*point) for point in run])

    def _points(self, painter: QPainter, view: QTransform) -> None:
        """Paint the points of the chosen outline where there is room to take hold of one."""
        outline = self.dragged or self._session.draft.item.outline
        painter.setPen(QPen(self.theme.colour("accent"), 1.4))
        painter.setBrush(self.theme.colour("paper"))
        for ring in (outline.outer, *outline.holes):
            last: QPointF | None = None
            for point in ring:
                at = view.map(QPointF(*point))
                if last is None or math.hypot(at.x() - last.x(), at.y() - last.y()) >= _POINT_ROOM_PX:
                    painter.drawRect(QRectF(at.x() - 2.5, at.y() - 2.5, 5, 5))
                    last = at

    def _marks(self, painter: QPainter, view: QTransform) -> None:
        first, second = (view.map(QPointF(*mark)) for mark in self._session.marks)
        line = QPen(self.theme.colour("care"), 1.4, Qt.PenStyle.DashLine)
        painter.setPen(line)
        painter.drawLine(first, second)
        painter.setFont(type_font("figure", self.scale))
        for number, (name, at) in enumerate((("A", first), ("B", second))):
            active = number == self._session.active_mark
            size = (11 if active else 9) * self.scale
            painter.setPen(QPen(self.theme.colour("care"), 2.6 if active else 1.4))
            painter.setBrush(self.theme.colour("paper", 0.9))
            spot = at + QPointF(0, -size - 6)
            painter.drawLine(at, spot)
            painter.drawEllipse(spot + QPointF(0, -size / 2), size, size)
            painter.setPen(self.theme.colour("ink"))
            card = QRectF(spot.x() - size, spot.y() - 1.5 * size, 2 * size, 2 * size)
            painter.drawText(card, Qt.AlignmentFlag.AlignCenter, name)
        length = math.dist(*self._session.marks)
        text = f"A–B {self._workspace.length(length, digits=2)}"
        self._plate(painter, (first + second) / 2 + QPointF(10, 10), text)

    def told(self, painter: QPainter) -> None:
        """Paint in a corner what is told of the picture."""
        capture = self._session.capture
        if capture is not None:
            self._plate(painter, QPointF(10, self._on.height() - 14), capture.told)

    def _plate(self, painter: QPainter, at: QPointF, text: str) -> None:
        painter.setFont(type_font("small", self.scale))
        box = painter.fontMetrics().boundingRect(text)
        card = QRectF(at.x(), at.y() - box.height(), box.width() + 12, box.height() + 6)
        card.moveLeft(min(card.left(), self._on.width() - card.width() - 4))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.theme.colour("paper", 0.92))
        painter.drawRoundedRect(card, 4, 4)
        painter.setPen(self.theme.colour("ink"))
        painter.drawText(card, Qt.AlignmentFlag.AlignCenter, text)

    def lens(self, painter: QPainter, view: QTransform, at: QPointF) -> None:
        """Paint what lies under a point, larger, in a round glass beside it."""
        radius = min(_LENS_PX * self.scale, 0.24 * min(self._on.width(), self._on.height()))
        middle = QPointF(
            at.x() + radius + 26 if at.x() + 2 * radius + 30 < self._on.width() else at.x() - radius - 26,
            at.y() - radius - 26 if at.y() - 2 * radius - 30 > 0 else at.y() + radius + 26,
        )
        glass = QPainterPath()
        glass.addEllipse(middle, radius, radius)
        with saved(painter):
            painter.setClipPath(glass)
            painter.fillPath(glass, self.theme.colour("bench"))
            nearer = QTransform()
            nearer.translate(middle.x(), middle.y())
            nearer.scale(_LENS_TIMES, _LENS_TIMES)
            nearer.translate(-at.x(), -at.y())
            self.all(painter, view * nearer)
            painter.setPen(QPen(self.theme.colour("care"), 1))
            painter.drawLine(middle - QPointF(8, 0), middle + QPointF(8, 0))
            painter.drawLine(middle - QPointF(0, 8), middle + QPointF(0, 8))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(self.theme.colour("line_strong"), 3))
        painter.drawEllipse(middle, radius, radius)
