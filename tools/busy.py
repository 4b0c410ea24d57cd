"""Run a command some times in a row while every processor is kept busy; say how each run ended.

    python tools/busy.py --loops 4 --times 5 -- make test

No outcome of a test may hang on how fast its machine is; here it is slow.
"""

from __future__ import annotations

import argparse
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager

LOOP = "while True: pass"


@contextmanager
def busy(loops: int) -> Iterator[None]:
    """Keep so many processes doing nothing as fast as they can."""
    children = [subprocess.Popen([sys.executable, "-I", "-S", "-c", LOOP]) for _ in range(loops)]
    try:
        yield
    finally:
        for child in children:
            child.kill()
            child.wait()


def main() -> int:
    """Run it; 0 where all runs ended well."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--loops", type=int, default=4)
    parser.add_argument("--times", type=int, default=5)
    parser.add_argument("command", nargs=argparse.REMAINDER)
    wanted = parser.parse_args()
    command = wanted.command[1:] if wanted.command[:1] == ["--"] else wanted.command
    failed = 0
    with busy(wanted.loops):
        for number in range(1, wanted.times + 1):
            began = time.monotonic()
            status = subprocess.run(command, check=False).returncode
            failed += status != 0
            minutes = (time.monotonic() - began) / 60.0
            print(f"run {number} of {wanted.times}: status {status}, {minutes:.1f} minutes", flush=True)
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
