"""Mutations: small faults put into the core one at a time, each tried with the tests that run its line.

    python tools/mutations.py [--count 200] [--seed 1] [ROOM ...]

A fault that no test notices survives: it is printed as a difference, to be answered by a test or by saying why nobody
could notice it. Faults are cosmic-ray's (another operator, another number, a branch the other way round, a loop that
does not run, ...), drawn by seed out of all there are in the rooms asked for. Needs `benchmarks/requirements.txt`.
"""

from __future__ import annotations

import argparse
import ast
import difflib
import importlib
import multiprocessing
import os
import random
import resource
import shutil
import sys
import tempfile
import time
import unittest
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
CORE = ROOT / "src" / "cozy_burrow" / "core"
ROOMS = ("depth", "pulls", "findings", "bench")
TESTS = ("tests/core", "tests/jobs", "tests/acceptance")
NOT_THESE = ("capture", "photo", "keep", "relief", "roll_call")  # slow, and about something else
# What no test can notice or everybody would: texts are no operators, and `|` between types is never worked out.
NO_FAULTS = ("Variable", "RemoveDecorator", "ExceptionReplacer", "_BitOr", "_BitAnd", "_BitXor", "Shift", "_Is", "Is_")
MOST_TESTS_S, LEAST_S, TIMES_S = 60.0, 20, 8.0  # of a line's tests, fastest first; a fault that takes longer is noticed
Lines = dict[tuple[str, int], list[str]]


@dataclass(frozen=True)
class Fault:
    """One fault: where it is, the module with it, and what differs."""

    path: Path
    line: int
    kind: str
    source: str

    @property
    def shown(self) -> str:
        """The lines that differ."""
        true, with_it = self.path.read_text(encoding="utf-8").splitlines(), self.source.splitlines()
        told = difflib.unified_diff(true, with_it, lineterm="", n=0)
        return "\n".join(line for line in told if line[:1] in "+-" and line[:3] not in {"+++", "---"})


