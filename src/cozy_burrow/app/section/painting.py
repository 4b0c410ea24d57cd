"""How a section is painted: strata like ground, bites out of it, the things standing in them."""

from __future__ import annotations

from dataclasses import dataclass, field

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QFontMetricsF, QPainter, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.theme.theme import Theme, type_font
from cozy_burrow.core.ground.section import Body, SectionCut
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.relief.finish import finish_of
from cozy_burrow.core.tongue import tr


@dataclass(frozen=True)
class Frame:
    """Maps section millimetres (s to the right, z down from the surface) to pixels, both at one scale."""

    left: float
    surface: float
    px_per_mm: float

    @staticmethod
    def fit(
        cut: SectionCut,
        width: float,
        height: float,
        type_scale: float,
        *,
        raised_mm: float = 0.0,
        near: tuple[float, float] | None = None,
    ) -> Frame:
        """Return the frame that shows the line, the stack and the room above it, a raised lid in it.

        near: the stretch of the line to look at; None: all of it.
        """
        side, head, foot = 84 * type_scale, 46 * type_scale, 12 * type_scale
        top = min(cut.rim_z_mm, cut.lid_foam_mm[1] - 3.0) if cut.lid_foam_mm else cut.rim_z_mm
        above = max(12.0, -top, *(-z for body in cut.bodies for _, z in body.ring), 0.0) + raised_mm
        tall = above + max(cut.stack_mm, cut.floor_z_mm) + 4.0
        low, high = near or (0.0, cut.length_mm)
        scale = max(0.05, min((width - 2 * side) / max(1.0, high - low), (height - head - foot) / tall))
        left = width / 2 - (low + high) / 2 * scale
        if near is not None:  # beyond the line's ends there is nothing to see: rather more of what lies on it
            ends = (side, width - side - cut.length_mm * scale)
            left = max(min(ends), min(left, max(ends)))
        surface = head + above * scale + max(0.0, (height - head - foot - tall * scale) / 2)
        return Frame(left, surface, scale)

    def point(self, s: float, z: float) -> QPointF:
        """Return the pixel of a place in the section."""
        return QPointF(self.left + s * self.px_per_mm, self.surface + z * self.px_per_mm)

    def to_mm(self, at: QPointF) -> tuple[float, float]:
        """Return the place in the section of a pixel."""
        return (at.x() - self.left) / self.px_per_mm, (at.y() - self.surface) / self.px_per_mm

    def rect(self, s0: float, z0: float, s1: float, z1: float) -> QRectF:
        """Return the pixels of a box in the section."""
        return QRectF(self.point(s0, z0), self.point(s1, z1))

    def floor_handle(self, body: Body, cut: SectionCut) -> QRectF:
        """Return where the grip on the floor under a body is: at the deepest place that the section shows of it."""
        low, high = body.span
        mine = [
            bite for bite in cut.bites if bite.owner == body.placement and bite.span[0] < high and bite.span[1] > low
        ]
        deepest = max((bite.layer for bite in mine), default=body.floor_layers)
        spans = [(max(low, bite.span[0]), min(high, bite.span[1])) for bite in mine if bite.layer == deepest] or [
            body.span
        ]
        widest = max(spans, key=lambda span: span[1] - span[0])
        at = self.point((widest[0] + widest[1]) / 2, cut.layers[deepest - 1].bottom_mm)
        return QRectF(at.x() - 15, at.y() - 4, 30, 8)


@dataclass
class Motion:
    """What moves over a section: how far the lid is raised above closed, and things on their way to rest, by body."""

    lid_raised_mm: float = 0.0
    rings: dict[tuple[str, int, float], tuple[tuple[float, float], ...]] = field(default_factory=dict)

    def ring(self, body: Body) -> tuple[tuple[float, float], ...]:
        """Return a body's ring as it is at this moment."""
        return self.rings.get(body_key(body), body.ring)


