"""How a stage looks at the plan: what it lays over it as on tracing paper, and what it lets a hand do there."""

from __future__ import annotations

from typing import Protocol

from PySide6.QtCore import QObject, QPointF, QRect, Qt, Signal
from PySide6.QtGui import QPolygonF, QTransform

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.scene.handling import Handling
from cozy_burrow.app.scene.overlay import Overlay
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.ground.gaps import Gap, gaps_round
from cozy_burrow.core.ground.hits import thing_at
from cozy_burrow.core.ground.section import section_line
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Point
from cozy_burrow.core.tolerances import RULE_SLACK_MM
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import format_length

MOST_GAPS = 4


class Hand(Protocol):
    """Takes hold of what lies at a point of the plan, carries it, lets go."""

    @property
    def is_holding(self) -> bool:
        """Whether something is held."""

    @property
    def band(self) -> tuple[Point, Point] | None:
        """Corners of the rectangle that is being drawn."""

    def press(self, point: Point, *, reach_mm: float, more: bool) -> None:
        """Take hold."""

    def move(self, point: Point, *, freely: bool) -> None:
        """Carry what is held."""

    def release(self) -> None:
        """Let go."""

    def cancel(self) -> None:
        """Let go, and put back what was carried."""

    def cursor(self, point: Point, *, reach_mm: float) -> Qt.CursorShape:
        """Return what the pointer looks like over a point."""


class PlanLayer(QObject):
    """What one stage lays over the plan. `changed`: there is something else to be seen on it.

    tool_alpha: how solid items are painted, 0 to 1. margin_mm: what is seen round the insert. reach_px: how near to
    something a press must be.
    """

    changed = Signal()
    tool_alpha = 0.94
    margin_mm = 4.0
    reach_px = 8.0

    @property
    def shows_names(self) -> bool:
        """Whether items may have their names on the plan."""
        return False

    def __init__(self, workspace: Workspace, hand: Hand) -> None:
        super().__init__()
        self.workspace, self.hand = workspace, hand

    def shown(self) -> None:
        """The plan is about to be looked at through this layer."""

    def paint(self, overlay: Overlay, pointed: Finding | None) -> None:
        """Paint what lies over the plan. pointed: the check that is chosen."""
        raise NotImplementedError

    def about(self, point: Point) -> str:
        """Return what is said of a point of the plan; empty: nothing."""
        return ""


class ItemsLayer(PlanLayer):
    """What all stages that look at the items in the foam have in common; each adds its own in the `paint_` methods."""

    shows_section = True
    shows_gaps = False
    takes_pulls = False

    @property
    def shows_names(self) -> bool:
        """Not while a hand moves something: names would run after their things."""
        return not self.hand.is_holding

    def __init__(self, workspace: Workspace, handling: Handling) -> None:
        super().__init__(workspace, handling)
        self._handling = handling

    def shown(self) -> None:
        """A hand takes hold of pulls too where the stage is about them."""
        self._handling.takes_pulls = self.takes_pulls

    def about(self, point: Point) -> str:
        """Return what lies at a point, how deep it is, and what its figures mean."""
        workspace = self.workspace
        key = thing_at(workspace.ground, point)
        if key is None:
            return ""
        seating = workspace.ground.pockets[key].seating
        text = tr(
            "{placement_name}\n{bottom} deep",
            placement_name=placement_name(workspace.project, key),
            bottom=workspace.length(seating.bottom_mm),
        )
        if key in workspace.selection:
            text += tr("\nFigures: foam between the pockets where it is scarcest, and what must stay there")
        return text

    def paint(self, overlay: Overlay, pointed: Finding | None) -> None:
        """Paint the section line, the selection, findings, gaps; a hint where nothing lies yet."""
        workspace, ground = self.workspace, self.workspace.ground
        self.paint_lines(overlay)
        self.paint_under(overlay)
        overlay.selection(ground, workspace.selection)
        self.paint_over(overlay)
        for finding in workspace.findings_here:
            if finding.severity != "note" or finding == pointed:
                overlay.finding(finding, current=finding == pointed)
        if self.shows_gaps and len(workspace.selection) == 1:
            overlay.gaps([(gap, gap_text(workspace, gap)) for gap in gaps_of_selection(workspace)])
        if not workspace.insert.placements:
            hint = (
                tr("Drag items from the tray onto the foam")
                if workspace.project.items
                else tr("Gather items first: Alt+1")
            )
            left, top, right, bottom = ground.blank.bounds
            overlay.hint(hint, ((left + right) / 2, (top + bottom) / 3))
        overlay.catches(self._handling.catches, workspace.unit)
        self.paint_last(overlay)
        if self.hand.band is not None:
            overlay.band(*self.hand.band)

    def paint_lines(self, overlay: Overlay) -> None:
        """Paint the section line and the areas that are kept free."""
        ground = self.workspace.ground
        if self.shows_section:
            overlay.section_line(*section_line(ground))
        overlay.spare(ground.insert.spare, self.workspace.unit)

    def paint_under(self, overlay: Overlay) -> None:
        """Paint what lies under the selection's outline."""

    def paint_over(self, overlay: Overlay) -> None:
        """Paint what lies over the selection's outline."""

    def paint_last(self, overlay: Overlay) -> None:
        """Paint what lies over everything."""


def gaps_of_selection(workspace: Workspace) -> tuple[Gap, ...]:
    """Return the foam between the one item that is selected and what lies next to it, the scarcest first."""
    return gaps_round(workspace.ground, workspace.selection[0], most=MOST_GAPS)


def near_selection(workspace: Workspace, to_view: QTransform, room_px: int) -> QRect:
    """Return the part of the view that the one selected item may take up with its gaps, and so much round about.

    Empty where not one is selected.
    """
    if len(workspace.selection) != 1:
        return QRect()
    left, top, right, bottom = workspace.ground.pockets[workspace.selection[0]].surface.bounds
    ends = [at for gap in gaps_of_selection(workspace) for at in (gap.from_mm, gap.to_mm)]
    corners = QPolygonF([QPointF(x, y) for x, y in [(left, top), (right, bottom), *ends]]).boundingRect()
    return to_view.mapRect(corners).toAlignedRect().adjusted(-room_px, -room_px, room_px, room_px)


def gap_text(workspace: Workspace, gap: Gap) -> str:
    """Return a gap's figure beside the one that it must keep."""
    sign = "<" if gap.short_mm > RULE_SLACK_MM else "≥"
    figure = format_length(gap.gap_mm, workspace.unit, suffix=False)
    return f"{figure} {sign} {workspace.length(gap.wanted_mm)}"
