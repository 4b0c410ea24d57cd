"""One window at a time: between reading a file that several of them keep and writing it again."""

from __future__ import annotations

import contextlib
import fcntl
import os
from collections.abc import Iterator
from pathlib import Path


@contextlib.contextmanager
def alone(path: Path) -> Iterator[None]:
    """Hold a file's lock; without one where none can be had: writing then says why nothing can be kept.

    The folder is made where it is missing.
    """
    handle = -1
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        handle = os.open(path.parent / f".{path.name}.lock", os.O_CREAT | os.O_RDWR | os.O_NONBLOCK, 0o600)
        fcntl.flock(handle, fcntl.LOCK_EX)
    except OSError:
        pass
    try:
        yield
    finally:
        if handle >= 0:
            os.close(handle)
