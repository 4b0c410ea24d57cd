"""Carry: what the loaded container weighs, where its weight lies, and a picture of how it hangs from its handle."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen, QTransform
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import head, soft, verdict
from cozy_burrow.app.look.painting import paints, saved
from cozy_burrow.app.look.theme.theme import Theme, type_font
from cozy_burrow.app.scene.paths import area_path
from cozy_burrow.app.scene.relief import look_of
from cozy_burrow.app.scene.small_pictures import SmallReliefs
from cozy_burrow.app.screens.measure.page import Page
from cozy_burrow.core.container.bay import tiers_of
from cozy_burrow.core.container.rim import rim_polygon
from cozy_burrow.core.ground.carrying import HANGS_ASKEW_DEG, Carried, carried, handle_point, unsure_g
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.kit.zones import UNWEIGHED_G_MM3
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Insert
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import format_length

MOST_TIERS = 6
_TIER_WIDE_PX = 150.0


class CarryPage(Page):
    """Figures of the load."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        self.column.addWidget(head(tr("Loaded and carried")))
        self.text = verdict(
            tip=tr(
                "Items by their own masses at their centres of mass, foam by its volume and density "
                "less all pockets, the empty case as evenly spread. ±: foam 15 % by its density, items "
                "and case 3 % by the scale, what nobody weighed 50 %."
            )
        )
        self.column.addWidget(self.text)
        self.unknown = soft("")
        self.column.addWidget(self.unknown)
        self.caution = soft(
            tr("Above the limit two people lift; your local rule counts. Close the latches before lifting.")
        )
        self.column.addWidget(self.caution)
        self.column.addStretch(1)
        self.follow()

    def follow(self) -> None:
        """Show the figures as they are now."""
        workspace = self._workspace
        load, box = carried(workspace.project, workspace.container), workspace.container
        self.text.setText(carry_words(load, workspace))
        names = [placement_name(workspace.project, key) for key in load.unknown]
        self.unknown.setText(
            tr(
                "Not weighed: {list}{more}. Taken as {guessed:.2f} kg by volume, {unweighed_g_mm3:.1f} g a "
                "cm³, give or take half. Weigh them under Gather.",
                list=", ".join(names[:6]),
                more=tr(" and {count} more", count=len(names) - 6) if len(names) > 6 else "",
                guessed=load.guessed_g / 1000,
                unweighed_g_mm3=UNWEIGHED_G_MM3 * 1000,
            )
            if names
            else ""
        )
        self.unknown.setVisible(bool(names))
        self.caution.setVisible(box.kind == "case")


def carry_words(load: Carried, workspace: Workspace) -> str:
    """Return the load in sentences."""
    kilo = load.whole.mass_g / 1000
    parts = [
        tr("items {things:.2f} kg", things=load.things_g / 1000),
        tr("foam {foam:.2f} kg", foam=load.foam_g / 1000),
    ]
    if load.case_g:
        parts.append(tr("case {case:.2f} kg", case=load.case_g / 1000))
    limit = workspace.project.rules.two_lift_kg
    lines = [
        tr("{kilo:.1f} kg ± {unsure:.1f}: {list}.", kilo=kilo, unsure=unsure_g(load) / 1000, list=", ".join(parts)),
        tr("One can lift it.") if kilo <= limit else tr("Two people lift it."),
    ]
    length = workspace.length
    lines.append(
        tr(
            "Its weight lies {x} from the left, {y} from the back, {height} above the floor.",
            x=length(load.whole.x_mm, digits=0),
            y=length(load.whole.y_mm, digits=0),
            height=length(load.whole.height_mm, digits=0),
        )
    )
    if load.sideways_deg is None:
        lines.append(tr("Say where its handle is under Inside, and it is seen how it hangs."))
        return "\n".join(lines)
    sideways = abs(load.sideways_deg)
    lines.append(
        (
            tr("It hangs {sideways:.1f}° to the right of the plan", sideways=sideways)
            if load.sideways_deg > 0
            else tr("It hangs {sideways:.1f}° to the left of the plan", sideways=sideways)
        )
        + (
            tr(", which nobody notices.")
            if abs(load.sideways_deg) <= HANGS_ASKEW_DEG
            else tr(": move weight to the other side.")
        )
    )
    swing = abs(load.swing_deg or 0.0)
    lines.append(
        tr("Its base swings out by {swing:.0f}°.", swing=swing)
        if (load.swing_deg or 0.0) > 0
        else tr("Its lid swings out by {swing:.0f}°.", swing=swing)
    )
    return "\n".join(lines)


