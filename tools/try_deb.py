"""Install the newest Debian package of dist/ into a clean root of Debian 12 and use it there as a newcomer would.

Run by hand, by root: it asks for debootstrap and a mirror of Debian. Ends with 1 where a step fails; the root is taken
away again unless --keep names where it stays.
"""

from __future__ import annotations

import argparse
import os
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
SUITE, MIRROR = "bookworm", "http://deb.debian.org/debian"
STILL_OPEN = 124  # what timeout says of a program that it had to end
WINDOW_SECONDS = 25
# What is done, as whom, and how it must end.
STEPS = (
    ("root", "apt-get install -y --no-install-recommends /package.deb", 0),
    ("root", "apt-get install -y --no-install-recommends xvfb xauth", 0),
    ("root", "useradd --create-home fitter", 0),
    ("fitter", "cozy-burrow --version", 0),
    ("fitter", "QT_QPA_PLATFORM=offscreen cozy-burrow --demo --shot window.png && test -s window.png", 0),
    ("fitter", "cozy-burrow plan --template > kit.csv", 0),
    ("fitter", "cozy-burrow plan kit.csv a.burrow --container 570x390x75 --foam 50/10 --seconds 10", 0),
    ("fitter", "cozy-burrow export a.burrow out && test -s out/templates.pdf", 0),
    ("fitter", f"timeout {WINDOW_SECONDS} xvfb-run -a cozy-burrow --demo", STILL_OPEN),
    ("root", "apt-get remove -y cozy-burrow && test ! -e /usr/bin/cozy-burrow && test ! -e /usr/lib/cozy-burrow", 0),
)


def inside(root: Path, who: str, command: str) -> int:
    """Run a command in a root and return its exit status."""
    told = ["chroot", str(root), "su", "-", who, "-c", f"export DEBIAN_FRONTEND=noninteractive; {command}"]
    # Nothing of this environment is handed on: not its language, not its paths.
    ran = subprocess.run(
        told, env={"PATH": "/usr/sbin:/usr/bin:/sbin:/bin"}, capture_output=True, text=True, check=False
    )
    for line in (ran.stdout + ran.stderr).splitlines()[-3:]:
        print(f"    {line}", flush=True)
    return ran.returncode


def tried(package: Path, root: Path) -> int:
    """Do all steps in a clean root and return how many ended otherwise than they should."""
    subprocess.run(
        ["debootstrap", "--variant=minbase", SUITE, str(root), MIRROR], stdout=subprocess.DEVNULL, check=True
    )
    shutil.copy(package, root / "package.deb")
    wrong = 0
    subprocess.run(["mount", "-t", "proc", "proc", str(root / "proc")], check=True)
    try:
        for who, command, wanted in STEPS:
            print(f"{who}: {command}", flush=True)
            ended = inside(root, who, command)
            if ended != wanted:
                wrong += 1
                print(f"    ENDED WITH {ended}, not {wanted}", flush=True)
    finally:
        subprocess.run(["umount", str(root / "proc")], check=False)
    return wrong


def main() -> int:
    """Try the newest package."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--keep", type=Path, help="make the root here, and leave it")
    keep = parser.parse_args().keep
    packages = sorted((ROOT / "dist").glob("*.deb"), key=lambda one: one.stat().st_mtime)
    if not packages or shutil.which("debootstrap") is None or os.geteuid() != 0:
        print("this takes a package (make deb), debootstrap and root", file=sys.stderr)
        return 2
    if keep is not None:
        return min(1, tried(packages[-1], keep))
    with tempfile.TemporaryDirectory() as name:
        return min(1, tried(packages[-1], Path(name) / "root"))


if __name__ == "__main__":
    sys.exit(main())
