"""Sitting, depth advice and pulls: milliseconds and the solver's share, on one core; a table, nothing asserted."""

from __future__ import annotations

import argparse
import statistics
import time
from collections.abc import Callable
from functools import partial

import numpy as np
from msgspec.structs import replace

from cozy_burrow.core.container.bay import Bay
from cozy_burrow.core.depth import settling
from cozy_burrow.core.depth.advice import advice_for
from cozy_burrow.core.depth.pocket import allowance_for
from cozy_burrow.core.depth.seated import local_pocket
from cozy_burrow.core.depth.sitting import sitting_of
from cozy_burrow.core.foam.layers import layers_of
from cozy_burrow.core.ground.gripping import gripped
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.kit.shapes import box_item
from cozy_burrow.core.kit.stations import parse_stations, station_item
from cozy_burrow.core.model.memo import forget_all
from cozy_burrow.core.model.records import Container, Item, Project, Rules, Sheet
from cozy_burrow.demo.shipped import demo_project

THICK, THIN = Sheet(thickness_mm=50.0, pitch_mm=10.0), Sheet(thickness_mm=50.0, pitch_mm=3.2)


class Solver:
    """Counts what the linear programmes take."""

    def __init__(self) -> None:
        self.seconds, self.calls = 0.0, 0
        self._bare = settling._solved
        settling._solved = self._timed

    def _timed(self, rows: np.ndarray, most: np.ndarray) -> tuple[float, ...]:
        begin = time.perf_counter()
        found = self._bare(rows, most)
        self.seconds += time.perf_counter() - begin
        self.calls += 1
        return found


def kit(count: int, *, seed: int = 1) -> list[Item]:
    """Return drivers, stops with a blade, tapered tools and boxes, one quarter each."""
    chance = np.random.default_rng(seed)
    found: list[Item] = []
    for number in range(count):
        thick, thin = float(chance.integers(16, 36)), float(chance.integers(4, 10))
        end, whole = int(chance.integers(60, 110)), int(chance.integers(140, 260))
        match number % 4:
            case 0:
                text = f"0:{thick} {end}:{thick} {end}:{thin} {whole}:{thin}"
            case 1:
                text = f"0:60x{thick} 14:60x{thick} 14:24x{thin} {whole}:24x{thin}"
            case 2:
                text = f"0:{thick - 6} {end}:{thick} {end + 20}:{thin} {whole}:{thin}"
            case _:
                box = box_item(f"item-{number}", "box", length_mm=end, width_mm=40, thickness_mm=thick)
                found.append(box)
                continue
        found.append(station_item(f"item-{number}", f"tool {number}", parse_stations(text)))
    return found


def taken(work: Callable[[], object], solver: Solver) -> tuple[float, float]:
    """Return the seconds that work takes from nothing, and those of the solver in it."""
    forget_all()
    before = solver.seconds
    begin = time.perf_counter()
    work()
    return time.perf_counter() - begin, solver.seconds - before


def main() -> None:
    """Measure and print."""
    argparse.ArgumentParser(description=__doc__).parse_args()
    solver = Solver()
    items, rules = kit(60), Rules()
    settling.settle(np.array([[0.0, 0.0], [9.0, 0.0], [0.0, 9.0]]), np.array([1.0, 2.0, 2.0]), (5.0, 5.0))  # loads it
    print(f"{'':34}{'median ms':>10}{'largest':>9}{'all s':>8}{'solver':>8}")
    for name, sheet in (("10 mm layers", THICK), ("3.2 mm layers", THIN)):
        bay = Bay(container=Container(width_mm=600, depth_mm=400, height_mm=80), sheets=(sheet,))
        layers = layers_of(bay.sheets)
        pockets = [(item, local_pocket(item, None, bay, rules)) for item in items]
        times, share = [], 0.0
        for item, pocket in pockets:
            snug_mm = -allowance_for(item, rules)
            seconds, solved = taken(partial(sitting_of, pocket, layers, snug_mm=snug_mm), solver)
            times.append(seconds)
            share += solved
        row(f"sitting, 60 things, {name}", times, share)
        times, share = [], 0.0
        for item in items:
            seconds, solved = taken(partial(advice_for, item, None, bay, rules), solver)
            times.append(seconds)
            share += solved
        row(f"depth advice, 60 things, {name}", times, share)
    demo = demo_project()
    for insert in demo.inserts:
        bare = with_sits(replace(demo, inserts=tuple(replace(one, pulls=()) for one in demo.inserts)), insert.id)
        begin, before = time.perf_counter(), solver.seconds
        gripped(bare, insert.id)
        row(
            f"pulls, {insert.name}, {len(insert.placements)} things",
            [time.perf_counter() - begin],
            solver.seconds - before,
        )


def with_sits(project: Project, insert_id: str) -> Project:
    """Return the project after everything has come to rest in it: pulls are chosen for things that are seated."""
    from cozy_burrow.core.ground.sits import sitting_in

    forget_all()
    insert = next(one for one in project.inserts if one.id == insert_id)
    ground = ground_of(project, insert)
    for key in ground.pockets:
        sitting_in(ground, key)
    return project


def row(name: str, times: list[float], solver_s: float) -> None:
    """Print one row."""
    whole = sum(times)
    print(
        f"{name:34}{1e3 * statistics.median(times):10.1f}{1e3 * max(times):9.1f}{whole:8.2f}{solver_s / whole:8.0%}",
        flush=True,
    )


if __name__ == "__main__":
    main()
