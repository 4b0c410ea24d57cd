"""Which insert is shown: all containers with their tiers, and ways to have more or fewer of them."""

from __future__ import annotations

from PySide6.QtGui import QAction
from PySide6.QtWidgets import QMenu, QToolButton, QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import shortened
from cozy_burrow.core.container.bay import tiers_of
from cozy_burrow.core.container.starts import STARTS, add_container, add_tier, remove_insert
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.tongue import tr


class InsertChooser(QToolButton):
    """A button with the name of the insert, and a menu of all."""

    def __init__(self, workspace: Workspace, scale: float, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._workspace, self._scale = workspace, scale
        self.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.setToolTip(tr("Turn to another drawer, case, tier or wall. Ctrl+Page down"))
        menu = QMenu(self)
        menu.aboutToShow.connect(lambda: self._fill(menu))
        self.setMenu(menu)
        workspace.document_changed.connect(self._follow)
        self._shown = ""
        self._follow()

    def _follow(self) -> None:
        insert = self._workspace.insert
        if insert.id == self._shown and insert.id not in self._workspace.touched.inserts:
            return
        self._shown = insert.id
        self.setText(f"{shortened(insert.name, 18, self._scale)} ▾")
        self.setAccessibleName(tr("Insert that is shown: {name}", name=insert.name))

    def _fill(self, menu: QMenu) -> None:
        menu.clear()
        workspace, project = self._workspace, self._workspace.project
        for container in project.containers:
            tiers = tiers_of(project, container.id)
            for insert in tiers:
                where = f"{container.name}: " if len(tiers) > 1 else ""
                action = QAction(f"{where}{insert.name}   ({len(insert.placements)})", menu)
                action.setCheckable(True)
                action.setChecked(insert.id == workspace.insert_id)
                action.triggered.connect(lambda _=False, key=insert.id: workspace.show_insert(key))
                menu.addAction(action)
        menu.addSeparator()
        for start in STARTS:
            menu.addAction(tr("Add {start}", start=tr(start))).triggered.connect(
                lambda _=False, start=start: self.add(start)
            )
        menu.addAction(tr("Add a tier above this one")).triggered.connect(self.add_tier)
        menu.addAction(tr("Take this insert away")).triggered.connect(self.remove)

    def add(self, start: str) -> None:
        """Add a container, and turn to it."""
        project, key = add_container(self._workspace.project, start)
        self._workspace.do(tr("Add {start}", start=tr(start)), project)
        self._workspace.show_insert(key)

    def add_tier(self) -> None:
        """Add a tier on top of this insert's container, and turn to it."""
        project, key = add_tier(self._workspace.project, self._workspace.insert_id)
        self._workspace.do(tr("Add a tier"), project)
        self._workspace.show_insert(key)

    def remove(self) -> None:
        """Take the insert away; what lay in it goes to the tray."""
        name = self._workspace.insert.name
        try:
            self._workspace.do(
                tr("Take ‘{name}’ away", name=name), remove_insert(self._workspace.project, self._workspace.insert_id)
            )
        except UnusableInput as error:
            self._workspace.refused.emit(error.sentence())

    def step(self, by: int) -> None:
        """Turn to the next insert, or the one before."""
        inserts = self._workspace.project.inserts
        here = next(n for n, one in enumerate(inserts) if one.id == self._workspace.insert_id)
        self._workspace.show_insert(inserts[(here + by) % len(inserts)].id)
