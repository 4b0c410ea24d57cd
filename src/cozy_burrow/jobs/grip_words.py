"""How things are got out and how they hold, in words."""

from __future__ import annotations

from cozy_burrow.core.depth.hold import CUT_MM, TIGHTER_MM, Calibration, Change, sensitivity
from cozy_burrow.core.ground.gripping import Given
from cozy_burrow.core.ground.grips import Grip
from cozy_burrow.core.ground.holding import HAND_N, HoldCase, Holding
from cozy_burrow.core.pulls.press import PUSH_N, RISES_MM
from cozy_burrow.core.pulls.reach import FINGER_FLAT, SPAN_MM, Reach
from cozy_burrow.core.tongue import decimal, tr
from cozy_burrow.core.units import Unit, format_fine, format_length

_WORTH_SAYING = 0.05  # of the sides: less glued-in foam changes no figure that is shown
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
            return tr("Comes out by its hook: it needs no pull.")
        case "hollow":
            return tr("Comes out by its hollow handle: it needs no pull.")
        case "proud":
            return tr("Comes out: it sticks up {proud}, enough to hold.", proud=length(grip.proud_mm))
        case "ribbon":
            return tr("Comes out by its ribbon: pull both ends.")
        case "none":
            return tr(
                "Can't be lifted out: it sticks up {proud} and has no pull.", proud=length(max(0.0, grip.proud_mm))
            )
        case "press":
            press = grip.press
            assert press is not None
            how = tr(
                "a push of {push:.1f} N on its press point lifts the other end {rise}",
                push=press.push_n,
                rise=length(press.rise_mm),
            )
            return (
                tr("Comes out: {how}.", how=how)
                if press.works
                else tr("Hard to lift out: {how}; {rises} needed.", how=how, rises=length(RISES_MM))
            )
    assert grip.reach is not None
    return _reach_text(grip.reach, unit)


def _reach_text(reach: Reach, unit: Unit) -> str:
    sides = tr("on both sides") if reach.sides == 2 else tr("on one side, the thumb on the other")
    room = format_length(reach.opening_mm, unit)
    off = (
        tr("at its balance point")
        if reach.off_mm < 3.0
        else tr("{off} from its balance point", off=format_length(reach.off_mm, unit))
    )
    how = tr("fingers go in {sides}, {room} of room, {off}", sides=sides, room=room, off=off)
    if not reach.troubles:
        level = reach.sides == 2 and reach.moment_nmm < 0.5 * reach.limit_nmm
        return tr("Comes out level: {how}.", how=how) if level else tr("Comes out: {how}.", how=how)
    why = {
        "narrow": tr("the opening is too tight for a fingertip"),
        "shallow": tr("the pull ends {past} too high", past=format_length(-reach.past_mm, unit)),
        "deep": tr(
            "the opening is too tight for a finger to reach {down} down", down=format_length(reach.down_mm, unit)
        ),
        "askew": tr(
            "it would tip out of the fingers ({moment_nmm:.0f} of {limit_nmm:.0f} N·mm)",
            moment_nmm=reach.moment_nmm,
            limit_nmm=reach.limit_nmm,
        ),
        "wide": tr("the hand must span {span}", span=format_length(reach.span_mm, unit)),
        "misses": tr("its pull misses it"),
    }[reach.troubles[0]]
    return tr("Hard to lift out: {why}; {how}.", why=why, how=how)


def grip_why(finger_mm: float, unit: Unit) -> str:
    """Return how the verdict is found, for the hover."""

    def length(length_mm: float) -> str:
        return format_length(length_mm, unit)

    return tr(
        "A fingertip is taken as {finger} broad and {finger_flat} thick (Measure, Rules: larger "
        "with gloves). Fingers must pass the middle of a round item by {length}, or find "
        "{length_2} of side. Two pads hold 100 N·mm of tipping, one 60; a hand spans {span}; a "
        "press point must lift the other end by {rises} at up to {push:g} N. Weights not given "
        "are estimated from the volume.",
        finger=length(finger_mm),
        finger_flat=length(FINGER_FLAT * finger_mm),
        length=length(2.0),
        length_2=length(8.0),
        span=length(SPAN_MM),
        rises=length(RISES_MM),
        push=PUSH_N,
    )


