"""Garbage is collected on the interface's thread: a search must not take timers away under the event loop."""

from __future__ import annotations

import gc
import sys
import threading
import unittest

from PySide6.QtCore import QThreadPool, QTimer

from cozy_burrow.app.desk.collecting import Collector, collect_here
from cozy_burrow.app.desk.tasks import Task, take_short_turns
from cozy_burrow.core.progress import Token
from tests.app.qt import QtCase, wait_until


class Ring:
    """Garbage that only a collection finds; tells on which thread it was found."""

    found_on: list[int] = []

    def __init__(self) -> None:
        self.myself = self

    def __del__(self) -> None:
        self.found_on.append(threading.get_ident())


class Collecting(QtCase):
    def test_a_busy_thread_collects_nothing_and_the_window_does(self) -> None:
        self.assertFalse(gc.isenabled())
        Ring.found_on.clear()

        def work() -> None:
            kept = []
            for _ in range(20_000):  # far more than would set a collection off
                Ring()
                kept.append([])

        thread = threading.Thread(target=work)
        thread.start()
        thread.join()
        self.assertNotIn(thread.ident, Ring.found_on)
        self.assertTrue(wait_until(lambda: len(Ring.found_on) > 10_000))
        self.assertEqual(set(Ring.found_on), {threading.get_ident()})

    def test_everything_is_collected_now_and_then(self) -> None:
        collector = self.app.findChild(Collector)
        assert collector is not None
        gc.collect()
        Ring.found_on.clear()
        Ring()
        gc.collect(1)  # old by now: only a whole collection finds it
        for _ in range(200):
            rubbish = [[] for _ in range(1_000)]
            collector.collect()
        self.assertEqual(len(rubbish), 1_000)
        self.assertEqual(len(Ring.found_on), 1)

    def test_one_collector_an_application(self) -> None:
        collect_here(self.app)
        collect_here(self.app)
        self.assertEqual(len(self.app.findChildren(Collector)), 1)
        self.assertTrue(self.app.findChild(Collector).findChild(QTimer).isActive())

    def test_a_search_does_not_keep_the_window_waiting_for_its_turn(self) -> None:
        self.addCleanup(sys.setswitchinterval, sys.getswitchinterval())
        take_short_turns()
        self.assertLessEqual(sys.getswitchinterval(), 0.0005)  # at each of hundreds of calls into geometry

    def test_a_search_rests_while_something_is_worked_out_that_somebody_waits_for(self) -> None:
        steps, seen = [0], []
        over = threading.Event()
        self.addCleanup(over.set)

        def search(token: Token) -> None:
            while not over.is_set():
                token.step(0.5)
                steps[0] += 1

        def short(_: Token) -> None:
            seen.append(steps[0])
            over.wait(0.3)
            seen.append(steps[0])

        patient, hurried = Task(search, self.app, patient=True), Task(short, self.app)
        patient.begin()
        self.assertTrue(wait_until(lambda: steps[0] > 0))
        hurried.begin()
        self.assertTrue(wait_until(lambda: len(seen) == 2))
        self.assertLessEqual(seen[1] - seen[0], 1)  # the step that it was in
        went_on = steps[0]
        self.assertTrue(wait_until(lambda: steps[0] > went_on + 10))
        over.set()
        self.assertTrue(QThreadPool.globalInstance().waitForDone(3_600_000))

    def test_one_thing_at_a_time_is_worked_out_while_pictures_and_disks_are_waited_for(self) -> None:
        self.addCleanup(sys.setswitchinterval, sys.getswitchinterval())
        take_short_turns()
        at_work, together, ended = [], [], []
        over = threading.Event()
        self.addCleanup(over.set)

        def work(_: Token) -> None:
            at_work.append(1)
            together.append(len(at_work))
            over.wait(0.02)
            at_work.pop()

        far = Task(lambda _: over.wait(3_600), self.app, elsewhere=True)
        tasks = [Task(work, self.app) for _ in range(6)]
        for task in tasks:
            task.done.connect(lambda _: ended.append("done"))
        far.begin()
        for task in tasks:
            task.begin()
        self.assertTrue(wait_until(lambda: len(ended) == 6))
        self.assertEqual(together, [1] * 6)
        over.set()
        self.assertTrue(QThreadPool.globalInstance().waitForDone(3_600_000))

    def test_what_was_stopped_before_its_turn_is_never_begun(self) -> None:
        self.addCleanup(sys.setswitchinterval, sys.getswitchinterval())
        take_short_turns()
        begun, ended = [], []
        over = threading.Event()
        self.addCleanup(over.set)
        long, late = Task(lambda _: over.wait(3_600), self.app), Task(lambda _: begun.append(1), self.app)
        late.finished.connect(lambda: ended.append(1))
        long.begin()
        late.begin()
        late.stop()
        self.assertTrue(wait_until(lambda: bool(ended)))
        over.set()
        self.assertTrue(QThreadPool.globalInstance().waitForDone(3_600_000))
        self.assertEqual(begun, [])


if __name__ == "__main__":
    unittest.main()
