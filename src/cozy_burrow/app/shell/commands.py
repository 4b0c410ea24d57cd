"""Every command of the window: its own, and those that the stages' folders name."""

from __future__ import annotations

from importlib import import_module
from importlib.util import find_spec

from cozy_burrow.app.frame.command import Command
from cozy_burrow.app.frame.front import some_selected
from cozy_burrow.app.frame.screen import folder_of
from cozy_burrow.app.section import line
from cozy_burrow.core.container.starts import STARTS
from cozy_burrow.core.model.stages import ABOUT, STAGES, Stage


def _stage(stage: Stage, number: int) -> Command:
    return Command(
        f"stage.{stage}", f"Go to {ABOUT[stage].title}", "Stages", lambda w: w.show_stage(stage), keys=f"Alt+{number}"
    )


def _add_start(number: int, start: str) -> Command:
    return Command(f"insert.add_{number}", f"Add {start}", "Inserts", lambda w: w.inserts.add(start))


def _of(stage: Stage) -> tuple[Command, ...]:
    """Return the commands that a stage's folder names, if it names any."""
    name = f"{folder_of(stage)}.commands"
    found: tuple[Command, ...] = import_module(name).COMMANDS if find_spec(name) is not None else ()
    return found


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
    *(_stage(stage, number) for number, stage in enumerate(STAGES, start=1)),
    Command(
        "section.through",
        "Section along the selected thing",
        "Section",
        lambda w: line.section_along(w.workspace, across=False),
        keys="S",
        scope="plan",
        when=some_selected,
    ),
    Command(
        "section.across",
        "Section across the selected thing",
        "Section",
        lambda w: line.section_along(w.workspace, across=True),
        keys="X",
        scope="plan",
        when=some_selected,
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
        when=some_selected,
    ),
    Command(
        "section.turn_back",
        "Rotate the section back by 15°",
        "Section",
        lambda w: line.turn_section(w.workspace, -15.0),
        keys="Shift+Y",
        when=some_selected,
    ),
    *(command for stage in STAGES for command in _of(stage)),
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
