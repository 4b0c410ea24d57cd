"""Threads of the pool: they stay known to Python between two pieces of work, and send no signal of a window's."""

from __future__ import annotations

import subprocess
import sys
import threading
from collections.abc import Callable

from PySide6.QtCore import QCoreApplication, QEvent, QObject, Qt, QThreadPool

from cozy_burrow.app.desk.tasks import Task, TaskToken
from cozy_burrow.core.errors import UnusableInput
from tests.app.qt import QtCase, wait_until

_TRANSFORMS = """
import gc, os
os.environ["QT_QPA_PLATFORM"] = "offscreen"
from PySide6.QtCore import QCoreApplication, QThreadPool
from cozy_burrow.app.desk.tasks import Task
app = QCoreApplication([])
pool = QThreadPool.globalInstance()
pool.setMaxThreadCount(1)

def transform(token):
    import numpy as np
    import scipy.fft  # for the first time: its binding keeps what Python calls this thread
    return float(scipy.fft.rfft2(np.ones((64, 64))).real.sum())

def settle(token):
    import numpy as np
    from cozy_burrow.core.depth.settling import settle
    chance = np.random.default_rng(1)
    xy = chance.uniform(-30, 30, (200, 2))
    return settle(xy, 10 + 0.2 * xy[:, 0] + chance.uniform(0, 2, 200), (20.0, 5.0)).datum_mm

done = []
for work in (transform, settle, settle, transform, settle, transform):
    task = Task(work)
    task.done.connect(done.append)
    task.begin()
    pool.waitForDone()
    gc.collect()
    app.processEvents()
print(len(done))
"""


class PoolThreads(QtCase):
    def test_what_a_thread_knows_it_knows_the_next_time(self) -> None:
        pool, known, seen = QThreadPool.globalInstance(), threading.local(), []
        most = pool.maxThreadCount()
        pool.setMaxThreadCount(1)
        self.addCleanup(pool.setMaxThreadCount, most)

        def work(token: object) -> None:
            known.times = getattr(known, "times", 0) + 1
            seen.append((threading.get_native_id(), known.times))

        for count in range(1, 6):
            task = Task(work)
            task.begin()
            self.assertTrue(wait_until(lambda count=count: len(seen) == count))  # type: ignore[misc]
        for thread in {one for one, _ in seen}:
            times = [count for one, count in seen if one == thread]
            self.assertEqual(times, list(range(1, len(times) + 1)))
        self.assertLess(len({one for one, _ in seen}), 5)

    def test_no_signal_is_sent_by_a_thread_from_what_a_window_that_closes_takes_along(self) -> None:
        told: list[tuple[str, int]] = []

        def note(what: str) -> Callable[..., None]:
            return lambda *_: told.append((what, threading.get_ident()))

        def fail(token: TaskToken) -> None:
            token.step(1.0)
            raise UnusableInput("no")

        owner = QObject()
        for count, work in ((3, lambda token: token.step(1.0)), (6, fail)):
            task = Task(work, owner)
            for name in ("progressed", "done", "failed", "finished"):
                # A slot that is called directly runs on the thread that sends.
                getattr(task, name).connect(note(name), Qt.ConnectionType.DirectConnection)
            task.begin()
            self.assertTrue(wait_until(lambda count=count: len(told) == count))
        here = threading.get_ident()
        names = ("progressed", "done", "finished", "progressed", "failed", "finished")
        self.assertEqual(told, [(name, here) for name in names])

    def test_what_comes_for_one_that_is_gone_is_dropped(self) -> None:
        owner, heard, goes_on = QObject(), list[object](), threading.Event()
        task = Task(lambda _: goes_on.wait(3_600), owner)
        task.done.connect(heard.append)
        task.finished.connect(lambda: heard.append("finished"))
        task.begin()
        owner.deleteLater()
        QCoreApplication.sendPostedEvents(owner, QEvent.Type.DeferredDelete)
        goes_on.set()
        QThreadPool.globalInstance().waitForDone()
        self.app.processEvents()
        self.assertEqual(heard, [])

    def test_libraries_that_were_first_asked_in_a_thread_of_the_pool_can_be_asked_again(self) -> None:
        done = subprocess.run([sys.executable, "-c", _TRANSFORMS], capture_output=True, text=True, check=False)
        self.assertEqual((done.returncode, done.stdout.strip()), (0, "6"), done.stderr[-2000:])
