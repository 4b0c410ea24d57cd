"""What is kept outside projects, one file each: items in `things/NAME.json`, containers in `containers/NAME.json`.

Files are written whole or not at all. A damaged one is said, the others are as they were. Two windows may keep things
at the same time: where both changed one, both of theirs stay, the later one under a name of its own.

History of the format (`format` in the file): 1 the first.
"""

from __future__ import annotations

import contextlib
import hashlib
import os
import re
import unicodedata
import uuid
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, Generic, TypeVar

import msgspec
from msgspec.structs import replace

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Container, Insert, Item, Project, Record
from cozy_burrow.core.tongue import tr
from cozy_burrow.storage.alone import alone
from cozy_burrow.storage.sound import check_sound
from cozy_burrow.storage.whole_file import read_whole, write_whole

REMOVED = "removed"
FORMAT = 1
MOST = 5_000
MOST_BYTES = 8_000_000
_ID = "kept"  # of every record in a file: projects give their own
T = TypeVar("T", Item, Container)


class ItemDocument(Record, frozen=True, kw_only=True):
    """What the file of an item holds."""

    format: int
    item: Item


class ContainerDocument(Record, frozen=True, kw_only=True):
    """What the file of a container holds."""

    format: int
    container: Container


@dataclass(frozen=True)
class Kept(Generic[T]):
    """Something that is kept, under the name of its file. what: without its photo, which is only in the file.

    digest: of the file, by which it is seen whether somebody else has changed it.
    """

    key: str
    what: T
    digest: str = ""


@dataclass(frozen=True)
class Shelf(Generic[T]):
    """All that is kept, by key; what could not be read, a sentence each; what each file was when it was read."""

    kept: tuple[Kept[T], ...] = ()
    troubles: tuple[str, ...] = ()
    marks: Mapping[str, tuple[int, int, int]] = field(default_factory=dict)


class Keeper(Generic[T]):
    """Reads and writes one kind of record, each in a file of a folder within the folder that it is given."""

    def __init__(
        self,
        folder: str,
        document: type[Any],
        name: str,
        cleaned: Callable[[T], T],
        alone: Callable[[T], Project],
        light: Callable[[T], T],
    ) -> None:
        """name: of the record in its document. cleaned: without what belongs to a project. alone: a project of it.

        light: without what a thousand of them would fill the memory with.
        """
        self.folder, self._document, self._name = folder, document, name
        self._cleaned: Callable[[T], T] = cleaned
        self._alone: Callable[[T], Project] = alone
        self._light: Callable[[T], T] = light

    def from_bytes(self, data: bytes, *, where: str) -> T:
        """Return the record in the bytes of a file. Raises UnusableInput."""
        try:
            document = msgspec.json.decode(data, type=self._document)
        except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
            raise UnusableInput(
                tr("the file is damaged: {error}", error=error), where=where, remedy=tr("mend it, or take it away")
            ) from error
        if document.format > FORMAT:
            raise UnusableInput(
                tr("the file is of a newer program"), where=where, remedy=tr("bring this one up to date")
            )
        what: T = self._cleaned(getattr(document, self._name))
        check_sound(self._alone(what), where=where)
        return what

    def to_bytes(self, what: T) -> bytes:
        """Return a record as the bytes of a file."""
        document = self._document(format=FORMAT, **{self._name: self._cleaned(what)})
        return msgspec.json.format(msgspec.json.encode(document), indent=1)

    def read(self, folder: Path, known: Shelf[T] | None = None) -> Shelf[T]:
        """Return what is kept. known: read before; what has not changed is not read again.

        Raises UnusableInput where the folder itself can't be read.
        """
        place = folder / self.folder
        old = {one.key: one for one in known.kept} if known is not None else {}
        marks: dict[str, tuple[int, int, int]] = {}
        kept: list[Kept[T]] = []
        troubles = []
        for name, mark in sorted(_files(place).items()):
            key = name.removesuffix(".json")
            if known is not None and known.marks.get(key) == mark and key in old:
                kept.append(old[key])
            else:
                try:
                    data = read_whole(place / name, most=MOST_BYTES)
                    kept.append(Kept(key, self._light(self.from_bytes(data, where=name)), _digest(data)))
                except UnusableInput as error:
                    troubles.append(error.sentence())
                    continue
            marks[key] = mark
        return Shelf(tuple(kept), tuple(troubles), marks)

    def whole(self, folder: Path, key: str) -> T:
        """Return what is kept under a key as it is in its file. Raises UnusableInput."""
        path = folder / self.folder / f"{key}.json"
        return self.from_bytes(read_whole(path, most=MOST_BYTES), where=path.name)

    def keep(self, folder: Path, what: T, *, before: Kept[T] | None = None) -> Kept[T]:
        """Keep a record, and return it with its key. Raises UnusableInput where it can't be written.

        before: what it takes the place of, as it was read; where somebody else has changed that since, theirs stays
        and this one gets a key of its own. None: it is a new one.
        """
        place = folder / self.folder
        key = before.key if before is not None else new_key(what.name)
        whole = self._as_read(what)  # what is written can be read again
        data = self.to_bytes(whole)
        with alone(place / f"{key}.json"):
            path = place / f"{key}.json"
            if before is not None and path.exists():
                theirs = read_whole(path, most=MOST_BYTES)
                if _digest(theirs) != before.digest and theirs != data:
                    key = new_key(what.name)
                    path = place / f"{key}.json"
            write_whole(path, data)
        return Kept(key, self._light(whole), _digest(data))

    def _as_read(self, what: T) -> T:
        """Return a record as it comes out of its file: 20 is 20.0 there."""
        return self.from_bytes(self.to_bytes(what), where=what.name[:60])

    def remove(self, folder: Path, key: str) -> None:
        """Take something off the shelf; its file goes to `removed`. Raises UnusableInput where it can't."""
        place = folder / self.folder
        try:
            (place / REMOVED).mkdir(parents=True, exist_ok=True)
            (place / f"{key}.json").replace(place / REMOVED / f"{key}.json")
        except FileNotFoundError:
            return  # another window was first
        except (OSError, ValueError) as error:
            raise UnusableInput(
                tr("it cannot be taken away ({reason})", reason=getattr(error, "strerror", None) or error),
                where=str(place),
                remedy=tr("check the folder"),
            ) from error


