"""What is said of a kit before anything is laid: by hand for small ones, and that what is proposed helps."""

from __future__ import annotations

import unittest

from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from cozy_burrow.core.errors import Cancelled
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.ground.arranging import arranged
from cozy_burrow.core.ground.first_look import FirstLook, Proposal, first_look, taken
from cozy_burrow.core.kit.boxed import PLAY_MM, SHELL_MM, box_of
from cozy_burrow.core.model.edits import unplaced
from cozy_burrow.core.model.records import Placement, Project, Rules
from cozy_burrow.core.progress import Quiet
from cozy_burrow.jobs.first_look_words import gives, line_of, sum_words, why_full
from tests.core.arrange.shapes import StopsAfter
from tests.makers import box, drawer, laid, project, rod

RULES = Rules(wall_mm=10.0, edge_mm=10.0)


def looked(plan: Project) -> FirstLook:
    return first_look(plan, "insert-1", token=Quiet())


def of_kind(look: FirstLook, kind: str) -> list[Proposal]:
    return [one for one in look.proposals if one.kind == kind]


class Boxed(unittest.TestCase):
    def test_ten_bottles_stand_in_their_carton(self) -> None:
        found = box_of(rod(90, 30, "bottle"), 10, highest_mm=120.0)
        assert found is not None
        left, top, right, bottom = polygon_of(found.outline).bounds
        # Two rows of five, standing: 5 x 30 + 4 + 6 by 2 x 30 + 1 + 6.
        self.assertAlmostEqual(right - left, 5 * 30 + 4 * PLAY_MM + 2 * (SHELL_MM + PLAY_MM))
        self.assertAlmostEqual(bottom - top, 2 * 30 + PLAY_MM + 2 * (SHELL_MM + PLAY_MM))
        self.assertAlmostEqual(found.thickness_mm, 90 + SHELL_MM)
        self.assertEqual(found.quantity, 1)

    def test_where_it_is_low_they_lie(self) -> None:
        found = box_of(rod(90, 30, "bottle"), 10, highest_mm=50.0)
        assert found is not None
        self.assertAlmostEqual(found.thickness_mm, 30 + SHELL_MM)
        self.assertIsNone(box_of(rod(90, 30, "bottle"), 10, highest_mm=20.0))

    def test_flat_ones_lie_on_each_other(self) -> None:
        found = box_of(replace(box(60, 20, 5), mass_g=8.0), 8, highest_mm=25.0)
        assert found is not None
        self.assertLessEqual(found.thickness_mm, 25.0)
        self.assertLess(polygon_of(found.outline).area, 60 * 20 * 3)
        self.assertEqual(found.mass_g, 64.0)

    @given(count=st.integers(5, 60), length=st.floats(10, 90), width=st.floats(5, 60), high=st.floats(3, 40))
    def test_a_box_has_room_for_all_of_them(self, count: int, length: float, width: float, high: float) -> None:
        found = box_of(box(length, width, high), count, highest_mm=100.0)
        if found is not None:
            inside = polygon_of(found.outline).area * found.thickness_mm
            self.assertGreater(inside, count * length * width * high)
            self.assertLessEqual(found.thickness_mm, 100.0)


