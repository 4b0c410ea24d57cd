"""What is said at the bench of every line: why it has its turn, how it is cut, what to look out for there."""

from __future__ import annotations

import math
from collections.abc import Sequence

from cozy_burrow.core.bench.cut import Cut, Reason
from cozy_burrow.core.bench.forecast import Forecast, SheetWork
from cozy_burrow.core.bench.glue import Joint
from cozy_burrow.core.bench.methods import METHODS
from cozy_burrow.core.bench.remedies import Fault
from cozy_burrow.core.bench.work import BenchCut, Care
from cozy_burrow.core.model.names import SIDE_NAMES
from cozy_burrow.core.model.vessels import Side
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import Unit, format_length
from cozy_burrow.export.paper import CAUTIONS
from cozy_burrow.export.templates_pdf import Way

WHY: dict[Reason, str] = {
    "PULLS_LAST": tr("finger pulls come last, so walls stay firm while pockets are cut"),
    "OUTSIDE_IN": tr("corners first, middle last: what is cut at the rim can't be shifted later"),
    "SINK_FIRST": tr("deep part first: once it is sunk, the rest can be marked in its true place"),
    "MARK_NOW": tr("put the item into its deep part and mark the rest now"),
    "UNDER_LATER": tr("under-pocket: the pocket above it must be peeled first"),
    "SAME_BLADE": tr("same blade setting"),
    "ALONG_RULE": tr("the rule is already out"),
    "SHORT_WAY": tr("nearest to the last cut"),
}
_TELLING = {"PULLS_LAST", "OUTSIDE_IN", "SINK_FIRST", "MARK_NOW", "UNDER_LATER"}  # the others are seen
_STEPS: dict[str, str] = {
    "pluck": tr("Pluck whole cubes along the line, the outer ones last; tape what crumbles."),
    "hot-pin": tr("Try the heat on waste. Draw the pin steadily: too cold it drags, too hot the hole grows."),
    "warm-saw": tr("Warm the saw, set it on its centre over a backing board, turn it slowly to its mark."),
    "saw": tr("Set it on its centre over a backing board and turn it slowly to its mark."),
    "through": tr("Cut right through in passes, upright; slice the plug for the riser and put that back."),
    "slit": tr("One slit along the line; nothing is taken out, the foam gives."),
    "rule": tr("Lay the rule along each straight run; past a corner, inside the line, an overrun does no harm."),
    "narrow": tr("Take the narrow blade through the bends and turn the sheet, not the wrist."),
    "knife": tr("Score the line, check it, then deepen pass by pass, upright."),
}
_CARE: dict[Care, str] = {
    "THROUGH": tr("Cuts through: use a backing board, know where the tip comes out."),
    "ONE_LAYER_LEFT": tr("Only one layer stays below: stop at the layer line."),
    "BASE_STOPS": tr("Stop at the contrast base."),
    "FROM_LEDGE": tr("If the upper layers are peeled already, set the blade from the ledge."),
    "HOT": CAUTIONS[1],
    "TURNS": CAUTIONS[2],
    "MARK_SECOND": tr("Mark it again with the item sunk before you cut."),
}


def way_in_words(one: BenchCut, unit: Unit) -> Way:
    """Return all that is said of a line on paper."""
    return Way(
        method=capital(method_text(one)),
        steps=steps_text(one),
        passes=passes_text(one, unit),
        why=WHY[one.cut.why[0]] if one.cut.why[0] in _TELLING else "",
        care=care_texts(one, unit, always=False, on_paper=True),
    )


def passes_text(one: BenchCut, unit: Unit) -> str:
    """Return how far the blade stands out pass by pass, over the sheet's top."""
    first = (format_length(each, unit, suffix=False) for each in one.passes_mm[:-1])
    return " · ".join((*first, format_length(one.passes_mm[-1], unit)))


def why_text(cut: Cut) -> str:
    """Return why a line has its turn: the strongest reason, and that the blade stays as it is."""
    first = WHY[cut.why[0]]
    return f"{first}; {WHY['SAME_BLADE']}" if "SAME_BLADE" in cut.why[1:] else first


FROM_WHAT = tr(
    "Counts metres (straight and curved, every pass), pockets, peeled layers, pulls and blade settings, each at its "
    "own speed. A routine drawer takes about 25 minutes and two blades. The range holds in 4 of 5 cases and narrows as "
    "your log grows."
)


def took_text(forecast: Forecast, works: Sequence[SheetWork]) -> str:
    """Return how long some sheets take and how many blades, with their ranges."""
    minutes, blades = forecast.minutes(works), forecast.blades(works)
    worn = f"{blades.low:.0f}–{blades.high:.0f}" if blades.low < blades.high else f"{blades.likely:.0f}"
    return tr(
        "about {likely} ({low} to {high}), {worn} blades",
        likely=time_text(minutes.likely),
        low=time_text(minutes.low),
        high=time_text(minutes.high),
        worn=worn,
    )