def _files(place: Path) -> dict[str, tuple[int, int, int]]:
    found: dict[str, tuple[int, int, int]] = {}
    try:
        with os.scandir(place) as entries:
            for entry in entries:
                if entry.name.endswith(".json") and not entry.name.startswith(".") and len(found) < MOST:
                    with contextlib.suppress(OSError):
                        stat = entry.stat()
                        found[entry.name] = (stat.st_ino, stat.st_size, stat.st_mtime_ns)
    except FileNotFoundError:
        return {}
    except OSError as error:
        raise UnusableInput(
            tr("the folder cannot be read ({strerror})", strerror=error.strerror),
            where=str(place),
            remedy=tr("check its permissions"),
        ) from error
    return found


def _digest(data: bytes) -> str:
    return hashlib.blake2b(data, digest_size=16).hexdigest()


def new_key(name: str) -> str:
    """Return a key that nothing else has, with the name in it for those who look into the folder."""
    return f"{slug(name)}-{uuid.uuid4().hex[:8]}"


def slug(name: str) -> str:
    """Return a name as a file's: small letters, figures and dashes."""
    apart = unicodedata.normalize("NFKD", name.casefold())
    return re.sub(r"[^a-z0-9]+", "-", apart).strip("-")[:40].strip("-") or "item"


def _item_alone(item: Item) -> Project:
    return Project(items=(item,))


def _container_alone(container: Container) -> Project:
    insert = Insert(id="insert-1", name=container.name, container_id=container.id)
    return Project(containers=(container,), inserts=(insert,))


THINGS: Keeper[Item] = Keeper(
    "things",
    ItemDocument,
    "item",
    lambda one: replace(one, id=_ID, quantity=1, kept_as=""),
    _item_alone,
    lambda one: replace(one, photo=None),
)
CONTAINERS: Keeper[Container] = Keeper(
    "containers",
    ContainerDocument,
    "container",
    lambda one: replace(one, id=_ID, place=""),
    _container_alone,
    lambda one: one,
)
