"""Paint every stage of the demo project, the retouch bench, and the pages of Measure into docs/screenshots."""

from __future__ import annotations

import argparse
import os
import subprocess
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

from cozy_burrow.core.model.stages import STAGES

FOLDER = Path(__file__).resolve().parent.parent / "docs" / "screenshots"
THEMES = ("light", "lamp")
LEFT_OUT = {
    ("grip", "lamp"),
    ("cut", "lamp"),
    ("measure", "lamp"),
    ("gather", "lamp"),
    ("keep", "lamp"),
    ("keep", "light"),  # by paint_keep: in the middle of a roll call
}  # fewer than twenty pictures: these show nothing new


PAGES = {
    "case": ("insert-2", "Inside"),
    "survey": ("insert-4", "Survey"),
    "foam": ("insert-2", "Foam"),
    "sheets": ("insert-2", "Sheets"),
    "carry": ("insert-2", "Carry"),
}


def dressed(theme: str) -> tuple[Any, Any]:
    """Return the application and the theme's name as the window wants it."""
    from PySide6.QtWidgets import QApplication

    from cozy_burrow.app.look.theme.theme import apply_theme, load_fonts, load_theme

    name = "lamp" if theme == "lamp" else "light"
    app = QApplication(["screenshots"])
    app.setStyle("Fusion")
    app.setCursorFlashTime(0)  # a text cursor that blinks makes another picture of it each time
    load_fonts()
    apply_theme(app, load_theme(name))
    return app, name


def keep(app: Any, window: Any, path: Path) -> None:
    """Save a picture of the window once everything in it is judged, worked out and in its place."""
    from cozy_burrow.app.desk.aside import at_rest

    _ = window.workspace.findings
    while not at_rest(window):
        app.processEvents()
    for _ in range(6):  # buttons of several lines find their height after they know their width
        app.processEvents()
    window.grab().save(str(path), "PNG")


def paint_pages(theme: str) -> None:
    """Paint the pages of Measure with the demo's case and wall."""
    from PySide6.QtCore import QThreadPool

    from cozy_burrow.app.desk.settings import Settings
    from cozy_burrow.app.screens.measure.screen import MeasureScreen
    from cozy_burrow.app.shell.window import Window
    from cozy_burrow.demo.shipped import demo_project

    app, name = dressed(theme)
    with tempfile.TemporaryDirectory() as folder:
        window = Window(demo_project(), Settings(Path(folder)), theme=name, scale=1.0)
        window.resize(1280, 800)
        window.plan.wait_for_light()
        window.show()
        window.stores.show_demo()
        for stem, (insert, page) in PAGES.items():
            window.workspace.show_insert(insert)
            MeasureScreen.of(window).show_page(page)  # type: ignore[arg-type]
            for _ in range(3):
                app.processEvents()
                QThreadPool.globalInstance().waitForDone(30_000)
            app.processEvents()
            keep(app, window, FOLDER / f"{stem}-{theme}.png")
        window.workspace.saved = window.workspace.project
        window.close()


def paint_depth(theme: str) -> None:
    """Paint Sink with a thing of the concert tray under its half-closed lid, Grip with pliers, and the peel view."""
    from cozy_burrow.app.desk.settings import Settings
    from cozy_burrow.app.screens.sink.screen import SinkScreen
    from cozy_burrow.app.section import line
    from cozy_burrow.app.shell.window import Window
    from cozy_burrow.core.depth.peel import set_seat
    from cozy_burrow.demo.shipped import demo_project

    app, name = dressed(theme)
    with tempfile.TemporaryDirectory() as folder:
        window = Window(demo_project(), Settings(Path(folder)), theme=name, scale=1.0, stage="sink")
        window.resize(1280, 800)
        window.plan.wait_for_light()
        window.show()
        workspace = window.workspace

        def choose(called: str) -> str:
            key = next(key for key, pocket in workspace.ground.pockets.items() if pocket.item.name == called)
            workspace.select((key,))
            line.section_along(workspace, across=window.stage == "grip")
            app.processEvents()
            return key

        workspace.show_insert("insert-2")
        # By its seat alone, as it was before the advice was taken.
        lever = choose("Travel lever")
        workspace.do("Seat it by rule", set_seat(workspace.project, "insert-2", (lever,), None))
        SinkScreen.of(window).panel.closing.slider.setValue(140)
        window.section.settling.finish()
        keep(app, window, FOLDER / f"sink-{theme}.png")
        workspace.show_insert("insert-1")
        if theme == "light":
            choose("Tuning lever")
            SinkScreen.of(window).show_peel()
            app.processEvents()
            keep(app, window, FOLDER / f"peel-{theme}.png")
            SinkScreen.of(window).show_peel()
            window.show_stage("grip")
            choose("Key pliers")
            keep(app, window, FOLDER / f"grip-{theme}.png")
        workspace.saved = workspace.project
        window.close()


