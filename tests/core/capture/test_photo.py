"""Photos of a camera that shares no geometry with the solver, and what is read out of them."""

from __future__ import annotations

import io
import math
import unittest
from collections.abc import Callable

import numpy as np
from PIL import Image
from shapely.geometry import Polygon, box

from cozy_burrow.core.capture.photo.camera import Camera
from cozy_burrow.core.capture.photo.edges import Edge, Ground, refined
from cozy_burrow.core.capture.photo.enclosure import enclosure
from cozy_burrow.core.capture.photo.flat import lay_flat
from cozy_burrow.core.capture.photo.mat import PAPERS, black_boxes, mat_page, page_of_marker
from cozy_burrow.core.capture.photo.picture import open_picture
from cozy_burrow.core.capture.photo.sides import true_outline
from cozy_burrow.core.capture.photo.sighting import see_mat
from cozy_burrow.core.capture.photo.trace import look_at, outlines
from cozy_burrow.core.capture.retouch.draft import kit_item, table_of, with_thickness
from cozy_burrow.core.errors import Cancelled, UnusableInput
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.devices.simulated_camera import PrintedPage, SimulatedCamera
from cozy_burrow.devices.simulated_scene import Body, Light, Stand, Subject
from tests.core.capture.scenes import STEEL, apart_mm, laid, photo, photo_of, three_things

LOW_LAMP = Light(slope=(1.1, 0.4), ambient=0.4, softness=0.03)


def camera_at(x: float, y: float, height: float) -> Camera:
    """A camera that looks straight down from above a place of the page."""
    return Camera(
        width_px=1000,
        height_px=1000,
        focal_px=1000,
        centre_px=(500.0, 500.0),
        bend=(0.0, 0.0),
        turn=(0.0, 0.0, 0.0),
        shift_mm=(-x, -y, height),
    )


class Mats(unittest.TestCase):
    def test_no_number_stands_on_two_pages(self) -> None:
        pages = [mat_page(paper, number) for paper in PAPERS for number in range(1, 5)]
        numbers = [marker.number for page in pages for marker in page.markers]
        self.assertEqual(len(numbers), len(set(numbers)))
        self.assertLess(max(numbers), 1000)
        for page in pages:
            self.assertTrue(all(page_of_marker(one.number) == (page.paper, page.page) for one in page.markers))

    def test_nothing_is_printed_in_the_field_or_off_the_page(self) -> None:
        for paper in PAPERS:
            page = mat_page(paper)
            field = box(*page.field_mm)
            for one in black_boxes(page):
                self.assertFalse(box(*one).intersects(field.buffer(-1e-6)), one)
                self.assertTrue(box(4, 4, page.width_mm - 4, page.height_mm - 4).contains(box(*one)))


class Cameras(unittest.TestCase):
    def test_pixels_and_places_are_each_others_inverse_at_any_height(self) -> None:
        camera = Camera(
            width_px=4000,
            height_px=3000,
            focal_px=3000.0,
            centre_px=(2010.0, 1490.0),
            bend=(0.03, -0.01),
            turn=(0.2, -0.1, 1.5),
            shift_mm=(30.0, -90.0, 550.0),
        )
        points = np.random.default_rng(1).uniform(0, 200, (50, 2))
        for height in (0.0, 25.0):
            back = camera.page_points(camera.pixels(points, height_mm=height), height_mm=height)
            self.assertLess(np.abs(back - points).max(), 1e-5)

    def test_height_and_place_of_the_lens(self) -> None:
        camera = camera_at(80.0, 120.0, 400.0)
        self.assertTrue(np.allclose(camera.eye_mm, (80, 120, 400)))
        self.assertAlmostEqual(camera.tilt_deg, 0.0)


class Sides(unittest.TestCase):
    """Against the closed form: a lens at H sees a point at height h farther out by H / (H - h)."""

    def seen(self, shape: Polygon, camera: Camera, height: float) -> Polygon:
        """What an upright thing covers on the paper: all its levels, each swollen as it should be."""
        from shapely import affinity, union_all

        x, y, high = camera.eye_mm
        levels = [high / (high - z) for z in np.linspace(0, height, 400)]
        return union_all([affinity.scale(shape, one, one, origin=(x, y, 0)) for one in levels])

    def test_a_widest_line_shrinks_by_similar_triangles(self) -> None:
        camera = camera_at(80.0, 70.0, 500.0)
        (found,) = true_outline(box(50, 50, 110, 90), camera, height_mm=20.0, sides="round")
        # From nearly above the curve of the flanks hides hardly anything.
        self.assertTrue(np.allclose(found.bounds, (51.2, 50.8, 108.8, 89.2), atol=0.05), found.bounds)

    def test_upright_walls_come_back_from_foot_and_top(self) -> None:
        for eye in ((0.0, 0.0), (300.0, -80.0), (90.0, 60.0)):
            camera = camera_at(*eye, 450.0)
            shape = Polygon([(60, 40), (140, 40), (150, 62), (120, 95), (85, 100), (60, 80)])
            found = true_outline(self.seen(shape, camera, 40.0), camera, height_mm=40.0, sides="straight")
            self.assertLess(apart_mm(max(found, key=lambda one: one.area), shape)[1], 0.1, eye)

    def test_an_edge_above_half_the_camera_is_refused(self) -> None:
        with self.assertRaisesRegex(UnusableInput, "half as high"):
            true_outline(box(0, 0, 10, 10), camera_at(0, 0, 100), height_mm=60.0, sides="round")


