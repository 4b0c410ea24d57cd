"""Seats, weights and mends in words, for the window, the papers and the command line alike."""

from __future__ import annotations

from cozy_burrow.core.findings.finding import Mend
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Project, Seat

SEAT_NAMES: dict[Seat, str] = {
    "judged": "by judgement",
    "half": "half sunk",
    "flush": "flush",
    "proud": "proud",
    "lid": "up to lid or tier",
    "deep": "as deep as the foam allows",
}
SEVERITY = {"stop": "Must fix", "care": "Warning", "note": "Note"}
_MANY = {"stop": "must fix", "care": "warnings", "note": "notes"}


def counted(severity: str, count: int) -> str:
    """Return how many checks of a weight there are: 1 warning, 2 warnings."""
    return f"{count} {SEVERITY[severity].lower() if count == 1 else _MANY[severity]}"


def mend_text(project: Project, mend: Mend) -> str:
    """Return what the mend's button says."""
    match mend.kind:
        case "move_clear":
            return f"Move ‘{placement_name(project, mend.target)}’ clear"
        case "lay_in":
            return "Find it a place"
        case "lay_under":
            return "Lay it under a shallow thing"
        case "fewer_layers":
            return "Leave the floor in"
        case "lower_seat":
            return "Sink it deeper"
        case "seat_by_rule":
            return "Seat it by rule"
        case "seat_judged":
            return "Seat it by judgement"
        case "fit_snug":
            return "Cut its pocket snug"
        case "fit_line":
            return "Cut its pocket on the line"
        case "as_advised":
            return "Seat it as advised"
        case "on_edge":
            return "Stand it on edge in a slit"
        case "add_pull":
            return "Give it the best pull"
        case "remove_pull":
            return "Take the finger pull away"
        case "thinner_stack":
            return "Take the lowest sheet out"
        case "lift_straps":
            return "Give it a lift strap"