def paint_variations(theme: str) -> None:
    """Paint variations of the van drawer, one taken, with the picture of a wish over the plan."""
    import time

    from PySide6.QtCore import QEventLoop, QTimer

    from cozy_burrow.app.desk.settings import Settings
    from cozy_burrow.app.screens.lay_out.screen import LayOutScreen
    from cozy_burrow.app.shell.window import Window
    from cozy_burrow.demo.shipped import demo_project

    app, name = dressed(theme)

    def wait(enough: Callable[[], bool], seconds: float = 90.0) -> None:
        loop, ask, end = QEventLoop(), QTimer(), time.monotonic() + seconds
        ask.timeout.connect(lambda: loop.quit() if enough() or time.monotonic() > end else None)
        ask.start(20)
        loop.exec()

    with tempfile.TemporaryDirectory() as folder:
        window = Window(demo_project(), Settings(Path(folder)), theme=name, scale=1.0, stage="lay-out")
        window.resize(1280, 800)
        window.plan.wait_for_light()
        window.show()
        app.processEvents()
        window.arranging.begin()
        wait(lambda: not window.arranging.is_arranging)
        rows = LayOutScreen.of(window).panel.wishes.rows
        taken = window.workspace.project
        wait(lambda: LayOutScreen.of(window).panel.judged is taken)
        rows["together"].click()
        wait(lambda: True)
        keep(app, window, FOLDER / f"variations-{theme}.png")
        window.workspace.saved = window.workspace.project
        window.close()


def paint_bench(theme: str, out: Path) -> None:
    """Paint the retouch bench with a photo that the simulated camera takes of demo things."""
    from PySide6.QtCore import QEventLoop, QPointF, QTimer

    from cozy_burrow.app.desk.settings import Settings
    from cozy_burrow.app.screens.gather.screen import GatherScreen
    from cozy_burrow.app.shell.window import Window
    from cozy_burrow.demo.shipped import demo_project

    app, name = dressed(theme)
    with tempfile.TemporaryDirectory() as folder:
        window = Window(demo_project(), Settings(Path(folder)), theme=name, scale=1.0)
        window.resize(1280, 800)
        window.plan.wait_for_light()
        window.show()
        GatherScreen.of(window).show_way("Photo")
        loop = QEventLoop()
        window.retouch.opened.connect(loop.quit)
        QTimer.singleShot(600_000, loop.quit)
        GatherScreen.of(window).add.pictures.take_demo_photo()
        loop.exec()
        window.retouch.choose(1)
        canvas = GatherScreen.of(window).retouch_canvas
        for _ in range(4):
            app.processEvents()
        at = window.retouch.draft.item.outline.outer[0]
        canvas.point_at(canvas.pixel_of(at) + QPointF(4, 4))
        app.processEvents()
        keep(app, window, out)
        window.workspace.saved = window.workspace.project
        window.close()


def paint_bench_mode(theme: str) -> None:
    """Paint bench mode with a pocket of the van drawer half way through its sheet."""
    from cozy_burrow.app.desk.settings import Settings
    from cozy_burrow.app.screens.cut.bench_mode import BenchMode
    from cozy_burrow.app.screens.cut.screen import CutScreen
    from cozy_burrow.app.shell.window import Window
    from cozy_burrow.demo.shipped import demo_project

    app, name = dressed(theme)
    with tempfile.TemporaryDirectory() as folder:
        window = Window(demo_project(), Settings(Path(folder)), theme=name, scale=1.0, stage="cut")
        window.plan.wait_for_light()
        window.show()
        now = [0.0]
        CutScreen.of(window).bench.clock_s = lambda: now[0]
        CutScreen.of(window).to_bench()
        (mode,) = window.findChildren(BenchMode)
        mode.setWindowState(mode.windowState() & ~mode.windowState().WindowFullScreen)
        mode.resize(1280, 800)
        mode.sheet.wait_for_light()
        for _ in range(17):
            now[0] += 37.0
            mode.on()
        for _ in range(4):
            app.processEvents()
        mode.grab().save(str(FOLDER / f"bench-{theme}.png"), "PNG")
        window.workspace.saved = window.workspace.project
        window.close()


