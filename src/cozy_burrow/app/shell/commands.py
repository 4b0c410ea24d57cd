"""Every command of the window: its own, and those that the stages' folders name."""

from __future__ import annotations

from importlib import import_module
from importlib.util import find_spec

from cozy_burrow.app.desk.settings import THEME
from cozy_burrow.app.frame.command import Command
from cozy_burrow.app.frame.front import Front, some_selected
from cozy_burrow.app.frame.screen import folder_of
from cozy_burrow.app.look.theme.desktop import desktop_theme
from cozy_burrow.app.section import line
from cozy_burrow.app.shell import clipboard, giving
from cozy_burrow.app.shell.next_start import step_language, step_type_scale
from cozy_burrow.core.container.starts import STARTS
from cozy_burrow.core.model.stages import ABOUT, STAGES, Stage
from cozy_burrow.core.tongue import tr


def _stage(stage: Stage, number: int) -> Command:
    return Command(
        f"stage.{stage}",
        tr("Go to {title}", title=ABOUT[stage].title),
        tr("Stages"),
        lambda w: w.show_stage(stage),
        keys=f"Alt+{number}",
    )


def _add_start(number: int, start: str) -> Command:
    return Command(
        f"insert.add_{number}",
        tr("Add {start}", start=tr(start)),
        tr("Inserts"),
        lambda w: w.inserts.add(start),
    )


def _flip_contrast(front: Front) -> None:
    front.set_theme("light" if front.theme_name == "contrast" else "contrast")


def _show_kept(front: Front) -> None:
    from cozy_burrow.app.shell.kept_card import KeptCard

    giving.show_card(front, lambda parent: KeptCard(front.settings, parent))


def _as_desktop(front: Front) -> None:
    front.settings.set(THEME, "")
    front.set_theme(desktop_theme(), chosen=False)


def _of(stage: Stage) -> tuple[Command, ...]:
    """Return the commands that a stage's folder names, if it names any."""
    name = f"{folder_of(stage)}.commands"
    found: tuple[Command, ...] = import_module(name).COMMANDS if find_spec(name) is not None else ()
    return found


