"""Pictures to drafts without a window: photo, scan, sheet; printed scales; what is told and how it is refused."""

from __future__ import annotations

import io
import math
import tempfile
import unittest
from pathlib import Path

import numpy as np
from msgspec.structs import replace
from PIL import Image
from shapely.geometry import Polygon, box

from cozy_burrow.core.capture.paper.pen import Pen
from cozy_burrow.core.capture.retouch.draft import kit_item, scaled, with_thickness
from cozy_burrow.core.errors import Cancelled, UnusableInput
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.kit.zones import covers_outline
from cozy_burrow.core.model.edits import add_items
from cozy_burrow.core.model.records import Item, Project
from cozy_burrow.core.relief.photo import MOST_BYTES, mean_colour
from cozy_burrow.demo.photo import demo_camera
from cozy_burrow.devices.simulated_camera import PrintedPage, SimulatedCamera
from cozy_burrow.devices.simulated_scene import Light, Stand
from cozy_burrow.jobs.capture import capture_photo, capture_scan, capture_tracing, side_outline, with_another_photo
from cozy_burrow.jobs.item_photo import kit_item_with_photo
from cozy_burrow.jobs.mat import printed_stretch, write_mat
from cozy_burrow.jobs.trace import as_json, write_traces
from cozy_burrow.storage.project_file import load, save
from tests.core.capture.scenes import apart_mm, photo, three_things
from tests.core.capture.test_paper import scan_of, tool


def _redness(item: Item) -> float:
    """How much more red than blue an item's photo is."""
    colour = mean_colour(item, 0)
    assert colour is not None
    return colour[0] / max(1, colour[2])


