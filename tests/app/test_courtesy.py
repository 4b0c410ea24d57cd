"""Threads that make way: worked out on clocks that the test turns by hand, so that no machine's pace counts."""

from __future__ import annotations

import importlib
import sys
import tempfile
import threading
import unittest
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

from shapely import box

from cozy_burrow.app.desk.courtesy import Courtesy, ImportsMakeWay, be_courteous
from cozy_burrow.core.arrange.by_itself import best_spot, nearest_spot
from cozy_burrow.core.arrange.contacts import Body
from cozy_burrow.core.arrange.neaten import may_lie
from cozy_burrow.core.arrange.pieces import Bed, Form, Piece
from cozy_burrow.core.model.memo import forget_all, memo
from cozy_burrow.core.progress import BREATHERS, heeding


class Clocks:
    """A clock, and what the window's thread has worked: `share` of the time, until `till_s`."""

    def __init__(self, share: float, till_s: float = 1e9) -> None:
        self.now_s, self.share, self.till_s, self.rested = 0.0, share, till_s, 0

    def work_s(self) -> float:
        return self.share * min(self.now_s, self.till_s)

    def rest(self, seconds: float) -> None:
        self.rested += 1
        self.now_s += seconds

    def courtesy(self) -> Courtesy:
        return Courtesy(self.work_s, clock_s=lambda: self.now_s, rest=self.rest)


def elsewhere(work: Callable[[], object]) -> None:
    """Do something on another thread, and wait."""
    thread = threading.Thread(target=work)
    thread.start()
    thread.join()


@contextmanager
def beside_others(clocks: Clocks, count: int) -> Iterator[Callable[[], object]]:
    """Give work that asks twice on one more thread, while so many others have asked once and go on."""
    courtesy = clocks.courtesy()
    asked, over = threading.Barrier(count + 1), threading.Event()

    def other() -> None:
        courtesy()  # the first time nobody rests: there is nothing to compare with
        asked.wait()
        over.wait()

    def work() -> None:
        courtesy()
        clocks.now_s += 0.005
        courtesy()

    others = [threading.Thread(target=other) for _ in range(count)]
    for one in others:
        one.start()
    asked.wait()
    try:
        yield work
    finally:
        over.set()
        for one in others:
            one.join()


class MakingWay(unittest.TestCase):
    def asked(self, clocks: Clocks, *, times: int = 10, apart_s: float = 0.005) -> int:
        courtesy = clocks.courtesy()

        def work() -> None:
            for _ in range(times):
                courtesy()
                clocks.now_s += apart_s

        elsewhere(work)
        return clocks.rested

    def test_nobody_rests_for_a_window_that_waits(self) -> None:
        self.assertEqual(self.asked(Clocks(0.0)), 0)
        self.assertEqual(self.asked(Clocks(0.1)), 0)

    def test_a_window_at_work_has_the_processor_nearly_to_itself_and_others_go_on(self) -> None:
        clocks = Clocks(1.0)
        self.asked(clocks)
        rested = clocks.rested * 0.002
        self.assertGreater(rested, 4 * (clocks.now_s - rested))
        self.assertLess(rested, 10 * 0.034)  # at a time no more than thirty milliseconds and a bit

    def test_among_many_a_window_that_gets_its_turn_only_is_at_work_too(self) -> None:
        """One of five that all want the processor has a fifth of it: who looks for a third sees a window at rest."""
        clocks = Clocks(0.2)
        with beside_others(clocks, 3) as work:
            elsewhere(work)
        self.assertGreater(clocks.rested, 0)

    def test_three_threads_together_leave_the_window_as_much_as_one_would(self) -> None:
        clocks = Clocks(1.0)
        with beside_others(clocks, 2) as work:
            elsewhere(work)
            self.assertAlmostEqual(clocks.rested * 0.002, 3 * 0.03, delta=0.003)
            clocks.now_s += 10.0  # by then the two are forgotten, though they never said that they are done
            before = clocks.rested
            elsewhere(work)
            self.assertAlmostEqual((clocks.rested - before) * 0.002, 0.03, delta=0.003)

    def test_rest_ends_with_the_window_s_work(self) -> None:
        self.assertLessEqual(self.asked(Clocks(1.0, till_s=0.012)), 8)

    def test_what_is_asked_often_looks_seldom(self) -> None:
        self.assertEqual(self.asked(Clocks(1.0), times=20, apart_s=0.00005), 0)

    def test_the_window_never_makes_way_for_itself(self) -> None:
        clocks = Clocks(1.0)
        courtesy = clocks.courtesy()
        for _ in range(10):
            courtesy()
            clocks.now_s += 0.005
        self.assertEqual(clocks.rested, 0)

    def test_answers_that_are_worked_out_ask_first_and_known_ones_do_not(self) -> None:
        asked = []
        kept, BREATHERS[:] = list(BREATHERS), [lambda: asked.append(1)]
        self.addCleanup(BREATHERS.__setitem__, slice(None), kept)

        @memo(rows=4)
        def twice(value: int) -> int:
            return 2 * value

        self.assertEqual([twice(2), twice(2), twice(3)], [4, 4, 6])
        self.assertEqual(len(asked), 2)
        forget_all()

    def test_a_library_that_is_read_makes_way_between_its_modules_and_is_read_whole(self) -> None:
        kept, before = list(BREATHERS), list(sys.meta_path)
        self.addCleanup(BREATHERS.__setitem__, slice(None), kept)
        self.addCleanup(sys.meta_path.__setitem__, slice(None), before)
        be_courteous()
        be_courteous()
        self.assertEqual([type(one) for one in sys.meta_path].count(ImportsMakeWay), 1)
        asked: list[int] = []
        BREATHERS[:] = [lambda: asked.append(1)]
        with tempfile.TemporaryDirectory() as name:
            for module in ("tmp_first", "tmp_second", "tmp_third"):
                Path(name, f"{module}.py").write_text("import tmp_third\n" if module != "tmp_third" else "")
                self.addCleanup(sys.modules.pop, module, None)
            sys.path.insert(0, name)
            self.addCleanup(sys.path.remove, name)

            def work() -> None:
                with heeding(lambda: True):  # nobody wants it any more; half a library would be there for ever
                    importlib.import_module("tmp_first")
                    importlib.import_module("tmp_second")

            elsewhere(work)
        self.assertIn("tmp_second", sys.modules)
        self.assertEqual(len(asked), 3)

    def test_loops_that_ask_for_no_answer_make_way_themselves(self) -> None:
        asked = []
        kept, BREATHERS[:] = list(BREATHERS), [lambda: asked.append(1)]
        self.addCleanup(BREATHERS.__setitem__, slice(None), kept)
        piece = Piece(("file", 1), [Form(box(0, 0, 40, 10), 8.0)])
        bed = Bed(box(0, 0, 100, 60), [(box(0, 0, 100, 20), 8.0)])
        for name, work in {
            "close by": lambda: nearest_spot(piece, bed, x_mm=20, y_mm=20, angle_deg=0.0),
            "anywhere": lambda: best_spot(piece, bed),
            "moved a little": lambda: may_lie(Body(piece.forms[0], 10, 40, 0.0), (), bed),
        }.items():
            with self.subTest(name):
                asked.clear()
                self.assertTrue(work())
                self.assertTrue(asked)


if __name__ == "__main__":
    unittest.main()
