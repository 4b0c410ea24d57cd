"""Telling things from paper and shadow, on evened pictures that are made here: every truth is known."""

from __future__ import annotations

import unittest

import cv2
import numpy as np
from shapely.geometry import Point, Polygon, box

from cozy_burrow.core.capture.photo.flat import Flat, page_raster
from cozy_burrow.core.capture.photo.mat import mat_page
from cozy_burrow.core.capture.photo.things import find_things
from cozy_burrow.core.geometry.rings import polygons_in

CELL = 0.25
ROWS, COLUMNS = 720, 560
BLUR_MM = 0.2


def covered(shape: Polygon) -> np.ndarray:
    """The share of each cell that a shape covers, by drawing it eight times as fine."""
    fine = 8
    mask = np.zeros((ROWS * fine // 2, COLUMNS * fine // 2), dtype=np.uint8)
    scale = fine / 2 / CELL
    for part in polygons_in(shape):
        outer = np.round(np.array(part.exterior.coords) * scale).astype(np.int32)
        holes = [np.round(np.array(ring.coords) * scale).astype(np.int32) for ring in part.interiors]
        cv2.fillPoly(mask, [outer, *holes], 255)
    small = cv2.resize(mask, (COLUMNS, ROWS), interpolation=cv2.INTER_AREA)
    return small.astype(np.float32) / 255


class Scene:
    """Paper at 1, things and shadows laid onto it, blurred and noisy as a picture is."""

    def __init__(self) -> None:
        self.even = np.ones((ROWS, COLUMNS, 3), dtype=np.float32)

    def shadow(self, shape: Polygon, depth: float, soft_mm: float) -> Scene:
        dim = 1 - depth * cv2.GaussianBlur(covered(shape), (0, 0), soft_mm / CELL)
        self.even *= dim[..., None]
        return self

    def thing(self, shape: Polygon, *colour: float) -> Scene:
        cover = covered(shape)[..., None]
        self.even = self.even * (1 - cover) + np.array(colour, dtype=np.float32) * cover
        return self

    def found(self, *, noise: float = 0.004) -> list[np.ndarray]:
        even = cv2.GaussianBlur(self.even, (0, 0), BLUR_MM / CELL)
        even = even + np.random.default_rng(1).normal(0, noise, even.shape)
        on = np.ones((ROWS, COLUMNS), dtype=bool)
        flat = Flat(
            even=even.astype(np.float32),
            known=on,
            on=on,
            origin_mm=(0.0, 0.0),
            cell_mm=CELL,
            noise=noise,
            blur_mm=BLUR_MM,
        )
        return [one.mask for one in find_things(flat)]


STEEL, RED, PALE = (0.38, 0.38, 0.39), (0.5, 0.06, 0.05), (0.8, 0.8, 0.79)
BAR = box(30, 60, 100, 80)


class Things(unittest.TestCase):
    def alike(self, mask: np.ndarray, shape: Polygon, share: float = 0.96) -> None:
        true = covered(shape) > 0.5
        self.assertGreater((mask & true).sum() / (mask | true).sum(), share)

    def test_empty_paper_holds_nothing(self) -> None:
        self.assertEqual(Scene().found(), [])
        self.assertEqual(Scene().shadow(box(20, 20, 60, 60), 0.4, 4.0).found(), [])

    def test_a_thing_is_found_and_its_shadow_is_not(self) -> None:
        for colour in (STEEL, RED, PALE, (0.03, 0.03, 0.03)):
            with self.subTest(colour=colour):
                scene = Scene().shadow(box(36, 66, 106, 88), 0.4, 1.6).thing(BAR, *colour)
                (mask,) = scene.found()
                self.alike(mask, BAR)

    def test_a_coloured_thing_keeps_off_the_sharper_shadow_of_a_small_lamp(self) -> None:
        (mask,) = Scene().shadow(box(34, 64, 104, 84), 0.45, 0.5).thing(BAR, *RED).found()
        self.alike(mask, BAR)

    def test_several_things_come_from_left_to_right(self) -> None:
        shapes = [box(20, 100, 40, 150), Point(80, 120).buffer(14), box(105, 40, 125, 160)]
        scene = Scene()
        for shape, colour in zip(reversed(shapes), (RED, STEEL, PALE)):
            scene.thing(shape, *colour)
        masks = scene.found()
        self.assertEqual(len(masks), 3)
        for mask, shape in zip(masks, shapes):
            self.alike(mask, shape)

    def test_a_slot_stays_open_and_a_hole_is_opened(self) -> None:
        fork = box(30, 60, 110, 100).difference(box(55, 74, 115, 86))
        (mask,) = Scene().shadow(box(50, 70, 112, 90), 0.25, 2.0).thing(fork, *STEEL).found()
        self.alike(mask, fork, 0.95)
        ring = Point(70, 100).buffer(25).difference(Point(70, 100).buffer(11))
        (mask,) = Scene().shadow(Point(74, 104).buffer(12), 0.3, 2.0).thing(ring, *RED).found()
        self.alike(mask, ring, 0.95)

    def test_a_gleam_is_no_hole(self) -> None:
        scene = Scene().thing(BAR, *STEEL)
        gleam = cv2.GaussianBlur(covered(box(40, 67, 90, 73)), (0, 0), 3.0 / CELL)
        scene.even += 0.5 * gleam[..., None]
        (mask,) = scene.found()
        self.alike(mask, BAR)

    def test_an_edge_that_fades_for_some_millimetres_does_not_open_the_thing(self) -> None:
        scene = Scene().thing(BAR, *PALE)
        fade = cv2.GaussianBlur(covered(box(60, 52, 66, 60)), (0, 0), 1.5 / CELL)
        scene.even = scene.even * (1 - 0.2 * fade[..., None])
        (mask,) = scene.found()
        self.alike(mask, BAR, 0.93)

    def test_dust_and_noise_are_nothing(self) -> None:
        scene = Scene()
        for x in range(20, 120, 12):
            scene.thing(Point(x, 60).buffer(0.8), 0.3, 0.3, 0.3)
        self.assertEqual(scene.found(noise=0.02), [])

    def test_what_reaches_over_the_rim_is_said(self) -> None:
        on = np.ones((ROWS, COLUMNS), dtype=bool)
        even = Scene().thing(box(-5, 60, 40, 90), *RED).even
        flat = Flat(even=even, known=on, on=on, origin_mm=(0, 0), cell_mm=CELL, noise=0.003, blur_mm=BLUR_MM)
        (thing,) = find_things(flat)
        self.assertTrue(thing.touches_rim)


class Print(unittest.TestCase):
    def test_the_print_of_a_page_has_the_ink_that_its_boxes_have(self) -> None:
        from cozy_burrow.core.capture.photo.mat import black_boxes

        raster, words = page_raster("a4", 1)
        page = mat_page("a4")
        ink = sum((right - left) * (low - top) for left, top, right, low in black_boxes(page))
        self.assertAlmostEqual(float((1 - raster).sum()) * 0.15**2 / ink, 1.0, delta=0.005)
        left, top, right, low = (round(one / 0.15) for one in page.field_mm)
        self.assertTrue((raster[top + 1 : low - 1, left + 1 : right - 1] == 1).all())
        self.assertGreater(float(words.sum()), 100)
