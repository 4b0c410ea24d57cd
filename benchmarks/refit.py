"""Refits against brute force: is there a place on a fine grid that fills less? And is the patched foam the new plan?

python benchmarks/refit.py [SEED COUNT]: random replacements; a line for each that is worse, and a summary.
"""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

import numpy as np
from msgspec.structs import replace

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

from tests.core.refit.test_refit import KEY, cut_insert, filled_by_force, pairs

from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.refit.patch import Patch, patch_between
from cozy_burrow.core.refit.refit import refits

_STEP_MM, _TURN_DEG = 2.5, 15.0
_CRUMB_MM2 = 4.05
_WORSE, _SLIVERS_MM3 = 1.01, 60.0  # pieces that nobody can glue in are left out of a patch


def bare(project: Project) -> Ground:
    """Return the ground without finger pulls: the search is for pockets."""
    insert = replace(project.inserts[0], pulls=())
    return ground_of(replace(project, inserts=(insert,)), insert)


def foam_is_new_plan(project: Project, after: Project, patch: Patch) -> float:
    """Return by how many mm² of a layer, at most, old foam less cuts plus patches differs from the new plan."""
    before, due = ground_of(project, project.inserts[0]), ground_of(after, after.inserts[0])
    by_layer = {one.layer: one for one in patch.layers}
    worst = 0.0
    for layer in range(1, len(before.layers) + 1):
        foam = before.blank.difference(before.taken_out(layer))
        if layer in by_layer:
            foam = foam.difference(by_layer[layer].cut).union(by_layer[layer].fill)
        wrong = foam.symmetric_difference(due.blank.difference(due.taken_out(layer)))
        # A sliver that no blade takes off is as wide as a hair, however long; crumbs are neither cut nor glued in.
        for part in polygons_in(wrong, least_area_mm2=_CRUMB_MM2):
            worst = max(worst, float(part.buffer(-0.13).area))
    return worst


def main() -> int:
    """Try many, and print what came out."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("seed", nargs="?", type=int, default=1000)
    parser.add_argument("count", nargs="?", type=int, default=300)
    wanted = parser.parse_args()
    ratios, worse, none, left_over, off = [], 0, 0, 0, 0.0
    for number, (old, new) in enumerate(pairs(wanted.seed, wanted.count)):
        project = cut_insert(old, new)
        force = filled_by_force(project, new, step_mm=_STEP_MM, turn_deg=_TURN_DEG)
        found = refits(project, "insert-1", KEY, new)
        if force == np.inf or not found:
            none += 1
            left_over += force != np.inf and not found
            continue
        # Ways are told by all that is filled; what fills least by its pocket alone need not be the first of them.
        filled = min(patch_between(bare(project), bare(one.project)).fill_mm3 for one in found)
        ratios.append((filled + _SLIVERS_MM3) / (force + _SLIVERS_MM3))
        off = max(off, *(foam_is_new_plan(project, one.project, one.patch) for one in found))
        if filled > _WORSE * force + _SLIVERS_MM3:
            worse += 1
            print(f"{number}: {filled:.0f} mm³, by force {force:.0f}", flush=True)
    grid = f"a grid of {_STEP_MM} mm and {_TURN_DEG:g}°"
    print(f"{wanted.count} replacements: {worse} fill over 1 % more than the best of {grid}")
    print(f"median of filled to grid {np.median(ratios):.3f}, worst {max(ratios):.3f}; {none} without any place")
    print(f"{left_over} had a place on the grid and were told that there is none")
    print(
        f"foam less cuts plus patches is off the new plan by at most {off:.2f} mm² a layer, but for slivers and crumbs"
    )
    return 1 if worse or left_over or off > 0.5 else 0


if __name__ == "__main__":
    sys.exit(main())
