"""Pictures and the job sheet: as large as the insert is, in bands as in one, one page an insert."""

from __future__ import annotations

import io
import unittest
import unittest.mock

import numpy as np
from msgspec.structs import replace
from PIL import Image

from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.model.edits import add_items
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.relief import picture
from cozy_burrow.jobs.export import export_files, parse_only
from cozy_burrow.jobs.export_job import ExportJob
from cozy_burrow.jobs.insert_pictures import as_png, daylight, insert_picture, lettered
from cozy_burrow.jobs.job_sheet import job_pages
from tests.makers import box, laid, project, van_drawer


class Pictures(unittest.TestCase):
    def test_they_are_as_large_as_the_insert_and_say_so(self) -> None:
        plan = van_drawer()
        ground = ground_of(plan, plan.inserts[0])
        found = Image.open(io.BytesIO(as_png(insert_picture(ground, dpi=72), dpi=72)))
        self.assertAlmostEqual(found.info["dpi"][0], 72, delta=0.5)
        container = ground.bay.container
        around = 2 * (picture.RIM_MM + 1.0)
        for pixels, length_mm in zip(found.size, (container.width_mm, container.depth_mm)):
            self.assertAlmostEqual(pixels / 72 * 25.4, length_mm + around, delta=9.0)

    def test_bands_are_the_picture(self) -> None:
        plan = van_drawer()
        ground = ground_of(plan, plan.inserts[0])
        with unittest.mock.patch.object(picture, "_BAND_ROWS", 64):
            banded = np.concatenate(list(picture.bands_of(ground, 1.0, daylight())))
        whole = np.concatenate(list(picture.bands_of(ground, 1.0, daylight())))
        self.assertEqual(banded.shape, whole.shape)
        apart = np.abs(banded.astype(int) - whole.astype(int)).max(axis=2)
        self.assertLess(float((apart > 4).mean()), 0.002)

    def test_names_are_written_and_an_empty_place_is_another_picture(self) -> None:
        plan = laid(project(box(120.0, 40.0, 20.0)), (150.0, 100.0))
        ground = ground_of(plan, plan.inserts[0])
        filled = insert_picture(ground, dpi=72)
        names = {one.id: placement_name(plan, one.id) for one in plan.inserts[0].placements}
        written = lettered(filled, ground, names, dpi=72)
        changed = np.argwhere((np.asarray(written) != np.asarray(filled)).any(axis=2))
        self.assertGreater(len(changed), 30)
        left, top = picture.picture_corner(ground, 72 / 25.4)
        row, column = changed.mean(axis=0)
        self.assertAlmostEqual(left + column / 72 * 25.4, 150.0, delta=2.0)
        self.assertAlmostEqual(top + row / 72 * 25.4, 100.0, delta=2.0)
        self.assertNotEqual(as_png(filled), as_png(insert_picture(ground, filled=False, dpi=72)))

    def test_they_come_when_asked(self) -> None:
        self.assertNotIn("png", parse_only(None))
        self.assertEqual(parse_only("png"), ("png",))
        plan = laid(project(box(60.0, 20.0, 12.0)), (150.0, 100.0))
        names = [name for name, _ in export_files(plan, kinds=("png",))]
        self.assertEqual(names, ["drawer-filled.png", "drawer-names.png", "drawer-empty.png", "drawer-empty-names.png"])


class JobSheet(unittest.TestCase):
    def test_a_page_says_what_goes_in_and_what_it_weighs(self) -> None:
        (page,) = job_pages(ExportJob(van_drawer(), "a4"))
        said = dict(page.facts)
        self.assertIn("570 x 390 x 75 mm", said["Drawer"])
        self.assertIn("kg foam", said["Weight"])
        self.assertIn(("Mute wedge", 3), page.items)
        self.assertEqual(sum(count for _, count in page.items), len(van_drawer().inserts[0].placements))

    def test_one_page_an_insert_however_much_goes_in(self) -> None:
        many = [replace(box(20, 10, 8, f"Thing {n} " + "with a long name " * (n % 4)), id=f"i{n}") for n in range(90)]
        plan = laid(add_items(project(), many), *[(12 + 24 * (n % 11), 8 + 16 * (n // 11)) for n in range(90)])
        files = dict(export_files(plan, kinds=("pdf",)))
        self.assertEqual(files["job.pdf"].count(b"/Type /Page\n") + files["job.pdf"].count(b"/Type /Page "), 1)

    def test_an_empty_project_has_none(self) -> None:
        self.assertNotIn("job.pdf", dict(export_files(project(box()), kinds=("pdf",))))
