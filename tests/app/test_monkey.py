"""A monkey at the real window, with fixed seeds: no error, no warning, nothing stale; everything undoes and opens.

The same tool runs for an hour by `make monkey`; what it finds becomes a sequence here or a test of its own.
"""

from __future__ import annotations

import sys
import threading
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
            wait_until(lambda: len(watch.troubles) >= 2, timeout_ms=2_000)
            with watch.acting("7 wait"):
                wait_until(lambda: False, timeout_ms=400)
        finally:
            sys.excepthook, sys.unraisablehook, threading.excepthook = kept
            qInstallMessageHandler(handler)
            watch.stop()
        self.assertEqual(sorted(one.kind for one in watch.troubles), ["error", "warning"])
        self.assertEqual([one.action for one in watch.stalls], ["7 wait"])


if __name__ == "__main__":
    unittest.main()
