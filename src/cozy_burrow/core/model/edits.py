"""Changes to a plan as pure functions: a project comes in, another comes out that shares the rest."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any

from msgspec.structs import replace

from cozy_burrow.core.errors import Gone, UnusableInput
from cozy_burrow.core.model.records import Container, FingerPull, Insert, Item, Placement, Project, Ring
from cozy_burrow.core.tongue import tr


def item_of(project: Project, item_id: str) -> Item:
    """Return the item with this id; raises Gone where there is none."""
    for item in project.items:
        if item.id == item_id:
            return item
    raise Gone(tr("this item"))


def insert_of(project: Project, insert_id: str) -> Insert:
    """Return the insert with this id; raises Gone where there is none."""
    for insert in project.inserts:
        if insert.id == insert_id:
            return insert
    raise Gone(tr("this insert"))


def container_of(project: Project, insert: Insert) -> Container:
    """Return the container that an insert stands in; raises Gone where there is none."""
    for container in project.containers:
        if container.id == insert.container_id:
            return container
    raise Gone(tr("the container of this insert"))


def placement_of(insert: Insert, placement_id: str) -> Placement:
    """Return the placement with this id; raises Gone where there is none."""
    for placement in insert.placements:
        if placement.id == placement_id:
            return placement
    raise Gone(tr("what lay here"))


def placement_id(item_id: str, copy: int) -> str:
    """Return the id that the placement of this copy always has."""
    return f"{item_id}#{copy}"


def copy_of(project: Project, key: str) -> tuple[Item, int]:
    """Return the item and the copy that a placement's id names; raises Gone where there is none."""
    item_id, _, copy = key.rpartition("#")
    item = item_of(project, item_id)
    if not (copy.isascii() and copy.isdigit()) or not 1 <= int(copy[:9]) <= item.quantity:
        raise Gone(tr("this copy of '{name}'", name=item.name))
    return item, int(copy)


def free_id(stem: str, taken: Iterable[str]) -> str:
    """Return `stem-1`, `stem-2`, … whichever is the first not taken."""
    used = set(taken)
    number = 1
    while f"{stem}-{number}" in used:
        number += 1
    return f"{stem}-{number}"


def with_insert(project: Project, insert: Insert) -> Project:
    """Return the project with the insert of this id replaced."""
    return replace(project, inserts=tuple(insert if old.id == insert.id else old for old in project.inserts))


def change_insert(project: Project, insert_id: str, **fields: Any) -> Project:
    """Return the project with some fields of one insert replaced. Into other foam nothing has been glued yet."""
    old = insert_of(project, insert_id)
    new = replace(old, **fields)
    if new.glued and new.glued is old.glued and _layered(new) != _layered(old):
        new = replace(new, glued=())
    return with_insert(project, new)


def _layered(insert: Insert) -> list[tuple[float, float, str]]:
    return [(sheet.thickness_mm, sheet.pitch_mm, sheet.material) for sheet in insert.sheets]


def change_container(project: Project, container: Container) -> Project:
    """Return the project with the container of this id replaced, for every tier that stands in it."""
    return replace(
        project, containers=tuple(container if old.id == container.id else old for old in project.containers)
    )


def change_placements(
    project: Project, insert_id: str, ids: Iterable[str], change: Callable[[Placement], Placement]
) -> Project:
    """Return the project with `change` applied to the named placements."""
    wanted = set(ids)
    insert = insert_of(project, insert_id)
    return change_insert(
        project,
        insert_id,
        placements=tuple(change(one) if one.id in wanted else one for one in insert.placements),
    )


def move_placements(project: Project, insert_id: str, ids: Iterable[str], *, dx_mm: float, dy_mm: float) -> Project:
    """Move the named placements; locked ones stay."""
    return change_placements(
        project,
        insert_id,
        ids,
        lambda one: one if one.locked else replace(one, x_mm=one.x_mm + dx_mm, y_mm=one.y_mm + dy_mm),
    )


def turn_placements(project: Project, insert_id: str, ids: Iterable[str], *, by_deg: float) -> Project:
    """Turn each named placement about its own origin; locked ones stay."""
    return change_placements(
        project,
        insert_id,
        ids,
        lambda one: one if one.locked else replace(one, angle_deg=(one.angle_deg + by_deg) % 360.0),
    )


def lock_placements(project: Project, insert_id: str, ids: Iterable[str], *, locked: bool) -> Project:
    """Lock or free the named placements."""
    return change_placements(project, insert_id, ids, lambda one: replace(one, locked=locked))


def lay_in(
    project: Project, insert_id: str, item_id: str, *, x_mm: float, y_mm: float, angle_deg: float = 0.0
) -> Project:
    """Put the next free copy of an item into the insert. Raises UnusableInput where every copy lies somewhere."""
    item = item_of(project, item_id)
    copy = next_copy(project, item)
    if copy is None:
        raise UnusableInput(
            tr("every '{name}' has its place already", name=item.name), remedy=tr("raise its quantity first")
        )
    insert = insert_of(project, insert_id)
    new = Placement(
        id=placement_id(item_id, copy), item_id=item_id, copy=copy, x_mm=x_mm, y_mm=y_mm, angle_deg=angle_deg
    )
    return change_insert(project, insert_id, placements=(*insert.placements, new))


