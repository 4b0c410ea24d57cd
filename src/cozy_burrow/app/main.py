"""Starts the window, or paints it once into a picture."""

from __future__ import annotations

import contextlib
import gc
import os
import sys
import tempfile
from pathlib import Path
from typing import cast, get_args

import msgspec
from PySide6.QtCore import QThreadPool
from PySide6.QtWidgets import QApplication

from cozy_burrow.app.collecting import collect_here
from cozy_burrow.app.memory import keep_heap_small
from cozy_burrow.app.settings import THEME, TYPE_SCALE, Settings
from cozy_burrow.app.shot import paint
from cozy_burrow.app.theme.theme import ThemeName, apply_theme, load_fonts, load_theme
from cozy_burrow.app.window import Window
from cozy_burrow.core.findings.stages import Stage
from cozy_burrow.core.model.records import Project
from cozy_burrow.demo.shipped import demo_project
from cozy_burrow.storage.project_file import open_file


class Start(msgspec.Struct, frozen=True):
    """How the window was asked for."""

    file: Path | None = None
    demo: bool = False
    shot: Path | None = None
    stage: str | None = None
    size: tuple[int, int] = (1280, 800)
    theme: str | None = None
    scale: float = 1.0


def start(wanted: Start) -> int:
    """Show the window and return the exit status. Raises UnusableInput before anything is shown."""
    keep_heap_small()
    gc.disable()  # nothing is freed while the window is built; it is on again once it is shown
    app, window = open_window(wanted)
    if wanted.shot is not None:
        paint(window, app, wanted.shot)
        return 0
    from cozy_burrow.app.crash import CrashGuard  # after the window: it is not needed to paint it

    guard = CrashGuard(window.settings.state_folder, keep_work=window.autosave.keep, say=window.say)
    guard.install()
    window.show()
    gc.collect()
    gc.freeze()  # what is there now stays: no collection walks through it again in the middle of a drag
    collect_here(app)
    status = int(app.exec())
    if QThreadPool.globalInstance().activeThreadCount():
        # What is still at work does not hear that it should stop: everything of the fitter's is written by now.
        with contextlib.suppress(OSError):
            sys.stdout.flush()
            sys.stderr.flush()
        os._exit(status)
    return status


def open_window(wanted: Start) -> tuple[QApplication, Window]:
    """Return the application and its window, not shown yet. Raises UnusableInput where the file cannot be opened."""
    found = open_file(wanted.file) if wanted.file is not None and not wanted.demo else None
    project = found.project if found is not None else demo_project() if wanted.demo else Project()
    _choose_platform(for_picture=wanted.shot is not None)
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
    window = Window(project, settings, theme=theme, scale=scale, stage=cast("Stage | None", wanted.stage))
    window.resize(*wanted.size)
    if wanted.demo:
        window.stores.show_demo()
    if found is not None and wanted.file is not None:
        window.desk.show_file(wanted.file, found)
    return app, window


def _choose_platform(*, for_picture: bool) -> None:
    """Paint off screen where there is no display, and say so."""
    if for_picture:
        os.environ["QT_QPA_PLATFORM"] = "offscreen"
    elif not any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")):
        os.environ["QT_QPA_PLATFORM"] = "offscreen"
        print("cozy-burrow: there is no display here, so the window is painted off screen", file=sys.stderr)
