"""Panels are made when their stage is first shown, and imported only then: the window is there sooner."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING, TypeVar

from PySide6.QtGui import QAction
from PySide6.QtWidgets import QMenu, QWidget

from cozy_burrow.app.desk.bench_session import RetouchSession
from cozy_burrow.app.desk.project_desk import ProjectDesk
from cozy_burrow.app.desk.settings import Settings
from cozy_burrow.app.desk.stores_desk import StoresDesk
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.theme.dressing import Dressing, Pages
from cozy_burrow.app.look.theme.theme import Theme
from cozy_burrow.app.scene.plan_view import PlanView
from cozy_burrow.app.screens.lay_out.arranging import Arranging
from cozy_burrow.app.screens.lay_out.lay_out_panel import MORE, LayOutPanel
from cozy_burrow.app.screens.measure.scenes import MeasureScenes
from cozy_burrow.app.screens.retouch.retouching import Retouching
from cozy_burrow.app.section.section_view import SectionView
from cozy_burrow.app.shell.laying_in import LayingIn
from cozy_burrow.core.bench.cuts import Cut
from cozy_burrow.core.model.stages import Stage

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


class LatePanels(MeasureScenes):
    """What the window shows left, in the middle and below; each part is there once it was asked for."""

    workspace: Workspace
    settings: Settings
    desk: ProjectDesk
    laying_in: LayingIn
    arranging: Arranging
    plan: PlanView
    section: SectionView
    actions_by_id: dict[str, QAction]
    retouch: RetouchSession
    retouching: Retouching
    stores: StoresDesk
    type_scale: float
    _theme: Theme
    dressing: Dressing
    left: Pages
    above: Pages
    below: Pages

    @cached_property
    def add(self) -> AddPanel:
        """The ways in, left at Gather."""
        from cozy_burrow.app.screens.gather.add_panel import AddPanel

        return self._on_the_left(AddPanel(self.workspace, self.retouch, self.settings, self.retouching.may_clear))

    @cached_property
    def gallery(self) -> Gallery:
        """The kit, in the middle at Gather."""
        from cozy_burrow.app.screens.gather.gallery import Gallery

        gallery = Gallery(self.workspace, self._theme, self.type_scale)
        self.above.addWidget(gallery)
        return gallery

    @cached_property
    def retouch_canvas(self) -> RetouchCanvas:
        """The photo with outlines, in the middle at Gather while a picture lies on the bench."""
        from cozy_burrow.app.screens.retouch.canvas import RetouchCanvas

        canvas = RetouchCanvas(self.retouch, self.workspace, self._theme, self.type_scale)
        self.above.addWidget(canvas)
        return canvas

    @cached_property
    def retouch_tools(self) -> RetouchTools:
        """Figures and mends of the retouch bench, left of it."""
        from cozy_burrow.app.screens.retouch.tools_panel import RetouchTools

        tools = RetouchTools(self.retouch, self.workspace)
        tools.send_wanted.connect(self.retouching.send)
        tools.side_wanted.connect(self.retouching.ask_side)
        tools.close_wanted.connect(self.retouching.close)
        return self._on_the_left(tools)

    @cached_property
    def bench(self) -> ItemBench:
        """One thing large, below at Gather."""
        from cozy_burrow.app.screens.gather.item_bench import ItemBench

        bench = ItemBench(self.workspace, self._theme, self.type_scale)
        self.below.addWidget(bench)
        return bench

    @cached_property
    def measure(self) -> MeasurePanel:
        """Container, sheets and rules, left at Measure."""
        from cozy_burrow.app.screens.measure.measure_panel import MeasurePanel

        measure = self._on_the_left(MeasurePanel(self.workspace, self.stores, self.dressing))
        measure.turned.connect(lambda _: self._turn_measure())
        return measure

    @cached_property
    def tray(self) -> LayOutPanel:
        """Tray, arranging, wishes and moves, left at Lay out."""
        tray = self._on_the_left(LayOutPanel(self.workspace, self.arranging))
        tray.lay_in.connect(self.laying_in.lay_in_best)
        tray.command.connect(self._command)
        tray.picture_wanted.connect(self.plan.show_wish)
        tray.push_box.toggled.connect(lambda on: setattr(self.plan.handling, "pushes", on))
        tray.more_menu.aboutToShow.connect(lambda: self._fill_more(tray.more_menu))
        return tray

    def _fill_more(self, menu: QMenu) -> None:
        menu.clear()
        for name in MORE:
            menu.addAction(self.actions_by_id[name])

    @cached_property
    def variations(self) -> VariationsView:
        """Layouts side by side, below at Lay out while there are some."""
        from cozy_burrow.app.screens.lay_out.variations_view import VariationsView

        view = VariationsView(self.arranging, self._theme, self.type_scale)
        view.close_wanted.connect(self.arranging.close)
        self.below.addWidget(view)
        return view

    @cached_property
    def sink(self) -> SinkPanel:
        """Seats and layers, left at Sink."""
        from cozy_burrow.app.screens.sink.sink_panel import SinkPanel

        sink = self._on_the_left(SinkPanel(self.workspace))
        sink.lid_raised.connect(self.section.raise_lid)
        sink.peel_wanted.connect(lambda _: self.show_stage("sink"))
        return sink

    @cached_property
    def peel(self) -> PeelView:
        """A picture a layer, in the middle at Sink."""
        from cozy_burrow.app.screens.sink.peel_view import PeelView

        view = PeelView(self.workspace, self._theme, self.type_scale)
        self.above.addWidget(view)
        return view

    @cached_property
    def grip(self) -> GripPanel:
        """Finger pulls, left at Grip."""
        from cozy_burrow.app.screens.grip.grip_panel import GripPanel

        grip = self._on_the_left(GripPanel(self.workspace, self.stores))
        grip.over_chosen.connect(self.plan.show_over)
        return grip

    @cached_property
    def cut(self) -> CutPanel:
        """Sheet and layer, left at Cut; its table of cuts goes below."""
        from cozy_burrow.app.screens.cut.cut_panel import CutPanel

        cut = self._on_the_left(CutPanel(self.workspace))
        self.below.addWidget(cut.view)
        cut.layer_shown.connect(self._peel)
        cut.cuts_shown.connect(self._show_cuts)
        cut.export_wanted.connect(self.desk.ask_export)
        return cut

    def _on_the_left(self, page: Panel) -> Panel:
        self.left.addWidget(page)
        return page

    def _command(self, name: str) -> None:
        raise NotImplementedError

    def _peel(self, layer: int) -> None:
        raise NotImplementedError

    def show_stage(self, stage: Stage) -> None:
        """Look at the document as a stage does."""
        raise NotImplementedError

    def _show_cuts(self, cuts: tuple[Cut, ...]) -> None:
        raise NotImplementedError
