"""What a monkey's run is judged by: errors nobody caught, warnings of Qt, stalls, threads left, growth of memory."""

from __future__ import annotations

import faulthandler
import gc
import mmap
import os
import resource
import struct
import subprocess
import sys
import tempfile
import threading
import time
import traceback
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from types import TracebackType
from typing import Any

from PySide6.QtCore import QMessageLogContext, QtMsgType, qInstallMessageHandler

# What this Qt says of a screen that is not there; nothing of the program's.
_EXPECTED = ("propagateSizeHints", "XDG_RUNTIME_DIR", "does not support raise()", "does not support grabbing")
_LOOK_EVERY_S = 0.05
_WAKES_EVERY_S, _NOT_LATE_S = 0.02, 0.03  # of the witness
_FIGURES = struct.Struct("ddddd")
_WITNESS_WAKES_S = 2.0  # at most, once a stall is over: on a machine that stood still it may be the last to go on
_WITNESS = Path(__file__).with_name("witness.py")
_LOOKS = (0.3, 0.6, 0.9)  # of what counts as a stall: when to look at what holds the interface up


@dataclass
class Trouble:
    """One thing that went wrong: its kind, one line that tells it from others, everything that is known of it."""

    kind: str
    line: str
    text: str
    after: int = -1  # number of the action it came in


@dataclass
class Stall:
    """One stretch in which the event loop had no turn: seconds, of those at work, and where, as seen from outside.

    On a busy machine the first figure grows with what else runs there, the second does not. whole_s: all threads of the
    process together. kept_s: in which the window's thread had work to do and no processor to do it on, since others
    had it, or the host of this machine took it away, or the whole machine stood still, or its kernel held the process
    up, or the window's thread waited for the disk, as a witness saw it.
    """

    seconds: float
    at_work_s: float
    whole_s: float
    kept_s: float
    action: str
    where: str


class Witness:
    """A process that does nothing but wake up, and look whether the window's process is let go on.

    Late by so much, the machine stood still for everybody: a host that lets it wait does not always tell it (as steal).
    Where the window is silent and a thread of its process sleeps in the kernel over the process's memory (one that gave
    some back waited a second and a half for a kernel that was moving pages about), all its threads wait for that one.
    Where the window's own thread sleeps there over a file, it waits for the disk: somebody saves, and wants to know
    that it is there. What sleeps is printed, so that a wait that nobody asked for is seen.
    """

    def __init__(self) -> None:
        with tempfile.NamedTemporaryFile(delete=False) as stream:
            stream.write(bytes(_FIGURES.size))
            stream.flush()
            self._memory = mmap.mmap(stream.fileno(), _FIGURES.size)
        words = [stream.name, str(_WAKES_EVERY_S), str(_NOT_LATE_S), str(os.getpid())]
        self._child = subprocess.Popen([sys.executable, "-I", "-S", str(_WITNESS), *words])
        self._file = Path(stream.name)

    def kept_s(self) -> tuple[float, float, float]:
        """Return since it began, s: how late it was, how long the kernel held the process, how long the disk did."""
        late, held, _, disk, _ = _FIGURES.unpack_from(self._memory)
        return late, held, disk

    def wake(self, now_s: float) -> None:
        """Wait until it has looked since a time, so that its figures know of what was until then.

        Where the whole machine stood still, the window may go on before the witness does, which has not told yet.
        """
        until = time.monotonic() + _WITNESS_WAKES_S
        while _FIGURES.unpack_from(self._memory)[4] < now_s and time.monotonic() < until:
            time.sleep(_WAKES_EVERY_S / 4)

    def heard(self, now_s: float) -> None:
        """The event loop had its turn at this time."""
        struct.pack_into("d", self._memory, 16, now_s)

    def stop(self) -> None:
        """End it."""
        self._child.kill()
        self._child.wait()
        self._file.unlink(missing_ok=True)


