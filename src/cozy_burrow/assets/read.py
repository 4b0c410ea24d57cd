"""Where the shipped files lie: fonts, icons, themes, paper sizes, the demo kit."""

from __future__ import annotations

from pathlib import Path

FOLDER = Path(__file__).parent


def asset(*parts: str) -> Path:
    """Return the path of a shipped file."""
    return FOLDER.joinpath(*parts)
