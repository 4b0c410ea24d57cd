"""The child process that reads drawings: whatever a file does to it, the program goes on.

Asked over standard input and answering over standard output, each message a length of four bytes and a msgpack body:
[kind, where, seconds, bytes] → {"rings": [[outer, hole, ...], ...], "remarks": [...]} or {"what", "where", "remedy"}.
"""

from __future__ import annotations

import os
import resource
import signal
import struct
import sys
from typing import Any, BinaryIO

MOST_MEMORY = 2_500_000_000
LENGTH = struct.Struct(">I")
MOST_MESSAGE = 400_000_000
OVERTIME = signal.SIGPROF  # ends the child, in the middle of whatever it is at, when a file took more than its seconds


def send(stream: BinaryIO, body: bytes) -> None:
    """Write one message."""
    stream.write(LENGTH.pack(len(body)) + body)
    stream.flush()


def receive(stream: BinaryIO) -> bytes | None:
    """Read one message, None at the end."""
    head = stream.read(LENGTH.size)
    if len(head) < LENGTH.size:
        return None
    (length,) = LENGTH.unpack(head)
    if length > MOST_MESSAGE:
        return None
    body = stream.read(length)
    return body if len(body) == length else None


def answer(kind: str, where: str, data: bytes) -> dict[str, Any]:
    """Return what a drawing holds, or why it cannot be used."""
    import shapely

    from cozy_burrow.core.capture.drawing.dxf import read_dxf
    from cozy_burrow.core.capture.drawing.svg import read_svg
    from cozy_burrow.core.errors import UnusableInput
    from cozy_burrow.core.tongue import tr

    try:
        polygons, remarks = (read_svg if kind == "svg" else read_dxf)(data, where=where)
    except UnusableInput as error:
        return {"what": error.what, "where": error.where, "remedy": error.remedy}
    except (MemoryError, RecursionError):
        return {"what": tr("the drawing is too large"), "where": where, "remedy": tr("save the outline alone")}
    except Exception as error:  # the readers' own: a file must never end in a traceback
        return {
            "what": tr("the drawing cannot be read ({error})", error=type(error).__name__),
            "where": where,
            "remedy": tr("export it again as plain SVG or DXF R2010"),
        }
    rings = [
        [shapely.get_coordinates(ring).tolist() for ring in (polygon.exterior, *polygon.interiors)]
        for polygon in polygons
    ]
    return {"rings": rings, "remarks": remarks}


def main() -> int:
    """Answer until nobody asks any more."""
    import msgspec

    resource.setrlimit(resource.RLIMIT_AS, (MOST_MEMORY, MOST_MEMORY))
    asked, told = sys.stdin.buffer, os.fdopen(os.dup(sys.stdout.fileno()), "wb")
    os.dup2(sys.stderr.fileno(), sys.stdout.fileno())  # what a library prints must not spoil an answer
    answer("svg", "", b"")  # so that what is loaded for the first drawing is none of its seconds
    answer("dxf", "", b"")
    while (body := receive(asked)) is not None:
        kind, where, seconds, data = msgspec.msgpack.decode(body)
        signal.setitimer(signal.ITIMER_PROF, seconds)
        found = msgspec.msgpack.encode(answer(kind, where, data))
        signal.setitimer(signal.ITIMER_PROF, 0.0)
        send(told, found)
    return 0


if __name__ == "__main__":
    sys.exit(main())