def body_key(body: Body) -> tuple[str, int, float]:
    """Return what a body is known by from one section to the next along the same line."""
    return body.placement, body.zone, round(body.span[0], 3)


class SectionPainter:
    """Paints one section onto a widget."""

    def __init__(self, painter: QPainter, widget: QWidget, theme: Theme, frame: Frame, type_scale: float) -> None:
        self._painter = painter
        self._painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._theme, self._frame, self._scale = theme, frame, type_scale
        self._size = QRectF(widget.rect())
        self._small = type_font("small", type_scale)
        self._painter.setFont(self._small)
        self._metrics = QFontMetricsF(self._small)

    def paint(self, cut: SectionCut, workspace: Workspace, *, motion: Motion, has_focus: bool) -> None:
        """Paint it all, from the back to the front."""
        self._motion = motion
        painter, theme = self._painter, self._theme
        painter.fillRect(self._size, theme.colour("panel"))
        self._container(cut, workspace)
        for sheet, spans in enumerate(cut.sheet_foam, start=1):
            for span in spans:
                self._strata(cut, span, sheet)
        self._bites(cut)
        self._surface(cut)
        for body in cut.bodies:
            self._riser(body, cut)
            pocket = workspace.ground.pockets.get(body.placement)
            item = pocket.item if pocket is not None else None  # it may have been taken out a moment ago
            self._body(body, item, chosen=body.placement in workspace.selection)
        self._lid(cut)
        self._scale_figures(cut, workspace)
        self._handles(cut, workspace)
        self._names(cut, workspace)
        self._title(cut, workspace)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.colour("accent" if has_focus else "line"), 2 if has_focus else 1))
        painter.drawRoundedRect(self._size.adjusted(1, 1, -1, -1), 7, 7)

    def _container(self, cut: SectionCut, workspace: Workspace) -> None:
        frame, theme = self._frame, self._theme
        if not cut.foam:
            return
        low, high = cut.foam[0][0], cut.foam[-1][1]
        floor, lid_z = cut.floor_z_mm, cut.rim_z_mm
        if cut.walls:
            self._shell(cut)
            low, high = cut.walls[0][0][0], cut.walls[1][0][0]
        else:
            self._painter.fillRect(frame.rect(low - 4, floor, high + 4, floor + 4), theme.colour("bench"))
        if floor > cut.stack_mm + 0.01:
            under = frame.rect(cut.foam[0][0], cut.stack_mm, cut.foam[-1][1], floor)
            self._painter.fillRect(under, theme.colour("foam_top", 0.35))
            self._painter.setPen(theme.colour("ink"))
            below = tr("tiers below, {floor}", floor=workspace.length(floor - cut.stack_mm))
            self._painter.drawText(under, Qt.AlignmentFlag.AlignCenter, below)
        if cut.above_mm > 0:
            over = frame.rect(cut.foam[0][0], -cut.above_mm, cut.foam[-1][1], 0)
            self._painter.fillRect(over, theme.colour("foam_top", 0.35))
            self._painter.setPen(theme.colour("ink"))
            text = tr("tiers above, {above}", above=workspace.length(cut.above_mm))
            self._painter.drawText(over, Qt.AlignmentFlag.AlignCenter, text)
        pen = QPen(theme.colour("line_strong"), 1.5, Qt.PenStyle.DashLine)
        self._painter.setPen(pen)
        self._painter.drawLine(frame.point(low - 4, lid_z), frame.point(high + 4, lid_z))
        self._painter.setPen(theme.colour("ink_soft"))
        at = frame.point(high + 4, lid_z)
        self._painter.drawText(QPointF(at.x() + 6, at.y() + 4), workspace.length(cut.container_mm))

    def _lid(self, cut: SectionCut) -> None:
        """Paint the lid's foam where it is, and hatched what presses into it."""
        if cut.lid_foam_mm is None or not cut.foam:
            return
        frame, theme, painter, up = self._frame, self._theme, self._painter, self._motion.lid_raised_mm
        low, high = (cut.walls[0][0][0], cut.walls[1][0][0]) if cut.walls else (cut.foam[0][0], cut.foam[-1][1])
        under, over = cut.lid_foam_mm[0] - up, cut.lid_foam_mm[1] - up
        rect = frame.rect(low, over, high, under)
        foam = QPolygonF(rect)
        for body in cut.bodies:
            foam = foam.subtracted(QPolygonF([frame.point(s, z) for s, z in self._motion.ring(body)]))
        painter.setPen(QPen(theme.colour("shade"), 1))
        painter.setBrush(theme.colour("lid"))
        painter.drawPolygon(foam)
        painter.setPen(theme.colour("ink"))
        painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, tr("lid foam"))
        for body in cut.bodies:
            ring = QPolygonF([frame.point(s, z) for s, z in self._motion.ring(body)])
            pressed = ring.intersected(QPolygonF(rect))
            if not pressed.isEmpty():
                painter.setPen(QPen(theme.colour("care"), 2))
                painter.setBrush(QBrush(theme.colour("care"), Qt.BrushStyle.Dense5Pattern))
                painter.drawPolygon(pressed)

    def _shell(self, cut: SectionCut) -> None:
        """Paint walls and floor as one thick line round the inside, and what stands into it."""
        left, right = cut.walls
        inside = QPolygonF([self._frame.point(s, z) for s, z in (*left, *reversed(right))])
        painter = self._painter
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(self._theme.colour("bench"), max(6.0, 5.0 * self._frame.px_per_mm)))
        painter.drawPolyline(QPolygonF([self._frame.point(s, z) for s, z in (*left, *reversed(right))]))
        painter.setPen(QPen(self._theme.colour("line_strong"), 1.2))
        painter.setBrush(self._theme.colour("paper"))
        painter.drawPolygon(inside)
        painter.setBrush(self._theme.colour("bench"))
        for s0, z0, s1, z1 in cut.obstacles:
            painter.drawRect(self._frame.rect(s0, z0, s1, z1))

    def _strata(self, cut: SectionCut, span: tuple[float, float], sheet: int) -> None:
        frame, theme, painter = self._frame, self._theme, self._painter
        mine = [layer for layer in cut.layers if layer.sheet == sheet]
        for layer in mine:
            role = "foam_contrast" if layer.contrast else ("strata_a" if layer.number % 2 else "strata_b")
            painter.fillRect(
                frame.rect(span[0], layer.top_mm, span[1], layer.bottom_mm), theme.foam(layer.colour, role)
            )
        cut_in, cut_up = cut.lower_edges[sheet - 1]
        if cut_in > 0:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.colour("paper"))
            foot = mine[-1].bottom_mm
            for side, inwards in ((span[0], cut_in), (span[1], -cut_in)):
                corner = [(side, foot - cut_up), (side, foot), (side + inwards, foot)]
                painter.drawPolygon(QPolygonF([frame.point(s, z) for s, z in corner]))
        pen = QPen(theme.colour("foam_edge", 0.6), 1)
        for layer in mine:
            if layer.number == 1:
                continue
            strong = layer.in_sheet == 1  # between two sheets: the insert comes apart here
            painter.setPen(QPen(theme.colour("shade"), 2) if strong else pen)
            painter.drawLine(frame.point(span[0], layer.top_mm), frame.point(span[1], layer.top_mm))

    def _bites(self, cut: SectionCut) -> None:
        frame, theme, painter = self._frame, self._theme, self._painter
        by_layer: dict[int, list[tuple[float, float]]] = {}
        for bite in cut.bites:
            by_layer.setdefault(bite.layer, []).append(bite.span)
        for number, spans in by_layer.items():
            layer = cut.layers[number - 1]
            for span in spans:
                rect = frame.rect(span[0], layer.top_mm, span[1], layer.bottom_mm)
                painter.fillRect(rect.adjusted(0, -0.6, 0, 0.6), theme.colour("paper"))
        painter.setPen(QPen(theme.colour("shade"), 1.6))
        for number, spans in by_layer.items():
            layer = cut.layers[number - 1]
            below = by_layer.get(number + 1, [])
            for low, high in _merged(spans):
                painter.drawLine(frame.point(low, layer.top_mm), frame.point(low, layer.bottom_mm))
                painter.drawLine(frame.point(high, layer.top_mm), frame.point(high, layer.bottom_mm))
                for start, end in _without((low, high), _merged(below)):
                    painter.drawLine(frame.point(start, layer.bottom_mm), frame.point(end, layer.bottom_mm))

    def _surface(self, cut: SectionCut) -> None:
        taken = _merged([bite.span for bite in cut.bites if bite.layer == 1])
        self._painter.setPen(QPen(self._theme.colour("shade"), 1.6))
        for span in cut.foam:
            for start, end in _without(span, taken):
                self._painter.drawLine(self._frame.point(start, 0), self._frame.point(end, 0))

    def _low(self, cut: SectionCut) -> float:
        """Return from where on along the line the foam is seen: what lies before that is where the depths are read."""
        return max(cut.foam[0][0] if cut.foam else 0.0, self._frame.to_mm(QPointF(84 * self._scale, 0))[0])

    def _scale_figures(self, cut: SectionCut, workspace: Workspace) -> None:
        frame, painter = self._frame, self._painter
        low = self._low(cut)
        margin = frame.rect(low - 1000.0, -500.0, low, 1000.0)
        painter.fillRect(margin, self._theme.colour("panel"))  # a near view goes on beyond: here the depths are read
        painter.setPen(self._theme.colour("ink_soft"))
        last = -100.0
        for layer in cut.layers:
            at = frame.point(low, layer.bottom_mm)
            if at.y() - last < self._metrics.height():
                continue
            last = at.y()
            text = f"{layer.number} · {workspace.length(layer.bottom_mm)}"
            box = QRectF(at.x() - 90 * self._scale, at.y() - 9, 82 * self._scale, 18)
            painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, text)
            painter.drawLine(QPointF(at.x() - 6, at.y()), QPointF(at.x(), at.y()))

    def _riser(self, body: Body, cut: SectionCut) -> None:
        """Paint the part of the plug that is put back under a thing in plain foam."""
        if body.riser_mm <= 0.5:
            return
        bottom = cut.layers[body.floor_layers - 1].bottom_mm
        rect = self._frame.rect(body.span[0], bottom - body.riser_mm, body.span[1], bottom)
        self._painter.fillRect(rect, self._theme.colour("strata_b"))
        self._painter.setPen(QPen(self._theme.colour("shade"), 1, Qt.PenStyle.DotLine))
        self._painter.setBrush(Qt.BrushStyle.NoBrush)
        self._painter.drawRect(rect)

    def _body(self, body: Body, item: Item | None, *, chosen: bool) -> None:
        polygon = QPolygonF([self._frame.point(s, z) for s, z in self._motion.ring(body)])
        if body.rocked:
            ghost = QPolygonF([self._frame.point(s, z) for s, z in body.rocked])
            self._painter.setBrush(Qt.BrushStyle.NoBrush)
            self._painter.setPen(QPen(self._theme.colour("care"), 1.6, Qt.PenStyle.DashLine))
            self._painter.drawPolygon(ghost)
        if item is not None and body.zone < len(item.zones):
            self._painter.setBrush(QColor(*finish_of(item, body.zone, "").colour))
        else:
            self._painter.setBrush(self._theme.colour("tool"))
        line = self._theme.colour("accent" if chosen else "tool_line")
        self._painter.setPen(QPen(line, 2.4 if chosen else 1.4))
        self._painter.drawPolygon(polygon)

    def _handles(self, cut: SectionCut, workspace: Workspace) -> None:
        edge = self._frame.point(self._low(cut), 0.0).x()
        for body in cut.bodies:
            chosen = body.placement in workspace.selection
            rect = self._frame.floor_handle(body, cut)
            if rect.center().x() < edge:
                continue  # looked at from near, its floor lies beyond the edge
            if not chosen:
                rect = rect.adjusted(7, 2, -7, -2)
            self._painter.setPen(QPen(self._theme.colour("paper"), 1))
            self._painter.setBrush(self._theme.colour("accent" if chosen else "line_strong"))
            self._painter.drawRoundedRect(rect, rect.height() / 2, rect.height() / 2)
            if chosen:
                text = f"{body.floor_layers}"
                high = max(20.0, self._metrics.height() + 3.0)  # whatever size letters have
                wide = max(1.3 * high, self._metrics.horizontalAdvance(text) + 0.6 * high)
                box = QRectF(rect.center().x() - wide / 2, rect.center().y() - high / 2, wide, high)
                self._painter.drawRoundedRect(box, 6, 6)
                self._painter.setPen(self._theme.colour("on_accent"))
                self._painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _names(self, cut: SectionCut, workspace: Workspace) -> None:
        """Write each thing's name above it, in as many rows as keep names apart."""
        rows: list[float] = []
        seen: set[str] = set()
        for body in sorted(cut.bodies, key=lambda one: one.span):
            if body.placement in seen:
                continue
            seen.add(body.placement)
            mine = [one.span for one in cut.bodies if one.placement == body.placement]
            middle = self._frame.point((min(s[0] for s in mine) + max(s[1] for s in mine)) / 2, 0).x()
            text = placement_name(workspace.project, body.placement)
            width = self._metrics.horizontalAdvance(text)
            if not 0 <= middle - width / 2 <= self._size.width() - width:
                continue  # looked at from near, it lies beyond the edge
            row = next((n for n, end in enumerate(rows) if middle - width / 2 > end + 8), len(rows))
            if row >= 2:
                continue
            rows[row:] = [middle + width / 2, *rows[row + 1 :]]
            chosen = body.placement in workspace.selection
            self._painter.setPen(self._theme.colour("accent" if chosen else "ink"))
            y = 6 + row * self._metrics.height()
            box = QRectF(middle - width / 2 - 2, y + self._metrics.height(), width + 4, self._metrics.height())
            self._painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _title(self, cut: SectionCut, workspace: Workspace) -> None:
        self._painter.setPen(self._theme.colour("ink_soft"))
        text = tr("Section, {length} long", length=workspace.length(cut.length_mm, digits=0))
        self._painter.drawText(QPointF(10, 4 + self._metrics.ascent()), text)
        hint = tr("pull a floor up or down to change its layers; Z: nearer or all")
        width = self._metrics.horizontalAdvance(hint)
        if self._size.width() < width + self._metrics.horizontalAdvance(text) + 40:
            return  # large type in a narrow middle: the title is what is needed
        self._painter.drawText(QPointF(self._size.width() - width - 10, 4 + self._metrics.ascent()), hint)


def _merged(spans: list[tuple[float, float]]) -> list[tuple[float, float]]:
    found: list[tuple[float, float]] = []
    for low, high in sorted(spans):
        if found and low <= found[-1][1] + 1e-6:
            found[-1] = (found[-1][0], max(found[-1][1], high))
        else:
            found.append((low, high))
    return found


def _without(span: tuple[float, float], gone: list[tuple[float, float]]) -> list[tuple[float, float]]:
    left, found = span[0], []
    for low, high in gone:
        if high <= left or low >= span[1]:
            continue
        if low > left:
            found.append((left, low))
        left = max(left, high)
    if left < span[1]:
        found.append((left, span[1]))
    return found
