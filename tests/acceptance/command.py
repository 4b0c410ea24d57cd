"""Run the program as a person would: a fresh process, both streams, the exit status."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path
from typing import Any, NamedTuple

DEMO_KIT = Path(__file__).resolve().parents[2] / "src" / "cozy_burrow" / "assets" / "demo" / "kit.csv"


class Answer(NamedTuple):
    """What a call left behind."""

    status: int
    out: str
    err: str

    def json(self) -> Any:
        """Return standard output as the one JSON object that it must be."""
        return json.loads(self.out)


def burrow(*words: object, cwd: Path | None = None, seconds: float = 3_600) -> Answer:
    """Call cozy-burrow with some words."""
    done = subprocess.run(
        [sys.executable, "-m", "cozy_burrow", *map(str, words)],
        capture_output=True,
        text=True,
        cwd=cwd,
        timeout=seconds,
        check=False,
        env=os.environ | {"QT_QPA_PLATFORM": "offscreen"},
    )
    return Answer(done.returncode, done.stdout, done.stderr)
