"""Whoever does the work: what is owned, how long sheets took, what foam and hours cost; kept from job to job."""

from __future__ import annotations

import contextlib
from pathlib import Path

from platformdirs import user_state_path

from cozy_burrow.core.bench.forecast import LogRow
from cozy_burrow.core.bench.methods import OWNED, Tools
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Record
from cozy_burrow.core.model.vessels import Stores
from cozy_burrow.jobs.bench_log import LOG_NAME, kept_log
from cozy_burrow.jobs.my_tools import kept_tools
from cozy_burrow.storage.stores_file import load_stores


class Workshop(Record, frozen=True, kw_only=True):
    """What papers and forecasts need to know of whoever cuts."""

    tools: Tools = OWNED
    log: tuple[LogRow, ...] = ()
    stores: Stores = Stores()


ANY = Workshop()  # of whoever has said nothing of it


def kept_workshop(folder: Path | None = None, *, stores: Stores | None = None) -> Workshop:
    """Return what is kept in a folder, the program's own where none is named. stores: as they are shown in a window.

    A file that cannot be read says nothing here: that is told where it is changed.
    """
    where = folder or user_state_path("cozy-burrow")
    log: tuple[LogRow, ...] = ()
    with contextlib.suppress(UnusableInput):
        log = kept_log(where / LOG_NAME)
    if stores is None:
        stores = Stores()
        with contextlib.suppress(UnusableInput):
            stores = load_stores(where)
    return Workshop(tools=kept_tools(where), log=log, stores=stores)
