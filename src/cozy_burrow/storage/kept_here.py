"""What the program keeps on this computer beside projects: where it lies, how much it is, and how it goes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.tongue import tr

Home = Literal["settings", "state", "cache"]


@dataclass(frozen=True)
class Kind:
    """One kind of what is kept. files: patterns below its home. why: what it is for, in a sentence.

    may_go: whether it may be deleted here; copies of unsaved work may be all that is left of it.
    """

    name: str
    why: str
    home: Home
    files: tuple[str, ...]
    may_go: bool = True


KINDS: tuple[Kind, ...] = (
    Kind(
        tr("Settings"),
        tr("How the window looks, the paper of the mat, the names and places of the last projects."),
        "settings",
        ("settings.ini",),
    ),
    Kind(tr("Price list and shelf"), tr("Foam that is bought, offcuts with their sizes."), "state", ("stores.json",)),
    Kind(tr("My tools"), tr("What is cut with beside a knife."), "state", ("my-tools.json",)),
    Kind(
        tr("My log"),
        tr("Times and blades of finished sheets, from which forecasts are made."),
        "state",
        ("bench-log.csv", "bench-cuts.csv"),
    ),
    Kind(
        tr("My items and containers"),
        tr("What was kept for other projects, with what was removed from there."),
        "state",
        ("things/*.json", "things/removed/*", "containers/*.json", "containers/removed/*"),
    ),
    Kind(
        tr("Recovery copies"),
        tr("Work that is not saved yet, of windows that are open or were killed. They go once it is saved."),
        "state",
        ("recovery/*.burrow", "recovery/*.path", "recovery/*.mark", "recovery/*.bench", "recovery/*.picture"),
        may_go=False,
    ),
    Kind(
        tr("Reports"),
        tr("What went wrong, for whoever mends the program."),
        "state",
        ("reports/*",),
    ),
    Kind(
        tr("Pictures for a quick start"),
        tr("The window as it opens with each of the last projects."),
        "cache",
        ("first-sight/*.png",),
    ),
)


@dataclass(frozen=True)
class Held:
    """What there is of a kind: its files and their bytes together."""

    kind: Kind
    folder: Path
    files: tuple[Path, ...]
    size_bytes: int


def held(homes: Mapping[Home, Path]) -> tuple[Held, ...]:
    """Return what there is of every kind. homes: where each home lies. What cannot be looked into counts as nothing."""
    found = []
    for kind in KINDS:
        home = homes[kind.home]
        files: list[Path] = []
        size = 0
        for pattern in kind.files:
            try:
                for path in sorted(home.glob(pattern)):
                    if path.is_file() and not path.is_symlink():
                        size += path.stat().st_size
                        files.append(path)
            except OSError:
                continue
        found.append(Held(kind, home, tuple(files), size))
    return tuple(found)


def delete(one: Held) -> int:
    """Delete what there is of a kind; return how many files went. Raises UnusableInput where one stays."""
    if not one.kind.may_go:
        raise UnusableInput(tr("this is not deleted here"), where=one.kind.name, remedy=tr("save your work"))
    for number, path in enumerate(one.files):
        try:
            path.unlink(missing_ok=True)
        except OSError as error:
            raise UnusableInput(
                tr("it cannot be deleted ({reason})", reason=error.strerror or type(error).__name__),
                where=str(path),
                remedy=tr("{count} files went before it; check the folder", count=number),
            ) from error
    return len(one.files)
