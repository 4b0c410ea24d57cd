"""Try to lose work in every way that once lost it without a word, and say what is kept.

Real windows, off screen, in a folder of their own; questions are answered as a hurried person would.
"""

from __future__ import annotations

import os
import sys
import tempfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any
from unittest.mock import patch

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from msgspec.structs import replace
from PySide6.QtCore import QThreadPool
from PySide6.QtWidgets import QApplication, QFileDialog, QMessageBox
from shapely.geometry import box

from cozy_burrow.app.desk import ask
from cozy_burrow.app.desk.settings import Settings
from cozy_burrow.app.look.theme.theme import apply_theme, load_fonts, load_theme
from cozy_burrow.app.screens.gather.screen import GatherScreen
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.capture.retouch.draft import Table, plain_draft, with_thickness
from cozy_burrow.core.geometry.rings import outline_of
from cozy_burrow.core.model.records import Project
from cozy_burrow.demo.shipped import demo_project
from cozy_burrow.jobs.capture import Backdrop, Capture, Recipe
from cozy_burrow.storage.project_file import load, save, to_bytes
from cozy_burrow.storage.recovery import RecoveryStore
from cozy_burrow.storage.whole_file import write_whole


def bench_capture() -> Capture:
    """Return a picture with one outline for the retouch bench; it needs no photo."""
    draft = plain_draft(outline_of(box(0, 0, 40, 20)), name="plate", way="scan", source="a", sure_mm=0.1)
    pixels = np.full((60, 120, 3), 240, dtype=np.uint8)
    recipe = Recipe(way="scan", source="a.png", dpi=300.0)
    return Capture(Table(drafts=(draft,)), Backdrop(pixels, (0.0, 0.0), 0.5), None, "a scan", recipe, b"none")


