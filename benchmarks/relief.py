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
from numpy.typing import NDArray

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


def plain_recipe(height: NDArray[np.float32], px_per_mm: float) -> NDArray[np.float32]:
    """Return light as the usual short recipe gives it, from heights that are there already; to compare times with.

    Slope shading, four suns whose shadows are marched pixel by pixel, three blurs for corners, a little noise.
    """
    import cv2

    slope_y, slope_x = np.gradient(height * px_per_mm)
    light = 1.0 / np.sqrt(1.0 + slope_x**2 + slope_y**2)
    steps = round(float(height.max() - height.min()) / np.tan(np.radians(45.0)) * px_per_mm)
    for turn_deg in (24.0, 32.0, 40.0, 33.0):
        towards = np.sin(np.radians(turn_deg)), np.cos(np.radians(turn_deg))
        edge = np.full_like(height, -np.inf)
        for step in range(1, steps + 1):
            right, down = round(step * towards[0]), round(step * towards[1])
            there = edge[down:, right:]
            np.maximum(there, height[: len(height) - down, : height.shape[1] - right] - step / px_per_mm, out=there)
        light -= 0.15 * np.clip((edge - height) * 2.0, 0.0, 1.0)
    for reach_mm in (1.6, 5.0, 14.0):
        wide = cv2.GaussianBlur(height, (0, 0), reach_mm * px_per_mm / 1.6)
        light -= 0.3 * np.clip((wide - height) / reach_mm, 0.0, 1.0)
    noise = np.random.default_rng(1).standard_normal(height.shape, dtype=np.float32)
    return np.asarray(light + 0.02 * cv2.GaussianBlur(noise, (0, 0), 0.8), dtype=np.float32)


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
        assert whole.field is not None
        plain_ms = timed(partial(plain_recipe, whole.field.height_mm.astype(np.float32), scale), 3)
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
            f"{full_ms / unit_ms:.1f} yardsticks, {full_ms / plain_ms:.2f} of the plain recipe's light; "
            f"a change {statistics.median(changes):.0f} ms, worst {max(changes):.0f} (40), "
            f"{max(changes) / plain_ms:.2f} of it; "
            f"a sprite {statistics.median(sprites):.1f} ms, worst {max(sprites):.1f}"
        )
        if folder is not None:
            folder.mkdir(parents=True, exist_ok=True)
            name = f"{insert.name.lower().replace(' ', '-')}.png"
            cv2.imwrite(str(folder / name), cv2.cvtColor(whole.pixels, cv2.COLOR_RGBA2BGRA))


if __name__ == "__main__":
    main()
