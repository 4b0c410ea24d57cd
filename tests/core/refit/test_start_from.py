"""A finished insert in another drawer: what fits stays as it lay, the rest is arranged, nothing is lost."""

from __future__ import annotations

import math
import unittest

from msgspec.structs import replace

from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.model.records import Container, Placement, Project, Sheet
from cozy_burrow.core.refit.start_from import started_from
from tests.core.arrange.shapes import StopsAfter
from tests.makers import box, laid, project, rod


def source() -> Project:
    """Three things in a drawer of 300 x 200."""
    plan = project(box(name="block"), rod(name="rod"), box(length=40, name="tin"))
    return laid(plan, (60, 50), (200, 60), (60, 150))


def drawer(width: float, depth: float) -> Container:
    """Return a drawer."""
    return Container(name="Next drawer", width_mm=width, depth_mm=depth, height_mm=75)


def apart(one: Placement, other: Placement) -> tuple[float, float, float]:
    """Return how two lie to each other."""
    return one.x_mm - other.x_mm, one.y_mm - other.y_mm, one.angle_deg - other.angle_deg


class StartFrom(unittest.TestCase):
    def start(self, container: Container, sheet: Sheet | None = None) -> tuple[Project, tuple[str, ...]]:
        plan = source()
        sheets = (sheet,) if sheet is not None else plan.inserts[0].sheets
        found = started_from(plan, "insert-1", container, sheets, token=StopsAfter(60))
        self.assertEqual(found.left_over, ())
        self.assertEqual([one for one in findings_of(found.project) if one.severity == "stop"], [])
        self.assertEqual(len(found.project.inserts[0].placements), 3)
        return found.project, found.stayed

    def test_in_a_larger_drawer_all_lies_as_it_did(self) -> None:
        plan, stayed = self.start(drawer(400, 260))
        self.assertEqual(len(stayed), 3)
        old, new = source().inserts[0].placements, plan.inserts[0].placements
        for one, other in zip(old[1:], new[1:]):
            for a, b in zip(apart(one, old[0]), apart(other, new[0])):
                self.assertAlmostEqual(a, b, places=2)
        self.assertEqual(plan.containers[0].name, "Next drawer")

    def test_in_a_narrower_one_what_fits_stays_and_the_rest_finds_a_place(self) -> None:
        plan, stayed = self.start(drawer(210, 230))
        self.assertGreaterEqual(len(stayed), 1)
        self.assertLess(len(stayed), 3)
        places = [one.x_mm for one in plan.inserts[0].placements]
        self.assertTrue(0 < min(places) <= max(places) < 210)
        self.assertTrue(all(math.isfinite(one.y_mm) for one in plan.inserts[0].placements))

    def test_other_layers_are_judged_anew(self) -> None:
        plan = source()
        block = replace(plan.inserts[0].placements[0], zone_layers=(4,))
        insert = replace(plan.inserts[0], placements=(block, *plan.inserts[0].placements[1:]))
        plan = replace(plan, inserts=(insert,))
        same = started_from(plan, "insert-1", drawer(300, 200), insert.sheets, token=StopsAfter(60))
        self.assertEqual(same.project.inserts[0].placements[0].zone_layers, (4,))
        thin = (Sheet(thickness_mm=48.0, pitch_mm=6.0),)
        other = started_from(plan, "insert-1", drawer(300, 200), thin, token=StopsAfter(60))
        self.assertIsNone(other.project.inserts[0].placements[0].zone_layers)

    def test_copies_are_counted_anew(self) -> None:
        plan = source()
        item = replace(plan.items[0], quantity=4)
        moved = replace(plan.inserts[0].placements[0], id="item-1#3", copy=3)
        insert = replace(plan.inserts[0], placements=(moved, *plan.inserts[0].placements[1:]))
        plan = replace(plan, items=(item, *plan.items[1:]), inserts=(insert,))
        found = started_from(plan, "insert-1", drawer(300, 200), insert.sheets, token=StopsAfter(60))
        self.assertEqual(found.project.items[0].quantity, 1)
        self.assertEqual(found.project.inserts[0].placements[0].id, "item-1#1")
