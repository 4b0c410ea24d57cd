"""The demo is what its kit, drawings and layout make, with nothing to mend."""

from __future__ import annotations

import unittest

from cozy_burrow.assets.read import asset
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.findings.showing import HARDLY_SHOWS
from cozy_burrow.core.ground.closing import closing_of
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.demo.build import build_demo, demo_stores
from cozy_burrow.demo.shipped import demo_project
from cozy_burrow.storage.stores_file import load_stores


class Demo(unittest.TestCase):
    def test_what_ships_is_what_the_sources_make(self) -> None:
        self.assertEqual(demo_project(), build_demo(), "run tools/lay_demo.py")

    def test_the_shipped_price_list_is_what_its_source_makes(self) -> None:
        self.assertEqual(load_stores(asset("demo")), demo_stores(), "run tools/lay_demo.py")

    def test_it_can_be_shown_to_a_customer(self) -> None:
        project = demo_project()
        # Flat tins in a drawer of grey foam: what nobody can change is a note, and true.
        others = [one for one in findings_of(project) if one.code != HARDLY_SHOWS.code]
        self.assertEqual([(one.code, one.severity) for one in others], [])
        laid = sum(len(insert.placements) for insert in project.inserts)
        self.assertEqual(laid, sum(item.quantity for item in project.items))
        self.assertGreater(laid, 40)

    def test_the_lid_touches_everything_on_the_concert_tray_and_closes(self) -> None:
        project = demo_project()
        ground = ground_of(project, project.inserts[1])
        closing = closing_of(ground)
        assert closing is not None
        self.assertEqual(closing.open_mm, 0.0)
        self.assertEqual({one.placement for one in closing.pressed}, set(ground.pockets))
