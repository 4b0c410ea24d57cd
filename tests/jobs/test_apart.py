"""Work in a process of its own: what comes back, what is refused, what is given up at once."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
import tracemalloc
import unittest
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import numpy as np

from cozy_burrow.core.errors import Cancelled, UnusableInput
from cozy_burrow.core.progress import Quiet, Token
from cozy_burrow.jobs.apart import BrokenWork, run_apart


def doubled(values: np.ndarray, *, token: Token) -> tuple[np.ndarray, int]:
    for step in range(5):
        token.step(step / 4)
        print("what is printed must not spoil the answer")
    return 2 * values, os.getpid()


def refused(name: str, *, token: Token) -> None:
    raise UnusableInput("no mat is seen", where=name, remedy="take the photo again")


def broken(*, token: Token) -> None:
    raise KeyError("insert-2")


def dead(*, token: Token) -> None:
    os._exit(3)


def endless(mark: str, *, token: Token) -> None:
    while True:
        with Path(mark).open("a") as stream:
            stream.write(".")
        time.sleep(0.01)


def waiting(mark: str, *, token: Token) -> None:
    """Tell who is at work, and go on until it is enough for a test of who ends it."""
    named = Path(mark).with_suffix(".new")
    named.write_text(str(os.getpid()))
    named.replace(mark)
    time.sleep(3_600)
    Path(mark).with_suffix(".done").touch()


def among(folder: str, *, token: Token) -> int:
    """Return how many are at work here at the same time."""
    mine = Path(folder) / str(os.getpid())
    mine.touch()
    time.sleep(0.1)
    count = len(list(Path(folder).iterdir()))
    mine.unlink()
    return count


def ones(count: int, *, token: Token) -> np.ndarray:
    """A large answer."""
    return np.ones(count, np.float32)


class Heard:
    """Stops after some looks."""

    def __init__(self, looks: int) -> None:
        self.looks, self.fractions = looks, [0.0]

    def step(self, fraction: float) -> None:
        self.fractions.append(fraction)
        self.looks -= 1
        if self.looks < 0:
            raise Cancelled


class Apart(unittest.TestCase):
    def test_there_are_no_more_children_than_processors_but_one(self) -> None:
        most = max(1, (os.cpu_count() or 2) - 1)
        with tempfile.TemporaryDirectory() as folder, ThreadPoolExecutor(most + 2) as pool:
            asked = [pool.submit(run_apart, among, folder, token=Quiet()) for _ in range(most + 2)]
            self.assertLessEqual(max(one.result() for one in asked), most)

    def test_who_waits_for_room_may_be_stopped(self) -> None:
        most = max(1, (os.cpu_count() or 2) - 1)
        with tempfile.TemporaryDirectory() as folder, ThreadPoolExecutor(most) as pool:
            at_work = [Heard(10_000) for _ in range(most)]
            busy = [pool.submit(run_apart, endless, str(Path(folder) / "mark"), token=one) for one in at_work]
            while not (Path(folder) / "mark").exists():
                time.sleep(0.01)
            with self.assertRaises(Cancelled):
                run_apart(doubled, np.zeros(3), token=Heard(3))
            for one in at_work:
                one.looks = 0
            for one in busy:
                self.assertRaises(Cancelled, one.result)

    def test_large_answers_come_whole_from_another_process_with_their_steps(self) -> None:
        heard = Heard(10_000)
        values = np.arange(3_000_000, dtype=np.float32)
        found, process = run_apart(doubled, values, token=heard)
        np.testing.assert_array_equal(found, 2 * values)
        self.assertNotEqual(process, os.getpid())
        self.assertEqual(sorted(heard.fractions), heard.fractions)

    def test_a_large_answer_is_never_held_twice(self) -> None:
        tracemalloc.start()
        self.addCleanup(tracemalloc.stop)
        found = run_apart(ones, 10_000_000, token=Quiet())
        _, most = tracemalloc.get_traced_memory()
        self.assertEqual((found.nbytes, float(found.sum())), (40_000_000, 10_000_000.0))
        self.assertTrue(found.flags.writeable)
        self.assertLess(most, 1.2 * found.nbytes)

    def test_a_refusal_keeps_its_parts(self) -> None:
        with self.assertRaises(UnusableInput) as caught:
            run_apart(refused, "a.jpg", token=Quiet())
        error = caught.exception
        self.assertEqual((error.what, error.where, error.remedy), ("no mat is seen", "a.jpg", "take the photo again"))

    def test_a_bug_and_a_death_are_told_as_such(self) -> None:
        with self.assertRaises(BrokenWork) as caught:
            run_apart(broken, token=Quiet())
        self.assertIn("KeyError: 'insert-2'", str(caught.exception))
        with self.assertRaises(BrokenWork):
            run_apart(dead, token=Quiet())

    def test_what_is_given_up_ends(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            mark = Path(name) / "mark"
            mark.touch()

            class Seen(Quiet):
                def step(self, fraction: float) -> None:
                    if mark.stat().st_size > 3:
                        raise Cancelled

            with self.assertRaises(Cancelled):
                run_apart(endless, str(mark), token=Seen())
            before = mark.stat().st_size
            time.sleep(0.1)
            self.assertEqual(mark.stat().st_size, before)


if __name__ == "__main__":
    unittest.main()

    def test_who_works_for_a_process_that_was_killed_ends_too(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            mark = Path(name) / "worker"
            code = (
                "from cozy_burrow.core.progress import Quiet\n"
                "from cozy_burrow.jobs.apart import run_apart\n"
                "from tests.jobs.test_apart import waiting\n"
                f"run_apart(waiting, {str(mark)!r}, token=Quiet())\n"
            )
            parent = subprocess.Popen([sys.executable, "-c", code])
            try:
                while not mark.exists():
                    self.assertIsNone(parent.poll())
                    time.sleep(0.01)
                worker = int(mark.read_text())
            finally:
                parent.kill()
                parent.wait()
            while _is_at_work(worker):
                time.sleep(0.01)
            self.assertFalse(mark.with_suffix(".done").exists(), "it went on until its own work was done")


def _is_at_work(process: int) -> bool:
    try:
        told = Path(f"/proc/{process}/stat").read_text()
    except OSError:
        return False
    return told.rsplit(")", 1)[1].split()[0] != "Z"  # ended, and nobody has asked how
