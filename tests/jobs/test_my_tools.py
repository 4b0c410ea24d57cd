"""What the fitter owns: kept, read again, refused, and what a damaged file does."""

from __future__ import annotations

import tempfile
import unittest
from pathlib import Path

from hypothesis import given, settings
from hypothesis import strategies as st

from cozy_burrow.core.bench.methods import OWNED, Tools
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.kit.shapes import disc_outline, outline_item
from cozy_burrow.jobs.export import export_files
from cozy_burrow.jobs.my_tools import NAME, keep_tools, kept_tools, read_tools, saws_from
from cozy_burrow.jobs.workshop import Workshop
from tests.makers import laid, project


class MyTools(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def test_they_are_kept_and_saws_stand_in_their_order(self) -> None:
        self.assertEqual(kept_tools(self.folder), OWNED)
        keep_tools(Tools(saws_mm=(40.0, 25.0, 40.0), hot_pin=True, rule=False), self.folder)
        self.assertEqual(kept_tools(self.folder), Tools(saws_mm=(25.0, 40.0), hot_pin=True, rule=False))

    def test_a_damaged_file_says_so_where_it_is_read_and_nothing_where_it_is_used(self) -> None:
        for data in (b"", b"{", b'{"saws_mm": [1]}', b'{"saws_mm": ["x"]}', b"\xff", b"[" * 5000):
            (self.folder / NAME).write_bytes(data)
            with self.assertRaises(UnusableInput):
                read_tools(self.folder / NAME)
            self.assertEqual(kept_tools(self.folder), OWNED)
            with self.assertRaises(UnusableInput):
                keep_tools(Tools(rule=False), self.folder)
            self.assertEqual((self.folder / NAME).read_bytes(), data)  # not written over

    def test_diameters_are_read_as_people_write_them(self) -> None:
        self.assertEqual(saws_from("40; 25,1in", unit="mm"), (25.0, 25.4, 40.0))
        self.assertEqual(saws_from("1, 1 1/2", unit="inch"), (25.4, 38.1))
        self.assertEqual(saws_from(" , ", unit="mm"), ())
        for wrong in ("ten", "2", "900", "-40", ",".join(["30"] * 3 + [str(n) for n in range(10, 90)])):
            with self.assertRaises(UnusableInput):
                saws_from(wrong, unit="mm")

    @settings(derandomize=True, deadline=None, max_examples=100)
    @given(st.text(max_size=60))
    def test_no_text_ends_in_anything_but_a_sentence(self, text: str) -> None:
        try:
            saws_from(text, unit="mm")
        except UnusableInput as refused:
            self.assertTrue(refused.sentence())

    def test_papers_say_what_is_owned(self) -> None:
        disc = outline_item("item-1", "disc", disc_outline(42.0), thickness_mm=20.0, way="drawn")
        plan = laid(project(disc), (150, 100))
        tables = [
            dict(export_files(plan, kinds=("csv",), workshop=Workshop(tools=tools)))["cuts.csv"].decode()
            for tools in (OWNED, Tools(saws_mm=(42.0,)))
        ]
        self.assertNotIn("hole saw", tables[0])
        self.assertIn("hole saw", tables[1])
