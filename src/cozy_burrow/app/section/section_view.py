"""The section: the ground beneath the line across the plan, to scale; layers are pulled up and down here."""

from __future__ import annotations

import time

from PySide6.QtCore import QPointF, QRectF, Qt, QTimer
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.painting import paints
from cozy_burrow.app.look.theme.theme import Theme
from cozy_burrow.app.section.painting import Frame, SectionPainter
from cozy_burrow.app.section.settling import Settling
from cozy_burrow.core.depth.peel import layers_to, set_zone_layers
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.ground.section import Body, SectionCut, crosses_same, cut_along, section_line
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Item, Point
from cozy_burrow.core.tongue import tr

AROUND_MM = 28.0
FOLLOWS_MS = 200  # in a drag over the plan, at the soonest: it takes as long as a step of the drag itself
_LINE_FOLLOWS_MS = 40  # where its own line is dragged: then the eye is here
_RESTS = 4  # times as long as it took before


class SectionView(QWidget):
    """Shows the section of the insert that is worked on; follows line and document."""

    def __init__(self, workspace: Workspace, theme: Theme, scale: float, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._workspace, self._theme, self._type_scale = workspace, theme, scale
        self._held: tuple[Body, int] | None = None
        self._shown: tuple[Ground, tuple[Point, Point], tuple[Item, ...], str] | None = None
        self.settling = Settling(self)
        self.is_near = False
        self._still: Frame | None = None  # while a hand holds a floor, nothing moves under it
        self.setMinimumHeight(round(140 * scale))
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Section under the line across the plan"))
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self._rest_is_over)
        self._is_behind = False
        workspace.document_changed.connect(self._follow_change)
        workspace.selection_changed.connect(self.update)
        workspace.judged.connect(self._follow_judged)
        self._follow()

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self._theme = theme
        self.update()

    def _follow_change(self) -> None:
        """Follow at once, but in a drag over the plan not at every step: the eye is on what is dragged."""
        if self._workspace.is_in_gesture and self._held is None and self._soon.isActive():
            self._is_behind = True
            return
        self._catch_up()

    def _catch_up(self) -> None:
        self._is_behind = False
        before, began = self._shown, time.perf_counter()
        self._follow()
        if self._workspace.is_in_gesture:  # it takes a share of the drag's time, however many lie on its line
            is_its_line = before is not None and self._shown is not None and before[1] != self._shown[1]
            least_ms = _LINE_FOLLOWS_MS if is_its_line else FOLLOWS_MS
            self._soon.start(max(least_ms, round(_RESTS * 1000 * (time.perf_counter() - began))))

    def _rest_is_over(self) -> None:
        if self._is_behind:
            self._catch_up()

    def _follow(self) -> None:
        ground = self._workspace.ground
        line, project = section_line(ground), self._workspace.project
        old, self._shown = self._shown, (ground, line, project.items, project.units)
        finer = old is not None and self.cut.rough and not self._workspace.is_late
        if old is not None and old[1:] == self._shown[1:] and crosses_same(old[0], ground, *line) and not finer:
            return
        # What a hand moves is where the hand is: nothing comes to rest there before it lets go.
        comes_to_rest = old is not None and old[1:] == self._shown[1:] and not self._workspace.is_in_gesture
        before = self.cut if comes_to_rest else None
        # In a drag over the plan nobody waits here; a hand that peels here does.
        aside = self._workspace.is_in_gesture and self._held is None and not self.hasFocus()
        self.cut: SectionCut = cut_along(ground, *line, soon=self._workspace.is_late or aside)
        self.settling.begin(before, self.cut)
        names = sorted({placement_name(self._workspace.project, body.placement) for body in self.cut.bodies})
        self.setAccessibleDescription(
            tr("{count} layers; the line crosses ", count=len(self.cut.layers))
            + (", ".join(names) if names else tr("nothing"))
        )
        self.update()

    def _follow_judged(self) -> None:
        if self.cut.rough:
            self._follow()

    def raise_lid(self, raised_mm: float) -> None:
        """Show the lid raised above closed."""
        self.settling.motion.lid_raised_mm = max(0.0, raised_mm)
        self.update()

    def frame(self) -> Frame:
        """Return how millimetres of the section map onto this widget."""
        if self._still is not None:
            return self._still
        raised_mm = self.settling.motion.lid_raised_mm
        scale, near = self._type_scale, self._near_span() if self.is_near else None
        return Frame.fit(self.cut, self.width(), self.height(), scale, raised_mm=raised_mm, near=near)

    def _near_span(self) -> tuple[float, float] | None:
        """Return the stretch of the line under the one thing that is chosen, with a hand's breadth round it."""
        chosen = self._workspace.selection
        spans = [body.span for body in self.cut.bodies if chosen == (body.placement,)]
        if not spans:
            return None
        low, high = min(span[0] for span in spans), max(span[1] for span in spans)
        return low - AROUND_MM, high + AROUND_MM

    def look_near(self, near: bool) -> None:
        """Look at the chosen thing alone, or at the whole line."""
        self.is_near = near
        self.update()

    @paints
    def paintEvent(self, painter: QPainter) -> None:
        """Paint strata, bites, bodies and measures."""
        section = SectionPainter(painter, self, self._theme, self.frame(), self._type_scale)
        section.paint(self.cut, self._workspace, motion=self.settling.motion, has_focus=self.hasFocus())

    def _handle_at(self, at: QPointF) -> Body | None:
        """Return the body whose floor is near a point; of a selected thing first."""
        frame = self.frame()
        near = [
            body for body in self.cut.bodies if frame.floor_handle(body, self.cut).adjusted(-6, -8, 6, 8).contains(at)
        ]
        near.sort(key=lambda body: body.placement not in self._workspace.selection)
        return near[0] if near else None

    def body_at(self, at: QPointF) -> Body | None:
        """Return the body that stands at a point, or whose column the point is in."""
        s, z = self.frame().to_mm(at)
        for body in self.cut.bodies:
            if body.span[0] <= s <= body.span[1] and min(p[1] for p in body.ring) - 3 <= z <= self.cut.stack_mm:
                return body
        return None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Take hold of a floor, or choose the thing that stands here."""
        self.settling.finish()
        if event.button() != Qt.MouseButton.LeftButton:
            return
        body = self._handle_at(event.position()) or self.body_at(event.position())
        if body is None:
            self._workspace.select(())
            return
        holds = self._handle_at(event.position()) is not None
        if holds:
            self._still = self.frame()
        self._workspace.select((body.placement,))
        self._workspace.zone = body.zone
        if holds:
            self._workspace.begin_gesture()
            self._held = (body, body.floor_layers)
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Carry a floor to the nearest layer boundary."""
        if self._held is None:
            over = self._handle_at(event.position()) is not None
            self.setCursor(Qt.CursorShape.SizeVerCursor if over else Qt.CursorShape.ArrowCursor)
            return
        _, z = self.frame().to_mm(event.position())
        project, insert_id = self._workspace.project, self._workspace.insert_id
        self._set(self._held[0], layers_to(project, insert_id, z))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Let go of the floor."""
        self._held = self._still = None
        self.update()

    def _set(self, body: Body, layers: int) -> None:
        workspace = self._workspace
        name = placement_name(workspace.project, body.placement)
        taken = workspace.attempt(
            tr("Peel under ‘{name}’", name=name),
            lambda: set_zone_layers(workspace.project, workspace.insert_id, body.placement, body.zone, layers),
            in_gesture=True,
        )
        if not taken:
            self._held = self._still = None

    def current_body(self) -> Body | None:
        """Return the body of the selected thing and zone that the line crosses."""
        workspace = self._workspace
        mine = [body for body in self.cut.bodies if body.placement in workspace.selection]
        return next((body for body in mine if body.zone == workspace.zone), mine[0] if mine else None)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Left and right go from body to body, up and down put a layer back or take one out."""
        self.settling.finish()
        bodies = sorted(self.cut.bodies, key=lambda body: body.span)
        current = self.current_body()
        match event.key():
            case Qt.Key.Key_Left | Qt.Key.Key_Right if bodies:
                step = 1 if event.key() == Qt.Key.Key_Right else -1
                index = (bodies.index(current) + step) % len(bodies) if current in bodies else 0
                self._workspace.select((bodies[index].placement,))
                self._workspace.zone = bodies[index].zone
                self.update()
            case Qt.Key.Key_Up | Qt.Key.Key_Down if current is not None:
                self._workspace.begin_gesture()
                self._set(current, current.floor_layers + (1 if event.key() == Qt.Key.Key_Down else -1))
            case _:
                event.ignore()

    def handle_rect(self, placement: str, zone: int) -> QRectF:
        """Return where the floor handle of a zone lies on this widget; for tests and for pointing."""
        body = next(one for one in self.cut.bodies if one.placement == placement and one.zone == zone)
        return self.frame().floor_handle(body, self.cut)
