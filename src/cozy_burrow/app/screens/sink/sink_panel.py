"""Sink: how deep the selected thing goes, zone by zone in whole layers, how it then sits, and what is advised."""

from __future__ import annotations

from msgspec.structs import replace
from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QButtonGroup, QGridLayout, QHBoxLayout, QPushButton, QSlider, QWidget

from cozy_burrow.app.desk.aside import Aside
from cozy_burrow.app.desk.following import FollowingPanel
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import clear_grid, head, scrolled, soft, verdict
from cozy_burrow.app.screens.sink.closing_card import ClosingCard
from cozy_burrow.app.screens.sink.zones_grid import OptionButton, ZonesGrid
from cozy_burrow.app.section.line import turn_section_to
from cozy_burrow.core.arrange.facts import facts_of
from cozy_burrow.core.depth.elastic import sunk
from cozy_burrow.core.depth.options import Option, options_for, seated
from cozy_burrow.core.depth.peel import set_seat, set_zone_layers
from cozy_burrow.core.depth.pocket import Pocket, allowance_in
from cozy_burrow.core.depth.seat import seat_for
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.ground.advising import advised_all, needs_advice
from cozy_burrow.core.ground.sits import sitting_in
from cozy_burrow.core.model.edits import change_insert, change_placements, placement_of
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import SEATS, Placement, Project
from cozy_burrow.core.tongue import started, tr
from cozy_burrow.jobs.sink_words import option_text, pressed_text, sits_text, why_text
from cozy_burrow.jobs.wording import SEAT_NAMES

MOST_OPTIONS = 3
_HALF_ROW = 17  # letters: a longer name wants a row to itself
_SPACING_PX = 5  # an item of three zones that lies askew is told at 1280 x 800 without scrolling


