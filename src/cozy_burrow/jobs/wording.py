"""Findings in words, for the window, the papers and the command line alike."""

from __future__ import annotations

from cozy_burrow.core.errors import Gone
from cozy_burrow.core.findings.finding import Finding, Mend
from cozy_burrow.core.model.edits import item_of
from cozy_burrow.core.model.records import Project, Seat
from cozy_burrow.core.units import format_length

SEAT_NAMES: dict[Seat, str] = {
    "judged": "by judgement",
    "half": "half sunk",
    "flush": "flush",
    "proud": "proud",
    "lid": "up to lid or tier",
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
    "SEAT_COSTS": "What its seat costs",
    "LIES_ASKEW": "Not level",
    "ROCKS": "Rocks in its pocket",
    "UNDER": "In an under-pocket",
    "LOOSE": "Loose",
    "TOO_TIGHT": "Too tight",
    "CAPTIVE": "Captive",
    "SQUEEZED": "Squeezed out",
    "STRIKES": "Strikes what stands in",
    "STACK_TOO_HIGH": "Stack too high",
    "NO_GRIP": "No way to grip it",
    "GRIP_POOR": "Hard to get out",
    "PULL_SMALL": "Finger pull too small",
    "PULL_ASTRAY": "Finger pull misses",
    "SLIVER": "Sliver of foam",
    "SLIT": "One slit",
    "SURVEY_BROKEN": "Distances contradict each other",
    "SURVEY_SHORT": "Survey not finished",
    "SURVEY_UNSURE": "Corners not sure",
    "TAPE_AGAIN": "Tape one distance again",
    "DRAFT_CLOSES": "Walls meet",
    "TIER_STUCK": "Does not lift out",
    "LIP_CREASES": "Creases at the lip",
    "NO_STRAPS": "Nothing to lift it by",
    "ON_FIXING": "Over a fixing point",
    "IN_SPARE": "In an area kept free",
    "HEAVY": "Heavy to lift",
    "HANGS_ASKEW": "Hangs to one side",
}
WHY = {
    "IN_SPARE": "The area was kept for something that is still to come.",
    "UNPLACED": "What has no place goes missing without anyone noticing.",
    "POCKETS_MEET": "One hole for two things holds neither of them.",
    "THIN_WALL": "Thin walls tear while the pocket is peeled, and bend when a tool leans on them.",
    "WALL_THIN_FOR_DEPTH": "The deeper a wall stands free, the thicker it must be to stay upright.",
    "THIN_EDGE": "A thin outer wall is floppy, and tears when the insert is lifted.",
    "OUTSIDE_BLANK": "There is no foam to cut here.",
    "FLOOR_GONE": "The knife comes out underneath, and nothing carries the tool.",
    "TOO_HIGH": "The drawer, the lid or the tier above will not close over it.",
    "SEAT_COSTS": "You named its seat, so it is kept; by judgement the program would take other layers.",
    "HELD_UP": "It would sit deeper by its seat, but the floor of the foam must stay.",
    "LIES_ASKEW": "A tool that dips at one end works itself loose, and its high end meets the lid first.",
    "LOOSE": "What leaves its pocket on the road strikes everything else. An estimate: try a coupon or a pull test.",
    "CAPTIVE": "What closes over it is nearer than its pocket is deep, so it cannot leave; it may rattle all the same.",
    "SQUEEZED": "Below its middle foam presses a round thing up as well as in: a shallow snug pocket pushes it out.",
    "TOO_TIGHT": "A thing that has to be pried out tears its foam, and is left lying about instead.",
    "STRIKES": "A rib, post or latch bulge stands where the thing sticks out of the foam.",
    "UNDER": "What lies below is forgotten easily: label it, and take the upper thing out first.",
    "ROCKS": "Hardly anything but its weight keeps it down: it rattles on the road and stands crooked in the drawer.",
    "STACK_TOO_HIGH": "The sheets together do not go into the container.",
    "NO_GRIP": "It stands out too little to be held, and has no finger pull.",
    "GRIP_POOR": "What cannot be taken with two fingers is pried out, and the foam tears with it.",
    "PULL_SMALL": "A fingertip needs about one square centimetre beside the tool.",
    "PULL_ASTRAY": "The finger pull no longer touches what it is there for.",
    "SLIVER": "Scraps this thin tear off and are lost in the pocket.",
    "SLIT": "So thin a strip of foam cannot be cut out: one slit with the knife, and the foam gives.",
    "SURVEY_BROKEN": "No outline can have these distances: the straight way is never longer than the way round.",
    "SURVEY_SHORT": "With fewer distances the corners can still move against each other.",
    "SURVEY_UNSURE": "A blank cut from unsure corners rattles, or does not go in.",
    "TAPE_AGAIN": "One distance does not go with the others: a slip of the tape shifts corners by millimetres.",
    "DRAFT_CLOSES": "With this draft the walls have met before the sheet's height: there is no inside left to fill.",
    "TIER_STUCK": "What is wider than the opening above it must be squeezed past, and tears.",
    "LIP_CREASES": "The blank must be bent to pass the front lip; foam this thick creases. Thinner sheets go in.",
    "NO_STRAPS": "A tier that fits snugly has nothing to be held by: a strap under it lifts it level.",
    "ON_FIXING": "A screw or bolt comes through here: the knife would meet it, and the panel would lose its hold.",
    "HEAVY": "Above the limit two people lift. Your local rule counts; the figure is yours to set.",
    "HANGS_ASKEW": "A case that hangs to one side pulls at the wrist and bangs against the leg.",
}
SEVERITY = {"stop": "Stop", "care": "Care", "note": "Note"}


