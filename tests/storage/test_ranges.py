"""Ranges are declared once: what the file refuses, the field in the window and the option refuse too."""

from __future__ import annotations

import json
import math
import tempfile
import unittest
from pathlib import Path

from msgspec.structs import replace

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.ranges import checked, range_of
from cozy_burrow.core.model.records import Insert, Item, Project, Rules
from cozy_burrow.storage.project_file import from_bytes, to_bytes
from cozy_burrow.storage.sound import check_sound
from tests.cli.test_cli import call
from tests.makers import box, project

RANGED = [name for name in Rules.__struct_fields__ if isinstance(getattr(Rules(), name), float)]


class Ranges(unittest.TestCase):
    def test_every_figure_of_the_rules_declares_its_range_and_its_default_lies_in_it(self) -> None:
        for name in (*RANGED, "wall_mm", "allowance_mm", "floor_layers"):
            least, most = range_of(Rules, name)
            self.assertLess(least, most)
            now = getattr(Rules(), name)
            self.assertTrue(now is None or least <= now <= most, name)

    def test_a_file_with_a_figure_outside_is_refused_by_its_name(self) -> None:
        for name in (*RANGED, "wall_mm", "allowance_mm"):
            least, most = range_of(Rules, name)
            for value, good in ((least, True), (most, True), (least - 0.5, False), (most + 0.5, False)):
                plan = Project(rules=replace(Rules(), **{name: value}))
                with self.subTest(name=name, value=value):
                    if good:
                        self.assertEqual(from_bytes(to_bytes(plan), where="a.burrow"), plan)
                        continue
                    for look in (
                        lambda plan=plan: from_bytes(to_bytes(plan), where="a.burrow"),
                        lambda plan=plan: check_sound(plan, where="a.burrow"),
                    ):
                        with self.assertRaises(UnusableInput) as caught:
                            look()
                        self.assertIn(name, str(caught.exception))
                        self.assertNotIn("\n", str(caught.exception))

    def test_quantities_masses_and_press_fits_are_looked_at_too(self) -> None:
        item, insert = box(60, 30, 8), Insert(id="insert-1", name="a")
        for plan, name in (
            (project(replace(item, quantity=0)), "quantity"),
            (project(replace(item, mass_g=-1.0)), "mass_g"),
            (Project(inserts=(replace(insert, press_fit_mm=21.0),)), "press_fit_mm"),
        ):
            with self.subTest(name), self.assertRaises(UnusableInput) as caught:
                from_bytes(to_bytes(plan), where="a.burrow")
            self.assertIn(name, str(caught.exception))
        self.assertEqual(range_of(Item, "mass_g"), (0.0, 1e6))

    def test_the_command_line_refuses_the_same(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            kit = Path(name) / "kit.csv"
            kit.write_text("name,length,width,thickness\nRule,100,20,4\n")
            base = ("plan", kit, Path(name) / "a.burrow", "--container", "300x200x75", "--foam", "50/10")
            for option, field in (("--wall", "wall_mm"), ("--edge", "edge_mm"), ("--allowance", "allowance_mm")):
                _, most = range_of(Rules, field)
                status, _, err = call(*base, option, f"{most + 1:g}")
                self.assertEqual(status, 2)
                self.assertIn(f"to {most:g} mm", err)

    def test_what_is_no_number_lies_in_no_range(self) -> None:
        for value in (math.nan, math.inf, -math.inf):
            with self.assertRaises(UnusableInput):
                checked(Rules, "finger_mm", value, where="rules")
        with self.assertRaises(KeyError):
            range_of(Rules, "marking")

    def test_the_schema_says_them(self) -> None:
        text = (Path(__file__).resolve().parents[2] / "docs" / "project.schema.json").read_text()
        rules = json.loads(text)["$defs"]["Rules"]["properties"]
        self.assertEqual((rules["finger_mm"]["minimum"], rules["finger_mm"]["maximum"]), (8, 40))


if __name__ == "__main__":
    unittest.main()
