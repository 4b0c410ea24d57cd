"""Make a Debian package of the program, with the Python packages of the lock file in it.

Debian 12 has no PySide6 and older NumPy, SciPy, Shapely and msgspec than the program asks for, so they come along below
/usr/lib/cozy-burrow; from Debian come Python itself and the libraries of the system that Qt asks for.
"""

from __future__ import annotations

import argparse
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))
from tools.install import ROOT, SITE, install, version
from tools.slim import size_of
from tools.system_packages import OFFSCREEN, WINDOW

_FOR_TESTS = {"xvfb", "xauth", "poppler-utils"}
_CONTROL = """\
Package: cozy-burrow
Version: {version}
Section: graphics
Priority: optional
Architecture: {machine}
Maintainer: The Cozy Burrow contributors <packages@cozyburrow.example>
Installed-Size: {kilobytes}
Depends: python3 (>= {python}), python3 (<< {next_python}), {libraries}
Recommends: shared-mime-info, desktop-file-utils
Description: plans fitted foam inserts for drawers, cases and walls
 Outlines from photos, callipers, drawings or a table; layouts with walls that
 hold; whole layers under every part of every item; finger pulls; templates at
 true size, cutting lists and files for a cutting shop.
"""


def make(out: Path, python: str) -> Path:
    """Return the package, written into a folder."""
    told = subprocess.run(
        [python, "-c", "import sys; print('%d %d' % sys.version_info[:2])"], capture_output=True, text=True, check=True
    )
    major, minor = map(int, told.stdout.split())
    machine = subprocess.run(
        ["dpkg", "--print-architecture"], capture_output=True, text=True, check=True
    ).stdout.strip()
    with tempfile.TemporaryDirectory() as name:
        tree = Path(name) / "tree"
        install(Path("/usr"), tree, python, SITE)
        _run_by_debian(tree / "usr" / "lib" / "cozy-burrow", f"{major}.{minor}")
        libraries = ", ".join(sorted(set(OFFSCREEN) | (set(WINDOW) - _FOR_TESTS)))
        control = _CONTROL.format(
            version=version(),
            machine=machine,
            kilobytes=size_of(tree) // 1024,
            python=f"{major}.{minor}",
            next_python=f"{major}.{minor + 1}",
            libraries=libraries,
        )
        (tree / "DEBIAN").mkdir()
        (tree / "DEBIAN" / "control").write_text(control)
        out.mkdir(parents=True, exist_ok=True)
        package = out / f"cozy-burrow_{version()}_{machine}.deb"
        subprocess.run(["dpkg-deb", "--root-owner-group", "--build", str(tree), str(package)], check=True)
    return package


def _run_by_debian(home: Path, python: str) -> None:
    """Let the environment be run by the Python of Debian, wherever the one that built it lies."""
    for one in (home / "bin").iterdir():
        one.unlink()
    (home / "bin" / "python").symlink_to(f"/usr/bin/python{python}")
    (home / "pyvenv.cfg").write_text(f"home = /usr/bin\ninclude-system-site-packages = false\nversion = {python}\n")


def main() -> int:
    """Make it."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("out", nargs="?", type=Path, default=ROOT / "dist")
    parser.add_argument("--python", default="/usr/bin/python3", help="of the Debian that it is for")
    asked = parser.parse_args()
    if shutil.which("dpkg-deb") is None:
        print("make_deb: dpkg-deb is not here; a Debian package is made on Debian", file=sys.stderr)
        return 2
    package = make(asked.out, asked.python)
    print(f"{package}: {package.stat().st_size / 1e6:.0f} MB")
    return 0


if __name__ == "__main__":
    sys.exit(main())