def placement_name(project: Project, key: str) -> str:
    """Return what a person calls the placement: the item's name, with its number where there are several."""
    item_id, _, copy = key.rpartition("#")
    try:
        item = item_of(project, item_id)
    except Gone:
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
        case "SEAT_COSTS":
            return _seat_costs(finding.extra, who, value, limit)
        case "LIES_ASKEW":
            return f"{who} is not level: {finding.value:.1f}° off; up to {finding.limit:.0f}° goes unnoticed."
        case "LOOSE" if finding.value < 0.05:
            return f"Nothing holds {who}: its pocket is larger; {finding.extra} takes {limit}. {_HELPS['fit']}"
        case "LOOSE":
            at_most = "nothing to" if finding.subject == "fit" else "at most"
            helps = _HELPS.get(finding.subject, _HELPS["fit"])
            return f"{who} is held with {at_most} {value}; {finding.extra} takes {limit}. {helps}"
        case "CAPTIVE":
            return (
                f"{who} cannot leave: its pocket is {limit} deep, with {value} of air above it. It may rattle. "
                f"{_HELPS.get(finding.subject, _HELPS['fit'])}"
            )
        case "SQUEEZED":
            return (
                f"{who} lies {value} deep in a snug pocket, which presses it out; {limit} would hold. "
                "Sink it deeper, or cut its pocket on the line."
            )
        case "TOO_TIGHT":
            return f"{who} holds with {value} at least; fingers pull {limit}."
        case "STRIKES":
            return f"{who} stands {value} proud under ‘{finding.extra}’, which leaves {limit}."
        case "UNDER":
            lower, upper = (named(project, (key,)) for key in finding.placements)
            return f"{lower} lies under {upper}: take {upper} out first, put it back last."
        case "ROCKS":
            return f"A push of {value} of its weight at its end tips {who}; it should take {limit}."
        case "STACK_TOO_HIGH":
            return f"The sheets are {value} high; the container holds {limit}."
        case "NO_GRIP" if finding.value < 0:
            below = _figure(project, -finding.value, finding.unit)
            return f"{who} lies {below} below the surface and has no finger pull; {limit} above it can be held without."
        case "NO_GRIP":
            return f"{who} stands out {value} and has no finger pull; {limit} can be held without."
        case "GRIP_POOR":
            return f"{who}: {_poor(finding.extra, value, limit)}"
        case "PULL_SMALL":
            return f"The finger pull opens {value} beside {who}; it needs {limit}."
        case "PULL_ASTRAY":
            return f"A finger pull no longer reaches {who}."
        case "SURVEY_BROKEN":
            return f"{finding.extra} was taped as {value}, but the way round over other corners is only {limit}."
        case "SURVEY_SHORT":
            more = f"{finding.value:.0f} more {'distance is' if finding.value == 1 else 'distances are'} needed"
            return f"{more}; tape {finding.extra} next." if finding.extra else f"{more}."
        case "SURVEY_UNSURE":
            helps = f"taping {finding.extra} helps most" if finding.extra else "tape more distances between corners"
            return f"The corners are sure to ± {value} only; {helps}."
        case "TAPE_AGAIN":
            return f"{finding.extra} is {value} off what all other distances say: tape it again."
        case "DRAFT_CLOSES":
            return f"{_insert_name(project, finding)}: {value} below the rim the walls have met."
        case "TIER_STUCK":
            return f"{_insert_name(project, finding)} must be pressed in by {value} to come out; {limit} can be."
        case "LIP_CREASES":
            return f"Passing the front lip stretches the foam by {finding.value:.0f} %; {finding.limit:.0f} % can be."
        case "NO_STRAPS":
            return f"{_insert_name(project, finding)} has no lift strap."
        case "ON_FIXING":
            return f"{who} comes within {value} of a fixing point; it should keep {limit}."
        case "IN_SPARE":
            return f"{who} takes {value} of an area that is kept free."
        case "HEAVY":
            return (
                f"{_insert_name(project, finding)} weighs {finding.value:.1f} kg loaded; two people lift above {limit}."
            )
        case "HANGS_ASKEW":
            return f"{_insert_name(project, finding)} hangs {finding.value:.0f}° to the {finding.extra} of its handle."
        case "SLIT":
            return f"{who} or a part of it is {value} wide: cut one slit there; a strip is cut out from {limit} on."
        case "SLIVER":
            return f"A scrap of foam of {value} stays between the pocket and the pull of {who}."


