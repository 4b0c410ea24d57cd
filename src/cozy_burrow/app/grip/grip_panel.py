"""Grip: finger pulls of the selection, suggested, changed, taken away; can each thing be got out?"""

from __future__ import annotations

from msgspec.structs import replace
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QListWidget, QListWidgetItem, QPushButton, QSpinBox, QVBoxLayout, QWidget

from cozy_burrow.app.fields import Form, head, panel, soft, verdict
from cozy_burrow.app.following import FollowingPanel
from cozy_burrow.app.workspace import Workspace
from cozy_burrow.core.ground.fitting import fill_pulls, fitting_pull
from cozy_burrow.core.model.edits import add_pulls, change_pull, remove_pulls
from cozy_burrow.core.model.records import FingerPull
from cozy_burrow.core.pulls.suggest import needs_pull, trench_for
from cozy_burrow.jobs.wording import placement_name

_KINDS = {"circle_pair": "pair of circles", "circle": "single circle", "trench": "trench"}


class GripPanel(FollowingPanel):
    """Lists the pulls and sets their figures."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        panel(self)
        layout = QVBoxLayout(self)
        self._head = head("")
        layout.addWidget(self._head)
        self.verdict = verdict(
            tip="A thing that stands out 8 mm can be held. A pull sits at the balance point, taken from the "
            "volumes of the "
            "zones as if the thing were equally dense; it goes as deep as the pocket beside it."
        )
        layout.addWidget(self.verdict)
        self.suggest_button = QPushButton("Suggest a pull")
        self.suggest_button.setObjectName("main")
        self.suggest_button.clicked.connect(self.suggest)
        layout.addWidget(self.suggest_button)
        self.trench_button = QPushButton("One trench across the selection")
        self.trench_button.clicked.connect(self.trench)
        layout.addWidget(self.trench_button)
        self.all_button = QPushButton("Suggest for all that need one")
        self.all_button.clicked.connect(self.suggest_all)
        layout.addWidget(self.all_button)
        layout.addWidget(soft("Pulls of the selection; drag them on the plan"))
        self.list = QListWidget()
        self.list.setAccessibleName("Finger pulls of the selection")
        self.list.currentRowChanged.connect(lambda _: self._show_pull())
        layout.addWidget(self.list, 1)
        form = Form()
        self.width_field = form.add_length("Width", self._set_width, least_mm=10)
        self._layers = QSpinBox()
        self._layers.setRange(0, 99)
        self._layers.setSpecialValueText("as deep as its pocket")
        self._layers.setAccessibleName("Layers of the finger pull")
        self._layers.valueChanged.connect(self._set_layers)
        form.addRow("Layers", self._layers)
        layout.addLayout(form)
        self.remove_button = QPushButton("Take this pull away")
        self.remove_button.clicked.connect(self._remove)
        layout.addWidget(self.remove_button)
        self.follow()

    def follow(self) -> None:
        """Show the document as it is now."""
        workspace = self._workspace
        chosen = workspace.selection
        pulls = [pull for pull in workspace.insert.pulls if not chosen or set(pull.serves) & set(chosen)]
        row = self.list.currentRow()
        self.list.blockSignals(True)
        self.list.clear()
        for pull in pulls:
            who = placement_name(workspace.project, pull.serves[0])
            more = f" and {len(pull.serves) - 1} more" if len(pull.serves) > 1 else ""
            entry = QListWidgetItem(f"{_KINDS[pull.kind]}, {workspace.length(pull.width_mm)}: {who}{more}")
            entry.setData(Qt.ItemDataRole.UserRole, pull.id)
            self.list.addItem(entry)
        self.list.setCurrentRow(min(max(0, row), len(pulls) - 1))
        self.list.blockSignals(False)
        self._head.setText(
            placement_name(workspace.project, chosen[0])
            if len(chosen) == 1
            else (f"{len(chosen)} things" if chosen else "All finger pulls")
        )
        self.verdict.setText(self._verdict())
        self.suggest_button.setEnabled(bool(chosen))
        self.trench_button.setEnabled(len(chosen) >= 2)
        self._show_pull()

    def _verdict(self) -> str:
        """Answer: can I get it out?"""
        workspace = self._workspace
        ground = workspace.ground
        if len(workspace.selection) == 1:
            key = workspace.selection[0]
            pocket = ground.pockets[key]
            proud = workspace.length(max(0.0, pocket.seating.proud_mm))
            if ground.pulls_of(key):
                depth = max(pull.layers for pull in ground.pulls_of(key))
                return f"Can be got out: fingers reach {depth} {'layers' if depth > 1 else 'layer'} down beside it."
            if needs_pull(pocket, ground.rules):
                return f"Cannot be got out: it stands out {proud} and has no pull."
            return f"Can be got out: it stands out {proud}, enough to hold."
        stuck = [
            key
            for key, pocket in ground.pockets.items()
            if needs_pull(pocket, ground.rules) and not ground.pulls_of(key)
        ]
        laid = len(ground.pockets)
        return f"{laid - len(stuck)} of {laid} things can be got out." if laid else "Nothing is laid in yet."

    def current(self) -> FingerPull | None:
        """Return the pull that is chosen in the list."""
        entry = self.list.currentItem()
        key = entry.data(Qt.ItemDataRole.UserRole) if entry is not None else None
        return next((pull for pull in self._workspace.insert.pulls if pull.id == key), None)

    def _show_pull(self) -> None:
        pull = self.current()
        for widget in (self.width_field, self._layers, self.remove_button):
            widget.setEnabled(pull is not None)
        self.width_field.show_length(pull.width_mm if pull else None, self._workspace.unit)
        self._layers.blockSignals(True)
        self._layers.setValue(pull.layers or 0 if pull else 0)
        self._layers.blockSignals(False)

    def suggest(self) -> None:
        """Give each selected thing the first pull that fits beside it; what it had goes."""
        workspace = self._workspace
        project = workspace.project
        for key in workspace.selection:
            insert = next(one for one in project.inserts if one.id == workspace.insert_id)
            own = [pull.id for pull in insert.pulls if pull.serves == (key,)]
            bare = remove_pulls(project, workspace.insert_id, own)
            insert = next(one for one in bare.inserts if one.id == workspace.insert_id)
            pull = fitting_pull(bare, insert, key)
            if pull is None:
                name = placement_name(project, key)
                workspace.refused.emit(f"No finger pull fits beside ‘{name}’; move its neighbours away.")
                continue
            project = add_pulls(bare, workspace.insert_id, [pull])
        workspace.do("Suggest a finger pull", project)

    def suggest_all(self) -> None:
        """Give a pull to everything that needs one and has none."""
        workspace = self._workspace
        ground = workspace.ground
        stuck = [
            key
            for key, pocket in ground.pockets.items()
            if needs_pull(pocket, ground.rules) and not ground.pulls_of(key)
        ]
        workspace.do("Suggest finger pulls", fill_pulls(workspace.project, workspace.insert_id, stuck))

    def trench(self) -> None:
        """Lay one trench across the selection; the pulls that the things had for themselves go."""
        workspace = self._workspace
        if len(workspace.selection) < 2:
            return
        pockets = [workspace.ground.pockets[key] for key in workspace.selection]
        own = [
            pull.id
            for pull in workspace.insert.pulls
            if len(pull.serves) == 1 and pull.serves[0] in workspace.selection
        ]
        project = remove_pulls(workspace.project, workspace.insert_id, own)
        pull = trench_for(pockets, id_="", rules=workspace.project.rules)
        workspace.do("Lay a trench", add_pulls(project, workspace.insert_id, [pull]))

    def _set_width(self, width_mm: float) -> None:
        pull = self.current()
        if pull is not None:
            self._put(replace(pull, width_mm=width_mm))

    def _set_layers(self, layers: int) -> None:
        pull = self.current()
        if pull is not None:
            self._put(replace(pull, layers=layers or None))

    def _put(self, pull: FingerPull) -> None:
        workspace = self._workspace
        workspace.do("Change a finger pull", change_pull(workspace.project, workspace.insert_id, pull))

    def _remove(self) -> None:
        pull = self.current()
        if pull is not None:
            workspace = self._workspace
            workspace.do("Take a finger pull away", remove_pulls(workspace.project, workspace.insert_id, [pull.id]))
