"""Work in a process of its own: what needs much memory for a moment, and must end at once when nobody wants it.

A picture takes some two hundred megabytes for seconds; in a thread of the window these stay with it in part, the
window stutters, and neither can be stopped between two steps. The child is started for one piece of work and ends
with it. Functions are named to it, so they must be importable; what goes in and comes out must be picklable.
"""

from __future__ import annotations

import contextlib
import ctypes
import os
import pickle
import selectors
import signal
import struct
import subprocess
import sys
import threading
import traceback
from collections.abc import Callable, Iterator
from typing import IO, Any, TypeVar

from cozy_burrow.core.errors import Cancelled, UnusableInput
from cozy_burrow.core.progress import Token

R = TypeVar("R")
_LENGTH = struct.Struct(">Q")
_LOOK_EVERY_S = 0.05
_CHUNK = 1 << 20
NICE = 10  # the window, which somebody looks at, comes first where there are not enough processors
_SIGNAL_AT_PARENTS_END = 1  # of prctl(2)
# One processor is the window's; more children than there are others only take it from each other, and from the window.
_room = threading.BoundedSemaphore(max(1, (os.cpu_count() or 2) - 1))


class BrokenWork(RuntimeError):
    """The child failed as a bug makes it fail; its traceback is the message."""


def run_apart(function: Callable[..., R], *args: Any, token: Token) -> R:
    """Return function(*args, token=…) from a child process. Raises what it raises, and Cancelled once token does.

    The child is killed where it is no longer wanted: nothing of it goes on. Where others are at work on every processor
    but one, it waits for one of them to end.
    """
    with _among_few(token):
        return _run(function, *args, token=token)


@contextlib.contextmanager
def _among_few(token: Token) -> Iterator[None]:
    while not _room.acquire(timeout=_LOOK_EVERY_S):
        token.step(0.0)
    try:
        yield
    finally:
        _room.release()


def _run(function: Callable[..., R], *args: Any, token: Token) -> R:
    child = subprocess.Popen(
        [sys.executable, "-m", "cozy_burrow.jobs.apart", str(os.getpid()), str(NICE)],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
    )
    assert child.stdin is not None and child.stdout is not None
    try:
        with contextlib.suppress(BrokenPipeError):
            _send(child.stdin, (function, args))
            child.stdin.close()
        return _heard(child.stdout, token)  # type: ignore[no-any-return]
    finally:
        child.kill()
        child.wait()
        for stream in (child.stdin, child.stdout):
            with contextlib.suppress(OSError):
                stream.close()


def _heard(stream: IO[bytes], token: Token) -> Any:
    """Listen until the work is done, passing its steps on and asking at every look whether to go on."""
    fraction = 0.0
    with selectors.DefaultSelector() as selector:
        selector.register(stream, selectors.EVENT_READ)

        def filled(size: int) -> bytearray:
            room, at = bytearray(size), 0
            while at < size:
                token.step(fraction)
                if not selector.select(_LOOK_EVERY_S):
                    continue
                came = os.readv(stream.fileno(), [memoryview(room)[at : at + _CHUNK]])
                if not came:
                    raise BrokenWork("the child process ended without an answer")
                at += came
            return room

        while True:
            kind, body = _received(filled)
            match kind:
                case "step":
                    fraction = body
                case "done":
                    return body
                case "refused":
                    what, where, remedy = body
                    raise UnusableInput(what, where=where, remedy=remedy)
                case _:
                    raise BrokenWork(body)


def _received(filled: Callable[[int], bytearray]) -> Any:
    """Return the next message. filled: gives so many bytes of what comes in.

    Pictures stay in the room into which they were read: in a second copy they would double what the window holds.
    """
    (parts,) = _LENGTH.unpack(filled(_LENGTH.size))
    lengths = [_LENGTH.unpack(filled(_LENGTH.size))[0] for _ in range(parts)]
    body, *pictures = [filled(length) for length in lengths]
    return pickle.loads(body, buffers=pictures)


def _send(stream: IO[bytes], message: object) -> None:
    """Write how many parts there are, how long each is, and the parts: the message, and its arrays one by one."""
    arrays: list[pickle.PickleBuffer] = []
    body = pickle.dumps(message, protocol=pickle.HIGHEST_PROTOCOL, buffer_callback=arrays.append)
    parts = [memoryview(body), *(one.raw() for one in arrays)]
    stream.write(_LENGTH.pack(len(parts)))
    for part in parts:
        stream.write(_LENGTH.pack(part.nbytes))
    for part in parts:
        stream.write(part)
    stream.flush()


class _Told:
    """The child's token: its steps go to the parent."""

    def __init__(self, stream: IO[bytes]) -> None:
        self._stream = stream

    def step(self, fraction: float) -> None:
        """Tell how far the work is."""
        _send(self._stream, ("step", fraction))


def _end_with_parent(parent: int) -> None:
    """Ask the system to end this process with the one that waits for its answer, however that one ends."""
    with contextlib.suppress(OSError, AttributeError):
        ctypes.CDLL(None).prctl(_SIGNAL_AT_PARENTS_END, signal.SIGKILL)
    if os.getppid() != parent:  # it ended before it could be asked
        os._exit(1)


def _from_parent(size: int) -> bytearray:
    """Return so many bytes of standard input. Raises EOFError where it ends before."""
    room, at = bytearray(size), 0
    while at < size:
        came = os.readv(sys.stdin.fileno(), [memoryview(room)[at:]])
        if not came:
            raise EOFError
        at += came
    return room


def main() -> int:
    """Do the one piece of work that is asked for on standard input."""
    _end_with_parent(int(sys.argv[1]))
    with contextlib.suppress(OSError):
        os.nice(int(sys.argv[2]))
    told = os.fdopen(os.dup(sys.stdout.fileno()), "wb")
    os.dup2(sys.stderr.fileno(), sys.stdout.fileno())  # what a library prints must not spoil an answer
    try:
        function, args = _received(_from_parent)
    except EOFError:
        return 1
    try:
        answer: tuple[str, Any] = ("done", function(*args, token=_Told(told)))
    except UnusableInput as error:
        answer = ("refused", (error.what, error.where, error.remedy))
    except Cancelled:
        answer = ("failed", "the work was given up by itself")
    except Exception:
        answer = ("failed", traceback.format_exc())
    _send(told, answer)
    return 0


if __name__ == "__main__":
    sys.exit(main())