_HELPS = {
    "fit": "A snug pocket, the lid's foam on it, or a strap would hold it.",
    "walls": "The foam beside it bends away: thicker walls, the lid's foam on it, or a strap would hold it.",
    "depth": "Deeper in the foam, the lid's foam on it, or a strap would hold it.",
}


def _seat_costs(cost: str, who: str, value: str, limit: str) -> str:
    """Return what a named seat costs, with its figure."""
    match cost:
        case "untouched":
            return (
                f"Its seat leaves {who} {value} proud; the lid's foam touches only what stands out more than {limit}."
            )
        case "shallow":
            return f"Its seat sinks {who} {value} only; half of it would be {limit}."
        case _:
            return f"Its seat buries {who} {value} below the surface; fingers follow {limit} easily."


def _poor(trouble: str, value: str, limit: str) -> str:
    """Return what is wrong with a grip, with its figure."""
    match trouble:
        case "narrow":
            return f"the opening beside it is {value}; a fingertip needs {limit}."
        case "shallow":
            return f"its pull ends {value} above where fingers hold it."
        case "deep":
            return f"the opening beside it is {value}; to reach so far down, fingers need {limit}."
        case "askew":
            return f"gripped so far from its balance point it pulls {value} at the fingers; they hold {limit}."
        case "wide":
            return f"the hand must span {value}; it does {limit}."
        case "lies":
            return f"a push on its press point lifts the other end {value}; {limit} can be taken."
        case "heavy":
            return f"its press point takes a push of {value}; a finger gives {limit}."
        case _:
            return "its finger pull misses it."


def subject_name(project: Project, finding: Finding) -> str:
    """Return what a finding without things speaks of: an insert, a container, or the insert that is shown."""
    name = _insert_name(project, finding)
    return name if name != "It" else "the whole insert"


def _insert_name(project: Project, finding: Finding) -> str:
    names = {one.id: one.name for one in project.containers} | {one.id: one.name for one in project.inserts}
    return f"‘{names[finding.subject]}’" if finding.subject in names else "It"


def _figure(project: Project, value: float, unit: str) -> str:
    if unit == "mm":
        return format_length(value, project.units)
    if unit == "°":
        return f"{value:.1f}°"
    if unit == "N" and value < 9.95:
        return f"{value:.1f} N"  # small forces count too: nothing is ever said to pull with 0 N
    return f"{value:.0f} {unit}".strip()


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
