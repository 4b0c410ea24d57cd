"""Findings in words, for the window, the papers and the command line alike."""

from __future__ import annotations

from cozy_burrow.core.findings.finding import Finding, Mend
from cozy_burrow.core.model.edits import item_of
from cozy_burrow.core.model.records import Project, Seat
from cozy_burrow.core.units import format_length

SEAT_NAMES: dict[Seat, str] = {
    "half": "half sunk",
    "flush": "flush",
    "proud": "proud",
    "lid": "up to the lid",
    "deep": "as deep as the foam allows",
}
TITLES = {
    "UNPLACED": "Still in the tray",
    "POCKETS_MEET": "Pockets run together",
    "THIN_WALL": "Wall too thin",
    "WALL_THIN_FOR_DEPTH": "Wall thin for its depth",
    "THIN_EDGE": "Edge too thin",
    "OUTSIDE_BLANK": "Beyond the foam",
    "FLOOR_GONE": "Floor too thin",
    "TOO_HIGH": "Stands too high",
    "HELD_UP": "Held up by the floor",
    "STACK_TOO_HIGH": "Stack too high",
    "NO_GRIP": "No way to grip it",
    "PULL_SMALL": "Finger pull too small",
    "PULL_ASTRAY": "Finger pull misses",
    "SLIVER": "Sliver of foam",
}
WHY = {
    "UNPLACED": "What has no place goes missing without anyone noticing.",
    "POCKETS_MEET": "One hole for two things holds neither of them.",
    "THIN_WALL": "Thin walls tear while the pocket is peeled, and bend when a tool leans on them.",
    "WALL_THIN_FOR_DEPTH": "The deeper a wall stands free, the thicker it must be to stay upright.",
    "THIN_EDGE": "A thin outer wall is floppy, and tears when the insert is lifted.",
    "OUTSIDE_BLANK": "There is no foam to cut here.",
    "FLOOR_GONE": "The knife comes out underneath, and nothing carries the tool.",
    "TOO_HIGH": "The drawer or lid will not close over it.",
    "HELD_UP": "It would sit deeper by its seat, but the floor of the foam must stay.",
    "STACK_TOO_HIGH": "The sheets together do not go into the container.",
    "NO_GRIP": "It stands out too little to be held, and has no finger pull.",
    "PULL_SMALL": "A fingertip needs about one square centimetre beside the tool.",
    "PULL_ASTRAY": "The finger pull no longer touches what it is there for.",
    "SLIVER": "Scraps this thin tear off and are lost in the pocket.",
}
SEVERITY = {"stop": "Stop", "care": "Care", "note": "Note"}


def placement_name(project: Project, key: str) -> str:
    """Return what a person calls the placement: the item's name, with its number where there are several."""
    item_id, _, copy = key.rpartition("#")
    try:
        item = item_of(project, item_id)
    except KeyError:
        return key
    return f"{item.name} {copy}" if item.quantity > 1 else item.name


def named(project: Project, keys: tuple[str, ...]) -> str:
    """Return the names of placements joined for a sentence."""
    names = [f"‘{placement_name(project, key)}’" for key in keys]
    if len(names) > 3:
        names = [*names[:2], f"{len(names) - 2} others"]
    if len(names) < 2:
        return "".join(names)
    return ", ".join(names[:-1]) + " and " + names[-1]


def finding_text(project: Project, finding: Finding) -> str:
    """Return the finding as one sentence with its figure and its limit."""
    who = named(project, finding.placements)
    value, limit = _figure(project, finding.value, finding.unit), _figure(project, finding.limit, finding.unit)
    layer = f" in layer {finding.layer}" if finding.layer else ""
    what = "finger pull" if finding.subject == "pull" else "pocket"
    match finding.code:
        case "UNPLACED":
            return f"{who} {'lies' if len(finding.placements) == 1 else 'lie'} in no insert yet."
        case "POCKETS_MEET":
            return f"The {what}s of {who} run into each other{layer}; {limit} of foam should stand between."
        case "THIN_WALL":
            return f"Only {value} of foam between {who}{layer}; it should be {limit}."
        case "WALL_THIN_FOR_DEPTH":
            return f"{value} of foam between {who}{layer} keep your figure; at that depth {limit} stand better."
        case "THIN_EDGE":
            return f"Only {value} of foam from {who} to the edge; it should be {limit}."
        case "OUTSIDE_BLANK":
            over = _figure(project, -finding.value, finding.unit)
            return f"{who} reaches {over} beyond the foam."
        case "FLOOR_GONE":
            return f"{value} of foam stay under {who}; it should be {limit}."
        case "TOO_HIGH":
            return f"{who} stands {value} above the foam; there is room for {limit}."
        case "HELD_UP":
            return f"{who} rests {value} deep: the floor ends at {limit}."
        case "STACK_TOO_HIGH":
            return f"The sheets are {value} high; the container holds {limit}."
        case "NO_GRIP":
            return f"{who} stands out {value} and has no finger pull; {limit} can be held without."
        case "PULL_SMALL":
            return f"The finger pull opens {value} beside {who}; it needs {limit}."
        case "PULL_ASTRAY":
            return f"A finger pull no longer reaches {who}."
        case "SLIVER":
            return f"A scrap of foam of {value} stays between the pocket and the pull of {who}."


def _figure(project: Project, value: float, unit: str) -> str:
    if unit == "mm":
        return format_length(value, project.units)
    return f"{value:.0f} {unit}".strip()


def mend_text(project: Project, mend: Mend) -> str:
    """Return what the mend's button says."""
    match mend.kind:
        case "move_clear":
            return f"Move ‘{placement_name(project, mend.target)}’ clear"
        case "lay_in":
            return "Find it a place"
        case "fewer_layers":
            return "Leave the floor in"
        case "lower_seat":
            return "Sink it deeper"
        case "seat_by_rule":
            return "Seat it by rule"
        case "add_pull":
            return "Add a finger pull"
        case "remove_pull":
            return "Take the finger pull away"
        case "thinner_stack":
            return "Take the lowest sheet out"
