"""Commands of Measure: one a page."""

from __future__ import annotations

from cozy_burrow.app.frame.command import Command
from cozy_burrow.app.frame.front import Front
from cozy_burrow.app.screens.measure.pages import PAGE_NAMES, PAGES, PageName
from cozy_burrow.core.tongue import tr


def _show(front: Front, page: PageName) -> None:
    from cozy_burrow.app.screens.measure.screen import MeasureScreen

    MeasureScreen.of(front).show_page(page)


def _page(page: PageName) -> Command:
    return Command(
        f"measure.{page.lower()}",
        tr("Measure: {page}", page=PAGE_NAMES[page]),
        tr("Measure"),
        lambda w: _show(w, page),
    )


COMMANDS: tuple[Command, ...] = tuple(_page(page) for page in PAGES)
