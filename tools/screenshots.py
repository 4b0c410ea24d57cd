"""Paint every stage of the demo project into docs/screenshots, by day and by lamp light."""

from __future__ import annotations

import argparse
import os
import subprocess
import sys
from pathlib import Path

FOLDER = Path(__file__).resolve().parent.parent / "docs" / "screenshots"
STAGES = ("gather", "measure", "lay-out", "sink", "grip", "cut")


def main() -> int:
    """Paint the pictures."""
    argparse.ArgumentParser(description=__doc__).parse_args()
    for stage in STAGES:
        for theme in ("light", "lamp"):
            out = FOLDER / f"{stage}-{theme}.png"
            command = [sys.executable, "-m", "cozy_burrow", "--demo", "--shot", str(out), "--stage", stage]
            env = os.environ | {"QT_QPA_PLATFORM": "offscreen"}
            subprocess.run([*command, "--theme", theme], check=True, env=env, stderr=subprocess.DEVNULL)
            print(out)
    return 0


if __name__ == "__main__":
    sys.exit(main())
