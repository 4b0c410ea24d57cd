"""Writing a folder of files: all of them or none."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.storage.whole_file import write_together


def write_all(folder: Path, files: Mapping[str, bytes]) -> None:
    """Write files into a folder, which is made where it is missing. Raises UnusableInput."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise UnusableInput(
            f"the folder cannot be written to ({error.strerror or type(error).__name__})",
            where=str(folder),
            remedy="choose another folder",
        ) from error
    write_together({folder / name: data for name, data in files.items()})