class Trial:
    """One folder, its windows, and the answers to their questions."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.path = folder / "kit.burrow"
        self.asked: list[str] = []
        self.windows: list[Window] = []

    def window(self, project: Project | None = None) -> Window:
        """Open a window."""
        window = Window(project or Project(), Settings(self.folder / "state"), theme="light", scale=1.0)
        window.show()
        self.windows.append(window)
        return window

    @contextmanager
    def answering(self, *answers: str) -> Iterator[None]:
        """Answer the questions to come in this order, then with what changes nothing."""
        left = list(answers)

        def which(_: object, __: str, text: str, choices: tuple[str, ...]) -> int:
            self.asked.append(text.splitlines()[0])
            return choices.index(left.pop(0)) if left else len(choices) - 1

        with (
            patch.object(ask, "which", which),
            patch.object(QMessageBox, "warning", lambda _, __, text: self.asked.append(text)),
        ):
            yield

    def close(self) -> None:
        """Close every window without a question."""
        for window in self.windows:
            window.workspace.saved = window.workspace.project
            window.retouch.close()
            window.close()
            window.deleteLater()


def titled(title: str) -> Project:
    """Return the demo under another title."""
    return replace(demo_project(), title=title)


def rename(window: Window, title: str) -> None:
    """Make an edit."""
    window.workspace.do("Rename", replace(window.workspace.project, title=title))


def not_to_be_opened(trial: Trial) -> bool:
    """1  A project that a bug broke is saved over a good one."""
    save(titled("good"), trial.path)
    window = trial.window()
    window.desk.open_path(trial.path)
    insert = window.workspace.insert
    broken = replace(
        window.workspace.project, inserts=(replace(insert, placements=insert.placements + insert.placements[:1]),)
    )
    history = window.workspace.history
    steps = (*history.steps, replace(history.steps[0], project=broken))
    window.workspace.history = replace(history, steps=steps, index=1)
    with trial.answering():
        window.desk.save()
    return load(trial.path).title == "good" and load(window.autosave.store.copy_path).title == "good"


def restored_over(trial: Trial) -> bool:
    """2  A recovery copy is restored over an hour of new work."""
    store = RecoveryStore(trial.folder / "state")
    store.keep(titled("yesterday"), None)
    os.close(store._lock)
    window = trial.window(titled("x"))
    rename(window, "an hour of work")
    window.banner.bring.click()
    restored = window.workspace.project.title
    window.undo()
    return (restored, window.workspace.project.title) == ("yesterday", "an hour of work")


def suffix(trial: Trial) -> bool:
    """3  Saved as `kit` and as `kit v1.5`, where kit.burrow and kit v1.burrow lie."""
    save(titled("old"), trial.path)
    save(titled("old"), trial.folder / "kit v1.burrow")
    window = trial.window(titled("new"))
    for name in ("kit", "kit v1.5"):
        with (
            patch.object(QFileDialog, "getSaveFileName", return_value=(str(trial.folder / name), "")),
            trial.answering("Cancel"),
        ):
            window.desk.ask_save()
    return load(trial.path).title == load(trial.folder / "kit v1.burrow").title == "old"


def two_windows(trial: Trial) -> bool:
    """4  Two windows save one project, and another program changes the file."""
    save(titled("first"), trial.path)
    one, other = trial.window(), trial.window()
    one.desk.open_path(trial.path)
    other.desk.open_path(trial.path)
    told = "another window" in other.notices.text
    rename(one, "one")
    one.desk.save()
    rename(other, "other")
    with trial.answering("Keep mine"):
        other.desk.save()
    kept = load(trial.path).title == "other" and load(trial.folder / "kit.burrow~").title == "one"
    write_whole(trial.path, to_bytes(titled("a program")))
    rename(other, "later")
    with trial.answering("Save beside"):
        other.desk.save()
    beside = load(trial.path).title == "a program" and load(trial.folder / "kit-2.burrow").title == "later"
    return told and kept and beside


def bench_work(trial: Trial) -> bool:
    """5  Outlines mended on the retouch bench: closing, another photo, another project, a kill."""
    window = trial.window(titled("x"))
    window.retouch.open(bench_capture())
    window.retouch.do_draft("Mend", lambda one: with_thickness(one, None, thickness_mm=14.0))
    with trial.answering():
        window.close()
        window.desk.open_demo()
        GatherScreen.of(window).add.pictures.take_demo_photo()
        window.retouching.close()
    asked = len(trial.asked) == 4 and window.retouch.has_work
    window.autosave.keep()
    left = window.autosave.store.bring_back(window.autosave.store.copy_path)
    return asked and b"14.0" in left.bench


def stores_links_modes(trial: Trial) -> bool:
    """6  Two windows on one price list; a link; a private file; a relative path; a copy discarded."""
    one, other = trial.window(), trial.window()
    boards = one.stores.stores.boards
    one.stores.take(replace(one.stores.stores, boards=(replace(boards[0], price=11.0), *boards[1:])))
    other.stores.take(replace(other.stores.stores, boards=(boards[0], replace(boards[1], price=22.0), *boards[2:])))
    prices = [board.price for board in other.stores.stores.boards[:2]] == [11.0, 22.0]
    real, link = trial.folder / "real.burrow", trial.folder / "link.burrow"
    save(titled("x"), real)
    real.chmod(0o600)
    link.symlink_to(real)
    save(titled("y"), link)
    linked = link.is_symlink() and load(real).title == "y" and real.stat().st_mode & 0o777 == 0o600
    os.chdir(trial.folder)
    one.desk.save_to(Path("here.burrow"))
    store = RecoveryStore(trial.folder / "state")
    store.keep(titled("left"), Path("here.burrow"))
    absolute = store.bring_back(store.copy_path).original == Path.cwd() / "here.burrow"
    os.close(store._lock)
    third = trial.window()
    with trial.answering("Keep it"):
        third.banner.drop.click()
    os.chdir("/")
    return prices and linked and absolute and store.copy_path.exists()


def spoilt_folders(trial: Trial) -> bool:
    """7  A file where the state folder should be, pipes among the files."""
    (trial.folder / "state").mkdir()
    (trial.folder / "state" / "recovery").write_text("in the way")
    for name in ("stores.json", "settings.ini"):
        os.mkfifo(trial.folder / "state" / name)
    window = trial.window(titled("x"))
    rename(window, "y")
    window.autosave.keep()
    return (
        "Recovery is off" in window.notices.text and window.desk.save_to(trial.path) and load(trial.path).title == "y"
    )


TRIALS: tuple[Callable[[Trial], bool], ...] = (
    not_to_be_opened,
    restored_over,
    suffix,
    two_windows,
    bench_work,
    stores_links_modes,
    spoilt_folders,
)


def main() -> int:
    """Run every trial and say what is kept."""
    app: Any = QApplication.instance() or QApplication(["lose"])
    load_fonts()
    apply_theme(app, load_theme("light"), scale=1.0)
    bad = 0
    for run in TRIALS:
        with tempfile.TemporaryDirectory() as name:
            trial = Trial(Path(name))
            kept = run(trial)
            trial.close()
            QThreadPool.globalInstance().waitForDone(10_000)
            app.processEvents()
        bad += not kept
        print(f"{'kept' if kept else 'LOST'}   {run.__doc__}")
        for text in trial.asked:
            print(f"           asked: {text}")
    return 1 if bad else 0


if __name__ == "__main__":
    sys.exit(main())
