"""The plan: foam from above with everything that lies in it; things are dragged, turned and measured here."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPoint, QPointF, QRect, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import (
    QHelpEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QResizeEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QGraphicsScene, QGraphicsView, QToolTip, QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.painting import guarded
from cozy_burrow.app.look.theme.theme import Theme, type_font
from cozy_burrow.app.scene.ground_item import GroundItem
from cozy_burrow.app.scene.handling import Handling
from cozy_burrow.app.scene.layer import ItemsLayer, PlanLayer, near_selection
from cozy_burrow.app.scene.lit_painting import LitPainting
from cozy_burrow.app.scene.name_tags import NameTags
from cozy_burrow.app.scene.overlay import Overlay
from cozy_burrow.app.scene.relief import Relief
from cozy_burrow.app.scene.small_pictures import SmallPictures
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Point
from cozy_burrow.core.tongue import tr

_CURSOR_MS = 40
_ROUND_SELECTION_PX = 130  # where figures of gaps stand mostly


class PlanView(QGraphicsView):
    """Shows the insert that is worked on. Drags go through Handling, which changes the document."""

    cursor_moved = Signal(object)
    look_changed = Signal()

    def __init__(
        self,
        workspace: Workspace,
        theme: Theme,
        scale: float,
        parent: QWidget | None = None,
        *,
        lit: bool = True,
        named: bool = True,
    ) -> None:
        super().__init__(parent)
        self._workspace, self._theme, self._type_scale = workspace, theme, scale
        self._scene = QGraphicsScene(self)
        self._scene.setItemIndexMethod(QGraphicsScene.ItemIndexMethod.NoIndex)
        self.setScene(self._scene)
        self._ground_item = GroundItem(theme)
        self._scene.addItem(self._ground_item)
        self._relief = Relief(theme, self)
        self._relief.changed.connect(self._show_relief)
        self.is_lit = lit
        self.is_filled = True
        self.is_named = named
        self._tags = NameTags(type_font("small", scale), self)
        self._tags.changed.connect(self._repaint)
        self._lit = LitPainting(self._relief, self)
        self._ground_item.light(self._lit if self.is_lit else None)
        self._fitted = True
        self._pan_from: QPoint | None = None
        self._cursor: Point = (0.0, 0.0)
        self._telling = QTimer(self)
        self._telling.setSingleShot(True)
        self._telling.timeout.connect(lambda: self.cursor_moved.emit(self._cursor))
        self._traced: object = None
        self._traced_near = self._figures_at = QRect()
        self.current_finding: Finding | None = None
        self.handling = Handling(workspace)
        self.layer: PlanLayer = ItemsLayer(workspace, self.handling)
        self.layer.changed.connect(self._repaint)
        self.setMouseTracking(True)
        self.setAcceptDrops(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setViewportUpdateMode(QGraphicsView.ViewportUpdateMode.MinimalViewportUpdate)
        # Not under the mouse, as it is offered: that goes by where the mouse was last seen, long ago or never.
        self.setTransformationAnchor(QGraphicsView.ViewportAnchor.NoAnchor)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setBackgroundBrush(theme.colour("surface"))
        self.setAccessibleName(tr("Plan of the insert"))
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
        self._relief.set_theme(theme)
        self._ground_item.set_theme(theme)

    def look_through(self, layer: PlanLayer) -> None:
        """Look at the plan as a stage does: through what it lays over it."""
        self.layer.changed.disconnect(self._repaint)
        self.layer = layer
        layer.changed.connect(self._repaint)
        layer.shown()
        self._ground_item.only_layer = None
        self._show_look()

    def _repaint(self) -> None:
        self.viewport().update()

    def _show_look(self) -> None:
        self._ground_item.light(self._lit if self.is_lit else None)
        self._ground_item.tool_alpha = self.layer.tool_alpha if self.is_filled else 0.0
        self._show_relief()

    def _show_relief(self) -> None:
        self._ground_item.update()
        self.viewport().update()

    @property
    def is_still(self) -> bool:
        """Whether everything that is made beside the window for this plan is shown."""
        lit = self._relief.is_true_of(self._workspace.ground) if self.is_lit else True
        named = self.is_named and self.layer.shows_names
        return lit and not self._lit.is_moving and (self._tags.is_known or not named)

    def wait_for_light(self) -> None:
        """Make the lit picture whenever it is painted, however long that takes: for a picture of the window."""
        self._relief.at_once = self._tags.at_once = SmallPictures.at_once = True

    def look_lit(self, lit: bool) -> None:
        """Look at the plan as at a picture, or as at a drawing with thin lines."""
        self.is_lit = lit
        self._show_look()
        self.look_changed.emit()

    def look_filled(self, filled: bool) -> None:
        """Look at the plan with its items, or at the empty places as they will look."""
        self.is_filled = filled
        self._show_look()
        self.look_changed.emit()

    def look_named(self, named: bool) -> None:
        """Look at the plan with the items' names on it, or without."""
        self.is_named = named
        self._repaint()
        self.look_changed.emit()

    def show_layer(self, number: int | None) -> None:
        """Show the foam as it is once layer `number` is peeled; None: all of them."""
        self._ground_item.only_layer = number
        self._show_relief()

    def show_document(self) -> None:
        """Follow the document: only what changed is made anew."""
        workspace = self._workspace
        self._ground_item.show_ground(workspace.ground)
        rect = self._ground_item.boundingRect()
        if rect.adjusted(-400, -400, 400, 400) != self._scene.sceneRect():
            self._scene.setSceneRect(rect.adjusted(-400, -400, 400, 400))
            if self._fitted and not self.layer.hand.is_holding:  # else the wall would run from under the hand
                self.fit()
        self.repaint_tracing()

    def _drop_finding(self) -> None:
        """The findings are known: one that holds no more is no longer pointed at."""
        if self.current_finding is not None and self.current_finding not in self._workspace.findings_seen:
            self.current_finding = None
        self.repaint_tracing()
        if self.is_lit and self._workspace.is_judged:
            self._relief.settle()

    def repaint_tracing(self) -> None:
        """Paint the tracing paper anew: near the selection only, while nothing else on it has changed."""
        workspace = self._workspace
        rest = (
            workspace.findings_seen,
            workspace.insert.section_line,
            workspace.unit,
            self.layer,
            self.current_finding,
        )
        room = round(_ROUND_SELECTION_PX * self._type_scale)
        near = near_selection(workspace, self.viewportTransform(), room)
        if rest != self._traced or near.isNull() or self._traced_near.isNull():
            self.viewport().update()
        else:
            self.viewport().update(near.united(self._traced_near).united(self._figures_at))
        self._traced, self._traced_near = rest, near

    def viewportEvent(self, event: QEvent) -> bool:
        """Say what lies under the pointer."""
        if event.type() == QEvent.Type.ToolTip and isinstance(event, QHelpEvent):
            QToolTip.showText(event.globalPos(), self.layer.about(self.plan_point(event.pos())), self)
            return True
        return super().viewportEvent(event)

    def _show_selection(self) -> None:
        names = [placement_name(self._workspace.project, key) for key in self._workspace.selection]
        self.setAccessibleDescription(tr("Selected: ") + ", ".join(names) if names else tr("Nothing is selected"))
        self.viewport().update()

    def point_to(self, finding: Finding | None) -> None:
        """Ring a finding on the plan."""
        self.current_finding = finding
        self.viewport().update()

    # Scale and place

    @property
    def _reach_mm(self) -> float:
        return self.layer.reach_px / self.px_per_mm

    def fit(self) -> None:
        """Show the whole insert."""
        margin = self.layer.margin_mm
        rect = self._ground_item.boundingRect().adjusted(12 - margin, 12 - margin, margin - 12, margin - 12)
        self.fitInView(rect, Qt.AspectRatioMode.KeepAspectRatio)
        self._fitted = True

    def zoom(self, factor: float, about: QPoint | None = None) -> None:
        """Come nearer or step back. about: the point of the viewport that stays where it is; None: its middle."""
        if 0.2 <= self.px_per_mm * factor <= 40:
            at = about or self.viewport().rect().center()
            held = self.mapToScene(at)
            self.scale(factor, factor)
            away = self.mapFromScene(held) - at
            for bar, step in ((self.horizontalScrollBar(), away.x()), (self.verticalScrollBar(), away.y())):
                bar.setValue(bar.value() + step)
            self._fitted = False
            self.viewport().update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        """The wheel comes nearer to what lies under it, or steps back."""
        self.zoom(1.0015 ** event.angleDelta().y(), event.position().toPoint())
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
        if event.button() == Qt.MouseButton.LeftButton:
            more = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self.layer.hand.press(self.plan_point(event.position()), reach_mm=self._reach_mm, more=more)
            self.viewport().update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Carry what is held."""
        if self._pan_from is not None:
            step = event.position().toPoint() - self._pan_from
            self._pan_from = event.position().toPoint()
            self._fitted = False
            self.translate(step.x() / self.px_per_mm, step.y() / self.px_per_mm)
            return
        point = self.plan_point(event.position())
        self._tell_cursor(point)
        hand = self.layer.hand
        if hand.is_holding:
            self._ground_item.is_hurried = True
            hand.move(point, freely=bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier))
            if hand.band is not None:
                self.viewport().update()
        else:
            self.viewport().setCursor(hand.cursor(point, reach_mm=self._reach_mm))

    def _tell_cursor(self, point: Point) -> None:
        """Tell where the cursor is, 25 times a second at most: nobody reads figures faster."""
        self._cursor = point
        if not self._telling.isActive():
            self.cursor_moved.emit(point)
            self._telling.start(_CURSOR_MS)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Let go."""
        if event.button() == Qt.MouseButton.MiddleButton:
            self._pan_from = None
            return
        held = self.layer.hand.is_holding
        self.layer.hand.release()
        if self._ground_item.is_hurried:
            self._ground_item.is_hurried = False
            self._ground_item.update()
        if held and self._fitted:
            self.fit()  # a wall may have been pulled
        self.viewport().update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Tab goes from thing to thing; Escape lets go; the rest are commands."""
        if event.key() == Qt.Key.Key_Escape:
            self.layer.hand.cancel()
            self._workspace.select(())
            self.viewport().update()
            return
        event.ignore()

    # Tracing paper

    def drawForeground(self, painter: QPainter, rect: QRectF | QRect) -> None:
        """Paint selection, gaps, findings and the section line in the view's own pixels."""
        with guarded(painter, rect):
            painter.resetTransform()
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            figure = type_font("figure", self._type_scale)
            overlay = Overlay(painter, self._theme, figure, self.viewportTransform(), self.viewport().rect())
            self.layer.paint(overlay, self.current_finding)
            # A figure that found no room near what it speaks of may stand beyond what is painted now.
            painted = self.viewportTransform().mapRect(QRectF(rect)).toAlignedRect()
            self._figures_at = overlay.gaps_area & self.viewport().rect()
            if not painted.contains(self._figures_at):
                self.viewport().update(self._figures_at)
            if self.is_named and self.layer.shows_names:
                self._tags.paint(overlay, self._workspace, self.px_per_mm, on_dark=self.is_lit)
