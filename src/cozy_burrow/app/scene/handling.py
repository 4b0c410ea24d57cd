"""What a hand does on the plan: take hold of a thing, a finger pull or the section line, carry it, let go.

A small state machine apart from any widget: points come in plan millimetres, changes go to the workspace.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Literal

from msgspec.structs import replace
from PySide6.QtCore import Qt

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.core.arrange.catching import Catch
from cozy_burrow.core.geometry.placing import to_item
from cozy_burrow.core.ground.carry_along import CarryAlong
from cozy_burrow.core.ground.hits import pull_at, thing_at, within
from cozy_burrow.core.ground.section import section_line
from cozy_burrow.core.model.edits import change_insert, change_pull, move_placements, placement_of
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.pull_kinds import kind_of_pull
from cozy_burrow.core.model.records import FingerPull, Point, Project, Ring
from cozy_burrow.core.tongue import tr

Kind = Literal["thing", "pull", "section", "area", "nothing"]
_CURSORS: dict[Kind, Qt.CursorShape] = {
    "thing": Qt.CursorShape.OpenHandCursor,
    "pull": Qt.CursorShape.OpenHandCursor,
    "section": Qt.CursorShape.SizeAllCursor,
    "area": Qt.CursorShape.CrossCursor,
    "nothing": Qt.CursorShape.ArrowCursor,
}


class Handling:
    """Holds what is being carried between press and release."""

    def __init__(self, workspace: Workspace) -> None:
        self._workspace = workspace
        self._kind: Kind = "nothing"
        self._from: Point = (0.0, 0.0)
        self._base: Project = workspace.project
        self._known: tuple[Project, str] = (workspace.project, workspace.insert_id)  # as the hand last left it
        self._pull: tuple[str, int] | None = None
        self._end = -1
        self._line = section_line(workspace.ground)
        self._holding = False
        self.band: tuple[Point, Point] | None = None
        self.takes_pulls = False  # else a press goes through to the thing below
        self.pushes = True  # neighbours make way, and edges snap to lines
        self.area_wanted: Callable[[Ring], object] | None = None  # whom the next drawn rectangle is for
        self._carry: CarryAlong | None = None

    @property
    def is_holding(self) -> bool:
        """Whether something is being carried, or a selection drawn."""
        return self._holding

    @property
    def catches(self) -> tuple[Catch, ...]:
        """What the thing in the hand has caught on: lines and gaps of its neighbours."""
        return self._carry.catches if self._carry is not None else ()

    def kind_at(self, point: Point, *, reach_mm: float) -> Kind:
        """Return what a press here would take hold of. Ends of the section line come first, then things."""
        ground = self._workspace.ground
        if self.area_wanted is not None:
            return "area"
        if self._section_end(point, reach_mm) >= 0:
            return "section"
        if self.takes_pulls and pull_at(ground, point) is not None:
            return "pull"
        if thing_at(ground, point) is not None:
            return "thing"
        if self._is_on_section(point, reach_mm / 2):
            return "section"
        return "nothing"

    def cursor(self, point: Point, *, reach_mm: float) -> Qt.CursorShape:
        """Return what the pointer looks like over a point."""
        return _CURSORS[self.kind_at(point, reach_mm=reach_mm)]

    def _section_end(self, point: Point, reach_mm: float) -> int:
        ends = section_line(self._workspace.ground)
        distances = [math.dist(point, end) for end in ends]
        return distances.index(min(distances)) if min(distances) <= reach_mm else -1

    def _is_on_section(self, point: Point, reach_mm: float) -> bool:
        (x0, y0), (x1, y1) = section_line(self._workspace.ground)
        length = math.hypot(x1 - x0, y1 - y0)
        if length < 1e-6:
            return False
        along = ((point[0] - x0) * (x1 - x0) + (point[1] - y0) * (y1 - y0)) / length
        away = abs((point[0] - x0) * (y1 - y0) - (point[1] - y0) * (x1 - x0)) / length
        return 0 <= along <= length and away <= reach_mm

    def press(self, point: Point, *, reach_mm: float, more: bool) -> None:
        """Take hold of what lies at a point. more: add to the selection, or take from it."""
        workspace = self._workspace
        self._kind = self.kind_at(point, reach_mm=reach_mm)
        self._from, self._base, self._holding = point, workspace.project, True
        self._known = (workspace.project, workspace.insert_id)
        self._carry = None
        self._line = section_line(workspace.ground)
        workspace.begin_gesture()
        match self._kind:
            case "thing":
                key = thing_at(workspace.ground, point)
                assert key is not None
                if more:
                    chosen = workspace.selection
                    kept = tuple(one for one in chosen if one != key)
                    workspace.select(kept if key in chosen else (*chosen, key))
                elif key not in workspace.selection:
                    workspace.select((key,))
                if self.pushes:  # now, and not in the first frame of the drag
                    self._carry = self._carrying(workspace.selection)
            case "pull":
                self._pull = pull_at(workspace.ground, point)
                pull = self._named_pull()
                if pull is not None:
                    workspace.select(pull.serves)
            case "section":
                self._end = self._section_end(point, reach_mm)
            case "nothing" | "area":
                self.band = (point, point)

    def _named_pull(self) -> FingerPull | None:
        if self._pull is None:
            return None
        return next((one for one in self._workspace.insert.pulls if one.id == self._pull[0]), None)

    def move(self, point: Point, *, freely: bool = False) -> None:
        """Carry what is held to a point. freely: nothing makes way and nothing snaps."""
        if not self._is_known():
            self._let_go()
            return
        self._carry_to(point, freely=freely)
        self._known = (self._workspace.project, self._workspace.insert_id)

    def _is_known(self) -> bool:
        """Whether the plan is still the one that the hand took hold of: no undo or other change came in between."""
        project, insert_id = self._known
        return self._workspace.project is project and self._workspace.insert_id == insert_id

    def _let_go(self) -> None:
        self.band, self._holding, self._kind, self._pull, self._carry = None, False, "nothing", None, None

    def _carry_to(self, point: Point, *, freely: bool) -> None:
        dx, dy = point[0] - self._from[0], point[1] - self._from[1]
        match self._kind:
            case "thing" if math.hypot(dx, dy) > 0.3:
                self._move_things(dx, dy, freely=freely or not self.pushes)
            case "pull":
                self._move_pull(point, dx, dy)
            case "section":
                self._move_section(dx, dy)
            case "nothing" | "area" if self.band is not None:
                self.band = (self.band[0], point)

    def _move_things(self, dx: float, dy: float, *, freely: bool) -> None:
        workspace = self._workspace
        chosen = workspace.selection
        name = (
            f"‘{placement_name(workspace.project, chosen[0])}’"
            if len(chosen) == 1
            else tr("{count} items", count=len(chosen))
        )
        dx, dy = round(dx, 2), round(dy, 2)
        if freely:
            self._carry = None
            moved = move_placements(self._base, workspace.insert_id, chosen, dx_mm=dx, dy_mm=dy)
        else:
            self._carry = self._carry or self._carrying(chosen)
            moved = self._carry.to(dx, dy, snap=True) if self._carry is not None else self._base
        workspace.do(tr("Move {name}", name=name), moved, in_gesture=True)

    def _carrying(self, chosen: tuple[str, ...]) -> CarryAlong | None:
        insert = self._workspace.insert
        loose = [key for key in chosen if not placement_of(insert, key).locked]
        return CarryAlong(self._base, insert.id, loose) if loose else None

    def _move_pull(self, point: Point, dx: float, dy: float) -> None:
        workspace = self._workspace
        insert = next(one for one in self._base.inserts if one.id == workspace.insert_id)
        pull = next((one for one in insert.pulls if self._pull and one.id == self._pull[0]), None)
        if pull is None or self._pull is None:
            return
        index = self._pull[1]
        if kind_of_pull(pull).shared:
            points = tuple(
                (round(x + dx, 2), round(y + dy, 2)) if index in {-1, n} else (x, y)
                for n, (x, y) in enumerate(pull.points_mm)
            )
        else:
            carrier = next(one for one in insert.placements if one.id in pull.serves)
            x, y = to_item(carrier, point)
            points = tuple((round(x, 2), round(y, 2)) if n == index else p for n, p in enumerate(pull.points_mm))
        moved = change_pull(self._base, workspace.insert_id, replace(pull, points_mm=points))
        workspace.do(tr("Move a finger pull"), moved, in_gesture=True)

    def _move_section(self, dx: float, dy: float) -> None:
        workspace = self._workspace
        ends = self._line
        moved = tuple(
            (round(x + dx, 1), round(y + dy, 1)) if self._end in {-1, n} else (x, y) for n, (x, y) in enumerate(ends)
        )
        line = (moved[0], moved[1])
        if math.dist(*line) >= 5.0:
            workspace.do(
                tr("Move the section"),
                change_insert(self._base, workspace.insert_id, section_line=line),
                in_gesture=True,
            )

    def release(self) -> None:
        """Let go; a drawn rectangle becomes the selection. What found no room springs back to where it had some."""
        if not self._is_known():
            self._let_go()
            return
        if self._kind == "area" and self.band is not None and self.area_wanted is not None:
            (x0, y0), (x1, y1) = self.band
            wanted, self.area_wanted = self.area_wanted, None
            left, right, top, bottom = (round(v, 1) for v in (min(x0, x1), max(x0, x1), min(y0, y1), max(y0, y1)))
            wanted(((left, top), (right, top), (right, bottom), (left, bottom)))
        if self._carry is not None and not self._carry.accepted:
            self._spring_back(self._carry)
        if self._kind == "nothing" and self.band is not None:
            (x0, y0), (x1, y1) = self.band
            self._workspace.select(within(self._workspace.ground, min(x0, x1), min(y0, y1), max(x0, x1), max(y0, y1)))
        self._let_go()

    def _spring_back(self, carry: CarryAlong) -> None:
        workspace = self._workspace
        back = carry.sprung_back()
        label = workspace.history.undo_label
        if back is self._base and workspace.project is not self._base:
            workspace.undo()
        elif label is not None:
            workspace.do(label, back, in_gesture=True)
        workspace.said.emit(tr("There is no room for it there: it went back. Hold Ctrl to lay it where you like"))

    def cancel(self) -> None:
        """Let go, and put back what was carried."""
        self.area_wanted = None
        moved = self._is_known() and self._workspace.project is not self._base
        if self._holding and self._kind in {"thing", "pull", "section"} and moved:
            self._workspace.undo()
        self._let_go()
