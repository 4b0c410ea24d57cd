"""Paper told by its dots: on made rasters whose truth is known, and on simulated photos that light alone can't read."""

from __future__ import annotations

import math
import unittest
import warnings
from functools import lru_cache

import cv2
import numpy as np
import shapely
from scipy.spatial import cKDTree
from shapely.geometry import Point, Polygon, box

from cozy_burrow.core.capture.photo.dots import darker, dots_raster, seen_dots
from cozy_burrow.core.capture.photo.lie import lie_of
from cozy_burrow.core.capture.photo.mat import PAPERS, black_boxes, dot_boxes, mat_page, printed_boxes
from cozy_burrow.core.capture.photo.picture import open_picture
from cozy_burrow.core.capture.photo.trace import PhotoTrace, look_at, outlines
from cozy_burrow.core.capture.retouch.another import with_photo
from cozy_burrow.core.capture.retouch.draft import table_of
from cozy_burrow.devices.simulated_camera import PrintedPage, SimulatedCamera
from cozy_burrow.devices.simulated_scene import Colour, Light, Stand, Subject
from tests.core.capture.scenes import DARK, apart_mm, laid, three_things

CELL = 0.25
PAPER: Colour = (0.86, 0.86, 0.84)
PALE: Colour = (0.80, 0.79, 0.75)


def printed_field() -> np.ndarray:
    """The ink of the dots of an A4 field in cells of 0.25 mm, blurred as a sharp photo is: (rows, columns)."""
    ink = dots_raster("a4", 1).astype(np.float32) / 255
    left, top, right, low = (round(one / 0.15) for one in mat_page("a4").field_mm)
    part = ink[top:low, left:right]
    size = (round(part.shape[1] * 0.15 / CELL), round(part.shape[0] * 0.15 / CELL))
    return np.asarray(cv2.GaussianBlur(cv2.resize(part, size, interpolation=cv2.INTER_AREA), (0, 0), 0.7))


class Printing(unittest.TestCase):
    def test_dots_lie_apart_off_all_other_print_and_alike_on_every_print(self) -> None:
        for paper in PAPERS:
            page = mat_page(paper)
            boxes = np.array(dot_boxes(page))
            self.assertTrue((boxes[:, :2] > 5.5).all())
            self.assertTrue((boxes[:, 2:] < (page.width_mm - 5.5, page.height_mm - 5.5)).all(), paper)
            self.assertEqual(dot_boxes(page), dot_boxes(page))
            middles = (boxes[:, :2] + boxes[:, 2:]) / 2
            nearest = cKDTree(middles).query(middles, k=2)[0][:, 1]
            self.assertGreater(float(nearest.min()), 0.6)  # a printer's growth must not join them
            others = shapely.STRtree([box(*one) for one in (*black_boxes(page), *page.text_boxes_mm)])
            dots = shapely.box(boxes[:, 0], boxes[:, 1], boxes[:, 2], boxes[:, 3])
            self.assertEqual(len(others.query(shapely.buffer(dots, 0.3), predicate="intersects")[0]), 0)
            left, top, right, low = page.field_mm
            within = (middles > (left, top)).all(axis=1) & (middles < (right, low)).all(axis=1)
            ink = float(((boxes[:, 2] - boxes[:, 0]) * (boxes[:, 3] - boxes[:, 1]))[within].sum())
            self.assertTrue(0.05 < ink / ((right - left) * (low - top)) < 0.07)  # it still looks white

    def test_the_raster_has_the_ink_of_the_boxes(self) -> None:
        for paper in ("a4", "tabloid"):
            boxes = np.array(dot_boxes(mat_page(paper)))
            ink = float(((boxes[:, 2] - boxes[:, 0]) * (boxes[:, 3] - boxes[:, 1])).sum())
            raster = dots_raster(paper, 1)
            self.assertAlmostEqual(float(raster.sum()) / 255 * 0.15**2 / ink, 1.0, delta=0.01)


