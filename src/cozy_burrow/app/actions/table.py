"""Every command of the window."""

from __future__ import annotations

from typing import TYPE_CHECKING

from cozy_burrow.app.actions import forming, laying
from cozy_burrow.app.actions.registry import Command
from cozy_burrow.app.screens.measure.pages import PAGES, PageName
from cozy_burrow.app.section import line
from cozy_burrow.core.container.starts import STARTS
from cozy_burrow.core.model.stages import ABOUT, STAGES, Stage

if TYPE_CHECKING:
    from cozy_burrow.app.actions.front import Front


def _some(front: Front) -> bool:
    return bool(front.workspace.selection)


def _chosen(front: Front) -> bool:
    return front.workspace.item is not None


def _two(front: Front) -> bool:
    return len(front.workspace.selection) >= 2


def _stage(stage: Stage, number: int) -> Command:
    return Command(
        f"stage.{stage}", f"Go to {ABOUT[stage].title}", "Stages", lambda w: w.show_stage(stage), keys=f"Alt+{number}"
    )


def _nudge(id_: str, text: str, keys: str, dx: float, dy: float) -> Command:
    return Command(
        f"lay.{id_}",
        text,
        "Lay out",
        lambda w: laying.nudge(w.workspace, dx, dy),
        keys=keys,
        scope="plan",
        when=_some,
    )


def _turn(id_: str, text: str, keys: str, by: float) -> Command:
    return Command(
        f"lay.{id_}",
        text,
        "Lay out",
        lambda w: laying.turn(w.workspace, by),
        keys=keys,
        scope="plan",
        when=_some,
    )


def _align(side: str, keys: str) -> Command:
    return Command(
        f"lay.align_{side}",
        f"Align {side}" if side != "middle" else "Align in one row",
        "Lay out",
        lambda w: laying.line_up(w.workspace, side),
        keys=keys,
        scope="plan",
        when=_two,
    )


def _add_start(number: int, start: str) -> Command:
    return Command(f"insert.add_{number}", f"Add {start}", "Inserts", lambda w: w.inserts.add(start))


def _measure(page: PageName) -> Command:
    return Command(f"measure.{page.lower()}", f"Measure: {page.lower()}", "Measure", lambda w: w.show_measure(page))


