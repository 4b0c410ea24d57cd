"""What the program asks of a camera, and the file that a photo is handed over as."""

from __future__ import annotations

from typing import Protocol


class PhotoSource(Protocol):
    """Anything that takes a picture: a phone's folder, a tethered camera, the simulated one."""

    def take_photo(self) -> bytes:
        """Return a JPEG or PNG file's bytes."""
