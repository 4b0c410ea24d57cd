"""Seats, weights and mends in words, for the window, the papers and the command line alike."""

from __future__ import annotations

from cozy_burrow.core.findings.finding import Mend
from cozy_burrow.core.findings.mend_kinds import MENDS
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Project, Seat
from cozy_burrow.core.tongue import tr, trn

SEAT_NAMES: dict[Seat, str] = {
    "judged": tr("by judgement"),
    "half": tr("half sunk"),
    "flush": tr("flush"),
    "proud": tr("proud"),
    "lid": tr("up to lid or tier"),
    "deep": tr("as deep as the foam allows"),
}
SEVERITY = {"stop": tr("Must fix"), "care": tr("Warning"), "note": tr("Note")}


def counted(severity: str, count: int) -> str:
    """Return how many checks of a weight there are: 1 warning, 2 warnings."""
    match severity:
        case "stop":
            return trn("{count} must fix", "{count} must fix", count)
        case "care":
            return trn("{count} warning", "{count} warnings", count)
        case _:
            return trn("{count} note", "{count} notes", count)


def mend_text(project: Project, mend: Mend) -> str:
    """Return what the mend's button says."""
    text = MENDS[mend.kind].text
    return text.format(name=placement_name(project, mend.target)) if "{" in text else text
