"""Look for kinds that are compared as text: a kind is asked, or named by its object. Ends with 1 where one is found."""

from __future__ import annotations

import argparse
import ast
import sys
from collections.abc import Iterator
from pathlib import Path

from cozy_burrow.core.findings.mend_kinds import MENDS
from cozy_burrow.core.findings.telling import KINDS
from cozy_burrow.core.model.pull_kinds import PULL_KINDS

SOURCES = Path(__file__).resolve().parent.parent / "src"
NAMES = frozenset((*KINDS, *PULL_KINDS, *MENDS))
ASKED = frozenset(("kind", "code"))  # attributes that name a kind


def compared(tree: ast.AST) -> Iterator[int]:
    """Yield the lines on which a kind's name stands as text in a comparison or a case."""
    for node in ast.walk(tree):
        if isinstance(node, ast.Compare) and _asks(node.left):
            texts = {
                one.value for right in node.comparators for one in ast.walk(right) if isinstance(one, ast.Constant)
            }
            if texts & NAMES:
                yield node.lineno
        if isinstance(node, ast.Match) and _asks(node.subject):
            for case in node.cases:
                if any(isinstance(one, ast.Constant) and one.value in NAMES for one in ast.walk(case.pattern)):
                    yield case.pattern.lineno


def _asks(node: ast.expr) -> bool:
    return isinstance(node, ast.Attribute) and node.attr in ASKED


def main() -> int:
    """Look through all sources and print what is found."""
    argparse.ArgumentParser(description=__doc__).parse_args()
    found = [
        f"{path.relative_to(SOURCES.parent)}:{line}: a kind is compared as text"
        for path in sorted(SOURCES.rglob("*.py"))
        for line in compared(ast.parse(path.read_text(encoding="utf-8")))
    ]
    print("\n".join(found) or f"no kind is compared as text ({len(NAMES)} names)")
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
