"""Open the demo: on the display, else in a window under Xvfb, else painted off screen; says which.

Ends what it started when it is told to end (TERM, INT, HUP), the window before its display, and says nothing then.
"""

from __future__ import annotations

import argparse
import contextlib
import os
import shutil
import signal
import subprocess
import sys
from types import FrameType
from typing import Any

_PATIENCE_S = 5.0
_FIRST_DISPLAY, _MOST_DISPLAYS = 200, 20
_ENDING = (signal.SIGTERM, signal.SIGINT, signal.SIGHUP)
_started: list[subprocess.Popen[bytes]] = []
_told = {"end": False, "starting": False}


class _Ended(BaseException):
    """Somebody told this program to end."""


def main() -> int:
    """Start the program with the demo project and return its exit status."""
    argparse.ArgumentParser(description=__doc__).parse_args()
    for name in _ENDING:
        signal.signal(name, _stop)
    try:
        return _run()
    except _Ended:
        return 0
    finally:
        for name in _ENDING:
            signal.signal(name, signal.SIG_IGN)
        _end_all()


def _run() -> int:
    env = dict(os.environ)
    if not (env.get("DISPLAY") or env.get("WAYLAND_DISPLAY")):
        display = _display()
        if display:
            print("There is no display: the window opens under Xvfb, where nobody sees it. Ctrl+C ends it.", flush=True)
            env["DISPLAY"] = display
        else:
            print("There is no display and no Xvfb: the window is painted off screen. Ctrl+C ends it.", flush=True)
            env["QT_QPA_PLATFORM"] = "offscreen"
    return _begin([sys.executable, "-m", "cozy_burrow", "--demo"], env=env).wait()


def _begin(command: list[str], **options: Any) -> subprocess.Popen[bytes]:
    """Start a program in a session of its own, and never without knowing of it when it is to be ended.

    Ctrl+C comes to this program first, which ends the others in their order.
    """
    _told["starting"] = True
    try:
        process: subprocess.Popen[bytes] = subprocess.Popen(command, start_new_session=True, **options)
        _started.append(process)
    finally:
        _told["starting"] = False
    if _told["end"]:
        raise _Ended
    return process


def _display() -> str:
    """Start an X server without a screen and return its display; empty where there is none to start.

    The number goes by this process: a server on the first free one may find its socket taken away by another that
    just ends there.
    """
    if not shutil.which("Xvfb"):
        return ""
    for attempt in range(_MOST_DISPLAYS):
        display = f":{_FIRST_DISPLAY + (os.getpid() + 37 * attempt) % 800}"
        ready, tell = os.pipe()
        server = _begin(
            ["Xvfb", display, "-displayfd", str(tell), "-screen", "0", "1280x800x24", "-nolisten", "tcp"],
            pass_fds=(tell,),
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        os.close(tell)
        with os.fdopen(ready) as stream:
            if stream.readline().strip():
                return display
        server.wait()  # taken: it has ended by itself
        _started.remove(server)
    return ""


def _stop(number: int, frame: FrameType | None) -> None:
    _told["end"] = True
    if not _told["starting"]:  # else the one that is being started would live on: nobody knows of it yet
        raise _Ended


def _end_all() -> None:
    """End what was started, last first."""
    for process in reversed(_started):
        with contextlib.suppress(OSError):
            process.terminate()
        try:
            process.wait(_PATIENCE_S)
        except subprocess.TimeoutExpired:
            process.kill()
            process.wait()


if __name__ == "__main__":
    sys.exit(main())
