"""Commands that lay two items into one place: one pocket for both, or one under the other."""

from __future__ import annotations

from msgspec.structs import replace

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.placing import to_item
from cozy_burrow.core.ground.under import laid_under
from cozy_burrow.core.kit.several import as_one
from cozy_burrow.core.model.edits import change_item, item_of, placement_of, remove_items, take_out, unplaced
from cozy_burrow.core.model.records import Item, Placement, Project
from cozy_burrow.core.tongue import tr


def share_pocket(workspace: Workspace) -> None:
    """Give the two selected things one pocket: they become one thing of the kit, laid as they lie."""
    if len(workspace.selection) != 2:
        workspace.refused.emit(tr("Select the two items that share a pocket."))
        return
    project, insert_id = workspace.project, workspace.insert_id
    first, second = (placement_of(workspace.insert, key) for key in workspace.selection)
    one, other = (item_of(project, placement.item_id) for placement in (first, second))
    x, y = to_item(first, (second.x_mm, second.y_mm))
    at = Placement(id="", item_id="", copy=1, x_mm=x, y_mm=y, angle_deg=second.angle_deg - first.angle_deg)
    try:
        both = as_one(one, other, at)
    except UnusableInput as error:
        workspace.refused.emit(error.sentence())
        return
    if one.quantity > 1:
        workspace.refused.emit(
            tr(
                "There are {quantity} of ‘{name}’; take the others out of the kit first.",
                quantity=one.quantity,
                name=one.name,
            )
        )
        return
    project = _one_less(take_out(project, insert_id, [second.id]), other)
    workspace.do(tr("Let two items share a pocket"), change_item(project, both))


def _one_less(project: Project, item: Item) -> Project:
    if item.quantity == 1:
        return remove_items(project, [item.id])
    return change_item(project, replace(item, quantity=item.quantity - 1))


def lay_under(workspace: Workspace) -> None:
    """Lay the chosen thing of the tray into an under-pocket."""
    waiting = [(item, copy) for item, copy in unplaced(workspace.project) if item.id == workspace.item_id]
    if not waiting:
        workspace.refused.emit(tr("Choose an item of the tray that has no place yet."))
        return
    item, copy = waiting[0]
    laid = laid_under(workspace.project, workspace.insert_id, item, copy)
    if laid is None:
        workspace.refused.emit(
            tr(
                "No item here has room under it for ‘{name}’: it must fit inside a shallow pocket, floor left below.",
                name=item.name,
            )
        )
        return
    workspace.do(tr("Lay ‘{name}’ in an under-pocket", name=item.name), laid)