def given_text(given: Given) -> str:
    """Return why a pull was chosen."""
    match given.why:
        case "row":
            return tr("in a row with one trench")
        case "line":
            return tr("in line with its neighbour's pair")
        case "balance":
            return tr("at the balance point")
        case "room":
            return tr("where there is room")
        case "press":
            return tr("with a press point, since nothing fits beside it")
        case "none":
            return tr("without any")


def hold_text(holding: Holding) -> str:
    """Return how hard the foam holds a thing, and what that is enough for."""
    hold = holding.hold
    newtons = decimal(f"{holding.weight_n:.1f} N")
    weight = newtons if holding.weighed else tr("{newtons} (estimated)", newtons=newtons)
    if hold.squeezed:
        start = tr(
            "Squeezed out: so shallow in a snug pocket, the foam presses it up. It weighs {weight}.", weight=weight
        )
    elif hold.high_n < 0.05:
        start = tr("The foam does not grip it: its pocket is larger. It weighs {weight}.", weight=weight)
    elif hold.interference_mm <= CUT_MM:
        start = tr(
            "On the line the foam grips it with nothing to {high:.0f} N; it weighs {weight}.",
            high=hold.high_n,
            weight=weight,
        )
    else:
        start = tr(
            "Held with about {grip:.0f} N ({low:.0f} to {high:.0f}); it weighs {weight}.",
            grip=hold.grip_n,
            low=hold.low_n,
            high=hold.high_n,
            weight=weight,
        )
    if hold.glued_share >= _WORTH_SAYING:
        start += tr(" {share:.0f} % of its sides is glued-in foam, which counts half.", share=100 * hold.glued_share)
    cases = [text for case in holding.cases if (text := _case_text(case))]
    return f"{start} {' '.join(cases)}"


CASES: dict[str, str] = {
    "upside down": tr("Upside down"),
    "on edge": tr("On edge"),
    "on the wall": tr("On the wall"),
    "jolt": tr("Jolt"),
    "by hand": tr("By hand"),
}


def _case_text(case: HoldCase) -> str:
    if case.by_lid:
        return tr("{name}: kept by what closes over it.", name=CASES[case.name])
    if case.name == "by hand":
        return {
            "holds": "",
            "unsure": tr("May want more than the {hand:.0f} N that fingers pull.", hand=HAND_N),
            "captive": "",
            "gives way": tr("Too tight: fingers pull {hand:.0f} N.", hand=HAND_N),
        }[case.says]
    need = tr(" (needs {needed:.1f} N)", needed=case.needed_n) if case.needed_n > 0.05 else ""
    if case.says == "captive":
        return tr("{name}: captive; it may rattle.", name=CASES[case.name])
    says = {"holds": tr("holds"), "unsure": tr("unsure"), "gives way": tr("loose")}[case.says]
    return f"{CASES[case.name]}: {says}{need}."


_CHANGES: dict[Change, str] = {
    "tighter": tr("{by} tighter"),
    "stiffer": tr("foam 10 % stiffer"),
    "rougher": tr("friction 0.1 more"),
    "thinner": tr("foam beside it a third thinner"),
}


def hold_why(holding: Holding, calibration: Calibration, unit: Unit) -> str:
    """Return formula, assumptions and sensitivity, for the hover."""
    hold = holding.hold
    tighter = format_fine(TIGHTER_MM, unit)
    changes = "; ".join(f"{_CHANGES[what].format(by=tighter)}: {by:+.1f} N" for what, by in sensitivity(hold))
    known = (
        tr(
            "{tests} pull tests: measured {factor:.2f} times the estimate.",
            tests=calibration.tests,
            factor=calibration.factor,
        )
        if calibration.tests
        else tr(
            "No pull test yet: foam ± 30 %, friction ± 40 %, depth ± 30 %, cut ± {unit}.", unit=format_fine(0.3, unit)
        )
    )
    return tr(
        "Friction {friction:g} × pressure {pressure:.1f} kPa × touching side {contact_mm2:.0f} "
        "cm². Pressure: {stiffness:.0f} kPa at a quarter pressed in, {interference} over "
        "{strained} of foam. {known} Changes: {changes}. In the weeks in which an item lies in "
        "it, foam gives up a third to a half of that.",
        friction=hold.friction,
        pressure=hold.pressure_kpa,
        contact_mm2=hold.contact_mm2 / 100,
        stiffness=hold.stiffness_kpa,
        interference=format_fine(max(0.0, hold.interference_mm), unit),
        strained=format_length(hold.strained_mm, unit, digits=0),
        known=known,
        changes=changes,
    )
