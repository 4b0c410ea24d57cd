"""The picture with the outlines over it: points to drag, two marks to set, a lens at the cursor.

The picture is shown as the plane at the height of the chosen thing's edge would be seen from straight above, so that
its true outline lies on the edge that it was taken from.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import (
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPen,
    QResizeEvent,
    QTransform,
    QWheelEvent,
)
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.desk.bench_session import RetouchSession
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.painting import paints, saved
from cozy_burrow.app.look.theme.theme import Theme, type_font
from cozy_burrow.app.scene.paths import ring_path
from cozy_burrow.core.capture.photo.sides import swell
from cozy_burrow.core.capture.retouch.draft import Draft, reshaped
from cozy_burrow.core.capture.retouch.shaping import moved_point
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.records import Outline, Point
from cozy_burrow.core.tongue import tr

_GRAB_PX = 9.0
_LENS_PX = 82.0
_LENS_TIMES = 3.5
_POINT_ROOM_PX = 7.0  # points nearer to each other than this on screen are not shown one by one


class RetouchCanvas(QWidget):
    """Shows a session and turns the hand's moves into its changes."""

    def __init__(self, session: RetouchSession, workspace: Workspace, theme: Theme, scale: float) -> None:
        super().__init__()
        self._session, self._workspace, self.theme, self._scale = session, workspace, theme, scale
        self._image = QImage()
        self._pixels: NDArray[np.uint8] | None = None
        self._view = QTransform()
        self._cursor: QPointF | None = None
        self._grabbed: tuple[int, int] | None = None
        self._dragged: Outline | None = None
        self._pan: QPointF | None = None
        self.lens = True
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(300, 200)
        self.setAccessibleName(tr("Retouch bench: the photo with outlines; arrow keys move the active mark"))
        session.opened.connect(self._take_picture)
        session.closed.connect(self._let_go)
        session.changed.connect(self._drop_point)
        session.marks_moved.connect(self.update)
        self._take_picture()

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self.theme = theme
        self.update()

    # Where things are

    def _take_picture(self) -> None:
        capture = self._session.capture
        if capture is None:
            return
        pixels = self._pixels = capture.backdrop.pixels  # the array must outlive the image
        self._image = QImage(
            pixels.data, pixels.shape[1], pixels.shape[0], pixels.strides[0], QImage.Format.Format_RGB888
        )
        self.fit()

    def _drop_point(self) -> None:
        """The drafts have changed: a point that was held may be another one, or none, by now."""
        self._grabbed = self._dragged = None
        self.update()

    def _let_go(self) -> None:
        """The picture was taken away: it need not be kept until another one comes."""
        self._dragged = self._grabbed = None
        self._image, self._pixels = QImage(), None

    def fit(self) -> None:
        """Show everything."""
        capture = self._session.capture
        if capture is None or self.width() < 10:
            return
        box = capture.backdrop
        width, height = self._image.width() * box.cell_mm, self._image.height() * box.cell_mm
        shapes = [polygon_of(one.item.outline).bounds for one in self._session.table.drafts]
        left, top = min(one[0] for one in shapes) - 12, min(one[1] for one in shapes) - 12
        right, bottom = max(one[2] for one in shapes) + 12, max(one[3] for one in shapes) + 12
        left, top = max(left, box.origin_mm[0] - 20), max(top, box.origin_mm[1] - 20)
        right, bottom = min(right, box.origin_mm[0] + width + 20), min(bottom, box.origin_mm[1] + height + 20)
        times = min(self.width() / (right - left), self.height() / (bottom - top))
        self._view = QTransform()
        self._view.translate(self.width() / 2, self.height() / 2)
        self._view.scale(times, times)
        self._view.translate(-(left + right) / 2, -(top + bottom) / 2)
        self.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Keep everything in sight."""
        super().resizeEvent(event)
        self.fit()

    @property
    def px_per_mm(self) -> float:
        """Pixels to the millimetre."""
        return self._view.m11()

    def at_mm(self, at: QPointF) -> Point:
        """Return the place in the picture's millimetres under a point of this widget."""
        back, _ = self._view.inverted()
        found = back.map(at)
        return found.x(), found.y()

    def pixel_of(self, at: Point) -> QPointF:
        """Return where a place in millimetres is on this widget."""
        return self._view.map(QPointF(*at))

    # Painting

    @paints
    def paintEvent(self, painter: QPainter) -> None:
        """Paint picture, outlines, marks and the lens."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), self.theme.colour("bench"))
        if not self._session.is_open:
            return
        self._paint_all(painter, self._view)
        self._paint_told(painter)
        if self.lens and self._cursor is not None:
            self._paint_lens(painter, self._cursor)
        if self.hasFocus():
            painter.setPen(QPen(self.theme.colour("accent"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))

    def _paint_all(self, painter: QPainter, view: QTransform) -> None:
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
                    self._image.width() * box.cell_mm,
                    self._image.height() * box.cell_mm,
                )
                painter.drawImage(room, self._image)
            for number, draft in enumerate(self._session.table.drafts):
                self._paint_draft(painter, draft, chosen=number == self._session.table.chosen)
        self._paint_points(painter, view)
        self._paint_marks(painter, view)

    def _paint_draft(self, painter: QPainter, draft: Draft, *, chosen: bool) -> None:
        outline = self._dragged if chosen and self._dragged is not None else draft.item.outline
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
        if len(draft.item.zones) > 1:
            line.setStyle(Qt.PenStyle.DotLine)
            painter.setPen(line)
            for zone in draft.item.zones:
                painter.drawPath(ring_path(zone.region.outer))

    def _paint_points(self, painter: QPainter, view: QTransform) -> None:
        """Paint the points of the chosen outline where there is room to take hold of one."""
        outline = self._dragged or self._session.draft.item.outline
        painter.setPen(QPen(self.theme.colour("accent"), 1.4))
        painter.setBrush(self.theme.colour("paper"))
        for ring in (outline.outer, *outline.holes):
            last: QPointF | None = None
            for point in ring:
                at = view.map(QPointF(*point))
                if last is None or math.hypot(at.x() - last.x(), at.y() - last.y()) >= _POINT_ROOM_PX:
                    painter.drawRect(QRectF(at.x() - 2.5, at.y() - 2.5, 5, 5))
                    last = at

    def _paint_marks(self, painter: QPainter, view: QTransform) -> None:
        first, second = (view.map(QPointF(*mark)) for mark in self._session.marks)
        line = QPen(self.theme.colour("care"), 1.4, Qt.PenStyle.DashLine)
        painter.setPen(line)
        painter.drawLine(first, second)
        painter.setFont(type_font("figure", self._scale))
        for number, (name, at) in enumerate((("A", first), ("B", second))):
            active = number == self._session.active_mark
            size = (11 if active else 9) * self._scale
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

    def _paint_told(self, painter: QPainter) -> None:
        capture = self._session.capture
        if capture is not None:
            self._plate(painter, QPointF(10, self.height() - 14), capture.told)

    def _plate(self, painter: QPainter, at: QPointF, text: str) -> None:
        painter.setFont(type_font("small", self._scale))
        box = painter.fontMetrics().boundingRect(text)
        card = QRectF(at.x(), at.y() - box.height(), box.width() + 12, box.height() + 6)
        card.moveLeft(min(card.left(), self.width() - card.width() - 4))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.theme.colour("paper", 0.92))
        painter.drawRoundedRect(card, 4, 4)
        painter.setPen(self.theme.colour("ink"))
        painter.drawText(card, Qt.AlignmentFlag.AlignCenter, text)

    def _paint_lens(self, painter: QPainter, at: QPointF) -> None:
        radius = min(_LENS_PX * self._scale, 0.24 * min(self.width(), self.height()))
        middle = QPointF(
            at.x() + radius + 26 if at.x() + 2 * radius + 30 < self.width() else at.x() - radius - 26,
            at.y() - radius - 26 if at.y() - 2 * radius - 30 > 0 else at.y() + radius + 26,
        )
        glass = QPainterPath()
        glass.addEllipse(middle, radius, radius)
        with saved(painter):
            painter.setClipPath(glass)
            painter.fillPath(glass, self.theme.colour("bench"))
            here = self.at_mm(at)
            view = QTransform()
            view.translate(middle.x(), middle.y())
            view.scale(self.px_per_mm * _LENS_TIMES, self.px_per_mm * _LENS_TIMES)
            view.translate(-here[0], -here[1])
            self._paint_all(painter, view)
            painter.setPen(QPen(self.theme.colour("care"), 1))
            painter.drawLine(middle - QPointF(8, 0), middle + QPointF(8, 0))
            painter.drawLine(middle - QPointF(0, 8), middle + QPointF(0, 8))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(self.theme.colour("line_strong"), 3))
        painter.drawEllipse(middle, radius, radius)

    # The hand

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Take hold of a point or a mark, choose another thing, or set a mark."""
        if not self._session.is_open:
            return
        self.setFocus()
        at = event.position()
        if event.button() != Qt.MouseButton.LeftButton:
            self._pan = at
            return
        self._grabbed = self._point_under(at)
        if self._grabbed is not None:
            return
        place = self.at_mm(at)
        snap = _GRAB_PX / self.px_per_mm
        other = self._draft_under(place, snap)
        if other is not None and other != self._session.table.chosen:
            self._session.choose(other)
            return
        self._session.put_next_mark(place, snap_mm=snap)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Drag what was taken hold of; the lens follows."""
        at = event.position()
        if self._pan is not None:
            moved = at - self._pan
            self._view *= QTransform.fromTranslate(moved.x(), moved.y())
            self._pan = at
        elif self._grabbed is not None and self._session.is_open:
            ring, index = self._grabbed
            outline = self._session.draft.item.outline
            rings = [list(one) for one in (outline.outer, *outline.holes)]
            rings[ring][index] = self.at_mm(at)
            self._dragged = Outline(outer=tuple(rings[0]), holes=tuple(tuple(one) for one in rings[1:]))
        self._cursor = at
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Leave the point where it is now."""
        self._pan = None
        grabbed, self._grabbed = self._grabbed, None
        dragged, self._dragged = self._dragged, None
        if grabbed is not None and dragged is not None:
            ring, index = grabbed
            to = (dragged.outer, *dragged.holes)[ring][index]
            self._session.do_draft(
                tr("Move a point"),
                lambda draft: reshaped(draft, moved_point(draft.item.outline, ring=ring, index=index, to=to)),
            )
        elif grabbed is not None:  # a click on a point sets the mark there
            ring, index = grabbed
            outline = self._session.draft.item.outline
            self._session.put_next_mark((outline.outer, *outline.holes)[ring][index], snap_mm=1e-3)
        self.update()

    def point_at(self, at: QPointF) -> None:
        """Show the lens at a point of this widget, as if the cursor were there."""
        self._cursor = at
        self.update()

    def leaveEvent(self, event: object) -> None:
        """No lens while the cursor is elsewhere."""
        self._cursor = None
        self.update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        """Come nearer at the cursor, or step back."""
        self.zoom(1.0015 ** event.angleDelta().y(), about=event.position())

    def zoom(self, times: float, *, about: QPointF | None = None) -> None:
        """Show the picture larger or smaller, one place staying where it is."""
        about = QPointF(self.width() / 2, self.height() / 2) if about is None else about
        if not 0.3 <= self.px_per_mm * times <= 120:
            return
        step = QTransform()
        step.translate(about.x(), about.y())
        step.scale(times, times)
        step.translate(-about.x(), -about.y())
        self._view *= step
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows nudge the active mark, with Shift finely; N and B walk it along the outline; M takes the other one."""
        if not self._session.is_open:
            return
        step = 0.1 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
        ways = {
            Qt.Key.Key_Left: (-step, 0.0),
            Qt.Key.Key_Right: (step, 0.0),
            Qt.Key.Key_Up: (0.0, -step),
            Qt.Key.Key_Down: (0.0, step),
        }
        key = Qt.Key(event.key())
        if key in ways:
            self._session.nudge_mark(*ways[key])
        elif key == Qt.Key.Key_N:
            self._session.walk_mark(step * 2)
        elif key == Qt.Key.Key_B:
            self._session.walk_mark(-step * 2)
        elif key == Qt.Key.Key_M:
            self._session.switch_mark()
        elif key in {Qt.Key.Key_PageDown, Qt.Key.Key_PageUp}:
            way = 1 if key == Qt.Key.Key_PageDown else -1
            self._session.choose((self._session.table.chosen + way) % len(self._session.table.drafts))
        elif key in {Qt.Key.Key_Plus, Qt.Key.Key_Equal}:
            self.zoom(1.25)
        elif key == Qt.Key.Key_Minus:
            self.zoom(0.8)
        else:
            super().keyPressEvent(event)

    def _point_under(self, at: QPointF) -> tuple[int, int] | None:
        outline = self._session.draft.item.outline
        best: tuple[float, tuple[int, int]] | None = None
        for ring, points in enumerate((outline.outer, *outline.holes)):
            for index, point in enumerate(points):
                spot = self.pixel_of(point)
                far = math.hypot(spot.x() - at.x(), spot.y() - at.y())
                if far <= _GRAB_PX * 0.75 and (best is None or far < best[0]):
                    best = (far, (ring, index))
        return best[1] if best is not None else None

    def _draft_under(self, place: Point, within_mm: float) -> int | None:
        from shapely.geometry import Point as ShapelyPoint

        for number, draft in enumerate(self._session.table.drafts):
            if polygon_of(draft.item.outline).distance(ShapelyPoint(place)) <= within_mm:
                return number
        return None
