"""How long the window is deaf: for everyday actions on the demo, against one full repaint taken in the same run.

Each action is done three times on a window with all pages made; the median counts. A repaint of the whole window at
1280 x 800 is the yardstick, since machines differ and are busy.
"""

from __future__ import annotations

import argparse
import os
import statistics
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from msgspec.structs import replace
from PySide6.QtCore import QThreadPool
from PySide6.QtWidgets import QApplication

from cozy_burrow.app.desk.collecting import collect_here
from cozy_burrow.app.desk.settings import Settings
from cozy_burrow.app.desk.tasks import take_short_turns
from cozy_burrow.app.look.theme.theme import apply_theme, load_fonts, load_theme
from cozy_burrow.app.screens.gather.screen import GatherScreen
from cozy_burrow.app.screens.measure.pages import PAGES
from cozy_burrow.app.screens.measure.screen import MeasureScreen
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.findings.stages import STAGES
from cozy_burrow.core.model.memo import forget_all
from cozy_burrow.core.model.records import Project

TIMES = 3


def deaf_ms(
    app: QApplication, window: Window, action: Callable[[], object], over: Callable[[], bool] = lambda: True
) -> float:
    """Return the longest stretch that the event loop had no turn, from the action until it is over and all judged."""
    longest, before = 0.0, time.perf_counter()
    action()
    while True:
        app.processEvents()
        now = time.perf_counter()
        longest, before = max(longest, now - before), now
        if over() and window.workspace.is_judged:
            return longest * 1e3


def beside_a_search(app: QApplication, window: Window, action: Callable[[], object]) -> tuple[float, float]:
    """Return how long the window is deaf with Python's own turns and with short ones, while a thread computes."""
    over = threading.Event()

    def compute() -> None:
        while not over.is_set():
            sum(number * number for number in range(1000))

    usual, found = sys.getswitchinterval(), []
    thread = threading.Thread(target=compute)
    thread.start()
    for choose in (lambda: None, take_short_turns):
        choose()
        found.append(statistics.median(deaf_ms(app, window, action) for _ in range(TIMES)))
    over.set()
    thread.join()
    sys.setswitchinterval(usual)
    return found[0], found[1]


def long_work(app: QApplication, window: Window) -> Iterator[tuple[str, float]]:
    """Yield how long the window is deaf at most while a layout is searched, a picture read, everything written."""

    def at_rest() -> bool:
        return QThreadPool.globalInstance().activeThreadCount() == 0

    def search() -> float:
        begin = partial(window.arranging.begin, "all")
        return deaf_ms(app, window, begin, lambda: not window.arranging.is_arranging)

    def read() -> float:
        found = deaf_ms(app, window, pictures.take_demo_photo, lambda: window.retouch.is_open)
        window.retouch.close()
        return found

    def write() -> float:
        return deaf_ms(app, window, lambda: window.desk.export_to(Path(tempfile.mkdtemp())), at_rest)

    pictures = GatherScreen.of(window).add.pictures
    for name, work in (("search a layout", search), ("read a photo", read), ("write everything", write)):
        yield name, statistics.median(work() for _ in range(TIMES))


def main() -> None:
    """Print the table."""
    argparse.ArgumentParser(description=__doc__).parse_args()
    app = QApplication([])
    app.setStyle("Fusion")
    collect_here(app)
    load_fonts()
    apply_theme(app, load_theme("light"))
    window = Window(Project(), Settings(Path(tempfile.mkdtemp())), theme="light", scale=1.0)
    window.resize(1280, 800)
    window.show()
    window.desk.open_demo()
    for stage in STAGES:
        window.show_stage(stage)
        app.processEvents()
    for page in PAGES:
        MeasureScreen.of(window).show_page(page)
        app.processEvents()
    window.show_stage("lay-out")
    workspace = window.workspace

    def cold(action: Callable[[], object]) -> Callable[[], object]:
        def from_nothing() -> None:
            forget_all()
            action()

        return from_nothing

    def change_rule() -> None:
        rules = replace(workspace.project.rules, snug_mm=workspace.project.rules.snug_mm + 0.1)
        workspace.do("A rule", replace(workspace.project, rules=rules))

    def undo() -> None:
        workspace.undo()

    def repaint() -> None:
        window.plan.set_theme(window._theme)
        window.grab()

    def open_demo() -> None:
        workspace.saved = workspace.project
        window.desk.open_demo()

    actions: tuple[tuple[str, Callable[[], object]], ...] = (
        ("change the theme", window.flip_theme),
        ("open the demo, nothing known of it", cold(open_demo)),
        ("change a rule", change_rule),
        ("undo it", undo),
        ("turn to another insert", lambda: window.inserts.step(1)),
        ("save", lambda: window.desk.save_to(Path(tempfile.mkdtemp()) / "a.burrow")),
        ("keep a recovery copy", window.autosave.keep),
    )
    base = statistics.median(deaf_ms(app, window, repaint) for _ in range(2 * TIMES + 1))
    print(f"one repaint of the window: {base:.0f} ms")
    for name, action in actions:
        took = statistics.median(deaf_ms(app, window, action) for _ in range(TIMES))
        print(f"{name:36} {took:5.0f} ms, {took / base:4.1f} repaints")
    for name, took in long_work(app, window):
        print(f"{name:36} {took:5.0f} ms, {took / base:4.1f} repaints (50 ms at most)")
    longer, shorter = beside_a_search(app, window, cold(change_rule))
    print(f"{'a rule, beside a thread at work':36} {shorter:5.0f} ms, {shorter / longer:4.2f} of what usual turns take")
    workspace.saved = workspace.project
    print(f"{'quit':36} {deaf_ms(app, window, window.close):5.0f} ms")


if __name__ == "__main__":
    main()
