"""My items to and from a folder of open files: JSON with everything, SVG with the outline, for each."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.progress import Token
from cozy_burrow.core.tongue import tr
from cozy_burrow.export.outline_svg import outline_svg
from cozy_burrow.jobs.files import write_all
from cozy_burrow.storage.kept_files import MOST, MOST_BYTES, THINGS
from cozy_burrow.storage.whole_file import read_whole


def write_folder(
    keys: Sequence[str], read: Callable[[str], Item], folder: Path, *, token: Token
) -> tuple[int, tuple[str, ...]]:
    """Write items into a folder; return how many, and a sentence for each that `read` could not read.

    Each is there whole or not at all: all of them at once may be more than the memory holds. Raises UnusableInput where
    the folder cannot be written, Cancelled where the token says so: those written by then stay.
    """
    count, troubles = 0, []
    for number, key in enumerate(keys):
        token.step(number / len(keys))
        try:
            item = read(key)
        except UnusableInput as error:
            troubles.append(error.sentence())
            continue
        write_all(folder, {f"{key}.json": THINGS.to_bytes(item), f"{key}.svg": outline_svg(item.outline).encode()})
        count += 1
    return count, tuple(troubles)


def read_folder(folder: Path) -> tuple[tuple[Item, ...], tuple[str, ...]]:
    """Return the items in a folder's JSON files, and a sentence for each that can't be read. Raises UnusableInput."""
    try:
        paths = sorted(path for path in folder.iterdir() if path.suffix.lower() == ".json")
    except OSError as error:
        raise UnusableInput(
            tr("the folder cannot be read ({strerror})", strerror=error.strerror),
            where=str(folder),
            remedy=tr("choose another folder"),
        ) from error
    items, troubles = [], []
    for path in paths[:MOST]:
        try:
            items.append(THINGS.from_bytes(read_whole(path, most=MOST_BYTES), where=path.name))
        except UnusableInput as error:
            troubles.append(error.sentence())
    if not items:
        raise UnusableInput(
            troubles[0] if troubles else tr("there is no item in it"),
            where=str(folder),
            remedy=tr("choose a folder that items were saved to"),
        )
    return tuple(items), tuple(troubles)
