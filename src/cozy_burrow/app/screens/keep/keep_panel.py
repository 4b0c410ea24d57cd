"""Keep: roll calls, changes of what is cut, items that are used again, labels; one page each."""

from __future__ import annotations

from functools import cached_property

from PySide6.QtWidgets import QWidget

from cozy_burrow.app.desk.kept_desk import KeptDesk
from cozy_burrow.app.frame.house import House
from cozy_burrow.app.frame.paged_panel import PagedPanel
from cozy_burrow.app.screens.keep.compare_page import ComparePage
from cozy_burrow.app.screens.keep.find_page import FindPage
from cozy_burrow.app.screens.keep.labels_page import LabelsPage
from cozy_burrow.app.screens.keep.next_page import NextPage
from cozy_burrow.app.screens.keep.pages import PAGE_NAMES, PageName
from cozy_burrow.app.screens.keep.refit_page import RefitPage
from cozy_burrow.app.screens.keep.roll import Roll
from cozy_burrow.app.screens.keep.roll_page import RollPage
from cozy_burrow.app.screens.keep.things_page import ThingsPage
from cozy_burrow.storage.kept_files import CONTAINERS, THINGS


class KeepPanel(PagedPanel):
    """The pages of Keep."""

    page: PageName

    def __init__(self, house: House, roll_: Roll, parent: QWidget | None = None) -> None:
        super().__init__(house.dressing, PAGE_NAMES, parent)
        self._house, self._workspace, self._roll = house, house.workspace, roll_
        self.show_page("Roll")

    @cached_property
    def roll(self) -> RollPage:
        """Is everything home?"""
        return self.put("Roll", RollPage(self._workspace, self._roll))

    @cached_property
    def refit(self) -> RefitPage:
        """Another item in cut foam."""
        return self.put("Refit", RefitPage(self._workspace))

    @cached_property
    def compare(self) -> ComparePage:
        """What has changed."""
        return self.put("Compare", ComparePage(self._workspace))

    @cached_property
    def desk(self) -> KeptDesk:
        """What is kept of items."""
        return KeptDesk(THINGS, self._house.settings, self)

    @cached_property
    def things(self) -> ThingsPage:
        """Items that are used again."""
        return self.put("Things", ThingsPage(self._workspace, self.desk))

    @cached_property
    def where(self) -> FindPage:
        """Where an item lies, over all projects."""
        return self.put("Where", FindPage(self._workspace, self._house.desk, self._house.settings))

    @cached_property
    def labels(self) -> LabelsPage:
        """Labels for drawers, places and floors."""
        return self.put("Labels", LabelsPage(self._workspace))

    @cached_property
    def boxes(self) -> KeptDesk:
        """What is kept of containers."""
        return KeptDesk(CONTAINERS, self._house.settings, self)

    @cached_property
    def next(self) -> NextPage:
        """The next insert, and more drawers like this one."""
        return self.put("Next", NextPage(self._workspace, self.boxes))
