"""What the commands of the plan do to the selection."""

from __future__ import annotations

from typing import TYPE_CHECKING

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.core.arrange.by_hand import Side, align, mirrored, runs_down, spread, swap_ends
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.ground.rows import laid_in_row
from cozy_burrow.core.model.edits import (
    free_again,
    keep_free,
    lock_placements,
    move_placements,
    placement_of,
    take_out,
    turn_placements,
    unplaced,
)
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Ring
from cozy_burrow.core.tongue import tr

if TYPE_CHECKING:
    from cozy_burrow.app.frame.front import Front

_SIDES: dict[str, Side] = {"left": "left", "right": "right", "back": "back", "front": "front", "middle": "middle"}


def _named(workspace: Workspace) -> str:
    chosen = workspace.selection
    return (
        f"‘{placement_name(workspace.project, chosen[0])}’"
        if len(chosen) == 1
        else tr("{count} items", count=len(chosen))
    )


def nudge(workspace: Workspace, dx: float, dy: float) -> None:
    """Move the selection; nudges in a row are one step of undo."""
    moved = move_placements(workspace.project, workspace.insert_id, workspace.selection, dx_mm=dx, dy_mm=dy)
    workspace.do(tr("Nudge {named}", named=_named(workspace)), moved, in_gesture=True)


def turn(workspace: Workspace, by_deg: float) -> None:
    """Turn each thing of the selection about its middle."""
    turned = turn_placements(workspace.project, workspace.insert_id, workspace.selection, by_deg=by_deg)
    workspace.do(tr("Turn {named}", named=_named(workspace)), turned, in_gesture=abs(by_deg) < 10)


def swap(workspace: Workspace) -> None:
    """Turn the thing end for end; of several, every other one."""
    workspace.do(
        tr("Swap ends of {named}", named=_named(workspace)),
        swap_ends(workspace.project, workspace.insert_id, workspace.selection),
    )


def lock(workspace: Workspace) -> None:
    """Lock the selection, or free it where all of it is locked."""
    chosen = [placement_of(workspace.insert, key) for key in workspace.selection]
    locked = not all(one.locked for one in chosen)
    project = lock_placements(workspace.project, workspace.insert_id, workspace.selection, locked=locked)
    workspace.do(f"{(tr('Lock') if locked else tr('Free'))} {_named(workspace)}", project)


def to_tray(workspace: Workspace) -> None:
    """Put the selection back into the tray."""
    label = tr("Put {named} back", named=_named(workspace))
    workspace.do(label, take_out(workspace.project, workspace.insert_id, workspace.selection))


def line_up(workspace: Workspace, side: str) -> None:
    """Line the selection's pockets up."""
    surfaces = {key: workspace.ground.pockets[key].surface for key in workspace.selection}
    workspace.do(
        tr("Align {named}", named=_named(workspace)),
        align(workspace.project, workspace.insert_id, surfaces, side=_SIDES[side]),
    )


def spread_out(workspace: Workspace, *, down: bool = False) -> None:
    """Make the gaps of the selection equal from left to right, or from back to front."""
    surfaces = {key: workspace.ground.pockets[key].surface for key in workspace.selection}
    even = spread(workspace.project, workspace.insert_id, surfaces, down=down)
    workspace.do(tr("Spread {named}", named=_named(workspace)), even)


def set_gap(workspace: Workspace, gap_mm: float) -> None:
    """Make the gaps of the selection so wide, along whichever way it lies, from the first on."""
    surfaces = {key: workspace.ground.pockets[key].surface for key in workspace.selection}
    if len(surfaces) < 2:
        return
    spaced = spread(workspace.project, workspace.insert_id, surfaces, down=runs_down(surfaces), gap_mm=gap_mm)
    label = tr("Gaps of {gap}: {named}", gap=workspace.length(gap_mm), named=_named(workspace))
    workspace.do(label, spaced)


def mirror(workspace: Workspace, *, down: bool = False) -> None:
    """Mirror the places of the selection from left to right, or from back to front."""
    surfaces = {key: workspace.ground.pockets[key].surface for key in workspace.selection}
    turned = mirrored(workspace.project, workspace.insert_id, surfaces, down=down)
    workspace.do(tr("Mirror {named}", named=_named(workspace)), turned)


def make_row(workspace: Workspace) -> None:
    """Lay the selection side by side in one row, sorted by size, with one trench."""
    chosen = workspace.selection
    made = laid_in_row(workspace.project, workspace.insert_id, chosen)
    if made is None:
        workspace.said.emit(tr("There is no room here for them in one row; take something out, or select fewer"))
        return
    workspace.do(tr("Lay {count} items in a row", count=len(chosen)), made)


def fill_area(front: Front) -> None:
    """Ask for a rectangle on the plan, and fill it from the tray."""
    front.show_stage("lay-out")
    if not unplaced(front.workspace.project):
        front.say(tr("Everything is placed: take something off the foam first"))
        return
    front.plan.handling.area_wanted = lambda ring: front.arranging.begin("area", within=ring)
    front.say(tr("Drag a rectangle over the foam that is to be filled; Esc lets it be"))


def keep_area_free(front: Front) -> None:
    """Ask for a rectangle on the plan, and keep it free."""
    front.show_stage("lay-out")
    workspace = front.workspace

    def keep(ring: Ring) -> None:
        try:
            workspace.do(tr("Keep an area free"), keep_free(workspace.project, workspace.insert_id, ring))
        except UnusableInput as error:
            workspace.said.emit(error.sentence())

    front.plan.handling.area_wanted = keep
    front.say(tr("Drag a rectangle over the foam that is to stay free; Esc lets it be"))


def use_again(workspace: Workspace) -> None:
    """Let the areas kept free be used again."""
    workspace.do(tr("Use kept areas again"), free_again(workspace.project, workspace.insert_id))


def step_selection(workspace: Workspace, by: int) -> None:
    """Select the next thing in the order from the back left to the front right."""
    ordered = sorted(workspace.insert.placements, key=lambda one: (round(one.y_mm / 40), one.x_mm))
    keys = [one.id for one in ordered]
    if not keys:
        return
    at = keys.index(workspace.selection[0]) if workspace.selection and workspace.selection[0] in keys else -1
    if at < 0:
        at = -1 if by > 0 else 0
    workspace.select((keys[(at + by) % len(keys)],))
