"""One line of a sheet as it lies on the bench: the foam, what is cut already, where to set on and which way to go."""

from __future__ import annotations

import math
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, QSizeF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPen, QPolygonF, QTransform

from cozy_burrow.app.look.painting import saved
from cozy_burrow.app.look.theme.theme import Theme, type_font
from cozy_burrow.app.scene.paths import area_path, ring_path
from cozy_burrow.app.scene.relief import Shown
from cozy_burrow.core.bench.route import start_of
from cozy_burrow.core.bench.work import BenchCut
from cozy_burrow.core.ground.ground import Ground

_AROUND_MM = 45.0  # of foam round the line in hand
_LEAST_MM = 150.0  # that is seen each way: a small line is known by what lies beside it
_MAP = 0.24  # of the picture's width: the whole sheet in small


@dataclass(frozen=True)
class Scene:
    """What is shown: all lines of a sheet in order, which is in hand, and the foam that they lie on.

    at: -1 before the first line, as many as there are once all are cut. tried: the opening whose item is tried then.
    pinned: numbers of the lines inside which the template is pinned before.
    """

    ground: Ground
    sheet: int
    cuts: tuple[BenchCut, ...]
    at: int
    tried: str | None = None
    pinned: tuple[int, ...] = ()

    @property
    def in_hand(self) -> BenchCut | None:
        """The line that is cut now."""
        return self.cuts[self.at] if 0 <= self.at < len(self.cuts) else None


def paint_line(painter: QPainter, place: QRectF, scene: Scene, theme: Theme, foam: Shown | None) -> None:
    """Paint the sheet round the line in hand, and all of it in small in the corner where that line is not.

    foam: a lit picture of it, uncut; None: there is none yet.
    """
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    blank = area_path(scene.ground.blanks[scene.sheet - 1].polygon)
    seen = _near(scene, blank.boundingRect())
    with saved(painter):
        painter.setClipRect(place)
        painter.fillRect(place, theme.colour("bench", 0.35))
        scale = _fit(painter, place, seen)
        painter.fillPath(blank, theme.colour("relief_foam"))
        if foam is not None:
            with saved(painter):
                painter.setClipPath(blank, Qt.ClipOperation.IntersectClip)
                painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
                painter.drawPixmap(foam.place, foam.pixmap, QRectF(foam.pixmap.rect()))
        painter.setPen(_pen(theme, "foam_edge", 1.5, scale))
        painter.drawPath(blank)
        _paint_lines(painter, scene, theme, scale)
        if scene.in_hand is not None:
            _paint_way(painter, scene.in_hand, theme, scale)
        _paint_pins(painter, scene, theme)
    if scene.in_hand is not None:
        _paint_map(painter, place, scene, theme, blank, seen)


def _near(scene: Scene, whole: QRectF) -> QRectF:
    if scene.in_hand is None:
        return whole.adjusted(-10, -10, 10, 10)
    box = QPolygonF([QPointF(*at) for at in scene.in_hand.cut.line]).boundingRect()
    more_x = max(_AROUND_MM, (_LEAST_MM - box.width()) / 2)
    more_y = max(_AROUND_MM, (_LEAST_MM - box.height()) / 2)
    return box.adjusted(-more_x, -more_y, more_x, more_y)


def _fit(painter: QPainter, place: QRectF, seen: QRectF) -> float:
    """Look at a part of the sheet; return pixels per millimetre."""
    scale = min(place.width() / seen.width(), place.height() / seen.height())
    painter.translate(place.center())
    painter.scale(scale, scale)
    painter.translate(-seen.center())
    return scale


def _pen(theme: Theme, role: str, width_px: float, scale: float) -> QPen:
    pen = QPen(theme.colour(role), width_px / scale)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    pen.setCapStyle(Qt.PenCapStyle.RoundCap)
    return pen


