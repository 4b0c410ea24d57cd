"""Lay the demo: the van drawer from rough places by hand and mended, case and wall by the program; write the assets."""

from __future__ import annotations

import argparse
import sys

from msgspec.structs import replace

from cozy_burrow.assets.read import asset
from cozy_burrow.core.findings.mends import mended
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.ground.advising import advised_all, needs_advice
from cozy_burrow.core.ground.arranging import arranged
from cozy_burrow.core.ground.gripping import gripped
from cozy_burrow.core.ground.grips import grip_of
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.model.edits import add_pulls, change_insert, placement_id
from cozy_burrow.core.model.records import Placement, Project
from cozy_burrow.core.progress import Deadline
from cozy_burrow.core.pulls.areas import needs_pull
from cozy_burrow.core.pulls.trench import trench_for
from cozy_burrow.demo.build import build_bare, build_demo, demo_stores, sources
from cozy_burrow.jobs.kit_file import read_kit
from cozy_burrow.storage.project_file import save
from cozy_burrow.storage.stores_file import save_stores

# name, copy, x, y, angle: as a fitter would put things down, daily ones along the front.
ROUGH = [
    ("Tuning lever", 1, 163, 357, 0),
    ("Wide driver", 1, 438, 358, 0),
    ("Slim driver", 1, 112, 315, 0),
    ("Regulating handle", 1, 280, 314, 0),
    ("Voicing tool", 1, 420, 315.5, 0),
    ("Key pliers", 1, 47, 196, 270),
    ("Loop pliers", 1, 118, 212, 270),
    ("Needle tin", 1, 49, 54, 0),
    ("Felt strip reel", 1, 123, 78, 0),
    ("Straight edge", 1, 225, 29, 0),
    ("Hammer file", 1, 176, 179, 90),
    ("Hammer file", 2, 214, 179, 270),
    ("Glue bottle", 1, 296, 75, 0),
    ("Spare lever head", 1, 254, 152, 90),
    ("Capstan head", 1, 300, 242, 90),
    ("Let-off head", 1, 332, 239, 90),
    ("Bending head", 1, 364, 245, 90),
    ("Drop screw head", 1, 396, 234, 90),
    ("Mute wedge", 1, 308, 143, 90),
    ("Mute wedge", 2, 348, 143, 90),
    ("Mute wedge", 3, 388, 143, 90),
    ("Depth stop", 1, 425, 47, 180),
    ("Tuning fork", 1, 450, 200, 90),
    ("Screw box", 1, 526, 156.2, 90),
    ("Centre pin box", 1, 526, 251.3, 90),
    ("String gauge", 1, 528, 60.6, 90),
]
BACK_MM = 7.0
SEEDS: dict[str, int] = {}
TRENCHES = [
    [("Capstan head", 1), ("Let-off head", 1), ("Bending head", 1), ("Drop screw head", 1)],
    [("Mute wedge", 1), ("Mute wedge", 2), ("Mute wedge", 3)],
]


def laid_van(project: Project) -> Project:
    """Return the project with its first insert laid by hand and mended."""
    by_name = {item.name: item.id for item in project.items}
    insert = project.inserts[0]
    placements = tuple(
        Placement(
            id=placement_id(by_name[name], copy), item_id=by_name[name], copy=copy, x_mm=x, y_mm=y, angle_deg=angle
        )
        for name, copy, x, y, angle in ROUGH
    )
    project = change_insert(project, insert.id, placements=placements, pulls=())
    for row in TRENCHES:
        ground = ground_of(project, project.inserts[0])
        by_id = {one.id: one for one in ground.insert.placements}
        keys = [placement_id(by_name[name], copy) for name, copy in row]
        pull = trench_for([(ground.pockets[key], by_id[key]) for key in keys], id_="", rules=project.rules)
        # A little to the back of the balance points: the steps of the heads stay clear of the trench's edge.
        points = tuple((x, y - BACK_MM) for x, y in pull.points_mm)
        project = add_pulls(project, insert.id, [replace(pull, points_mm=points)])
    for _ in range(40):
        stops = [one for one in findings_of(project) if one.severity == "stop" and one.code != "UNPLACED"]
        moves = [mend for one in stops for mend in reversed(one.mends) if mend.kind == "move_clear"]
        for one in stops[:4]:
            print(one.code, one.placements, round(one.value, 1), round(one.limit, 1), file=sys.stderr)
        if not moves:
            break
        project = mended(project, insert.id, moves[0])
    ground = ground_of(project, project.inserts[0])
    bare = [
        key for key, pocket in ground.pockets.items() if needs_pull(pocket, project.rules) and not ground.pulls_of(key)
    ]
    return gripped(project, insert.id, bare)[0]


