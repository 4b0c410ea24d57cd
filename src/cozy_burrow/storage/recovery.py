"""Recovery copies: what was being worked on when a program was killed, found at the next start.

Every running program keeps one copy, beside a file that it holds locked while it lives: a copy whose lock is
free was left behind.
"""

from __future__ import annotations

import contextlib
import fcntl
import os
import uuid
from pathlib import Path

from cozy_burrow.core.model.records import Project
from cozy_burrow.storage.project_file import load, save, write_whole


class RecoveryStore:
    """The recovery folder as one running program sees it."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder / "recovery"
        self._folder.mkdir(parents=True, exist_ok=True)
        self._name = uuid.uuid4().hex
        self._lock = os.open(self._folder / f"{self._name}.lock", os.O_CREAT | os.O_RDWR, 0o600)
        fcntl.flock(self._lock, fcntl.LOCK_EX)

    @property
    def copy_path(self) -> Path:
        """Where this program's copy lies."""
        return self._folder / f"{self._name}.burrow"

    def keep(self, project: Project, original: Path | None) -> None:
        """Write the copy, whole or not at all, and where the project is saved."""
        save(project, self.copy_path)
        write_whole(self._folder / f"{self._name}.path", str(original or "").encode("utf-8", "surrogateescape"))

    def drop(self) -> None:
        """Take this program's copy away: everything is saved."""
        for ending in ("burrow", "path"):
            (self._folder / f"{self._name}.{ending}").unlink(missing_ok=True)

    def close(self) -> None:
        """Take copy and lock away at an orderly end."""
        self.drop()
        with contextlib.suppress(OSError):
            os.close(self._lock)
        (self._folder / f"{self._name}.lock").unlink(missing_ok=True)

    def left_behind(self) -> list[Path]:
        """Return copies whose program is gone, newest first."""
        found = []
        for copy in self._folder.glob("*.burrow"):
            if copy.stem != self._name and self._is_free(copy.with_suffix(".lock")):
                found.append(copy)
        return sorted(found, key=lambda path: -path.stat().st_mtime)

    def _is_free(self, lock: Path) -> bool:
        try:
            handle = os.open(lock, os.O_RDWR)
        except OSError:
            return True
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            return False
        else:
            return True
        finally:
            os.close(handle)

    def bring_back(self, copy: Path) -> tuple[Project, Path | None]:
        """Return a copy's project and where it had been saved. Raises UnusableInput where it is damaged."""
        project = load(copy)
        try:
            original = copy.with_suffix(".path").read_bytes().decode("utf-8", "surrogateescape")
        except OSError:
            original = ""
        return project, Path(original) if original else None

    def discard(self, copy: Path) -> None:
        """Take a copy that was left behind away."""
        for ending in (".burrow", ".path", ".lock"):
            copy.with_suffix(ending).unlink(missing_ok=True)
