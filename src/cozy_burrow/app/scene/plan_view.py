"""The plan: foam from above with everything that lies in it; things are dragged, turned and measured here."""

from __future__ import annotations

from typing import Literal

from PySide6.QtCore import QEvent, QPoint, QPointF, QRect, QRectF, Qt, Signal
from PySide6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPen, QPolygonF, QResizeEvent, QWheelEvent
from PySide6.QtWidgets import QGraphicsScene, QGraphicsView, QToolTip, QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.painting import guarded
from cozy_burrow.app.look.theme.theme import Theme, type_font
from cozy_burrow.app.scene import overlay_grips
from cozy_burrow.app.scene.box_handling import BoxHandling
from cozy_burrow.app.scene.ground_item import GroundItem
from cozy_burrow.app.scene.handling import Handling
from cozy_burrow.app.scene.overlay import Overlay
from cozy_burrow.core.arrange.wishes import Wish
from cozy_burrow.core.bench.cuts import Cut
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.ground.gaps import Gap, gaps_round
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.ground.hits import thing_at
from cozy_burrow.core.ground.section import section_line
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Point
from cozy_burrow.core.tolerances import RULE_SLACK_MM
from cozy_burrow.core.units import format_length

Mode = Literal["measure", "lay-out", "sink", "grip", "cut"]
MOST_GAPS = 4
_GRIP_CURSORS = {
    "right": Qt.CursorShape.SizeHorCursor,
    "front": Qt.CursorShape.SizeVerCursor,
    "corner": Qt.CursorShape.SizeFDiagCursor,
    "obstacle": Qt.CursorShape.OpenHandCursor,
}
_TOOL_ALPHA: dict[Mode, float] = {"measure": 0.35, "lay-out": 0.94, "sink": 0.5, "grip": 0.55, "cut": 0.0}


