"""Beside a monkey's run: does this machine let the window's process go on? Started by `monkey_watch.Witness`.

Figures in the shared file, s since it began: late, held, [beat of the window, read], disk; and when it last looked.
"""

from __future__ import annotations

import mmap
import os
import struct
import sys
import time
from collections.abc import Iterator
from pathlib import Path

SILENT_S = 0.2  # from which on it looks why
# Calls that change a process's memory, and touching a page of it: while one thread waits in one, all of them do.
MEMORY = {"9", "10", "11", "12", "25", "28", "-1"}
NAMES = {
    "1": "write",
    "74": "fsync",
    "75": "fdatasync",
    "82": "rename",
    "87": "unlink",
    "257": "openat",
    "263": "unlinkat",
}


def asleep(process: int) -> Iterator[tuple[int, str]]:
    """Yield the threads of a process that sleep in the kernel and can't be woken, each with the call that it is in."""
    for thread in Path(f"/proc/{process}/task").iterdir():
        try:
            if (thread / "stat").read_text().rsplit(")", 1)[1].split()[0] == "D":
                yield int(thread.name), (thread / "syscall").read_text().split()[0]
        except (OSError, IndexError):
            continue


def main() -> None:
    """Look until the window's process is gone. Arguments: shared file, s between looks, s that are late, process."""
    every, late_from, parent = float(sys.argv[2]), float(sys.argv[3]), int(sys.argv[4])
    with Path(sys.argv[1]).open("r+b") as stream:
        memory = mmap.mmap(stream.fileno(), 40)
    late, held, disk, last, told = 0.0, 0.0, 0.0, time.monotonic(), ""
    while os.getppid() == parent:
        time.sleep(every)
        now = time.monotonic()
        late += max(0.0, now - last - every - late_from)
        (beat,) = struct.unpack_from("d", memory, 16)
        sleeping = list(asleep(parent)) if now - beat > SILENT_S else []
        if any(call in MEMORY for _, call in sleeping):
            held += now - last
        elif any(thread == parent for thread, _ in sleeping):
            disk += now - last
        names = (
            f"{'the window' if thread == parent else 'a thread'} in {NAMES.get(call, call)}"
            for thread, call in sleeping
        )
        what = ", ".join(names)
        if what and what != told:
            print(f"    held in the kernel: {what}", file=sys.stderr, flush=True)
        last, told = now, what
        struct.pack_into("dd", memory, 0, late, held)
        struct.pack_into("dd", memory, 24, disk, now)


if __name__ == "__main__":
    main()
