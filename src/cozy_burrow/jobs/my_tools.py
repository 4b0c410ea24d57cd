"""What the fitter owns, kept beside the log from job to job: `my-tools.json` in the state folder."""

from __future__ import annotations

import contextlib
import os
from pathlib import Path

import msgspec
from platformdirs import user_state_path

from cozy_burrow.core.bench.methods import OWNED, Tools
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import BareUnit, parse_length
from cozy_burrow.storage.alone import alone
from cozy_burrow.storage.whole_file import read_whole, write_whole

NAME = "my-tools.json"
LEAST_SAW_MM, MOST_SAW_MM = 5.0, 200.0
MOST_SAWS = 60
_MOST_BYTES = 100_000


def kept_tools(folder: Path | None = None) -> Tools:
    """Return what is kept in a folder, the program's own where none is named; what is usual where nothing is.

    A file that cannot be read says nothing here: that is told where tools are changed.
    """
    with contextlib.suppress(UnusableInput):
        return read_tools((folder or user_state_path("cozy-burrow")) / NAME)
    return OWNED


def read_tools(path: Path) -> Tools:
    """Return the tools in a file; what is usual where there is none. Raises UnusableInput for a damaged one."""
    if not os.path.lexists(path):
        return OWNED
    try:
        tools = msgspec.json.decode(read_whole(path, most=_MOST_BYTES), type=Tools)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
        raise UnusableInput(
            tr("the list of tools is damaged"), where=str(path), remedy=tr("mend it, or take it away to begin anew")
        ) from error
    return checked_tools(tools)


def keep_tools(tools: Tools, folder: Path) -> None:
    """Keep tools in a folder. Raises UnusableInput; a file that cannot be read is left as it is."""
    data = msgspec.json.format(msgspec.json.encode(checked_tools(tools)), indent=1)
    with alone(folder / NAME):
        read_tools(folder / NAME)
        write_whole(folder / NAME, data)


def checked_tools(tools: Tools) -> Tools:
    """Return tools that lines can be cut with, saws in their order. Raises UnusableInput."""
    if len(tools.saws_mm) > MOST_SAWS or not all(LEAST_SAW_MM <= one <= MOST_SAW_MM for one in tools.saws_mm):
        raise UnusableInput(
            tr("no such hole saw"),
            remedy=tr("give {least:g} to {most:g} mm", least=LEAST_SAW_MM, most=MOST_SAW_MM),
        )
    return msgspec.structs.replace(tools, saws_mm=tuple(sorted(set(tools.saws_mm))))


def saws_from(text: str, *, unit: BareUnit) -> tuple[float, ...]:
    """Return the diameters in a text, parted by commas or semicolons. Raises UnusableInput."""
    found = [part.strip() for part in text.replace(";", ",").split(",") if part.strip()]
    sizes = tuple(round(parse_length(part, unit=unit, where=tr("hole saws")), 3) for part in found[: MOST_SAWS + 1])
    return checked_tools(Tools(saws_mm=sizes)).saws_mm