class Photos(unittest.TestCase):
    def traced(self, data: bytes, height: float, sides: str = "straight") -> list[Polygon]:
        trace = look_at(open_picture(data, where="photo"), where="photo")
        found = outlines(trace, height_mm=height, sides=sides, where="photo")  # type: ignore[arg-type]
        return sorted((one.shape for one in found), key=lambda one: one.bounds[1])

    def test_upright_things_come_back_to_a_tenth_of_a_millimetre(self) -> None:
        found = self.traced(photo(15.0, "straight"), 15.0, "straight")
        true = sorted((one.shape for one in three_things(15.0, "straight")), key=lambda one: one.bounds[1])
        self.assertEqual(len(found), 3)
        for one, other in zip(found, true):
            mean, p95 = apart_mm(one, other)
            self.assertLess(mean, 0.1)
            self.assertLess(p95, 0.4)
            self.assertEqual(len(one.interiors), len(other.interiors))

    def test_things_with_one_widest_line_too(self) -> None:
        """Between a sharp line and a full round, which no photo tells apart: half of what a round hides is left."""
        bodies: tuple[tuple[Body, float], ...] = (("edged", 0.125), ("lying", 0.25))
        for body, most_mm in bodies:
            found = self.traced(photo(24.0, body), 12.0, "round")
            true = sorted((one.shape for one in three_things(24.0, body)), key=lambda one: one.bounds[1])
            self.assertEqual(len(found), 3)
            for one, other in zip(found, true):
                self.assertLess(apart_mm(one, other)[0], most_mm, body)

    def test_a_mark_beside_a_thing_does_not_become_a_part_of_it(self) -> None:
        """It lies half over a mark and over the strip without dots, and its shadow falls on both."""
        page = mat_page("a4")
        mark = max(page.markers, key=lambda one: (one.corners_mm[:, 0].mean(), -abs(one.corners_mm[:, 1].mean() - 150)))
        x, y = mark.corners_mm.mean(axis=0)
        bar = laid(box(0, 0, 40, 16), x - 25.5, y + 5.0)
        (found,) = self.traced(photo_of((Subject(bar, 8.0, "straight", STEEL),), LOW_LAMP), 8.0)
        mean, p95 = apart_mm(found, bar)
        self.assertLess(mean, 0.3)
        self.assertLess(p95, 1.0)

    def test_without_the_thickness_they_are_too_large_by_the_closed_form(self) -> None:
        data = photo(24.0, "edged", tilt_deg=0.0)
        with_, without = self.traced(data, 12.0, "round"), self.traced(data, 0.0, "round")
        for one, other in zip(with_, without):
            seen = math.sqrt(other.area / one.area) - 1
            self.assertAlmostEqual(seen, 12.0 / (500.0 - 12.0), delta=0.13 * 12.0 / 488.0)

    def test_the_camera_is_found_back_with_its_lens(self) -> None:
        picture = open_picture(photo(15.0, "straight"), where="photo")
        sight = see_mat(picture, where="photo")
        _, eye = Stand(aim_mm=(105, 148), height_mm=500.0, tilt_deg=12.0, towards_deg=50.0).axes()
        self.assertLess(np.abs(np.array(sight.camera.eye_mm) - eye).max(), 5.0)
        self.assertAlmostEqual(sight.camera.tilt_deg, 12.0, delta=0.5)
        self.assertLess(sight.residual_mm, 0.05)
        self.assertEqual(sight.paper, "a4")
        self.assertAlmostEqual(sight.tone, 2.2, delta=0.3)

    def test_a_printer_that_stretches_is_taken_out_by_what_its_scales_measure(self) -> None:
        data = photo(10.0, "straight", stretch=1.02)
        picture = open_picture(data, where="photo")
        trace = look_at(picture, where="photo", stretch=lambda _: (1.02, 1.02))
        found = outlines(trace, height_mm=10.0, sides="straight", where="photo")
        found.sort(key=lambda one: one.shape.bounds[1])
        true = sorted((one.shape for one in three_things(10.0, "straight")), key=lambda one: one.bounds[1])
        for one, other in zip(found, true):
            self.assertAlmostEqual(one.shape.area / other.area, 1.0, delta=0.01)

    def test_the_thickness_may_be_set_afterwards(self) -> None:
        trace = look_at(open_picture(photo(15.0, "straight"), where="photo"), where="photo")
        table = table_of(trace, source="photo", thickness_mm=3.0)
        later = with_thickness(table.draft, trace, thickness_mm=15.0)
        at_once = table_of(trace, source="photo", thickness_mm=15.0).draft
        self.assertEqual(later.item.outline, at_once.item.outline)
        self.assertLess(polygon_of(later.item.outline).area, polygon_of(table.draft.item.outline).area)
        left, _, right, _ = polygon_of(kit_item(later).outline).bounds
        self.assertAlmostEqual(left + right, 0.0, places=3)

    def test_it_can_be_cancelled_on_the_way(self) -> None:
        class Impatient:
            def step(self, fraction: float) -> None:
                if fraction > 0.4:
                    raise Cancelled

        with self.assertRaises(Cancelled):
            look_at(open_picture(photo(15.0, "straight"), where="photo"), where="photo", token=Impatient())


