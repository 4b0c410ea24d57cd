"""The photo of an insert with everything in its place, as the project keeps it: small, and without what it tells of
its owner.

Of what its camera wrote only the lens stays: a photo says where it was taken, and a project is handed on.
"""

from __future__ import annotations

import io
import math

from cozy_burrow.core.capture.photo.picture import Picture

LONGEST_PX = 2_000
_QUALITY = 85
_FOCAL_35 = 41989  # of EXIF: focal length as on 36 x 24 mm
_EXIF_PART = 0x8769
_FULL_FRAME_DIAGONAL_MM = math.hypot(36.0, 24.0)


def kept_photo(picture: Picture) -> bytes:
    """Return a picture as a JPEG of at most 2000 pixels, with its focal length where that is known."""
    from PIL import Image

    image = Image.fromarray(picture.pixels)
    image.thumbnail((LONGEST_PX, LONGEST_PX))
    exif = Image.Exif()
    if picture.focal_px is not None:
        diagonal = math.hypot(picture.width_px, picture.height_px)
        exif.get_ifd(_EXIF_PART)[_FOCAL_35] = max(1, round(picture.focal_px / diagonal * _FULL_FRAME_DIAGONAL_MM))
    stream = io.BytesIO()
    image.save(stream, "JPEG", quality=_QUALITY, exif=exif)
    return stream.getvalue()
