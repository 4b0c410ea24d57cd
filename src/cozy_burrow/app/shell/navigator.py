"""Which stage is shown: its screen says what stands where, and what undo and zoom are for."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QSplitter, QWidget

from cozy_burrow.app.checks.check_list import CheckList
from cozy_burrow.app.frame.house import House
from cozy_burrow.app.frame.screen import Screen, Screens
from cozy_burrow.app.look.busy import busy
from cozy_burrow.app.look.theme.dressing import Dressing, Pages
from cozy_burrow.app.look.theme.theme import Theme
from cozy_burrow.app.scene.plan_view import PlanView
from cozy_burrow.app.section.section_view import SectionView
from cozy_burrow.app.shell.sides import Middle
from cozy_burrow.app.shell.stage_path import StagePath
from cozy_burrow.core.model.stages import ABOUT, Stage
from cozy_burrow.core.tongue import tr

_SECTION_PX = 215  # high, where depths are not the matter
_USUAL_PX = 677  # what both get of a window 800 px high
_MOST_SHARE = 0.5  # however large letters are
_DEEP_SHARE = 0.46  # of the middle that the section gets where they are


class _Scene(QSplitter):
    """Plan and section; it tells when it is shown first, since only then it is known how high it is."""

    def __init__(self, when_shown: Callable[[], object]) -> None:
        super().__init__(Qt.Orientation.Vertical)
        self._when_shown: Callable[[], object] | None = when_shown

    def showEvent(self, event: QShowEvent) -> None:
        """Tell it once."""
        super().showEvent(event)
        if self._when_shown is not None:
            told, self._when_shown = self._when_shown, None
            told()


class Frame:
    """The widgets that screens stand in: stacks left, above and below, the checks right."""

    def __init__(
        self, plan: PlanView, section: SectionView, checks: CheckList, dressing: Dressing, scale: float
    ) -> None:
        self.left, self.below, self.above = Pages(dressing), Pages(dressing), Pages(dressing)
        self.below.addWidget(section)
        self.above.addWidget(plan)
        self.scene = _Scene(self._share_anew)
        self.scene.addWidget(self.above)
        self.scene.addWidget(self.below)
        self.scene.setStretchFactor(0, 3)
        self.scene.setStretchFactor(1, 1)
        self._scale = scale
        self.scene.setSizes([480, round(_SECTION_PX * scale)])
        self.scene.setChildrenCollapsible(False)
        self.scene.setHandleWidth(8)
        dressing.add(checks)
        self.middle = Middle(self.left, self.scene, checks, scale)
        for side in self.middle.sides.values():
            dressing.add(side.rail)
        self._below: int | None = _SECTION_PX
        self._shares: dict[int | None, float] = {}  # of the middle, as they were left

    def set_out(self, screen: Screen) -> None:
        """Put everything of a screen where it stands."""
        _show_page(self.left, screen.left)
        _show_page(self.above, screen.middle)
        below = screen.below
        if below is not None:
            _show_page(self.below, below)
        self.below.setVisible(below is not None)

    def leave(self) -> None:
        """Note how the room is shared, before another screen is set out."""
        above, below = self.scene.sizes()
        if self.scene.isVisible() and below:
            self._shares[self._below] = below / (above + below)

    def share(self, screen: Screen) -> None:
        """Give what stands below the room that a screen needs there, or what it was dragged to the last time."""
        wanted = None if screen.is_deep else screen.below_px or _SECTION_PX
        if wanted == self._below:
            return
        self._below = wanted
        self._share_anew()

    def _share_anew(self) -> None:
        wanted = self._below
        # before it is laid out, sizes are what hints say; what is set then is a share of whatever height it gets
        whole = sum(self.scene.sizes()) if self.scene.isVisible() else _USUAL_PX
        share = _DEEP_SHARE if wanted is None else min(wanted * self._scale / whole, _MOST_SHARE)
        below = round(whole * self._shares.get(wanted, share))
        self.scene.setSizes([whole - below, below])


def _show_page(pages: Pages, page: QWidget) -> None:
    if pages.indexOf(page) < 0:
        pages.addWidget(page)
    pages.setCurrentWidget(page)


class Navigator:
    """Goes from stage to stage. turned: told once another one is shown, before what it shows is made."""

    def __init__(self, house: House, frame: Frame, path: StagePath, turned: Callable[[], object]) -> None:
        self._house, self._frame, self._path, self._turned = house, frame, path, turned
        self.screens = Screens(house)
        self.stage: Stage = "gather"

    @property
    def screen(self) -> Screen:
        """The screen that is shown."""
        return self.screens[self.stage]

    def show(self, stage: Stage) -> None:
        """Look at the document as a stage does."""
        with busy():  # the first time its pages are made
            self._show(stage)

    def _show(self, stage: Stage) -> None:
        house, middle = self._house, self._frame.middle
        if stage != self.stage and self.stage in self.screens:
            self.screen.left_for(stage)
        self.stage = stage
        self._path.show_stage(stage)
        self._turned()
        self._frame.leave()
        screen = self.screens[stage]
        self._frame.set_out(screen)
        middle.open("left", wanted=False)
        middle.label("left", "▸", tr("{panel}: opens over the scene", panel=ABOUT[stage].panel))
        middle.want("right", screen.shows_checks)
        house.section.look_near(screen.is_deep)
        self._frame.share(screen)
        layer = screen.layer
        if layer is not None:
            house.plan.look_through(layer)
            house.plan.fit()
        screen.entered()

    def set_out(self) -> None:
        """Ask the screen that is shown anew what stands where."""
        self._frame.set_out(self.screen)

    def set_theme(self, theme: Theme) -> None:
        """Dress what screens have made so far; what they make later is made in the theme of then."""
        for screen in self.screens.made():
            for part in screen.dressed():
                part.set_theme(theme)

    def document_opened(self) -> None:
        """Tell the screens that another document lies here."""
        for screen in self.screens.made():
            screen.document_opened()
