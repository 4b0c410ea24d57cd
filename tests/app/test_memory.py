"""What the program does not need is not loaded."""

from __future__ import annotations

import subprocess
import sys
import unittest

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
