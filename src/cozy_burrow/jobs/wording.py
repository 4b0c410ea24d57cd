"""Seats, weights and mends in words, for the window, the papers and the command line alike."""

from __future__ import annotations

from cozy_burrow.core.findings.finding import Mend
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
    match mend.kind:
        case "move_clear":
            return tr("Move ‘{placement_name}’ clear", placement_name=placement_name(project, mend.target))
        case "lay_in":
            return tr("Find it a place")
        case "lay_under":
            return tr("Lay it under a shallow item")
        case "fewer_layers":
            return tr("Leave the floor in")
        case "lower_seat":
            return tr("Sink it deeper")
        case "seat_by_rule":
            return tr("Seat it by rule")
        case "seat_judged":
            return tr("Seat it by judgement")
        case "fit_snug":
            return tr("Cut its pocket snug")
        case "fit_line":
            return tr("Cut its pocket on the line")
        case "as_advised":
            return tr("Seat it as advised")
        case "on_edge":
            return tr("Stand it on edge in a slit")
        case "add_pull":
            return tr("Give it the best pull")
        case "remove_pull":
            return tr("Take the finger pull away")
        case "thinner_stack":
            return tr("Take the lowest sheet out")
        case "lift_straps":
            return tr("Give it a lift strap")
