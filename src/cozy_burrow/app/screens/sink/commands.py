"""Commands of Sink."""

from __future__ import annotations

from typing import TYPE_CHECKING

from cozy_burrow.app.frame.command import Command
from cozy_burrow.app.frame.front import Front
from cozy_burrow.core.tongue import tr

if TYPE_CHECKING:
    from cozy_burrow.app.screens.sink.screen import SinkScreen


def _screen(front: Front) -> SinkScreen:
    from cozy_burrow.app.screens.sink.screen import SinkScreen

    return SinkScreen.of(front)


COMMANDS: tuple[Command, ...] = (
    Command("sink.lid", tr("Close or raise the lid"), tr("Sink"), lambda w: _screen(w).close_lid(), keys="K"),
    Command("sink.peel", tr("Layer by layer"), tr("Sink"), lambda w: _screen(w).show_peel(), keys="Ctrl+Shift+V"),
    Command(
        "sink.advise",
        tr("Seat what lies askew as advised"),
        tr("Sink"),
        lambda w: _screen(w).panel.advise_all(),
        keys="Ctrl+D",
    ),
)
