"""Containers to start from, more tiers in one, and sketches of odd outlines: figures to be changed, not to be kept."""

from __future__ import annotations

from msgspec.structs import replace

from cozy_burrow.core.container.bay import tiers_of
from cozy_burrow.core.container.survey import LETTERS
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.edits import free_id, insert_of, take_out
from cozy_burrow.core.model.records import Container, Insert, Project, Sheet
from cozy_burrow.core.model.vessels import Corner, Handle, Lid, Obstacle
from cozy_burrow.core.tongue import marked, tr

SKETCHES: dict[str, tuple[tuple[float, float], ...]] = {
    marked("four corners"): ((0, 0), (400, 0), (400, 300), (0, 300)),
    marked("one corner cut off"): ((0, 0), (280, 0), (400, 100), (400, 300), (0, 300)),
    marked("a bowed front"): ((0, 0), (400, 0), (400, 300), (200, 312), (0, 300)),
    marked("an angle"): ((0, 0), (400, 0), (400, 160), (220, 160), (220, 300), (0, 300)),
}


def _screw(name: str, x_mm: float, y_mm: float) -> Obstacle:
    ring = ((x_mm - 6, y_mm - 6), (x_mm + 6, y_mm - 6), (x_mm + 6, y_mm + 6), (x_mm - 6, y_mm + 6))
    return Obstacle(name=name, kind="fixing", ring=ring, high_mm=6.0)


STARTS: dict[str, Container] = {
    marked("a drawer"): Container(name=tr("Drawer")),
    marked("a drawer with a lip"): Container(name=tr("Drawer"), width_mm=400.0, depth_mm=500.0, front_lip_mm=8.0),
    marked("a straight case"): Container(
        name=tr("Case"),
        kind="case",
        width_mm=400.0,
        depth_mm=300.0,
        height_mm=110.0,
        lid=Lid(depth_mm=30.0, foam_mm=25.0, give_mm=8.0),
        handle=Handle(side="front", along_mm=200.0, height_mm=100.0),
    ),
    marked("a moulded case"): Container(
        name=tr("Case"),
        kind="case",
        width_mm=430.0,
        depth_mm=320.0,
        height_mm=120.0,
        corner_radius_mm=40.0,
        base_corner_radius_mm=34.0,
        draft_deg=(3.0, 3.0, 3.0, 3.0),
        base_edge_radius_mm=14.0,
        lid=Lid(depth_mm=34.0, foam_mm=25.0, give_mm=8.0),
        handle=Handle(side="front", along_mm=215.0, height_mm=105.0),
    ),
    marked("a wall panel"): Container(
        name=tr("Wall panel"),
        kind="wall",
        width_mm=600.0,
        depth_mm=500.0,
        height_mm=50.0,
        obstacles=(
            _screw(tr("screw 1"), 22, 22),
            _screw(tr("screw 2"), 578, 22),
            _screw(tr("screw 3"), 22, 478),
            _screw(tr("screw 4"), 578, 478),
        ),
    ),
}


def sketched(name: str) -> tuple[Corner, ...]:
    """Return the corners of a sketch to name and tape, lettered in their order round."""
    return tuple(Corner(name=LETTERS[n], x_mm=float(x), y_mm=float(y)) for n, (x, y) in enumerate(SKETCHES[name]))


def add_container(project: Project, start: str) -> tuple[Project, str]:
    """Return the project with one more container and an insert in it, and the insert's id."""
    container = STARTS[start]
    taken = {one.name for one in project.containers} | {one.name for one in project.inserts}
    name, number = container.name, 2
    while name in taken:
        name, number = f"{container.name} {number}", number + 1
    container = replace(container, name=name, id=free_id("container", [one.id for one in project.containers]))
    insert = Insert(id=free_id("insert", [one.id for one in project.inserts]), name=name, container_id=container.id)
    return (
        replace(project, containers=(*project.containers, container), inserts=(*project.inserts, insert)),
        insert.id,
    )


def add_tier(project: Project, insert_id: str) -> tuple[Project, str]:
    """Return the project with one more tier on top of an insert's container, and the new insert's id."""
    below = insert_of(project, insert_id)
    tiers = tiers_of(project, below.container_id)
    number = len(tiers) + 1
    name = tr(
        "{next}, tier {number}",
        next=next(one.name for one in project.containers if one.id == below.container_id),
        number=number,
    )
    new = Insert(
        id=free_id("insert", [one.id for one in project.inserts]),
        name=name,
        container_id=below.container_id,
        sheets=(Sheet(name="20/10", thickness_mm=20.0),),
        press_fit_mm=below.press_fit_mm,
        lift_straps=True,
    )
    at = project.inserts.index(tiers[0])
    return replace(project, inserts=(*project.inserts[:at], new, *project.inserts[at:])), new.id


def remove_insert(project: Project, insert_id: str) -> Project:
    """Return the project without an insert; its things go back to the tray, its container goes with its last tier.

    Raises UnusableInput for the only insert.
    """
    if len(project.inserts) == 1:
        raise UnusableInput(tr("this is the only insert"), remedy=tr("begin a new project, or change this one"))
    insert = insert_of(project, insert_id)
    project = take_out(project, insert_id, [one.id for one in insert.placements])
    inserts = tuple(one for one in project.inserts if one.id != insert_id)
    used = {one.container_id for one in inserts}
    containers = tuple(one for one in project.containers if one.id in used)
    return replace(project, inserts=inserts, containers=containers)