class PlanView(QGraphicsView):
    """Shows the insert that is worked on. Drags go through Handling, which changes the document."""

    cursor_moved = Signal(object)

    def __init__(self, workspace: Workspace, theme: Theme, scale: float, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._workspace, self._theme, self._type_scale = workspace, theme, scale
        self._scene = QGraphicsScene(self)
        self._scene.setItemIndexMethod(QGraphicsScene.ItemIndexMethod.NoIndex)
        self.setScene(self._scene)
        self._ground_item = GroundItem(theme)
        self._scene.addItem(self._ground_item)
        self._fitted = True
        self._pan_from: QPoint | None = None
        self._traced: object = None
        self._traced_near = QRect()
        self.mode: Mode = "lay-out"
        self.current_finding: Finding | None = None
        self.wish: Wish | None = None  # whose picture lies over the plan
        self.ghost: Ground | None = None  # a layout that a search has found and nobody has taken yet
        self.over = "pulls"  # what is laid over the plan at Grip
        self.cuts: tuple[Cut, ...] = ()
        self.handling = Handling(workspace)
        self.box_handling = BoxHandling(workspace)
        self.setMouseTracking(True)
        self.setAcceptDrops(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setViewportUpdateMode(QGraphicsView.ViewportUpdateMode.MinimalViewportUpdate)
        self.setTransformationAnchor(QGraphicsView.ViewportAnchor.AnchorUnderMouse)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setBackgroundBrush(theme.colour("surface"))
        self.setAccessibleName("Plan of the insert")
        workspace.document_changed.connect(self.show_document)
        workspace.selection_changed.connect(self._show_selection)
        workspace.judged.connect(self._drop_finding)
        self.show_document()

    @property
    def px_per_mm(self) -> float:
        """How large a millimetre is on the screen."""
        return float(self.transform().m11())

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self._theme = theme
        self.setBackgroundBrush(theme.colour("surface"))
        self._ground_item.set_theme(theme)

    def set_mode(self, mode: Mode) -> None:
        """Look at the plan as a stage of the work does."""
        self.mode = mode
        self._ground_item.only_layer = None
        self._ground_item.tool_alpha = _TOOL_ALPHA[mode]
        self._ground_item.update()
        self.viewport().update()

    def show_layer(self, number: int | None) -> None:
        """Show the foam as it is once layer `number` is peeled; None: all of them."""
        self._ground_item.only_layer = number
        self._ground_item.update()
        self.viewport().update()

    def show_document(self) -> None:
        """Follow the document: only what changed is made anew."""
        workspace = self._workspace
        self._ground_item.show_ground(workspace.ground)
        rect = self._ground_item.boundingRect()
        if rect.adjusted(-400, -400, 400, 400) != self._scene.sceneRect():
            self._scene.setSceneRect(rect.adjusted(-400, -400, 400, 400))
            if self._fitted and not self.box_handling.is_holding:  # else the wall would run from under the hand
                self.fit()
        self.repaint_tracing()

    def _drop_finding(self) -> None:
        """The findings are known: one that holds no more is no longer pointed at."""
        if self.current_finding is not None and self.current_finding not in self._workspace.findings_seen:
            self.current_finding = None
        self.repaint_tracing()

    def repaint_tracing(self) -> None:
        """Paint the tracing paper anew: near the selection only, while nothing else on it has changed."""
        workspace = self._workspace
        rest = (workspace.findings_seen, workspace.insert.section_line, workspace.unit, self.mode, self.current_finding)
        near = self._near_selection() if len(workspace.selection) == 1 else QRect()
        if rest != self._traced or near.isNull() or self._traced_near.isNull():
            self.viewport().update()
        else:
            self.viewport().update(near.united(self._traced_near))
        self._traced, self._traced_near = rest, near

    def _what_is_at(self, point: Point) -> str:
        """Return what lies under the pointer, how deep it is and what its figures mean."""
        workspace = self._workspace
        key = thing_at(workspace.ground, point)
        if key is None:
            return ""
        seating = workspace.ground.pockets[key].seating
        text = f"{placement_name(workspace.project, key)}\n{workspace.length(seating.bottom_mm)} deep"
        if key in workspace.selection:
            text += "\nFigures: foam between the pockets where it is scarcest, and what must stay there"
        return text

    def _gaps(self) -> tuple[Gap, ...]:
        return gaps_round(self._workspace.ground, self._workspace.selection[0], most=MOST_GAPS)

    def _gap_text(self, gap: Gap) -> str:
        sign = "<" if gap.short_mm > RULE_SLACK_MM else "≥"
        figure = format_length(gap.gap_mm, self._workspace.unit, suffix=False)
        return f"{figure} {sign} {self._workspace.length(gap.wanted_mm)}"

    def _near_selection(self) -> QRect:
        """Return the part of the viewport that selection, gaps and their figures may take up."""
        ground, key = self._workspace.ground, self._workspace.selection[0]
        left, top, right, bottom = ground.pockets[key].surface.bounds
        points = [(left, top), (right, bottom)]
        for gap in self._gaps():
            points += [gap.from_mm, gap.to_mm]
        corners = QPolygonF([QPointF(x, y) for x, y in points]).boundingRect()
        room = round(130 * self._type_scale)
        return self.viewportTransform().mapRect(corners).toAlignedRect().adjusted(-room, -room, room, room)

    def viewportEvent(self, event: QEvent) -> bool:
        """Say what lies under the pointer."""
        if event.type() == QEvent.Type.ToolTip and isinstance(event, QHelpEvent) and self.mode != "measure":
            QToolTip.showText(event.globalPos(), self._what_is_at(self.plan_point(event.pos())), self)
            return True
        return super().viewportEvent(event)

    def _show_selection(self) -> None:
        names = [placement_name(self._workspace.project, key) for key in self._workspace.selection]
        self.setAccessibleDescription("Selected: " + ", ".join(names) if names else "Nothing is selected")
        self.viewport().update()

    def show_over(self, name: str) -> None:
        """Choose what is laid over the plan at Grip: pulls, walls or hold."""
        self.over = name
        self.viewport().update()

    def show_wish(self, wish: Wish | None) -> None:
        """Lay the picture of a wish over the plan; None takes it away."""
        self.wish = wish
        self.viewport().update()

    def point_to(self, finding: Finding | None) -> None:
        """Ring a finding on the plan."""
        self.current_finding = finding
        self.viewport().update()

    # Scale and place

    def fit(self) -> None:
        """Show the whole insert."""
        margin = 40.0 if self.mode == "measure" else 4.0
        rect = self._ground_item.boundingRect().adjusted(12 - margin, 12 - margin, margin - 12, margin - 12)
        self.fitInView(rect, Qt.AspectRatioMode.KeepAspectRatio)
        self._fitted = True

    def zoom(self, factor: float) -> None:
        """Come nearer or step back."""
        if 0.2 <= self.px_per_mm * factor <= 40:
            self.scale(factor, factor)
            self._fitted = False
            self.viewport().update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        """The wheel comes nearer or steps back."""
        self.zoom(1.0015 ** event.angleDelta().y())
        event.accept()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Keep the whole insert in view until somebody comes nearer."""
        super().resizeEvent(event)
        if self._fitted:
            self.fit()

    # Hands

    def plan_point(self, at: QPointF | QPoint) -> Point:
        """Return the plan coordinates of a point of the viewport."""
        point = self.mapToScene(at.toPoint() if isinstance(at, QPointF) else at)
        return point.x(), point.y()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Take hold of what lies here."""
        if event.button() == Qt.MouseButton.MiddleButton:
            self._pan_from = event.position().toPoint()
            return
        if event.button() == Qt.MouseButton.LeftButton and self.mode == "measure":
            self.box_handling.press(self.plan_point(event.position()), reach_mm=12.0 / self.px_per_mm)
        elif event.button() == Qt.MouseButton.LeftButton:
            more = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self.handling.press(
                self.plan_point(event.position()), reach_mm=8.0 / self.px_per_mm, more=more, grip=self.mode == "grip"
            )
            self.viewport().update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Carry what is held."""
        if self._pan_from is not None:
            step = event.position().toPoint() - self._pan_from
            self._pan_from = event.position().toPoint()
            self._fitted = False
            self.setTransformationAnchor(QGraphicsView.ViewportAnchor.NoAnchor)
            self.translate(step.x() / self.px_per_mm, step.y() / self.px_per_mm)
            self.setTransformationAnchor(QGraphicsView.ViewportAnchor.AnchorUnderMouse)
            return
        point = self.plan_point(event.position())
        self.cursor_moved.emit(point)
        if self.mode == "measure":
            if self.box_handling.is_holding:
                self.box_handling.move(point)
            else:
                grip = self.box_handling.grip_at(point, reach_mm=12.0 / self.px_per_mm)
                self.viewport().setCursor(_GRIP_CURSORS.get(grip, Qt.CursorShape.ArrowCursor))
        elif self.handling.is_holding:
            self._ground_item.is_hurried = True
            self.handling.move(point, freely=bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier))
            if self.handling.band is not None:
                self.viewport().update()
        else:
            self.viewport().setCursor(self._cursor(point))

    def _cursor(self, point: Point) -> Qt.CursorShape:
        kind = self.handling.kind_at(point, reach_mm=8.0 / self.px_per_mm, grip=self.mode == "grip")
        if kind == "area":
            return Qt.CursorShape.CrossCursor
        shapes = {"thing": Qt.CursorShape.OpenHandCursor, "pull": Qt.CursorShape.OpenHandCursor}
        return shapes.get(kind, Qt.CursorShape.SizeAllCursor if kind == "section" else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Let go."""
        if event.button() == Qt.MouseButton.MiddleButton:
            self._pan_from = None
            return
        self.handling.release()
        if self._ground_item.is_hurried:
            self._ground_item.is_hurried = False
            self._ground_item.update()
        if self.box_handling.is_holding:
            self.box_handling.release()
            if self._fitted:
                self.fit()
        self.viewport().update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Tab goes from thing to thing; Escape lets go; the rest are commands."""
        if event.key() == Qt.Key.Key_Escape:
            self.handling.cancel()
            self.box_handling.cancel()
            self._workspace.select(())
            self.viewport().update()
            return
        event.ignore()

    def show_ghost(self, ground: Ground | None) -> None:
        """Show a layout that is not taken yet over what lies there; None: no more."""
        if ground is not self.ghost:
            self.ghost = ground
            self.viewport().update()

    # Tracing paper

    def drawForeground(self, painter: QPainter, rect: QRectF | QRect) -> None:
        """Paint selection, gaps, findings and the section line in the view's own pixels."""
        with guarded(painter, rect):
            painter.resetTransform()
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            figure = type_font("figure", self._type_scale)
            overlay = Overlay(painter, self._theme, figure, self.viewportTransform())
            if self.mode == "measure":
                self._paint_measures(overlay)
            else:
                self._paint_marks(overlay)
                self._paint_band(painter)

    def _paint_marks(self, overlay: Overlay) -> None:
        workspace = self._workspace
        ground = workspace.ground
        if self.mode != "cut":
            overlay.section_line(*section_line(ground))
        overlay.spare(ground.insert.spare, workspace.unit)
        if self.ghost is not None and self.mode == "lay-out" and not self.handling.is_holding:
            overlay.ghost(self.ghost)
            return
        if self.wish is not None and self.mode == "lay-out":
            overlay.wish(self.wish)
        if self.mode == "grip" and self.over == "walls":
            overlay_grips.thin_walls(overlay, ground, workspace.unit)
        overlay.selection(ground, workspace.selection)
        if self.mode == "grip" and self.over != "walls":
            overlay_grips.grips(overlay, ground, workspace, hold=self.over == "hold")
        for finding in workspace.findings_here:
            if finding.severity != "note" or finding == self.current_finding:
                overlay.finding(finding, current=finding == self.current_finding)
        if len(workspace.selection) == 1 and self.mode in {"lay-out", "grip"} and self.wish is None:
            overlay.gaps([(gap, self._gap_text(gap)) for gap in self._gaps()])
        if not workspace.insert.placements:
            hint = (
                "Drag things from the tray onto the foam" if workspace.project.items else "Gather things first: Alt+1"
            )
            left, top, right, bottom = ground.blank.bounds
            overlay.hint(hint, ((left + right) / 2, (top + bottom) / 3))
        if self.mode == "cut":
            for cut in self.cuts:
                overlay.number(str(cut.number), cut.label_mm, chosen=bool(set(cut.owners) & set(workspace.selection)))

    def _paint_band(self, painter: QPainter) -> None:
        """Paint the rectangle that is being drawn."""
        band, transform = self.handling.band, self.viewportTransform()
        if band is not None:
            painter.setPen(QPen(self._theme.colour("accent"), 1.5, Qt.PenStyle.DashLine))
            painter.setBrush(self._theme.colour("accent", 0.12))
            painter.drawRect(QRectF(transform.map(QPointF(*band[0])), transform.map(QPointF(*band[1]))).normalized())

    def _paint_measures(self, overlay: Overlay) -> None:
        box, ground = self._workspace.container, self._workspace.ground
        left, top, right, bottom = (
            ground.blank.bounds if not ground.blank.is_empty else (0, 0, box.width_mm, box.depth_mm)
        )
        width, depth = box.width_mm, box.depth_mm
        length = self._workspace.length
        overlay.floor_line(box)
        overlay.handle(box)
        overlay.measure((0.0, -18.0), (width, -18.0), f"inside {length(width)}")
        overlay.measure((-34.0, 0.0), (-34.0, depth), f"inside {length(depth)}")
        overlay.measure((left, bottom + 18.0), (right, bottom + 18.0), f"blank {length(right - left)}")
        overlay.measure((right + 34.0, top), (right + 34.0, bottom), f"blank {length(bottom - top)}")
        for at in self.box_handling.grips().values():
            overlay.grip(at)