COMMANDS: tuple[Command, ...] = (
    Command("project.new", tr("New project"), tr("Project"), lambda w: w.desk.new_project(), keys="Ctrl+N"),
    Command("project.open", tr("Open a project…"), tr("Project"), lambda w: w.desk.ask_open(), keys="Ctrl+O"),
    Command("project.save", tr("Save"), tr("Project"), lambda w: w.desk.save(), keys="Ctrl+S"),
    Command(
        "project.save_as",
        tr("Save under another name…"),
        tr("Project"),
        lambda w: w.desk.ask_save(),
        keys="Ctrl+Shift+S",
    ),
    Command(
        "project.export", tr("Write templates and papers…"), tr("Project"), lambda w: w.desk.ask_export(), keys="Ctrl+E"
    ),
    Command(
        "project.copy", tr("Copy items"), tr("Project"), clipboard.copy_items, keys="Ctrl+C", when=clipboard.may_copy
    ),
    Command("project.paste", tr("Paste items, a picture or files"), tr("Project"), clipboard.paste, keys="Ctrl+V"),
    Command("project.print", tr("Print papers…"), tr("Project"), giving.open_print_card, keys="Ctrl+Shift+E"),
    Command("project.pictures", tr("Write pictures of all inserts…"), tr("Project"), lambda w: w.desk.ask_pictures()),
    Command(
        "project.copy_picture",
        tr("Copy a picture of this insert"),
        tr("Project"),
        giving.copy_picture,
        keys="Ctrl+Shift+C",
    ),
    Command("project.demo", tr("Open the demo project"), tr("Project"), lambda w: w.desk.open_demo()),
    Command(
        "project.practice",
        tr("Open the practice piece: half an hour with a scrap of foam"),
        tr("Project"),
        lambda w: w.desk.open_practice(),
    ),
    Command("project.quit", tr("Quit"), tr("Project"), lambda w: w.close(), keys="Ctrl+Q"),
    Command("insert.next", tr("Next insert"), tr("Inserts"), lambda w: w.inserts.step(1), keys="Ctrl+PgDown"),
    Command("insert.previous", tr("Previous insert"), tr("Inserts"), lambda w: w.inserts.step(-1), keys="Ctrl+PgUp"),
    *(_add_start(n, start) for n, start in enumerate(STARTS)),
    Command("insert.tier", tr("Add a tier above this one"), tr("Inserts"), lambda w: w.inserts.add_tier()),
    Command("insert.remove", tr("Take this insert away"), tr("Inserts"), lambda w: w.inserts.remove()),
    Command(
        "edit.undo",
        tr("Undo"),
        tr("Edit"),
        lambda w: w.undo(),
        keys="Ctrl+Z",
        when=lambda w: w.undo_label is not None,
    ),
    Command(
        "edit.redo",
        tr("Redo"),
        tr("Edit"),
        lambda w: w.redo(),
        keys="Ctrl+Shift+Z",
        when=lambda w: w.redo_label is not None,
    ),
    Command("edit.units", tr("Millimetres or inches"), tr("Edit"), lambda w: w.flip_units(), keys="Ctrl+U"),
    *(_stage(stage, number) for number, stage in enumerate(STAGES, start=1)),
    Command(
        "section.through",
        tr("Section along the selected item"),
        tr("Section"),
        lambda w: line.section_along(w.workspace, across=False),
        keys="S",
        scope="plan",
        when=some_selected,
    ),
    Command(
        "section.across",
        tr("Section across the selected item"),
        tr("Section"),
        lambda w: line.section_along(w.workspace, across=True),
        keys="X",
        scope="plan",
        when=some_selected,
    ),
    Command(
        "section.back",
        tr("Section 5 mm to the back"),
        tr("Section"),
        lambda w: line.shift_section(w.workspace, -5.0),
        keys="PgUp",
        scope="plan",
    ),
    Command(
        "section.front",
        tr("Section 5 mm to the front"),
        tr("Section"),
        lambda w: line.shift_section(w.workspace, 5.0),
        keys="PgDown",
        scope="plan",
    ),
    Command(
        "section.near",
        tr("Section of the chosen item only, or of all"),
        tr("Section"),
        lambda w: w.section.look_near(not w.section.is_near),
        keys="Z",
    ),
    Command(
        "section.turn",
        tr("Rotate the section by 15°"),
        tr("Section"),
        lambda w: line.turn_section(w.workspace, 15.0),
        keys="Y",
        when=some_selected,
    ),
    Command(
        "section.turn_back",
        tr("Rotate the section back by 15°"),
        tr("Section"),
        lambda w: line.turn_section(w.workspace, -15.0),
        keys="Shift+Y",
        when=some_selected,
    ),
    *(command for stage in STAGES for command in _of(stage)),
    Command("care.next", tr("Next check"), tr("Checks"), lambda w: w.next_finding(), keys="F8"),
    Command("care.mend", tr("Fix the chosen check"), tr("Checks"), lambda w: w.checks.mend_current(), keys="Shift+F8"),
    Command("view.fit", tr("Show the whole insert"), tr("View"), lambda w: w.fit(), keys="Ctrl+0"),
    Command("view.nearer", tr("Zoom in"), tr("View"), lambda w: w.zoom(1.25), keys="Ctrl++"),
    Command("view.farther", tr("Zoom out"), tr("View"), lambda w: w.zoom(0.8), keys="Ctrl+-"),
    Command(
        "view.look",
        tr("Plan as a picture, or as a drawing"),
        tr("View"),
        lambda w: w.plan.look_lit(not w.plan.is_lit),
        keys="D",
        scope="plan",
    ),
    Command(
        "view.filled",
        tr("Plan with its items, or the empty places"),
        tr("View"),
        lambda w: w.plan.look_filled(not w.plan.is_filled),
        keys="W",
        scope="plan",
    ),
    Command(
        "view.names",
        tr("Names on the plan, or none"),
        tr("View"),
        lambda w: w.plan.look_named(not w.plan.is_named),
        keys="M",
        scope="plan",
    ),
    Command("view.theme", tr("Light or dark"), tr("View"), lambda w: w.flip_theme(), keys="Ctrl+L"),
    Command("view.desktop_theme", tr("Light or dark as the desktop is"), tr("View"), _as_desktop),
    Command("view.contrast", tr("High contrast, or not"), tr("View"), _flip_contrast),
    Command("view.language", tr("Another language of the window"), tr("View"), step_language),
    Command("view.larger", tr("Larger type, up to twice"), tr("View"), step_type_scale, keys="Ctrl+Shift+="),
    Command("help.commands", tr("Find a command"), tr("Help"), lambda w: w.commands.open(), keys="Ctrl+Space"),
    Command("help.kept", tr("What is kept on this computer…"), tr("Help"), _show_kept),
    Command("help.page", tr("How this works, and all keys"), tr("Help"), lambda w: w.show_help(), keys="F1"),
)
