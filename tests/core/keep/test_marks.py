"""Marks: where they are stuck, what is printed, and where the camera stood that sees them."""

from __future__ import annotations

import unittest

import numpy as np
from shapely import box

from cozy_burrow.core.capture.photo.mat import PAPERS, page_of_marker
from cozy_burrow.core.capture.photo.picture import Picture, open_picture
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.keep.marks import MOST_MM, box_corners, foam_corners, marks, rim_mm, stuck
from cozy_burrow.core.keep.sight import drawer_sight
from cozy_burrow.core.relief.finish import Look
from cozy_burrow.demo.drawer import open_drawer
from cozy_burrow.devices.simulated_drawer import Drawer, DrawerCamera
from cozy_burrow.devices.simulated_scene import Stand
from cozy_burrow.export.marks_pdf import marks_pdf, sticker_places
from tests.makers import van_drawer

LOOK = Look(foam=(52, 52, 54), contrast=(200, 120, 40), rim=(140, 120, 95), floor=(60, 58, 55))
WIDE, DEEP = 500.0, 350.0
FOAM = box(0, 0, WIDE, DEEP)


def bare(mark_mm: float = 20.0, *, inset_mm: float | None = None) -> Drawer:
    """Foam with nothing cut and four marks."""
    from cozy_burrow.core.capture.photo.mat import marker_cells

    cell = 0.25
    rows, columns = round((DEEP + 100) / cell), round((WIDE + 100) / cell)
    found = Drawer(
        height_mm=np.zeros((rows, columns), dtype=np.float32),
        colour=np.full((rows, columns, 3), 0.05, dtype=np.float32),
        gloss=np.zeros((rows, columns), dtype=np.float32),
        origin_mm=(-50 + cell / 2, -50 + cell / 2),
        cell_mm=cell,
    )
    rim = rim_mm(mark_mm)
    for mark in marks(mark_mm):
        quad = stuck(
            mark.number,
            box_corners(FOAM)[mark.number - 1],
            size_mm=mark_mm,
            inset_mm=rim if inset_mm is None else inset_mm,
        )
        cells = np.where(marker_cells(mark.pattern), 0.0, 1.0).repeat(14, axis=0).repeat(14, axis=1)
        place = (quad[0, 0] - rim, quad[0, 1] - rim, quad[2, 0] + rim, quad[2, 1] + rim)
        found = found.with_picture(np.pad(cells, 21, constant_values=1).astype(np.float32), place)
    return found


def photo(drawer: Drawer, **stand: float) -> Picture:
    """A photo from above its middle, a metre up."""
    told = {"height_mm": 800.0, "width_px": 2000, "height_px": 1500} | stand
    camera = DrawerCamera(drawer, Stand(aim_mm=(WIDE / 2, DEEP / 2), **told))  # type: ignore[arg-type]
    return open_picture(camera.take_photo(), where="photo")


class Marks(unittest.TestCase):
    def test_no_page_of_a_mat_has_their_patterns(self) -> None:
        for mark in marks():
            self.assertIsNone(page_of_marker(mark.pattern))

    def test_stickers_fill_the_corners_that_they_name(self) -> None:
        rim = rim_mm(20.0)
        for mark, (x, y) in zip(marks(), ((0, 0), (WIDE, 0), (WIDE, DEEP), (0, DEEP))):
            quad = stuck(mark.number, box_corners(FOAM)[mark.number - 1], size_mm=20.0, inset_mm=rim)
            sticker = quad + np.array([[-rim, -rim], [rim, -rim], [rim, rim], [-rim, rim]])
            self.assertLess(np.abs(sticker - np.array([x, y])).max(axis=1).min(), 1e-9)
            self.assertTrue((sticker >= -1e-9).all() and (sticker <= np.array([WIDE, DEEP]) + 1e-9).all())

    def test_in_a_round_corner_a_sticker_is_pushed_as_far_as_it_goes(self) -> None:
        radius = 40.0
        foam = box(radius, radius, WIDE - radius, DEEP - radius).buffer(radius, quad_segs=64)
        off = radius * (1 - 0.5**0.5)
        due = ((off, off), (WIDE - off, off), (WIDE - off, DEEP - off), (off, DEEP - off))
        np.testing.assert_allclose(foam_corners(foam), due, atol=0.02)
        np.testing.assert_allclose(foam_corners(FOAM), box_corners(FOAM))

    def test_sizes_that_are_none_are_refused(self) -> None:
        for size in (0.0, 7.9, MOST_MM + 1, float("nan")):
            with self.assertRaises(UnusableInput):
                marks(size)

    def test_the_print_is_true_to_size(self) -> None:
        import pypdfium2

        for size, paper in ((20.0, "a4"), (12.5, "letter"), (MOST_MM, PAPERS[0])):
            with pypdfium2.PdfDocument(marks_pdf(marks(size), paper=paper)) as document:
                self.assertEqual(len(document), 1)
                page = np.asarray(document[0].render(scale=300 / 72, grayscale=True).to_pil())
            px = 300 / 25.4
            for mark, (x, y) in zip(marks(size), sticker_places(marks(size)[0])):
                first = [round((one + mark.rim_mm * 0.75) * px) for one in (x, y)]
                last = [round((one + mark.sticker_mm - mark.rim_mm * 0.75) * px) for one in (x, y)]
                part = page[first[1] : last[1], first[0] : last[0]] < 128
                across, down = np.flatnonzero(part.any(axis=0)), np.flatnonzero(part.any(axis=1))
                for found in (across, down):
                    self.assertAlmostEqual((found[-1] - found[0] + 1) / px, size, delta=0.2)
                self.assertAlmostEqual((first[0] + across[0]) / px, x + mark.rim_mm, delta=0.2)
                self.assertAlmostEqual((first[1] + down[0]) / px, y + mark.rim_mm, delta=0.2)


