"""The plan at Keep: of every place whether its item is there; a tap says otherwise."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtGui import QBrush, QPen

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.scene.layer import PlanLayer
from cozy_burrow.app.scene.overlay import Overlay
from cozy_burrow.app.scene.paths import area_path
from cozy_burrow.app.screens.keep.roll import Roll
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.ground.hits import thing_at
from cozy_burrow.core.model.kept import PlaceState
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Point
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.roll_call import STATE_NAMES

_REACH_MM = 4.0  # a fingertip in a glove
_PATTERNS: dict[PlaceState, tuple[str, Qt.BrushStyle]] = {
    "empty": ("stop", Qt.BrushStyle.Dense4Pattern),
    "other": ("stop", Qt.BrushStyle.BDiagPattern),
    "turned": ("care", Qt.BrushStyle.FDiagPattern),
    "unsure": ("care", Qt.BrushStyle.Dense6Pattern),
}


class TapHand:
    """A press on a place says otherwise of it; nothing is carried."""

    def __init__(self, workspace: Workspace, tap: Callable[[str], object], may_tap: Callable[[], bool]) -> None:
        self._workspace, self._tap, self._may_tap = workspace, tap, may_tap

    @property
    def is_holding(self) -> bool:
        """Nothing is ever held."""
        return False

    @property
    def band(self) -> tuple[Point, Point] | None:
        """No rectangle is drawn."""
        return None

    def press(self, point: Point, *, reach_mm: float, more: bool) -> None:
        """Tap what is here."""
        key = thing_at(self._workspace.ground, point, reach_mm=max(reach_mm, _REACH_MM))
        self._workspace.select(() if key is None else (key,))
        if key is not None and self._may_tap():
            self._tap(key)

    def move(self, point: Point, *, freely: bool) -> None:
        """Nothing is carried."""

    def release(self) -> None:
        """Nothing was held."""

    def cancel(self) -> None:
        """Nothing was held."""

    def cursor(self, point: Point, *, reach_mm: float) -> Qt.CursorShape:
        """Return a pointing hand over a place."""
        here = thing_at(self._workspace.ground, point, reach_mm=max(reach_mm, _REACH_MM))
        return Qt.CursorShape.ArrowCursor if here is None else Qt.CursorShape.PointingHandCursor


class RollLayer(PlanLayer):
    """Paints what was found of every place."""

    tool_alpha = 0.94

    def __init__(self, workspace: Workspace, roll: Roll) -> None:
        super().__init__(workspace, TapHand(workspace, roll.tap, lambda: not roll.is_busy))
        self._roll = roll
        roll.changed.connect(self.changed)

    @property
    def shows_names(self) -> bool:
        """Names are what is called."""
        return True

    def about(self, point: Point) -> str:
        """Return what was found of the place at a point, and why."""
        key, call = thing_at(self.workspace.ground, point, reach_mm=_REACH_MM), self._roll.call
        if key is None:
            return ""
        name = placement_name(self.workspace.project, key)
        if call is None or key not in call.states:
            return name
        return f"{name}: {STATE_NAMES[call.states[key]]}\n{call.why.get(key, '')}".rstrip()

    def paint(self, overlay: Overlay, pointed: Finding | None) -> None:
        """Paint places that are not simply filled, with a word, and a hint before anything was called."""
        workspace, ground, call = self.workspace, self.workspace.ground, self._roll.call
        if call is None:
            left, top, right, _ = ground.blank.bounds
            text = tr("Tap what is missing") if ground.pockets else tr("Nothing is placed yet: Alt+3")
            overlay.hint(text, ((left + right) / 2, top + 14.0))
            overlay.selection(ground, workspace.selection)
            return
        painter, theme = overlay.painter, overlay.theme
        for key, state in call.states.items():
            pocket = ground.pockets.get(key)
            if pocket is None or state == "filled":
                continue
            role, pattern = _PATTERNS[state]
            path = overlay.transform.map(area_path(pocket.surface))
            painter.setPen(QPen(theme.colour(role), 2.4))
            painter.setBrush(QBrush(theme.colour(role), pattern))
            painter.drawPath(path)
            middle = pocket.surface.representative_point()
            overlay.figure(
                STATE_NAMES[state], overlay.to_view((middle.x, middle.y)), theme.colour(role), filled=role == "stop"
            )
        overlay.selection(ground, workspace.selection)
