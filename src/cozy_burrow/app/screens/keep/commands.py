"""Commands at Keep."""

from __future__ import annotations

from typing import TYPE_CHECKING

from cozy_burrow.app.frame.command import Command
from cozy_burrow.app.frame.front import Front
from cozy_burrow.core.tongue import tr

if TYPE_CHECKING:
    from cozy_burrow.app.screens.keep.pages import PageName

_CHAPTER = tr("Keep")


def _to(front: Front, page: PageName) -> None:
    from cozy_burrow.app.screens.keep.screen import KeepScreen

    KeepScreen.of(front).show_page(page)


def _call_by_hand(front: Front) -> None:
    from cozy_burrow.app.screens.keep.screen import KeepScreen

    screen = KeepScreen.of(front)
    screen.show_page("Roll")
    screen.roll.begin()


COMMANDS: tuple[Command, ...] = (
    Command("keep.roll", tr("Roll call by hand: tap what is missing"), _CHAPTER, _call_by_hand),
    Command("keep.refit", tr("Put another item in the place of this one"), _CHAPTER, lambda w: _to(w, "Refit")),
    Command("keep.things", tr("My items: take one that was gathered before"), _CHAPTER, lambda w: _to(w, "Things")),
    Command("keep.find", tr("Find where an item lies"), _CHAPTER, lambda w: _to(w, "Where")),
    Command("keep.labels", tr("Labels for drawers, places and floors"), _CHAPTER, lambda w: _to(w, "Labels")),
    Command("keep.next", tr("Begin the next insert with this one"), _CHAPTER, lambda w: _to(w, "Next")),
    Command("keep.compare", tr("Compare the plan with a file"), _CHAPTER, lambda w: _to(w, "Compare")),
)
