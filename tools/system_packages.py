"""See that the libraries that Qt needs are there; as root install what lacks, otherwise name the command."""

from __future__ import annotations

import argparse
import ctypes
import os
import shutil
import subprocess
import sys

# Debian package -> a library or a program of it.
OFFSCREEN = {
    "libgl1": "libGL.so.1",
    "libegl1": "libEGL.so.1",
    "libxkbcommon0": "libxkbcommon.so.0",
    "libdbus-1-3": "libdbus-1.so.3",
    "libfontconfig1": "libfontconfig.so.1",
    "libglib2.0-0": "libglib-2.0.so.0",
}
WINDOW = {
    "libxcb-cursor0": "libxcb-cursor.so.0",
    "libxcb-icccm4": "libxcb-icccm.so.4",
    "libxcb-keysyms1": "libxcb-keysyms.so.1",
    "libxcb-image0": "libxcb-image.so.0",
    "libxcb-randr0": "libxcb-randr.so.0",
    "libxcb-render-util0": "libxcb-render-util.so.0",
    "libxcb-shape0": "libxcb-shape.so.0",
    "libxcb-xkb1": "libxcb-xkb.so.1",
    "libxkbcommon-x11-0": "libxkbcommon-x11.so.0",
    "libx11-xcb1": "libX11-xcb.so.1",
    "xvfb": "/Xvfb",
    "xauth": "/xauth",
    "poppler-utils": "/pdftoppm",
}


def is_there(what: str) -> bool:
    """Return whether a library loads, or a program (written with a slash) is on the path."""
    if what.startswith("/"):
        return shutil.which(what[1:]) is not None
    try:
        ctypes.CDLL(what)
    except OSError:
        return False
    return True


def main() -> int:
    """Check, install where allowed, and say what lacks."""
    argparse.ArgumentParser(description=__doc__).parse_args()
    lacking = [package for package, what in (OFFSCREEN | WINDOW).items() if not is_there(what)]
    if not lacking:
        return 0
    command = ["apt-get", "install", "--yes", "--no-install-recommends", *lacking]
    if os.geteuid() == 0 and shutil.which("apt-get"):
        print("installing what Qt needs:", " ".join(lacking))
        quiet = {"stdout": subprocess.DEVNULL, "env": os.environ | {"DEBIAN_FRONTEND": "noninteractive"}}
        subprocess.run(["apt-get", "update"], check=False, **quiet)  # type: ignore[call-overload]
        subprocess.run(command, check=False, **quiet)  # type: ignore[call-overload]
        lacking = [package for package, what in (OFFSCREEN | WINDOW).items() if not is_there(what)]
    if lacking:
        print(f"These system packages are missing. Install them with:\n  sudo {' '.join(command)}", file=sys.stderr)
    return 1 if any(package in OFFSCREEN for package in lacking) else 0


if __name__ == "__main__":
    sys.exit(main())
