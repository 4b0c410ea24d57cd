"""Recovery copies: what was being worked on when a program was killed, found at the next start.

Every running program keeps one copy, beside a file that it holds locked while it lives: a copy whose lock is
free was left behind. A copy is up to four files of one name:

.burrow    the project
.path      where it had been saved, absolute; empty where it had no place
.mark      what that file was when it was last read or written here
.bench     what lay on the retouch bench, as the bench itself writes it
.picture   the picture under it: large, so written only when another one is laid there

Where the folder cannot be used, recovery is off: `trouble` says why, and everything else does nothing.
"""

from __future__ import annotations

import contextlib
import fcntl
import os
import stat
import threading
import uuid
from collections.abc import Callable
from pathlib import Path

import msgspec

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Project, Record
from cozy_burrow.storage.project_file import load, to_bytes
from cozy_burrow.storage.whole_file import Mark, read_whole, write_whole

_ENDINGS = (".burrow", ".path", ".mark", ".bench", ".picture", ".lock")
_MOST_PATH = 20_000
_LONGEST_CLOSE_S = 0.2  # the process ends within a second of the last window, whatever the disk does


class LeftBehind(Record, frozen=True, kw_only=True):
    """What a copy holds: the project, where it had been saved, and the bench with its picture where one was open."""

    project: Project
    original: Path | None
    mark: Mark | None = None
    bench: bytes = b""
    picture: bytes = b""


