"""Run the tests: folders of tests side by side in a few processes, one closing line with the counts.

TEST_SLOWEST=1 also tells how long each test kept the processor.
"""

from __future__ import annotations

import argparse
import os
import subprocess
import sys
import tempfile
import time
import unittest
from concurrent.futures import ThreadPoolExecutor, as_completed
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
TESTS = ROOT / "tests"
SLOW = (
    "real_window",
    "monkey",
    "acceptance",
    "test_kits",
    "test_window",
    "arrang",
    "retouch",
    "jobs",
    "photo",
    "app",
    "storage",
    "keep",
)
TOGETHER = 5


def modules(only: list[str]) -> list[str]:
    """Return the names of all test modules, those that take longest first."""
    found = [
        ".".join(path.relative_to(ROOT).with_suffix("").parts)
        for path in sorted(TESTS.rglob("test_*.py"))
        if not only or any(word in str(path) for word in only)
    ]
    return sorted(found, key=lambda name: next((n for n, word in enumerate(SLOW) if word in name), len(SLOW)))


def groups(names: list[str]) -> list[str]:
    """Return modules to run in one process, joined by commas: slow ones and windows alone, quick ones a few together.

    A process costs a second of imports, which is more than many a quick module takes.
    """
    alone = [name for name in names if any(word in name for word in (*SLOW, "capture"))]
    quick = [name for name in names if name not in alone]
    return alone + [",".join(quick[start : start + TOGETHER]) for start in range(0, len(quick), TOGETHER)]


def at_work_s() -> float:
    """Return the processor's time of this process and of those it started and saw end, in seconds."""
    return sum(os.times()[:4])


class Timed(unittest.TextTestResult):
    """A result that also knows how long each test kept the processor."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.at_work_s: list[tuple[float, str]] = []

    def startTest(self, test: unittest.TestCase) -> None:
        """Note when it begins."""
        self._began = at_work_s()
        super().startTest(test)

    def stopTest(self, test: unittest.TestCase) -> None:
        """Note what it took."""
        super().stopTest(test)
        self.at_work_s.append((at_work_s() - self._began, test.id()))


def run_one(name: str) -> int:
    """Run some modules in this process; print their counts on the last line."""
    from hypothesis import settings

    # What is tried is the same everywhere and every time: a suite must not turn red by chance. TEST_CHANCE=1 tries
    # other examples each time.
    settings.register_profile("suite", derandomize=not os.environ.get("TEST_CHANCE"), deadline=None)
    settings.load_profile("suite")
    suite = unittest.defaultTestLoader.loadTestsFromNames(name.split(","))
    slowest = os.environ.get("TEST_SLOWEST")
    runner = unittest.TextTestRunner(verbosity=1, buffer=True, resultclass=Timed if slowest else None)
    result = runner.run(suite)
    bad = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    if isinstance(result, Timed):
        for seconds, test in sorted(result.at_work_s, reverse=True):
            print(f"slow {seconds:.2f} {test}")
    print(
        f"counts {result.testsRun - bad - len(result.skipped)} {bad} {len(result.skipped)} {at_work_s():.2f}",
        flush=True,
    )
    return 1 if bad or not result.testsRun else 0


def run_apart(name: str, shared: str) -> tuple[str, int, str, float]:
    """Run one module in a process of its own, settings and state in a folder of its own.

    shared: folder for what each of some hundreds of processes would make anew: byte code, simulated photos.
    """
    begin = time.monotonic()
    with tempfile.TemporaryDirectory(prefix="burrow-test-") as home:
        env = os.environ | {
            "QT_QPA_PLATFORM": "offscreen",
            "XDG_CONFIG_HOME": f"{home}/config",
            "XDG_STATE_HOME": f"{home}/state",
            "XDG_CACHE_HOME": f"{home}/cache",
            "PYTHONPATH": str(ROOT),
            "PYTHONWARNINGS": "default",
            "PYTHONPYCACHEPREFIX": shared,
            "TEST_SHARED": shared,
            # Modules run side by side already; more threads each only wait for one another, and burn the cores so.
            "OMP_NUM_THREADS": "1",
            "OPENBLAS_NUM_THREADS": "1",
            "OPENCV_FOR_THREADS_NUM": "1",
        }
        for unwanted in ("DISPLAY", "PYTHONDONTWRITEBYTECODE"):
            env.pop(unwanted, None)
        done = subprocess.run(
            [sys.executable, *_counting_lines(), __file__, "--one", name],
            cwd=ROOT,
            env=env,
            capture_output=True,
            text=True,
            check=False,
        )
    return name, done.returncode, done.stdout + done.stderr, time.monotonic() - begin


def _counting_lines() -> list[str]:
    """Return what makes Python count the core's lines into a file of each process, where `tools/cover.py` asks."""
    data = os.environ.get("TEST_COVERAGE")
    if not data:
        return []
    return ["-m", "coverage", "run", "--parallel-mode", f"--data-file={data}", "--source=cozy_burrow.core"]


def main() -> int:
    """Run what is asked for."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("words", nargs="*", help="run only modules whose path holds one of these")
    parser.add_argument("--one", help=argparse.SUPPRESS)
    # One more than there are cores: many a test waits for a timer, a process or a display.
    usual = int(os.environ.get("TEST_JOBS") or 1 + max(2, os.cpu_count() or 2))
    parser.add_argument("--jobs", type=int, default=usual, help=f"side by side ({usual}; or TEST_JOBS)")
    wanted = parser.parse_args()
    if wanted.one:
        return run_one(wanted.one)
    passed = failed = skipped = 0
    worked_s = 0.0
    with (
        tempfile.TemporaryDirectory(prefix="burrow-shared-") as shared,
        ThreadPoolExecutor(max_workers=wanted.jobs) as pool,
    ):
        begun = [pool.submit(run_apart, name, shared) for name in groups(modules(wanted.words))]
        for one in as_completed(begun):  # told as they end: the longest, which is begun first, hides nothing
            name, status, output, seconds = one.result()
            counts = [line.split() for line in output.splitlines() if line.startswith("counts ")]
            good, bad, left = (int(figure) for figure in counts[-1][1:4]) if counts else (0, 1, 0)
            at_work = float(counts[-1][4]) if counts else 0.0
            bad = max(bad, 1 if status else 0)
            passed, failed, skipped, worked_s = passed + good, failed + bad, skipped + left, worked_s + at_work
            shown = name.replace(",", "\n     ")
            took = f"{seconds:.1f} s, {at_work:.1f} at work"
            print(f"{'ok  ' if not bad else 'FAIL'} {shown} ({good} tests, {took})", flush=True)
            for line in output.splitlines():
                if line.startswith("slow "):
                    print(f"       {line}", flush=True)
            if bad:
                print(output, flush=True)
    print(f"{worked_s / 60.0:.1f} minutes at work")
    print(f"{passed} passed, {failed} failed" + (f", {skipped} skipped" if skipped else ""))
    return 1 if failed or not passed else 0


if __name__ == "__main__":
    sys.exit(main())
