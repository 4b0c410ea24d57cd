"""Memory that is given back: what a photo or a search needed for a moment does not stay with the program.

The C library's heap keeps freed blocks for later, one heap a thread, and after the first large arrays also those of
many megabytes: an hour of photos and searches left several hundred of them behind. Other C libraries do not need this.
"""

from __future__ import annotations

import contextlib
import ctypes
import linecache

_MMAP_THRESHOLD, _ARENA_MAX = -3, -8  # names of mallopt(3)
_OWN_PAGES_FROM = 1024 * 1024  # blocks from here on have pages of their own, and give them back when they are freed
_HEAPS = 2
# SciPy copies every name of NumPy, which loads what it names: a Fortran compiler's front and a test framework.
_NOBODY_NEEDS = ("f2py", "testing")


def keep_heap_small() -> None:
    """Tell the C library, before anything large is made, to give large blocks back."""
    with contextlib.suppress(OSError, AttributeError):
        library = ctypes.CDLL(None)
        library.mallopt(_MMAP_THRESHOLD, _OWN_PAGES_FROM)
        library.mallopt(_ARENA_MAX, _HEAPS)
    _leave_out_of_numpy()


def _leave_out_of_numpy() -> None:
    """Keep SciPy from loading parts of NumPy that nobody asked for: ten megabytes. Imported by name, they are there."""
    import numpy as np

    for name in _NOBODY_NEEDS:
        vars(np).setdefault(name, None)


def give_back() -> None:
    """Give back what lies free on the heap; for the end of large work, off the interface's thread.

    And the sources of all modules: the binding reads them at every import, and Python keeps them for tracebacks,
    which read them anew where they are needed.
    """
    linecache.clearcache()
    with contextlib.suppress(OSError, AttributeError):
        ctypes.CDLL(None).malloc_trim(0)
