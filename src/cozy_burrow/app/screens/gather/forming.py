"""Commands that give an item another pocket: a stack, a slit, a cable's nest."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.kit.several import on_edge, stacked, with_cable
from cozy_burrow.core.model.edits import change_item
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.tongue import tr


def stack_copies(workspace: Workspace) -> None:
    """Lay all copies of the chosen thing on each other in one pocket."""
    _form(workspace, tr("Stack all copies"), stacked)


def stand_upright(workspace: Workspace) -> None:
    """Stand the chosen thing upright in a slit."""
    _form(workspace, tr("Stand it upright"), on_edge)


def give_cable(workspace: Workspace, length_mm: float = 1500.0, diameter_mm: float = 5.0) -> None:
    """Give the chosen thing a nest for a cable; its figures are then set as those of a zone."""
    nested = partial(with_cable, length_mm=length_mm, diameter_mm=diameter_mm)
    _form(workspace, tr("Give it a nest for its cable"), nested)


def _form(workspace: Workspace, label: str, formed: Callable[[Item], Item]) -> None:
    item = workspace.item
    if item is None:
        workspace.refused.emit(tr("Choose an item of the kit first."))
        return
    try:
        workspace.do(label, change_item(workspace.project, formed(item)))
    except UnusableInput as error:
        workspace.refused.emit(error.sentence())
