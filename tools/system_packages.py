"""See that what Qt and a virtual environment need is there; as root install what lacks, otherwise name the command."""

from __future__ import annotations

import argparse
import ctypes
import importlib.util
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


VENV = {"python3-venv": "ensurepip."}  # Debian parts it from python3; without it a virtual environment has no pip


def is_there(what: str) -> bool:
    """Return whether a library loads, a program (written with a slash) is on the path, or a module (a dot) is there."""
    if what.endswith("."):
        return importlib.util.find_spec(what[:-1]) is not None
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
    needed = OFFSCREEN | WINDOW | VENV
    lacking = [package for package, what in needed.items() if not is_there(what)]
    if not lacking:
        return 0
    command = ["apt-get", "install", "--yes", "--no-install-recommends", *lacking]
    if os.geteuid() == 0 and shutil.which("apt-get"):
        print("installing what is needed:", " ".join(lacking))
        quiet = {"stdout": subprocess.DEVNULL, "env": os.environ | {"DEBIAN_FRONTEND": "noninteractive"}}
        subprocess.run(["apt-get", "update"], check=False, **quiet)  # type: ignore[call-overload]
        subprocess.run(command, check=False, **quiet)  # type: ignore[call-overload]
        importlib.invalidate_caches()
        lacking = [package for package, what in needed.items() if not is_there(what)]
    if lacking:
        named = f"sudo apt-get update && sudo {' '.join([*command[:4], *lacking])}"
        print(f"These system packages are missing. Install them with:\n  {named}", file=sys.stderr)
    return 1 if any(package in OFFSCREEN | VENV for package in lacking) else 0


if __name__ == "__main__":
    sys.exit(main())
