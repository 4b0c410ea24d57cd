"""Kill real windows with kill -9 at random moments while they edit, save, export, price and mend outlines.

Says what opens afterwards and how many seconds of edits are lost.
"""

from __future__ import annotations

import argparse
import contextlib
import json
import os
import random
import signal
import sys
import tempfile
import time
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
WORKS = ("edit", "save", "export", "stores", "bench")


def live(folder: Path, work: str, ready: int) -> None:
    """Open a window and work in it for ever; in a process of its own, which is killed."""
    from msgspec.structs import replace
    from PySide6.QtCore import QTimer
    from PySide6.QtWidgets import QApplication
    from tools.lose import bench_capture

    from cozy_burrow.app.desk.settings import Settings
    from cozy_burrow.app.look.theme.theme import apply_theme, load_fonts, load_theme
    from cozy_burrow.app.shell.window import Window
    from cozy_burrow.core.capture.retouch.draft import with_thickness
    from cozy_burrow.demo.shipped import demo_project

    app = QApplication([])
    load_fonts()
    apply_theme(app, load_theme("light"))
    window = Window(demo_project(), Settings(folder), theme="light", scale=1.0)
    window.show()
    workspace, stores = window.workspace, window.stores

    def edit() -> None:
        workspace.do("x", replace(workspace.project, title=repr(time.time())))

    def price() -> None:
        first, *rest = stores.stores.boards
        stores.take(replace(stores.stores, boards=(replace(first, price=round(time.time() % 1000, 2)), *rest)))

    def mend() -> None:
        window.retouch.do_draft("x", lambda one: with_thickness(one, None, thickness_mm=1 + time.time() % 50))

    edit()
    window.desk.save_to(folder / "mine.burrow")
    if work == "bench":
        window.retouch.open(bench_capture())
    timers = []
    for every, do in (
        (60, edit),
        ({"save": 70}.get(work, 3_000), lambda: window.desk.save_to(folder / "mine.burrow")),
        ({"export": 700}.get(work, 60_000), lambda: window.desk.export_to(folder / "papers")),
        ({"stores": 50}.get(work, 60_000), price),
        ({"bench": 80}.get(work, 600_000), mend),
    ):
        timer = QTimer()
        timer.timeout.connect(do)
        timer.start(every)
        timers.append(timer)
    os.write(ready, b"1")
    app.exec()


def seen_after(folder: Path, killed: float) -> tuple[list[str], float]:
    """Return what is broken after a kill, and how many seconds of edits are lost."""
    from cozy_burrow.core.errors import UnusableInput
    from cozy_burrow.jobs.bench_copy import bench_from_bytes
    from cozy_burrow.storage.project_file import load
    from cozy_burrow.storage.recovery import RecoveryStore
    from cozy_burrow.storage.stores_file import load_stores

    broken, newest = [], 0.0
    try:
        newest = float(load(folder / "mine.burrow").title)
    except UnusableInput as error:
        broken.append(f"project: {error}")
    store = RecoveryStore(folder)
    for copy in store.left_behind():
        try:
            left = store.bring_back(copy)
            newest = max(newest, float(left.project.title))
            if left.bench:
                bench_from_bytes(left.bench)
        except UnusableInput as error:
            broken.append(f"copy: {error}")
    store.close()
    try:
        load_stores(folder)
    except UnusableInput as error:
        broken.append(f"stores: {error}")
    for path in (folder / "papers").glob("[!.]*"):
        data = path.read_bytes()
        if path.suffix == ".json":
            try:
                json.loads(data)
            except ValueError:
                broken.append(f"export: {path.name}")
        elif not data or (path.suffix == ".pdf" and b"%%EOF" not in data[-32:]):
            broken.append(f"export: {path.name}")
    return broken, killed - newest


def trials(seeds: list[int]) -> list[tuple[str, list[str], float]]:
    """Run some windows side by side, kill each at a moment of its own."""
    running = []
    for seed in seeds:
        chance = random.Random(seed)
        folder = tempfile.TemporaryDirectory()
        heard, tell = os.pipe()
        work = WORKS[seed % len(WORKS)]
        child = os.fork()
        if child == 0:
            os.close(heard)
            null = os.open(os.devnull, os.O_WRONLY)
            os.dup2(null, 2)
            live(Path(folder.name), work, tell)
            os._exit(0)
        os.close(tell)
        running.append((work, folder, child, heard, chance.uniform(0.02, 5.0)))
    found = []
    alive = {child for _, _, child, _, _ in running}
    try:
        for work, folder, child, heard, wait in sorted(running, key=lambda one: one[-1]):
            assert os.read(heard, 1) == b"1", "the window did not come up"
            os.close(heard)
            running_since = time.monotonic()
            time.sleep(max(0.0, wait - (time.monotonic() - running_since)))
            _end(child, alive)
            broken, lost = seen_after(Path(folder.name), time.time())
            found.append((work, broken, lost))
            folder.cleanup()
    finally:
        for child in tuple(alive):
            _end(child, alive)
    return found


def _end(child: int, alive: set[int]) -> None:
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    alive.discard(child)


def main() -> int:
    """Run the trials and print what is broken and the most that is lost; broken off, of as many as there were."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--trials", type=int, default=100)
    parser.add_argument("--first", type=int, default=0, help="the seed of the first")
    parser.add_argument("--side-by-side", type=int, default=3)
    wanted = parser.parse_args()
    import cozy_burrow.app.shell.window  # noqa: F401  imported once, before the windows part

    found: list[tuple[str, list[str], float]] = []
    signal.signal(signal.SIGTERM, signal.default_int_handler)
    with contextlib.suppress(KeyboardInterrupt):
        for first in range(wanted.first, wanted.first + wanted.trials, wanted.side_by_side):
            found += trials(list(range(first, min(wanted.first + wanted.trials, first + wanted.side_by_side))))
    for work in WORKS:
        mine = [one for one in found if one[0] == work]
        lost = sorted(seconds for _, _, seconds in mine)
        broken = [what for _, whats, _ in mine for what in whats]
        if mine:
            print(
                f"{work:7} {len(mine):4} kills, {len(broken)} broken; edits lost: "
                f"median {lost[len(lost) // 2]:.1f} s, most {lost[-1]:.1f} s"
                + "".join(f"\n    {one}" for one in broken)
            )
    return 1 if any(broken for _, broken, _ in found) else 0


if __name__ == "__main__":
    sys.exit(main())
