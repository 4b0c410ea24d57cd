"""New projects from two or three sizes."""

from __future__ import annotations

import unittest
from itertools import product

from shapely.geometry import Polygon

from cozy_burrow.core.container.bay import headroom_mm
from cozy_burrow.core.container.blank import inside_polygon
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.foam.beginning import BEGINNINGS, begun_project, foam_for
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.storage.project_file import checked_bytes


class Begun(unittest.TestCase):
    def test_every_kind_in_every_size_is_a_project_without_a_fault(self) -> None:
        for kind, size in product(BEGINNINGS, ((120, 90, 30), (570, 390, 75), (2400, 700, 260), (60, 900, 55))):
            with self.subTest(kind=kind, size=size):
                plan = begun_project(kind, *map(float, size))
                container = plan.containers[0]
                self.assertEqual((container.width_mm, container.depth_mm, container.height_mm), size)
                self.assertEqual(container.kind, kind)
                checked_bytes(plan)
                bay = ground_of(plan, plan.inserts[0]).bay
                self.assertGreaterEqual(headroom_mm(bay), 0.0)
                self.assertEqual([one.code for one in findings_of(plan) if one.severity == "stop"], [])

    def test_the_handle_is_in_the_middle_and_screws_keep_to_their_corners(self) -> None:
        case = begun_project("case", 520.0, 300.0, 90.0).containers[0]
        assert case.handle is not None
        self.assertEqual((case.handle.along_mm, case.handle.height_mm), (260.0, 80.0))
        wall = begun_project("wall", 900.0, 1200.0, 60.0).containers[0]
        inside = inside_polygon(wall)
        middles = {Polygon(one.ring).centroid.coords[0] for one in wall.obstacles}
        self.assertEqual(middles, {(22.0, 22.0), (878.0, 22.0), (22.0, 1178.0), (878.0, 1178.0)})
        self.assertTrue(all(inside.covers(Polygon(one.ring)) for one in wall.obstacles))

    def test_a_drawer_keeps_room_for_handles_that_stand_out_and_a_case_is_filled(self) -> None:
        self.assertEqual(
            [foam_for("drawer", high).thickness_mm for high in (26.0, 60.0, 75.0, 120.0)], [20, 30, 50, 70]
        )
        self.assertEqual([foam_for("case", high).thickness_mm for high in (20.0, 60.0, 75.0, 120.0)], [20, 50, 70, 70])

    def test_what_nobody_fits_foam_into_is_refused(self) -> None:
        for size in ((10.0, 300.0, 60.0), (300.0, 9000.0, 60.0), (300.0, 300.0, 4.0), (float("nan"), 300.0, 60.0)):
            with self.subTest(size), self.assertRaises(UnusableInput):
                begun_project("drawer", *size)