class Refusals(unittest.TestCase):
    def refused(self, data: bytes) -> str:
        with self.assertRaises(UnusableInput) as caught:
            trace = look_at(open_picture(data, where="photo.jpg"), where="photo.jpg")
            outlines(trace, height_mm=0.0, sides="round", where="photo.jpg")
        sentence = caught.exception.sentence()
        self.assertTrue(sentence.startswith("photo.jpg"), sentence)
        return sentence

    def shot(self, **more: object) -> bytes:
        page = mat_page("a4")
        values = {"aim_mm": (105, 148), "height_mm": 500.0, "width_px": 1500, "height_px": 2000} | more
        printed = PrintedPage(page.width_mm, page.height_mm, tuple(black_boxes(page)))
        return SimulatedCamera(printed, (), Stand(**values), Light()).take_photo()  # type: ignore[arg-type]

    def test_each_says_its_own_reason(self) -> None:
        picture = Image.open(io.BytesIO(self.shot()))
        grey = Image.new("RGB", (1500, 2000), (120, 120, 120))
        half = picture.crop((0, 0, 1500, 700))
        for image, words in (
            (grey, "no reference mat"),
            (picture, "no item lies on it"),
            (half, "of the mat|one side"),
        ):
            stream = io.BytesIO()
            image.save(stream, "JPEG")
            self.assertRegex(self.refused(stream.getvalue()), words)
        self.assertRegex(self.refused(self.shot(tilt_deg=55.0, height_mm=380.0)), "obliquely|markers|one side")
        self.assertRegex(self.refused(self.shot(blur_px=9.0)), "blurred|no reference mat|markers")

    def test_what_is_no_picture_is_said(self) -> None:
        whole = self.shot(width_px=900, height_px=1200)
        for data, words in (
            (b"this is text", "no picture"),
            (b"", "no picture"),
            (whole[: len(whole) // 3], "no picture|cut off|mat"),
        ):
            self.assertRegex(self.refused(data), words)

    def test_a_picture_of_a_hundred_megapixels_is_refused_before_it_takes_memory(self) -> None:
        stream = io.BytesIO()
        Image.new("1", (12_000, 9_000)).save(stream, "PNG")
        self.assertRegex(self.refused(stream.getvalue()), "108 megapixels")

    def test_turned_photos_are_turned_back(self) -> None:
        picture = Image.open(io.BytesIO(photo(15.0, "straight")))
        exif = Image.Exif()
        exif[0x0112] = 6  # the camera was held upright: turn by 90 degrees to look at it
        stream = io.BytesIO()
        picture.transpose(Image.Transpose.ROTATE_90).save(stream, "JPEG", quality=95, exif=exif)
        opened = open_picture(stream.getvalue(), where="photo")
        self.assertEqual((opened.width_px, opened.height_px), picture.size)


class Parts(unittest.TestCase):
    def test_what_is_closed_in_looks_so_from_everywhere_and_what_is_open_does_not(self) -> None:
        wall = np.zeros((200, 200), dtype=bool)
        wall[40:44, 40:160] = wall[156:160, 40:160] = wall[40:160, 40:44] = wall[40:160, 156:160] = True
        open_ = np.zeros_like(wall)
        open_[:10] = open_[-10:] = True
        closed = enclosure(wall, open_)
        self.assertGreater(closed[100, 100], 0.99)
        self.assertLess(closed[20, 20], 0.5)

    def test_a_slot_in_something_dark_is_told_from_the_inside_of_something_pale(self) -> None:
        wall = np.zeros((200, 200), dtype=bool)
        wall[40:44, 40:160] = wall[156:160, 40:160] = wall[40:160, 40:44] = wall[40:160, 156:160] = True
        pale = np.full(wall.shape, 0.5, dtype=np.float32)
        pale[42:158, 42:158] = 0.3
        nothing = np.zeros_like(wall)
        self.assertGreater(enclosure(wall, nothing, pale)[100, 100], 0.9)
        self.assertLess(enclosure(wall, nothing, 1 - pale)[100, 100], 0.1)

    def test_a_spot_lies_in_the_flat_picture_where_it_lies_on_the_paper(self) -> None:
        """However many pixels go into a cell: the mean of two is that of a place between them."""
        sight = see_mat(open_picture(Refusals().shot(), where="photo.jpg"), where="photo.jpg")
        step = sight.camera.height_mm / sight.camera.focal_px
        spot = np.array([[105.3, 148.7]])
        light, first = np.full((2000, 1500, 3), 0.8, dtype=np.float32), (0, 0)
        x, y = sight.camera.pixels(spot)[0]
        column, row = np.meshgrid(np.arange(1500), np.arange(2000))
        light -= (0.4 * np.exp(-((column - x) ** 2 + (row - y) ** 2) / (2 * 6.0**2)))[..., None].astype(np.float32)
        for pixels_a_cell in (1.0, 1.5, 2.5):
            flat = lay_flat(light, first, sight, cell_mm=pixels_a_cell * step)
            dark = np.clip(0.98 - flat.even.mean(axis=-1), 0.0, None)
            cells = np.stack(np.meshgrid(np.arange(dark.shape[1]), np.arange(dark.shape[0])), axis=-1)
            near = np.hypot(*(flat.to_mat(cells) - spot[0]).transpose(2, 0, 1)) < 5.0
            weight = np.where(near, dark, 0.0)
            found = (flat.to_mat(cells) * weight[..., None]).sum(axis=(0, 1)) / weight.sum()
            self.assertLess(float(np.hypot(*(found - spot[0]))), 0.05 * step, pixels_a_cell)

    def disc_edge(self, step: Callable[[np.ndarray], np.ndarray]) -> Edge:
        """The edge of a disc whose pixels are covered by their exact share, rough by half a millimetre.

        step: how much darker it is than the ground, by the angle about its middle.
        """

        class Straight:
            def pixels(self, points_mm: np.ndarray) -> np.ndarray:
                return points_mm * 5.0 - 0.5

        fine = 8
        y, x = (np.mgrid[0 : 400 * fine, 0 : 400 * fine] + 0.5) / fine / 5.0
        inside = (np.hypot(x - 40.03, y - 39.98) < 25.0).reshape(400, fine, 400, fine).mean(axis=(1, 3))
        rows, columns = np.mgrid[0:400, 0:400] / 5.0
        around = np.arctan2(rows - 39.98, columns - 40.03)
        light = np.repeat((1.0 - step(around) * inside)[..., None], 3, axis=2).astype(np.float32)
        angles = np.linspace(0, math.tau, 200, endpoint=False)
        far = 25.0 + 0.5 * np.sin(5 * angles)
        rough = np.column_stack([40.03 + far * np.cos(angles), 39.98 + far * np.sin(angles)])
        return refined(Ground(light, (0, 0), Straight(), 0.1), rough)

    def test_an_edge_is_found_to_a_hundredth_of_a_millimetre(self) -> None:
        edge = self.disc_edge(lambda around: np.full_like(around, 0.8))
        self.assertEqual(edge.weak_runs(), [])
        off = np.hypot(edge.points_mm[:, 0] - 40.03, edge.points_mm[:, 1] - 39.98) - 25.0
        self.assertLess(np.abs(off).mean(), 0.02)
        self.assertLess(abs(off.mean()), 0.01)

    def test_where_an_edge_fades_it_is_told(self) -> None:
        """On a tenth of the rim, round the right, the disc is as bright as the ground."""
        edge = self.disc_edge(lambda around: np.where(np.abs(around) < math.pi / 10, 0.004, 0.8))
        (run,) = edge.weak_runs()
        around = np.arctan2(run[:, 1] - 39.98, run[:, 0] - 40.03)
        self.assertLess(float(np.abs(around).max()), 0.45)
        self.assertGreater(float(np.ptp(around)), 0.4)
