"""The photo that a project keeps: small, with its lens, without where and when it was taken."""

from __future__ import annotations

import io
import unittest

import numpy as np
from PIL import Image

from cozy_burrow.core.capture.photo.picture import open_picture
from cozy_burrow.jobs.full_photo import LONGEST_PX, kept_photo

_MAKER, _GPS, _EXIF_PART, _FOCAL_35 = 271, 0x8825, 0x8769, 41989


def taken(wide: int, high: int, focal_35: int | None) -> bytes:
    """Return a JPEG as a telephone writes it."""
    exif = Image.Exif()
    exif[_MAKER] = "somebody"
    exif.get_ifd(_GPS)[1] = "N"
    if focal_35 is not None:
        exif.get_ifd(_EXIF_PART)[_FOCAL_35] = focal_35
    pixels = np.random.default_rng(3).integers(0, 255, (high // 40, wide // 40, 3), dtype=np.uint8)
    stream = io.BytesIO()
    Image.fromarray(pixels).resize((wide, high)).save(stream, "JPEG", exif=exif)
    return stream.getvalue()


class KeptPhoto(unittest.TestCase):
    def test_it_is_small_and_keeps_its_lens_alone(self) -> None:
        whole = open_picture(taken(4000, 3000, 26), where="a.jpg")
        data = kept_photo(whole)
        kept = open_picture(data, where="kept")
        self.assertEqual((kept.width_px, kept.height_px), (LONGEST_PX, 1500))
        self.assertLess(len(data), 2_000_000)
        assert kept.focal_px is not None and whole.focal_px is not None
        self.assertAlmostEqual(kept.focal_px / LONGEST_PX, whole.focal_px / 4000, delta=0.02)
        exif = Image.open(io.BytesIO(data)).getexif()
        self.assertNotIn(_MAKER, exif)
        self.assertFalse(exif.get_ifd(_GPS))

    def test_a_small_one_without_a_lens_stays_as_large_as_it_is(self) -> None:
        kept = open_picture(kept_photo(open_picture(taken(1000, 1400, None), where="a.jpg")), where="kept")
        self.assertEqual((kept.width_px, kept.height_px, kept.focal_px), (1000, 1400, None))
