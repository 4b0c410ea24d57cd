"""Thirty everyday kits through `plan`, with nothing set by hand: what must be fixed then, and what a fitter is told.

A must-fix that stays is a fault of the layout, unless nothing without one exists. Prints a line a kit and every finding
that is no note; asserts nothing. Ends by steps, so that it says the same on every machine.
"""

from __future__ import annotations

import argparse
import sys
import time
from collections import Counter
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

from benchmarks.everyday_kits import KITS, Everyday
from cozy_burrow.core.arrange.wishes import STYLES
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.findings.telling import finding_text, kind_of
from cozy_burrow.core.ground.arranging import Arranged
from cozy_burrow.core.ground.judging import scores_of
from cozy_burrow.jobs.plan import make_rules, parse_container, parse_foam, plan_kit
from cozy_burrow.jobs.wish_words import why_left


def planned(kit: Everyday, steps: int) -> Arranged:
    """Return a kit as `plan` lays it."""
    sheets = parse_foam(kit.foam)
    rules = make_rules(wall_mm=None, edge_mm=None, floor_layers=None, allowance_mm=None, seat=None, sheets=sheets)
    container = parse_container(kit.container, kind=kit.kind, corner_radius_mm=0.0)  # type: ignore[arg-type]
    remarks: list[str] = []
    result, _ = plan_kit(
        kit.table, container, sheets, rules,
        with_pulls=True, seconds=86_400.0, seed=1, steps=steps, unit=kit.unit, heard=remarks.append,  # type: ignore[arg-type]
    )  # fmt: skip
    for remark in remarks:
        print(f"    {remark}")
    return result


def main() -> int:
    """Plan what is asked for."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("names", nargs="*", help="only these")
    parser.add_argument("--steps", type=int, default=40)
    wanted = parser.parse_args()
    all_stops: Counter[str] = Counter()
    for kit in KITS:
        if wanted.names and kit.name not in wanted.names:
            continue
        began = time.monotonic()
        result = planned(kit, wanted.steps)
        project = result.project
        found = findings_of(project)
        by_weight = Counter(one.severity for one in found)
        copies = sum(item.quantity for item in project.items)
        score = scores_of(project, project.inserts[0].id, STYLES["tidy"]).total
        print(
            f"{kit.name:18} {copies:3} things, {len(result.left_over):2} left over, "
            f"{by_weight['stop']:2} must fix, {by_weight['care']:2} warnings, {by_weight['note']:2} notes, "
            f"{score:3.0f} of 100, {time.monotonic() - began:5.1f} s",
            flush=True,
        )
        for one in result.left_over:
            print(f"    left over: {why_left(project, one)}")
        for one in found:
            if one.severity != "note" and one.code != "UNPLACED":
                print(f"    {one.severity}: {kind_of(one).title}: {finding_text(project, one)}")
        all_stops += Counter(one.code for one in found if one.severity == "stop")
    print("must fix in all:", dict(all_stops) or "none")
    return 0


if __name__ == "__main__":
    sys.exit(main())
