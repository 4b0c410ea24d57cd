"""Install the program like any desktop program, for one person or for a package; or take it away again.

What lies where, below the prefix (~/.local unless it is named):
    lib/cozy-burrow/   Python packages of this program alone, as requirements.lock pins them
    bin/               launcher and thumbnailer
    share/             desktop entry, icons, kind of file, metadata, manual page, completions, licence
    share/cozy-burrow/installed   the list of it all, by which it is taken away again
"""

from __future__ import annotations

import argparse
import os
import shutil
import subprocess
import sys
import tempfile
import tomllib
from collections.abc import Iterator
from datetime import date
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
from tools.slim import size_of, slim

PACKAGING = ROOT / "packaging"
APP = "org.cozyburrow.CozyBurrow"
MIME = "application-x-cozy-burrow"
SITE = "https://cozyburrow.example"  # a packager names the real one: SITE=
ICON_PX = (16, 22, 24, 32, 48, 64, 128, 256, 512)
COMPLETIONS = {
    "bash": "share/bash-completion/completions/cozy-burrow",
    "zsh": "share/zsh/site-functions/_cozy-burrow",
    "fish": "share/fish/vendor_completions.d/cozy-burrow.fish",
}
PROGRAMS = {"cozy-burrow": "cozy_burrow", "cozy-burrow-thumbnail": "cozy_burrow.cli.thumbnail"}
LIST = "share/cozy-burrow/installed"


def version() -> str:
    """Return the program's version."""
    return str(tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["version"])


def shared_files(prefix: Path, *, site: str = SITE) -> dict[str, bytes]:
    """Return all that is laid below the prefix besides the packages: its place, its bytes."""
    meta = (PACKAGING / f"{APP}.metainfo.xml").read_text()
    for mark, text in (("@VERSION@", version()), ("@DATE@", date.today().isoformat()), ("@SITE@", site)):
        meta = meta.replace(mark, text)
    # By their whole paths: not every desktop looks into ~/.local/bin.
    entry, thumbnailer = (
        (PACKAGING / name)
        .read_text()
        .replace(f"TryExec={program}\n", f"TryExec={prefix}/bin/{program}\n")
        .replace(f"\nExec={program} ", f'\nExec="{prefix}/bin/{program}" ')
        for name, program in ((f"{APP}.desktop", "cozy-burrow"), ("cozy-burrow.thumbnailer", "cozy-burrow-thumbnail"))
    )
    icon = (ROOT / "src" / "cozy_burrow" / "assets" / "icons" / "cozy-burrow.svg").read_bytes()
    files = {
        f"share/applications/{APP}.desktop": entry.encode(),
        "share/mime/packages/cozy-burrow.xml": (PACKAGING / "cozy-burrow.xml").read_bytes(),
        "share/thumbnailers/cozy-burrow.thumbnailer": thumbnailer.encode(),
        f"share/metainfo/{APP}.metainfo.xml": meta.encode(),
        "share/man/man1/cozy-burrow.1": _said_by([sys.executable, str(ROOT / "tools" / "man_page.py")]),
        "share/doc/cozy-burrow/copyright": (ROOT / "LICENSE").read_bytes(),
        "share/icons/hicolor/scalable/apps/cozy-burrow.svg": icon,
        f"share/icons/hicolor/scalable/mimetypes/{MIME}.svg": icon,
    }
    for wide, png in _icons(icon):
        files[f"share/icons/hicolor/{wide}x{wide}/apps/cozy-burrow.png"] = png
    for shell, place in COMPLETIONS.items():
        asked = {"_COZY_BURROW_COMPLETE": f"{shell}_source"}
        files[place] = _said_by([sys.executable, "-m", "cozy_burrow"], asked)
    for name, module in PROGRAMS.items():
        files[f"bin/{name}"] = f'#!/bin/sh\nexec "{prefix}/lib/cozy-burrow/bin/python" -I -m {module} "$@"\n'.encode()
    return files


def _said_by(words: list[str], more: dict[str, str] | None = None) -> bytes:
    return subprocess.run(words, cwd=ROOT, env=os.environ | (more or {}), stdout=subprocess.PIPE, check=True).stdout


