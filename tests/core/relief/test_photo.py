"""The cut-out of an item's photo: light taken out, materials kept, small enough, on its relief where it belongs."""

from __future__ import annotations

import io
import unittest

import numpy as np
from msgspec.structs import replace
from PIL import Image
from shapely.geometry import box as rectangle

from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.model.records import Item, Photo
from cozy_burrow.core.relief.field import field_of_item
from cozy_burrow.core.relief.finish import finish_of
from cozy_burrow.core.relief.grid import Grid
from cozy_burrow.core.relief.light import lit
from cozy_burrow.core.relief.photo import MOST_BYTES, cut_out, mean_colour, moved_photo, texture_of
from cozy_burrow.core.relief.picture import picture_of
from tests.core.relief.test_relief import LOOK
from tests.makers import box, laid, project

CELL = 0.15


def paper(wide: float = 160.0, high: float = 90.0) -> np.ndarray:
    return np.full((round(high / CELL), round(wide / CELL), 3), 245, dtype=np.uint8)


def painted(pixels: np.ndarray, area: tuple[float, float, float, float], colour: np.ndarray | tuple[int, ...]) -> None:
    left, top, right, bottom = (round(value / CELL) for value in area)
    pixels[top:bottom, left:right] = colour


def colours(photo: Photo) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(photo.jpeg)).convert("RGB")).astype(float)


def at(photo: Photo, x: float, y: float) -> np.ndarray:
    """The colour at a place, a little area round it."""
    row, column = round((y - photo.top_mm) * photo.px_per_mm), round((x - photo.left_mm) * photo.px_per_mm)
    return colours(photo)[row - 2 : row + 3, column - 2 : column + 3].mean(axis=(0, 1))


class CutOuts(unittest.TestCase):
    def test_light_over_the_breadth_goes_and_what_it_is_made_of_stays(self) -> None:
        pixels = paper()
        shading = (0.45 + 0.55 * np.sin(np.linspace(0.25, 2.6, round(30 / CELL))))[:, None, None]
        for area, albedo in (((20, 30, 80, 60), (150, 90, 45)), ((80, 30, 140, 60), (60, 60, 66))):
            long = round((area[2] - area[0]) / CELL)
            painted(pixels, area, np.round(shading * np.array(albedo) * np.ones((1, long, 1))).astype(np.uint8))
        found = cut_out(rectangle(20, 30, 140, 60), pixels, (0.0, 0.0), CELL)
        assert found is not None
        across = np.array([at(found, 50, y).mean() for y in np.linspace(33, 57, 13)])
        before = shading[:, 0, 0] * np.mean((150, 90, 45))
        self.assertLess(across.std() / across.mean(), 0.25 * before.std() / before.mean())
        wood, dark = at(found, 50, 45), at(found, 110, 45)
        self.assertAlmostEqual(wood[0] / wood[2], 150 / 45, delta=0.5)  # its colour
        self.assertAlmostEqual(wood.mean() / dark.mean(), np.mean((150, 90, 45)) / 62, delta=0.25)
        # A few millimetres beside the joint nothing has a halo.
        self.assertAlmostEqual(at(found, 76, 45).mean(), wood.mean(), delta=0.08 * wood.mean())
        self.assertAlmostEqual(at(found, 84, 45).mean(), dark.mean(), delta=0.12 * dark.mean())

    def test_paper_never_shines_through_at_the_edge_and_beyond(self) -> None:
        pixels = paper()
        painted(pixels, (30, 30, 120, 50), (40, 42, 48))
        found = cut_out(rectangle(29.8, 29.8, 120.2, 50.2), pixels, (0.0, 0.0), CELL)
        assert found is not None
        self.assertLess(float(colours(found).max()), 90.0)

    def test_print_on_it_stays(self) -> None:
        pixels = paper()
        painted(pixels, (20, 30, 140, 60), (180, 40, 40))
        for x in range(40, 100, 4):
            painted(pixels, (x, 42, x + 1.2, 48), (240, 240, 240))
        found = cut_out(rectangle(20, 30, 140, 60), pixels, (0.0, 0.0), CELL)
        assert found is not None
        row = colours(found)[round((45 - found.top_mm) * found.px_per_mm)]
        inner = row[round((42 - found.left_mm) * found.px_per_mm) : round((96 - found.left_mm) * found.px_per_mm), 1]
        self.assertGreater(float(np.ptp(inner)), 90.0)

    def test_however_large_and_rough_it_takes_no_more_than_was_promised(self) -> None:
        chance = np.random.default_rng(4)
        pixels = chance.integers(0, 255, (3000, 4000, 3), dtype=np.uint8)
        found = cut_out(rectangle(5, 5, 590, 440), pixels, (0.0, 0.0), CELL)
        assert found is not None
        self.assertLessEqual(len(found.jpeg), MOST_BYTES)

    def test_what_the_picture_does_not_show_has_none(self) -> None:
        self.assertIsNone(cut_out(rectangle(500, 500, 560, 520), paper(), (0.0, 0.0), CELL))

    def test_it_goes_with_the_outline_when_parallax_is_taken_out(self) -> None:
        photo = Photo(jpeg=b"", left_mm=40.0, top_mm=20.0, px_per_mm=6.0)
        moved = moved_photo(photo, factor=0.9, about_mm=(100.0, 50.0), shift_mm=(3.0, -4.0))
        for pixel in ((0.0, 0.0), (120.0, 300.0)):
            before = photo.left_mm + pixel[0] / photo.px_per_mm, photo.top_mm + pixel[1] / photo.px_per_mm
            after = moved.left_mm + pixel[0] / moved.px_per_mm, moved.top_mm + pixel[1] / moved.px_per_mm
            self.assertAlmostEqual(after[0], 100 + (before[0] - 100) * 0.9 + 3)
            self.assertAlmostEqual(after[1], 50 + (before[1] - 50) * 0.9 - 4)


