"""Opening a picture safely: its pixels upright, and what its camera says of its lens.

A picture is 8 bit, (height, width, 3), red green blue. What is too large, cut off or no picture is refused in a
sentence before its pixels take memory.
"""

from __future__ import annotations

import io
import math
import warnings
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.tongue import tr

Pixels = NDArray[np.uint8]

MOST_BYTES = 64_000_000
MOST_PIXELS = 64_000_000  # four times what a phone takes; 200 MB as colours
FEWEST_PIXELS = 400_000  # below this a page is a few pixels to the millimetre at best
_KINDS = ("JPEG", "PNG", "TIFF", "HEIF")  # the phones' MPO comes in by way of JPEG
_FULL_FRAME_DIAGONAL_MM = math.hypot(36.0, 24.0)
_FOCAL_35, _FOCAL, _PLANE_ACROSS, _PLANE_UNIT = 41989, 37386, 41486, 41488
_EXIF_PART = 0x8769


@dataclass(frozen=True)
class Picture:
    """Pixels as they are to be looked at. `focal_px` and `dpi` only where the file says so."""

    pixels: Pixels
    focal_px: float | None = None
    dpi: float | None = None

    @property
    def width_px(self) -> int:
        """Columns."""
        return int(self.pixels.shape[1])

    @property
    def height_px(self) -> int:
        """Rows."""
        return int(self.pixels.shape[0])


def open_picture(data: bytes, *, where: str) -> Picture:
    """Return the picture in a file's bytes (JPEG, PNG, TIFF or HEIC). Raises UnusableInput."""
    if len(data) > MOST_BYTES:
        raise UnusableInput(tr("the picture is larger than 64 MB"), where=where, remedy=tr("save it smaller"))
    # Named, or Pillow does not know these kinds before it has met another file.
    from PIL import Image, ImageOps, JpegImagePlugin, PngImagePlugin, TiffImagePlugin  # noqa: F401

    _know_heif()
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # a warning about a large picture: the check below refuses it
            image: Any = Image.open(io.BytesIO(data), formats=_KINDS)
            _check_size(image.width, image.height, where)
            exif = image.getexif()
            focal = _focal_px(exif, image.width, image.height)
            dpi = _dpi(image)
            if image.mode in {"I;16", "I", "F", "I;16B", "I;16L"}:
                image = _eight_bit(image)
            image.load()
            image = ImageOps.exif_transpose(image)
            upright: Any = _on_white(image)
    except UnusableInput:
        raise
    except MemoryError as error:
        raise UnusableInput(
            tr("the picture does not fit into memory"), where=where, remedy=tr("save it smaller")
        ) from error
    except Exception as error:  # the decoders raise many kinds for what is no picture
        raise UnusableInput(
            tr("this is no picture that can be read, or it is cut off"),
            where=where,
            remedy=tr("give a whole JPEG or PNG"),
        ) from error
    return Picture(pixels=np.ascontiguousarray(np.asarray(upright, dtype=np.uint8)), focal_px=focal, dpi=dpi)


def _know_heif() -> None:
    import contextlib

    with contextlib.suppress(ImportError):  # the other kinds do without it
        from pillow_heif import register_heif_opener

        register_heif_opener(thumbnails=False)


def _check_size(width: int, height: int, where: str) -> None:
    if width * height > MOST_PIXELS:
        raise UnusableInput(
            tr(
                "the picture has {width:.0f} megapixels; more than {most_pixels:.0f} are not read",
                width=width * height / 1000000.0,
                most_pixels=MOST_PIXELS / 1000000.0,
            ),
            where=where,
            remedy=tr("save it at half the size"),
        )
    if width * height < FEWEST_PIXELS:
        raise UnusableInput(
            tr("the picture has only {width} x {height} pixels", width=width, height=height),
            where=where,
            remedy=tr("give the photo as the camera took it"),
        )


def _on_white(image: Any) -> Any:
    """Return the image in colours, what is transparent put on white."""
    from PIL import Image

    if image.mode in {"RGBA", "LA", "PA"} or (image.mode == "P" and "transparency" in image.info):
        image = image.convert("RGBA")
        ground = Image.new("RGBA", image.size, (255, 255, 255, 255))
        ground.alpha_composite(image)
        return ground.convert("RGB")
    return image.convert("RGB")


def _eight_bit(image: Any) -> Any:
    from PIL import Image

    values = np.asarray(image, dtype=float)
    top = 65535.0 if values.max() > 255 else 255.0
    return Image.fromarray(np.clip(values / top * 255.0, 0, 255).astype(np.uint8))


def _focal_px(exif: Any, width: int, height: int) -> float | None:
    """Return the focal length in pixels from the length that a full frame camera would have, if that stands there.

    By convention that length keeps the angle across the diagonal. Otherwise the true length and the density of
    the sensor serve.
    """
    try:
        tags = dict(exif.get_ifd(_EXIF_PART))
        as_full_frame = float(tags.get(_FOCAL_35) or 0.0)
        if 8.0 <= as_full_frame <= 400.0:
            return as_full_frame / _FULL_FRAME_DIAGONAL_MM * math.hypot(width, height)
        unit_mm = {2: 25.4, 3: 10.0}[int(tags[_PLANE_UNIT])]
        focal = float(tags[_FOCAL]) * float(tags[_PLANE_ACROSS]) / unit_mm
    except Exception:  # no such tags, or damaged: the solver does without
        return None
    return focal if 0.2 <= focal / math.hypot(width, height) <= 10.0 else None


def _dpi(image: Any) -> float | None:
    try:
        across, down = (float(one) for one in image.info["dpi"])
    except Exception:  # none, or damaged
        return None
    if not (30.0 <= across <= 9600.0 and abs(across - down) <= 0.01 * across):
        return None
    return across
