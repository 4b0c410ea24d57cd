"""How the window was asked for."""

from __future__ import annotations

from pathlib import Path

import msgspec


class Start(msgspec.Struct, frozen=True):
    """What the command line said of the window."""

    file: Path | None = None
    demo: bool = False
    shot: Path | None = None
    stage: str | None = None
    size: tuple[int, int] = (1280, 800)
    theme: str | None = None
    scale: float = 1.0