def laid() -> Project:
    """Return the demo project with everything in its place."""
    project = laid_van(build_bare())
    items = {item.id: item for item in project.items}
    first = {row["id"]: row for row in sources()["inserts"]}
    kits: dict[str, list[str]] = {}
    left = list(project.items)
    for name in dict.fromkeys(row["kit"] for row in first.values()):
        count = len(read_kit(asset("demo", name)).items)
        kits[name], left = [item.id for item in left[:count]], left[count:]
    for insert in project.inserts[1:]:
        row = first[insert.id]
        mine = [key for key in kits[row["kit"]] if not row.get("groups") or items[key].group in row["groups"]]
        alone = replace(
            project,
            items=tuple(items[key] for key in mine),
            inserts=tuple(replace(one, placements=(), pulls=()) for one in project.inserts),
        )
        found = arranged(alone, insert.id, seed=SEEDS.get(insert.id, 1), token=Deadline(25))
        for one in found.left_over:
            print("no place:", insert.name, items[one.item_id].name, one.why, file=sys.stderr)
        here = next(one for one in found.project.inserts if one.id == insert.id)
        project = change_insert(project, insert.id, placements=here.placements, pulls=here.pulls)
    return project


def finished(project: Project) -> Project:
    """Return the project with everything seated as advised, and with new pulls where a hand gets no good hold."""
    for insert in project.inserts:
        project, left = advised_all(project, insert.id)
        for key in left:
            print("lies askew whatever is done:", key, file=sys.stderr)
        ground = ground_of(project, next(one for one in project.inserts if one.id == insert.id))
        for key in needs_advice(ground):  # its own pull took its floor away
            project, _ = gripped(project, insert.id, [key])
        poor = [key for key in ground.pockets if not grip_of(ground, key).good]
        if poor:
            project, _ = gripped(project, insert.id)
    return project


def as_toml(project: Project) -> str:
    """Return placements and pulls of every insert as TOML."""
    names = {item.id: item.name for item in project.items}
    lines = ["# Where everything lies; written by tools/lay_demo.py."]
    for insert in project.inserts:
        for one in insert.placements:
            lines.append(f"\n[[{insert.id}.placements]]")
            lines.append(f'name = "{names[one.item_id]}"\ncopy = {one.copy}')
            lines.append(f"x_mm = {one.x_mm:.4f}\ny_mm = {one.y_mm:.4f}\nangle_deg = {one.angle_deg:.6f}")
            if one.zone_layers is not None:
                lines.append(f"zone_layers = {list(one.zone_layers)}")
            if one.risers_mm is not None:
                lines.append(f"risers_mm = {list(one.risers_mm)}")
        for pull in insert.pulls:
            serves = ", ".join(f'["{names[key.rpartition("#")[0]]}", {key.rpartition("#")[2]}]' for key in pull.serves)
            points = ", ".join(f"[{x:.4f}, {y:.4f}]" for x, y in pull.points_mm)
            lines.append(f"\n[[{insert.id}.pulls]]")
            lines.append(
                f'kind = "{pull.kind}"\nserves = [{serves}]\npoints_mm = [{points}]\nwidth_mm = {pull.width_mm:.1f}'
            )
            if pull.layers is not None:
                lines.append(f"layers = {pull.layers}")
    return "\n".join(lines) + "\n"


def main() -> None:
    """Write the layout into the demo's file."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--keep", action="store_true", help="keep where things lie; seat them and give pulls only")
    project = finished(build_demo() if parser.parse_args().keep else laid())
    asset("demo", "layout.toml").write_text(as_toml(project), encoding="utf-8")
    save(build_demo(), asset("demo", "demo.burrow"))
    save_stores(demo_stores(), asset("demo"))
    for finding in findings_of(build_demo()):
        print(finding.severity, finding.code, finding.placements, finding.value, finding.limit, finding.extra)


if __name__ == "__main__":
    main()
