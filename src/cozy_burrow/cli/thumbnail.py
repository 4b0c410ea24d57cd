"""`cozy-burrow-thumbnail FILE.burrow OUT.png SIZE`: a small picture of a project, for file managers.

It is called for every file that somebody scrolls past: it says nothing, and ends with 1 where there is no picture.
"""

from __future__ import annotations

import sys
from pathlib import Path
from urllib.parse import unquote, urlparse

from cozy_burrow.core.errors import UnusableInput

_LEAST_PX, _MOST_PX = 16, 1024


def main() -> None:
    """Run the program and leave with its exit status."""
    sys.exit(run(sys.argv[1:]))


def run(arguments: list[str]) -> int:
    """Write the picture; 0 where it was written."""
    if len(arguments) != 3 or not arguments[2].isdecimal():
        print("cozy-burrow-thumbnail FILE.burrow OUT.png SIZE", file=sys.stderr)
        return 2
    source, out, size = arguments
    from cozy_burrow.jobs.thumbnail import write_thumbnail

    try:
        write_thumbnail(_path(source), Path(out), wide_px=min(_MOST_PX, max(_LEAST_PX, int(size[:6]))))
    except UnusableInput:
        return 1
    return 0


def _path(source: str) -> Path:
    """Return the file that is meant: some file managers hand over an address."""
    parts = urlparse(source)
    return Path(unquote(parts.path)) if parts.scheme == "file" else Path(source)
