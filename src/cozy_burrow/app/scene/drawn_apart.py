"""What a row that falls apart under a hand leaves where it lies: painted once, not at every step of the drag."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QPoint, QRectF, Qt
from PySide6.QtGui import QPainter, QPixmap, QTransform

from cozy_burrow.app.look.painting import drawing_on, saved
from cozy_burrow.core.ground.ground import Cutout

_LARGEST = 3_000_000  # pixels of the picture
_ROOM = 4  # pixels round what is cut, for its line

Painting = Callable[[QPainter, list[Cutout]], None]


class DrawnApart:
    """Tells what lies as it did a step ago from what moves, and keeps one picture of the former."""

    def __init__(self) -> None:
        self._last: dict[tuple[int, ...], Cutout] = {}  # holds what it knows by identity
        self._still: frozenset[tuple[int, ...]] = frozenset()
        self._kept: tuple[QTransform, QPixmap, QPoint] | None = None

    def clear(self) -> None:
        """Forget the picture: colours have changed."""
        self._kept = None

    def paint(self, painter: QPainter, cutouts: Sequence[Cutout], draw: Painting) -> None:
        """Paint cutouts, what lies still over what moves: a trench mostly goes deeper than the pocket that leaves it.

        draw: paints some of them with a painter in plan coordinates.
        """
        now = {tuple(map(id, one.areas)): one for one in cutouts}
        if now.keys() != self._last.keys():  # else it is the same step, painted again
            still = frozenset(now.keys() & self._last.keys())
            was, self._last, self._still = self._still, now, still
            if still != was:  # somebody makes way: at the next step it may be somebody else
                self._kept = None
                draw(painter, list(cutouts))
                return
        where = painter.transform()
        if self._kept is None or self._kept[0] != where:
            self._kept = _picture([one for key, one in now.items() if key in self._still], where, draw)
        if self._kept is None:
            draw(painter, list(cutouts))
            return
        draw(painter, [one for key, one in now.items() if key not in self._still])
        with saved(painter):
            painter.resetTransform()
            painter.drawPixmap(self._kept[2], self._kept[1])


def _picture(cutouts: list[Cutout], where: QTransform, draw: Painting) -> tuple[QTransform, QPixmap, QPoint] | None:
    """Return the picture of some cutouts as a painter would paint them, and its corner; None where it is too large."""
    reach = QRectF()
    for one in cutouts:
        left, top, right, bottom = one.bounds
        reach = reach.united(QRectF(left, top, right - left, bottom - top))
    place = where.mapRect(reach).toAlignedRect().adjusted(-_ROOM, -_ROOM, _ROOM, _ROOM)
    if place.width() * place.height() > _LARGEST:
        return None
    picture = QPixmap(place.size())
    picture.fill(Qt.GlobalColor.transparent)
    with drawing_on(picture) as brush:
        brush.setTransform(where * QTransform.fromTranslate(-place.x(), -place.y()))
        draw(brush, cutouts)
    return QTransform(where), picture, place.topLeft()