def paint_keep(theme: str) -> None:
    """Paint Keep in the middle of a roll call, after another one that was written down."""
    from cozy_burrow.app.desk.settings import Settings
    from cozy_burrow.app.screens.keep.screen import KeepScreen
    from cozy_burrow.app.shell.window import Window
    from cozy_burrow.core.keep.log import noted
    from cozy_burrow.demo.shipped import demo_project

    app, name = dressed(theme)
    plan = demo_project()
    keys = {one.item_id: one.id for one in plan.inserts[0].placements}
    fork, reel, slim = (
        keys[item.id] for item in plan.items if item.name in ("Tuning fork", "Felt strip reel", "Slim driver")
    )
    states = dict.fromkeys(keys.values(), "filled")
    plan = noted(plan, plan.inserts[0].id, states | {reel: "empty"}, at="2026-11-27T17:40", note="left at the hall")
    with tempfile.TemporaryDirectory() as folder:
        window = Window(plan, Settings(Path(folder)), theme=name, scale=1.0, stage="keep")
        window.resize(1280, 800)
        window.plan.wait_for_light()
        window.show()
        roll = KeepScreen.of(window).roll
        roll.begin()
        for key in (fork, slim):
            roll.tap(key)
        app.processEvents()
        keep(app, window, FOLDER / f"keep-{theme}.png")
        window.workspace.saved = window.workspace.project
        window.close()


def main() -> int:
    """Paint the pictures."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--bench", choices=THEMES, help=argparse.SUPPRESS)
    parser.add_argument("--pages", choices=THEMES, help=argparse.SUPPRESS)
    parser.add_argument("--depth", choices=THEMES, help=argparse.SUPPRESS)
    parser.add_argument("--variations", choices=THEMES, help=argparse.SUPPRESS)
    parser.add_argument("--bench-mode", choices=THEMES, help=argparse.SUPPRESS)
    parser.add_argument("--keep", choices=THEMES, help=argparse.SUPPRESS)
    wanted = parser.parse_args()
    if wanted.variations:
        paint_variations(wanted.variations)
        return 0
    if wanted.keep:
        paint_keep(wanted.keep)
        return 0
    if wanted.bench_mode:
        paint_bench_mode(wanted.bench_mode)
        return 0
    if wanted.depth:
        paint_depth(wanted.depth)
        return 0
    if wanted.pages:
        paint_pages(wanted.pages)
        return 0
    if wanted.bench:
        paint_bench(wanted.bench, FOLDER / f"retouch-{wanted.bench}.png")
        return 0
    env = os.environ | {"QT_QPA_PLATFORM": "offscreen"}
    start = FOLDER / "start-light.png"
    subprocess.run([sys.executable, "-m", "cozy_burrow", "--shot", str(start)], check=True, env=env)
    print(start)
    for theme in THEMES:
        for stage in STAGES:
            if (stage, theme) in LEFT_OUT:
                continue
            out = FOLDER / f"{stage}-{theme}.png"
            command = [sys.executable, "-m", "cozy_burrow", "--demo", "--shot", str(out), "--stage", stage]
            subprocess.run([*command, "--theme", theme], check=True, env=env, stderr=subprocess.DEVNULL)
            print(out)
        subprocess.run([sys.executable, __file__, "--depth", theme], check=True, env=env, stderr=subprocess.DEVNULL)
    for what in ("--bench", "--bench-mode", "--pages", "--variations", "--keep"):
        subprocess.run([sys.executable, __file__, what, "light"], check=True, env=env, stderr=subprocess.DEVNULL)
    return 0


if __name__ == "__main__":
    sys.exit(main())
