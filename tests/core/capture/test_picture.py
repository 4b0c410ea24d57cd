"""Opening pictures: whatever kind it is, upright and in eight bits; what cannot be is said before it takes memory."""

from __future__ import annotations

import io
import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from cozy_burrow.core.capture.photo.picture import open_picture
from cozy_burrow.core.errors import UnusableInput

SIZE = (900, 700)


def written(image: Image.Image, kind: str, **more: object) -> bytes:
    stream = io.BytesIO()
    image.save(stream, kind, **more)
    return stream.getvalue()


def plain(mode: str = "RGB") -> Image.Image:
    ramp = np.linspace(0, 255, SIZE[0] * SIZE[1]).reshape(SIZE[1], SIZE[0]).astype(np.uint8)
    return Image.fromarray(ramp).convert(mode)


class Kinds(unittest.TestCase):
    def test_jpeg_png_tiff_and_heic_all_come_as_three_colours(self) -> None:
        from pillow_heif import register_heif_opener

        register_heif_opener()
        for kind in ("JPEG", "PNG", "TIFF", "HEIF"):
            with self.subTest(kind):
                picture = open_picture(written(plain(), kind), where="a")
                self.assertEqual(picture.pixels.shape, (SIZE[1], SIZE[0], 3))
                self.assertEqual(picture.pixels.dtype, np.uint8)

    def test_every_mode_of_colour(self) -> None:
        for mode in ("L", "1", "P", "RGBA", "LA", "CMYK"):
            with self.subTest(mode):
                kind = "TIFF" if mode in {"CMYK"} else "PNG"
                picture = open_picture(written(plain(mode), kind), where="a")
                self.assertEqual((picture.width_px, picture.height_px), SIZE)

    def test_what_is_transparent_lies_on_white(self) -> None:
        clear = Image.new("RGBA", SIZE, (10, 20, 30, 0))
        self.assertTrue((open_picture(written(clear, "PNG"), where="a").pixels == 255).all())

    def test_sixteen_bits_are_brought_down(self) -> None:
        values = np.full((SIZE[1], SIZE[0]), 30_000, dtype=np.uint16)
        values[0, 0] = 65_535
        picture = open_picture(written(Image.fromarray(values), "PNG"), where="a")
        self.assertAlmostEqual(int(picture.pixels[300, 300, 0]), 30_000 / 65_535 * 255, delta=1.5)

    def test_a_scan_says_its_dots_to_the_inch(self) -> None:
        self.assertAlmostEqual(
            open_picture(written(plain(), "PNG", dpi=(300, 300)), where="a").dpi or 0, 300, delta=0.1
        )
        self.assertEqual(open_picture(written(plain(), "JPEG", dpi=(200, 200)), where="a").dpi, 200)
        self.assertIsNone(open_picture(written(plain(), "PNG"), where="a").dpi)
        self.assertIsNone(open_picture(written(plain(), "TIFF", dpi=(300, 150)), where="a").dpi)

    def test_each_way_of_holding_a_camera_is_turned_upright(self) -> None:
        for turn, wanted in ((1, SIZE), (3, SIZE), (6, SIZE[::-1]), (8, SIZE[::-1])):
            exif = Image.Exif()
            exif[0x0112] = turn
            picture = open_picture(written(plain(), "JPEG", exif=exif), where="a")
            self.assertEqual((picture.width_px, picture.height_px), wanted)


class Lenses(unittest.TestCase):
    def focal(self, **tags: float) -> float | None:
        numbers = {"as_full_frame": 41989, "length": 37386, "density": 41486, "unit": 41488}
        exif = Image.Exif()
        part = exif.get_ifd(0x8769)
        for name, value in tags.items():
            part[numbers[name]] = int(value) if name in {"as_full_frame", "unit"} else float(value)
        return open_picture(written(plain(), "JPEG", exif=exif), where="a").focal_px

    def test_the_length_on_full_frame_keeps_the_angle_across_the_diagonal(self) -> None:
        found = self.focal(as_full_frame=27)
        assert found is not None
        angle = 2 * math.degrees(math.atan(math.hypot(*SIZE) / 2 / found))
        self.assertAlmostEqual(angle, 2 * math.degrees(math.atan(math.hypot(36, 24) / 2 / 27)), places=6)

    def test_the_true_length_and_the_sensor_serve_instead(self) -> None:
        found = self.focal(length=5.0, density=3000.0, unit=2)
        self.assertAlmostEqual(found or 0.0, 5.0 * 3000.0 / 25.4, delta=0.5)

    def test_nonsense_is_no_lens(self) -> None:
        self.assertIsNone(self.focal())
        self.assertIsNone(self.focal(as_full_frame=0))
        self.assertIsNone(self.focal(as_full_frame=60_000))
        self.assertIsNone(self.focal(length=5.0, density=9e9, unit=2))


class Refused(unittest.TestCase):
    def test_too_small_a_picture(self) -> None:
        with self.assertRaisesRegex(UnusableInput, "only 300 x 200"):
            open_picture(written(Image.new("RGB", (300, 200)), "PNG"), where="a")

    def test_kinds_that_are_not_read(self) -> None:
        for kind in ("GIF", "BMP"):
            with self.assertRaisesRegex(UnusableInput, "no picture"):
                open_picture(written(plain("P"), kind), where="a")

    def test_more_bytes_than_a_photo_has(self) -> None:
        with self.assertRaisesRegex(UnusableInput, "64 MB"):
            open_picture(bytes(64_000_001), where="a")

    @given(at=st.floats(0, 1), value=st.integers(0, 255), cut=st.floats(0.05, 1))
    @settings(max_examples=60, deadline=None, derandomize=True)
    def test_damage_ends_in_a_picture_or_a_sentence(self, at: float, value: int, cut: float) -> None:
        data = bytearray(written(plain(), "JPEG"))
        data[int(at * (len(data) - 1))] = value
        try:
            picture = open_picture(bytes(data[: max(4, int(cut * len(data)))]), where="photo")
        except UnusableInput as error:
            self.assertTrue(error.sentence().startswith("photo"))
        else:
            self.assertEqual(picture.pixels.ndim, 3)