class Looks(unittest.TestCase):
    def test_what_does_not_go_in_is_said_with_its_figures(self) -> None:
        plan = project(box(900, 20, 10, "bar"), box(60, 40, 90, "tower"), rules=RULES, bay=drawer(height=60))
        look = looked(plan)
        (large,), (high,) = of_kind(look, "too_large"), of_kind(look, "too_high")
        self.assertIn("900", gives(plan, large, where="drawer"))
        self.assertGreater(high.length_mm, high.longest_mm)
        self.assertIn("tower", line_of(plan, high))
        self.assertFalse(large.may_be_taken)

    def test_a_box_is_proposed_with_what_it_saves_and_taken_in_one_step(self) -> None:
        bottles = replace(rod(90, 30, "bottle"), quantity=10, group="glue", mass_g=60.0)
        plan = project(bottles, box(120, 40, 20, "plane"), rules=RULES, bay=drawer(width=500, depth=400, height=140))
        look = looked(plan)
        (one,) = of_kind(look, "box")
        self.assertLess(one.then_share, look.share)
        self.assertGreater(one.line_mm, 1_000)
        self.assertIn("instead of 10", gives(plan, one, where="drawer"))
        then = taken(plan, one)
        self.assertEqual([(item.name, item.quantity) for item in then.items], [("Box of 10 bottle", 1), ("plane", 1)])
        self.assertEqual((then.items[0].group, then.items[0].mass_g), ("glue", 600.0))
        self.assertAlmostEqual(looked(then).share, one.then_share, delta=0.01)
        self.assertEqual(of_kind(looked(then), "box"), [])

    def test_copies_that_lie_here_leave_with_their_pulls(self) -> None:
        bottles = replace(rod(60, 24, "bottle"), quantity=5)
        plan = laid(project(bottles, rules=RULES, bay=drawer(width=500, depth=400, height=140)), (60, 60))
        (one,) = of_kind(looked(plan), "box")
        then = taken(plan, one)
        assert one.instead is not None
        self.assertEqual(then.inserts[0].placements, ())
        self.assertEqual([item.name for item, _ in unplaced(then)], [one.instead.name])

    def test_few_of_a_kind_are_left_as_they_are(self) -> None:
        plan = project(replace(rod(90, 30), quantity=4), rules=RULES, bay=drawer(width=500, depth=400, height=140))
        self.assertEqual(of_kind(looked(plan), "box"), [])

    def test_what_is_seldom_used_goes_first_and_what_is_left_finds_room(self) -> None:
        rare = replace(box(160, 110, 20, "press"), use="rare")
        daily = [replace(box(120, 30, 20, f"tool {n}"), use="daily") for n in range(6)]
        weekly = [box(100, 40, 20, f"clamp {n}") for n in range(3)]
        plan = project(rare, *weekly, *daily, rules=RULES, bay=drawer(width=330, depth=240))
        look = looked(plan)
        self.assertGreater(look.share, 0.93)
        (one,) = of_kind(look, "leave_out")
        self.assertEqual(one.item_ids[0], plan.items[0].id)
        self.assertFalse(any(item.use == "daily" for item in plan.items if item.id in one.item_ids))
        then = taken(plan, one)
        self.assertAlmostEqual(looked(then).share, one.then_share, delta=0.01)
        result = arranged(then, "insert-1", seed=1, token=Quiet(), steps=20)
        self.assertEqual(result.left_over, ())
        self.assertIn("‘press’", gives(plan, one, where="drawer"))

    def test_what_lies_in_another_insert_too_is_neither_boxed_nor_left_out(self) -> None:
        bottles = project(
            replace(rod(90, 30, "bottle"), quantity=10), rules=RULES, bay=drawer(width=500, depth=400, height=140)
        )
        presses = project(
            replace(box(160, 110, 20, "press"), use="rare", quantity=2),
            *(replace(box(120, 30, 20, f"tool {n}"), use="daily") for n in range(5)),
            rules=RULES,
            bay=drawer(width=330, depth=230),
        )
        there = Placement(id="item-1#1", item_id="item-1", copy=1, x_mm=90, y_mm=90)
        for plan, kind in ((bottles, "box"), (presses, "leave_out")):
            with self.subTest(kind):
                self.assertEqual([one.item_ids for one in of_kind(looked(plan), kind)], [("item-1",)])
                empty = plan.inserts[0]
                other = replace(empty, id="insert-2", name="other", container_id="c2", placements=(there,))
                boxes = (*plan.containers, replace(plan.containers[0], id="c2", name="other"))
                # One more of it, so that as many as before are left for this insert.
                items = (replace(plan.items[0], quantity=plan.items[0].quantity + 1), *plan.items[1:])
                shared = replace(plan, items=items, containers=boxes, inserts=(empty, other))
                self.assertEqual(of_kind(looked(shared), kind), [])

    def test_where_too_much_would_have_to_go_nothing_is_proposed(self) -> None:
        tools = [box(120, 60, 20, f"tool {n}") for n in range(12)]
        plan = project(*tools, rules=RULES, bay=drawer(width=200, depth=150))
        self.assertEqual(of_kind(looked(plan), "leave_out"), [])

    def test_how_much_more_foam_would_hold_all_is_told_and_does(self) -> None:
        tools = [box(120, 60, 20, f"tool {n}") for n in range(9)]
        rods = [rod(150, 20, f"rod {n}") for n in range(6)]
        plan = project(*tools, *rods, rules=RULES, bay=drawer(width=260, depth=200))
        look = looked(plan)
        (one,) = of_kind(look, "more_foam")
        self.assertFalse(one.may_be_taken)
        self.assertGreaterEqual(one.inserts * 0.8, look.share)
        self.assertLess((one.inserts - 1) * 0.8, look.share)
        wide, deep = one.size_mm
        self.assertEqual((wide % 10, deep % 10), (0.0, 0.0))
        self.assertAlmostEqual(wide / deep, 260 / 200, delta=0.06)
        self.assertIn(f"{wide:.0f} × {deep:.0f} mm", gives(plan, one, where="drawer"))
        larger = project(*tools, *rods, rules=RULES, bay=drawer(width=wide, depth=deep))
        self.assertAlmostEqual(looked(larger).share, 0.8, delta=0.04)
        self.assertEqual(arranged(larger, "insert-1", seed=1, token=Quiet(), steps=20).left_over, ())
        self.assertEqual(why_full(plan, "insert-1")[0], sum_words(look))
        self.assertEqual(why_full(larger, "insert-1"), [])

    def test_room_is_said_where_there_is_much(self) -> None:
        plan = project(box(), rules=RULES, bay=drawer(width=500, depth=400))
        look = looked(plan)
        self.assertEqual([one.kind for one in look.proposals], ["room"])
        self.assertIn("%", sum_words(look))

    def test_it_can_be_stopped_and_an_empty_kit_says_nothing(self) -> None:
        with self.assertRaises(Cancelled):
            first_look(project(box(), rules=RULES), "insert-1", token=StopsAfter(0))
        self.assertEqual(looked(project(rules=RULES)).proposals, ())
