"""Pictures of the names on the plan: a rim round letters takes a millisecond a name, and they stay as they are."""

from __future__ import annotations

import math
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QPainterPath, QPen, QPixmap, QTransform

from cozy_burrow.app.look.painting import drawing_on

_A_FRAME = 6  # new ones in one painting: more of them would hold the window up
_MOST = 600  # a hundred items at some angles; a name's picture takes some ten kilobytes
_RIM_PX = 3.5


@dataclass(frozen=True)
class Dress:
    """What names are written in: the colour of letters, that of the rim round them, and dots to a pixel."""

    ink: QColor
    halo: QColor
    sharp: float


@dataclass(frozen=True)
class WordStamp:
    """A name written at an angle: where its letters are, and its picture and corner, from its middle, in pixels."""

    place: QRectF
    picture: QPixmap
    corner: QPointF


class WordStamps:
    """Keeps the pictures of names. They are made some at a time: `rest_is_due` says that not all were."""

    def __init__(self, font: QFont) -> None:
        self._font = font
        self._kept: dict[tuple[object, ...], WordStamp] = {}
        self._left = 0
        self.rest_is_due = False

    def begin(self, *, all_at_once: bool) -> None:
        """Begin a painting of names."""
        self._left = _MOST if all_at_once else _A_FRAME
        self.rest_is_due = False

    def stamp(self, text: str, angle_deg: float, dress: Dress) -> WordStamp | None:
        """Return a name's picture; None where it is to be made in the next painting."""
        key = (text, round(angle_deg, 3), dress.ink.rgba(), dress.halo.rgba(), dress.sharp)
        known = self._kept.get(key)
        if known is None:
            if self._left <= 0:
                self.rest_is_due = True
                return None
            self._left -= 1
            if len(self._kept) >= _MOST:
                self._kept.clear()
            known = self._kept[key] = self._made(text, angle_deg, dress)
        return known

    def _made(self, text: str, angle_deg: float, dress: Dress) -> WordStamp:
        metrics = QFontMetricsF(self._font)
        words = QPainterPath()
        across = metrics.horizontalAdvance(text)
        words.addText(-across / 2, (metrics.ascent() - metrics.descent()) / 2, self._font, text)
        words = QTransform().rotate(angle_deg).map(words)
        place = words.boundingRect()
        room = place.adjusted(-_RIM_PX, -_RIM_PX, _RIM_PX, _RIM_PX)
        left, top = math.floor(room.left()), math.floor(room.top())
        size = (math.ceil(room.right() - left) * dress.sharp, math.ceil(room.bottom() - top) * dress.sharp)
        picture = QPixmap(max(1, math.ceil(size[0])), max(1, math.ceil(size[1])))
        picture.setDevicePixelRatio(dress.sharp)
        picture.fill(Qt.GlobalColor.transparent)
        with drawing_on(picture) as brush:
            brush.translate(-left, -top)
            brush.strokePath(words, QPen(dress.halo, _RIM_PX, j=Qt.PenJoinStyle.RoundJoin))
            brush.fillPath(words, dress.ink)
        return WordStamp(place, picture, QPointF(left, top))