def time_text(minutes: float) -> str:
    """Return a time as one says it: minutes, to five from half an hour on, hours and minutes to the quarter."""
    if minutes < 30:
        return tr("{minutes:.0f} min", minutes=max(1.0, minutes))
    if minutes < 115:
        return tr("{minutes:.0f} min", minutes=5 * round(minutes / 5))
    hours, quarters = divmod(round(minutes / 15), 4)
    if not quarters:
        return tr("{hours} h", hours=hours)
    return tr("{hours} h {minutes:02} min", hours=hours, minutes=15 * quarters)


FAULT_NAMES: dict[Fault, str] = {
    "tight": tr("Too tight"),
    "loose": tr("Too loose"),
    "deep": tr("Too deep"),
    "shallow": tr("Too shallow"),
    "place": tr("Wrong place"),
}


def remedy_text(fault: Fault, by_mm: float, unit: Unit, *, on_riser: bool = False, side: Side | None = None) -> str:
    """Return what is done against a fault of a fit, with its figures. by_mm, side: as `mended_fit` takes them.

    on_riser: something of the plug lay under it.
    """
    by = format_length(abs(by_mm), unit)
    where = SIDE_NAMES[side] if side is not None else ""
    match fault:
        case "tight" if side is not None:
            return tr("Shave {by} off its {side} wall, a little at a time.", by=by, side=where)
        case "loose" if side is not None:
            return tr("Glue a {by} foam strip along its {side} wall: press 5 minutes, cure 1 hour.", by=by, side=where)
        case "tight":
            return tr("Shave {by} off the wall all round, a little at a time.", by=by)
        case "loose":
            return tr("Glue {by} foam strips along the wall: press 5 minutes, cure 1 hour.", by=by)
        case "deep":
            return tr("Glue {by} of the plug back under it as a riser.", by=by)
        case "shallow" if on_riser:
            return tr("Take {by} off the riser under it.", by=by)
        case "shallow":
            return tr("Cut one layer deeper: set the blade from the ledge, cut, peel.")
        case "place":
            return tr("Glue the plug back (press 5 minutes, cure 1 hour), then cut in the right place.")


_BREAKS: dict[Reason, str] = {
    "PULLS_LAST": tr("pull before pockets: its wall gets thin while pockets are still to be cut"),
    "OUTSIDE_IN": tr("middle before rim: the sheet may have moved when the rim is cut"),
    "SINK_FIRST": tr("floating part before the deep part is sunk: it is marked in the wrong place"),
    "UNDER_LATER": tr("under-pocket before the pocket above it"),
}


def breaks_text(cut: Cut) -> str:
    """Return which rules a cut breaks where the fitter has put it; empty where it breaks none."""
    return "; ".join(_BREAKS[one] for one in cut.breaks)


def glue_text(joints: Sequence[Joint], now_s: float) -> str:
    """Return what glued joints are at: which are still pressed, which cure, which have."""
    found = []
    for joint in joints:
        stage = joint.stage(now_s)
        if stage is None:
            continue
        left = {"name": joint.name, "minutes": int(stage[1]) // 60, "seconds": int(stage[1]) % 60}
        match stage[0]:
            case "press":
                said = tr("‘{name}’: press {minutes}:{seconds:02} more", **left)
            case "cure":
                said = tr("‘{name}’ cures, {minutes} min more", name=joint.name, minutes=math.ceil(stage[1] / 60))
            case "cured":
                said = tr("‘{name}’ has cured", name=joint.name)
        found.append(said)
    return " · ".join(found)


def method_text(one: BenchCut) -> str:
    """Return how a line is cut, in words."""
    return METHODS[one.method].called


def capital(text: str) -> str:
    """Return a text that begins a sentence."""
    return text[:1].upper() + text[1:]


def steps_text(one: BenchCut) -> str:
    """Return what is done, in a sentence or two."""
    return _STEPS[one.method]


def care_texts(one: BenchCut, unit: Unit, *, always: bool = True, on_paper: bool = False) -> tuple[str, ...]:
    """Return what to look out for at a line. always: also what goes for every knife. on_paper: beside its figures."""
    found = []
    for care in one.care:
        if on_paper and care == "FROM_LEDGE":
            continue  # it has a column
        if care == "THIN_WALL":
            assert one.wall_mm is not None
            wall = format_length(one.wall_mm, unit)
            found.append(tr("Thin wall, {wall} to the next opening: support it, use short strokes.", wall=wall))
        else:
            found.append(_CARE[care])
    if always and METHODS[one.method].is_knife:
        found.append(tr("Wear a glove on the holding hand, cut away from your body."))
    return tuple(found)
