"""Opens the live window: alone, over the picture that was shown at once, or to be painted."""

from __future__ import annotations

import contextlib
import gc
import os
import sys
import tempfile
from pathlib import Path
from typing import cast, get_args

from PySide6.QtCore import QBuffer, QThreadPool, QTimer
from PySide6.QtWidgets import QApplication

from cozy_burrow.app.desk import first_sight
from cozy_burrow.app.desk.aside import at_rest
from cozy_burrow.app.desk.collecting import collect_here
from cozy_burrow.app.desk.memory import keep_heap_small
from cozy_burrow.app.desk.settings import LAST_THEME, THEME, TYPE_SCALE, Settings
from cozy_burrow.app.desk.tasks import take_short_turns
from cozy_burrow.app.frame.hint import Hint
from cozy_burrow.app.look.display import choose_platform
from cozy_burrow.app.look.theme.desktop import desktop_theme
from cozy_burrow.app.look.theme.theme import ThemeName, apply_theme, load_fonts, load_theme
from cozy_burrow.app.shell.shot import paint
from cozy_burrow.app.shell.window import Window
from cozy_burrow.app.start import Start
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.model.stages import Stage
from cozy_burrow.core.tongue import tr
from cozy_burrow.demo.shipped import demo_project
from cozy_burrow.storage.project_file import open_file
from cozy_burrow.storage.whole_file import write_whole

_DESKTOP_FILE = "org.cozyburrow.CozyBurrow"
_LOOK_AGAIN_MS, _MOST_LOOKS = 2_000, 5


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
    place = first_sight.place_of(wanted)  # of the bytes as they are before they are read
    app, window = open_window(wanted)
    from cozy_burrow.app.desk.crash import CrashGuard  # after the window: it is not needed to paint it

    guard = CrashGuard(window.settings.state_folder, keep_work=window.autosave.keep, say=window.say)
    guard.install()
    if still is not None:
        window.setGeometry(still.geometry())
    Hint.are_on = True
    window.show()
    if still is not None:
        app.processEvents()
        still.close()
        if still.is_unwanted:
            window.close()
            return 0
    app.styleHints().colorSchemeChanged.connect(lambda: _follow_desktop(wanted, window))
    gc.collect()
    gc.freeze()  # what is there now stays: no collection walks through it again in the middle of a drag
    collect_here(app)
    take_short_turns()
    QTimer.singleShot(_LOOK_AGAIN_MS, lambda: _keep_soon(window, wanted, place, _MOST_LOOKS))
    status = int(app.exec())
    if QThreadPool.globalInstance().activeThreadCount():
        # What is still at work does not hear that it should stop: everything of the fitter's is written by now.
        with contextlib.suppress(OSError):
            sys.stdout.flush()
            sys.stderr.flush()
        os._exit(status)
    return status


def open_window(wanted: Start, *, folder: Path | None = None) -> tuple[QApplication, Window]:
    """Return the application and its window, not shown yet. Raises UnusableInput where the file cannot be opened.

    folder: of settings and state; None: the person's own.
    """
    found = open_file(wanted.file, newer_too=True) if wanted.file is not None and not wanted.demo else None
    project = found.project if found is not None else demo_project() if wanted.demo else Project()
    choose_platform(for_picture=wanted.shot is not None)
    app = QApplication.instance() or QApplication(["cozy-burrow"])
    assert isinstance(app, QApplication)
    app.setApplicationName(tr("Cozy Burrow"))
    if (Path(sys.prefix).parents[1] / "share" / "applications" / f"{_DESKTOP_FILE}.desktop").is_file():
        app.setDesktopFileName(_DESKTOP_FILE)  # where it is installed its windows belong to its entry in the menu
    app.setStyle("Fusion")
    load_fonts()
    settings = Settings(folder)
    theme = _theme(wanted, settings)
    settings.set(LAST_THEME, theme)
    scale = wanted.scale if wanted.scale != 1.0 else min(2.0, max(1.0, settings.get(TYPE_SCALE)))
    apply_theme(app, load_theme(theme), scale=scale)
    window = Window(project, settings, theme=theme, scale=scale, stage=cast("Stage | None", wanted.stage))
    window.resize(*wanted.size)
    if wanted.demo:
        window.stores.show_demo()
    if found is not None and wanted.file is not None:
        window.desk.show_file(wanted.file, found)
    if wanted.file is None and not wanted.demo and wanted.stage is None:
        from cozy_burrow.app.shell.start_page import StartPage

        StartPage(window)
    return app, window


def _theme(wanted: Start, settings: Settings) -> ThemeName:
    """Return what was asked for, else what was chosen once, else what the desktop has; a picture asks no desktop."""
    kept = wanted.theme or settings.text(THEME)
    if kept in get_args(ThemeName):
        return cast(ThemeName, kept)
    return "light" if wanted.shot is not None else desktop_theme()


def _follow_desktop(wanted: Start, window: Window) -> None:
    """The desktop turned light or dark: so does the window, unless somebody chose."""
    if not (wanted.theme or window.settings.text(THEME)):
        window.set_theme(desktop_theme(), chosen=False)


def _keep_soon(window: Window, wanted: Start, place: Path | None, looks: int) -> None:
    """Keep the picture of the window once it stands as it was opened; a few times it is looked whether it does."""
    if not keep_first_sight(window, wanted, place) and looks > 0 and window.isVisible():
        QTimer.singleShot(_LOOK_AGAIN_MS, lambda: _keep_soon(window, wanted, place, looks - 1))


def keep_first_sight(window: Window, wanted: Start, place: Path | None) -> bool:
    """Keep a picture of the window for the next time that this very document is opened; False while it must wait.

    It is taken of the window itself, while everything in it is still as it was opened and nothing is worked out.
    place: where the picture belonged when the document was read; it is another by now if the file has changed.
    """
    window.settings.write()  # the place is read off the file of settings too
    if place is None or place.is_file() or first_sight.place_of(wanted) != place:
        return True
    workspace = window.workspace
    opened = wanted.file.absolute() if wanted.file is not None and not wanted.demo else None
    is_as_opened = (
        not workspace.is_dirty
        and workspace.path == opened
        and workspace.history.index == 0
        and not workspace.selection
        and window.stage == "lay-out"
        and window.theme_name == _theme(wanted, window.settings)
        and window.plan.is_filled
        and not (window.banner.isVisible() or window.notices.isVisible())
        and not any(one.isVisible() for one in window.findChildren(Hint))  # a picture would show it for good
        and (window.width(), window.height()) == wanted.size
    )
    if not is_as_opened:
        return True  # it will not be again
    if not (workspace.is_judged and at_rest(window) and window.plan.is_still):
        return False
    picture = QBuffer()
    window.grab().save(picture, "PNG")
    with contextlib.suppress(UnusableInput, OSError):
        place.parent.mkdir(parents=True, exist_ok=True)
        write_whole(place, bytes(picture.data().data()))
        first_sight.tidy(place.parent)
    return True
