"""The demo: a travelling piano technician's drawer, case and wall, from the shipped kits through the same jobs."""

from __future__ import annotations

import tomllib
from typing import Any

import msgspec

from cozy_burrow.assets.read import asset
from cozy_burrow.core.container.survey import with_taped
from cozy_burrow.core.foam.boards import sheet_of, shipped_stores
from cozy_burrow.core.model.edits import add_items, add_pulls, change_insert, placement_id
from cozy_burrow.core.model.records import Container, FingerPull, Insert, Item, Placement, Project, Rules
from cozy_burrow.core.model.vessels import Corner, Piece, Stores, Supplier, Taped
from cozy_burrow.jobs.kit_file import read_kit


def sources() -> dict[str, Any]:
    """Return what the demo's containers, inserts and stores are made from."""
    return tomllib.loads(asset("demo", "containers.toml").read_text(encoding="utf-8"))


def build_bare() -> Project:
    """Return the demo's kit, containers and inserts with nothing laid in."""
    plan = sources()
    items: list[Item] = []
    for name in dict.fromkeys(row["kit"] for row in plan["inserts"]):
        items += add_items(Project(items=tuple(items)), read_kit(asset("demo", name)).items).items[len(items) :]
    boards = {board.id: board for board in shipped_stores().boards}
    inserts = []
    for row in plan["inserts"]:
        fields = {key: value for key, value in row.items() if key not in {"kit", "groups", "sheets"}}
        sheets = tuple(sheet_of(boards[sheet["board_id"]]) for sheet in row["sheets"])
        inserts.append(msgspec.structs.replace(msgspec.convert(fields, Insert), sheets=sheets))
    return Project(
        title=plan["title"],
        items=tuple(items),
        containers=tuple(_container(row) for row in plan["containers"]),
        inserts=tuple(inserts),
        rules=Rules(**plan["rules"]),
    )


def _container(row: dict[str, Any]) -> Container:
    fields = {key: value for key, value in row.items() if key not in {"sketch", "taped"}}
    container = msgspec.convert(fields, Container)
    if "sketch" not in row:
        return container
    corners = tuple(Corner(name=name, x_mm=x, y_mm=y) for name, x, y in row["sketch"])
    taped = tuple(Taped(first=a, second=b, length_mm=length) for a, b, length in row["taped"])
    return with_taped(container, corners, taped)


def build_demo() -> Project:
    """Return the demo project made from kits, drawings, containers and the layout."""
    project = build_bare()
    by_name = {item.name: item.id for item in project.items}
    layout = tomllib.loads(asset("demo", "layout.toml").read_text(encoding="utf-8"))
    for insert_id, laid in layout.items():
        placements = tuple(
            Placement(
                id=placement_id(by_name[one["name"]], one["copy"]),
                item_id=by_name[one["name"]],
                copy=one["copy"],
                x_mm=one["x_mm"],
                y_mm=one["y_mm"],
                angle_deg=one["angle_deg"],
                zone_layers=tuple(one["zone_layers"]) if "zone_layers" in one else None,
                risers_mm=tuple(map(float, one["risers_mm"])) if "risers_mm" in one else None,
            )
            for one in laid.get("placements", [])
        )
        project = change_insert(project, insert_id, placements=placements)
        pulls = [
            FingerPull(
                id="",
                kind=one["kind"],
                serves=tuple(placement_id(by_name[name], copy) for name, copy in one["serves"]),
                points_mm=tuple((float(x), float(y)) for x, y in one["points_mm"]),
                width_mm=one["width_mm"],
                layers=one.get("layers"),
            )
            for one in laid.get("pulls", [])
        ]
        project = add_pulls(project, insert_id, pulls)
    return project


def demo_stores() -> Stores:
    """Return the shipped foams with the demo's prices, its shelf and its supplier."""
    rows = sources()["stores"]
    seller = Supplier(**rows["suppliers"][0])
    boards = tuple(
        msgspec.structs.replace(board, price=rows["prices"].get(board.id), supplier=seller.name)
        for board in shipped_stores().boards
    )
    by_id = {board.id: board for board in boards}
    shelf = tuple(
        Piece(
            id=row["id"],
            board=by_id[row["board_id"]],
            sides_mm=tuple(row["sides_mm"]),
            diagonal_mm=row["diagonal_mm"],
            bow_mm=tuple(row["bow_mm"]),
            note=row["note"],
        )
        for row in rows["shelf"]
    )
    return Stores(
        boards=boards,
        shelf=shelf,
        suppliers=(seller,),
        cutting=rows["cutting"],
        kerf_mm=rows["kerf_mm"],
        currency=rows["currency"],
        hour_rate=rows["hour_rate"],
        blade_price=rows["blade_price"],
    )
