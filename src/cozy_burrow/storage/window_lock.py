"""Which window has a project open: a file a project in the state folder, locked while the window lives.

The lock says who is there and keeps nobody out: before anything is written over, the file itself is looked at.
"""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import os
import socket
from pathlib import Path

import msgspec

from cozy_burrow.core.model.records import Record

_MOST_BYTES = 4_000


class Holder(Record, frozen=True, kw_only=True):
    """The window that has a project open: its process, on which machine, since when (a text with a time)."""

    process: int
    machine: str
    since: str


class WindowLock:
    """The lock that one window holds on its project; at most one at a time."""

    def __init__(self, state_folder: Path) -> None:
        self._folder = state_folder / "open"
        self._handle = -1

    def take(self, path: Path | None, *, since: str) -> Holder | None:
        """Let go of the project held before and lock another; return who else has it open. None: no project."""
        self.release()
        if path is None:
            return None
        file = self._file_of(path)
        try:
            self._folder.mkdir(parents=True, exist_ok=True)
            handle = os.open(file, os.O_CREAT | os.O_RDWR | os.O_NONBLOCK, 0o600)
        except OSError:
            return None  # where nothing can be kept nobody can be told; the look at the file still protects it
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            with contextlib.suppress(OSError, msgspec.DecodeError, UnicodeDecodeError):
                return msgspec.json.decode(os.read(handle, _MOST_BYTES), type=Holder)
            return Holder(process=0, machine="", since="")
        else:
            self._handle, handle = handle, -1
            me = Holder(process=os.getpid(), machine=socket.gethostname(), since=since)
            with contextlib.suppress(OSError):
                os.ftruncate(self._handle, 0)
                os.write(self._handle, msgspec.json.encode(me))
            return None
        finally:
            if handle >= 0:
                os.close(handle)

    def release(self) -> None:
        """Let go of what is held."""
        if self._handle < 0:
            return
        # The file stays: taken away, it could be opened by one window and made anew by another, both locked.
        with contextlib.suppress(OSError):
            os.close(self._handle)
        self._handle = -1

    def _file_of(self, path: Path) -> Path:
        name = hashlib.sha256(os.path.realpath(path).encode("utf-8", "surrogateescape")).hexdigest()[:32]
        return self._folder / f"{name}.lock"
