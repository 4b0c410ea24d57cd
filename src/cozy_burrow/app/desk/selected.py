"""What is selected on the plan, in words: for the panel beside it, and for whoever hears instead of seeing."""

from __future__ import annotations

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.tongue import tr


def selected_words(workspace: Workspace) -> str:
    """Return what is selected, where its middle lies and how it is turned."""
    if not workspace.selection:
        return tr("Nothing selected. Click an item, or press Tab on the plan.")
    if len(workspace.selection) > 1:
        return tr("{count} items selected", count=len(workspace.selection))
    key = workspace.selection[0]
    return f"{placement_name(workspace.project, key)}\n{place_words(workspace, key)}"


def place_words(workspace: Workspace, key: str) -> str:
    """Return where the middle of a placement of the shown insert lies, and how it is turned."""
    placement = next(one for one in workspace.insert.placements if one.id == key)
    return tr(
        "middle at {x} from the left, {y} from the back, turned {angle:.4g}°{locked}",
        x=workspace.length(placement.x_mm),
        y=workspace.length(placement.y_mm),
        angle=placement.angle_deg,
        locked=tr(", locked") if placement.locked else "",
    )
