"""Starts the command line, nothing more."""

from __future__ import annotations

import sys


def main() -> None:
    """Run the program and leave with its exit status."""
    from cozy_burrow.cli.language import choose

    choose(sys.argv[1:])
    from cozy_burrow.cli.main import run

    sys.exit(run(sys.argv[1:]))


if __name__ == "__main__":
    main()
