"""Grip: can each thing be got out, by which pull, and does it stay where it is?"""

from __future__ import annotations

from msgspec.structs import replace
from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QWidget,
)

from cozy_burrow.app.desk.aside import Aside
from cozy_burrow.app.desk.following import FollowingPanel
from cozy_burrow.app.desk.stores_desk import StoresDesk
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.count_box import CountBox
from cozy_burrow.app.look.fields import MOST_ROOM, Form, head, scrolled, soft, verdict
from cozy_burrow.app.screens.grip.choosing import HELD_NAMES, NOT_HELD, lay_trench, summary, take_kind, why_none
from cozy_burrow.app.screens.grip.hold_card import HoldCard
from cozy_burrow.core.ground.gripping import Given, gripped
from cozy_burrow.core.ground.grips import grip_of
from cozy_burrow.core.model.edits import change_pull, remove_pulls
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.pull_kinds import PULL_KINDS, kind_of_pull
from cozy_burrow.core.model.records import FingerPull, Project
from cozy_burrow.core.tongue import started, tr, within
from cozy_burrow.jobs.grip_words import grip_text, grip_why, mark_of

OVER_NAMES = {"pulls": tr("Pulls"), "walls": tr("Walls"), "hold": tr("Hold")}
_THING = Qt.ItemDataRole.UserRole + 1


