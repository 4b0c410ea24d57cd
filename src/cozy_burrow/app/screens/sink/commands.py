"""Commands of Sink."""

from __future__ import annotations

from typing import TYPE_CHECKING

from cozy_burrow.app.frame.command import Command
from cozy_burrow.app.frame.front import Front

if TYPE_CHECKING:
    from cozy_burrow.app.screens.sink.screen import SinkScreen


def _screen(front: Front) -> SinkScreen:
    from cozy_burrow.app.screens.sink.screen import SinkScreen

    return SinkScreen.of(front)


COMMANDS: tuple[Command, ...] = (
    Command("sink.lid", "Close or raise the lid", "Sink", lambda w: _screen(w).close_lid(), keys="K"),
    Command("sink.peel", "Layer by layer", "Sink", lambda w: _screen(w).show_peel(), keys="Ctrl+Shift+V"),
    Command(
        "sink.advise",
        "Seat what lies askew as advised",
        "Sink",
        lambda w: _screen(w).panel.advise_all(),
        keys="Ctrl+D",
    ),
)