def _paint_lines(painter: QPainter, scene: Scene, theme: Theme, scale: float) -> None:
    """What is cut is filled, what comes later is thin, what is in hand is thick."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for number, one in enumerate(scene.cuts):
        path = ring_path(one.cut.line)
        if number < scene.at:
            painter.fillPath(path, theme.colour("pocket_deep", 0.75))
        elif number > scene.at:
            painter.setPen(_pen(theme, "relief_ink", 1.2, scale))
            painter.drawPath(path)
    for one in scene.cuts:
        if scene.tried is not None and one.cut.name == scene.tried:
            painter.setPen(_pen(theme, "accent", 5, scale))
            painter.drawPath(ring_path(one.cut.line))
    if scene.in_hand is not None:
        path = ring_path(scene.in_hand.cut.line)
        painter.fillPath(path, theme.colour("accent", 0.22))
        painter.setPen(_pen(theme, "relief_halo", 9, scale))
        painter.drawPath(path)
        painter.setPen(_pen(theme, "accent", 5, scale))
        painter.drawPath(path)


def way_of(one: BenchCut) -> QPainterPath:
    """Return a line from where the knife is set on: first to the right, away from the hand that holds the sheet."""
    line = list(one.cut.line)
    start = start_of(one.cut)
    at = line.index(start)
    turned = [*line[at:], *line[:at], start]
    onward, backward = turned[1], turned[-2]
    if backward[0] - start[0] > onward[0] - start[0]:
        turned.reverse()
    path = QPainterPath(QPointF(*turned[0]))
    for corner in turned[1:]:
        path.lineTo(QPointF(*corner))
    return path


def _paint_way(painter: QPainter, one: BenchCut, theme: Theme, scale: float) -> None:
    way = way_of(one)
    painter.setPen(_pen(theme, "relief_halo", 3, scale))
    painter.setBrush(theme.colour("accent"))
    spot = way.pointAtPercent(0.0)
    painter.drawEllipse(spot, 11 / scale, 11 / scale)
    for share in (0.12, 0.45, 0.78):
        _arrow(painter, way, share, 17 / scale)


def _paint_pins(painter: QPainter, scene: Scene, theme: Theme) -> None:
    """A pin with the number of its cut."""
    pinned = [one.cut for one in scene.cuts if one.cut.number in scene.pinned]
    places = [painter.transform().map(QPointF(*cut.label_mm)) for cut in pinned]
    with saved(painter):
        painter.resetTransform()
        font = type_font("head")
        font.setPixelSize(20)
        painter.setFont(font)
        for spot, cut in zip(places, pinned):
            disc = QRectF(spot.x() - 17, spot.y() - 17, 34, 34)
            painter.setPen(QPen(theme.colour("relief_halo"), 3))
            painter.setBrush(theme.colour("accent"))
            painter.drawEllipse(disc)
            painter.setPen(theme.colour("on_accent"))
            painter.drawText(disc, Qt.AlignmentFlag.AlignCenter, str(cut.number))


def _arrow(painter: QPainter, way: QPainterPath, share: float, size: float) -> None:
    at = way.pointAtPercent(share)
    ahead = way.pointAtPercent(min(1.0, share + 0.01))
    turn = math.atan2(ahead.y() - at.y(), ahead.x() - at.x())
    corners = ((size, 0.0), (-size * 0.6, size * 0.7), (-size * 0.25, 0.0), (-size * 0.6, -size * 0.7))
    head = QTransform().translate(at.x(), at.y()).rotateRadians(turn)
    painter.drawPolygon(head.map(QPolygonF([QPointF(x, y) for x, y in corners])))


def _paint_map(painter: QPainter, place: QRectF, scene: Scene, theme: Theme, blank: QPainterPath, seen: QRectF) -> None:
    """The whole sheet in small: where on it one looks."""
    whole = blank.boundingRect()
    wide = place.width() * _MAP
    high = min(place.height() * 0.4, wide * whole.height() / max(1.0, whole.width()))
    wide = high * whole.width() / max(1.0, whole.height())
    corner = _free_corner(place, QSizeF(wide, high), _on_screen(scene, place, seen))
    with saved(painter):
        painter.fillRect(corner.adjusted(-5, -5, 5, 5), theme.colour("panel", 0.92))
        scale = _fit(painter, corner, whole)
        painter.fillPath(blank, theme.colour("relief_foam"))
        for number, one in enumerate(scene.cuts):
            role = "pocket_deep" if number < scene.at else "accent" if number == scene.at else "foam_edge"
            painter.setPen(_pen(theme, role, 1.0, scale))
            path = ring_path(one.cut.line)
            if number <= scene.at:
                painter.fillPath(path, theme.colour(role, 0.8))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(path)
        painter.setPen(_pen(theme, "stop", 2.0, scale))
        painter.drawRect(seen.intersected(whole))


def _on_screen(scene: Scene, place: QRectF, seen: QRectF) -> QRectF:
    """Return where in the picture the line in hand is."""
    if scene.in_hand is None:
        return QRectF()
    box = QPolygonF([QPointF(*at) for at in scene.in_hand.cut.line]).boundingRect()
    scale = min(place.width() / seen.width(), place.height() / seen.height())
    top_left = place.center() + (box.topLeft() - seen.center()) * scale
    return QRectF(top_left, box.size() * scale)


def _free_corner(place: QRectF, size: QSizeF, taken: QRectF) -> QRectF:
    """Return the corner of a picture that covers least of what is looked at."""
    xs = place.right() - size.width() - 10, place.left() + 10
    ys = place.top() + 10, place.bottom() - size.height() - 10
    corners = [QRectF(QPointF(x, y), size) for x in xs for y in ys]

    def covered(corner: QRectF) -> float:
        both = corner.intersected(taken)
        return both.width() * both.height()

    return min(corners, key=covered)


def paint_knife(
    painter: QPainter, place: QRectF, one: BenchCut, layers_mm: tuple[float, ...], theme: Theme, *, px_per_mm: float
) -> None:
    """Paint the knife at true size, its tip down: how far the blade stands out in each pass, and the layers beside it.

    layers_mm: the lower face of each of the sheet's layers, from its top. px_per_mm: of the screen.
    """
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    deep = layers_mm[-1] if layers_mm else one.cut.blade_mm
    scale = min(px_per_mm, (place.height() - 60) / max(1.0, deep + 4))
    top, middle = place.top() + 52, place.center().x()
    foam = QRectF(place.left(), top, place.width(), deep * scale)
    painter.fillRect(foam, theme.colour("relief_foam"))
    painter.setPen(QPen(theme.colour("foam_edge"), 1))
    for face in layers_mm:
        painter.drawLine(QPointF(place.left(), top + face * scale), QPointF(place.right(), top + face * scale))
    tip = top + one.cut.blade_mm * scale
    wide = min(14.0 * scale / 2, 26.0)
    slant = min(2 * wide, tip - top)  # a blade is ground to a point at one side
    corners = ((-wide, top), (wide, top), (wide, tip), (-wide, tip - slant))
    blade = QPolygonF([QPointF(middle + x, y) for x, y in corners])
    painter.setPen(QPen(theme.colour("tool_line"), 1.4))
    painter.setBrush(theme.colour("tool"))
    painter.drawPolygon(blade)
    painter.setBrush(theme.colour("bench"))
    painter.drawRoundedRect(QRectF(middle - wide * 1.5, place.top(), wide * 3, 52), 8, 8)
    painter.setPen(QPen(theme.colour("accent"), 3))
    for each in one.passes_mm:
        y = top + each * scale
        painter.drawLine(QPointF(place.left(), y), QPointF(middle - wide * 1.6, y))