class Lying(unittest.TestCase):
    def test_a_page_that_bulges_is_seen_to(self) -> None:
        """The ink is moved by a smooth bend of up to 0.7 mm; half of the field is covered by things."""
        ink = printed_field()
        rows, columns = ink.shape
        y, x = np.mgrid[0:rows, 0:columns].astype(np.float32)
        across = (0.7 * np.sin(math.pi * x / columns) / CELL).astype(np.float32)
        down = (-0.4 * (y / rows) ** 2 / CELL).astype(np.float32)
        seen = cv2.remap(ink, x - across, y - down, cv2.INTER_LINEAR)
        seen[:, columns // 3 : columns // 2] = 0.0
        seen[rows // 2 : rows // 2 + 200, :300] = np.random.default_rng(2).uniform(0, 1, (200, 300))
        field = np.ones(ink.shape, dtype=bool)
        lie = lie_of(seen.astype(np.float32), ink, field, (10.0, 20.0), CELL)
        assert lie is not None
        places = np.array([[30.0, 40.0], [100.0, 150.0], [140.0, 60.0], [50.0, 230.0]])
        cells = (places - (10.0, 20.0)) / CELL
        due = np.stack([0.7 * np.sin(math.pi * cells[:, 0] / columns), -0.4 * (cells[:, 1] / rows) ** 2], axis=1)
        self.assertLess(float(np.abs(lie.shifts(places) - due).max()), 0.05)

    def test_where_no_dots_are_seen_nothing_is_said(self) -> None:
        ink = printed_field()
        noise = np.random.default_rng(3).normal(0, 0.05, ink.shape).astype(np.float32)
        self.assertIsNone(lie_of(noise, ink, np.ones(ink.shape, dtype=bool), (0.0, 0.0), CELL))


class Seeing(unittest.TestCase):
    def setUp(self) -> None:
        self.ink = printed_field()
        columns = self.ink.shape[1]
        self.field = np.ones(self.ink.shape, dtype=bool)
        across = np.linspace(1.0, 0.7, columns, dtype=np.float32)
        self.light = np.broadcast_to(across, self.ink.shape) * (1 - 0.9 * self.ink)
        self.chance = np.random.default_rng(4)

    def seen(self, light: np.ndarray, noise: float = 0.01) -> object:
        noisy = light + noise * self.chance.standard_normal(light.shape)
        picture = np.repeat(noisy[..., None], 3, axis=2).astype(np.float32)
        dark = darker(picture, self.ink, self.field, CELL)
        assert dark is not None
        return seen_dots(*dark, self.ink, self.field, (0.0, 0.0), CELL)

    def test_paper_is_seen_in_light_and_in_shadow_and_a_card_as_bright_as_paper_is_not(self) -> None:
        light = self.light.copy()
        light[:, 100:250] *= 0.25  # a shadow with a hard edge
        light[300:420, 350:500] = 0.8  # a card
        dots = self.seen(light)
        assert dots is not None
        for name, part, low, high in (
            ("lit", (slice(40, 250), slice(300, 600)), 0.8, 1.2),
            ("in the shadow", (slice(40, 250), slice(115, 235)), 0.7, 1.3),
            ("on the card", (slice(310, 410), slice(360, 490)), -0.2, 0.2),
        ):
            share = dots.share[part]  # type: ignore[attr-defined]
            found = np.percentile(share, [5, 95])
            self.assertTrue((found > low).all() and (found < high).all(), (name, found))

    def test_print_without_dots_and_dots_shifted_by_half_a_pitch_are_none(self) -> None:
        self.assertIsNone(self.seen(np.ones_like(self.light)))
        self.assertIsNone(self.seen(np.roll(self.light, 3, axis=1)))

    def test_a_field_that_is_darker_than_dots_could_make_it_shows_none_and_divides_by_nothing(self) -> None:
        off, base = np.full_like(self.ink, 0.9), np.ones_like(self.ink)
        with warnings.catch_warnings():
            warnings.simplefilter("error")
            self.assertIsNone(seen_dots(off, base, self.ink, self.field, (0.0, 0.0), CELL))

    def test_a_noisier_picture_is_less_sure(self) -> None:
        calm, noisy = self.seen(self.light, 0.005), self.seen(self.light, 0.03)
        assert calm is not None and noisy is not None
        ratio = float(np.median(noisy.unsure) / np.median(calm.unsure))  # type: ignore[attr-defined]
        self.assertTrue(3.0 < ratio < 8.0, ratio)


def taken(subjects: tuple[Subject, ...], light: Light, *, dots: bool = True, tilt_deg: float = 8.0) -> PhotoTrace:
    """A photo of things on an A4 mat, 5 megapixels from half a metre, understood."""
    page = mat_page("a4")
    stand = Stand(
        aim_mm=(105, 148),
        height_mm=500.0,
        tilt_deg=tilt_deg,
        towards_deg=50.0,
        width_px=1950,
        height_px=2600,
        noise=0.01,
    )
    boxes = printed_boxes(page) if dots else black_boxes(page)
    printed = PrintedPage(page.width_mm, page.height_mm, tuple(boxes))
    data = SimulatedCamera(printed, subjects, stand, light).take_photo()
    return look_at(open_picture(data, where="a"), where="a")


@lru_cache(maxsize=1)
def hard_things() -> tuple[Subject, ...]:
    """A card as white as the paper, a pale spreader with a small hole, a dark thing with a long hard shadow."""
    spreader = laid(Polygon([(0, 0), (60, 4), (90, -16), (90, 36), (60, 18), (0, 20)]), 110, 90, 10)
    hole = Point(spreader.centroid.x - 25, spreader.centroid.y).buffer(2.6)
    return (
        Subject(laid(box(0, 0, 54, 34), 70, 165, 20), 0.4, "straight", PAPER, 0.0),
        Subject(spreader.difference(hole), 0.8, "straight", PALE, 0.0),
        Subject(laid(box(0, 0, 60, 12), 110, 225, 0), 14.0, "straight", DARK, 0.0),
    )


class Photos(unittest.TestCase):
    def test_white_pale_and_shadowed_things_are_found_as_they_are(self) -> None:
        lamp = Light(ambient=0.35, slope=(0.7, 0.5), softness=0.015)
        trace = taken(hard_things(), lamp)
        for subject in hard_things():
            height = subject.height_mm
            found = outlines(trace, height_mm=height, sides="straight", where="a")
            self.assertEqual(len(found), 3)
            nearest = min(found, key=lambda one: one.shape.centroid.distance(subject.shape.centroid))
            mean, most = apart_mm(nearest.shape, subject.shape)
            # Beside the pale one lies a shadow narrower than dots are apart, as sharp as its edge, and darker.
            least = (0.45, 1.0) if subject.colour == PALE else (0.28, 0.75)
            self.assertLess(mean, least[0], subject.colour)
            self.assertLess(most, least[1], subject.colour)
            self.assertEqual(len(nearest.shape.interiors), len(subject.shape.interiors))

    def test_what_only_another_photo_shows_comes_to_the_bench_once(self) -> None:
        things = three_things(10.0, "straight")
        first = taken(things[:2], Light())
        other = taken(things, Light(), tilt_deg=2.0)
        table = table_of(first, source="a")
        for _ in range(2):
            table = with_photo(table, first, other, source="b")
            self.assertEqual(len(table.drafts), 3)

    def test_a_mat_without_dots_is_read_as_ever(self) -> None:
        things = three_things(10.0, "straight")
        for dots in (True, False):
            trace = taken(things, Light(fade=(0.3, -0.2)), dots=dots)
            found = outlines(trace, height_mm=10.0, sides="straight", where="a")
            self.assertEqual(len(found), 3, dots)
            for one in found:
                subject = min(things, key=lambda s: s.shape.centroid.distance(one.shape.centroid))
                self.assertLess(apart_mm(one.shape, subject.shape)[0], 0.1, dots)


if __name__ == "__main__":
    unittest.main()
