"""Opening the help over the window: one page at a time, turned to what is asked."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QWidget

from cozy_burrow.app.frame.command import Command
from cozy_burrow.app.frame.front import Front
from cozy_burrow.app.help.page import HelpPage
from cozy_burrow.app.look.theme.theme import load_theme
from cozy_burrow.core.model.stages import STAGES


def show_help(front: Front, window: QWidget, commands: Sequence[Command], topic: str) -> HelpPage:
    """Show the help at a chapter or a check; a page that is open already turns there."""
    page = next((one for one in window.findChildren(HelpPage) if one.isVisible()), None)
    if page is None:
        page = HelpPage(
            commands,
            theme=lambda: load_theme(front.theme_name),
            scale=front.type_scale,
            go=lambda name: _go(front, name),
            parent=window,
        )
        front.dressing.show_card(page)
    page.show_topic(topic)
    page.raise_()
    page.activateWindow()
    page.line.setFocus()
    return page


def _go(front: Front, name: str) -> None:
    stage = next((one for one in STAGES if one == name), None)
    if stage is not None:
        front.show_stage(stage)
