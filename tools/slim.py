"""Take out of an installed copy what nobody who runs the program needs; tells how much that was.

Qt's wheel brings the whole of Qt with its builders' tools; the program imports four of its modules. What a kept part is
linked with is asked of `ldd`, so nothing is taken out that anything left needs.
"""

from __future__ import annotations

import argparse
import shutil
import subprocess
import sys
from collections.abc import Iterable, Iterator
from pathlib import Path

MODULES = ("QtCore", "QtGui", "QtWidgets", "QtPrintSupport")
# Kinds of Qt plugins that a window on X11 or Wayland, its icons, its pictures and its printer may ask for.
PLUGINS = (
    "egldeviceintegrations",
    "generic",
    "iconengines",
    "imageformats",
    "platforminputcontexts",
    "platforms",
    "platformthemes",
    "printsupport",
    "styles",
    "wayland-decoration-client",
    "wayland-graphics-integration-client",
    "wayland-shell-integration",
    "xcbglintegrations",
)
LANGUAGES = ("qtbase_de.qm", "qtbase_en.qm")


def unneeded(packages: Path) -> Iterator[Path]:
    """Yield files and folders below a site-packages that the program never opens."""
    for folder in packages.rglob("tests"):
        if folder.is_dir() and (folder / "__init__.py").exists():
            yield folder
    yield from packages.rglob("*.pyi")
    yield from _of_qt(packages / "PySide6")


def _of_qt(home: Path) -> Iterator[Path]:
    kept = {"Qt", "__init__.py", "_config.py", "_git_pyside_version.py", "py.typed", "support"}
    for one in home.iterdir():
        needed = one.name in kept or one.name.startswith("libpyside6.") or one.name.split(".")[0] in MODULES
        if not needed:
            yield one
    qt = home / "Qt"
    for one in qt.iterdir():
        if one.name not in {"lib", "plugins", "translations"}:
            yield one
    for one in (qt / "plugins").iterdir():
        if one.name not in PLUGINS:
            yield one
    for one in (qt / "translations").iterdir():
        if one.name not in LANGUAGES:
            yield one
    roots = [*home.glob("*.so*"), *(qt / "plugins").rglob("*.so")]
    roots = [one for one in roots if one.name.split(".")[0] in MODULES or one.name.startswith("libpyside6.")] + [
        one for one in roots if one.is_relative_to(qt) and one.relative_to(qt / "plugins").parts[0] in PLUGINS
    ]
    linked = set(_linked(roots))
    for one in (qt / "lib").iterdir():
        if one.resolve() not in linked:
            yield one


def _linked(files: Iterable[Path]) -> Iterator[Path]:
    """Yield every library that some files are linked with, however far down."""
    for file in files:
        told = subprocess.run(["ldd", str(file)], capture_output=True, text=True, check=False).stdout
        for line in told.splitlines():
            _, arrow, where = line.partition("=> ")
            if arrow and where.startswith("/"):
                yield Path(where.split(" (")[0]).resolve()


def size_of(path: Path) -> int:
    """Return the bytes of a file or of all files below a folder."""
    if path.is_symlink() or not path.is_dir():
        return path.lstat().st_size
    return sum(one.lstat().st_size for one in path.rglob("*") if one.is_symlink() or one.is_file())


def slim(packages: Path) -> int:
    """Take it out; return the bytes that were freed."""
    freed = 0
    for one in sorted(set(unneeded(packages)), key=lambda path: len(path.parts)):
        if not (one.exists() or one.is_symlink()):
            continue  # went with its folder
        freed += size_of(one)
        if one.is_dir() and not one.is_symlink():
            shutil.rmtree(one)
        else:
            one.unlink()
    return freed


def main() -> int:
    """Slim one folder."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("packages", type=Path, help="a site-packages of a copy that only runs the program")
    packages = parser.parse_args().packages
    before = size_of(packages)
    freed = slim(packages)
    print(f"{before / 1e6:.0f} MB, {freed / 1e6:.0f} MB of it taken out, {(before - freed) / 1e6:.0f} MB left")
    return 0


if __name__ == "__main__":
    sys.exit(main())
