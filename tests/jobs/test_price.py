"""Time and price on the job sheet, and where they are kept."""

from __future__ import annotations

import io
import tempfile
import unittest
from pathlib import Path

import msgspec
import pypdfium2
from msgspec.structs import replace

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.foam.merging import merged_stores
from cozy_burrow.core.model.vessels import Board, Stores
from cozy_burrow.demo.build import demo_stores
from cozy_burrow.demo.shipped import demo_project
from cozy_burrow.jobs.export import export_files
from cozy_burrow.jobs.export_job import ExportJob
from cozy_burrow.jobs.job_sheet import job_pages
from cozy_burrow.jobs.price import job_price, price_text
from cozy_burrow.jobs.workshop import Workshop, kept_workshop
from cozy_burrow.storage.stores_file import save_stores, stores_from_bytes, stores_to_bytes
from tests.makers import box, laid, project, van_drawer

PAID = Workshop(stores=demo_stores())
UNPAID = Workshop(stores=replace(demo_stores(), hour_rate=None))


class OnTheJobSheet(unittest.TestCase):
    def test_each_page_has_its_time_and_the_first_the_price_of_all(self) -> None:
        pages = job_pages(ExportJob(demo_project(), "a4", PAID))
        self.assertGreater(len(pages), 1)
        said = [dict(page.facts) for page in pages]
        for one in said:
            self.assertRegex(one["Time"], r"^about .+ at the bench \(.+ to .+\), before that about 60 min of measuring")
        price = r"^about €\d+ \(€\d+ to €\d+\): .* of work at €36 an hour; for all \d inserts"
        self.assertRegex(said[0]["Price"], price)
        self.assertEqual([one for one in said[1:] if "Price" in one], [])

    def test_who_is_not_paid_by_the_hour_shows_neither(self) -> None:
        for workshop in (Workshop(), UNPAID):
            for page in job_pages(ExportJob(van_drawer(), "a4", workshop)):
                self.assertEqual({"Time", "Price"} & set(dict(page.facts)), set())

    def test_it_is_printed(self) -> None:
        plan = laid(project(box(120, 40, 30)), (150, 100))
        data = dict(export_files(plan, kinds=("pdf",), workshop=PAID))["job.pdf"]
        text = pypdfium2.PdfDocument(io.BytesIO(data))[0].get_textpage().get_text_range()
        self.assertIn("at the bench", text)
        self.assertIn("an hour", text)

    def test_nothing_laid_has_no_price_and_foam_without_one_is_named(self) -> None:
        self.assertIsNone(job_price(project(box()), PAID))
        plan = laid(project(box(120, 40, 30)), (150, 100))
        price = job_price(plan, Workshop(stores=Stores(hour_rate=30.0)))
        assert price is not None
        self.assertEqual(len(price.lacking), 1)
        self.assertIn("foam for Drawer, sheet 1 is not in it", price_text(price, "€"))
        self.assertNotIn("from the shelf", price_text(price, "€"))


class Kept(unittest.TestCase):
    def test_rates_are_kept_and_an_older_list_has_none(self) -> None:
        stores = Stores(hour_rate=40.0, blade_price=0.7, layout_h=2.0, currency="kr")
        self.assertEqual(stores_from_bytes(stores_to_bytes(stores), where="s"), stores)
        old = b'{"format": 2, "stores": {"currency": "kr"}}'
        self.assertEqual(stores_from_bytes(old, where="s"), Stores(currency="kr"))
        for name, wrong in (("hour_rate", -1), ("blade_price", -0.1), ("layout_h", 1e9)):
            data = msgspec.json.encode({"format": 3, "stores": {name: wrong}})
            with self.assertRaisesRegex(UnusableInput, "for an hour, a blade or the layout"):
                stores_from_bytes(data, where="s")

    def test_two_windows_change_different_figures(self) -> None:
        """Every figure that a price list has is joined, those to come as well."""
        base = Stores(boards=(Board(id="a", name="a"),))
        mine, theirs = replace(base, hour_rate=40.0, kerf_mm=2.0), replace(base, layout_h=2.0, currency="kr")
        both = replace(base, hour_rate=40.0, kerf_mm=2.0, layout_h=2.0, currency="kr")
        self.assertEqual(merged_stores(base, mine, theirs), both)

    def test_a_workshop_is_read_from_its_folder_and_a_damaged_file_says_nothing(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            self.assertIsNone(kept_workshop(folder).stores.hour_rate)
            save_stores(Stores(hour_rate=40.0), folder)
            self.assertEqual(kept_workshop(folder).stores.hour_rate, 40.0)
            (folder / "bench-log.csv").write_text("no log")
            (folder / "stores.json").write_text("{")
            self.assertEqual(kept_workshop(folder), Workshop())
