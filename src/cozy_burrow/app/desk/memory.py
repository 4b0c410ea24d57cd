"""Memory that is given back: what a photo or a search needed for a moment does not stay with the program.

The C library's heap keeps freed blocks for later, one heap a thread, and after the first large arrays also those of
many megabytes: an hour of photos and searches left several hundred of them behind. Other C libraries do not need this.
"""

from __future__ import annotations

import contextlib
import ctypes
import linecache
import threading
from typing import Any

_MMAP_THRESHOLD, _ARENA_MAX = -3, -8  # names of mallopt(3)
_OWN_PAGES_FROM = 1024 * 1024  # blocks from here on have pages of their own, and give them back when they are freed
_HEAPS = 2
_MUCH_FREE = 8 * 1024 * 1024  # bytes on the heaps: what is less will be used again soon
_giving = threading.Lock()
# SciPy copies every name of NumPy, which loads what it names: a Fortran compiler's front and a test framework.
_NOBODY_NEEDS = ("f2py", "testing")


def keep_heap_small() -> None:
    """Tell the C library, before anything large is made, to give large blocks back."""
    with contextlib.suppress(OSError, AttributeError):
        library = _library()
        library.mallopt(_MMAP_THRESHOLD, _OWN_PAGES_FROM)
        library.mallopt(_ARENA_MAX, _HEAPS)
    _leave_out_of_numpy()


def _leave_out_of_numpy() -> None:
    """Keep SciPy from loading parts of NumPy that nobody asked for: ten megabytes. Imported by name, they are there."""
    import numpy as np

    for name in _NOBODY_NEEDS:
        vars(np).setdefault(name, None)


def give_back() -> None:
    """Give back what lies free on the heap, where that is much; for the end of work, off the interface's thread.

    Nobody gets memory meanwhile, the window neither, and a kernel that moves pages about took a second for it: so it
    is done by one thread at a time.

    And the sources of all modules: the binding reads them at every import, and Python keeps them for tracebacks,
    which read them anew where they are needed.
    """
    linecache.clearcache()
    if not _giving.acquire(blocking=False):
        return
    try:
        with contextlib.suppress(OSError, AttributeError):
            library = _library()
            if not hasattr(library, "mallinfo2") or free_bytes(library) >= _MUCH_FREE:  # older ones don't tell
                library.malloc_trim(0)
    finally:
        _giving.release()


def free_bytes(library: Any) -> int:
    """Return how many bytes lie free on the heaps, those that were given back among them."""
    library.mallinfo2.restype = _HeapFigures
    return int(library.mallinfo2().free)


class _HeapFigures(ctypes.Structure):
    """What mallinfo2(3) returns."""

    _fields_ = tuple(
        (name, ctypes.c_size_t)
        for name in ("heaps", "_1", "_2", "_3", "mapped", "_5", "_6", "used", "free", "top")
    )  # fmt: skip


def _library() -> Any:
    return ctypes.CDLL(None)
