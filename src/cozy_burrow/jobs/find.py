"""Where is it? An item by its name in all projects of a folder: file, container, insert, place."""

from __future__ import annotations

import os
from collections.abc import Iterator
from pathlib import Path

from msgspec.structs import replace

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.kit.alike import by_words
from cozy_burrow.core.model.edits import container_of, placement_id
from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Item, Outline, Project
from cozy_burrow.core.progress import Token
from cozy_burrow.core.tongue import tr
from cozy_burrow.storage.project_file import load

MOST_FILES, MOST_DEPTH, MOST_FOUND = 500, 3, 200
Mark = tuple[int, int, int]


class Found(Frozen):
    """A copy of an item in a project's file. insert_id empty: it is in the kit and lies nowhere. where: in words."""

    __slots__ = ("insert_id", "key", "name", "path", "title", "where")

    def __init__(self, path: Path, title: str, insert_id: str, key: str, name: str, where: str) -> None:
        self.path, self.title, self.insert_id = path, title, insert_id
        self.key, self.name, self.where = key, name, where


class Listing(Frozen):
    """What is remembered of a project: its items without their shapes and photos, and where each copy lies.

    A folder of projects would fill the memory. places: name, insert and place in words, by item, copy by copy.
    measures: of those that come from My items, by the name under which they are kept.
    """

    __slots__ = ("items", "measures", "places", "title")

    def __init__(self, project: Project) -> None:
        self.title = project.title
        self.items = tuple(replace(one, outline=_NO_SHAPE, zones=(), photo=None) for one in project.items)
        self.places = {one.id: tuple(_places(project, one)) for one in project.items}
        self.measures = {one.kept_as: measures_of(one) for one in project.items if one.kept_as}


Measures = tuple[float, ...]


def measures_of(item: Item) -> Measures:
    """Return what tells whether two items measure alike: area, rim, heights and mass, each to a tenth."""
    outline = polygon_of(item.outline)
    heights = [height for zone in item.zones for height in (zone.lowest_mm, zone.highest_mm)]
    return tuple(round(one, 1) for one in (outline.area, outline.length, *heights, item.mass_g or 0.0))


def as_before(folder: Folder, key: str, item: Item, *, besides: Path) -> tuple[str, ...]:
    """Return the titles of other projects of a folder that have what is kept under a key otherwise than it is now."""
    now = measures_of(item)
    return tuple(
        listing.title
        for path, listing in folder.projects.items()
        if path != besides and listing.measures.get(key, now) != now
    )


_NO_SHAPE = Outline(outer=())
_Place = tuple[str, str, str, str]  # key, name, insert's id or nothing, in words


def _places(project: Project, item: Item) -> Iterator[_Place]:
    laid = {one.id: insert for insert in project.inserts for one in insert.placements if one.item_id == item.id}
    for copy in range(1, min(item.quantity, MOST_FOUND) + 1):
        key = placement_id(item.id, copy)
        insert = laid.get(key)
        where = tr("not placed yet")
        if insert is not None:
            box = container_of(project, insert)
            where = insert.name if insert.name == box.name else f"{box.name}, {insert.name}"
            if box.place:
                where = f"{box.place}, {where}"
        yield key, placement_name(project, key), insert.id if insert is not None else "", where


class Folder(Frozen):
    """The projects of a folder. troubles: a sentence for each that can't be read; marks: what the files were."""

    __slots__ = ("marks", "projects", "troubles")

    def __init__(
        self, projects: dict[Path, Listing], troubles: tuple[str, ...] = (), marks: dict[Path, Mark] | None = None
    ) -> None:
        self.projects, self.troubles, self.marks = projects, troubles, marks or {}


def read_projects(folder: Path, known: Folder | None = None, *, token: Token) -> Folder:
    """Return all projects in a folder and the folders in it. known: read before; what is unchanged is not read again.

    Raises UnusableInput where the folder can't be read, Cancelled.
    """
    if not folder.is_dir():
        raise UnusableInput(tr("there is no such folder"), where=str(folder), remedy=tr("choose another folder"))
    paths = sorted(set(_files(folder, MOST_DEPTH)))[:MOST_FILES]
    projects: dict[Path, Listing] = {}
    marks: dict[Path, Mark] = {}
    troubles = []
    for number, path in enumerate(paths):
        token.step(number / len(paths))
        try:
            stat = path.stat()
            mark = (stat.st_ino, stat.st_size, stat.st_mtime_ns)
            if known is not None and known.marks.get(path) == mark:
                projects[path] = known.projects[path]
            else:
                projects[path] = Listing(load(path))
            marks[path] = mark
        except (UnusableInput, OSError) as error:
            troubles.append(error.sentence() if isinstance(error, UnusableInput) else f"{path.name}: {error.strerror}")
    return Folder(projects, tuple(troubles), marks)


def _files(folder: Path, depth: int) -> Iterator[Path]:
    """Yield the projects in a folder and in those within it; links are not followed, they may go round in circles."""
    try:
        with os.scandir(folder) as entries:
            for entry in sorted(entries, key=lambda one: one.name):
                if entry.name.startswith("."):
                    continue
                if entry.is_dir(follow_symlinks=False):
                    if depth > 1:
                        yield from _files(Path(entry.path), depth - 1)
                elif entry.name.lower().endswith(".burrow") and entry.is_file():
                    yield Path(entry.path)
    except OSError:
        return  # one folder that may not be read hides nothing of the others


def found_in(folder: Folder, text: str) -> tuple[Found, ...]:
    """Return where items that a text finds lie, by `by_words`; those that lie somewhere before those that wait."""
    if not text.strip():
        return ()
    found = []
    for path, listing in folder.projects.items():
        for rank, number in enumerate(by_words(listing.items, text)):
            for copy, (key, name, insert_id, where) in enumerate(listing.places[listing.items[number].id]):
                one = Found(path, listing.title, insert_id, key, name, where)
                found.append((not insert_id, rank, path, copy, one))
    return tuple(one[-1] for one in sorted(found, key=lambda one: one[:4])[:MOST_FOUND])
