"""What a hand does on the plan at Measure: pull the right or front wall, a corner's radius, or carry an obstacle.

A small state machine apart from any widget, as for things: points come in plan millimetres, changes go to the
workspace.
"""

from __future__ import annotations

import math
from typing import Literal

from msgspec.structs import replace
from PySide6.QtCore import Qt
from shapely.geometry import Point as ShapelyPoint
from shapely.geometry import Polygon

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.core.container.checks import checked_container
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.edits import change_container
from cozy_burrow.core.model.records import Container, Point, Project
from cozy_burrow.core.tongue import tr

Grip = Literal["right", "front", "corner", "obstacle", "nothing"]
_ARC_AT = 1 - math.sqrt(0.5)  # where a corner's arc crosses the diagonal, as a share of its radius
_CURSORS: dict[Grip, Qt.CursorShape] = {
    "right": Qt.CursorShape.SizeHorCursor,
    "front": Qt.CursorShape.SizeVerCursor,
    "corner": Qt.CursorShape.SizeFDiagCursor,
    "obstacle": Qt.CursorShape.OpenHandCursor,
    "nothing": Qt.CursorShape.ArrowCursor,
}
_CORNER_OUT_MM = 14.0  # the grip of a sharp corner stands beside it, else nothing could be taken hold of


class BoxHandling:
    """Holds what is being pulled between press and release."""

    def __init__(self, workspace: Workspace) -> None:
        self._workspace = workspace
        self._grip: Grip = "nothing"
        self._obstacle = -1
        self._from: Point = (0.0, 0.0)
        self._base: Project = workspace.project
        self._known: tuple[Project, str] = (workspace.project, workspace.insert_id)  # as the hand last left it

    @property
    def is_holding(self) -> bool:
        """Whether something is being pulled."""
        return self._grip != "nothing"

    @property
    def band(self) -> None:
        """No rectangle is drawn here."""
        return

    def grips(self) -> dict[Grip, Point]:
        """Return where the container can be taken hold of; an odd rim has no such grips."""
        box = self._workspace.container
        if box.corners or box.outline is not None:
            return {}
        at = box.corner_radius_mm * _ARC_AT + _CORNER_OUT_MM
        return {
            "right": (box.width_mm, box.depth_mm * 0.3),
            "front": (box.width_mm * 0.3, box.depth_mm),
            "corner": (at, at),
        }

    def grip_at(self, point: Point, *, reach_mm: float) -> Grip:
        """Return what a press here would take hold of."""
        for grip, at in self.grips().items():
            if math.dist(point, at) <= reach_mm:
                return grip
        return "obstacle" if self._obstacle_at(point, reach_mm) >= 0 else "nothing"

    def cursor(self, point: Point, *, reach_mm: float) -> Qt.CursorShape:
        """Return what the pointer looks like over a point."""
        return _CURSORS[self.grip_at(point, reach_mm=reach_mm)]

    def _obstacle_at(self, point: Point, reach_mm: float) -> int:
        at = ShapelyPoint(point)
        for number, one in enumerate(self._workspace.container.obstacles):
            if Polygon(one.ring).distance(at) <= reach_mm / 2:
                return number
        return -1

    def press(self, point: Point, *, reach_mm: float, more: bool = False) -> None:
        """Take hold of what is here; more of it cannot be chosen."""
        self._grip = self.grip_at(point, reach_mm=reach_mm)
        self._obstacle = self._obstacle_at(point, reach_mm)
        self._from, self._base = point, self._workspace.project
        self._known = (self._base, self._workspace.insert_id)
        self._workspace.begin_gesture()

    def move(self, point: Point, *, freely: bool = False) -> None:
        """Pull what is held to a point, to half millimetres however freely; what cannot be is not done."""
        project, insert_id = self._known
        if project is not self._workspace.project or insert_id != self._workspace.insert_id:
            self._grip = "nothing"  # an undo or another change came in between
            return
        box = next(one for one in self._base.containers if one.id == self._workspace.insert.container_id)
        changed = self._pulled(box, point)
        try:
            checked = checked_container(changed, where=self._grip)
        except UnusableInput:
            return
        names = {"right": tr("the width"), "front": tr("the depth"), "corner": tr("the corner radius")}
        label = tr("Pull {names}", names=names.get(self._grip, tr("an obstacle")))
        self._workspace.do(label, change_container(self._base, checked), in_gesture=True)
        self._known = (self._workspace.project, self._workspace.insert_id)

    def _pulled(self, box: Container, point: Point) -> Container:
        dx, dy = point[0] - self._from[0], point[1] - self._from[1]
        match self._grip:
            case "right":
                return replace(box, width_mm=_half(box.width_mm + dx))
            case "front":
                return replace(box, depth_mm=_half(box.depth_mm + dy))
            case "corner":
                wanted = ((point[0] + point[1]) / 2 - _CORNER_OUT_MM) / _ARC_AT
                most = min(box.width_mm, box.depth_mm) / 2
                return replace(box, corner_radius_mm=_half(min(max(0.0, wanted), most)))
            case "obstacle":
                one = box.obstacles[self._obstacle]
                moved = replace(one, ring=tuple((_half(x + dx), _half(y + dy)) for x, y in one.ring))
                obstacles = tuple(moved if n == self._obstacle else old for n, old in enumerate(box.obstacles))
                return replace(box, obstacles=obstacles)
        return box

    def release(self) -> None:
        """Let go."""
        self._grip = "nothing"

    def cancel(self) -> None:
        """Let go, and put back what was pulled."""
        known = self._known[0] is self._workspace.project
        if self.is_holding and known and self._workspace.project is not self._base:
            self._workspace.undo()
        self._grip = "nothing"


def _half(value: float) -> float:
    """Return the nearest half millimetre: what a tape says."""
    return round(value * 2) / 2
