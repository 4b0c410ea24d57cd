"""The solver alone, on corners projected here by hand: a camera given, a camera found."""

from __future__ import annotations

import math
import unittest

import numpy as np

from cozy_burrow.core.capture.photo.camera import Camera
from cozy_burrow.core.capture.photo.markers import Seen, find_markers, measured
from cozy_burrow.core.capture.photo.mat import Marker, mat_page
from cozy_burrow.core.capture.photo.picture import Picture
from cozy_burrow.core.capture.photo.pose import PagePlace, Sight, solved
from cozy_burrow.core.capture.photo.sighting import _believable, _growth_px, see_mat
from cozy_burrow.core.errors import UnusableInput

WIDTH, HEIGHT, FOCAL = 4000, 3000, 3100.0


def rotation(tilt_deg: float, towards_deg: float, roll_deg: float) -> np.ndarray:
    """Page axes (z into the table) to camera axes: rolled about the view, then tilted about a line of the page."""
    t, p, r = (math.radians(one) for one in (tilt_deg, towards_deg, roll_deg))
    k = np.array([-math.sin(p), math.cos(p), 0.0])
    cross = np.array([[0, -k[2], k[1]], [k[2], 0, -k[0]], [-k[1], k[0], 0]])
    tilt = np.eye(3) + math.sin(t) * cross + (1 - math.cos(t)) * cross @ cross
    roll = np.array([[math.cos(r), -math.sin(r), 0], [math.sin(r), math.cos(r), 0], [0, 0, 1]])
    return np.asarray(roll @ tilt)


def shot(points_mm: np.ndarray, turn: np.ndarray, eye: np.ndarray, bend: float = 0.0) -> np.ndarray:
    """Pixels of page points, by the definition of a pinhole with one term of bend."""
    space = np.column_stack([points_mm, np.zeros(len(points_mm))]) - eye
    seen = space @ turn.T
    flat = seen[:, :2] / seen[:, 2:]
    flat *= 1 + bend * (flat**2).sum(axis=1, keepdims=True)
    return flat * FOCAL + np.array([(WIDTH - 1) / 2, (HEIGHT - 1) / 2])


def seen_markers(
    tilt_deg: float,
    *,
    noise_px: float = 0.03,
    bend: float = 0.0,
    pages: tuple[tuple[int, float, float, float], ...] = (),
) -> tuple[list[Seen], np.ndarray, np.ndarray]:
    """Markers as a camera half a metre above the page's middle sees them. pages: number, x, y, angle of more pages."""
    chance = np.random.default_rng(4)
    turn = rotation(tilt_deg, 35.0, 80.0)
    eye = np.array([105.0, 148.0, 0.0]) - turn[2] * (500.0 / turn[2, 2])
    seen = []
    for number, x, y, angle in ((1, 0.0, 0.0, 0.0), *pages):
        page = mat_page("a4", number)
        place = PagePlace(page=page, x_mm=x, y_mm=y, angle_deg=angle)
        for marker in page.markers:
            corners = shot(place.to_mat(marker.corners_mm), turn, eye, bend)
            corners = corners + chance.normal(0, noise_px, corners.shape)
            seen.append(Seen(marker=marker, paper="a4", page=number, corners_px=corners, smear_mm=(0.2, 0.2)))
    return seen, turn, eye


def picture(focal_px: float | None) -> Picture:
    return Picture(pixels=np.zeros((HEIGHT, WIDTH, 3), dtype=np.uint8), focal_px=focal_px)


