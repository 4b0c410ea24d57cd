"""Files read and written whole: what is no ordinary file is refused, what is written is there entirely or not at all.

Mark   what a file was when this program last read or wrote it; tells whether somebody else has changed it since
"""

from __future__ import annotations

import contextlib
import hashlib
import os
import stat
import uuid
from collections.abc import Mapping
from pathlib import Path

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Record
from cozy_burrow.core.tongue import tr

MOST_BYTES = 64_000_000
_LONGEST_STEM = 80  # of a name of 255 bytes something must be left for what makes the temporary name unlike others


class Mark(Record, frozen=True, kw_only=True):
    """What a file was: which one it is on its disk, when it was written, how long it is, what is in it."""

    device: int
    inode: int
    size: int
    written_ns: int
    digest: str


def _mark(found: os.stat_result, data: bytes) -> Mark:
    return Mark(
        device=found.st_dev,
        inode=found.st_ino,
        size=found.st_size,
        written_ns=found.st_mtime_ns,
        digest=hashlib.blake2b(data, digest_size=16).hexdigest(),
    )


def mark_of(path: Path) -> Mark | None:
    """Return what a file is now; None where there is none that can be read."""
    try:
        return read_marked(path)[1]
    except UnusableInput:
        return None


def read_whole(path: Path, *, most: int = MOST_BYTES) -> bytes:
    """Return a file's bytes; raises UnusableInput in words where it cannot be read.

    A pipe or a device would never end: what is no ordinary file is not opened at all.
    """
    return read_marked(path, most=most)[0]


def read_marked(path: Path, *, most: int = MOST_BYTES) -> tuple[bytes, Mark]:
    """Return a file's bytes and its mark. Raises UnusableInput as read_whole does."""
    where = str(path)
    try:
        found = path.stat()
        if stat.S_ISDIR(found.st_mode):
            raise UnusableInput(tr("this is a folder, not a file"), where=where, remedy=tr("name a file"))
        if not stat.S_ISREG(found.st_mode):
            raise UnusableInput(tr("this is a pipe or a device, not a file"), where=where, remedy=tr("name a file"))
        if found.st_size > most:
            raise _too_large(where, most)
        with path.open("rb") as stream:
            found = os.fstat(stream.fileno())
            data = stream.read(most + 1)  # it may have grown since
    except FileNotFoundError as error:
        raise UnusableInput(tr("there is no such file"), where=where, remedy=tr("check its name")) from error
    except OSError as error:
        raise UnusableInput(
            tr("the file cannot be read ({reason})", reason=_reason(error)),
            where=where,
            remedy=tr("check its permissions"),
        ) from error
    except ValueError as error:  # a name with a NUL in it
        raise UnusableInput(tr("this is no file name"), where=repr(where), remedy=tr("check its name")) from error
    if len(data) > most:
        raise _too_large(where, most)
    return data, _mark(found, data)


