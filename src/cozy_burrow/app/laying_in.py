"""Laying things in: one where it fits best, one where it was dropped."""

from __future__ import annotations

from PySide6.QtCore import QObject

from cozy_burrow.app.workspace import Workspace
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.ground.fitting import laid_in
from cozy_burrow.core.model.edits import copy_of, item_of, lay_in
from cozy_burrow.core.model.records import Point


class LayingIn(QObject):
    """Puts things from the tray into the insert."""

    def __init__(self, workspace: Workspace, parent: QObject) -> None:
        super().__init__(parent)
        self.workspace = workspace

    def lay_in_best(self, key: str) -> None:
        """Lay a thing from the tray where it fits best."""
        workspace = self.workspace
        try:
            item, copy = copy_of(workspace.project, key)
            laid = laid_in(workspace.project, workspace.insert_id, item, copy)
        except UnusableInput as error:
            workspace.said.emit(error.sentence())
            return
        if laid is None:
            self.workspace.said.emit(
                f"There is no room left for ‘{item.name}’ that keeps walls and edges; drag it to see why"
            )
            return
        workspace.do(f"Lay ‘{item.name}’ in", laid)
        workspace.select((key,))

    def drop(self, key: str, at: Point) -> None:
        """Lay a thing from the tray at a point of the plan."""
        item_id = key.rpartition("#")[0]
        workspace = self.workspace
        try:
            project = lay_in(
                workspace.project, workspace.insert_id, item_id, x_mm=round(at[0], 1), y_mm=round(at[1], 1)
            )
        except UnusableInput as error:
            self.workspace.said.emit(error.sentence())
            return
        workspace.do(f"Lay ‘{item_of(project, item_id).name}’ in", project)
        workspace.select((workspace.insert.placements[-1].id,))