class Solving(unittest.TestCase):
    def check(self, sight: Sight, eye: np.ndarray, *, within_mm: float) -> None:
        found = np.array(sight.camera.eye_mm)
        self.assertLess(np.abs(found - np.array([eye[0], eye[1], -eye[2]])).max(), within_mm)

    def test_a_named_lens_gives_the_camera_back(self) -> None:
        for tilt in (0.0, 10.0, 25.0):
            with self.subTest(tilt):
                seen, _, eye = seen_markers(tilt)
                sight = solved(seen, picture(FOCAL), (1.0, 1.0))
                self.check(sight, eye, within_mm=3.0)
                self.assertAlmostEqual(sight.camera.tilt_deg, tilt, delta=0.3)
                self.assertLess(sight.residual_px, 0.06)

    def test_without_a_named_lens_a_tilt_tells_it(self) -> None:
        seen, _, _ = seen_markers(20.0)
        sight = solved(seen, picture(None), (1.0, 1.0))
        self.assertAlmostEqual(sight.camera.focal_px / FOCAL, 1.0, delta=0.02)
        self.assertLess(sight.focal_sure, 0.05)

    def test_looking_straight_down_with_an_unnamed_lens_is_said_to_be_unsure(self) -> None:
        seen, _, _ = seen_markers(0.0)
        self.assertGreater(solved(seen, picture(None), (1.0, 1.0)).focal_sure, 0.03)

    def test_a_bent_lens_is_unbent(self) -> None:
        for bend in (-0.03, 0.03):
            seen, _, eye = seen_markers(15.0, bend=bend)
            sight = solved(seen, picture(FOCAL), (1.0, 1.0))
            self.assertLess(sight.residual_px, 0.08)
            self.check(sight, eye, within_mm=6.0)

    def test_markers_that_lie_are_left_out(self) -> None:
        seen, _, eye = seen_markers(12.0)
        for index in (3, 11):
            wrong = seen[index]
            seen[index] = Seen(
                marker=wrong.marker, paper="a4", page=1, corners_px=wrong.corners_px + 25.0, smear_mm=(0.2, 0.2)
            )
        sight = solved(seen, picture(FOCAL), (1.0, 1.0))
        self.assertEqual(sight.markers, len(seen) - 2)
        self.check(sight, eye, within_mm=3.0)

    def test_pages_are_found_where_they_lie(self) -> None:
        seen, _, _ = seen_markers(8.0, pages=((2, 216.0, 9.0, -4.0), (3, -11.0, 300.0, 90.0)))
        sight = solved(seen, picture(FOCAL), (1.0, 1.0))
        places = {one.page.page: one for one in sight.pages}
        for number, x, y, angle in ((2, 216.0, 9.0, -4.0), (3, -11.0, 300.0, 90.0)):
            self.assertAlmostEqual(places[number].x_mm, x, delta=0.1)
            self.assertAlmostEqual(places[number].y_mm, y, delta=0.1)
            self.assertAlmostEqual(places[number].angle_deg, angle, delta=0.05)

    def test_places_of_a_page_and_back(self) -> None:
        place = PagePlace(page=mat_page("letter", 2), x_mm=40.0, y_mm=-7.0, angle_deg=33.0, stretch=(1.01, 0.99))
        points = np.random.default_rng(2).uniform(0, 200, (20, 2))
        self.assertLess(np.abs(place.to_page(place.to_mat(points)) - points).max(), 1e-9)


class Believing(unittest.TestCase):
    def refused(self, seen: list[Seen]) -> str:
        with self.assertRaises(UnusableInput) as caught:
            _believable(seen, "photo")
        return caught.exception.sentence()

    def test_none_too_few_and_one_side_only(self) -> None:
        seen, _, _ = seen_markers(5.0)
        self.assertIn("no reference mat", self.refused([]))
        self.assertIn("only 4 markers", self.refused(seen[:4]))
        self.assertIn("only one side", self.refused(seen[:8]))
        self.assertEqual(len(_believable(seen, "photo")), len(seen))

    def test_mats_of_two_papers(self) -> None:
        seen, _, _ = seen_markers(5.0)
        other = [
            Seen(marker=one.marker, paper="letter", page=1, corners_px=one.corners_px, smear_mm=(0.2, 0.2))
            for one in seen[:9]
        ]
        self.assertIn("different papers", self.refused([*seen, *other]))


