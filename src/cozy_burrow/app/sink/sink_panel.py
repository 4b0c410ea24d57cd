"""Sink: how deep the selected thing goes, zone by zone in whole layers, and how it then stands."""

from __future__ import annotations

from PySide6.QtWidgets import QButtonGroup, QGridLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from cozy_burrow.app.fields import clear_grid, head, panel, soft, verdict
from cozy_burrow.app.following import FollowingPanel
from cozy_burrow.app.workspace import Workspace
from cozy_burrow.core.depth.peel import set_seat, set_zone_layers
from cozy_burrow.core.depth.seat import floor_left_mm, seat_for
from cozy_burrow.core.model.edits import placement_of
from cozy_burrow.core.model.records import SEATS, Item
from cozy_burrow.jobs.wording import SEAT_NAMES, placement_name


class SinkPanel(FollowingPanel):
    """Seat rules and layers of the selection."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        panel(self)
        self._shown: Item | None = None
        layout = QVBoxLayout(self)
        self._head = head("")
        layout.addWidget(self._head)
        layout.addWidget(soft("Seat"))
        self._seats = QButtonGroup(self)
        self._seats.setExclusive(True)
        for seat in SEATS:
            button = QPushButton(SEAT_NAMES[seat])
            button.setCheckable(True)
            button.clicked.connect(lambda _=False, seat=seat: self._set_seat(seat))
            self._seats.addButton(button)
            button.setProperty("seat", seat)
            layout.addWidget(button)
        layout.addWidget(soft("Layers out under each zone"))
        self._zones = QWidget()
        self._grid = QGridLayout(self._zones)
        self._grid.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self._zones)
        self.verdict = verdict(
            tip="The thickest zone rests on the layer boundary nearest to what the seat wants; the others get "
            "the fewest "
            "layers that let them hang clear. The thing is taken as lying level."
        )
        layout.addWidget(self.verdict)
        self._by_rule = QPushButton("Back to the seat's own layers")
        self._by_rule.clicked.connect(lambda: self._set_seat(None))
        layout.addWidget(self._by_rule)
        layout.addStretch(1)
        self.follow()

    def follow(self) -> None:
        """Show the document as it is now."""
        workspace = self._workspace
        one = workspace.selection[0] if len(workspace.selection) == 1 else None
        many = len(workspace.selection) > 1
        for button in self._seats.buttons():
            button.setEnabled(bool(workspace.selection))
        self._zones.setVisible(one is not None)
        self.verdict.setVisible(one is not None)
        self._by_rule.setVisible(False)
        if one is None:
            self._seats.setExclusive(False)
            for button in self._seats.buttons():
                button.setChecked(False)
            self._seats.setExclusive(True)
            self._head.setText(
                f"{len(workspace.selection)} things" if many else "Choose a thing on the plan or section"
            )
            return
        pocket = workspace.ground.pockets[one]
        placement = placement_of(workspace.insert, one)
        seating = pocket.seating
        seat = seat_for(pocket.item, placement, workspace.ground.bay, workspace.project.rules)
        self._head.setText(placement_name(workspace.project, one))
        self._seats.setExclusive(False)
        for button in self._seats.buttons():
            button.setChecked(button.property("seat") == seat and not seating.by_hand)
        self._seats.setExclusive(True)
        self._by_rule.setVisible(seating.by_hand)
        self._fill_zones(one, pocket.item, seating.zone_layers)
        self.verdict.setText(self._verdict(one))

    def _verdict(self, key: str) -> str:
        """Return how the thing stands, in a sentence."""
        workspace = self._workspace
        pocket = workspace.ground.pockets[key]
        seating, length = pocket.seating, workspace.length
        parts = ", ".join(
            f"{zone.name}: {count}" if len(pocket.item.zones) > 1 else f"{count}"
            for zone, count in zip(pocket.item.zones, seating.zone_layers)
        )
        proud = (
            f"stands {length(seating.proud_mm)} above the foam"
            if seating.proud_mm >= 0
            else f"lies {length(-seating.proud_mm)} below the surface"
        )
        floor = length(floor_left_mm(seating, workspace.insert.sheets))
        risers = [
            f"put {length(riser)} of its plug back under {zone.name}"
            for zone, riser in zip(pocket.item.zones, seating.risers_mm)
            if riser > 0.5
        ]
        riser = f" Cut through; slice the plug and {', '.join(risers)}." if risers else ""
        how = " Set by hand." if seating.by_hand else (" The floor holds it up." if seating.held_up else "")
        return f"Layers out: {parts}. Lies level, {proud}; {floor} of foam stay under it.{riser}{how}"

    def _fill_zones(self, key: str, item: Item, counts: tuple[int, ...]) -> None:
        if self._shown is not item:
            self._shown = item
            self._build(item)
        for index, (less, figure, more, depth) in enumerate(self._rows):
            count = counts[index]
            figure.setText(str(count))
            depth.setText(self._workspace.length(self._workspace.ground.layers[count - 1].bottom_mm))
            less.setEnabled(count > 1)
            more.setEnabled(count < len(self._workspace.ground.layers))

    def _build(self, item: Item) -> None:
        clear_grid(self._grid)
        self._rows: list[tuple[QPushButton, QLabel, QPushButton, QLabel]] = []
        for index, zone in enumerate(item.zones):
            less, more = QPushButton("−"), QPushButton("+")
            less.setAccessibleName(f"One layer less under {zone.name}")
            more.setAccessibleName(f"One layer more under {zone.name}")
            less.clicked.connect(lambda _=False, n=index: self._step(n, -1))
            more.clicked.connect(lambda _=False, n=index: self._step(n, 1))
            figure, depth = QLabel(), QLabel()
            for column, widget in enumerate((QLabel(zone.name), less, figure, more, depth)):
                self._grid.addWidget(widget, index, column)
            self._rows.append((less, figure, more, depth))

    def _step(self, zone: int, by: int) -> None:
        workspace = self._workspace
        if len(workspace.selection) != 1:
            return
        key = workspace.selection[0]
        count = workspace.ground.pockets[key].seating.zone_layers[zone] + by
        workspace.zone = zone
        workspace.do(
            f"Peel under ‘{placement_name(workspace.project, key)}’",
            set_zone_layers(workspace.project, workspace.insert_id, key, zone, count),
        )

    def _set_seat(self, seat: object) -> None:
        workspace = self._workspace
        rule = next((one for one in SEATS if one == seat), None)
        workspace.do("Change the seat", set_seat(workspace.project, workspace.insert_id, workspace.selection, rule))
        self.follow()
