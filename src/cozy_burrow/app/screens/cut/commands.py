"""Commands at Cut."""

from __future__ import annotations

from cozy_burrow.app.frame.command import Command
from cozy_burrow.app.frame.front import Front
from cozy_burrow.core.tongue import tr


def _to_bench(front: Front) -> None:
    from cozy_burrow.app.screens.cut.screen import CutScreen

    CutScreen.of(front).to_bench()


def _ask_tools(front: Front) -> None:
    from cozy_burrow.app.screens.cut.screen import CutScreen

    front.show_stage("cut")
    CutScreen.of(front).ask_tools()


def _ask_price(front: Front) -> None:
    from cozy_burrow.app.screens.cut.screen import CutScreen

    front.show_stage("cut")
    CutScreen.of(front).ask_price()


COMMANDS: tuple[Command, ...] = (
    Command("cut.bench", tr("Bench mode: cut this sheet line by line"), tr("Cut"), _to_bench, keys="Ctrl+B"),
    Command("cut.tools", tr("My tools…"), tr("Cut"), _ask_tools),
    Command("cut.price", tr("Price of the job…"), tr("Cut"), _ask_price),
)