@dataclass
class Watch:
    """Collects troubles while installed; `acting` times one action."""

    stall_s: float = 1.0
    troubles: list[Trouble] = field(default_factory=list)
    stalls: list[Stall] = field(default_factory=list)
    at: int = -1
    _began: float | None = None
    _work: float = 0.0
    _whole: float = 0.0
    _kept: float = 0.0
    _late: tuple[float, float, float] = (0.0, 0.0, 0.0)
    _witness: Witness | None = None
    _seen: str = ""
    _action: str = ""
    _over: bool = False
    _looked: int = 0  # how often at what holds the interface up now

    def install(self) -> None:
        """Take over every hook through which an error may slip away."""
        sys.excepthook = self._caught
        threading.excepthook = lambda args: self._caught(args.exc_type, args.exc_value, args.exc_traceback)
        sys.unraisablehook = self._unraisable
        qInstallMessageHandler(self._warned)
        self._witness = Witness()
        threading.Thread(target=self._look, daemon=True).start()

    def stop(self) -> None:
        """Look no more."""
        self._over = True
        if self._witness is not None:
            self._witness.stop()

    def _add(self, trouble: Trouble) -> None:
        trouble.after = self.at
        if all((one.kind, one.line) != (trouble.kind, trouble.line) for one in self.troubles):
            self.troubles.append(trouble)
            print(f"action {trouble.after}: {trouble.kind}: {trouble.text}", file=sys.stderr, flush=True)

    def _caught(self, kind: type[BaseException], error: BaseException | None, trace: TracebackType | None) -> None:
        if error is None:
            error = kind()
        self._add(Trouble("error", signature(error, trace), "".join(traceback.format_exception(kind, error, trace))))

    def _unraisable(self, args: Any) -> None:
        if args.exc_value is not None:
            text = "".join(traceback.format_exception(args.exc_type, args.exc_value, args.exc_traceback))
            self._add(Trouble("unraisable", signature(args.exc_value, args.exc_traceback), f"{args.object!r}\n{text}"))

    def _warned(self, kind: QtMsgType, context: QMessageLogContext, text: str) -> None:
        if kind != QtMsgType.QtDebugMsg and not any(word in text for word in _EXPECTED):
            self._add(Trouble("warning", text[:120], text + "\n" + "".join(traceback.format_stack(limit=8))))

    def say(self, kind: str, line: str, text: str = "") -> None:
        """Note what a check found."""
        self._add(Trouble(kind, line, text or line))

    @contextmanager
    def acting(self, name: str) -> Iterator[None]:
        """Time one action: how long at a stretch the event loop had no turn."""
        self._action = name
        self.beat()
        try:
            yield
        finally:
            self.beat()
            self._began = None

    def beat(self) -> None:
        """The event loop has its turn; whatever waits on purpose calls this now and then."""
        now, work, whole = time.monotonic(), time.thread_time(), time.process_time()
        if self._began is not None and now - self._began > self.stall_s:
            if self._witness is not None:
                self._witness.wake(now)
            since = [now_ - then for now_, then in zip(self._witnessed(), self._late)]
            kept = max(kept_waiting_s() - self._kept, *since)
            took = (now - self._began, work - self._work, whole - self._whole, kept)
            self.stalls.append(Stall(*took, self._action, self._seen))
            now, work, whole = time.monotonic(), time.thread_time(), time.process_time()
        self._began, self._work, self._whole, self._kept = now, work, whole, kept_waiting_s()
        self._late = self._witnessed()
        if self._witness is not None:
            self._witness.heard(now)
        self._seen, self._looked = "", 0

    def _witnessed(self) -> tuple[float, float, float]:
        return (0.0, 0.0, 0.0) if self._witness is None else self._witness.kept_s()

    def _look(self) -> None:
        """Look from outside what holds the interface up."""
        while not self._over:
            time.sleep(_LOOK_EVERY_S)
            began = self._began
            held = 0.0 if began is None else time.monotonic() - began
            if held > self.stall_s * _LOOKS[min(self._looked, len(_LOOKS) - 1)] and self._looked < len(_LOOKS):
                self._looked += 1
                self._seen += f"after {held:.2f} s\n{_stack_of_others()}\n\n"


def _stack_of_others() -> str:
    """Return where the other threads are, the first one first.

    Written by the interpreter itself: whoever holds a frame of another thread is the one who takes its timers away.
    """
    with tempfile.TemporaryFile("w+") as stream:
        faulthandler.dump_traceback(stream)
        stream.seek(0)
        parts = [part for part in stream.read().split("\n\n") if "_stack_of_others" not in part]
    return "\n\n".join(_shortened(part.splitlines()) for part in reversed(parts))


def _shortened(lines: list[str]) -> str:
    """Return the innermost calls, and of the others those of the window's side: what was pressed, what was asked."""
    return "\n".join(lines[:8] + [line for line in lines[8:] if "/app/" in line or "monkey_" in line])


def signature(error: BaseException, trace: TracebackType | None) -> str:
    """Return a line that is the same each time this error comes from the same place."""
    frames = traceback.extract_tb(trace)
    mine = [one for one in frames if "cozy_burrow" in one.filename] or list(frames)
    where = f"{Path(mine[-1].filename).name}:{mine[-1].name}" if mine else "nowhere"
    return f"{type(error).__name__} in {where}: {' '.join(str(error).split())[:100]}"


def kept_waiting_s() -> float:
    """Return for how long this thread was ready and not let to a processor, since it began, in seconds.

    What this system knows of (the run queue), and what its host took away (steal, spread over all processors).
    """
    try:
        queued_ns = float(Path(f"/proc/self/task/{threading.get_native_id()}/schedstat").read_text().split()[1])
        with Path("/proc/stat").open(encoding="ascii") as stream:
            stolen = float(stream.readline().split()[8])
    except (OSError, ValueError, IndexError):  # a kernel that does not count them
        return 0.0
    return queued_ns / 1e9 + stolen / os.sysconf("SC_CLK_TCK") / (os.cpu_count() or 1)


def resident_mb() -> float:
    """Return the memory that this process holds now, in MB."""
    gc.collect()
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return pages * resource.getpagesize() / 1e6
