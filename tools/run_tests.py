"""Run the tests: folders of tests side by side in a few processes, one closing line with the counts."""

from __future__ import annotations

import argparse
import os
import subprocess
import sys
import tempfile
import time
import unittest
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
TESTS = ROOT / "tests"


def modules(only: list[str]) -> list[str]:
    """Return the names of all test modules, those that take longest first."""
    found = [
        ".".join(path.relative_to(ROOT).with_suffix("").parts)
        for path in sorted(TESTS.rglob("test_*.py"))
        if not only or any(word in str(path) for word in only)
    ]
    slow = ("acceptance", "storage", "app", "arrange")
    return sorted(found, key=lambda name: next((n for n, word in enumerate(slow) if word in name), len(slow)))


def run_one(name: str) -> int:
    """Run one module in this process; print its counts on the last line."""
    result = unittest.TextTestRunner(verbosity=1, buffer=True).run(unittest.defaultTestLoader.loadTestsFromName(name))
    bad = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    print(f"counts {result.testsRun - bad - len(result.skipped)} {bad} {len(result.skipped)}", flush=True)
    return 1 if bad or not result.testsRun else 0


def run_apart(name: str) -> tuple[str, int, str, float]:
    """Run one module in a process of its own, settings and state in a folder of its own."""
    begin = time.monotonic()
    with tempfile.TemporaryDirectory(prefix="burrow-test-") as home:
        env = os.environ | {
            "QT_QPA_PLATFORM": "offscreen",
            "XDG_CONFIG_HOME": f"{home}/config",
            "XDG_STATE_HOME": f"{home}/state",
            "PYTHONPATH": str(ROOT),
            "PYTHONWARNINGS": "default",
        }
        env.pop("DISPLAY", None)
        done = subprocess.run(
            [sys.executable, __file__, "--one", name], cwd=ROOT, env=env, capture_output=True, text=True, check=False
        )
    return name, done.returncode, done.stdout + done.stderr, time.monotonic() - begin


def main() -> int:
    """Run what is asked for."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("words", nargs="*", help="run only modules whose path holds one of these")
    parser.add_argument("--one", help=argparse.SUPPRESS)
    wanted = parser.parse_args()
    if wanted.one:
        return run_one(wanted.one)
    passed = failed = skipped = 0
    with ThreadPoolExecutor(max_workers=max(2, os.cpu_count() or 2)) as pool:
        for name, status, output, seconds in pool.map(run_apart, modules(wanted.words)):
            counts = [line.split() for line in output.splitlines() if line.startswith("counts ")]
            good, bad, left = (int(figure) for figure in counts[-1][1:]) if counts else (0, 1, 0)
            bad = max(bad, 1 if status else 0)
            passed, failed, skipped = passed + good, failed + bad, skipped + left
            print(f"{'ok  ' if not bad else 'FAIL'} {name} ({good} tests, {seconds:.1f} s)", flush=True)
            if bad:
                print(output, flush=True)
    print(f"{passed} passed, {failed} failed" + (f", {skipped} skipped" if skipped else ""))
    return 1 if failed or not passed else 0


if __name__ == "__main__":
    sys.exit(main())
