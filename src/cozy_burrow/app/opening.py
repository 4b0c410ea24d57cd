"""Opens the live window: alone, over the picture that was shown at once, or to be painted."""

from __future__ import annotations

import contextlib
import gc
import os
import sys
import tempfile
from pathlib import Path
from typing import cast, get_args

from msgspec.structs import replace
from PySide6.QtCore import Qt, QThreadPool
from PySide6.QtWidgets import QApplication

from cozy_burrow.app.desk import first_sight
from cozy_burrow.app.desk.collecting import collect_here
from cozy_burrow.app.desk.memory import keep_heap_small
from cozy_burrow.app.desk.settings import PLAN_LOOK, PLAN_NAMES, THEME, TYPE_SCALE, Settings
from cozy_burrow.app.desk.tasks import take_short_turns
from cozy_burrow.app.look.display import choose_platform
from cozy_burrow.app.look.theme.theme import ThemeName, apply_theme, load_fonts, load_theme
from cozy_burrow.app.shell.shot import paint, painted
from cozy_burrow.app.shell.window import Window
from cozy_burrow.app.start import Start
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.model.stages import Stage
from cozy_burrow.core.tongue import tr
from cozy_burrow.demo.shipped import demo_project
from cozy_burrow.storage.project_file import open_file
from cozy_burrow.storage.whole_file import write_whole


def take_picture(wanted: Start, shot: Path) -> int:
    """Paint the window into a picture. Raises UnusableInput where it cannot be opened or written."""
    keep_heap_small()
    gc.disable()
    # A picture must not depend on who takes it: it reads and writes settings of its own.
    with tempfile.TemporaryDirectory(prefix="cozy-burrow-", ignore_cleanup_errors=True) as name:
        app, window = open_window(wanted, folder=Path(name))
        paint(window, app, shot)
        QThreadPool.globalInstance().waitForDone()
    return 0


def run(wanted: Start, still: first_sight.Still | None) -> int:
    """Show the window where its picture was, and return the exit status. Raises UnusableInput as open_window does."""
    keep_heap_small()
    gc.disable()  # nothing is freed while the window is built; it is on again once it is shown
    app, window = open_window(wanted)
    from cozy_burrow.app.desk.crash import CrashGuard  # after the window: it is not needed to paint it

    guard = CrashGuard(window.settings.state_folder, keep_work=window.autosave.keep, say=window.say)
    guard.install()
    if still is not None:
        window.setGeometry(still.geometry())
    window.show()
    if still is not None:
        app.processEvents()
        still.close()
        if still.is_unwanted:
            window.close()
            return 0
    gc.collect()
    gc.freeze()  # what is there now stays: no collection walks through it again in the middle of a drag
    collect_here(app)
    take_short_turns()
    status = int(app.exec())
    if QThreadPool.globalInstance().activeThreadCount():
        # What is still at work does not hear that it should stop: everything of the fitter's is written by now.
        with contextlib.suppress(OSError):
            sys.stdout.flush()
            sys.stderr.flush()
        os._exit(status)
    keep_first_sight(window, wanted)
    return status


def open_window(wanted: Start, *, folder: Path | None = None) -> tuple[QApplication, Window]:
    """Return the application and its window, not shown yet. Raises UnusableInput where the file cannot be opened.

    folder: of settings and state; None: the person's own.
    """
    found = open_file(wanted.file) if wanted.file is not None and not wanted.demo else None
    project = found.project if found is not None else demo_project() if wanted.demo else Project()
    choose_platform(for_picture=wanted.shot is not None)
    app = QApplication.instance() or QApplication(["cozy-burrow"])
    assert isinstance(app, QApplication)
    app.setApplicationName(tr("Cozy Burrow"))
    app.setStyle("Fusion")
    load_fonts()
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


def keep_first_sight(window: Window, wanted: Start) -> None:
    """Keep a picture of the window as it will open next with the document that it leaves, if that one is saved.

    What nobody has judged yet is not judged for this.
    """
    workspace = window.workspace
    is_demo = workspace.path is None and workspace.project == demo_project()
    if workspace.is_dirty or not workspace.is_judged or not (is_demo or workspace.path):
        return
    window.settings.write()  # theme and size of type may have been changed in this window
    next_time = replace(wanted, file=workspace.path, demo=is_demo)
    place = first_sight.place_of(next_time)
    if place is None or place.is_file():
        return
    with contextlib.suppress(UnusableInput, OSError):
        place.parent.mkdir(parents=True, exist_ok=True)
        write_whole(place, opening_picture(next_time, window.settings))
        first_sight.tidy(place.parent)


def opening_picture(wanted: Start, settings: Settings) -> bytes:
    """Return the window as it opens, as PNG, painted where nobody sees it. Raises UnusableInput as open_window does."""
    with tempfile.TemporaryDirectory(prefix="cozy-burrow-", ignore_cleanup_errors=True) as name:
        own = Settings(Path(name))
        for setting in (THEME, TYPE_SCALE, PLAN_LOOK, PLAN_NAMES):
            own.set(setting, settings.get(setting))
        app, window = open_window(wanted, folder=Path(name))
        window.setAttribute(Qt.WidgetAttribute.WA_DontShowOnScreen)
        return painted(window, app)