def _icons(svg: bytes) -> Iterator[tuple[int, bytes]]:
    """Yield the icon in each size, painted by Qt."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PySide6.QtCore import QBuffer, QIODevice, QSize
    from PySide6.QtGui import QGuiApplication, QIcon

    app = QGuiApplication.instance() or QGuiApplication([])
    with tempfile.TemporaryDirectory() as name:
        path = Path(name) / "icon.svg"
        path.write_bytes(svg)
        for wide in ICON_PX:
            buffer = QBuffer()
            buffer.open(QIODevice.OpenModeFlag.WriteOnly)
            QIcon(str(path)).pixmap(QSize(wide, wide), 1.0).save(buffer, "PNG")
            yield wide, bytes(buffer.data().data())
    del app


def install(prefix: Path, destdir: Path | None, python: str, site: str) -> None:
    """Lay everything below the prefix; what an earlier one left there goes."""
    base = _below(destdir, prefix)
    packages = base / "lib" / "cozy-burrow"
    fresh = packages.with_name("cozy-burrow.new")
    shutil.rmtree(fresh, ignore_errors=True)
    _packages(fresh, python)
    files = shared_files(prefix, site=site)
    uninstall(prefix, destdir, tell=False)
    fresh.rename(packages)
    for place, data in files.items():
        path = base / place
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(data)
        path.chmod(0o755 if place.startswith("bin/") else 0o644)
    (base / LIST).parent.mkdir(parents=True, exist_ok=True)
    (base / LIST).write_text("\n".join(sorted(files)) + "\n")
    if destdir is None:
        _tell_desktop(base)
        print(f"installed below {prefix}; {prefix}/bin/cozy-burrow starts it")


def _packages(home: Path, python: str) -> None:
    """Make an environment without tools: the program and what it stands on, in the versions of the lock file."""
    subprocess.run([python, "-m", "venv", "--without-pip", str(home)], check=True)
    pip = [sys.executable, "-m", "pip", "--quiet", "--disable-pip-version-check"]
    with tempfile.TemporaryDirectory() as name:
        build = ["wheel", "--no-deps", "--no-build-isolation", "--wheel-dir", name, str(ROOT)]
        subprocess.run([*pip, *build], check=True)
        (wheel,) = Path(name).glob("*.whl")
        words = ["--python", str(home / "bin" / "python"), "install", "--constraint", str(ROOT / "requirements.lock")]
        subprocess.run([*pip, *words, str(wheel)], check=True)
    (found,) = home.glob("lib/python3.*/site-packages")
    freed = slim(found)
    print(f"{size_of(home) / 1e6:.0f} MB of packages; {freed / 1e6:.0f} MB that nobody needs were left out")


def uninstall(prefix: Path, destdir: Path | None, *, tell: bool = True) -> None:
    """Take away what the list names, and folders that are empty then; settings and projects stay."""
    base = _below(destdir, prefix)
    listed = base / LIST
    if not listed.exists():
        if tell:
            print(f"nothing is installed below {prefix}")
        return
    for place in [*listed.read_text().splitlines(), LIST]:
        path = base / place
        path.unlink(missing_ok=True)
        for folder in path.parents:
            if folder == base or not _remove_empty(folder):
                break
    shutil.rmtree(base / "lib" / "cozy-burrow", ignore_errors=True)
    if tell:
        _tell_desktop(base)
        print(f"taken away from {prefix}; your projects, settings and price list are as they were")


def _remove_empty(folder: Path) -> bool:
    try:
        folder.rmdir()
    except OSError:
        return False
    return True


def _below(destdir: Path | None, prefix: Path) -> Path:
    return prefix if destdir is None else destdir / prefix.relative_to("/")


def _tell_desktop(base: Path) -> None:
    """Let the desktop look again; where a program for it lacks, the next start of the desktop does it."""
    kinds = base / "share" / "mime" / "packages"
    if kinds.parent.is_dir():
        kinds.mkdir(exist_ok=True)  # without it nothing is looked at, and what was taken away is known on
    for words in (
        ["update-mime-database", str(base / "share" / "mime")],
        ["update-desktop-database", str(base / "share" / "applications")],
        ["gtk-update-icon-cache", "--quiet", "--force", "--ignore-theme-index", str(base / "share/icons/hicolor")],
    ):
        if shutil.which(words[0]) and Path(words[-1]).is_dir():
            subprocess.run(words, check=False, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)


def main() -> int:
    """Install or take away."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("what", choices=("install", "uninstall"))
    parser.add_argument("--prefix", default="~/.local")
    parser.add_argument("--destdir", default="", help="for packagers: folder that stands for /")
    parser.add_argument("--python", default="python3", help="the Python that will run it")
    parser.add_argument("--site", default=SITE, help="address named in the metadata")
    asked = parser.parse_args()
    prefix = Path(asked.prefix).expanduser().absolute()
    destdir = Path(asked.destdir).absolute() if asked.destdir else None
    if asked.what == "install":
        install(prefix, destdir, asked.python, asked.site)
    else:
        uninstall(prefix, destdir)
    return 0


if __name__ == "__main__":
    sys.exit(main())
