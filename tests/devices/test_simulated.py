"""The stand-ins: a camera whose rays are checked by hand, a calliper that types."""

from __future__ import annotations

import io
import math
import unittest

import numpy as np
from PIL import Image
from shapely.geometry import Point, box

from cozy_burrow.devices.calliper import SimulatedCalliper, keystrokes
from cozy_burrow.devices.simulated_camera import PrintedPage, SimulatedCamera, _ground
from cozy_burrow.devices.simulated_scene import DistanceField, Light, Stand, Subject

PAGE = PrintedPage(210.0, 297.0, ((50.0, 60.0, 80.0, 100.0),))


def stand(**more: object) -> Stand:
    values = {"aim_mm": (105.0, 148.0), "height_mm": 500.0, "width_px": 800, "height_px": 1000, "noise": 0.0} | more
    return Stand(**values)  # type: ignore[arg-type]


class Rays(unittest.TestCase):
    def test_the_middle_of_the_picture_is_what_it_is_aimed_at(self) -> None:
        for tilt, towards, roll in ((0, 0, 0), (20, 70, 30), (25, 200, -90)):
            one = stand(tilt_deg=tilt, towards_deg=towards, roll_deg=roll, width_px=801, height_px=1001)
            x, y, _ = _ground(one, *one.axes())
            self.assertAlmostEqual(float(x[500, 400]), 105.0, places=2)
            self.assertAlmostEqual(float(y[500, 400]), 148.0, places=2)

    def test_axes_stand_square_on_each_other_and_the_eye_is_as_high_as_said(self) -> None:
        axes, eye = stand(tilt_deg=22.0, towards_deg=130.0, roll_deg=40.0).axes()
        self.assertLess(np.abs(axes @ axes.T - np.eye(3)).max(), 1e-12)
        self.assertAlmostEqual(float(eye[2]), 500.0)
        self.assertAlmostEqual(math.degrees(math.acos(-axes[2, 2])), 22.0)

    def test_a_pixel_is_as_wide_as_similar_triangles_say(self) -> None:
        one = stand()
        x, _, _ = _ground(one, *one.axes())
        self.assertAlmostEqual(float(x[500, 401] - x[500, 400]), 500.0 / one.focal_px, places=4)


class Pictures(unittest.TestCase):
    def taken(self, *subjects: Subject, **more: object) -> np.ndarray:
        data = SimulatedCamera(PAGE, subjects, stand(**more), Light(ambient=1.0)).take_photo()
        return np.asarray(Image.open(io.BytesIO(data)), dtype=float)

    def black_mm2(self, image: np.ndarray, one: Stand, below: float = 110.0) -> float:
        x, y, _ = _ground(one, *one.axes())
        near = (x > 0) & (x < 210) & (y > 0) & (y < 297) & (image.mean(axis=2) < below)
        return float(near.sum()) * (one.height_mm / one.focal_px) ** 2

    def test_what_is_printed_is_as_large_as_it_should_be(self) -> None:
        one = stand(blur_px=0.3)
        self.assertAlmostEqual(self.black_mm2(self.taken(blur_px=0.3), one), 30 * 40, delta=40)

    def test_a_thing_swells_with_its_height(self) -> None:
        shape = Point(105, 148).buffer(20, quad_segs=32)
        areas = []
        for height in (1.0, 50.0):
            subject = Subject(shape, height, "straight", (0.01, 0.01, 0.01))
            areas.append(self.black_mm2(self.taken(subject, blur_px=0.3), stand()) - 1200)
        self.assertAlmostEqual(areas[1] / areas[0], (499 / 450) ** 2, delta=0.02)

    def test_the_same_seed_gives_the_same_bytes(self) -> None:
        camera = SimulatedCamera(PAGE, (), stand(noise=0.02), seed=5)
        self.assertEqual(camera.take_photo(), camera.take_photo())
        other = SimulatedCamera(PAGE, (), stand(noise=0.02), seed=6)
        self.assertNotEqual(camera.take_photo(), other.take_photo())

    def test_it_names_its_lens_only_if_it_should(self) -> None:
        for names in (True, False):
            data = SimulatedCamera(PAGE, (), stand(names_lens=names)).take_photo()
            tags = Image.open(io.BytesIO(data)).getexif().get_ifd(0x8769)
            self.assertEqual(tags.get(41989), 27 if names else None)

    def test_a_lamp_throws_a_shadow_to_its_side_only(self) -> None:
        subject = Subject(box(90, 130, 120, 160), 20.0, "straight", (0.5, 0.5, 0.5))
        light = Light(ambient=0.5, slope=(0.8, 0.0), softness=0.02)
        image = np.asarray(Image.open(io.BytesIO(SimulatedCamera(PAGE, (subject,), stand(), light).take_photo())))
        one = stand()
        x, y, _ = _ground(one, *one.axes())

        def brightness(at: float) -> float:
            near = (abs(x - at) < 1) & (abs(y - 145) < 1)
            return float(image[near].mean())

        self.assertLess(brightness(128.0), brightness(82.0) - 30)


class Fields(unittest.TestCase):
    def test_distances_are_those_of_a_circle(self) -> None:
        field = DistanceField.of(Point(0, 0).buffer(10, quad_segs=256))
        x = np.array([[0.0, 6.0, 10.0, 11.5]], dtype=np.float32)
        found = field.at(x, np.zeros_like(x))
        self.assertTrue(np.allclose(found, [[-10, -4, 0, 1.5]], atol=0.03))

    def test_bodies_narrow_as_they_are_named(self) -> None:
        shape = box(0, 0, 50, 20)
        lying = Subject(shape, 20.0, "lying")
        self.assertAlmostEqual(lying.inset_mm(10.0), 0.0)
        self.assertAlmostEqual(lying.inset_mm(16.0), 10 - 8.0)
        self.assertEqual(Subject(shape, 20.0, "straight").inset_mm(3.0), 0.0)
        self.assertEqual(
            (Subject(shape, 20.0, "edged").edge_mm, Subject(shape, 20.0, "straight").edge_mm), (10.0, 20.0)
        )


class Callipers(unittest.TestCase):
    def test_readings_come_in_order_rounded_and_a_little_off(self) -> None:
        calliper = SimulatedCalliper((10.0, 25.4), off_mm=0.02, seed=3)
        readings = [calliper.read_mm(), calliper.read_mm()]
        for reading, true in zip(readings, (10.0, 25.4)):
            self.assertAlmostEqual(reading, true, delta=0.1)
            self.assertEqual(reading, round(reading, 2))
        with self.assertRaises(StopIteration):
            calliper.read_mm()

    def test_a_reading_is_typed_with_an_enter(self) -> None:
        self.assertEqual(keystrokes(12.5), "12.50\n")