def next_copy(project: Project, item: Item) -> int | None:
    """Return the lowest copy of the item that lies nowhere, or None."""
    used = {one.copy for insert in project.inserts for one in insert.placements if one.item_id == item.id}
    return next((copy for copy in range(1, item.quantity + 1) if copy not in used), None)


def check_waiting(project: Project, item: Item, copy: int) -> None:
    """Raise UnusableInput where a copy of an item lies somewhere already, or is none of the item's."""
    if not 1 <= copy <= item.quantity:
        raise Gone(tr("copy {copy} of '{name}'", copy=copy, name=item.name))
    key = placement_id(item.id, copy)
    if any(one.id == key for insert in project.inserts for one in insert.placements):
        raise UnusableInput(
            tr("'{name}' has its place already", name=item.name),
            remedy=tr("look where it lies before you lay it again"),
        )


def unplaced(project: Project) -> tuple[tuple[Item, int], ...]:
    """Return (item, copy) for everything in the kit that lies in no insert, in the kit's order."""
    laid = {one.id for insert in project.inserts for one in insert.placements}
    return tuple(
        (item, copy)
        for item in project.items
        for copy in range(1, item.quantity + 1)
        if placement_id(item.id, copy) not in laid
    )


def take_out(project: Project, insert_id: str, ids: Iterable[str]) -> Project:
    """Take placements back to the tray, with the pulls that served nothing else."""
    gone = set(ids)
    insert = insert_of(project, insert_id)
    return change_insert(
        project,
        insert_id,
        placements=tuple(one for one in insert.placements if one.id not in gone),
        pulls=_pulls_without(insert.pulls, gone),
    )


def _pulls_without(pulls: Iterable[FingerPull], gone: set[str]) -> tuple[FingerPull, ...]:
    kept = []
    for pull in pulls:
        serves = tuple(one for one in pull.serves if one not in gone)
        if serves:
            kept.append(pull if serves == pull.serves else replace(pull, serves=serves))
    return tuple(kept)


def add_items(project: Project, items: Iterable[Item]) -> Project:
    """Add items to the kit, giving each a free id."""
    taken = {item.id for item in project.items}
    added = []
    for item in items:
        new_id = item.id if item.id not in taken else free_id("item", taken)
        taken.add(new_id)
        added.append(replace(item, id=new_id))
    return replace(project, items=(*project.items, *added))


def change_item(project: Project, item: Item) -> Project:
    """Replace the item of this id; copies beyond its quantity and hand-set layers of other zones go."""
    old = item_of(project, item.id)
    project = replace(project, items=tuple(item if one.id == item.id else one for one in project.items))
    for insert in project.inserts:
        surplus = [one.id for one in insert.placements if one.item_id == item.id and one.copy > item.quantity]
        if surplus:
            project = take_out(project, insert.id, surplus)
        if len(old.zones) != len(item.zones):
            mine = [one.id for one in insert.placements if one.item_id == item.id]
            project = change_placements(
                project, insert.id, mine, lambda one: replace(one, zone_layers=None, risers_mm=None)
            )
    return project


def remove_items(project: Project, ids: Iterable[str]) -> Project:
    """Take items out of the kit and out of every insert."""
    gone = set(ids)
    for insert in project.inserts:
        laid = [one.id for one in insert.placements if one.item_id in gone]
        if laid:
            project = take_out(project, insert.id, laid)
    return replace(project, items=tuple(item for item in project.items if item.id not in gone))


def add_pulls(project: Project, insert_id: str, pulls: Iterable[FingerPull]) -> Project:
    """Add finger pulls, giving each a free id."""
    insert = insert_of(project, insert_id)
    taken = [pull.id for pull in insert.pulls]
    added = []
    for pull in pulls:
        new_id = free_id("pull", taken)
        taken.append(new_id)
        added.append(replace(pull, id=new_id))
    return change_insert(project, insert_id, pulls=(*insert.pulls, *added))


def remove_pulls(project: Project, insert_id: str, ids: Iterable[str]) -> Project:
    """Take finger pulls away."""
    gone = set(ids)
    insert = insert_of(project, insert_id)
    return change_insert(project, insert_id, pulls=tuple(pull for pull in insert.pulls if pull.id not in gone))


def change_pull(project: Project, insert_id: str, pull: FingerPull) -> Project:
    """Replace the finger pull of this id."""
    insert = insert_of(project, insert_id)
    return change_insert(project, insert_id, pulls=tuple(pull if one.id == pull.id else one for one in insert.pulls))


def keep_free(project: Project, insert_id: str, ring: Ring) -> Project:
    """Keep an area of an insert free for what comes later. Raises UnusableInput where it is hardly an area."""
    xs, ys = [x for x, _ in ring], [y for _, y in ring]
    if max(xs) - min(xs) < 5.0 or max(ys) - min(ys) < 5.0:
        raise UnusableInput(tr("that area is too small to keep free"), remedy=tr("draw one of 5 mm at least each way"))
    insert = insert_of(project, insert_id)
    return change_insert(project, insert_id, spare=(*insert.spare, ring))


def free_again(project: Project, insert_id: str) -> Project:
    """Let everything in an insert be used again."""
    return change_insert(project, insert_id, spare=())
