"""Painting the plan as a lit picture: the whole of it at rest, in a drag bare foam and every thing as it was lit."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter, QPixmap

from cozy_burrow.app.look.painting import saved
from cozy_burrow.app.scene.carried import Carried
from cozy_burrow.app.scene.relief import Relief
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.relief.picture import can_be_mended

_DOT = 1.5  # pixels: a picture that is so much wider or narrower than its place has its scale


class LitPainting:
    """Paints what a relief has made; between two paintings at rest, what a hand carries is cut out of the first."""

    def __init__(self, relief: Relief) -> None:
        self._relief = relief
        self._carried: Carried | None = None

    def paint(self, painter: QPainter, ground: Ground, solid: float) -> bool:
        """Paint a ground at rest; False where there is no picture of it yet."""
        self._carried = None
        sharp = _sharp(painter)
        shown = self._relief.shown(ground, painter.transform().m11() * sharp, solid)
        if shown is None:
            return False
        _put(painter, shown.pixmap, shown.place, sharp)
        return True

    def paint_carried(self, painter: QPainter, ground: Ground, exposed: QRectF) -> set[str] | None:
        """Paint a ground under a moving hand; None where there is no picture that it could be made from.

        Return the placements that it is not made of: they must be drawn.
        """
        if self._carried is None:
            now, bare = self._relief.now, self._relief.bare()
            if now is None or bare is None:
                return None
            self._carried = Carried(now.picture, bare)
        carried = self._carried
        if not can_be_mended(carried.picture, ground):
            return None
        sharp = _sharp(painter)
        _put(painter, carried.foam, carried.place, sharp)
        apart: set[str] = set()
        for row, shift in carried.moved(ground):
            if shift is None:
                apart |= row
            elif carried.is_seen(row, shift, exposed) and (sprite := carried.sprite(row)) is not None:
                _put(painter, sprite[0], sprite[1].translated(shift), sharp)
        return apart


def _sharp(painter: QPainter) -> float:
    """Return how many dots of the screen a pixel is."""
    device = painter.device()
    return float(device.devicePixelRatioF()) if device is not None else 1.0


def _put(painter: QPainter, picture: QPixmap, place: QRectF, sharp: float) -> None:
    """Paint a picture where it belongs in the plan: dot by dot where it has this scale, else as large as its place."""
    target = painter.transform().mapRect(place)
    with saved(painter):
        painter.resetTransform()
        if abs(target.width() * sharp - picture.width()) < _DOT:
            at = QPointF(round(target.x() * sharp) / sharp, round(target.y() * sharp) / sharp)
            target = QRectF(at.x(), at.y(), picture.width() / sharp, picture.height() / sharp)
        else:
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawPixmap(target, picture, QRectF(picture.rect()))
