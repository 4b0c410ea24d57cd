"""Speed and size as ratios taken side by side in one run; prints a table, asserts nothing."""

from __future__ import annotations

import argparse
import gc
import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from cozy_burrow.core.model.records import Project

EMPTY = """
import time
from PySide6.QtWidgets import QApplication, QMainWindow
app = QApplication([]); window = QMainWindow(); window.resize(1280, 800); window.show()
app.processEvents(); window.grab(); print(time.monotonic(), flush=True)
import os; os._exit(0)
"""
DEMO = """
import time
from cozy_burrow.app.opening import open_window
from cozy_burrow.app.start import Start
import gc; gc.disable()
app, window = open_window(Start(demo=True))
window.show()
app.processEvents(); window.grab(); print(time.monotonic(), flush=True)
import os; os._exit(0)
"""
STILL = """
import time
from cozy_burrow.app.main import seen_at_once
from cozy_burrow.app.start import Start
still = seen_at_once(Start(demo=True))
still.grab(); print(time.monotonic(), flush=True)
import os; os._exit(0)
"""
KEEP = """
from cozy_burrow.app.desk.first_sight import place_of
from cozy_burrow.app.opening import keep_first_sight, open_window
from cozy_burrow.app.start import Start
app, window = open_window(Start(demo=True))
window.plan.wait_for_light()
window.show()
_ = window.workspace.findings
while not keep_first_sight(window, Start(demo=True), place_of(Start(demo=True))):
    app.processEvents()
import os; os._exit(0)
"""
MEMORY = """
import resource
from PySide6.QtWidgets import QApplication
from pathlib import Path
from cozy_burrow.app.desk.settings import Settings
from cozy_burrow.app.look.theme.theme import apply_theme, load_fonts, load_theme
from cozy_burrow.app.shell.window import Window
from cozy_burrow.demo.shipped import demo_project
import tempfile
app = QApplication([]); load_fonts(); apply_theme(app, load_theme("light"))
window = Window(demo_project(), Settings(Path(tempfile.mkdtemp())), theme="light", scale=1.0)
window.resize(1280, 800); window.show(); app.processEvents()
for stage in ("gather", "measure", "lay-out", "sink", "grip", "cut"):
    window.show_stage(stage); app.processEvents(); window.grab()
print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)
"""


def timed(work: Callable[[], object]) -> float:
    """Return the seconds that a piece of work takes."""
    begin = time.perf_counter()
    work()
    return time.perf_counter() - begin


def python(code: str, **environment: str) -> str:
    """Run code in a fresh interpreter and return what it printed."""
    done = subprocess.run(
        [sys.executable, "-c", code], capture_output=True, text=True, check=True, cwd=ROOT, env=os.environ | environment
    )
    return done.stdout


def _until(code: str, **environment: str) -> float:
    """Return the seconds from the start of a process to when it says that its picture stands."""
    begin = time.monotonic()
    return float(python(code, **environment)) - begin


def starts() -> tuple[float, float, float]:
    """Return the median seconds from process start to picture, taken in turn.

    Of an empty window, of the demo shown as it was kept when it was left, and of the live demo.
    """
    with tempfile.TemporaryDirectory() as folder:
        own = dict.fromkeys(("XDG_CACHE_HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME"), folder)
        python(KEEP, **own)
        rounds = [[_until(code, **own) for code in (EMPTY, STILL, DEMO)] for _ in range(7)]
    empty, still, live = (statistics.median(column) for column in zip(*rounds, strict=True))
    return empty, still, live


def sixty() -> Project:
    """Return a plan with sixty things laid in."""
    from msgspec.structs import replace

    from cozy_burrow.core.ground.arranging import arranged
    from cozy_burrow.core.model.records import Container, Insert, Rules
    from cozy_burrow.core.progress import Deadline
    from cozy_burrow.demo.shipped import demo_project

    items = [item for item in demo_project().items if item.name != "Straight edge"]
    kit = tuple(replace(item, quantity=3) for item in items[:20])
    chest = Container(width_mm=1050.0, depth_mm=660.0, height_mm=75.0)
    insert = Insert(id="insert-1", name="Chest")
    project = Project(items=kit, containers=(chest,), inserts=(insert,), rules=Rules())
    return arranged(project, "insert-1", seed=1, token=Deadline(40)).project