class SinkPanel(FollowingPanel):
    """Seat rules, layers, advice for the selection, and the lid."""

    lid_raised = Signal(float)
    peel_wanted = Signal(bool)

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        layout, foot = scrolled(self)
        layout.setSpacing(_SPACING_PX)
        self._head = head("")
        layout.addWidget(self._head)
        self.verdict = verdict()
        layout.addWidget(self.verdict)
        layout.addWidget(soft(tr("Seat")))
        layout.addLayout(self._seat_buttons())
        self._zones_head = soft(tr("Layers out under each zone"))
        layout.addWidget(self._zones_head)
        self.zones = ZonesGrid(workspace)
        self.zones.stepped.connect(self._step)
        layout.addWidget(self.zones)
        self._by_rule = QPushButton(tr("Back to the standard depth"))
        self._by_rule.clicked.connect(lambda: self._set_seat(None))
        layout.addWidget(self._by_rule)
        self._options_head = soft(tr("Suggestions"))
        layout.addWidget(self._options_head)
        self._options = QGridLayout()
        layout.addLayout(self._options)
        self.option_buttons: list[QPushButton] = []
        self.aside = Aside(workspace, self)
        self.aside.changed.connect(self._show_busy)
        self.advice = Aside(workspace, self)  # its own: it follows the selection while other work goes on
        self.advice.changed.connect(self._go_on)
        self._advised: tuple[Pocket, tuple[Option, ...]] | None = None
        self._offered: tuple[object, ...] = ()
        self._waits = False
        workspace.judged.connect(self._hear_judged)
        self.all_button = QPushButton(tr("Level everything"))
        self.all_button.setToolTip(tr("Gives each item that lies askew or rocks the best layers, or a riser"))
        self.all_button.clicked.connect(self.advise_all)
        layout.addWidget(self.all_button)
        turn = QHBoxLayout()
        self._turn_head = soft(tr("Rotate the section"))
        self._turn_head.setWordWrap(False)
        turn.addWidget(self._turn_head)
        self.turntable = QSlider(Qt.Orientation.Horizontal)
        self.turntable.setRange(-90, 90)
        self.turntable.setPageStep(15)
        self.turntable.setAccessibleName(tr("Angle of the section to the item's length, in degrees"))
        self.turntable.setToolTip(
            tr("In the middle along its length, at the ends across it. Y and Shift+Y turn by 15°")
        )
        self.turntable.sliderPressed.connect(workspace.begin_gesture)
        self.turntable.valueChanged.connect(lambda angle: turn_section_to(workspace, float(angle)))
        turn.addWidget(self.turntable, 1)
        layout.addLayout(turn)
        self.closing = ClosingCard(workspace)
        self.closing.lid_raised.connect(self.lid_raised)
        self.peel_button = QPushButton(tr("Layer by layer"))
        self.peel_button.setCheckable(True)
        self.peel_button.toggled.connect(self.peel_wanted)
        layout.addStretch(1)
        foot.addWidget(self.closing)
        foot.addWidget(self.peel_button)
        self.follow()

    def _seat_buttons(self) -> QGridLayout:
        grid = QGridLayout()
        grid.setSpacing(4)
        self._seats = QButtonGroup(self)
        row, column = 0, 0
        for number, seat in enumerate(("judged", *SEATS)):
            button = QPushButton(started(SEAT_NAMES[seat]))
            if seat == "judged":
                button.setToolTip(
                    tr(
                        "Names no seat: at least half of it in the foam, touched by the lid's foam or flush "
                        "where that can be, never higher than what is above, level and steady"
                    )
                )
            button.setCheckable(True)
            button.clicked.connect(lambda _=False, seat=seat: self._set_seat(seat))
            self._seats.addButton(button)
            button.setProperty("seat", seat)
            # The first is what most items keep; it takes a row of its own, and so does a long name.
            wide = number == 0 or button.sizeHint().width() > self.fontMetrics().averageCharWidth() * _HALF_ROW
            if wide and column:
                row, column = row + 1, 0
            grid.addWidget(button, row, column, 1, 2 if wide else 1)
            row, column = (row + 1, 0) if wide or column else (row, 1)
        return grid

    def follow(self) -> None:
        """Show the document as it is now."""
        workspace = self._workspace
        one = workspace.selection[0] if len(workspace.selection) == 1 else None
        many = len(workspace.selection) > 1
        for button in self._seats.buttons():
            button.setEnabled(bool(workspace.selection))
        for widget in (self.zones, self._zones_head, self.turntable, self._turn_head):
            widget.setVisible(one is not None)
        self.closing.follow()
        askew = self._askew()
        self.all_button.setVisible(bool(askew))
        self.all_button.setText(
            tr("Level all {count}", count=len(askew)) if askew and len(askew) > 1 else tr("Level it")
        )
        self._by_rule.setVisible(False)
        if one is None:
            self._check(None)
            self._head.setText(
                tr("{count} items", count=len(workspace.selection))
                if many
                else tr("Choose an item on the plan or section")
            )
            laid = len(workspace.ground.pockets)
            self.verdict.setText(
                tr("Checking…")
                if askew is None
                else tr("{laid} of {laid_2} items lie level and firm.", laid=laid - len(askew), laid_2=laid)
            )
            self.verdict.setToolTip(tr("Level within 1°, and a light push at an end does not tip them"))
            self._offer(None)
            return
        pocket = workspace.ground.pockets[one]
        placement = placement_of(workspace.insert, one)
        seating, sitting = pocket.seating, sitting_in(workspace.ground, one)
        seat = seat_for(pocket.item, placement, workspace.project.rules)
        self._head.setText(placement_name(workspace.project, one))
        self._check(None if seating.by_hand else seat)
        self._by_rule.setVisible(seating.by_hand)
        self.zones.show_zones(pocket.item, seating, sitting)
        self.verdict.setText(sits_text(pocket.item, seating, sitting, workspace.ground, workspace.unit))
        self.verdict.setToolTip(f"{why_text(sitting, pocket.item, workspace.unit)} {self._pressed(pocket)}")
        self._offer(placement)

    def _askew(self) -> tuple[str, ...] | None:
        """Return what lies askew or rocks; None while that is worked out beside the window, with the findings."""
        ground = self._workspace.ground
        if self._workspace.is_late and not needs_advice.knows(ground):
            self._waits = True
            return None
        self._waits = False
        return needs_advice(ground)

    def _hear_judged(self) -> None:
        if self._waits:
            self._follow_if_seen()

    def _pressed(self, pocket: Pocket) -> str:
        ground = self._workspace.ground
        snug_mm = -allowance_in(pocket, ground.rules)
        mass_g = facts_of(pocket.item).mass_g
        found = sunk(pocket.local, ground.layers, ground.insert.sheets, snug_mm, mass_g)
        return pressed_text(found, pocket.item.mass_g, self._workspace.unit)

    def _check(self, seat: object) -> None:
        self._seats.setExclusive(False)
        for button in self._seats.buttons():
            button.setChecked(seat is not None and button.property("seat") == seat)
        self._seats.setExclusive(True)

    def _offer(self, placement: Placement | None) -> None:
        """Show what could be taken instead of what is, each with what it would give: once that is worked out."""
        workspace = self._workspace
        offered: list[tuple[Option, str]] = []
        if placement is not None:
            pocket = workspace.ground.pockets[placement.id]
            if self._advised is None or self._advised[0] is not pocket:
                self._seek_advice(pocket, placement)
                return
            for option in self._advised[1]:
                advice, seating = option.advice, pocket.seating
                same = advice.zone_layers == seating.zone_layers and sum(advice.risers_mm) == sum(seating.risers_mm)
                if not same and (option.kind != "sheet" or option.sheets):
                    offered.append((option, option_text(pocket.item, option, seating, workspace.unit)))
        shown = (placement and placement.id, *offered[:MOST_OPTIONS])
        self._options_head.setText(tr("Suggestions"))
        self._options_head.setVisible(bool(offered))
        if shown == self._offered:
            return
        self._offered = shown
        clear_grid(self._options)
        self.option_buttons = []
        for row, (option, text) in enumerate(offered[:MOST_OPTIONS]):
            button = OptionButton(text)
            button.clicked.connect(lambda _=False, option=option: self._take(option))
            self._options.addWidget(button, row, 0)
            self.option_buttons.append(button)

    def _seek_advice(self, pocket: Pocket, placement: Placement) -> None:
        """Work the options out beside the window: a long thing of many zones may take two seconds."""
        bay, rules = self._workspace.ground.bay, self._workspace.project.rules
        self._options_head.setText(tr("Looking for better seats…"))
        self._options_head.setVisible(True)
        self._offered = ()
        clear_grid(self._options)
        self.option_buttons = []

        def work(_: Project) -> tuple[Option, ...]:
            try:
                return tuple(options_for(pocket.item, placement, bay, rules))
            except UnusableInput:  # a thing that no seat suits has no other ways either
                return ()

        def heard(options: tuple[Option, ...]) -> None:
            self._advised = (pocket, options)

        self.advice.run(work, heard, tell=False)

    def _go_on(self) -> None:
        """Show what was worked out; where something else is meant by now, work that out."""
        if not self.advice.is_busy:
            chosen = self._workspace.selection
            self._offer(placement_of(self._workspace.insert, chosen[0]) if len(chosen) == 1 else None)

    def _show_busy(self) -> None:
        self.all_button.setEnabled(not self.aside.is_busy)
        if self.aside.is_busy:
            self.all_button.setText(tr("Working it out…"))
        else:
            self.follow()

    def _take(self, option: Option) -> None:
        workspace = self._workspace
        if len(workspace.selection) != 1:
            return
        key, project = workspace.selection[0], workspace.project
        if option.sheets:
            project = change_insert(project, workspace.insert_id, sheets=option.sheets)
            seat = option.advice.seat
            changed = change_placements(
                project,
                workspace.insert_id,
                [key],
                lambda one: replace(one, seat=seat, zone_layers=option.advice.zone_layers, risers_mm=None),
            )
            workspace.do(tr("Take foam of other layers"), changed)
            return
        changed = change_placements(project, workspace.insert_id, [key], lambda one: seated(one, option))
        workspace.do(tr("Seat ‘{placement_name}’ as advised", placement_name=placement_name(project, key)), changed)

    def advise_all(self) -> None:
        """Seat everything that lies askew as advised."""
        insert_id = self._workspace.insert_id
        self.aside.run(lambda project: advised_all(project, insert_id), lambda found: self._hear_advised(*found))

    def _hear_advised(self, project: Project, left: tuple[str, ...]) -> None:
        workspace = self._workspace
        workspace.do(tr("Seat what lay askew"), project)
        if left:
            names = ", ".join(f"‘{placement_name(project, key)}’" for key in left[:3])
            workspace.refused.emit(
                tr("No layers or riser let {names} lie level: another side, or other foam.", names=names)
            )

    def _step(self, zone: int, by: int) -> None:
        workspace = self._workspace
        if len(workspace.selection) != 1:
            return
        key = workspace.selection[0]
        count = workspace.ground.pockets[key].seating.zone_layers[zone] + by
        workspace.zone = zone
        workspace.attempt(
            tr("Peel under ‘{placement_name}’", placement_name=placement_name(workspace.project, key)),
            lambda: set_zone_layers(workspace.project, workspace.insert_id, key, zone, count),
        )

    def _set_seat(self, seat: object) -> None:
        workspace = self._workspace
        rule = next((one for one in (*SEATS, "judged") if one == seat), None)
        workspace.do(tr("Change the seat"), set_seat(workspace.project, workspace.insert_id, workspace.selection, rule))
        self.follow()
