"""Reading drawings in a child process, with limits on time and memory; one child serves one file after the other."""

from __future__ import annotations

import atexit
import contextlib
import os
import subprocess
import sys
import threading
from typing import Any

import msgspec
from shapely.geometry import Polygon

from cozy_burrow.core.errors import Cancelled, UnusableInput
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.drawing_worker import OVERTIME, receive, send

# A file that takes longer is refused. Counted is what the child itself works, which it is told to watch: a busy
# machine must not refuse a drawing for what others do. A child that does not come back at all is stopped by the clock.
SECONDS = 8.0
_CLOCK = 75  # times that long: where forty others are at work it may get a fortieth


class DrawingReader:
    """Holds the child; starts it when it is first needed and again after it was stopped."""

    def __init__(self, seconds: float = SECONDS) -> None:
        """seconds: of work that a file may take."""
        self.seconds = seconds
        self._child: subprocess.Popen[bytes] | None = None
        self._lock = threading.Lock()
        self._unwanted = False

    def read(self, kind: str, data: bytes, *, where: str) -> tuple[list[Polygon], list[str]]:
        """Return the outlines in a drawing, largest first, and remarks.

        Raises UnusableInput, and Cancelled where `stop` is called meanwhile.
        """
        with self._lock:
            answer = self._ask(kind, data, where)
        if "rings" not in answer:
            raise UnusableInput(answer["what"], where=answer["where"], remedy=answer["remedy"])
        return [Polygon(rings[0], rings[1:]) for rings in answer["rings"]], list(answer["remarks"])

    def _ask(self, kind: str, data: bytes, where: str) -> dict[str, Any]:
        self._unwanted = False
        child = self._started()
        assert child.stdin is not None
        assert child.stdout is not None
        late = threading.Event()

        def stop() -> None:
            late.set()
            child.kill()

        clock = threading.Timer(_CLOCK * self.seconds, stop)
        clock.start()
        try:
            send(child.stdin, msgspec.msgpack.encode([kind, where, self.seconds, data]))  # type: ignore[arg-type]
            body = receive(child.stdout)  # type: ignore[arg-type]
        except OSError:
            body = None
        finally:
            clock.cancel()
        if body is None:
            ended = self.close()
            if self._unwanted:
                raise Cancelled
            raise UnusableInput(
                tr("reading it takes more than {seconds:.0f} seconds", seconds=self.seconds)
                if late.is_set() or ended == -OVERTIME
                else tr("the drawing is too large"),
                where=where,
                remedy=tr("save the outline alone"),
            )
        found: dict[str, Any] = msgspec.msgpack.decode(body)
        return found

    def _started(self) -> subprocess.Popen[bytes]:
        if self._child is not None and self._child.poll() is None:
            return self._child
        self.close()
        # More threads than one only take address space, which is limited.
        env = os.environ | {"OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1"}
        self._child = subprocess.Popen(
            [sys.executable, "-m", "cozy_burrow.jobs.drawing_worker"],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            env=env,
        )
        return self._child

    def stop(self) -> None:
        """Stop what another thread is reading: nobody wants it any more."""
        self._unwanted = True
        child = self._child
        if child is not None:
            child.kill()

    def close(self) -> int | None:
        """Stop the child; return how it ended, negative for a signal, None where there is none."""
        child, self._child = self._child, None
        if child is None:
            return None
        if child.poll() is None:
            child.kill()
        child.wait()  # it only reads pipes and works: a kill ends it, if late on a busy machine
        for stream in (child.stdin, child.stdout):
            if stream is not None:
                with contextlib.suppress(OSError):
                    stream.close()
        return child.returncode


READER = DrawingReader()
atexit.register(READER.close)
