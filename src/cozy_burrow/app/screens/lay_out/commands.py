"""Commands of Lay out: what a hand or the program does to what lies, or is to lie, on the plan."""

from __future__ import annotations

from typing import TYPE_CHECKING

from cozy_burrow.app.frame.command import Command
from cozy_burrow.app.frame.front import Front, chosen, some_selected, two_selected
from cozy_burrow.app.screens.lay_out import laying, sharing_pockets
from cozy_burrow.core.tongue import tr

if TYPE_CHECKING:
    from cozy_burrow.app.screens.lay_out.screen import LayOutScreen


def _screen(front: Front) -> LayOutScreen:
    from cozy_burrow.app.screens.lay_out.screen import LayOutScreen

    return LayOutScreen.of(front)


def _nudge(id_: str, text: str, keys: str, dx: float, dy: float) -> Command:
    return Command(
        f"lay.{id_}",
        text,
        tr("Lay out"),
        lambda w: laying.nudge(w.workspace, dx, dy),
        keys=keys,
        scope="plan",
        when=some_selected,
    )


def _turn(id_: str, text: str, keys: str, by: float) -> Command:
    return Command(
        f"lay.{id_}",
        text,
        tr("Lay out"),
        lambda w: laying.turn(w.workspace, by),
        keys=keys,
        scope="plan",
        when=some_selected,
    )


def _align(side: str, keys: str) -> Command:
    return Command(
        f"lay.align_{side}",
        tr("Align {side}", side=side) if side != "middle" else tr("Align in one row"),
        tr("Lay out"),
        lambda w: laying.line_up(w.workspace, side),
        keys=keys,
        scope="plan",
        when=two_selected,
    )


COMMANDS: tuple[Command, ...] = (
    Command("lay.arrange", tr("Arrange for me"), tr("Lay out"), lambda w: w.arranging.begin("all"), keys="Ctrl+Return"),
    Command("lay.first_look", tr("What goes in? A first look"), tr("Lay out"), lambda w: _screen(w).first_look()),
    Command(
        "lay.improve",
        tr("Improve what lies here"),
        tr("Lay out"),
        lambda w: w.arranging.begin("improve"),
        keys="Ctrl+I",
    ),
    Command(
        "lay.repack",
        tr("Re-pack the selection only"),
        tr("Lay out"),
        lambda w: w.arranging.begin("selection"),
        keys="Ctrl+R",
        when=two_selected,
    ),
    Command(
        "lay.fill_area", tr("Draw an area to fill from the tray"), tr("Lay out"), laying.fill_area, keys="Ctrl+Shift+F"
    ),
    Command(
        "lay.keep_free", tr("Draw an area to keep free"), tr("Lay out"), laying.keep_area_free, keys="Ctrl+Shift+K"
    ),
    Command(
        "lay.free_again",
        tr("Use the areas kept free again"),
        tr("Lay out"),
        lambda w: laying.use_again(w.workspace),
        when=lambda w: bool(w.workspace.insert.spare),
    ),
    Command(
        "lay.order",
        tr("Put in order what lies here"),
        tr("Lay out"),
        lambda w: w.arranging.begin("order"),
        keys="Ctrl+Shift+O",
        when=lambda w: bool(w.workspace.insert.placements),
    ),
    Command(
        "lay.mirror",
        tr("Mirror the places from left to right"),
        tr("Lay out"),
        lambda w: laying.mirror(w.workspace),
        keys="Ctrl+Shift+M",
        scope="plan",
        when=some_selected,
    ),
    Command(
        "lay.mirror_down",
        tr("Mirror the places from back to front"),
        tr("Lay out"),
        lambda w: laying.mirror(w.workspace, down=True),
        scope="plan",
        when=some_selected,
    ),
    Command("lay.share_out", tr("Share out over all inserts"), tr("Lay out"), lambda w: w.arranging.begin("inserts")),
    Command("lay.stop", tr("Stop arranging, keep the best so far"), tr("Lay out"), lambda w: w.arranging.stop()),
    Command(
        "lay.row",
        tr("Make one row, sorted by size"),
        tr("Lay out"),
        lambda w: laying.make_row(w.workspace),
        keys="R",
        scope="plan",
        when=two_selected,
    ),
    Command(
        "lay.spread_down",
        tr("Spread evenly from back to front"),
        tr("Lay out"),
        lambda w: laying.spread_out(w.workspace, down=True),
        keys="Ctrl+Shift+J",
        scope="plan",
        when=lambda w: len(w.workspace.selection) >= 3,
    ),
    Command(
        "lay.pushing",
        tr("Push neighbours aside, or not"),
        tr("Lay out"),
        lambda w: _screen(w).panel.push_box.toggle(),
        keys="P",
        scope="plan",
    ),
    _nudge("left", tr("Nudge left a little"), "Left", -0.5, 0),
    _nudge("right", tr("Nudge right a little"), "Right", 0.5, 0),
    _nudge("back", tr("Nudge to the back a little"), "Up", 0, -0.5),
    _nudge("front", tr("Nudge to the front a little"), "Down", 0, 0.5),
    _nudge("far_left", tr("Move left by a finger"), "Shift+Left", -10, 0),
    _nudge("far_right", tr("Move right by a finger"), "Shift+Right", 10, 0),
    _nudge("far_back", tr("Move to the back by a finger"), "Shift+Up", 0, -10),
    _nudge("far_front", tr("Move to the front by a finger"), "Shift+Down", 0, 10),
    _turn("turn_1", tr("Turn by 1° clockwise"), ".", 1),
    _turn("turn_back_1", tr("Turn by 1° the other way"), ",", -1),
    _turn("turn_right", tr("Turn by 90° clockwise"), "T", 90),
    Command(
        "lay.swap_ends",
        tr("Swap ends"),
        tr("Lay out"),
        lambda w: laying.swap(w.workspace),
        keys="E",
        scope="plan",
        when=some_selected,
    ),
    Command(
        "lay.lock",
        tr("Lock or free"),
        tr("Lay out"),
        lambda w: laying.lock(w.workspace),
        keys="L",
        scope="plan",
        when=some_selected,
    ),
    Command(
        "lay.take_out",
        tr("Put back into the tray"),
        tr("Lay out"),
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
        tr("Spread evenly from left to right"),
        tr("Lay out"),
        lambda w: laying.spread_out(w.workspace),
        keys="Ctrl+J",
        scope="plan",
        when=lambda w: len(w.workspace.selection) >= 3,
    ),
    Command(
        "lay.select_all",
        tr("Select everything"),
        tr("Lay out"),
        lambda w: w.workspace.select([one.id for one in w.workspace.insert.placements]),
        keys="Ctrl+A",
        scope="plan",
    ),
    Command(
        "lay.next",
        tr("Next item"),
        tr("Lay out"),
        lambda w: laying.step_selection(w.workspace, 1),
        keys="N",
        scope="plan",
    ),
    Command(
        "lay.before",
        tr("Item before"),
        tr("Lay out"),
        lambda w: laying.step_selection(w.workspace, -1),
        keys="B",
        scope="plan",
    ),
    Command(
        "lay.share",
        tr("Let the two selected items share a pocket"),
        tr("Lay out"),
        lambda w: sharing_pockets.share_pocket(w.workspace),
        when=lambda w: len(w.workspace.selection) == 2,
    ),
    Command(
        "lay.under",
        tr("Lay the chosen item of the tray into an under-pocket"),
        tr("Lay out"),
        lambda w: sharing_pockets.lay_under(w.workspace),
        when=chosen,
    ),
)
