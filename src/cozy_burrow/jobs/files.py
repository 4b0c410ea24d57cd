"""Reading what people name, writing whole files or none."""

from __future__ import annotations

import contextlib
import os
import tempfile
from collections.abc import Mapping
from pathlib import Path

from cozy_burrow.core.errors import UnusableInput

MOST_BYTES = 64_000_000


def read_bytes(path: Path) -> bytes:
    """Return a file's bytes; raises UnusableInput in words where it cannot be read."""
    try:
        if path.stat().st_size > MOST_BYTES:
            raise UnusableInput("the file is larger than 64 MB", where=str(path), remedy="name a smaller one")
        return path.read_bytes()
    except FileNotFoundError as error:
        raise UnusableInput("there is no such file", where=str(path), remedy="check its name") from error
    except IsADirectoryError as error:
        raise UnusableInput("this is a folder, not a file", where=str(path), remedy="name a file") from error
    except OSError as error:
        raise UnusableInput(
            f"the file cannot be read ({error.strerror or type(error).__name__})",
            where=str(path),
            remedy="check its permissions",
        ) from error
    except ValueError as error:  # a name with a NUL in it
        raise UnusableInput("this is no file name", where=repr(str(path)), remedy="check its name") from error


def write_all(folder: Path, files: Mapping[str, bytes]) -> None:
    """Write files into a folder, all of them or none: each beside its place first, then all are moved there."""
    made: list[tuple[Path, Path]] = []
    try:
        folder.mkdir(parents=True, exist_ok=True)
        for name, data in files.items():
            handle, temporary = tempfile.mkstemp(dir=folder, prefix=".writing-")
            made.append((Path(temporary), folder / name))
            with os.fdopen(handle, "wb") as stream:
                stream.write(data)
            Path(temporary).chmod(0o644)
        for temporary_path, place in made:
            temporary_path.replace(place)
    except OSError as error:
        raise UnusableInput(
            f"the folder cannot be written to ({error.strerror or type(error).__name__})",
            where=str(folder),
            remedy="choose another folder",
        ) from error
    finally:
        for temporary_path, _ in made:
            with contextlib.suppress(OSError):
                temporary_path.unlink(missing_ok=True)