class GripPanel(FollowingPanel):
    """Gives pulls, lists them and sets their figures; says how the chosen thing comes out and how it holds."""

    over_chosen = Signal(str)

    def __init__(self, workspace: Workspace, stores: StoresDesk, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        self._waits = False
        self.aside = Aside(workspace, self)
        self.aside.changed.connect(self._show_busy)
        workspace.judged.connect(self._follow_judged)
        layout, foot = scrolled(self)
        self._head = head("")
        layout.addWidget(self._head)
        self.verdict = verdict()
        layout.addWidget(self.verdict)
        layout.addLayout(self._layer_row())
        self.all_button = QPushButton(tr("Add finger pulls everywhere"))
        self.all_button.setObjectName("main")
        self.all_button.setToolTip(
            tr("Rows share a trench, neighbours line up; what there is now goes, one step of undo")
        )
        self.all_button.clicked.connect(self.give_all)
        layout.addWidget(self.all_button)
        self.suggest_button = QPushButton(tr("Add the best pull"))
        self.suggest_button.clicked.connect(self.suggest)
        layout.addWidget(self.suggest_button)
        self.trench_button = QPushButton(tr("One trench across the selection"))
        self.trench_button.clicked.connect(self.trench)
        layout.addWidget(self.trench_button)
        self.kind_box = QComboBox()
        self.kind_box.setAccessibleName(tr("Other kind of pull"))
        self.kind_box.addItem(tr("Other kind…"), None)
        for kind in PULL_KINDS.values():
            if not kind.shared:
                self.kind_box.addItem(started(kind.called), kind.name)
        self.kind_box.activated.connect(lambda _: self._take_kind())
        for held, text in HELD_NAMES.items():
            self.kind_box.addItem(tr("None: {text}", text=text), held)
        self.kind_box.addItem(tr("It needs one: no hook, not hollow"), NOT_HELD)
        layout.addWidget(self.kind_box)
        self._list_head = soft("")
        layout.addWidget(self._list_head)
        self.list = QListWidget()
        self.list.setMinimumHeight(72)
        self.list.currentRowChanged.connect(lambda _: self._show_pull())
        self.list.itemActivated.connect(self._choose)
        self.list.itemClicked.connect(self._choose)
        layout.addWidget(self.list, MOST_ROOM)
        self.figures = QWidget()
        form = Form()
        form.setContentsMargins(0, 0, 0, 0)
        self.figures.setLayout(form)
        self.width_field = form.add_length(tr("Width"), self._set_width, least_mm=10)
        self._layers = CountBox()
        self._layers.setRange(0, 99)
        self._layers.setSpecialValueText(tr("as its pocket"))
        self._layers.setAccessibleName(tr("Layers of the finger pull"))
        self._layers.valueChanged.connect(self._set_layers)
        form.addRow(tr("Layers"), self._layers)
        layout.addWidget(self.figures)
        self.remove_button = QPushButton(tr("Take this pull away"))
        self.remove_button.clicked.connect(self._remove)
        layout.addWidget(self.remove_button)
        layout.addStretch(1)  # has what a short list leaves; words and heads would be pulled apart
        self.hold = HoldCard(workspace, stores)
        foot.addWidget(self.hold)
        self.follow()

    def _layer_row(self) -> QHBoxLayout:
        """Return the choice of what is laid over the plan."""
        row = QHBoxLayout()
        row.setSpacing(4)
        self._over = QButtonGroup(self)
        self.over_buttons: dict[str, QPushButton] = {}
        for name, tip in (
            ("pulls", tr("Each item's verdict, the grip and the balance point of the chosen one")),
            ("walls", tr("Foam that is thinner than it should be, by how much")),
            ("hold", tr("With how many newtons the foam holds each item")),
        ):
            button = QPushButton(OVER_NAMES[name])
            button.setCheckable(True)
            button.setChecked(name == "pulls")
            button.setToolTip(tr("Over the plan: {tip}", tip=within(tip)))
            button.setAccessibleName(tr("Show over the plan: {name}", name=name))
            button.clicked.connect(lambda _=False, name=name: self.over_chosen.emit(name))
            self._over.addButton(button)
            self.over_buttons[name] = button
            row.addWidget(button)
        return row

    def follow(self) -> None:
        """Show the document as it is now."""
        workspace = self._workspace
        chosen = workspace.selection
        self._waits = False  # for the grips, which are worked out beside the window
        row = self.list.currentRow()
        self.list.blockSignals(True)
        if chosen:
            self.list.clear()
            self._list_pulls([pull for pull in workspace.insert.pulls if set(pull.serves) & set(chosen)])
            self.list.setCurrentRow(min(max(0, row), self.list.count() - 1))
        else:
            self._list_things()
        self.list.blockSignals(False)
        self.list.setMaximumHeight(76 if chosen else 16_777_215)
        has_pulls = bool(chosen) and self.list.count() > 0
        self.list.setVisible(has_pulls or not chosen)
        for widget in (self.figures, self.remove_button):
            widget.setVisible(has_pulls)
        self._head.setText(
            placement_name(workspace.project, chosen[0])
            if len(chosen) == 1
            else (tr("{count} items", count=len(chosen)) if chosen else tr("All finger pulls"))
        )
        self.verdict.setText(self._verdict())
        self.verdict.setToolTip(grip_why(workspace.project.rules.finger_mm, workspace.unit))
        self.suggest_button.setVisible(bool(chosen))
        self.trench_button.setVisible(len(chosen) >= 2)
        self.kind_box.setVisible(len(chosen) == 1)
        self.hold.follow()
        self._show_pull()

    def _follow_judged(self) -> None:
        if self._waits:
            self._follow_if_seen()

    def _list_pulls(self, pulls: list[FingerPull]) -> None:
        self._list_head.setText(tr("Its pulls; drag them on the plan") if pulls else tr("No finger pull yet."))
        self.list.setAccessibleName(tr("Finger pulls of the selection"))
        for pull in pulls:
            more = tr(", for {count} items", count=len(pull.serves)) if len(pull.serves) > 1 else ""
            width = self._workspace.length(pull.width_mm)
            entry = QListWidgetItem(f"{started(kind_of_pull(pull).called)}, {width}{more}")
            entry.setData(Qt.ItemDataRole.UserRole, pull.id)
            self.list.addItem(entry)

    def _list_things(self) -> None:
        """List everything that lies here with its verdict, what is hard to get out first."""
        workspace = self._workspace
        self._list_head.setText(tr("Out: ✓ easily   ! hardly   ✗ not at all"))
        self.list.setAccessibleName(tr("Verdict for each item"))
        names = {key: placement_name(workspace.project, key) for key in workspace.ground.pockets}
        shown = [self.list.item(row).data(_THING) for row in range(self.list.count())]
        self._waits = workspace.is_late
        if self._waits and set(shown) == set(names):
            return  # as it was, until then
        self.list.clear()
        if self._waits:
            for key in sorted(names, key=lambda one: names[one]):
                self._list_thing(key, f"…  {names[key]}")
            return
        grips = {key: grip_of(workspace.ground, key) for key in names}
        for key in sorted(grips, key=lambda one: (grips[one].good, grips[one].possible, names[one])):
            self._list_thing(key, f"{mark_of(grips[key])}  {names[key]}", grip_text(grips[key], workspace.unit))

    def _list_thing(self, key: str, text: str, told: str = "") -> None:
        entry = QListWidgetItem(text)
        entry.setToolTip(told)
        entry.setData(_THING, key)
        self.list.addItem(entry)

    def _choose(self, entry: QListWidgetItem) -> None:
        key = entry.data(_THING)
        if isinstance(key, str):
            self._workspace.select((key,))

    def _verdict(self) -> str:
        """Answer: can I get it out?"""
        workspace = self._workspace
        ground = workspace.ground
        one = len(workspace.selection) == 1
        if ground.guessed or (workspace.is_late and not one):
            self._waits = True
            return tr("Checking…")
        if one:
            return grip_text(grip_of(ground, workspace.selection[0]), workspace.unit)
        grips = {key: grip_of(ground, key) for key in ground.pockets}
        if not grips:
            return tr("Nothing is laid in yet.")
        good = sum(one.good for one in grips.values())
        hard = [key for key, one in grips.items() if not one.good]
        names = ", ".join(f"‘{placement_name(workspace.project, key)}’" for key in hard[:3])
        more = (
            tr(" Not so: {names}{others}.", names=names, others=tr(" and others") if len(hard) > 3 else "")
            if hard
            else ""
        )
        return tr("{good} of {count} items come out easily.{more}", good=good, count=len(grips), more=more)

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

    def _show_busy(self) -> None:
        busy = self.aside.is_busy
        for button in (self.all_button, self.suggest_button):
            button.setEnabled(not busy)
        self.all_button.setText(tr("Working it out…") if busy else tr("Add finger pulls everywhere"))

    def suggest(self) -> None:
        """Give each selected thing the best pull that fits; what it had goes."""
        self._give(tr("Give the best pull"), self._workspace.selection)

    def give_all(self) -> None:
        """Choose pulls for the whole insert anew."""
        self._give(tr("Add finger pulls everywhere"), None)

    def _give(self, label: str, keys: tuple[str, ...] | None) -> None:
        insert_id = self._workspace.insert_id
        self.aside.run(
            lambda project: gripped(project, insert_id, keys), lambda found: self._hear_given(label, keys, *found)
        )

    def _hear_given(self, label: str, keys: tuple[str, ...] | None, project: Project, given: tuple[Given, ...]) -> None:
        workspace = self._workspace
        workspace.do(label, project)
        left = [one.key for one in given if one.pull is None]
        if left:
            names = ", ".join(f"‘{placement_name(project, key)}’" for key in left[:3])
            workspace.refused.emit(
                tr("No finger pull fits beside {names}; move neighbours away, or take a ribbon.", names=names)
            )
        elif given:
            workspace.said.emit(f"{label}: {summary(given)}")
        else:
            workspace.said.emit(why_none(workspace, keys or ()))

    def _take_kind(self) -> None:
        kind: str | None = self.kind_box.currentData()
        self.kind_box.setCurrentIndex(0)
        take_kind(self._workspace, kind)

    def trench(self) -> None:
        """Lay one trench across the selection."""
        lay_trench(self._workspace)

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
        workspace.do(tr("Change a finger pull"), change_pull(workspace.project, workspace.insert_id, pull))

    def _remove(self) -> None:
        pull = self.current()
        if pull is not None:
            workspace = self._workspace
            workspace.do(tr("Take a finger pull away"), remove_pulls(workspace.project, workspace.insert_id, [pull.id]))