COMMANDS: tuple[Command, ...] = (
    Command("project.new", "New project", "Project", lambda w: w.desk.new_project(), keys="Ctrl+N"),
    Command("project.open", "Open a project…", "Project", lambda w: w.desk.ask_open(), keys="Ctrl+O"),
    Command("project.save", "Save", "Project", lambda w: w.desk.save(), keys="Ctrl+S"),
    Command("project.save_as", "Save under another name…", "Project", lambda w: w.desk.ask_save(), keys="Ctrl+Shift+S"),
    Command("project.export", "Write templates and papers…", "Project", lambda w: w.desk.ask_export(), keys="Ctrl+E"),
    Command("project.demo", "Open the demo project", "Project", lambda w: w.desk.open_demo()),
    Command("project.quit", "Quit", "Project", lambda w: w.close(), keys="Ctrl+Q"),
    Command("insert.next", "Next insert", "Inserts", lambda w: w.inserts.step(1), keys="Ctrl+PgDown"),
    Command("insert.previous", "Previous insert", "Inserts", lambda w: w.inserts.step(-1), keys="Ctrl+PgUp"),
    *(_add_start(n, start) for n, start in enumerate(STARTS)),
    Command("insert.tier", "Add a tier above this one", "Inserts", lambda w: w.inserts.add_tier()),
    Command("insert.remove", "Take this insert away", "Inserts", lambda w: w.inserts.remove()),
    *(_measure(page) for page in PAGES),
    Command(
        "edit.undo",
        "Undo",
        "Edit",
        lambda w: w.undo(),
        keys="Ctrl+Z",
        when=lambda w: w.undo_label is not None,
    ),
    Command(
        "edit.redo",
        "Redo",
        "Edit",
        lambda w: w.redo(),
        keys="Ctrl+Shift+Z",
        when=lambda w: w.redo_label is not None,
    ),
    Command("edit.units", "Millimetres or inches", "Edit", lambda w: w.flip_units(), keys="Ctrl+U"),
    Command(
        "edit.forget_item",
        "Take the chosen thing out of the kit",
        "Edit",
        lambda w: w.remove_item(),
        keys="Ctrl+Backspace",
        when=lambda w: w.workspace.item is not None,
    ),
    Command("gather.photo", "Gather from a photo", "Gather", lambda w: w.show_way("Photo"), keys="Ctrl+P"),
    Command("gather.paper", "Gather from a scan or a traced sheet", "Gather", lambda w: w.show_way("Paper")),
    Command("gather.mat", "Write the reference mat to print…", "Gather", lambda w: w.write_mat()),
    Command(
        "gather.send",
        "Send what is on the retouch bench to the kit",
        "Gather",
        lambda w: w.retouching.send(),
        keys="Ctrl+Shift+Return",
        when=lambda w: w.retouch.is_open,
    ),
    Command(
        "gather.straighten",
        "Straighten the rim from A to B",
        "Gather",
        lambda w: w.retouch_tools.straighten(),
        keys="Ctrl+Shift+L",
        when=lambda w: w.retouch.is_open,
    ),
    Command(
        "gather.part",
        "Part things that touch at A–B",
        "Gather",
        lambda w: w.retouch_tools.part(),
        keys="Ctrl+Shift+P",
        when=lambda w: w.retouch.is_open,
    ),
    Command(
        "gather.zones",
        "Split zones at A–B",
        "Gather",
        lambda w: w.retouch_tools.split_zones(),
        keys="Ctrl+Shift+D",
        when=lambda w: w.retouch.is_open,
    ),
    *(_stage(stage, number) for number, stage in enumerate(STAGES, start=1)),
    Command("lay.arrange", "Arrange for me", "Lay out", lambda w: w.arranging.begin("all"), keys="Ctrl+Return"),
    Command("lay.improve", "Improve what lies here", "Lay out", lambda w: w.arranging.begin("improve"), keys="Ctrl+I"),
    Command(
        "lay.repack",
        "Re-pack the selection only",
        "Lay out",
        lambda w: w.arranging.begin("selection"),
        keys="Ctrl+R",
        when=_two,
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
        when=_two,
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
        lambda w: w.tray.push_box.toggle(),
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
        when=_some,
    ),
    Command(
        "lay.lock", "Lock or free", "Lay out", lambda w: laying.lock(w.workspace), keys="L", scope="plan", when=_some
    ),
    Command(
        "lay.take_out",
        "Put back into the tray",
        "Lay out",
        lambda w: laying.to_tray(w.workspace),
        keys="Del",
        scope="plan",
        when=_some,
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
        "section.through",
        "Section along the selected thing",
        "Section",
        lambda w: line.section_along(w.workspace, across=False),
        keys="S",
        scope="plan",
        when=_some,
    ),
    Command(
        "section.across",
        "Section across the selected thing",
        "Section",
        lambda w: line.section_along(w.workspace, across=True),
        keys="X",
        scope="plan",
        when=_some,
    ),
    Command(
        "section.back",
        "Section 5 mm to the back",
        "Section",
        lambda w: line.shift_section(w.workspace, -5.0),
        keys="PgUp",
        scope="plan",
    ),
    Command(
        "section.front",
        "Section 5 mm to the front",
        "Section",
        lambda w: line.shift_section(w.workspace, 5.0),
        keys="PgDown",
        scope="plan",
    ),
    Command(
        "section.near",
        "Section of the chosen thing only, or of all",
        "Section",
        lambda w: w.section.look_near(not w.section.is_near),
        keys="Z",
    ),
    Command(
        "section.turn",
        "Rotate the section by 15°",
        "Section",
        lambda w: line.turn_section(w.workspace, 15.0),
        keys="Y",
        when=_some,
    ),
    Command(
        "section.turn_back",
        "Rotate the section back by 15°",
        "Section",
        lambda w: line.turn_section(w.workspace, -15.0),
        keys="Shift+Y",
        when=_some,
    ),
    Command(
        "gather.stack",
        "Stack all copies of the chosen thing in one pocket",
        "Gather",
        lambda w: forming.stack_copies(w.workspace),
        when=_chosen,
    ),
    Command(
        "gather.upright",
        "Stand the chosen thing upright in a slit",
        "Gather",
        lambda w: forming.stand_upright(w.workspace),
        when=_chosen,
    ),
    Command(
        "gather.cable",
        "Give the chosen thing a nest for its cable",
        "Gather",
        lambda w: forming.give_cable(w.workspace),
        when=_chosen,
    ),
    Command(
        "lay.share",
        "Let the two selected things share a pocket",
        "Lay out",
        lambda w: forming.share_pocket(w.workspace),
        when=lambda w: len(w.workspace.selection) == 2,
    ),
    Command(
        "lay.under",
        "Lay the chosen thing of the tray into an under-pocket",
        "Lay out",
        lambda w: forming.lay_under(w.workspace),
        when=_chosen,
    ),
    Command("sink.lid", "Close or raise the lid", "Sink", lambda w: w.close_lid(), keys="K"),
    Command("sink.peel", "Layer by layer", "Sink", lambda w: w.show_peel(), keys="Ctrl+Shift+V"),
    Command("sink.advise", "Seat what lies askew as advised", "Sink", lambda w: w.sink.advise_all(), keys="Ctrl+D"),
    Command("care.next", "Next check", "Checks", lambda w: w.next_finding(), keys="F8"),
    Command("care.mend", "Fix the chosen check", "Checks", lambda w: w.care.mend_current(), keys="Shift+F8"),
    Command("view.fit", "Show the whole insert", "View", lambda w: w.fit(), keys="Ctrl+0"),
    Command("view.nearer", "Zoom in", "View", lambda w: w.zoom(1.25), keys="Ctrl++"),
    Command("view.farther", "Zoom out", "View", lambda w: w.zoom(0.8), keys="Ctrl+-"),
    Command("view.theme", "Light or dark", "View", lambda w: w.flip_theme(), keys="Ctrl+L"),
    Command("view.larger", "Larger type, up to twice", "View", lambda w: w.step_type_scale(), keys="Ctrl+Shift+="),
    Command("help.commands", "Find a command", "Help", lambda w: w.commands.open(), keys="Ctrl+Space"),
    Command("help.page", "How this works, and all keys", "Help", lambda w: w.show_help(), keys="F1"),
)
