"""Commands of Lay out: what a hand or the program does to what lies, or is to lie, on the plan."""

from __future__ import annotations

from typing import TYPE_CHECKING

from cozy_burrow.app.frame.command import Command
from cozy_burrow.app.frame.front import Front, chosen, some_selected, two_selected
from cozy_burrow.app.screens.lay_out import laying, sharing_pockets

if TYPE_CHECKING:
    from cozy_burrow.app.screens.lay_out.screen import LayOutScreen


def _screen(front: Front) -> LayOutScreen:
    from cozy_burrow.app.screens.lay_out.screen import LayOutScreen

    return LayOutScreen.of(front)


def _nudge(id_: str, text: str, keys: str, dx: float, dy: float) -> Command:
    return Command(
        f"lay.{id_}",
        text,
        "Lay out",
        lambda w: laying.nudge(w.workspace, dx, dy),
        keys=keys,
        scope="plan",
        when=some_selected,
    )


def _turn(id_: str, text: str, keys: str, by: float) -> Command:
    return Command(
        f"lay.{id_}",
        text,
        "Lay out",
        lambda w: laying.turn(w.workspace, by),
        keys=keys,
        scope="plan",
        when=some_selected,
    )


def _align(side: str, keys: str) -> Command:
    return Command(
        f"lay.align_{side}",
        f"Align {side}" if side != "middle" else "Align in one row",
        "Lay out",
        lambda w: laying.line_up(w.workspace, side),
        keys=keys,
        scope="plan",
        when=two_selected,
    )


COMMANDS: tuple[Command, ...] = (
    Command("lay.arrange", "Arrange for me", "Lay out", lambda w: w.arranging.begin("all"), keys="Ctrl+Return"),
    Command("lay.improve", "Improve what lies here", "Lay out", lambda w: w.arranging.begin("improve"), keys="Ctrl+I"),
    Command(
        "lay.repack",
        "Re-pack the selection only",
        "Lay out",
        lambda w: w.arranging.begin("selection"),
        keys="Ctrl+R",
        when=two_selected,
    ),
    Command("lay.fill_area", "Draw an area to fill from the tray", "Lay out", laying.fill_area, keys="Ctrl+Shift+F"),
    Command("lay.keep_free", "Draw an area to keep free", "Lay out", laying.keep_area_free, keys="Ctrl+Shift+K"),
    Command(
        "lay.free_again",
        "Use the areas kept free again",
        "Lay out",
        lambda w: laying.use_again(w.workspace),
        when=lambda w: bool(w.workspace.insert.spare),
    ),
    Command("lay.share_out", "Share out over all inserts", "Lay out", lambda w: w.arranging.begin("inserts")),
    Command("lay.stop", "Stop arranging, keep the best so far", "Lay out", lambda w: w.arranging.stop()),
    Command(
        "lay.row",
        "Make one row, sorted by size",
        "Lay out",
        lambda w: laying.make_row(w.workspace),
        keys="R",
        scope="plan",
        when=two_selected,
    ),
    Command(
        "lay.spread_down",
        "Spread evenly from back to front",
        "Lay out",
        lambda w: laying.spread_out(w.workspace, down=True),
        keys="Ctrl+Shift+J",
        scope="plan",
        when=lambda w: len(w.workspace.selection) >= 3,
    ),
    Command(
        "lay.pushing",
        "Push neighbours aside, or not",
        "Lay out",
        lambda w: _screen(w).panel.push_box.toggle(),
        keys="P",
        scope="plan",
    ),
    _nudge("left", "Nudge left a little", "Left", -0.5, 0),
    _nudge("right", "Nudge right a little", "Right", 0.5, 0),
    _nudge("back", "Nudge to the back a little", "Up", 0, -0.5),
    _nudge("front", "Nudge to the front a little", "Down", 0, 0.5),
    _nudge("far_left", "Move left by a finger", "Shift+Left", -10, 0),
    _nudge("far_right", "Move right by a finger", "Shift+Right", 10, 0),
    _nudge("far_back", "Move to the back by a finger", "Shift+Up", 0, -10),
    _nudge("far_front", "Move to the front by a finger", "Shift+Down", 0, 10),
    _turn("turn_1", "Turn by 1° clockwise", ".", 1),
    _turn("turn_back_1", "Turn by 1° the other way", ",", -1),
    _turn("turn_right", "Turn by 90° clockwise", "T", 90),
    Command(
        "lay.swap_ends",
        "Swap ends",
        "Lay out",
        lambda w: laying.swap(w.workspace),
        keys="E",
        scope="plan",
        when=some_selected,
    ),
    Command(
        "lay.lock",
        "Lock or free",
        "Lay out",
        lambda w: laying.lock(w.workspace),
        keys="L",
        scope="plan",
        when=some_selected,
    ),
    Command(
        "lay.take_out",
        "Put back into the tray",
        "Lay out",
        lambda w: laying.to_tray(w.workspace),
        keys="Del",
        scope="plan",
        when=some_selected,
    ),
    _align("left", "Ctrl+Left"),
    _align("right", "Ctrl+Right"),
    _align("back", "Ctrl+Up"),
    _align("front", "Ctrl+Down"),
    _align("middle", "Ctrl+M"),
    Command(
        "lay.spread",
        "Spread evenly from left to right",
        "Lay out",
        lambda w: laying.spread_out(w.workspace),
        keys="Ctrl+J",
        scope="plan",
        when=lambda w: len(w.workspace.selection) >= 3,
    ),
    Command(
        "lay.select_all",
        "Select everything",
        "Lay out",
        lambda w: w.workspace.select([one.id for one in w.workspace.insert.placements]),
        keys="Ctrl+A",
        scope="plan",
    ),
    Command(
        "lay.next", "Next thing", "Lay out", lambda w: laying.step_selection(w.workspace, 1), keys="N", scope="plan"
    ),
    Command(
        "lay.before",
        "Thing before",
        "Lay out",
        lambda w: laying.step_selection(w.workspace, -1),
        keys="B",
        scope="plan",
    ),
    Command(
        "lay.share",
        "Let the two selected things share a pocket",
        "Lay out",
        lambda w: sharing_pockets.share_pocket(w.workspace),
        when=lambda w: len(w.workspace.selection) == 2,
    ),
    Command(
        "lay.under",
        "Lay the chosen thing of the tray into an under-pocket",
        "Lay out",
        lambda w: sharing_pockets.lay_under(w.workspace),
        when=chosen,
    ),
)
