"""How a call shares its time out: counted on a clock that goes on by a little whenever somebody looks at it."""

from __future__ import annotations

import tempfile
import unittest
from collections import Counter
from pathlib import Path

from cozy_burrow.core.ground.arranging import Arranged
from cozy_burrow.core.model.records import Rules
from cozy_burrow.jobs.plan import parse_container, parse_foam, plan_kit

_HEAD = "name,quantity,shape,length,width,thickness,stations,seat\n"
_A_LOOK_S = 0.02


class Clock:
    def __init__(self) -> None:
        self.now = 0.0

    def __call__(self) -> float:
        self.now += _A_LOOK_S
        return self.now


class TimeOfACall(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.kit = Path(folder.name) / "kit.csv"

    def planned(self, sorts: int, copies: int, seconds: float) -> tuple[Arranged, float]:
        rows = [f"Thing {n},{copies},,,,,0:{10 + n % 9} {20 + n}:{8 + n % 7} {30 + n}:5," for n in range(sorts)]
        self.kit.write_text(_HEAD + "\n".join(rows) + "\n")
        container = parse_container("900x600x75", kind="drawer", corner_radius_mm=0.0)
        clock = Clock()
        answer, _ = plan_kit(
            self.kit,
            container,
            parse_foam("50/10"),
            Rules(),
            with_pulls=True,
            seconds=seconds,
            seed=1,
            clock=clock,
        )
        return answer, clock.now

    def counted(self, answer: Arranged) -> tuple[int, Counter[str]]:
        laid = sum(len(insert.placements) for insert in answer.project.inserts)
        return laid, Counter(one.why for one in answer.left_over)

    def test_a_kit_that_takes_long_to_make_ready_leaves_the_search_half_of_the_time(self) -> None:
        answer, used_s = self.planned(60, 4, 2.0)
        laid, left = self.counted(answer)
        self.assertEqual(laid + left.total(), 240)
        self.assertGreater(laid, 0)
        self.assertGreater(left["no_time"], 0)
        self.assertLess(used_s, 2.0 + 10 * _A_LOOK_S)

    def test_all_is_made_ready_where_there_is_time_and_nobody_is_put_off(self) -> None:
        answer, _ = self.planned(8, 3, 400.0)
        self.assertEqual(self.counted(answer), (24, Counter()))

    def test_no_time_at_all_is_said_of_every_thing(self) -> None:
        answer, _ = self.planned(5, 2, 0.0)
        self.assertEqual(self.counted(answer), (0, Counter(no_time=10)))

    def test_what_is_longer_than_the_drawer_is_too_large_even_unready(self) -> None:
        self.kit.write_text(_HEAD)
        rows = "Pole,1,box,1400,20,20,,\nBox,1,box,80,50,30,,\n"
        self.kit.write_text(_HEAD + rows)
        container = parse_container("900x600x75", kind="drawer", corner_radius_mm=0.0)
        answer, _ = plan_kit(
            self.kit, container, parse_foam("50/10"), Rules(), with_pulls=True, seconds=0.0, seed=1, clock=Clock()
        )
        self.assertEqual(self.counted(answer), (0, Counter(too_large=1, no_time=1)))
