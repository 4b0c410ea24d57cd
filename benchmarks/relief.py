"""The lit picture: how long a whole insert takes, a change, a thing under a hand; prints a table, asserts nothing."""

from __future__ import annotations

import argparse
import os
import statistics
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path

import numpy as np

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
for name in ("OMP_NUM_THREADS", "OPENBLAS_NUM_THREADS"):
    os.environ.setdefault(name, "1")

WIDE_PX, HIGH_PX = 1280, 800
TIMES = 7


def timed(work: Callable[[], object], times: int = TIMES) -> float:
    """Return the median milliseconds of one core that a piece of work takes, whatever else the machine does."""
    found = []
    for _ in range(times):
        begin = time.thread_time()
        work()
        found.append((time.thread_time() - begin) * 1e3)
    return statistics.median(found)


def yardstick_ms() -> float:
    """Return what this machine takes for ten roots over a picture's worth of numbers and as many steps of Python.

    The same pictures took 87 to 149 ms on one day and 220 to 385 on another: multiples of this can be compared.
    """
    numbers = np.linspace(1.0, 2.0, WIDE_PX * HIGH_PX, dtype=np.float32)

    def work() -> None:
        for _ in range(10):
            np.sqrt(numbers * numbers + numbers)
        total = 0
        for step in range(200_000):
            total += step

    return timed(work)


def main() -> None:
    """Take all figures and print them."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--write", type=Path, help="also write the pictures into this folder")
    folder = parser.parse_args().write
    import cv2

    cv2.setNumThreads(1)
    from cozy_burrow.app.look.theme.theme import load_theme
    from cozy_burrow.app.scene.relief import look_of
    from cozy_burrow.core.ground.ground import ground_of
    from cozy_burrow.core.model.edits import insert_of, move_placements
    from cozy_burrow.core.relief.picture import picture_of, repainted
    from cozy_burrow.core.relief.sprite import bare_ground, rows_of, sprite_of
    from cozy_burrow.demo.shipped import demo_project

    unit_ms = yardstick_ms()
    print(f"yardstick {unit_ms:.0f} ms; what follows in brackets is the limit")
    look, project = look_of(load_theme("light")), demo_project()
    for insert in project.inserts:
        ground = ground_of(project, insert)
        container = ground.bay.container
        scale = round(min(WIDE_PX / (container.width_mm + 20), HIGH_PX / (container.depth_mm + 20)), 4)
        whole = picture_of(ground, scale, look, mends=True)
        bare = picture_of(bare_ground(ground), scale, look)
        full_ms = timed(partial(picture_of, ground, scale, look))
        changes, sprites = [], []
        for one in insert.placements[::3]:
            moved = move_placements(project, insert.id, [one.id], dx_mm=1.5, dy_mm=0.5)
            after = ground_of(moved, insert_of(moved, insert.id))
            changes.append(timed(partial(repainted, whole, after), 3))
        for row in rows_of(ground):
            sprites.append(timed(partial(sprite_of, whole, bare, row), 1))
        rows, columns = whole.pixels.shape[:2]
        print(
            f"{insert.name}, {len(insert.placements)} items, {columns} x {rows}: whole {full_ms:.0f} ms (250), "
            f"{full_ms / unit_ms:.1f} yardsticks; "
            f"a change {statistics.median(changes):.0f} ms, worst {max(changes):.0f} (40); "
            f"a sprite {statistics.median(sprites):.1f} ms, worst {max(sprites):.1f}"
        )
        if folder is not None:
            folder.mkdir(parents=True, exist_ok=True)
            name = f"{insert.name.lower().replace(' ', '-')}.png"
            cv2.imwrite(str(folder / name), cv2.cvtColor(whole.pixels, cv2.COLOR_RGBA2BGRA))


if __name__ == "__main__":
    main()
