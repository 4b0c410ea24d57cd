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
    QPen,
    QResizeEvent,
    QTransform,
    QWheelEvent,
)
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.desk.bench_session import RetouchSession
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.painting import paints
from cozy_burrow.app.look.theme.theme import Theme
from cozy_burrow.app.screens.gather.retouch.bench_painting import BenchPainting
from cozy_burrow.core.capture.retouch.draft import reshaped
from cozy_burrow.core.capture.retouch.shaping import moved_point
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.records import Outline, Point
from cozy_burrow.core.tongue import tr

_GRAB_PX = 9.0
_NEAR_PX_PER_MM = 9.0


class RetouchCanvas(QWidget):
    """Shows a session and turns the hand's moves into its changes."""

    def __init__(self, session: RetouchSession, workspace: Workspace, theme: Theme, scale: float) -> None:
        super().__init__()
        self._session, self.theme = session, theme
        self._painting = BenchPainting(self, session, workspace, theme, scale)
        self._pixels: NDArray[np.uint8] | None = None
        self._view = QTransform()
        self._cursor: QPointF | None = None
        self._grabbed: tuple[int, int] | None = None
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
        self.theme = self._painting.theme = theme
        self.update()

    # Where things are

    def _take_picture(self) -> None:
        capture = self._session.capture
        if capture is None:
            return
        pixels = self._pixels = capture.backdrop.pixels  # the array must outlive the image
        self._painting.image = QImage(
            pixels.data, pixels.shape[1], pixels.shape[0], pixels.strides[0], QImage.Format.Format_RGB888
        )
        self.fit()

    def _drop_point(self) -> None:
        """The drafts have changed: a point that was held may be another one, or none, by now."""
        self._grabbed = self._painting.dragged = None
        self.update()

    def _let_go(self) -> None:
        """The picture was taken away: it need not be kept until another one comes."""
        self._painting.dragged = self._grabbed = None
        self._painting.image, self._pixels = QImage(), None

    def fit(self) -> None:
        """Show everything."""
        capture = self._session.capture
        if capture is None or self.width() < 10:
            return
        box = capture.backdrop
        width, height = self._painting.image.width() * box.cell_mm, self._painting.image.height() * box.cell_mm
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

    def look_at(self, place: Point) -> None:
        """Bring a place to the middle, near enough to see what its edge is."""
        times = max(self.px_per_mm, _NEAR_PX_PER_MM * self._painting.scale)
        self._view = QTransform()
        self._view.translate(self.width() / 2, self.height() / 2)
        self._view.scale(times, times)
        self._view.translate(-place[0], -place[1])
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
        self._painting.all(painter, self._view)
        self._painting.told(painter)
        if self.lens and self._cursor is not None:
            self._painting.lens(painter, self._view, self._cursor)
        if self.hasFocus():
            painter.setPen(QPen(self.theme.colour("accent"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))

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
            self._painting.dragged = Outline(outer=tuple(rings[0]), holes=tuple(tuple(one) for one in rings[1:]))
        self._cursor = at
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Leave the point where it is now."""
        self._pan = None
        grabbed, self._grabbed = self._grabbed, None
        dragged, self._painting.dragged = self._painting.dragged, None
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