class RecoveryStore:
    """The recovery folder as one running program sees it."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder / "recovery"
        self._name = uuid.uuid4().hex
        self._claimed: dict[Path, int] = {}
        self._lock = -1
        self._picture: bytes | None = None
        self._turn = threading.RLock()
        self._is_closing = False
        self.trouble = ""
        try:
            self._folder.mkdir(parents=True, exist_ok=True)
            self._lock = self._lock_own()
        except OSError as error:
            self.trouble = error.strerror or type(error).__name__
        else:
            self._clear_locks()

    def _lock_own(self) -> int:
        """Return a handle that holds the lock of this program's copy. Raises OSError."""
        while True:
            handle = os.open(self._own(".lock"), os.O_CREAT | os.O_RDWR | os.O_NONBLOCK, 0o600)
            try:
                fcntl.flock(handle, fcntl.LOCK_EX)
                with contextlib.suppress(FileNotFoundError):
                    if os.path.samestat(os.fstat(handle), self._own(".lock").stat()):
                        return handle
            except BaseException:
                os.close(handle)
                raise
            os.close(handle)  # another one that starts took it for a dead program's between those two lines

    def _clear_locks(self) -> None:
        """Take away the locks of programs that are gone and have left no copy."""
        with contextlib.suppress(OSError):
            for lock in self._folder.glob("*.lock"):
                if lock.stem == self._name or any(lock.with_suffix(ending).exists() for ending in _ENDINGS[:-1]):
                    continue
                handle = self._locked(lock)
                if handle is not None and handle >= 0:
                    with contextlib.suppress(OSError):
                        lock.unlink()
                    os.close(handle)

    @property
    def folder(self) -> Path:
        """Where copies lie."""
        return self._folder

    def _own(self, ending: str) -> Path:
        return self._folder / f"{self._name}{ending}"

    @property
    def is_on(self) -> bool:
        """Whether copies are kept."""
        return self._lock >= 0

    @property
    def copy_path(self) -> Path:
        """Where this program's copy lies."""
        return self._own(".burrow")

    def keep(
        self,
        project: Project,
        original: Path | None,
        *,
        mark: Mark | None = None,
        bench: bytes = b"",
        picture: bytes = b"",
        wanted: Callable[[], bool] = lambda: True,
    ) -> None:
        """Write the copy, each file whole or not at all. Raises UnusableInput where it cannot be written.

        The project is kept as it is, even one that could not be opened: what is left of it is more than nothing. May be
        asked from any thread, one after the other; wanted: looked at once it is this one's turn.
        """
        with self._turn:
            if self.is_on and wanted():
                self._write(project, original, mark, bench, picture)
            if self._is_closing:
                self._take_away(self.copy_path, _ENDINGS[:-1])

    def _write(self, project: Project, original: Path | None, mark: Mark | None, bench: bytes, picture: bytes) -> None:
        self._put(".burrow", to_bytes(project))
        self._put(".path", str(original.absolute() if original else "").encode("utf-8", "surrogateescape"))
        self._put(".mark", msgspec.json.encode(mark))
        if bench:
            if picture is not self._picture:
                self._put(".picture", picture)
                self._picture = picture
            self._put(".bench", bench)
        elif self._picture is not None:
            self._picture = None
            for ending in (".bench", ".picture"):
                self._own(ending).unlink(missing_ok=True)

    def _put(self, ending: str, data: bytes) -> None:
        if not self._is_closing:
            write_whole(self._own(ending), data)

    def drop(self) -> None:
        """Take this program's copy away: everything is saved."""
        with self._turn:
            self._picture = None
            self._take_away(self.copy_path, _ENDINGS[:-1])

    def close(self) -> None:
        """Take copy and lock away at an orderly end.

        Nobody waits long for a writer whom the disk keeps waiting: it takes away itself what it has written by then,
        or ends with the process before there is a copy.
        """
        self._is_closing = True
        has_turn = self._turn.acquire(timeout=_LONGEST_CLOSE_S)
        try:
            self._take_away(self.copy_path, _ENDINGS[:-1])
            for copy in list(self._claimed):
                self.release(copy)
            if self.is_on:
                with contextlib.suppress(OSError):
                    os.close(self._lock)
                self._lock = -1
                self._take_away(self.copy_path, (".lock",))
        finally:
            if has_turn:
                self._turn.release()

    def left_behind(self) -> list[Path]:
        """Return copies whose program is gone and that nobody has claimed, newest first."""
        found: list[tuple[float, Path]] = []
        with contextlib.suppress(OSError):
            for copy in self._folder.glob("*.burrow"):
                status = copy.stat()
                mine = copy.stem == self._name or copy in self._claimed
                if not mine and stat.S_ISREG(status.st_mode) and self._is_free(copy.with_suffix(".lock")):
                    found.append((-status.st_mtime, copy))
        return [copy for _, copy in sorted(found)]

    def _is_free(self, lock: Path) -> bool:
        handle = self._locked(lock)
        if handle is None:
            return False
        if handle >= 0:
            os.close(handle)
        return True

    @staticmethod
    def _locked(lock: Path) -> int | None:
        """Return a handle that holds a copy's lock, -1 where it has none, None where a living program holds it."""
        try:
            handle = os.open(lock, os.O_RDWR | os.O_NONBLOCK)
        except OSError:
            return -1
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            os.close(handle)
            return None
        return handle

    def bring_back(self, copy: Path) -> LeftBehind:
        """Return what a copy holds. Raises UnusableInput where its project is damaged."""
        project = load(copy)
        original, bench, picture = b"", b"", b""
        with contextlib.suppress(UnusableInput):
            original = read_whole(copy.with_suffix(".path"), most=_MOST_PATH)
        with contextlib.suppress(UnusableInput):
            bench, picture = read_whole(copy.with_suffix(".bench")), read_whole(copy.with_suffix(".picture"))
        mark: Mark | None = None
        with contextlib.suppress(UnusableInput, msgspec.DecodeError, UnicodeDecodeError):
            mark = msgspec.json.decode(read_whole(copy.with_suffix(".mark"), most=_MOST_PATH), type=Mark | None)
        place = Path(original.decode("utf-8", "surrogateescape")) if original else None
        if place is not None and not place.is_absolute():
            place = None  # nobody knows any more from which folder it was meant
        return LeftBehind(project=project, original=place, mark=mark, bench=bench, picture=picture)

    def claim(self, copy: Path) -> None:
        """Hold a copy that was brought back until what is in it is saved: nobody is offered it meanwhile."""
        handle = self._locked(copy.with_suffix(".lock"))
        self._claimed[copy] = -1 if handle is None else handle

    def release(self, copy: Path) -> None:
        """Let go of a claimed copy; it is offered again at the next start."""
        handle = self._claimed.pop(copy, -1)
        if handle >= 0:
            with contextlib.suppress(OSError):
                os.close(handle)

    @property
    def claimed(self) -> list[Path]:
        """Copies that were brought back and are not saved yet."""
        return list(self._claimed)

    def discard(self, copy: Path) -> None:
        """Take a copy that was left behind away."""
        self.release(copy)
        self._take_away(copy, _ENDINGS)

    @staticmethod
    def _take_away(copy: Path, endings: tuple[str, ...]) -> None:
        for ending in endings:
            with contextlib.suppress(OSError):
                copy.with_suffix(ending).unlink(missing_ok=True)
