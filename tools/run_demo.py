"""Open the demo: on the display, else in a window under Xvfb, else painted off screen; says which."""

from __future__ import annotations

import argparse
import os
import shutil
import subprocess
import sys


def main() -> int:
    """Start the program with the demo project and return its exit status."""
    argparse.ArgumentParser(description=__doc__).parse_args()
    command = [sys.executable, "-m", "cozy_burrow", "--demo"]
    if os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY"):
        return subprocess.run(command, check=False).returncode
    if shutil.which("xvfb-run"):
        print("There is no display: the window opens under Xvfb, where nobody sees it. Ctrl+C ends it.", flush=True)
        return subprocess.run(["xvfb-run", "-a", "-s", "-screen 0 1280x800x24", *command], check=False).returncode
    print("There is no display and no Xvfb: the window is painted off screen. Ctrl+C ends it.", flush=True)
    return subprocess.run(command, check=False, env=os.environ | {"QT_QPA_PLATFORM": "offscreen"}).returncode


if __name__ == "__main__":
    try:
        sys.exit(main())
    except KeyboardInterrupt:
        sys.exit(0)
