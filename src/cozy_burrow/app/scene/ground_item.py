"""The foam as it will look from above: the blank, every layer that is taken out, darker the deeper, and the things.

All of it is one picture that Qt keeps; a drag paints only the part anew where something moved. (One graphics item
a thing was tried: Qt drew a quarter of sixty unmoved ones anew at every step of a drag.)
"""

from __future__ import annotations

import random

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QImage, QPainter, QPainterPath, QPen, QPixmap, QPolygonF, QTransform
from PySide6.QtWidgets import QGraphicsItem, QStyleOptionGraphicsItem, QWidget

from cozy_burrow.app.scene.paths import area_path
from cozy_burrow.app.scene.tool_painting import paint_tool
from cozy_burrow.app.theme.theme import Theme
from cozy_burrow.core.container.blank import inside_polygon
from cozy_burrow.core.ground.ground import Cutout, Ground


class GroundItem(QGraphicsItem):
    """Paints the ground, layer by layer; `only_layer` shows the sheet as it is once that layer is peeled."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._ground: Ground | None = None
        self._grain = _grain(theme)
        self.only_layer: int | None = None
        self.tool_alpha = 0.94
        self.setZValue(0)
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemUsesExtendedStyleOption)  # else all of it counts as exposed
        self.setCacheMode(QGraphicsItem.CacheMode.DeviceCoordinateCache)

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self._theme, self._grain = theme, _grain(theme)
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
        if ground is None:
            return
        theme, exposed = self._theme, option.exposedRect
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
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
        cutouts = [one for one in ground.cutouts if exposed.intersects(_around(one.bounds))]
        last = len(ground.layers) if self.only_layer is None else self.only_layer
        for number in range(1, last + 1):
            self._paint_layer(painter, ground, number, cutouts)
        if self.tool_alpha > 0:
            self._paint_things(painter, ground, exposed)

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

    def _paint_things(self, painter: QPainter, ground: Ground, exposed: QRectF) -> None:
        for placement in ground.insert.placements:
            pocket = ground.pockets[placement.id]
            if exposed.intersects(_around(pocket.surface.bounds)):
                painter.save()
                painter.translate(placement.x_mm, placement.y_mm)
                painter.rotate(placement.angle_deg)
                paint_tool(painter, pocket.item, self._theme, alpha=self.tool_alpha)
                painter.restore()

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
