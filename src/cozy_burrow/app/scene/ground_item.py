"""The foam as it will look from above: the blank, every layer that is taken out, darker the deeper, and the things.

All of it is one picture that Qt keeps; a drag paints only the part anew where something moved. (One graphics item
a thing was tried: Qt drew a quarter of sixty unmoved ones anew at every step of a drag.)
"""

from __future__ import annotations

import math
import random
from collections.abc import Sequence
from functools import partial

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QImage, QPainter, QPainterPath, QPixmap, QPolygonF, QRegion, QTransform
from PySide6.QtWidgets import QGraphicsItem, QStyleOptionGraphicsItem, QWidget
from shapely.geometry.base import BaseGeometry

from cozy_burrow.app.look.painting import drawing_on, guarded, saved
from cozy_burrow.app.look.theme.theme import Theme
from cozy_burrow.app.scene.carried import SHADE_MM
from cozy_burrow.app.scene.drawn_apart import DrawnApart
from cozy_burrow.app.scene.lit_painting import LitPainting
from cozy_burrow.app.scene.paths import area_path
from cozy_burrow.app.scene.stamps import Stamp, Stamps, hair
from cozy_burrow.app.scene.tool_painting import paint_tool
from cozy_burrow.core.container.blank import inside_polygon
from cozy_burrow.core.ground.ground import Cutout, Ground, peeled
from cozy_burrow.core.model.pull_kinds import kind_of_pull
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
        self._stamps, self._apart = Stamps(), DrawnApart()
        self._lit: LitPainting | None = None
        self.setZValue(0)
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemUsesExtendedStyleOption)  # else all of it counts as exposed
        self.light(None)

    def light(self, lit: LitPainting | None) -> None:
        """Be a lit picture, or a drawing. What is a few pictures is painted as quickly as a copy of it."""
        self._lit = lit
        drawn = QGraphicsItem.CacheMode.DeviceCoordinateCache
        self.setCacheMode(drawn if lit is None else QGraphicsItem.CacheMode.NoCache)

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self._theme, self._grain = theme, _grain(theme)
        self._stamps.clear()
        self._apart.clear()
        self._base = None
        self.update()

    def show_ground(self, ground: Ground) -> None:
        """Show a ground; only what changed against the last one is painted again."""
        old, self._ground = self._ground, ground
        if old is None or old.bay is not ground.bay or old.layers != ground.layers:
            self.prepareGeometryChange()
            self.update()
            return
        if self._lit is not None and not self.is_hurried:
            self.update()
            return
        before, after = set(old.cutouts), set(ground.cutouts)
        shade = SHADE_MM if self._lit is not None else 0.0
        for cutout in before ^ after:
            self.update(_around(cutout.bounds).adjusted(0.0, 0.0, shade, shade))

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
        if self._paint_lit(painter, ground, exposed):
            return
        # What is exposed are often a few small places far apart: what lies between them need not be painted.
        places = painter.clipRegion() if painter.hasClipping() else QRegion(exposed.toAlignedRect())
        if not (self.is_hurried and self._stamp_base(painter, ground)):
            self._paint_base(painter, ground)
        cutouts = [ground.cutouts[n] for n in _exposed(ground, places)]
        if self.is_hurried and self.only_layer is None:
            cutouts = self._stamp_alone(painter, ground, cutouts)
        self._paint_cutouts(painter, ground, cutouts, stamped=self.is_hurried)
        if self.tool_alpha > 0:
            self._paint_things(painter, ground, places)

    def _paint_lit(self, painter: QPainter, ground: Ground, exposed: QRectF) -> bool:
        """Paint the lit picture, or in a drag what it is made of; False where there is none."""
        if self._lit is None:
            return False
        if self.only_layer is not None:
            found = not self.is_hurried and self._lit.paint(painter, peeled(ground, self.only_layer), 0.0, like=True)
            if found:
                self._paint_obstacles(painter, ground)
            return found
        if not self.is_hurried and self._lit.paint(painter, ground, self.tool_alpha):
            self._paint_obstacles(painter, ground)
            return True
        # Under a hand, or until the picture is there: what lay as it is lit, moved to where it lies now.
        apart = self._lit.paint_carried(painter, ground, exposed)
        if apart is None:
            return False
        self._paint_obstacles(painter, ground)
        if apart:
            self._paint_apart(painter, ground, apart)
        return True

    def _paint_apart(self, painter: QPainter, ground: Ground, apart: set[str]) -> None:
        """Paint some things, and what is cut for them, as in a drawing."""
        cutouts = [one for one in ground.cutouts if one.owners & apart]
        self._apart.paint(
            painter, cutouts, lambda brush, some: self._paint_cutouts(brush, ground, some, stamped=self.is_hurried)
        )
        placements = [one for one in ground.insert.placements if one.id in apart]
        self._paint_placed(painter, ground, placements if self.tool_alpha > 0 else [])

    def _paint_cutouts(self, painter: QPainter, ground: Ground, cutouts: list[Cutout], *, stamped: bool) -> None:
        """Paint what is taken out, layer by layer, so that the deeper is seen where two of them meet."""
        last = len(ground.layers) if self.only_layer is None else self.only_layer
        for number in range(1, last + 1):
            # Where the next layer takes the very same away, this one is not seen.
            seen = [one for one in cutouts if not (number < min(last, len(one.areas)) and _goes_on(one, number))]
            self._paint_layer(painter, ground, number, seen, stamped=stamped)

    def _stamp_alone(self, painter: QPainter, ground: Ground, cutouts: list[Cutout]) -> list[Cutout]:
        """Paint pockets, each with the pulls that go with it, from one picture; return what is left to be painted.

        That are trenches and what they cross. The deepest come last: where a hand holds one over another, the deeper
        is seen.
        """
        if any(layer.cell_mm > 0 for layer in ground.layers):
            return cutouts  # cubes are plucked where they stand: another place is another shape
        trenches = [pull for pull in ground.pulls if kind_of_pull(pull.pull).shared]  # they stay where their thing goes
        shared = {key for pull in trenches for key in (*pull.reaches, *pull.pull.serves)}
        own: dict[str, list[Cutout]] = {}
        for one in cutouts:
            if len(one.owners) == 1:
                own.setdefault(next(iter(one.owners)), []).append(one)
        at = {one.id: one for one in ground.insert.placements if one.id in own}
        where = painter.transform()
        done: set[int] = set()
        for key in sorted(own.keys() - shared, key=lambda key: max(len(one.areas) for one in own[key])):
            group, placement = own[key], at[key]
            found = self._stamps.group(
                _made_of(ground, placement, group),
                (tuple(len(one.areas) for one in group), placement.angle_deg),
                placement,
                group,
                where.m11(),
                partial(self._paint_cutouts, ground=ground, cutouts=group, stamped=False),
            )
            if found is not None:
                with saved(painter):
                    painter.resetTransform()
                    _put(painter, found, where.map(QPointF(placement.x_mm, placement.y_mm)))
                done |= {id(one) for one in group}
        return [one for one in cutouts if id(one) not in done]

    def _paint_base(self, painter: QPainter, ground: Ground) -> None:
        """Paint the container and its foam, uncut."""
        theme = self._theme
        rim = QPainterPath()
        inside = area_path(inside_polygon(ground.bay.container))
        frame = inside.boundingRect().adjusted(-9, -9, 9, 9)
        rim.addRoundedRect(frame, 6, 6)
        frame_of = QPainterPath(rim)  # where two outlines lie one in the other nothing is to be reckoned: odd and even
        frame_of.addPath(inside)
        painter.fillPath(frame_of, theme.colour("bench"))
        painter.setPen(hair(theme.colour("line_strong")))
        painter.drawPath(rim)
        blank = area_path(ground.blank)
        painter.fillPath(blank, theme.colour("foam_top"))
        grain = QBrush(self._grain)
        grain.setTransform(QTransform.fromScale(0.35, 0.35))
        painter.fillPath(blank, grain)
        painter.setPen(hair(theme.colour("foam_edge")))
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
        painter.setPen(hair(theme.colour("tool_line")))
        painter.setBrush(theme.colour("bench"))
        for one in ground.bay.container.obstacles:
            painter.drawPolygon(QPolygonF([QPointF(x, y) for x, y in one.ring]))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(hair(theme.colour("paper")))
        for start, end in ground.blanks[0].slits:
            painter.drawLine(QPointF(*start), QPointF(*end))

    def _paint_things(self, painter: QPainter, ground: Ground, places: QRegion) -> None:
        placements = ground.insert.placements
        exposed = [placements[n] for n in _exposed(ground, places) if n < len(placements)]
        self._paint_placed(painter, ground, exposed)

    def _paint_placed(self, painter: QPainter, ground: Ground, placements: Sequence[Placement]) -> None:
        for placement in placements:
            item = ground.pockets[placement.id].item
            if self.is_hurried and self._stamp(painter, item, placement):
                continue
            with saved(painter):
                painter.translate(placement.x_mm, placement.y_mm)
                painter.rotate(placement.angle_deg)
                paint_tool(painter, item, self._theme, alpha=self.tool_alpha)

    def _stamp(self, painter: QPainter, item: Item, placement: Placement) -> bool:
        """Paint a thing from its picture at this scale and angle; False where it is too large for one."""
        where = painter.transform()
        found = self._stamps.item(item, placement.angle_deg, where.m11(), self._theme, self.tool_alpha)
        if found is None:
            return False
        with saved(painter):
            painter.resetTransform()
            _put(painter, found, where.map(QPointF(placement.x_mm, placement.y_mm)))
        return True

    def _paint_layer(
        self, painter: QPainter, ground: Ground, number: int, cutouts: list[Cutout], *, stamped: bool
    ) -> None:
        theme = self._theme
        floor = ground.layers[number] if number < len(ground.layers) else None
        if floor is not None and floor.contrast:
            colour = theme.foam(floor.colour, "foam_contrast")
        else:
            colour = theme.depth((number - 1) / max(1, len(ground.layers) - 1))
        reached = [one.areas[number - 1] for one in cutouts if len(one.areas) >= number]
        reached = [area for area in reached if not area.is_empty]
        shade = theme.colour("shade", 0.55)
        if stamped and self._stamp_areas(painter, reached, shade, colour):
            return
        painter.setPen(hair(shade))
        for area in reached:
            painter.drawPath(area_path(area))
        for area in reached:
            painter.fillPath(area_path(area), colour)

    def _stamp_areas(self, painter: QPainter, areas: list[BaseGeometry], line: QColor, fill: QColor) -> bool:
        """Paint areas from pictures of their shapes, lines first; False where one is too large for a picture."""
        where = painter.transform()
        scale, stamps = where.m11(), self._stamps
        lines = [stamps.area(area, scale, line, line=True) for area in areas]
        fills = [stamps.area(area, scale, fill, line=False) for area in areas]
        if None in lines or None in fills:
            return False
        corners = [where.map(QPointF(*area.bounds[:2])) for area in areas]
        with saved(painter):
            painter.resetTransform()
            for found, at in zip((*lines, *fills), (*corners, *corners)):
                if found is not None:
                    _put(painter, found, at)
        return True


