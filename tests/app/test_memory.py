"""What the program does not need is not loaded, and what it no longer needs is given back."""

from __future__ import annotations

import ctypes
import subprocess
import sys
import threading
import unittest
from types import SimpleNamespace
from unittest.mock import patch

import numpy as np

from cozy_burrow.app.desk import memory

SCRIPT = """
import sys
from cozy_burrow.app.desk.memory import keep_heap_small
keep_heap_small()
import scipy.ndimage, scipy.optimize, scipy.fft
loaded = [name for name in ("numpy.f2py", "numpy.testing", "charset_normalizer") if name in sys.modules]
import numpy.testing
numpy.testing.assert_allclose(1.0, 1.0)
print(loaded)
"""


class Loaded(unittest.TestCase):
    def test_no_compiler_and_no_test_framework_comes_with_the_arrays(self) -> None:
        done = subprocess.run([sys.executable, "-c", SCRIPT], capture_output=True, text=True, check=True)
        self.assertEqual(done.stdout.strip(), "[]", done.stderr)


class GivingBack(unittest.TestCase):
    def library(self, free_bytes: int) -> SimpleNamespace:
        def trim(_: int) -> None:
            self.trims += 1
            self.is_trimming.set()
            self.may_end.wait(60)

        self.trims, self.is_trimming, self.may_end = 0, threading.Event(), threading.Event()
        figures = SimpleNamespace(free=free_bytes)
        return SimpleNamespace(mallinfo2=lambda: figures, malloc_trim=trim)

    def test_one_at_a_time_and_who_comes_second_does_not_wait(self) -> None:
        with patch.object(memory, "_library", return_value=self.library(100_000_000)):
            first = threading.Thread(target=memory.give_back)
            first.start()
            self.is_trimming.wait(60)
            second = threading.Thread(target=memory.give_back)
            second.start()
            second.join(60)
            self.assertFalse(second.is_alive())
            self.assertEqual(self.trims, 1)
            self.may_end.set()
            first.join()
            memory.give_back()
        self.assertEqual(self.trims, 2)

    def test_little_is_kept_for_the_next_work(self) -> None:
        with patch.object(memory, "_library", return_value=self.library(1_000_000)):
            memory.give_back()
        self.assertEqual(self.trims, 0)

    def test_what_lies_free_is_known(self) -> None:
        library = ctypes.CDLL(None)
        if not hasattr(library, "mallinfo2"):
            self.assertRaises(AttributeError, memory.free_bytes, library)
            return
        blocks = [np.ones(8_000) for _ in range(400)]  # smaller than what has pages of its own
        used = memory.free_bytes(library)
        kept = blocks[::2]
        blocks = []
        self.assertGreater(memory.free_bytes(library) - used, 0.8 * 200 * 64_000)
        self.assertEqual(len(kept), 200)
