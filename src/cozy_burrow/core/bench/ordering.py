"""The fitter's own order of the cuts: a cut is taken earlier or later, all goes back to the order that is advised."""

from __future__ import annotations

from cozy_burrow.core.bench.cuts import cutting_plan
from cozy_burrow.core.errors import Gone
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.model.edits import change_insert, insert_of
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.tongue import tr


def cut_moved(project: Project, insert_id: str, key: str, to_number: int) -> Project:
    """Return the project with a cut at another place of its sheet, 1 the first. Raises Gone where it is not there."""
    insert = insert_of(project, insert_id)
    order: list[str] = []
    moved = False
    for sheet in cutting_plan(ground_of(project, insert)):
        keys = [cut.key for cut in sheet.cuts]
        if key in keys:
            moved = True
            keys.remove(key)
            keys.insert(min(max(0, to_number - 1), len(keys)), key)
        order += keys
    if not moved:
        raise Gone(tr("this cut"))
    return change_insert(project, insert_id, cut_order=tuple(order))


def as_advised(project: Project, insert_id: str) -> Project:
    """Return the project with the cuts of an insert in the order that is advised."""
    return change_insert(project, insert_id, cut_order=())


def is_own(project: Project, insert_id: str) -> bool:
    """Whether a fitter has changed the order."""
    return bool(insert_of(project, insert_id).cut_order)
