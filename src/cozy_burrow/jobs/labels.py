"""What stands on labels: of containers, of inserts, of places, and at the bottom of pockets."""

from __future__ import annotations

from typing import Literal

from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.keep.floor_label import floor_label, floor_of
from cozy_burrow.core.model.edits import item_of
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Item, Project
from cozy_burrow.core.tongue import tr, trn
from cozy_burrow.core.units import format_length
from cozy_burrow.export.label_sheets_pdf import FloorPiece, Label
from cozy_burrow.export.lettering import BOLD, width_of

What = Literal["containers", "inserts", "places", "marks"]
WHAT_NAMES: dict[What, str] = {
    "places": tr("Places: one an item"),
    "marks": tr("Size marks: one an item of a set"),
    "inserts": tr("Inserts: one each"),
    "containers": tr("Drawers and cases: one each"),
}
_MOST_MARK = 8  # characters: what is longer is no mark but a name
_FILL = 0.62  # of a floor label's height that its letters take


def labels_of(project: Project, what: What, *, insert_id: str | None = None, with_picture: bool = False) -> list[Label]:
    """Return the labels of one kind. insert_id: only what belongs to this insert; None: all. with_picture: of items."""
    inserts = [one for one in project.inserts if insert_id in (None, one.id)]
    if what == "places":
        return [
            Label(
                name=placement_name(project, one.id),
                second=second_line(project, item_of(project, one.item_id)),
                shape=polygon_of(item_of(project, one.item_id).outline) if with_picture else None,
            )
            for insert in inserts
            for one in insert.placements
        ]
    if what == "marks":
        marks = size_marks(project)
        return [
            Label(name=marks[one.item_id]) for insert in inserts for one in insert.placements if one.item_id in marks
        ]
    if what == "inserts":
        return [
            Label(
                name=insert.name,
                second=trn("{count} item", "{count} items", len(insert.placements)),
            )
            for insert in inserts
        ]
    wanted = {insert.container_id for insert in inserts}
    found = []
    for box in project.containers:
        if box.id in wanted:
            names = ", ".join(
                one.name for one in project.inserts if one.container_id == box.id and one.name != box.name
            )
            found.append(Label(name=box.name, second=" · ".join(filter(None, (box.place, names)))))
    return found


def size_marks(project: Project) -> dict[str, str]:
    """Return what tells the items of each group apart in a few letters, by their ids.

    What their names have not in common (10 of ‘spanner 10’), else their lengths; a group that neither tells apart has
    no marks.
    """
    groups: dict[str, list[Item]] = {}
    for item in project.items:
        if item.group:
            groups.setdefault(item.group, []).append(item)
    found: dict[str, str] = {}
    for kin in groups.values():
        marks = _apart([one.name for one in kin])
        if not marks:
            marks = [format_length(_length_mm(one), project.units, digits=0) for one in kin]
        if len(kin) > 1 and len(set(marks)) == len(kin):
            found |= {one.id: mark for one, mark in zip(kin, marks)}
    return found


def _apart(names: list[str]) -> list[str]:
    """Return each name without the words that all begin or end with; nothing where that leaves no short marks."""
    words = [name.split() for name in names]
    for end in (0, -1):
        while all(words) and len({one[end].casefold() for one in words}) == 1:
            for one in words:
                one.pop(end)
    marks = [" ".join(one) for one in words]
    return marks if all(0 < len(mark) <= _MOST_MARK for mark in marks) else []


def _length_mm(item: Item) -> float:
    left, top, right, low = polygon_of(item.outline).bounds
    return float(max(right - left, low - top))


def second_line(project: Project, item: Item) -> str:
    """Return what is said below an item's name: its size where others of its group are told apart by it, its notes."""
    kin = [one for one in project.items if item.group and one.group == item.group]
    told = []
    if len(kin) > 1:
        told.append(format_length(_length_mm(item), project.units, digits=0))
    if item.notes:
        told.append(item.notes)
    return " · ".join(told)


def floor_pieces(project: Project, insert_id: str) -> tuple[list[FloorPiece], list[str]]:
    """Return a label for the floor of every pocket of an insert, and the names of items whose floor has no room."""
    insert = next(one for one in project.inserts if one.id == insert_id)
    ground = ground_of(project, insert)
    pieces, without = [], []
    for key, pocket in ground.pockets.items():
        name = placement_name(project, key)
        proportion = max(1.5, width_of(name[:60], BOLD, _FILL) + 0.6)
        found = floor_label(floor_of(pocket), proportion)
        if found is None:
            without.append(name)
        else:
            pieces.append(FloorPiece(text=name, width_mm=found.width_mm, height_mm=found.height_mm, whose=insert.name))
    return pieces, without