class Photos(unittest.TestCase):
    def test_a_photo_becomes_items_that_a_project_file_keeps(self) -> None:
        capture = capture_photo(photo(15.0, "straight"), source="bench.jpg", thickness_mm=15.0)
        self.assertIn("A4 mat", capture.told)
        project = add_items(Project(), [kit_item(draft) for draft in capture.table.drafts])
        self.assertEqual(len(project.items), 3)
        for item in project.items:
            self.assertEqual((item.provenance.way, item.provenance.source), ("photo", "bench.jpg"))
            self.assertLess(item.provenance.uncertainty_mm, 0.3)
            self.assertTrue(covers_outline(item, share=0.999))
        with tempfile.TemporaryDirectory() as name:
            path = Path(name) / "a.burrow"
            save(project, path)
            self.assertEqual(load(path), project)

    def test_items_wear_what_the_photo_shows_of_them_where_it_belongs(self) -> None:
        for height in (0.5, 30.0):
            capture = capture_photo(photo(height, "straight"), source="bench.jpg", thickness_mm=height)
            items = [kit_item_with_photo(draft, capture) for draft in capture.table.drafts]
            driver, dark, steel = sorted(items, key=lambda one: -_redness(one))
            self.assertGreater(_redness(driver), 2.0)
            self.assertLess(_redness(dark), 1.5)
            self.assertLess(_redness(steel), 1.5)
            for item in items:
                assert item.photo is not None
                self.assertLessEqual(len(item.photo.jpeg), MOST_BYTES)
                left, top, right, bottom = polygon_of(item.outline).bounds
                size = Image.open(io.BytesIO(item.photo.jpeg)).size
                wide, high = (one / item.photo.px_per_mm for one in size)
                # Its outline and the millimetre round it, parallax taken out of both alike; on one side the camera
                # saw some of its wall, too, and more of it the higher that is.
                wall = 0.6 + 0.25 * height
                at = item.photo.left_mm, item.photo.top_mm, item.photo.left_mm + wide, item.photo.top_mm + high
                for edge, of, way in zip(at, (left, top, right, bottom), (-1, -1, 1, 1)):
                    self.assertLess(abs((edge - of) * way - 1.0 - wall / 2), wall / 2 + 0.4)
            with tempfile.TemporaryDirectory() as name:
                project = add_items(Project(), items)
                save(project, Path(name) / "a.burrow")
                self.assertEqual(load(Path(name) / "a.burrow"), project)

    def test_what_is_scaled_to_the_calliper_takes_its_photo_along(self) -> None:
        capture = capture_photo(photo(15.0, "straight"), source="bench.jpg", thickness_mm=15.0)
        for draft in capture.table.drafts:
            before = kit_item_with_photo(draft, capture)
            after = kit_item_with_photo(scaled(scaled(draft, 1.1), 0.95), capture)
            assert before.photo is not None and after.photo is not None
            self.assertAlmostEqual(before.photo.px_per_mm / after.photo.px_per_mm, 1.1 * 0.95)
            for edge, was in ((after.photo.left_mm, before.photo.left_mm), (after.photo.top_mm, before.photo.top_mm)):
                self.assertAlmostEqual(edge / was, 1.1 * 0.95, delta=0.004)  # both about the outline's middle

    def test_the_picture_under_the_outlines_shows_them_where_they_are(self) -> None:
        capture = capture_photo(photo(15.0, "straight"), source="bench.jpg", thickness_mm=0.5)
        box_ = capture.backdrop
        red = max(capture.table.drafts, key=lambda one: float(polygon_of(one.item.outline).length))
        inside = polygon_of(red.item.outline).representative_point()
        column, row = ((at - low) / box_.cell_mm for at, low in zip((inside.x, inside.y), box_.origin_mm))
        around = box_.pixels[round(row) - 3 : round(row) + 3, round(column) - 3 : round(column) + 3]
        corner = box_.pixels[round((150 - box_.origin_mm[1]) / box_.cell_mm), round(30 / box_.cell_mm)]
        self.assertLess(float(around.mean()), float(corner.mean()) - 40)

    def test_the_demo_photo_holds_three_things_of_which_one_is_two(self) -> None:
        capture = capture_photo(demo_camera().take_photo(), source="demo")
        widths = sorted(one.bounds_mm[2] - one.bounds_mm[0] for one in capture.table.drafts)
        self.assertEqual(len(widths), 3)
        self.assertAlmostEqual(widths[2], 60.5 + 94.0 - 0.4, delta=3.0)

    def test_progress_goes_up_and_stops_where_it_is_told(self) -> None:
        steps: list[float] = []

        class Counting:
            def step(self, fraction: float) -> None:
                steps.append(fraction)
                if len(steps) > 3:
                    raise Cancelled

        with self.assertRaises(Cancelled):
            capture_photo(photo(15.0, "straight"), source="a", token=Counting())
        self.assertEqual(steps, sorted(steps))

    def test_the_side_of_a_thing_is_the_largest_outline(self) -> None:
        found = side_outline(photo(15.0, "straight"), "a", 15.0)
        largest = max(three_things(15.0, "straight"), key=lambda one: float(one.shape.area))
        self.assertLess(apart_mm(found.shape, largest.shape)[0], 0.15)

    def test_traces_are_written_whole_with_their_json(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            path = Path(name) / "photo.jpg"
            path.write_bytes(photo(24.0, "edged"))
            result = write_traces([path], Path(name) / "out", edge_mm=12.0)
            said = as_json(result)
            self.assertEqual(
                [one["file"] for one in said["items"]], sorted(p.name for p in (Path(name) / "out").iterdir())
            )
            lefts = [min(x for x, _ in one["outline_mm"]) for one in said["items"]]
            self.assertEqual(lefts, sorted(lefts))
            for edge in (-1.0, 900.0, math.nan):
                with self.assertRaises(UnusableInput):
                    write_traces([path], Path(name) / "not", edge_mm=edge)
            with self.assertRaisesRegex(UnusableInput, "half as high"):
                write_traces([path], Path(name) / "not", edge_mm=400.0)
            self.assertFalse((Path(name) / "not").exists())

    def test_two_photos_tell_upright_walls_without_being_told(self) -> None:
        """Cameras a hand to the left and to the right: each sees the foot on its own side."""
        with tempfile.TemporaryDirectory() as name:
            paths = [Path(name) / "a.jpg", Path(name) / "b.jpg"]
            for path, towards in zip(paths, (20.0, 200.0)):
                path.write_bytes(photo(14.0, "straight", tilt_deg=9.5, towards_deg=towards, stand_mm=600.0))
            said = as_json(write_traces(paths, Path(name) / "out"))
            self.assertEqual([one["sides"] for one in said["items"]], ["straight"] * 3)
            for one in said["items"]:
                self.assertAlmostEqual(one["thickness_mm"], 14.0, delta=max(0.6, 2 * one["thickness_sigma_mm"]))
            shapes = [Polygon(one["outline_mm"], one["holes_mm"]) for one in said["items"]]
            for subject in three_things(14.0, "straight"):
                nearest = min(shapes, key=lambda one: one.centroid.distance(subject.shape.centroid))
                self.assertLess(apart_mm(nearest, subject.shape)[0], 0.2)

    def test_another_photo_tells_what_is_round_and_how_thick(self) -> None:
        """Widest half-way up: so high the edge is measured, and twice that is the thickness."""
        aside = {"tilt_deg": 11.0, "towards_deg": 230.0}
        for body, thickness, section in (("edged", 24.0, "round"), ("straight", 15.0, "flat")):
            with self.subTest(body):
                capture = capture_photo(photo(thickness, body), source="a", thickness_mm=10.0)
                assert capture.trace is not None
                found = with_another_photo(capture.table, capture.trace, photo(thickness, body, **aside), "b")
                for draft in found.drafts:
                    self.assertEqual(draft.section, section)
                    self.assertAlmostEqual(draft.thickness_mm, thickness, delta=1.2 if section == "round" else 0.6)
        # What a hand has set is not set anew.
        first = capture.table.drafts[0]
        by_hand = replace(capture.table, drafts=(with_thickness(first, capture.trace, section="round"),))
        found = with_another_photo(by_hand, capture.trace, photo(thickness, body, **aside), "b")
        self.assertEqual(found.drafts[0].section, "round")

    def test_two_photos_of_one_layout_measure_the_edges(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            paths = [Path(name) / "a.jpg", Path(name) / "b.jpg"]
            paths[0].write_bytes(photo(24.0, "edged"))
            paths[1].write_bytes(photo(24.0, "edged", tilt_deg=11.0, towards_deg=230.0))
            said = as_json(write_traces(paths, Path(name) / "out"))
            self.assertEqual([one["sides"] for one in said["items"]], ["round"] * 3)
            for one in said["items"]:
                self.assertAlmostEqual(one["thickness_mm"], 12.0, delta=max(0.6, 3 * one["thickness_sigma_mm"]))
                self.assertLess(one["thickness_sigma_mm"], 1.0)
            shapes = [Polygon(one["outline_mm"], one["holes_mm"]) for one in said["items"]]
            for subject in three_things(24.0, "edged"):
                nearest = min(shapes, key=lambda one: one.centroid.distance(subject.shape.centroid))
                self.assertLess(apart_mm(nearest, subject.shape)[0], 0.15)
            self.assertNotIn("thickness_mm", as_json(write_traces(paths[:1], Path(name) / "one"))["items"][0])
            with self.assertRaisesRegex(UnusableInput, "more than help"):
                write_traces(paths * 5, Path(name) / "not")


class Sheets(unittest.TestCase):
    def test_a_scan_and_a_sheet(self) -> None:
        scan = capture_scan(scan_of([(tool(), (60, 60, 66))]), source="scan.png")
        self.assertEqual(scan.table.draft.item.provenance.way, "scan")
        self.assertAlmostEqual(scan.backdrop.cell_mm, 25.4 / 200, places=5)
        line = tool().buffer(1.0).difference(tool())
        sheet = capture_tracing(scan_of([(line, (30, 30, 90))]), Pen(tip_mm=1.0), source="sheet.png")
        self.assertEqual(sheet.table.draft.item.provenance.way, "tracing")
        self.assertLess(apart_mm(polygon_of(sheet.table.draft.item.outline), tool())[0], 0.2)

    def test_a_line_drawn_on_the_mat_and_photographed(self) -> None:
        """The pen is 1.4 mm wide and leans by 15 degrees over an edge 10 mm up."""
        import cv2

        from cozy_burrow.core.capture.photo.mat import mat_page, printed_boxes

        page = mat_page("a4")
        printed = PrintedPage(page.width_mm, page.height_mm, tuple(printed_boxes(page)))
        image = printed.texture()
        shape = box(60, 110, 150, 150).union(box(60, 150, 85, 200))
        stand_off = 10 * math.tan(math.radians(15))
        for grown, ink in ((stand_off + 1.4, 0.12), (stand_off, 1.0)):
            ring = np.array(shape.buffer(grown, quad_segs=24).exterior.coords)
            cv2.fillPoly(
                image, [np.round((ring * 10 - 0.5) * 256).astype(np.int32)], ink, lineType=cv2.LINE_AA, shift=8
            )
        stand = Stand(aim_mm=(105, 148), height_mm=480.0, tilt_deg=10.0, width_px=1950, height_px=2600, noise=0.01)
        data = SimulatedCamera(PrintedPage(page.width_mm, page.height_mm, image=image), (), stand, Light()).take_photo()
        pen = Pen(tip_mm=1.4, lean_deg=15.0, touch_mm=10.0)
        found = capture_tracing(data, pen, source="sheet.jpg", on_mat=True)
        mean, p95 = apart_mm(polygon_of(found.table.draft.item.outline), shape)
        self.assertLess(mean, 0.2)
        self.assertLess(p95, 0.6)


class Mats(unittest.TestCase):
    def test_what_the_scales_measure_is_how_much_the_printer_stretches(self) -> None:
        self.assertEqual(printed_stretch("a4"), (1.0, 1.0))
        self.assertEqual(printed_stretch("a4", across_mm=153.0), (1.02, 1.02))
        self.assertEqual(printed_stretch("a4", across_mm=153.0, down_mm=200.0), (1.02, 1.0))
        for wrong in (100.0, 200.0, 0.0):
            with self.assertRaisesRegex(UnusableInput, "150 and 200 mm"):
                printed_stretch("a4", across_mm=wrong)

    def test_pages_of_a_mat_are_pages_of_the_file(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            out = Path(name) / "mat.pdf"
            write_mat(out, paper="tabloid", pages=3)
            self.assertEqual(out.read_bytes().count(b"/Type /Page\n"), 3)
            with self.assertRaises(UnusableInput):
                write_mat(out, paper="a4", pages=9)
            with self.assertRaises(UnusableInput):
                write_mat(out, paper="a7")