def main() -> int:
    """Draw faults, try them, print what survives."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("rooms", nargs="*", default=list(ROOMS))
    parser.add_argument("--count", type=int, default=200)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--jobs", type=int, default=os.cpu_count() or 2)
    wanted = parser.parse_args()
    sys.path.insert(0, str(ROOT))
    drawn, count = faults_in(wanted.rooms, wanted.count, wanted.seed)
    print(f"{count} places for faults in {', '.join(wanted.rooms)}; {len(drawn)} of them are tried", flush=True)
    lines, took = lines_of_tests(wanted.rooms, wanted.jobs)
    counts: Counter[str] = Counter()
    with ThreadPoolExecutor(wanted.jobs) as pool:
        for fault, verdict in pool.map(lambda one: (one, tried(one, lines, took)), drawn):
            counts[verdict] += 1
            if verdict in {"survived", "not run"}:
                where = fault.path.relative_to(CORE)
                print(f"\n{verdict}: {where}, line {fault.line} ({fault.kind})\n{fault.shown}", flush=True)
    noticed = counts["noticed"] + counts["endless"]
    print(f"\n{noticed} of {len(drawn)} noticed ({noticed / max(1, len(drawn)):.0%}): {dict(counts)}")
    return 0


def faults_in(rooms: list[str], count: int, seed: int) -> tuple[list[Fault], int]:
    """Return faults that change what a module does, drawn out of all places for one, and how many places there are."""
    import cosmic_ray.plugins
    from cosmic_ray.ast import ast_nodes, get_ast

    kinds = [name for name in cosmic_ray.plugins.operator_names() if not any(word in name for word in NO_FAULTS)]
    places: list[tuple[Path, str, int, int]] = []
    sources = {path: path.read_text(encoding="utf-8") for room in rooms for path in sorted((CORE / room).rglob("*.py"))}
    for path, source in sources.items():
        nodes = list(ast_nodes(get_ast(source)))
        for kind in kinds:
            operator = cosmic_ray.plugins.get_operator(kind)()
            found = [place for node in nodes for place in operator.mutation_positions(node)]
            places += [(path, kind, number, begin[0]) for number, (begin, _end) in enumerate(found)]
    drawn: list[Fault] = []
    for path, kind, number, line in random.Random(seed).sample(places, len(places)):
        if len(drawn) == count:
            break
        with_it = _with_fault(sources[path], cosmic_ray.plugins.get_operator(kind)(), number)
        if with_it is not None and _what_it_does(with_it) not in {None, _what_it_does(sources[path])}:
            drawn.append(Fault(path, line, kind.rpartition("/")[2], with_it))
    return drawn, len(places)


def _with_fault(source: str, operator: Any, number: int) -> str | None:
    from cosmic_ray.mutating import mutate_code

    changed: str | None = mutate_code(source, operator, number)
    return changed


def _what_it_does(source: str) -> str | None:
    """Return a module without its types and decorators; None where it is no Python."""
    try:
        tree = ast.parse(source)
    except SyntaxError:
        return None
    for node in ast.walk(tree):
        if isinstance(node, ast.FunctionDef):
            node.returns, node.decorator_list = None, []  # how many answers a cache keeps
            for one in (*node.args.posonlyargs, *node.args.args, *node.args.kwonlyargs):
                one.annotation = None
        elif isinstance(node, ast.AnnAssign):
            node.annotation = ast.Constant(None)
    return ast.dump(tree)


def lines_of_tests(rooms: list[str], jobs: int) -> tuple[Lines, dict[str, float]]:
    """Return which tests run each line of the rooms, and the seconds of the processor that each test takes."""
    names = [
        ".".join(path.relative_to(ROOT).with_suffix("").parts)
        for folder in TESTS
        for path in sorted((ROOT / folder).rglob("test_*.py"))
        if not any(word in str(path.relative_to(ROOT)) for word in NOT_THESE)
    ]
    lines: Lines = {}
    took: dict[str, float] = {}
    with ThreadPoolExecutor(jobs) as pool:
        for seen, seconds in pool.map(lambda name: _apart(_lines_of, name, rooms), names):
            took |= seconds
            for place, tests in seen.items():
                lines.setdefault(place, []).extend(tests)
    print(f"{len(took)} tests looked at, {len(lines)} lines are run by them", flush=True)
    return lines, took


def _apart(work: Any, *values: Any) -> Any:
    """Return what a function gives in a process of its own."""
    context = multiprocessing.get_context("spawn")
    with context.Pool(1) as pool:
        return pool.apply(work, values)


def _quietly() -> None:
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    for name in ("OMP_NUM_THREADS", "OPENBLAS_NUM_THREADS"):
        os.environ[name] = "1"
    silent = os.open(os.devnull, os.O_WRONLY)
    os.dup2(silent, 1)
    os.dup2(silent, 2)
    from hypothesis import settings

    settings.register_profile("faults", derandomize=True, deadline=None, database=None)
    settings.load_profile("faults")


class _Timed(unittest.TestResult):
    """A result that counts lines by test, and knows how long each took."""

    def __init__(self, counting: Any) -> None:
        super().__init__()
        self._counting, self.took, self.buffer = counting, dict[str, float](), True

    def startTest(self, test: unittest.TestCase) -> None:
        """Note when it begins."""
        super().startTest(test)
        self._counting.switch_context(test.id())
        self._begun = time.process_time()

    def stopTest(self, test: unittest.TestCase) -> None:
        """Note what it took."""
        super().stopTest(test)
        self.took[test.id()] = time.process_time() - self._begun


def _lines_of(name: str, rooms: list[str]) -> tuple[Lines, dict[str, float]]:
    import coverage

    _quietly()
    counting = coverage.Coverage(data_file=None, source=[f"cozy_burrow.core.{room}" for room in rooms])
    counting.start()
    result = _Timed(counting)
    unittest.defaultTestLoader.loadTestsFromName(name).run(result)
    counting.stop()
    data, seen = counting.get_data(), Lines()
    for file in data.measured_files():
        for line, tests in data.contexts_by_lineno(file).items():
            # What is run while a module is read has no test's name: all of this module's notice a fault there.
            seen[file, line] = [test for test in tests if test] or sorted(result.took)
    return seen, result.took


def tried(fault: Fault, lines: Lines, took: dict[str, float]) -> str:
    """Return whether a fault is noticed, survived, endless or not run."""
    tests = sorted(set(lines.get((str(fault.path), fault.line), ())), key=lambda name: took[name])
    chosen, total = list[str](), 0.0
    for name in tests:
        if chosen and total + took[name] > MOST_TESTS_S:
            break
        chosen.append(name)
        total += took[name]
    if not chosen:
        return "not run"
    with tempfile.TemporaryDirectory(prefix="burrow-fault-") as folder:
        tree = Path(folder) / "src"
        shutil.copytree(ROOT / "src", tree, ignore=shutil.ignore_patterns("__pycache__"))
        (tree / fault.path.relative_to(ROOT / "src")).write_text(fault.source, encoding="utf-8")
        context = multiprocessing.get_context("spawn")
        process = context.Process(target=_try, args=(str(tree), chosen, LEAST_S + int(TIMES_S * total)))
        process.start()
        process.join()
        verdict = {0: "survived", 1: "noticed", 2: "other sources"}.get(process.exitcode or 0, "endless")
        process.close()
    return verdict


def _try(tree: str, tests: list[str], seconds: int) -> None:
    """Run tests on the sources of a tree; leave with 1 at the first that fails, 2 where they read other sources."""
    resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    _quietly()
    sys.path[:0] = [tree, str(ROOT)]
    try:
        result = unittest.TestResult()
        result.failfast = result.buffer = True
        unittest.defaultTestLoader.loadTestsFromNames(tests).run(result)
        read = Path(importlib.import_module("cozy_burrow").__file__ or "")
        code = (0 if result.wasSuccessful() else 1) if read.is_relative_to(tree) else 2
    except BaseException:  # a module that can't even be read is noticed
        code = 1
    os._exit(code)


if __name__ == "__main__":
    sys.exit(main())
