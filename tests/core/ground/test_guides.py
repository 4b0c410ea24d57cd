"""Guide lines of what floats, against the figures of a screwdriver whose blade hangs over the foam."""

from __future__ import annotations

import unittest

from msgspec.structs import replace
from shapely import affinity
from shapely.geometry import LineString, MultiLineString

from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.ground.guides import guide_lines
from cozy_burrow.core.model.edits import change_placements
from cozy_burrow.core.model.records import Project, Rules
from cozy_burrow.jobs.export import export_files
from tests.makers import DRIVER, box, drawer, laid, project, stations

BLADE_MM, WIDE_MM = 115.0, 6.0  # of the driver, behind a handle of 95 x 32 mm


def plan(*, guides: bool, layers: int = 1, angle_deg: float = 0.0) -> Project:
    """Return a driver, its handle some layers of 10 mm deep, and a box; with one layer the blade hangs in air."""
    found = project(stations(DRIVER), box(80, 50, 30), rules=Rules(guides=guides), bay=drawer(width=400, depth=400))
    found = laid(found, (200, 200), (60, 60))
    key = found.inserts[0].placements[0].id
    return change_placements(
        found, "insert-1", [key], lambda one: replace(one, zone_layers=(layers, 1), angle_deg=angle_deg)
    )


def lines(found: Project) -> MultiLineString:
    return MultiLineString([LineString(one) for one in guide_lines(ground_of(found, found.inserts[0]))])


def free_sides(found: Project) -> LineString:
    """Return the blade's sides and tip as they lie, from the outline's corners and a turn clockwise seen from above."""
    end = max(x for x, _ in found.items[0].outline.outer)
    half, placement = WIDE_MM / 2, found.inserts[0].placements[0]
    drawn = LineString([(end - BLADE_MM, -half), (end, -half), (end, half), (end - BLADE_MM, half)])
    turned = affinity.rotate(drawn, placement.angle_deg, origin=(0, 0))  # y points down: this way it is clockwise
    return affinity.translate(turned, placement.x_mm, placement.y_mm)


class Guides(unittest.TestCase):
    def test_a_floating_blade_is_shown_on_its_three_free_sides(self) -> None:
        for angle in (0.0, 30.0, 90.0):
            with self.subTest(angle):
                found = plan(guides=True, angle_deg=angle)
                self.assertAlmostEqual(lines(found).length, 2 * BLADE_MM + WIDE_MM, delta=0.05)
                self.assertLess(lines(found).hausdorff_distance(free_sides(found)), 0.05)

    def test_nobody_asked_or_nothing_floats(self) -> None:
        self.assertTrue(lines(plan(guides=False)).is_empty)
        self.assertTrue(lines(plan(guides=True, layers=3)).is_empty)

    def test_papers_show_it_and_what_is_cut_by_machine_does_not(self) -> None:
        with_them, without = plan(guides=True), plan(guides=False)
        for kind in ("dxf", "svg"):
            self.assertEqual(
                dict(export_files(with_them, kinds=(kind,))), dict(export_files(without, kinds=(kind,))), kind
            )
        papers = [dict(export_files(one, kinds=("pdf",)))["templates.pdf"] for one in (with_them, without)]
        self.assertNotEqual(*papers)


if __name__ == "__main__":
    unittest.main()
