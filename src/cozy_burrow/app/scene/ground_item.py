"""The foam as it will look from above: the blank, every layer that is taken out, darker the deeper, and the things.

All of it is one picture that Qt keeps; a drag paints only the part anew where something moved. (One graphics item
a thing was tried: Qt drew a quarter of sixty unmoved ones anew at every step of a drag.)
"""

from __future__ import annotations

import math
import random

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QImage, QPainter, QPainterPath, QPen, QPixmap, QPolygonF, QRegion, QTransform
from PySide6.QtWidgets import QGraphicsItem, QStyleOptionGraphicsItem, QWidget

from cozy_burrow.app.look.painting import drawing_on, guarded, saved
from cozy_burrow.app.look.theme.theme import Theme
from cozy_burrow.app.scene.paths import area_path
from cozy_burrow.app.scene.tool_painting import paint_tool
from cozy_burrow.core.container.blank import inside_polygon
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.ground.ground import Cutout, Ground
from cozy_burrow.core.model.records import Item, Placement


class GroundItem(QGraphicsItem):
    """Paints the ground, layer by layer; `only_layer` shows the sheet as it is once that layer is peeled."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._ground: Ground | None = None
        self._grain = _grain(theme)
        self.only_layer: int | None = None
        self.tool_alpha = 0.94
        self.is_hurried = False  # while a hand moves: things are stamped from pictures, to the nearest pixel
        self._base: tuple[tuple[object, ...], QPixmap, Ground] | None = None
        self._stamps: dict[tuple[object, ...], tuple[QPixmap, QPointF, Item]] = {}
        self._stamped = 0  # pixels of all stamps together
        self.setZValue(0)
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemUsesExtendedStyleOption)  # else all of it counts as exposed
        self.setCacheMode(QGraphicsItem.CacheMode.DeviceCoordinateCache)

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self._theme, self._grain = theme, _grain(theme)
        self._stamps.clear()
        self._stamped = 0
        self._base = None
        self.update()

    def show_ground(self, ground: Ground) -> None:
        """Show a ground; only what changed against the last one is painted again."""
        old, self._ground = self._ground, ground
        if old is None or old.bay is not ground.bay or old.layers != ground.layers:
            self.prepareGeometryChange()
            self.update()
            return
        before, after = set(old.cutouts), set(ground.cutouts)
        for cutout in before ^ after:
            left, top, right, bottom = cutout.bounds
            self.update(_around((left, top, right, bottom)))

    def boundingRect(self) -> QRectF:
        """The blank, the container round it, and a little."""
        if self._ground is None:
            return QRectF()
        left, top, right, bottom = self._ground.extent
        return QRectF(left - 30, top - 30, right - left + 60, bottom - top + 60)

    def paint(self, painter: QPainter, option: QStyleOptionGraphicsItem, widget: QWidget | None = None) -> None:
        """Paint the container, the blank and what is taken out."""
        ground = self._ground
        if ground is not None:
            with guarded(painter, option.exposedRect):
                self._paint_ground(painter, ground, option.exposedRect)

    def _paint_ground(self, painter: QPainter, ground: Ground, exposed: QRectF) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        # What is exposed are often a few small places far apart: what lies between them need not be painted.
        places = painter.clipRegion() if painter.hasClipping() else QRegion(exposed.toAlignedRect())
        if not (self.is_hurried and self._stamp_base(painter, ground)):
            self._paint_base(painter, ground)
        cutouts = [one for one in ground.cutouts if places.intersects(_around(one.bounds).toAlignedRect())]
        last = len(ground.layers) if self.only_layer is None else self.only_layer
        for number in range(1, last + 1):
            # Where the next layer takes the very same away, this one is not seen.
            hidden = {id(one) for one in cutouts if number < min(last, len(one.areas)) and _goes_on(one, number)}
            self._paint_layer(painter, ground, number, [one for one in cutouts if id(one) not in hidden])
        if self.tool_alpha > 0:
            self._paint_things(painter, ground, places)

    def _paint_base(self, painter: QPainter, ground: Ground) -> None:
        """Paint the container and its foam, uncut."""
        theme = self._theme
        rim = QPainterPath()
        inside = area_path(inside_polygon(ground.bay.container))
        frame = inside.boundingRect().adjusted(-9, -9, 9, 9)
        rim.addRoundedRect(frame, 6, 6)
        painter.fillPath(rim.subtracted(inside), theme.colour("bench"))
        painter.setPen(_hair(theme.colour("line_strong")))
        painter.drawPath(rim)
        blank = area_path(ground.blank)
        painter.fillPath(blank, theme.colour("foam_top"))
        grain = QBrush(self._grain)
        grain.setTransform(QTransform.fromScale(0.35, 0.35))
        painter.fillPath(blank, grain)
        painter.setPen(_hair(theme.colour("foam_edge")))
        painter.drawPath(blank)
        self._paint_obstacles(painter, ground)

    def _stamp_base(self, painter: QPainter, ground: Ground) -> bool:
        """Paint the uncut foam from a picture of it, made once for this scale; False where it is too large for one."""
        where = painter.transform()
        corner = where.map(self.boundingRect().topLeft())
        whole = QPointF(math.floor(corner.x()), math.floor(corner.y()))
        rest = corner - whole
        size = where.mapRect(self.boundingRect()).size().toSize()
        if size.width() * size.height() > _LARGEST_BASE:
            return False
        key = (id(ground.bay), round(where.m11(), 5), round(rest.x(), 2), round(rest.y(), 2), size.width())
        if self._base is None or self._base[0] != key:
            picture = QPixmap(size.width() + 2, size.height() + 2)
            picture.fill(Qt.GlobalColor.transparent)
            with drawing_on(picture) as brush:
                brush.setTransform(where * QTransform.fromTranslate(-whole.x(), -whole.y()))
                self._paint_base(brush, ground)
            self._base = (key, picture, ground)
        with saved(painter):
            painter.resetTransform()
            painter.drawPixmap(whole, self._base[1])
        return True

    def _paint_obstacles(self, painter: QPainter, ground: Ground) -> None:
        """Paint what stands into the inside, and the slits that take what is too thin for a notch."""
        theme = self._theme
        painter.setPen(_hair(theme.colour("tool_line")))
        painter.setBrush(theme.colour("bench"))
        for one in ground.bay.container.obstacles:
            painter.drawPolygon(QPolygonF([QPointF(x, y) for x, y in one.ring]))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(_hair(theme.colour("paper")))
        for start, end in ground.blanks[0].slits:
            painter.drawLine(QPointF(*start), QPointF(*end))

    def _paint_things(self, painter: QPainter, ground: Ground, places: QRegion) -> None:
        for placement in ground.insert.placements:
            pocket = ground.pockets[placement.id]
            if places.intersects(_around(pocket.surface.bounds).toAlignedRect()):
                if self.is_hurried and self._stamp(painter, pocket.item, placement):
                    continue
                with saved(painter):
                    painter.translate(placement.x_mm, placement.y_mm)
                    painter.rotate(placement.angle_deg)
                    paint_tool(painter, pocket.item, self._theme, alpha=self.tool_alpha)

    def _stamp(self, painter: QPainter, item: Item, placement: Placement) -> bool:
        """Paint a thing from its picture at this scale and angle; False where it is too large for one."""
        where = painter.transform()
        scale = where.m11()
        key = (id(item), placement.angle_deg, round(scale, 4), self.tool_alpha)
        known = self._stamps.get(key)
        if known is None:
            turned = QTransform().scale(scale, scale).rotate(placement.angle_deg)
            room = turned.mapRect(area_path(polygon_of(item.outline)).boundingRect()).adjusted(-3, -3, 3, 3)
            if room.width() * room.height() > _LARGEST_STAMP:
                return False
            picture = QPixmap(room.size().toSize())
            picture.fill(Qt.GlobalColor.transparent)
            corner = QPointF(round(room.left()), round(room.top()))
            with drawing_on(picture) as brush:
                brush.translate(-corner)
                brush.setTransform(turned, True)
                paint_tool(brush, item, self._theme, alpha=self.tool_alpha)
            self._stamped += picture.width() * picture.height()
            if self._stamped > _MOST_STAMPED:
                self._stamps.clear()
                self._stamped = picture.width() * picture.height()
            known = self._stamps[key] = (picture, corner, item)
        picture, corner, _ = known
        at = where.map(QPointF(placement.x_mm, placement.y_mm)) + corner
        with saved(painter):
            painter.resetTransform()
            painter.drawPixmap(QPointF(round(at.x()), round(at.y())), picture)
        return True

    def _paint_layer(self, painter: QPainter, ground: Ground, number: int, cutouts: list[Cutout]) -> None:
        theme = self._theme
        floor = ground.layers[number] if number < len(ground.layers) else None
        if floor is not None and floor.contrast:
            colour = theme.colour("foam_contrast")
        else:
            colour = theme.depth((number - 1) / max(1, len(ground.layers) - 1))
        reached = [one for one in cutouts if len(one.areas) >= number]
        painter.setPen(_hair(theme.colour("shade", 0.55)))
        for cutout in reached:
            painter.drawPath(area_path(cutout.areas[number - 1]))
        for cutout in reached:
            painter.fillPath(area_path(cutout.areas[number - 1]), colour)


def _goes_on(cutout: Cutout, number: int) -> bool:
    return cutout.areas[number] is cutout.areas[number - 1]


_LARGEST_STAMP = 400_000  # pixels
_LARGEST_BASE = 6_000_000
_MOST_STAMPED = 6_000_000  # four bytes each
_AROUND_MM = 12.0  # a snug pocket is smaller than its thing: the thing reaches beyond the pocket's bounds


def _around(bounds: tuple[float, float, float, float]) -> QRectF:
    left, top, right, bottom = bounds
    return QRectF(left, top, right - left, bottom - top).adjusted(-_AROUND_MM, -_AROUND_MM, _AROUND_MM, _AROUND_MM)


def _hair(colour: QColor) -> QPen:
    pen = QPen(colour, 1.4)
    pen.setCosmetic(True)
    return pen


def _grain(theme: Theme) -> QPixmap:
    """Return a small tile of speckles: closed-cell foam seen from near."""
    chance = random.Random(7)
    image = QImage(96, 96, QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(Qt.GlobalColor.transparent)
    light, dark = theme.colour("paper", 0.16), theme.colour("shade", 0.16)
    for _ in range(700):
        image.setPixelColor(chance.randrange(96), chance.randrange(96), chance.choice((light, dark)))
    return QPixmap.fromImage(image)
