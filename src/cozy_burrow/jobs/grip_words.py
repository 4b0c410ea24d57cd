"""How things are got out and how they hold, in words."""

from __future__ import annotations

from cozy_burrow.core.depth.hold import CUT_MM, TIGHTER_MM, Calibration, Change, sensitivity
from cozy_burrow.core.ground.gripping import Given
from cozy_burrow.core.ground.grips import Grip
from cozy_burrow.core.ground.holding import HAND_N, HoldCase, Holding
from cozy_burrow.core.pulls.press import PUSH_N, RISES_MM
from cozy_burrow.core.pulls.reach import FINGER_FLAT, SPAN_MM, Reach
from cozy_burrow.core.units import Unit, format_fine, format_length

MARKS = {"good": "✓", "poor": "!", "no": "✗"}


def mark_of(grip: Grip) -> str:
    """Return the mark of a verdict: out easily, with trouble, not at all."""
    return MARKS["good"] if grip.good else (MARKS["poor"] if grip.possible else MARKS["no"])


def grip_text(grip: Grip, unit: Unit) -> str:
    """Answer: can I get it out?"""

    def length(length_mm: float) -> str:
        return format_length(length_mm, unit)

    match grip.how:
        case "hook":
            return "Comes out by its hook: it needs no pull."
        case "hollow":
            return "Comes out by its hollow handle: it needs no pull."
        case "proud":
            return f"Comes out: it sticks up {length(grip.proud_mm)}, enough to hold."
        case "ribbon":
            return "Comes out by its ribbon: pull both ends."
        case "none":
            return f"Can't be lifted out: it sticks up {length(max(0.0, grip.proud_mm))} and has no pull."
        case "press":
            press = grip.press
            assert press is not None
            how = f"a push of {press.push_n:.1f} N on its press point lifts the other end {length(press.rise_mm)}"
            return f"Comes out: {how}." if press.works else f"Hard to lift out: {how}; {length(RISES_MM)} needed."
    assert grip.reach is not None
    return _reach_text(grip.reach, unit)


def _reach_text(reach: Reach, unit: Unit) -> str:
    sides = "on both sides" if reach.sides == 2 else "on one side, the thumb on the other"
    room = format_length(reach.opening_mm, unit)
    off = (
        "at its balance point" if reach.off_mm < 3.0 else f"{format_length(reach.off_mm, unit)} from its balance point"
    )
    how = f"fingers go in {sides}, {room} of room, {off}"
    if not reach.troubles:
        level = reach.sides == 2 and reach.moment_nmm < 0.5 * reach.limit_nmm
        return f"Comes out{' level' if level else ''}: {how}."
    why = {
        "narrow": "the opening is too tight for a fingertip",
        "shallow": f"the pull ends {format_length(-reach.past_mm, unit)} too high",
        "deep": f"the opening is too tight for a finger to reach {format_length(reach.down_mm, unit)} down",
        "askew": f"it would tip out of the fingers ({reach.moment_nmm:.0f} of {reach.limit_nmm:.0f} N·mm)",
        "wide": f"the hand must span {format_length(reach.span_mm, unit)}",
        "misses": "its pull misses it",
    }[reach.troubles[0]]
    return f"Hard to lift out: {why}; {how}."


def grip_why(finger_mm: float, unit: Unit) -> str:
    """Return how the verdict is found, for the hover."""

    def length(length_mm: float) -> str:
        return format_length(length_mm, unit)

    return (
        f"A fingertip is taken as {length(finger_mm)} broad and {length(FINGER_FLAT * finger_mm)} thick (Measure, "
        f"Rules: larger with gloves). Fingers must pass the middle of a round thing by {length(2.0)}, or find "
        f"{length(8.0)} of side. Two pads hold 100 N·mm of tipping, one 60; a hand spans {length(SPAN_MM)}; a press "
        f"point must lift the other end by {length(RISES_MM)} at up to {PUSH_N:g} N. Weights not given are "
        "estimated from the volume."
    )


def given_text(given: Given) -> str:
    """Return why a pull was chosen."""
    match given.why:
        case "row":
            return "in a row with one trench"
        case "line":
            return "in line with its neighbour's pair"
        case "balance":
            return "at the balance point"
        case "room":
            return "where there is room"
        case "press":
            return "with a press point, since nothing fits beside it"
        case "none":
            return "without any"


def hold_text(holding: Holding) -> str:
    """Return how hard the foam holds a thing, and what that is enough for."""
    hold = holding.hold
    weight = f"{holding.weight_n:.1f} N{'' if holding.weighed else ' (estimated)'}"
    if hold.squeezed:
        start = f"Squeezed out: so shallow in a snug pocket, the foam presses it up. It weighs {weight}."
    elif hold.high_n < 0.05:
        start = f"The foam does not grip it: its pocket is larger. It weighs {weight}."
    elif hold.interference_mm <= CUT_MM:
        start = f"On the line the foam grips it with nothing to {hold.high_n:.0f} N; it weighs {weight}."
    else:
        start = f"Held with about {hold.grip_n:.0f} N ({hold.low_n:.0f} to {hold.high_n:.0f}); it weighs {weight}."
    cases = [text for case in holding.cases if (text := _case_text(case))]
    return f"{start} {' '.join(cases)}"


def _case_text(case: HoldCase) -> str:
    if case.by_lid:
        return f"{case.name.capitalize()}: kept by what closes over it."
    if case.name == "by hand":
        return {
            "holds": "",
            "unsure": f"May want more than the {HAND_N:.0f} N that fingers pull.",
            "captive": "",
            "gives way": f"Too tight: fingers pull {HAND_N:.0f} N.",
        }[case.says]
    need = f" (needs {case.needed_n:.1f} N)" if case.needed_n > 0.05 else ""
    if case.says == "captive":
        return f"{case.name.capitalize()}: captive; it may rattle."
    says = {"holds": "holds", "unsure": "unsure", "gives way": "loose"}[case.says]
    return f"{case.name.capitalize()}: {says}{need}."


_CHANGES: dict[Change, str] = {
    "tighter": "{by} tighter",
    "stiffer": "foam 10 % stiffer",
    "rougher": "friction 0.1 more",
    "thinner": "foam beside it a third thinner",
}


def hold_why(holding: Holding, calibration: Calibration, unit: Unit) -> str:
    """Return formula, assumptions and sensitivity, for the hover."""
    hold = holding.hold
    tighter = format_fine(TIGHTER_MM, unit)
    changes = "; ".join(f"{_CHANGES[what].format(by=tighter)}: {by:+.1f} N" for what, by in sensitivity(hold))
    known = (
        f"{calibration.tests} pull tests: measured {calibration.factor:.2f} times the estimate."
        if calibration.tests
        else f"No pull test yet: foam ± 30 %, friction ± 40 %, depth ± 30 %, cut ± {format_fine(0.3, unit)}."
    )
    return (
        f"Friction {hold.friction:g} × pressure {hold.pressure_kpa:.1f} kPa × touching side "
        f"{hold.contact_mm2 / 100:.0f} cm². "
        f"Pressure: {hold.stiffness_kpa:.0f} kPa at a quarter pressed in, "
        f"{format_fine(max(0.0, hold.interference_mm), unit)} over "
        f"{format_length(hold.strained_mm, unit, digits=0)} of foam. {known} Changes: {changes}. "
        "In the weeks in which a thing lies in it, foam gives up a third to a half of that."
    )