def with_photo(item: Item, halves: tuple[tuple[int, int, int], tuple[int, int, int]]) -> Item:
    """An item 80 by 40 about the origin whose left half has one colour and whose right half another."""
    pixels = np.zeros((240, 480, 3), dtype=np.uint8)
    pixels[:, :240], pixels[:, 240:] = halves
    stream = io.BytesIO()
    Image.fromarray(pixels).save(stream, "JPEG", quality=95)
    return replace(item, photo=Photo(jpeg=stream.getvalue(), left_mm=-40.0, top_mm=-20.0, px_per_mm=6.0))


class OnTheRelief(unittest.TestCase):
    def test_it_lies_where_the_item_lies_however_that_is_turned(self) -> None:
        item = with_photo(box(80.0, 40.0, 24.0), ((200, 40, 40), (40, 40, 200)))
        for angle in (0.0, 90.0, 215.0):
            plan = laid(project(item), (150.0, 100.0, angle))
            picture = picture_of(ground_of(plan, plan.inserts[0]), 2.0, LOOK)
            turn = np.radians(angle)
            for side, strong in ((-1, 0), (1, 2)):
                x, y = 150 + side * 22 * np.cos(turn), 100 + side * 22 * np.sin(turn)
                row, column = (int((v - o) * 2.0) for v, o in ((y, picture.grid.top_mm), (x, picture.grid.left_mm)))
                seen = picture.pixels[row - 3 : row + 4, column - 3 : column + 4, :3].reshape(-1, 3).mean(axis=0)
                self.assertEqual(int(seen.argmax()), strong, (angle, side, seen))

    def test_a_colour_that_somebody_says_is_seen_instead(self) -> None:
        item = replace(with_photo(box(80.0, 40.0, 24.0), ((200, 40, 40), (40, 40, 200))), colour="green")
        picture = lit(field_of_item(item, Grid.over((-45, -25, 45, 25), 1.0)))
        for column in (25, 65):
            self.assertEqual(int(picture[25, column, :3].argmax()), 1)

    def test_what_lies_over_it_is_seen_and_not_its_photo(self) -> None:
        item = with_photo(box(80.0, 40.0, 24.0), ((200, 40, 40), (40, 40, 200)))
        other = box(20.0, 20.0, 40.0)
        plan = laid(project(item, other), (150.0, 100.0), (150.0, 100.0))
        picture = picture_of(ground_of(plan, plan.inserts[0]), 2.0, LOOK)
        row, column = (int((v - o) * 2.0) for v, o in ((100, picture.grid.top_mm), (145, picture.grid.left_mm)))
        red, _, blue = picture.pixels[row, column, :3].astype(int)
        self.assertLess(abs(int(red) - int(blue)), 90)

    def test_colour_and_material_are_guessed_from_it_unless_somebody_says(self) -> None:
        item = with_photo(box(80.0, 40.0, 24.0), ((168, 116, 63), (168, 116, 63)))
        guessed = finish_of(item, 0, "")
        self.assertEqual(guessed.grain, "wood")
        self.assertLess(max(abs(a - b) for a, b in zip(guessed.colour, (168, 116, 63))), 6)
        self.assertEqual(mean_colour(box(), 0), None)
        said = finish_of(replace(item, material="steel"), 0, "")
        self.assertTrue(said.metal)

    def test_bytes_that_are_no_picture_are_none_and_nothing_falls(self) -> None:
        item = box(80.0, 40.0, 24.0)
        plain = lit(field_of_item(item, Grid.over((-45, -25, 45, 25), 1.0)))
        chance = np.random.default_rng(1)
        whole = with_photo(item, ((200, 40, 40), (40, 40, 200))).photo
        assert whole is not None
        for data in (b"", b"\xff\xd8\xff", whole.jpeg[:200], bytes(chance.integers(0, 255, 500, dtype=np.uint8))):
            odd = replace(item, photo=replace(whole, jpeg=data))
            self.assertEqual(lit(field_of_item(odd, Grid.over((-45, -25, 45, 25), 1.0))).shape, plain.shape)
        none = replace(item, photo=replace(whole, px_per_mm=0.0))
        self.assertTrue(np.array_equal(lit(field_of_item(none, Grid.over((-45, -25, 45, 25), 1.0))), plain))

    def test_a_coarse_picture_reads_a_coarse_photo(self) -> None:
        photo = with_photo(box(80.0, 40.0, 24.0), ((200, 40, 40), (40, 40, 200))).photo
        assert photo is not None
        fine, coarse = texture_of(photo, 6.0), texture_of(photo, 0.7)
        assert fine is not None and coarse is not None
        self.assertEqual(fine.colours.shape, (240, 480, 3))
        self.assertLess(coarse.colours.shape[1], 80)
        for found in (fine, coarse):
            left, right = found.at(np.float32([-20, 20]), np.float32([0, 0])).astype(int)
            self.assertGreater(left[0], left[2] + 90)
            self.assertGreater(right[2], right[0] + 90)
