"""Keep: pages left, the plan in the middle with what was found, or with what is to be cut and glued in."""

from __future__ import annotations

from functools import cached_property

from PySide6.QtWidgets import QWidget

from cozy_burrow.app.frame.handed import PICTURES, Handed
from cozy_burrow.app.frame.house import House
from cozy_burrow.app.frame.screen import Screen
from cozy_burrow.app.scene.layer import PlanLayer
from cozy_burrow.app.screens.keep.find_page import FindView
from cozy_burrow.app.screens.keep.keep_panel import KeepPanel
from cozy_burrow.app.screens.keep.on_plan import RollLayer
from cozy_burrow.app.screens.keep.pages import PageName
from cozy_burrow.app.screens.keep.patch_layer import PatchLayer
from cozy_burrow.app.screens.keep.roll import Roll
from cozy_burrow.core.tongue import tr


class KeepScreen(Screen):
    """What is asked of an insert that is in use."""

    stage = "keep"

    def __init__(self, house: House) -> None:
        super().__init__(house)
        self.roll = Roll(house.workspace, house.plan)
        self._called = RollLayer(house.workspace, self.roll)
        self.panel = KeepPanel(house, self.roll)
        self.panel.turned.connect(lambda _: self._turn())

    def _turn(self) -> None:
        if self.house.stage() == self.stage:
            self.house.show_stage(self.stage)

    @cached_property
    def _refitted(self) -> PatchLayer:
        layer = PatchLayer(self.house.workspace)
        self.panel.refit.shown.connect(layer.show_patch)
        return layer

    @cached_property
    def _plain(self) -> PatchLayer:
        return PatchLayer(self.house.workspace)

    @cached_property
    def _compared(self) -> PatchLayer:
        layer = PatchLayer(self.house.workspace)
        self.panel.compare.shown.connect(layer.show_patch)
        return layer

    @cached_property
    def find_view(self) -> FindView:
        """The place of what was found."""
        view = FindView(self.house.theme(), self.house.scale)
        self.panel.where.shown.connect(view.show_found)
        return view

    @property
    def left(self) -> QWidget:
        """The pages."""
        return self.panel

    @property
    def middle(self) -> QWidget:
        """The plan; where something was found, the insert that it lies in."""
        return self.find_view if self.panel.page == "Where" else self.house.plan

    @property
    def below(self) -> QWidget | None:
        """The section where depths are the matter; a roll call has all the room."""
        return self.house.section if self.panel.page in {"Refit", "Compare"} else None

    @property
    def layer(self) -> PlanLayer | None:
        """What was found, or what is to be done."""
        match self.panel.page:
            case "Where":
                return None
            case "Things" | "Labels" | "Next":
                return self._plain
            case "Refit":
                return self._refitted
            case "Compare":
                return self._compared
        return self._called

    def take_handed(self, handed: Handed) -> bool:
        """A picture is the open drawer's: who is missing? At My items it is of one that is looked for."""
        pictures = handed.ending(PICTURES)
        if self.panel.page == "Things" and (pictures or handed.picture):
            if pictures:
                self.panel.things.photo.read_file(pictures[0])
            else:
                self.panel.things.photo.read(handed.picture, tr("the dropped picture"))
            return True
        if (not pictures and not handed.picture) or not self.house.workspace.insert.placements:
            return False
        self.show_page("Roll")
        if pictures:
            self.panel.roll.read_photo(pictures[0])
        else:
            self.roll.read(handed.picture, tr("the dropped picture"))
        return True

    def show_page(self, name: PageName) -> None:
        """Go to a page of Keep."""
        self.house.show_stage(self.stage)
        self.panel.show_page(name)


SCREEN = KeepScreen
