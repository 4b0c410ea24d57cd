"""Coverage of the core: run the suite with every line counted, and name the modules of which less than 90 % was run.

Takes about twice as long as the suite. What a process of its own does (drawings, photos read beside the window) is not
counted there; the core's own tests read the same in this one.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
CORE = "src/cozy_burrow/core/"
LEAST = 90.0  # per cent of a module's lines


def main() -> int:
    """Run the tests that are asked for, all without a word, and print what they leave out."""
    with tempfile.TemporaryDirectory(prefix="burrow-cover-") as folder:
        data = f"{folder}/lines"
        ran = subprocess.run(
            [sys.executable, "tools/run_tests.py", *sys.argv[1:]],
            cwd=ROOT,
            env=os.environ | {"TEST_COVERAGE": data},
            check=False,
        )
        coverage = [sys.executable, "-m", "coverage"]
        subprocess.run([*coverage, "combine", "--quiet", f"--data-file={data}", folder], cwd=ROOT, check=True)
        told = f"{folder}/told.json"
        subprocess.run([*coverage, "json", "--quiet", f"--data-file={data}", "-o", told], cwd=ROOT, check=True)
        report = json.loads(Path(told).read_text(encoding="utf-8"))
    modules = {
        name.partition(CORE)[2]: one["summary"]
        for name, one in report["files"].items()
        if CORE in name.replace("\\", "/")
    }
    low = {name: one for name, one in modules.items() if one["percent_covered"] < LEAST}
    for name, one in sorted(low.items(), key=lambda pair: pair[1]["percent_covered"]):
        print(
            f"{one['percent_covered']:5.1f} %  {name}, {one['missing_lines']} of {one['num_statements']} lines not run"
        )
    lines = sum(one["num_statements"] for one in modules.values())
    run = sum(one["covered_lines"] for one in modules.values())
    print(f"{100.0 * run / max(1, lines):.1f} % of {lines} lines of the core; {len(low)} of {len(modules)} modules low")
    return ran.returncode or (1 if low else 0)


if __name__ == "__main__":
    sys.exit(main())