def _put(painter: QPainter, stamp: Stamp, at: QPointF) -> None:
    """Paint a picture with what it is reckoned from at a point, to the nearest pixel."""
    corner = at + stamp[1]
    painter.drawPixmap(QPointF(round(corner.x()), round(corner.y())), stamp[0])


def _exposed(ground: Ground, places: QRegion) -> list[int]:
    """Return the numbers of the cutouts that reach into some places, pockets first, as they stand in the ground."""
    box = places.boundingRect()
    bounds = ground.reach
    near = (
        (bounds[:, 0] - _AROUND_MM <= box.right() + 1)
        & (bounds[:, 2] + _AROUND_MM >= box.left())
        & (bounds[:, 1] - _AROUND_MM <= box.bottom() + 1)
        & (bounds[:, 3] + _AROUND_MM >= box.top())
    )
    return [
        n for n in np.flatnonzero(near).tolist() if places.intersects(_around(ground.cutouts[n].bounds).toAlignedRect())
    ]


def _made_of(ground: Ground, placement: Placement, group: list[Cutout]) -> tuple[object, ...]:
    """Return what a pocket and the pulls that go with it are in the coordinates of their thing.

    They are the same at every step of a drag.
    """
    pulls = {one.pull.id: one.pull for one in ground.pulls if placement.id in one.pull.serves}
    return (*(pulls.get(one.name, ground.pockets[placement.id].local) for one in group), ground.layers)


def _goes_on(cutout: Cutout, number: int) -> bool:
    return cutout.areas[number] is cutout.areas[number - 1]


_LARGEST_BASE = 6_000_000
_AROUND_MM = 12.0  # a snug pocket is smaller than its thing: the thing reaches beyond the pocket's bounds


def _around(bounds: tuple[float, float, float, float]) -> QRectF:
    left, top, right, bottom = bounds
    return QRectF(left, top, right - left, bottom - top).adjusted(-_AROUND_MM, -_AROUND_MM, _AROUND_MM, _AROUND_MM)


def _grain(theme: Theme) -> QPixmap:
    """Return a small tile of speckles: closed-cell foam seen from near."""
    chance = random.Random(7)
    image = QImage(96, 96, QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(Qt.GlobalColor.transparent)
    light, dark = theme.colour("paper", 0.16), theme.colour("shade", 0.16)
    for _ in range(700):
        image.setPixelColor(chance.randrange(96), chance.randrange(96), chance.choice((light, dark)))
    return QPixmap.fromImage(image)
