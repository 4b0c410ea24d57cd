"""Pictures of items and of areas, for while a hand moves: stamped to the nearest pixel instead of painted anew."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

import numpy as np
import shapely
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPixmap, QTransform
from shapely.geometry.base import BaseGeometry

from cozy_burrow.app.look.painting import drawing_on
from cozy_burrow.app.look.theme.theme import Theme
from cozy_burrow.app.scene.paths import area_path
from cozy_burrow.app.scene.tool_painting import paint_tool
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.ground.ground import Cutout
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Item, Placement

_LARGEST = 400_000  # pixels of one
_MOST = 6_000_000  # of all together, four bytes each
_ROOM = 3  # pixels round a shape, for its line

Stamp = tuple[QPixmap, QPointF]  # a picture, and its corner from where the shape belongs


class Stamps:
    """Keeps pictures by what they show and how large; all go where there are too many."""

    def __init__(self) -> None:
        self._kept: dict[tuple[object, ...], tuple[QPixmap, QPointF, object]] = {}
        self._pixels = 0

    def clear(self) -> None:
        """Forget them: colours have changed."""
        self._kept.clear()
        self._pixels = 0

    def item(self, item: Item, angle_deg: float, scale: float, theme: Theme, alpha: float) -> Stamp | None:
        """Return the picture of an item turned by an angle, from its origin; None where it is too large for one."""
        turned = QTransform().scale(scale, scale).rotate(angle_deg)

        def draw(brush: QPainter) -> None:
            brush.setTransform(turned, True)
            paint_tool(brush, item, theme, alpha=alpha)

        key = (id(item), angle_deg, round(scale, 4), alpha)
        return self._stamp(key, lambda: turned.mapRect(area_path(polygon_of(item.outline)).boundingRect()), draw, item)

    def area(self, area: BaseGeometry, scale: float, colour: QColor, *, line: bool) -> Stamp | None:
        """Return the picture of an area's line or fill, from the corner of its bounds; None where it is too large."""
        left, top, right, bottom = area.bounds

        def draw(brush: QPainter) -> None:
            brush.scale(scale, scale)
            brush.translate(-left, -top)
            if line:
                brush.setPen(hair(colour))
                brush.drawPath(area_path(area))
            else:
                brush.fillPath(area_path(area), colour)

        key = (_shape_of(area), round(scale, 4), colour.rgba(), line)
        return self._stamp(key, lambda: QRectF(0, 0, (right - left) * scale, (bottom - top) * scale), draw, None)

    def group(
        self,
        records: tuple[object, ...],
        values: tuple[object, ...],
        placement: Placement,
        cutouts: Sequence[Cutout],
        scale: float,
        paint: Callable[[QPainter], None],
    ) -> Stamp | None:
        """Return the picture of what is taken out for one placed thing, from its origin; None where it is too large.

        records, values: all that it hangs on but its place; records are known by their identity.
        """
        bounds = np.array([one.bounds for one in cutouts])
        left, top = bounds[:, :2].min(axis=0) - (placement.x_mm, placement.y_mm)
        right, bottom = bounds[:, 2:].max(axis=0) - (placement.x_mm, placement.y_mm)

        def draw(brush: QPainter) -> None:
            brush.scale(scale, scale)
            brush.translate(-placement.x_mm, -placement.y_mm)
            paint(brush)

        key = (tuple(map(id, records)), values, round(scale, 4))
        room = QRectF(left * scale, top * scale, (right - left) * scale, (bottom - top) * scale)
        return self._stamp(key, lambda: room, draw, records)

    def _stamp(
        self, key: tuple[object, ...], room: Callable[[], QRectF], draw: Callable[[QPainter], None], of: object
    ) -> Stamp | None:
        known = self._kept.get(key)
        if known is None:
            where = room().adjusted(-_ROOM, -_ROOM, _ROOM, _ROOM)
            if where.width() * where.height() > _LARGEST:
                return None
            picture = QPixmap(math.ceil(where.width()), math.ceil(where.height()))
            picture.fill(Qt.GlobalColor.transparent)
            corner = QPointF(round(where.left()), round(where.top()))
            with drawing_on(picture) as brush:
                brush.translate(-corner)
                draw(brush)
            self._pixels += picture.width() * picture.height()
            if self._pixels > _MOST:
                self.clear()
                self._pixels = picture.width() * picture.height()
            known = self._kept[key] = (picture, corner, of)  # the item lives as long, or its identity were another's
        return known[0], known[1]


def hair(colour: QColor) -> QPen:
    """Return a pen whose line keeps its breadth at every scale."""
    pen = QPen(colour, 1.4)
    pen.setCosmetic(True)
    return pen


@memo(rows=4096)
def _shape_of(area: BaseGeometry) -> bytes:
    """Return what an area has in common with itself elsewhere on the plan."""
    corners = shapely.get_coordinates(area)
    return bytes(np.round(corners - corners.min(axis=0), 2).tobytes()) if len(corners) else b""
