"""Starts the window, or paints it once into a picture."""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path
from typing import cast, get_args

import msgspec

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.findings.stages import Stage
from cozy_burrow.core.model.records import Project
from cozy_burrow.demo.build import demo_project
from cozy_burrow.storage.project_file import load


class Start(msgspec.Struct, frozen=True):
    """How the window was asked for."""

    file: Path | None
    demo: bool
    shot: Path | None
    stage: str | None
    size: tuple[int, int]
    theme: str | None
    scale: float


def start(wanted: Start) -> int:
    """Show the window and return the exit status. Raises UnusableInput before anything is shown."""
    project = demo_project() if wanted.demo else load(wanted.file) if wanted.file is not None else Project()
    if not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY") or os.environ.get("QT_QPA_PLATFORM")):
        os.environ["QT_QPA_PLATFORM"] = "offscreen"
        if wanted.shot is None:
            print("cozy-burrow: there is no display here, so the window is painted off screen", file=sys.stderr)
    if wanted.shot is not None:
        os.environ["QT_QPA_PLATFORM"] = "offscreen"
    return _show(wanted, project)


def _show(wanted: Start, project: Project) -> int:
    from PySide6.QtWidgets import QApplication

    from cozy_burrow.app.crash import CrashGuard
    from cozy_burrow.app.settings import THEME, TYPE_SCALE, Settings
    from cozy_burrow.app.theme.theme import ThemeName, apply_theme, load_fonts, load_theme
    from cozy_burrow.app.window import Window

    app = QApplication.instance() or QApplication(["cozy-burrow"])
    assert isinstance(app, QApplication)
    app.setApplicationName("Cozy Burrow")
    app.setStyle("Fusion")
    load_fonts()
    # A picture must not depend on who takes it: it reads and writes settings of its own.
    folder = Path(tempfile.mkdtemp(prefix="cozy-burrow-")) if wanted.shot is not None else None
    settings = Settings(folder)
    kept = wanted.theme or settings.get(THEME)
    theme = cast(ThemeName, kept if kept in get_args(ThemeName) else "light")
    scale = wanted.scale if wanted.scale != 1.0 else min(2.0, max(1.0, settings.get(TYPE_SCALE)))
    apply_theme(app, load_theme(theme), scale=scale)
    window = Window(project, settings, theme=theme, scale=scale)
    window.resize(*wanted.size)
    window.workspace.path = wanted.file
    if wanted.file is not None:
        settings.add_recent(wanted.file)
    if wanted.stage is not None:
        window.show_stage(cast(Stage, wanted.stage))
    if wanted.shot is not None:
        return _paint(window, app, wanted.shot)
    guard = CrashGuard(settings.state_folder, keep_work=window.autosave.keep, say=window.say)
    guard.install()
    window.show()
    return int(app.exec())


def _paint(window: object, app: object, shot: Path) -> int:
    """Show the window without a display, save its picture and leave."""
    from PySide6.QtWidgets import QApplication

    from cozy_burrow.app.window import Window

    assert isinstance(window, Window) and isinstance(app, QApplication)
    window.show()
    _pick_for_picture(window)
    for _ in range(4):  # layouts settle, then the scene fits itself
        app.processEvents()
    if window.stage != "gather":
        window.plan.fit()
    app.processEvents()
    shot.parent.mkdir(parents=True, exist_ok=True)
    done = window.grab().save(str(shot), "PNG")
    window.workspace.saved = window.workspace.project
    window.close()
    if not done:
        raise UnusableInput("the picture cannot be written", where=str(shot), remedy="choose another folder")
    return 0


def _pick_for_picture(window: object) -> None:
    """Select a thing that shows what the stage is for: the one with the most zones."""
    from cozy_burrow.app.window import Window

    assert isinstance(window, Window)
    workspace = window.workspace
    if not workspace.insert.placements:
        if workspace.project.items:
            workspace.choose_item(workspace.project.items[0].id)
        return
    pockets = workspace.ground.pockets
    richest = max(pockets, key=lambda key: (len(pockets[key].item.zones), pockets[key].item.thickness_mm))
    if window.stage != "cut":
        workspace.select((richest,))
