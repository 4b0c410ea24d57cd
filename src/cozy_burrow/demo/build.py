"""The demo project: a travelling piano technician's van drawer, from the shipped kit through the same jobs."""

from __future__ import annotations

import tomllib

from cozy_burrow.assets.read import asset
from cozy_burrow.core.model.edits import add_pulls, change_insert, placement_id
from cozy_burrow.core.model.records import Container, FingerPull, Insert, Placement, Point, Project, Rules, Sheet
from cozy_burrow.jobs.kit_file import read_kit


def _line(ends: list[list[float]]) -> tuple[Point, Point]:
    (x0, y0), (x1, y1) = ends
    return (x0, y0), (x1, y1)


def build_demo() -> Project:
    """Return the demo project made from the kit table, its drawings and the layout."""
    plan = tomllib.loads(asset("demo", "van-drawer.toml").read_text(encoding="utf-8"))
    items = read_kit(asset("demo", "kit.csv"))
    by_name = {item.name: item.id for item in items}
    insert = Insert(
        id="insert-1",
        name=plan["insert"]["name"],
        sheets=tuple(Sheet(**sheet) for sheet in plan["sheets"]),
        press_fit_mm=plan["insert"]["press_fit_mm"],
        section_line=_line(plan["insert"]["section_line"]),
    )
    container = Container(name=plan["insert"]["name"], **plan["container"])
    project = Project(
        title=plan["title"], items=items, containers=(container,), inserts=(insert,), rules=Rules(**plan["rules"])
    )
    placements = tuple(
        Placement(
            id=placement_id(by_name[one["name"]], one["copy"]),
            item_id=by_name[one["name"]],
            copy=one["copy"],
            x_mm=one["x_mm"],
            y_mm=one["y_mm"],
            angle_deg=one["angle_deg"],
            seat=one.get("seat"),
        )
        for one in plan.get("placements", [])
    )
    project = change_insert(project, insert.id, placements=placements)
    pulls = [
        FingerPull(
            id="",
            kind=one["kind"],
            serves=tuple(placement_id(by_name[name], copy) for name, copy in one["serves"]),
            points_mm=tuple((float(x), float(y)) for x, y in one["points_mm"]),
            width_mm=one["width_mm"],
        )
        for one in plan.get("pulls", [])
    ]
    return add_pulls(project, insert.id, pulls)
