"""What lies over the plan as on tracing paper: selection, gaps with their figures, findings, the section line."""

from __future__ import annotations

import math
from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import (
    QBrush,
    QPen,
    QPolygonF,
)

from cozy_burrow.app.look.painting import sharpness
from cozy_burrow.app.scene.figures import Figures
from cozy_burrow.app.scene.paths import area_path
from cozy_burrow.app.scene.word_stamps import Dress, WordStamps
from cozy_burrow.core.arrange.catching import Catch
from cozy_burrow.core.arrange.wishes import Wish
from cozy_burrow.core.container.level import level_polygon
from cozy_burrow.core.container.rim import rim_polygon
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.ground.carrying import handle_point
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.ground.naming import NameTag
from cozy_burrow.core.model.records import Container, Point, Ring
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import Unit, format_length


class Overlay(Figures):
    """Paints in the pixels of the view, so that lines and figures keep their size at every scale."""

    def hint(self, text: str, at: Point) -> None:
        """Paint a sentence where there is nothing to see yet."""
        self.figure(text, self.to_view(at), self.theme.colour("line_strong"))

    def ghost(self, ground: Ground) -> None:
        """Paint a layout that is not taken yet: what is there recedes, what may come stands in broken lines."""
        painter, theme = self.painter, self.theme
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour("foam_top", 0.72))
        painter.drawPath(self.transform.map(area_path(ground.blank)))
        painter.setBrush(theme.colour("pull", 0.35))
        for pull in ground.pulls:
            painter.drawPath(self.transform.map(area_path(pull.area)))
        painter.setBrush(theme.colour("tool", 0.6))
        painter.setPen(QPen(theme.colour("tool_line"), 1.5, Qt.PenStyle.DashLine))
        for pocket in ground.pockets.values():
            painter.drawPath(self.transform.map(area_path(pocket.surface)))
        left, top, right, _ = ground.blank.bounds
        self.hint(tr("The best so far: not taken yet"), ((left + right) / 2, top + 12.0))

    def selection(self, ground: Ground, chosen: tuple[str, ...]) -> None:
        """Paint a bold line round every selected pocket, and a lock where it is locked."""
        self.painter.setBrush(Qt.BrushStyle.NoBrush)
        locked = {one.id for one in ground.insert.placements if one.locked}
        for key in chosen:
            if key not in ground.pockets:
                continue
            surface = ground.pockets[key].surface
            path = self.transform.map(area_path(surface))
            for width, role in ((5.0, "paper"), (3.0, "accent")):
                self.painter.setPen(QPen(self.theme.colour(role), width))
                self.painter.drawPath(path)
        for key in locked & set(ground.pockets):
            centre = ground.pockets[key].surface.centroid
            self.lock(self.to_view((centre.x, centre.y)))

    def lock(self, at: QPointF) -> None:
        """Paint a small padlock."""
        painter = self.painter
        painter.setPen(QPen(self.theme.colour("tool_line"), 2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawArc(QRectF(at.x() - 4, at.y() - 9, 8, 10), 0, 180 * 16)
        painter.setBrush(self.theme.colour("tool_line"))
        painter.drawRoundedRect(QRectF(at.x() - 6, at.y() - 4, 12, 9), 2, 2)

    def names(self, tags: Sequence[tuple[NameTag, str]], words: WordStamps, *, on_dark: bool) -> None:
        """Write names along or beside their things; one that would hide a figure or a mark is left out."""
        ink, halo = ("relief_ink", "relief_halo") if on_dark else ("ink", "paper")
        sharp = sharpness(self.painter)
        dress = Dress(self.theme.colour(ink), self.theme.colour(halo, 0.75), sharp)
        for tag, text in tags:
            stamp = words.stamp(text, tag.angle_deg, dress)
            if stamp is None:
                continue
            at = self.to_view(tag.at)
            at = QPointF(round(at.x() * sharp) / sharp, round(at.y() * sharp) / sharp)
            if any(stamp.place.translated(at).intersects(card) for card in self._cards):
                continue
            if tag.leader is not None:
                start, end = (self.to_view(point) for point in tag.leader)
                self.painter.setPen(QPen(self.theme.colour(halo, 0.7), 3))
                self.painter.drawLine(start, end)
                self.painter.setPen(QPen(self.theme.colour(ink), 1.2))
                self.painter.drawLine(start, end)
            self.painter.drawPixmap(at + stamp.corner, stamp.picture)

    def finding(self, finding: Finding, *, current: bool) -> None:
        """Paint a mark at a finding's place: a triangle for a stop, a diamond for care, a dot for a note."""
        if finding.where_mm is None:
            return
        at = self.to_view(finding.where_mm)
        colour = self.theme.severity(finding.severity)
        size = 10.0 if current else 7.0
        self._cards.append(QRectF(at.x() - size, at.y() - size, 2 * size, 2 * size))
        self.painter.setPen(QPen(self.theme.colour("paper"), 2))
        self.painter.setBrush(colour)
        if finding.severity == "stop":
            corners = [QPointF(0, -size), QPointF(size, size * 0.8), QPointF(-size, size * 0.8)]
        elif finding.severity == "care":
            corners = [QPointF(0, -size), QPointF(size, 0), QPointF(0, size), QPointF(-size, 0)]
        else:
            self.painter.drawEllipse(at, size * 0.6, size * 0.6)
            return
        self.painter.drawPolygon(QPolygonF([at + corner for corner in corners]))
        if current:
            self.painter.setBrush(Qt.BrushStyle.NoBrush)
            self.painter.setPen(QPen(colour, 3))
            self.painter.drawEllipse(at, 20, 20)

    def section_line(self, start: Point, end: Point) -> None:
        """Paint the line that the section is cut along, with a grip at either end and the way it looks."""
        a, b = self.to_view(start), self.to_view(end)
        self.painter.setPen(QPen(self.theme.colour("paper", 0.85), 4))
        self.painter.drawLine(a, b)
        pen = QPen(self.theme.colour("accent"), 2, Qt.PenStyle.CustomDashLine)
        pen.setDashPattern([9, 3, 2, 3])
        self.painter.setPen(pen)
        self.painter.drawLine(a, b)
        length = math.hypot(b.x() - a.x(), b.y() - a.y())
        if length < 1:
            return
        self.painter.setPen(QPen(self.theme.colour("paper"), 1.5))
        self.painter.setBrush(self.theme.colour("accent"))
        for at in (a, b):
            self.painter.drawRoundedRect(QRectF(at.x() - 7, at.y() - 7, 14, 14), 4, 4)

    def floor_line(self, box: Container) -> None:
        """Paint the inside at the floor, dashed, where it is narrower than the rim; on a wall the way down."""
        floor = level_polygon(box, box.height_mm)
        if not floor.is_empty and floor is not rim_polygon(box):
            pen = QPen(self.theme.colour("paper"), 1.6, Qt.PenStyle.DashLine)
            self.painter.setPen(pen)
            self.painter.setBrush(Qt.BrushStyle.NoBrush)
            self.painter.drawPath(self.transform.map(area_path(floor)))
        if box.kind == "wall":
            ends = {
                "front": ((0.5, 0.42), (0.5, 0.58)),
                "back": ((0.5, 0.58), (0.5, 0.42)),
                "left": ((0.58, 0.5), (0.42, 0.5)),
                "right": ((0.42, 0.5), (0.58, 0.5)),
            }[box.down]
            a, b = (self.to_view((x * box.width_mm, y * box.depth_mm)) for x, y in ends)
            self.painter.setPen(QPen(self.theme.colour("accent"), 3))
            self.painter.drawLine(a, b)
            self.figure(tr("down"), b, self.theme.colour("accent"))

    def handle(self, box: Container) -> None:
        """Paint the handle where it is on its wall."""
        if box.handle is None:
            return
        at, _ = handle_point(box)
        point = self.to_view(at)
        out = {"front": (0, 1), "back": (0, -1), "left": (-1, 0), "right": (1, 0)}[box.handle.side]
        self.painter.setPen(QPen(self.theme.colour("ink"), 6, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        self.painter.setBrush(Qt.BrushStyle.NoBrush)
        wide = QPointF(26, 0) if out[0] == 0 else QPointF(0, 26)
        shift = QPointF(out[0], out[1]) * 12
        self.painter.drawPolyline([point - wide, point - wide + shift, point + wide + shift, point + wide])

    def grip(self, at: Point) -> None:
        """Paint a place where a wall or corner can be pulled."""
        point = self.to_view(at)
        self.painter.setPen(QPen(self.theme.colour("paper"), 1.5))
        self.painter.setBrush(self.theme.colour("accent"))
        self.painter.drawRoundedRect(QRectF(point.x() - 8, point.y() - 8, 16, 16), 5, 5)

    def measure(self, start: Point, end: Point, text: str) -> None:
        """Paint a dimension: a line with end ticks and the figure in its middle."""
        a, b = self.to_view(start), self.to_view(end)
        colour = self.theme.colour("ink")
        self.painter.setPen(QPen(colour, 1.5))
        self.painter.drawLine(a, b)
        along = b - a
        length = max(1e-6, math.hypot(along.x(), along.y()))
        tick = QPointF(-along.y(), along.x()) / length * 6
        for at in (a, b):
            self.painter.drawLine(at - tick, at + tick)
        self.figure(text, (a + b) / 2, colour)

    def band(self, start: Point, end: Point) -> None:
        """Paint the rectangle that is being drawn."""
        self.painter.setPen(QPen(self.theme.colour("accent"), 1.5, Qt.PenStyle.DashLine))
        self.painter.setBrush(self.theme.colour("accent", 0.12))
        self.painter.drawRect(QRectF(self.to_view(start), self.to_view(end)).normalized())

    def spare(self, rings: Sequence[Ring], unit: Unit) -> None:
        """Paint the areas that are kept free: hatched, with their size."""
        for ring in rings:
            corners = QPolygonF([self.to_view(point) for point in ring])
            self.painter.setPen(QPen(self.theme.colour("paper"), 2, Qt.PenStyle.DashLine))
            self.painter.setBrush(QBrush(self.theme.colour("paper", 0.55), Qt.BrushStyle.BDiagPattern))
            self.painter.drawPolygon(corners)
            width = max(x for x, _ in ring) - min(x for x, _ in ring)
            depth = max(y for _, y in ring) - min(y for _, y in ring)
            size = f"{format_length(width, unit, digits=0, suffix=False)} x {format_length(depth, unit, digits=0)}"
            self.figure(
                tr("kept free, {size}", size=size), corners.boundingRect().center(), self.theme.colour("line_strong")
            )

    def catches(self, catches: Sequence[Catch], unit: Unit) -> None:
        """Paint the lines that a carried item lies on, faint, and the gaps that are alike, with their figure."""
        colour = self.theme.colour("accent")
        told: set[float] = set()
        for one in catches:
            start, end = self.to_view(one.start), self.to_view(one.end)
            for width, ink in ((3.0, self.theme.colour("paper", 0.7)), (1.2, colour)):
                self.painter.setPen(
                    QPen(ink, width, Qt.PenStyle.DashLine if one.gap_mm is None else Qt.PenStyle.SolidLine)
                )
                self.painter.drawLine(start, end)
            if one.gap_mm is not None and one.gap_mm not in told:  # once for all that are alike
                told.add(one.gap_mm)
                self.figure("= " + format_length(one.gap_mm, unit, digits=1), (start + end) / 2, colour)

    def wish(self, wish: Wish) -> None:
        """Paint what a wish looks at: areas pale, what is as wished in full lines, what is not dashed in red."""
        painter = self.painter
        for area, name in wish.areas:
            path = self.transform.map(area_path(area))
            painter.setPen(QPen(self.theme.colour("paper"), 2))
            painter.setBrush(self.theme.colour("accent_soft", 0.75 if name == "rectangle" else 0.3))
            painter.drawPath(path)
        for start, end, fine in wish.lines:
            a, b = self.to_view(start), self.to_view(end)
            colour = self.theme.colour("accent" if fine else "stop")
            style = Qt.PenStyle.SolidLine if fine else Qt.PenStyle.DashLine
            painter.setPen(QPen(self.theme.colour("paper"), 6))
            painter.drawLine(a, b)
            painter.setPen(QPen(colour, 3, style))
            painter.drawLine(a, b)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colour)
            painter.drawEllipse(b, 5, 5)
        if wish.name == "together":
            for area, name in wish.areas:
                centre = area.centroid
                self.figure(name, self.to_view((centre.x, centre.y)), self.theme.colour("line_strong"))