def _too_large(where: str, most: int) -> UnusableInput:
    return UnusableInput(
        tr("the file is larger than {most} MB", most=most // 1000000), where=where, remedy=tr("name a smaller one")
    )


def write_whole(path: Path, data: bytes, *, flushed: bool = True) -> Mark:
    """Write bytes whole or not at all, and return the file's mark. Raises UnusableInput where that cannot be.

    A symbolic link is followed, not replaced; a file that is there keeps its permissions, and its group where that
    can be; one that is write-protected, or is no ordinary file, stays as it is. flushed: as `write_together`.
    """
    return write_together({path: data}, flushed=flushed)[path]


def write_together(files: Mapping[Path, bytes], *, flushed: bool = True) -> dict[Path, Mark]:
    """Write files, all of them or none: each beside its place first, then all are moved there. Raises UnusableInput.

    flushed: comes back when the disk has them, so that a power cut takes nothing away; a busy disk takes seconds.
    """
    made: list[tuple[Path, Path]] = []
    marks: dict[Path, Mark] = {}
    where = next(iter(files), Path())
    try:
        for path, data in files.items():
            where = path
            place = _place_of(path)
            temporary = _written_beside(place, data, flushed=flushed)
            made.append((temporary, place))
            marks[path] = _mark(temporary.stat(), data)  # it stays the same file when it is moved
        for temporary, place in made:
            where = place
            temporary.replace(place)
        for folder in {place.parent for _, place in made if flushed}:
            _flush_folder(folder)  # the new name itself must survive a power cut
    except (OSError, ValueError) as error:
        raise UnusableInput(
            tr("the file cannot be written ({reason})", reason=_reason(error)),
            where=str(where),
            remedy=tr("choose another folder"),
        ) from error
    finally:
        for temporary, _ in made:
            with contextlib.suppress(OSError):
                temporary.unlink(missing_ok=True)
    return marks


def move_together(moves: Mapping[Path, Path]) -> None:
    """Move files that are whole to their places, as one step: every place is looked at before the first is taken.

    moves: from where to where, on one disk. A file that is in a place keeps its permissions, a link is followed.
    Raises UnusableInput, with nothing moved where a place cannot be written to.
    """
    where = next(iter(moves), Path())
    try:
        places = {}
        for path, target in moves.items():
            where = target
            places[path] = place = _place_of(target)
            if place.exists():
                path.chmod(stat.S_IMODE(place.stat().st_mode))
        for path, place in places.items():
            where = place
            path.replace(place)
        for folder in {place.parent for place in places.values()}:
            _flush_folder(folder)
    except (OSError, ValueError) as error:
        raise UnusableInput(
            tr("the file cannot be written ({reason})", reason=_reason(error)),
            where=str(where),
            remedy=tr("choose another folder"),
        ) from error


def keep_older(path: Path) -> None:
    """Keep what a file holds now beside it as `NAME~`, in place of what was kept there before.

    Nothing happens where there is no file, or no second name for it can be made: it is about to be replaced whole.
    """
    with contextlib.suppress(OSError, UnusableInput):
        place = _place_of(path)
        if place.exists():
            kept, second = place.with_name(f"{place.name}~"), place.with_name(f".{uuid.uuid4().hex}~")
            if not kept.exists() or stat.S_ISREG(kept.lstat().st_mode):
                os.link(place, second)
                second.replace(kept)


def _place_of(path: Path) -> Path:
    """Return where the bytes go: behind a link the file that it names. Raises OSError, UnusableInput."""
    if path.is_symlink():
        path = Path(os.path.realpath(path))  # a link that goes round in a circle: writing says so
    path.parent.mkdir(parents=True, exist_ok=True)
    try:
        found = path.stat()
    except FileNotFoundError:
        return path
    if not stat.S_ISREG(found.st_mode):
        what = tr("a folder") if stat.S_ISDIR(found.st_mode) else tr("a pipe or a device")
        raise UnusableInput(tr("{what} bears this name", what=what), where=str(path), remedy=tr("choose another name"))
    if not os.access(path, os.W_OK):
        raise UnusableInput(tr("the file is write-protected"), where=str(path), remedy=tr("choose another name"))
    return path


def _written_beside(place: Path, data: bytes, *, flushed: bool) -> Path:
    """Write bytes to a new file beside a place, with the permissions it should have there; flushed: to the disk."""
    temporary = place.with_name(f".{place.name[:_LONGEST_STEM]}-{uuid.uuid4().hex[:12]}")
    old = place.stat() if place.exists() else None
    # A new file gets what the person's own mask leaves; one that takes another's place, what that one had.
    handle = os.open(temporary, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o666 if old is None else 0o600)
    try:
        with os.fdopen(handle, "wb") as stream:
            if old is not None:
                with contextlib.suppress(OSError):
                    os.fchown(stream.fileno(), -1, old.st_gid)
                os.fchmod(stream.fileno(), stat.S_IMODE(old.st_mode))
            stream.write(data)
            stream.flush()
            if flushed:
                os.fsync(stream.fileno())
    except BaseException:
        with contextlib.suppress(OSError):
            temporary.unlink()
        raise
    return temporary


def _flush_folder(folder: Path) -> None:
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def _reason(error: Exception) -> str:
    return getattr(error, "strerror", None) or tr("its name is odd")


def is_changed(path: Path, mark: Mark | None) -> bool:
    """Return whether a file holds something else than it did at its mark. A file that is gone holds nothing to lose.

    mark None: there was none then. Times and numbers are only a quick no: a copy tool may touch without changing.
    """
    try:
        found = path.stat()
    except (OSError, ValueError):
        return False
    if mark is not None and (found.st_dev, found.st_ino, found.st_size, found.st_mtime_ns) == (
        mark.device,
        mark.inode,
        mark.size,
        mark.written_ns,
    ):
        return False
    now = mark_of(path)
    return now is None or mark is None or now.digest != mark.digest
