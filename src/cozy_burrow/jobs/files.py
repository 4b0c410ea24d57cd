"""Writing a folder of files: all of them or none, in place of what an earlier export left there and nothing else."""

from __future__ import annotations

import contextlib
import re
import shutil
import tempfile
from collections.abc import Collection, Iterable, Mapping
from pathlib import Path

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.tongue import tr
from cozy_burrow.export.own import is_own
from cozy_burrow.storage.whole_file import move_together, read_whole, write_together, write_whole

_HALF = ".cozy-burrow-half-"  # folder of files that are not all there yet; one that is found was left by a kill
_NAMED_BY_INSERT = re.compile(r".+-(?:sheet-\d+\.(?:dxf|svg)|layout\.json)")


def write_all(folder: Path, files: Mapping[str, bytes]) -> None:
    """Write files into a folder, which is made where it is missing. Raises UnusableInput."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise _no_folder(folder, error) from error
    write_together({folder / name: data for name, data in files.items()})


def _no_folder(folder: Path, error: Exception) -> UnusableInput:
    return UnusableInput(
        tr(
            "the folder cannot be written to ({getattr})",
            getattr=getattr(error, "strerror", None) or type(error).__name__,
        ),
        where=str(folder),
        remedy=tr("choose another folder"),
    )


def replace_set(folder: Path, files: Iterable[tuple[str, bytes]], *, whole_set: Collection[str]) -> list[str]:
    """Write files into a folder and return their names; drawings of an earlier export that are not in the set go.

    Everything is written beside its place first and moved when all of it is there: until then the old set is whole.
    whole_set: the names of everything that the plan has drawings for, written now or not. The folder is made where it
    is missing. Raises UnusableInput.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
        for left in folder.glob(f"{_HALF}*"):
            shutil.rmtree(left, ignore_errors=True)
        half = Path(tempfile.mkdtemp(prefix=_HALF, dir=folder))
    except (OSError, ValueError) as error:
        raise _no_folder(folder, error) from error
    try:
        names = []
        for name, data in files:
            write_whole(half / name, data)
            names.append(name)
        stale = [path for path in _drawings(folder) if path.name not in whole_set and path.name not in names]
        move_together({half / name: folder / name for name in names})
        for path in stale:
            with contextlib.suppress(OSError):
                path.unlink()
        return names
    finally:
        shutil.rmtree(half, ignore_errors=True)


def _drawings(folder: Path) -> list[Path]:
    """Return the drawings in a folder that bear names of inserts, were written by an export, and nobody changed."""
    found = []
    for path in sorted(folder.iterdir()):
        if _NAMED_BY_INSERT.fullmatch(path.name) and path.is_file() and not path.is_symlink():
            with contextlib.suppress(UnusableInput):
                if is_own(read_whole(path)):
                    found.append(path)
    return found