class Sight(unittest.TestCase):
    def assert_true(self, drawer: Drawer, mark_mm: float, most_mm: float = 0.8, **stand: float) -> None:
        """The camera found sees places of the plan, on the foam and in pockets, where the true one does."""
        found = drawer_sight(photo(drawer, **stand), FOAM, where="photo")
        self.assertEqual(found.found, 4)
        self.assertAlmostEqual(found.size_mm, mark_mm, delta=0.15 + 0.01 * mark_mm)
        self.assertLess(found.off_mm, 0.5)
        told = {"height_mm": 800.0, "width_px": 2000, "height_px": 1500} | stand
        axes, eye = Stand(aim_mm=(WIDE / 2, DEEP / 2), **told).axes()  # type: ignore[arg-type]
        focal = Stand(aim_mm=(0, 0), **told).focal_px  # type: ignore[arg-type]
        for height in (0.0, -40.0, 15.0):
            points = np.array([[100.0, 80.0], [400.0, 80.0], [250.0, 175.0], [90.0, 300.0]])
            space = np.column_stack([points, np.full(len(points), height)]) - eye
            across, down, far = (space @ axes[k] for k in range(3))
            pixels = (
                np.column_stack([across / far, down / far]) * focal
                + (np.array([told["width_px"], told["height_px"]]) - 1) / 2
            )
            back = found.camera.page_points(pixels, height_mm=height)
            self.assertLess(np.hypot(*(back - points).T).max(), most_mm, height)

    def test_the_camera_is_found_from_above_and_from_the_side(self) -> None:
        self.assert_true(bare(), 20.0)
        self.assert_true(bare(), 20.0, tilt_deg=33.0, towards_deg=120.0, roll_deg=170.0, height_mm=900.0)

    def test_other_sizes_of_marks_and_other_ways_to_stick_them(self) -> None:
        self.assert_true(bare(14.0), 14.0, tilt_deg=12.0)
        self.assert_true(bare(inset_mm=0.0), 20.0, tilt_deg=20.0, towards_deg=-60.0)
        self.assert_true(bare(inset_mm=-20.0), 20.0, tilt_deg=20.0, towards_deg=30.0)

    def test_marks_of_another_insert_are_not_believed(self) -> None:
        seen = photo(bare(), tilt_deg=10.0)
        with self.assertRaises(UnusableInput) as caught:
            drawer_sight(seen, box(0, 0, WIDE, DEEP + 60), where="photo")
        self.assertIn("beside the corners", caught.exception.sentence())

    def test_without_enough_marks_it_is_said(self) -> None:
        blank = Picture(pixels=np.full((800, 1000, 3), 90, dtype=np.uint8))
        with self.assertRaises(UnusableInput) as caught:
            drawer_sight(blank, FOAM, where="photo")
        self.assertIn("no corner mark", caught.exception.sentence())

    def test_the_demo_drawer_is_photographed_and_found(self) -> None:
        plan = van_drawer()
        ground = ground_of(plan, plan.inserts[0])
        left, back, right, front = ground.blank.bounds
        stand = Stand(
            aim_mm=((left + right) / 2, (back + front) / 2),
            height_mm=900.0,
            tilt_deg=18.0,
            width_px=1600,
            height_px=1200,
        )
        seen = open_picture(DrawerCamera(open_drawer(ground, LOOK), stand).take_photo(), where="photo")
        self.assertLess(drawer_sight(seen, ground.blank, where="photo").off_mm, 1.0)


if __name__ == "__main__":
    unittest.main()