def checks(project: Project) -> tuple[float, float, int]:
    """Return the median seconds of a full check, and of one after a thing has moved, and how many things lie."""
    from cozy_burrow.core.findings.report import findings_of
    from cozy_burrow.core.model.edits import move_placements
    from cozy_burrow.core.model.memo import forget_all

    full, again = [], []
    ids = [one.id for one in project.inserts[0].placements]
    for index in range(12):
        forget_all()
        full.append(timed(partial(findings_of, project)))
        key = ids[index * 5 % len(ids)]
        moved = move_placements(project, "insert-1", [key], dx_mm=0.7 + index, dy_mm=0.3)
        again.append(timed(partial(findings_of, moved)))
    return statistics.median(full), statistics.median(again), len(ids)


def frames(project: Project) -> tuple[float, float, float, float]:
    """Return median, 90 % point and worst of the seconds from one step of a drag to the repainted plan.

    And the worst of the first steps, each of a thing that was not carried before.
    """
    from PySide6.QtCore import QPointF, Qt
    from PySide6.QtTest import QTest
    from PySide6.QtWidgets import QApplication

    from cozy_burrow.app.desk.settings import Settings
    from cozy_burrow.app.desk.tasks import take_short_turns
    from cozy_burrow.app.look.theme.theme import apply_theme, load_fonts, load_theme
    from cozy_burrow.app.shell.window import Window

    app = QApplication.instance() or QApplication([])
    app.setStyle("Fusion")
    load_fonts()
    apply_theme(app, load_theme("light"))
    window = Window(project, Settings(Path(tempfile.mkdtemp())), theme="light", scale=1.0)
    window.resize(1280, 800)
    window.plan.wait_for_light()  # nobody drags in the second in which the picture is made
    window.show()
    window.show_stage("lay-out")
    for _ in range(3):
        app.processEvents()
    gc.collect()
    gc.freeze()  # as the program does once its window is shown
    take_short_turns()
    found: list[float] = []
    firsts: list[float] = []
    view = window.plan.viewport()
    rest = time.monotonic() + 4.0  # as somebody who looks for a moment before a hand moves
    while time.monotonic() < rest:
        app.processEvents()
    for placement in window.workspace.insert.placements[::6]:
        start = window.plan.viewportTransform().map(QPointF(placement.x_mm, placement.y_mm))
        QTest.mousePress(view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start.toPoint())
        for step in range(1, 16):
            at = (start + QPointF(step * 2, step)).toPoint()

            def one_step(at: object = at) -> None:
                QTest.mouseMove(view, at)  # type: ignore[call-overload]
                app.processEvents()

            (found if step > 1 else firsts).append(timed(one_step))
        QTest.mouseRelease(view, Qt.MouseButton.LeftButton)
    window.workspace.saved = window.workspace.project
    window.close()
    found.sort()
    return statistics.median(found), found[int(len(found) * 0.9)], found[-1], max(firsts)


def main() -> None:
    """Take all figures and print them."""
    argparse.ArgumentParser(description=__doc__).parse_args()
    empty, still, live = starts()
    print(
        f"start to picture: empty window {empty:.2f} s, demo as it was left {still:.2f} s, "
        f"ratio {still / empty:.2f} (at most 3); live {live:.2f} s, ratio {live / empty:.2f}"
    )
    project = sixty()
    full, again, count = checks(project)
    print(
        f"check of {count} things: full {full * 1e3:.1f} ms, after one moved {again * 1e3:.1f} ms, "
        f"{again / full:.1%} (at most 10 %)"
    )
    median, slow, worst, first = frames(project)
    print(
        f"drag step at {count} things, re-checked and repainted: median {median * 1e3:.1f} ms, "
        f"90 % {slow * 1e3:.1f} ms, worst {worst * 1e3:.1f} ms, first steps at most {first * 1e3:.1f} ms "
        "(8, 16.7, 33 wanted)"
    )
    print(f"memory with the demo open, every stage shown: {float(python(MEMORY)):.0f} MB (under 400)")


if __name__ == "__main__":
    main()
