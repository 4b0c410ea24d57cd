"""Lay out: tray and wishes left, the plan in the middle, the section or layouts side by side below."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QMenu, QWidget

from cozy_burrow.app.frame.hint import hint
from cozy_burrow.app.frame.house import House
from cozy_burrow.app.frame.screen import Screen
from cozy_burrow.app.screens.lay_out.lay_out_panel import MORE, LayOutPanel
from cozy_burrow.app.screens.lay_out.on_plan import LayOutLayer
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.model.edits import insert_of
from cozy_burrow.core.tongue import tr

if TYPE_CHECKING:
    from cozy_burrow.app.screens.lay_out.variations_view import VariationsView


class LayOutScreen(Screen):
    """Where everything lies."""

    stage = "lay-out"

    def __init__(self, house: House) -> None:
        super().__init__(house)
        self._layer = LayOutLayer(house.workspace, house.plan.handling)
        panel = self.panel = LayOutPanel(house.workspace, house.arranging)
        panel.lay_in.connect(house.laying_in.lay_in_best)
        panel.command.connect(house.command)
        panel.picture_wanted.connect(self._layer.show_wish)
        panel.push_box.toggled.connect(self._push)
        panel.more_menu.aboutToShow.connect(lambda: self._fill_more(panel.more_menu))
        for moved in (house.arranging.gained, house.arranging.closed):
            moved.connect(self._show_below)
        house.arranging.gained.connect(self._show_ghost)
        house.arranging.progressed.connect(lambda _: self._show_ghost())
        self._show_ghost()

    def _push(self, on: bool) -> None:
        self.house.plan.handling.pushes = on

    def _fill_more(self, menu: QMenu) -> None:
        menu.clear()
        for name in MORE:
            menu.addAction(self.house.action(name))

    @cached_property
    def variations(self) -> VariationsView:
        """Layouts side by side."""
        from cozy_burrow.app.screens.lay_out.variations_view import VariationsView

        view = VariationsView(self.house.arranging, self.house.theme(), self.house.scale)
        view.close_wanted.connect(self.house.arranging.close)
        return view

    @property
    def left(self) -> QWidget:
        """Tray, arranging, wishes, moves."""
        return self.panel

    @property
    def below(self) -> QWidget:
        """Layouts side by side while there are some, else the section."""
        return self.variations if self.house.arranging.is_open else self.house.section

    @property
    def layer(self) -> LayOutLayer:
        """A wish, a ghost."""
        return self._layer

    def entered(self) -> None:
        """Whoever is here for the first time is told that nothing has to be dragged."""
        hint(
            "arrange",
            self.panel.arrange_button,
            tr("Lays the whole kit in for you. Drag items on the plan afterwards, or lock what shall stay."),
            self.house.settings,
            self.house.dressing,
        )

    def first_look(self) -> None:
        """Say what goes in, and what would go in better otherwise."""
        from cozy_burrow.app.screens.lay_out.first_look_card import FirstLookCard

        self.house.show_stage(self.stage)
        self.house.dressing.show_card(FirstLookCard(self.house.workspace, self.panel.window()))

    def catch_up(self) -> None:
        """Judge the wishes."""
        self.panel.judge_now()

    def _show_below(self) -> None:
        if self.house.stage() == self.stage:
            self.house.set_out()

    def _show_ghost(self) -> None:
        """While a search runs, its best so far lies on the plan itself, not to be mistaken for what is there."""
        arranging = self.house.arranging
        best = arranging.best if arranging.is_arranging else None
        if best is None or arranging.insert_id != self.house.workspace.insert_id:
            self._layer.show_ghost(None)
            return
        self._layer.show_ghost(ground_of(best.project, insert_of(best.project, arranging.insert_id)))


SCREEN = LayOutScreen
