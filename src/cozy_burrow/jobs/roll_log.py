"""The log of roll calls as a CSV table: a row for everything that was not in its place, one for a good call."""

from __future__ import annotations

import csv
import io

from cozy_burrow.core.model.records import Project
from cozy_burrow.core.tongue import tr

COLUMNS = ("date", "time", "insert", "places", "item", "state", "note")


def log_text(project: Project) -> str:
    """Return the log of a project as CSV, the oldest call first."""
    names = {insert.id: insert.name for insert in project.inserts}
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for call in project.roll_calls:
        date, _, time = call.at.partition("T")
        insert = names.get(call.insert_id, tr("an insert that is gone"))
        for absent in call.absent:
            writer.writerow((date, time, insert, call.places, absent.name, absent.state, call.note))
        if not call.absent:
            writer.writerow((date, time, insert, call.places, "", "all filled", call.note))
    return out.getvalue()
