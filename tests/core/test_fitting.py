"""What still fits into used ground: pulls beside pockets, clear spots, the next thing; always with walls and edges."""

from __future__ import annotations

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from cozy_burrow.core.container.bay import bay_of
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.ground.fitting import laid_in, moved_clear, used_bed
from cozy_burrow.core.ground.gripping import could_grip, regripped
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.model.edits import add_pulls
from cozy_burrow.core.model.records import FingerPull, Project, Rules
from cozy_burrow.core.pulls.forms import bed_for, piece_for, wall_of
from tests.makers import DRIVER, box, drawer, laid, project, rod, stations

LINE = Rules(allowance_mm=0.0)


def stops(plan: object) -> list[str]:
    return [one.code for one in findings_of(plan) if one.severity == "stop" and one.code != "UNPLACED"]  # type: ignore[arg-type]


def pulled(plan: Project) -> Project:
    return regripped(plan, "insert-1", ["item-1#1"])


class Fitting(unittest.TestCase):
    def test_a_pull_takes_another_kind_where_room_is_short(self) -> None:
        wide = pulled(laid(project(box(80, 20, 8), rules=LINE), (150, 100)))
        self.assertEqual([(one.kind, one.width_mm) for one in wide.inserts[0].pulls], [("circle_pair", 40.0)])
        nearer = pulled(laid(project(box(80, 20, 8), box(200, 20, 30), rules=LINE), (150, 100), (150, 133)))
        self.assertEqual([one.kind for one in nearer.inserts[0].pulls], ["circle"])

    def test_what_has_a_pull_keeps_it_where_no_better_one_is_found(self) -> None:
        """The neighbour leaves room for nothing; a hand had cut a circle there all the same."""
        tight = drawer(width=112, depth=52)
        plan = laid(project(box(80, 20, 8), rules=LINE, bay=tight), (56, 26))
        by_hand = FingerPull(id="", kind="circle", serves=("item-1#1",), points_mm=((0.0, 10.0),), width_mm=28.0)
        plan = add_pulls(plan, "insert-1", [by_hand])
        self.assertEqual(pulled(plan), plan)

    def test_no_pull_where_there_is_no_room_at_all(self) -> None:
        tight = drawer(width=112, depth=52)
        plan = laid(project(box(80, 20, 8), rules=LINE, bay=tight), (56, 26))
        self.assertEqual(could_grip(plan, "insert-1", ["item-1#1"]), {"item-1#1": False})
        self.assertEqual(pulled(plan), plan)

    @settings(derandomize=True, deadline=None, max_examples=25)
    @given(st.floats(40, 260), st.floats(40, 160), st.integers(0, 3))
    def test_a_thing_that_was_moved_clear_keeps_every_rule(self, x: float, y: float, quarter: int) -> None:
        plan = laid(
            project(stations(DRIVER), rod(60, 30), box(40, 30, 20), rules=LINE, bay=drawer(width=360, depth=220)),
            (x, y, quarter * 90.0),
            (90, 60),
            (250, 150),
        )
        moved = moved_clear(plan, "insert-1", "item-1#1")
        if moved is None:
            return
        names = [one for one in findings_of(moved) if one.severity == "stop" and "item-1#1" in one.placements]
        self.assertEqual(names, [])
        self.assertEqual(moved.inserts[0].placements[1:], plan.inserts[0].placements[1:])

    def test_the_next_thing_is_laid_beside_what_lies_there(self) -> None:
        plan = project(*(box(70, 30, 20, name=f"b{n}") for n in range(4)), rules=LINE)
        for item in plan.items:
            found = laid_in(plan, "insert-1", item, 1)
            assert found is not None
            plan = found
            self.assertEqual(stops(plan), [])
        self.assertEqual(len(plan.inserts[0].placements), 4)
        big = project(box(400, 30, 20), rules=LINE)
        self.assertIsNone(laid_in(big, "insert-1", big.items[0], 1))

    def test_a_bed_without_a_thing_has_room_where_it_lay(self) -> None:
        plan = laid(project(box(), box(), rules=LINE), (100, 60), (200, 140))
        ground = ground_of(plan, plan.inserts[0])
        self.assertEqual(len(used_bed(ground, without=frozenset()).fixed), 2)
        self.assertEqual(len(used_bed(ground, without=frozenset(("item-1#1",))).fixed), 1)
        self.assertEqual(bed_for(bay_of(plan, plan.inserts[0]), LINE).area.bounds, (15, 15, 285, 185))

    def test_forms_go_from_roomy_to_bare_and_none_where_it_stands_proud(self) -> None:
        flat = piece_for(box(80, 20, 8), 1, drawer(), LINE, with_pulls=True)
        areas = [form.shape.area for form in flat.forms]
        self.assertEqual(areas[0], max(areas))
        self.assertEqual(areas[-1], min(areas))
        self.assertIsNone(flat.forms[-1].tag)
        self.assertEqual(len(piece_for(box(80, 20, 30), 1, drawer(), LINE, with_pulls=True).forms), 1)
        self.assertEqual(len(piece_for(box(80, 20, 8), 1, drawer(), LINE, with_pulls=False).forms), 1)

    def test_a_deep_pocket_asks_for_more_wall(self) -> None:
        plan = laid(project(box(60, 20, 60), rules=replace(LINE, seat="deep")), (150, 100))
        pocket = ground_of(plan, plan.inserts[0]).pockets["item-1#1"]
        self.assertAlmostEqual(wall_of(pocket, bay_of(plan, plan.inserts[0]), plan.rules)[0], 15.0)
