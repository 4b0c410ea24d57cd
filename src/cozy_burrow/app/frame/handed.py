"""What somebody lets fall onto the window: files by their paths, or a picture that has no file."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

DRAWINGS = (".svg", ".dxf")
TABLES = (".csv",)
PICTURES = (".jpg", ".jpeg", ".png", ".tif", ".tiff", ".heic", ".heif")
PROJECTS = (".burrow",)


@dataclass(frozen=True)
class Handed:
    """Files, and the bytes of a picture as it comes from a page in a browser or from the clipboard."""

    paths: tuple[Path, ...] = ()
    picture: bytes = b""

    def ending(self, endings: tuple[str, ...]) -> tuple[Path, ...]:
        """Return the files whose names end so, in whatever case."""
        return tuple(path for path in self.paths if path.suffix.lower() in endings)

    @property
    def others(self) -> tuple[Path, ...]:
        """The files that no way in reads."""
        return tuple(
            path for path in self.paths if path.suffix.lower() not in (*DRAWINGS, *TABLES, *PICTURES, *PROJECTS)
        )
