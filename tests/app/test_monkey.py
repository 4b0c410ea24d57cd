"""A monkey at the real window, with fixed seeds: no error, no warning, nothing stale; everything undoes and opens.

The same tool runs for an hour by `make monkey`; what it finds becomes a sequence here or a test of its own.
"""

from __future__ import annotations

import os
import subprocess
import sys
import threading
import time
import unittest

from tools.monkey import run_apart

ACTIONS = 300


class Monkey(unittest.TestCase):
    def play(self, seed: int) -> None:
        seen = run_apart(None, seed=seed, count=ACTIONS, heavy=False)
        self.assertEqual(len(seen["actions"]), ACTIONS)
        self.assertEqual([f"{one['kind']}: {one['line']}\n{one['text']}" for one in seen["troubles"]], [])

    def test_in_a_full_drawer(self) -> None:
        self.play(1)

    def test_another_hand(self) -> None:
        self.play(7)

    def test_beginning_with_nothing(self) -> None:
        self.play(5)

    def test_a_monkey_that_finds_something_says_so(self) -> None:
        """Each of its senses is tried: an error in a slot, a warning of Qt, a stall."""
        from PySide6.QtCore import QTimer, qInstallMessageHandler, qWarning
        from tools.monkey_watch import Watch

        from tests.app.qt import application, wait_until

        application()
        kept = (sys.excepthook, sys.unraisablehook, threading.excepthook)
        handler = qInstallMessageHandler(None)
        watch = Watch(stall_s=0.2)
        watch.install()
        try:
            QTimer.singleShot(0, lambda: {}["insert-2"])
            QTimer.singleShot(0, lambda: qWarning("painter not active"))
            wait_until(lambda: len(watch.troubles) >= 2, looks=400)
            with watch.acting("7 wait"):
                wait_until(lambda: False, looks=80)
        finally:
            sys.excepthook, sys.unraisablehook, threading.excepthook = kept
            qInstallMessageHandler(handler)
            watch.stop()
        self.assertEqual(sorted(one.kind for one in watch.troubles), ["error", "warning"])
        self.assertEqual([one.action for one in watch.stalls], ["7 wait"])

    def test_a_machine_that_stood_still_is_told_from_a_window_that_did_even_if_the_witness_wakes_last(self) -> None:
        from tools.monkey_watch import Watch, Witness

        watch = Watch(stall_s=0.3)
        watch._witness = witness = Witness()
        self.addCleanup(witness.stop)
        witness.wake(time.monotonic())  # it is there
        freeze = (
            "import os, signal, sys, time\n"
            "window, witness = map(int, sys.argv[1:])\n"
            "for one in (witness, window): os.kill(one, signal.SIGSTOP)\n"
            "time.sleep(0.8)\n"
            "os.kill(window, signal.SIGCONT)\n"
            "time.sleep(0.2)\n"
            "os.kill(witness, signal.SIGCONT)\n"
        )
        command = [sys.executable, "-I", "-S", "-c", freeze, str(os.getpid()), str(witness._child.pid)]
        watch.beat()
        child = subprocess.Popen(command)
        self.addCleanup(child.wait)
        while all(one.seconds < 0.7 for one in watch.stalls):  # a busy machine may keep us waiting before that, too
            time.sleep(0.001)
            watch.beat()
        self.assertGreater(watch.stalls[-1].kept_s, 0.6)


if __name__ == "__main__":
    unittest.main()