class CarryView(QWidget):
    """The container from above as it hangs: things where they lie, the weight below the handle; beside it on edge."""

    def __init__(self, workspace: Workspace, theme: Theme, scale: float, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._workspace, self._theme, self._type_scale = workspace, theme, scale
        self._reliefs = SmallReliefs(self, most=2 * MOST_TIERS)
        self._reliefs.changed.connect(self.update)
        self.setAccessibleName(tr("How the container hangs from its handle"))
        workspace.document_changed.connect(self.update)

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self._theme = theme
        self.update()

    @paints
    def paintEvent(self, painter: QPainter) -> None:
        """Paint the container hanging, its weight and the plumb line."""
        theme, box = self._theme, self._workspace.container
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("paper"))
        painter.setFont(type_font("figure", self._type_scale))
        load = carried(self._workspace.project, box)
        size = math.hypot(box.width_mm, box.depth_mm) * 1.12
        scale = min(self.width(), self.height()) / size
        if box.handle is None:
            turn, pivot = 0.0, QPointF(box.width_mm / 2, box.depth_mm / 2)
            middle = QPointF(self.width() / 2, self.height() / 2)
        else:
            at, _ = handle_point(box)
            pivot = QPointF(*at)
            # The handle's wall goes up; then the whole turns until its weight lies straight below.
            up = {"front": 180.0, "back": 0.0, "left": 90.0, "right": -90.0}[box.handle.side]
            weight = QTransform().rotate(up).map(QPointF(load.whole.x_mm, load.whole.y_mm) - pivot)
            turn = up + math.degrees(math.atan2(weight.x(), max(1e-6, weight.y())))
            middle = QPointF(self.width() / 2, self.height() * 0.13)
        map_ = QTransform().translate(middle.x(), middle.y()).scale(scale, scale).rotate(turn)
        map_.translate(-pivot.x(), -pivot.y())
        self._hung(painter, map_, scale)
        self._tiers_below(painter)
        weight_at = map_.map(QPointF(load.whole.x_mm, load.whole.y_mm))
        if box.handle is not None:
            painter.setPen(QPen(theme.colour("accent"), 2, Qt.PenStyle.DashLine))
            painter.drawLine(middle, QPointF(middle.x(), self.height() - 44))
            painter.setPen(QPen(theme.colour("ink"), 7, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            grip = QRectF(middle.x() - 34, middle.y() - 26, 68, 44)
            painter.drawArc(grip, 0, 180 * 16)
        painter.setPen(QPen(theme.colour("paper"), 2))
        painter.setBrush(theme.colour("care"))
        painter.drawEllipse(weight_at, 11, 11)
        painter.drawLine(weight_at - QPointF(11, 0), weight_at + QPointF(11, 0))
        painter.drawLine(weight_at - QPointF(0, 11), weight_at + QPointF(0, 11))
        painter.setPen(theme.colour("ink"))
        text = f"{load.whole.mass_g / 1000:.1f} kg"
        if load.sideways_deg is not None:
            text += tr(", hangs {sideways:.1f}° askew", sideways=abs(load.sideways_deg))
        box_of = QRectF(weight_at.x() + 18, weight_at.y() - 14, 260 * self._type_scale, 28)
        card = QRectF(box_of.topLeft(), box_of.bottomRight())
        card.setWidth(painter.fontMetrics().horizontalAdvance(text) + 16)
        painter.setBrush(theme.colour("paper"))
        painter.setPen(QPen(theme.colour("line_strong"), 1))
        painter.drawRoundedRect(card, 5, 5)
        painter.setPen(theme.colour("ink"))
        painter.drawText(card, Qt.AlignmentFlag.AlignCenter, text)
        height = format_length(load.whole.height_mm, self._workspace.unit)
        foot = tr(
            "Hung by its handle, lid side towards you, all tiers; the weight lies {height} above the floor.",
            height=height,
        )
        painter.drawText(QRectF(10, self.height() - 30, self.width() - 20, 24), Qt.AlignmentFlag.AlignVCenter, foot)

    def _grounds(self) -> list[tuple[Insert, Ground]]:
        """Return the tiers of the container with their grounds, the top one first."""
        project = self._workspace.project
        return [(one, ground_of(project, one)) for one in tiers_of(project, self._workspace.container.id)]

    def _hung(self, painter: QPainter, map_: QTransform, px_per_mm: float) -> None:
        """Paint what is seen of the container: its top tier, drawn until there is a picture of it."""
        theme, (_, top) = self._theme, self._grounds()[0]
        with saved(painter):
            painter.setTransform(map_, True)
            if self._reliefs.put(painter, top, look_of(theme), px_per_mm=px_per_mm * self.devicePixelRatioF()):
                return
        painter.setPen(QPen(theme.colour("line_strong"), 4))
        painter.setBrush(theme.colour("foam_top", 0.45))
        painter.drawPath(map_.map(area_path(rim_polygon(self._workspace.container))))
        painter.setPen(QPen(theme.colour("tool_line"), 1))
        painter.setBrush(theme.colour("tool", 0.8))
        for pocket in top.pockets.values():
            painter.drawPath(map_.map(area_path(pocket.surface)))

    def _tiers_below(self, painter: QPainter) -> None:
        """Paint the tiers that the top one covers, small, one below the other at the right."""
        below = self._grounds()[1:MOST_TIERS]
        wide = _TIER_WIDE_PX * self._type_scale
        line, y = painter.fontMetrics().height(), 10.0
        for insert, ground in below:
            left, top, right, bottom = ground.extent
            scale = wide / max(1.0, right - left, bottom - top)
            high = (bottom - top) * scale
            with saved(painter):
                painter.translate(self.width() - wide - 14, y + line + 4)
                painter.scale(scale, scale)
                painter.translate(-left, -top)
                self._reliefs.put(painter, ground, look_of(self._theme))
            painter.setPen(self._theme.colour("ink"))
            name = painter.fontMetrics().elidedText(
                tr("below: {name}", name=insert.name), Qt.TextElideMode.ElideRight, round(wide)
            )
            painter.drawText(QRectF(self.width() - wide - 14, y, wide, line), Qt.AlignmentFlag.AlignLeft, name)
            y += line + high + 18