class Measuring(unittest.TestCase):
    """A page painted by hand: markers ten pixels to the millimetre, each pixel by the share that is covered."""

    def painted(
        self, scale: float = 4.3, at: tuple[float, float] = (31.4, 22.7)
    ) -> tuple[np.ndarray, dict[int, np.ndarray]]:
        from cozy_burrow.core.capture.photo.mat import black_boxes

        page = mat_page("a4")
        fine = 4
        rows, columns = round(page.height_mm * scale + 60) * fine, round(page.width_mm * scale + 60) * fine
        image = np.ones((rows, columns), dtype=np.float32)
        for left, top, right, bottom in black_boxes(page):
            x0, x1 = ((one * scale + at[0]) * fine for one in (left, right))
            y0, y1 = ((one * scale + at[1]) * fine for one in (top, bottom))
            image[round(y0) : round(y1), round(x0) : round(x1)] = 0
        small = image.reshape(rows // fine, fine, columns // fine, fine).mean(axis=(1, 3))
        true = {one.number: one.corners_mm * scale + np.array(at) - 0.5 for one in page.markers}
        return small, true

    def pixels(self, light: np.ndarray, tone: float) -> np.ndarray:
        return np.repeat(np.round(255 * light ** (1 / tone)).astype(np.uint8)[..., None], 3, axis=2)

    def test_all_markers_are_found_and_their_corners_are_true(self) -> None:
        light, true = self.painted()
        pixels = self.pixels(light, 1.0)
        rough = find_markers(pixels)
        self.assertGreaterEqual(len(rough), len(true) - 1)
        seen = measured(pixels, rough, tone=1.0)
        off = np.concatenate([one.corners_px - true[one.marker.number] for one in seen])
        self.assertLess(np.abs(off).mean(), 0.12)

    def test_a_tone_curve_makes_black_squares_small_until_it_is_undone(self) -> None:
        import cv2

        light, true = self.painted()
        light = cv2.GaussianBlur(0.04 + 0.8 * light, (0, 0), 1.0)
        pixels = self.pixels(light, 2.2)
        rough = find_markers(pixels)
        sizes = []
        for tone in (1.0, 2.2):
            seen = measured(pixels, rough, tone=tone)
            width = [np.hypot(*(one.corners_px[1] - one.corners_px[0])) for one in seen]
            due = [np.hypot(*(true[one.marker.number][1] - true[one.marker.number][0])) for one in seen]
            sizes.append(float(np.mean(np.array(width) - np.array(due))))
        self.assertLess(sizes[0], -0.4)
        self.assertAlmostEqual(sizes[1], 0.0, delta=0.1)

    def test_the_same_through_the_whole_sighting(self) -> None:
        light, _ = self.painted()
        import cv2

        pixels = self.pixels(cv2.GaussianBlur(0.04 + 0.8 * light, (0, 0), 0.9), 2.0)
        sight = see_mat(Picture(pixels=pixels, focal_px=1100.0), where="photo")
        self.assertAlmostEqual(sight.tone, 2.0, delta=0.2)
        self.assertLess(sight.residual_px, 0.2)
        grown = _growth_px(sight, measured(pixels, find_markers(pixels), tone=sight.tone))
        self.assertAlmostEqual(grown, 0.0, delta=0.05)

    def test_a_number_that_is_on_no_page_is_no_marker(self) -> None:
        import cv2

        pattern = cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_5X5_1000).generateImageMarker(990, 140, borderBits=1)
        image = np.full((900, 900), 255, dtype=np.uint8)
        image[300:440, 300:440] = pattern
        self.assertEqual(find_markers(np.repeat(image[..., None], 3, axis=2)), {})


class Corners(unittest.TestCase):
    def test_a_marker_lists_its_corners_clockwise_from_the_top_left(self) -> None:
        corners = Marker(number=0, x_mm=10.0, y_mm=20.0).corners_mm
        self.assertEqual(corners[0].tolist(), [10.0, 20.0])
        x, y = corners.T
        self.assertGreater(float(x @ np.roll(y, -1) - y @ np.roll(x, -1)), 0)  # clockwise where y points down

    def test_a_camera_that_looks_down_sees_x_to_the_right(self) -> None:
        camera = Camera(
            width_px=100,
            height_px=100,
            focal_px=100,
            centre_px=(50.0, 50.0),
            bend=(0.0, 0.0),
            turn=(0.0, 0.0, 0.0),
            shift_mm=(0.0, 0.0, 100.0),
        )
        self.assertTrue(np.allclose(camera.pixels(np.array([[10.0, 5.0]])), [[60.0, 55.0]]))
        self.assertTrue(np.allclose(camera.pixels(np.array([[10.0, 5.0]]), height_mm=50.0), [[70.0, 60.0]]))
