"""Panels are made when their stage is first shown, and imported only then: the window is there sooner."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property
from typing import TYPE_CHECKING, Protocol, TypeVar, runtime_checkable

from PySide6.QtWidgets import QMenu, QWidget

from cozy_burrow.app.look.theme.theme import Theme
from cozy_burrow.app.screens.lay_out.lay_out_panel import MORE, LayOutPanel
from cozy_burrow.app.screens.measure.scenes import MeasureScenes
from cozy_burrow.app.shell.house import House
from cozy_burrow.core.bench.cuts import Cut

if TYPE_CHECKING:  # a fifth of the time that a start takes
    from cozy_burrow.app.screens.cut.cut_panel import CutPanel
    from cozy_burrow.app.screens.gather.add_panel import AddPanel
    from cozy_burrow.app.screens.gather.gallery import Gallery
    from cozy_burrow.app.screens.gather.item_bench import ItemBench
    from cozy_burrow.app.screens.grip.grip_panel import GripPanel
    from cozy_burrow.app.screens.lay_out.variations_view import VariationsView
    from cozy_burrow.app.screens.measure.measure_panel import MeasurePanel
    from cozy_burrow.app.screens.retouch.canvas import RetouchCanvas
    from cozy_burrow.app.screens.retouch.tools_panel import RetouchTools
    from cozy_burrow.app.screens.sink.peel_view import PeelView
    from cozy_burrow.app.screens.sink.sink_panel import SinkPanel

Panel = TypeVar("Panel", bound=QWidget)


@runtime_checkable
class Dressed(Protocol):
    """Something that is painted in a theme."""

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""


class Parts:
    """What the window shows left, in the middle and below; each part is there once it was asked for."""

    def __init__(self, house: House) -> None:
        self._house = house
        self.scenes = MeasureScenes(
            house.workspace,
            house.stores,
            theme=house.theme,
            scale=house.scale,
            above=house.above,
            panel=lambda: self.measure,
        )

    def has(self, name: str) -> bool:
        """Return whether a part was made already."""
        return name in vars(self)

    def dressed(self) -> Iterator[Dressed]:
        """Yield the parts made so far that are painted in a theme."""
        for one in (*vars(self).values(), *vars(self.scenes).values()):
            if isinstance(one, QWidget) and isinstance(one, Dressed):
                yield one

    @cached_property
    def add(self) -> AddPanel:
        """The ways in, left at Gather."""
        from cozy_burrow.app.screens.gather.add_panel import AddPanel

        return self._on_the_left(
            AddPanel(self._house.workspace, self._house.retouch, self._house.settings, self._house.retouching.may_clear)
        )

    @cached_property
    def gallery(self) -> Gallery:
        """The kit, in the middle at Gather."""
        from cozy_burrow.app.screens.gather.gallery import Gallery

        gallery = Gallery(self._house.workspace, self._house.theme(), self._house.scale)
        self._house.above.addWidget(gallery)
        return gallery

    @cached_property
    def retouch_canvas(self) -> RetouchCanvas:
        """The photo with outlines, in the middle at Gather while a picture lies on the bench."""
        from cozy_burrow.app.screens.retouch.canvas import RetouchCanvas

        canvas = RetouchCanvas(self._house.retouch, self._house.workspace, self._house.theme(), self._house.scale)
        self._house.above.addWidget(canvas)
        return canvas

    @cached_property
    def retouch_tools(self) -> RetouchTools:
        """Figures and mends of the retouch bench, left of it."""
        from cozy_burrow.app.screens.retouch.tools_panel import RetouchTools

        tools = RetouchTools(self._house.retouch, self._house.workspace)
        tools.send_wanted.connect(self._house.retouching.send)
        tools.side_wanted.connect(self._house.retouching.ask_side)
        tools.close_wanted.connect(self._house.retouching.close)
        return self._on_the_left(tools)

    @cached_property
    def bench(self) -> ItemBench:
        """One thing large, below at Gather."""
        from cozy_burrow.app.screens.gather.item_bench import ItemBench

        bench = ItemBench(self._house.workspace, self._house.theme(), self._house.scale)
        self._house.below.addWidget(bench)
        return bench

    @cached_property
    def measure(self) -> MeasurePanel:
        """Container, sheets and rules, left at Measure."""
        from cozy_burrow.app.screens.measure.measure_panel import MeasurePanel

        measure = self._on_the_left(MeasurePanel(self._house.workspace, self._house.stores, self._house.dressing))
        measure.turned.connect(lambda _: self._turn())
        return measure

    @cached_property
    def tray(self) -> LayOutPanel:
        """Tray, arranging, wishes and moves, left at Lay out."""
        tray = self._on_the_left(LayOutPanel(self._house.workspace, self._house.arranging))
        tray.lay_in.connect(self._house.laying_in.lay_in_best)
        tray.command.connect(self._house.command)
        tray.picture_wanted.connect(self._house.plan.show_wish)
        tray.push_box.toggled.connect(lambda on: setattr(self._house.plan.handling, "pushes", on))
        tray.more_menu.aboutToShow.connect(lambda: self._fill_more(tray.more_menu))
        return tray

    def _fill_more(self, menu: QMenu) -> None:
        menu.clear()
        for name in MORE:
            menu.addAction(self._house.action(name))

    @cached_property
    def variations(self) -> VariationsView:
        """Layouts side by side, below at Lay out while there are some."""
        from cozy_burrow.app.screens.lay_out.variations_view import VariationsView

        view = VariationsView(self._house.arranging, self._house.theme(), self._house.scale)
        view.close_wanted.connect(self._house.arranging.close)
        self._house.below.addWidget(view)
        return view

    @cached_property
    def sink(self) -> SinkPanel:
        """Seats and layers, left at Sink."""
        from cozy_burrow.app.screens.sink.sink_panel import SinkPanel

        sink = self._on_the_left(SinkPanel(self._house.workspace))
        sink.lid_raised.connect(self._house.section.raise_lid)
        sink.peel_wanted.connect(lambda _: self._house.show_stage("sink"))
        return sink

    @cached_property
    def peel(self) -> PeelView:
        """A picture a layer, in the middle at Sink."""
        from cozy_burrow.app.screens.sink.peel_view import PeelView

        view = PeelView(self._house.workspace, self._house.theme(), self._house.scale)
        self._house.above.addWidget(view)
        return view

    @cached_property
    def grip(self) -> GripPanel:
        """Finger pulls, left at Grip."""
        from cozy_burrow.app.screens.grip.grip_panel import GripPanel

        grip = self._on_the_left(GripPanel(self._house.workspace, self._house.stores))
        grip.over_chosen.connect(self._house.plan.show_over)
        return grip

    @cached_property
    def cut(self) -> CutPanel:
        """Sheet and layer, left at Cut; its table of cuts goes below."""
        from cozy_burrow.app.screens.cut.cut_panel import CutPanel

        cut = self._on_the_left(CutPanel(self._house.workspace))
        self._house.below.addWidget(cut.view)
        cut.layer_shown.connect(self._show_layer)
        cut.cuts_shown.connect(self._show_cuts)
        cut.export_wanted.connect(self._house.desk.ask_export)
        return cut

    def _turn(self) -> None:
        if self._house.stage() == "measure":
            self._house.show_stage("measure")

    def _show_layer(self, layer: int) -> None:
        if self._house.stage() == "cut":
            self._house.plan.show_layer(layer)

    def _show_cuts(self, cuts: tuple[Cut, ...]) -> None:
        self._house.plan.cuts = cuts
        self._house.plan.viewport().update()

    def _on_the_left(self, page: Panel) -> Panel:
        self._house.left.addWidget(page)
        return page
