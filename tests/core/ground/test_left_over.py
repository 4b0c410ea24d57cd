"""What lies nowhere, and why; a search that goes on until everything lies; plans without pulls."""

from __future__ import annotations

import unittest

from msgspec.structs import replace

from cozy_burrow.core.arrange.wishes import STYLES
from cozy_burrow.core.ground.arranging import Arranged, arranged
from cozy_burrow.core.model.records import Item, Project, Rules
from cozy_burrow.core.progress import Quiet
from tests.core.arrange.shapes import StopsAfter
from tests.makers import DRIVER, box, drawer, project, stations

RULES = Rules(allowance_mm=1.0, wall_mm=10.0)


def few(*sizes: tuple[float, float], width: float = 260.0, depth: float = 180.0) -> Project:
    """A small drawer and some boxes."""
    items = [box(long, wide, 12, f"box {n}") for n, (long, wide) in enumerate(sizes)]
    return project(*items, rules=RULES, bay=drawer(width=width, depth=depth))


def why(result: Arranged) -> dict[str, str]:
    """The reasons by the item's name."""
    names = {item.id: item.name for item in result.project.items}
    return {names[one.item_id]: one.why for one in result.left_over}


class Reasons(unittest.TestCase):
    def test_what_nobody_looked_for_a_place_for_was_not_tried(self) -> None:
        plan = few((60, 30), (50, 30), (40, 30))
        for tried in range(3):
            result = arranged(plan, "insert-1", seed=1, token=StopsAfter(tried), weights=STYLES["tight"])
            self.assertEqual(len(result.project.inserts[0].placements), tried)
            self.assertEqual(sorted(why(result).values()), ["no_time"] * (3 - tried))

    def test_lanes_that_are_stopped_are_a_layout_and_none_where_they_never_began(self) -> None:
        plan = few((60, 30), (50, 30), (40, 30))
        for steps, laid in ((0, 0), (1, 3), (2, 3)):
            result = arranged(plan, "insert-1", seed=1, token=StopsAfter(steps))
            self.assertEqual(len(result.project.inserts[0].placements), laid)
            self.assertEqual(sorted(why(result).values()), ["no_time"] * (3 - laid))

    def test_what_was_looked_for_has_no_room_however_little_time_was_left(self) -> None:
        """The second is looked for and finds nothing; the third is never reached."""
        plan = few((200, 120), (190, 110), (180, 100))
        result = arranged(plan, "insert-1", seed=1, token=StopsAfter(2), weights=STYLES["tight"])
        self.assertEqual(why(result), {"box 1": "no_room", "box 2": "no_time"})

    def test_what_does_not_go_in_alone_is_too_large_even_with_no_time(self) -> None:
        result = arranged(few((400, 30), (50, 30)), "insert-1", seed=1, token=StopsAfter(0))
        self.assertEqual(why(result), {"box 0": "too_large", "box 1": "no_time"})

    def test_a_layout_that_was_made_once_is_not_called_untried_where_a_later_try_was_stopped(self) -> None:
        plan = few((200, 120), (190, 110), (180, 100))
        for tokens in range(4, 60, 14):
            result = arranged(plan, "insert-1", seed=1, token=StopsAfter(tokens))
            self.assertEqual(set(why(result).values()), {"no_room"}, tokens)


class UntilAllLies(unittest.TestCase):
    def test_a_search_that_is_short_ends_by_its_steps_only(self) -> None:
        plan = few((200, 120), (190, 110))
        patient = arranged(plan, "insert-1", seed=1, token=Quiet(), steps=70, until_all_lies=True)
        self.assertEqual((patient.attempts, len(patient.left_over)), (70, 1))
        self.assertLess(arranged(plan, "insert-1", seed=1, token=Quiet(), steps=70).attempts, 70)

    def test_what_can_never_lie_is_not_waited_for(self) -> None:
        result = arranged(
            few((400, 30), (50, 30)), "insert-1", seed=1, token=Quiet(), steps=100_000, until_all_lies=True
        )
        self.assertLess(result.attempts, 2_000)
        self.assertEqual(why(result), {"box 0": "too_large"})

    def test_going_on_lays_more_than_the_first_layout(self) -> None:
        sizes = [(160, 24)] * 6 + [(90, 60)] * 4 + [(60, 30)] * 3
        plan = few(*sizes, width=350, depth=270)
        first = arranged(plan, "insert-1", seed=1, token=Quiet(), steps=0)
        later = arranged(plan, "insert-1", seed=1, token=Quiet(), steps=24, until_all_lies=True)
        self.assertGreater(len(first.left_over), len(later.left_over))

    def test_the_same_seed_and_steps_give_the_same_plan(self) -> None:
        plan = few((120, 60), (110, 50), (100, 50), (90, 40))
        runs = [arranged(plan, "insert-1", seed=7, token=Quiet(), steps=9, until_all_lies=True) for _ in range(2)]
        self.assertEqual(runs[0].project, runs[1].project)


class NoPulls(unittest.TestCase):
    def test_no_pull_at_all_on_any_path(self) -> None:
        """Rows of handles lie alternated or not, which is a choice of forms with nothing to say of pulls."""
        rows: list[Item] = [
            replace(box(length, 14, 10, f"bar {length}"), group="bars") for length in range(60, 150, 10)
        ]
        twins = [replace(box(50, 20, 10, "twin"), quantity=5), box(80, 60, 20, "tin")]
        drivers = [replace(stations(DRIVER, "driver"), quantity=5)]
        for kit in ([*rows, *twins], twins, drivers):
            plan = project(*kit, rules=replace(RULES, seat="flush"), bay=drawer(width=420, depth=300))
            bare = arranged(plan, "insert-1", seed=1, token=Quiet(), steps=6, with_pulls=False)
            self.assertEqual((bare.left_over, bare.project.inserts[0].pulls), ((), ()))
            served = arranged(plan, "insert-1", seed=1, token=Quiet(), steps=6)
            self.assertTrue(served.project.inserts[0].pulls)


if __name__ == "__main__":
    unittest.main()
