"""How a pocket is cut, in words: beside which line, with what lean, and which round or straight tool will do."""

from __future__ import annotations

from cozy_burrow.core.bench.cut import Cut
from cozy_burrow.core.bench.cut_line import (
    ALIKE_MM,
    SAWS_MM,
    CutLine,
    cut_line,
    saw_for,
    straight_mm,
    upright_beside_mm,
)
from cozy_burrow.core.depth.pocket import Pocket, allowance_in
from cozy_burrow.core.depth.slits import slits_in
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.ground.tongues import Tongue, tongues_of
from cozy_burrow.core.model.records import Marking, Rules
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import Unit, format_length

MARKING_NAMES: dict[Marking, str] = {
    "template": tr("printed template, 1:1"),
    "marker": tr("marker round the item"),
    "knife": tr("knife round the item"),
    "card": tr("tape or card template"),
    "scribe": tr("scribe point"),
}
_LINE: dict[Marking, str] = {
    "template": tr("the printed line"),
    "marker": tr("the middle of the marker line"),
    "knife": tr("the item's edge"),
    "card": tr("the card's edge"),
    "scribe": tr("the scribed line"),
}


def marking_text(rules: Rules, unit: Unit, *, allowance_mm: float) -> str:
    """Return the rule of the day for a pocket with an allowance: how far beside which line."""
    return f"{_beside(upright_beside_mm(rules, allowance_mm), rules, unit)}."


def _beside(beside_mm: float, rules: Rules, unit: Unit) -> str:
    if abs(beside_mm) < 0.05:
        return tr("Cut on {line}", line=_LINE[rules.marking])
    said = {"beside": format_length(abs(beside_mm), unit), "line": _LINE[rules.marking]}
    return tr("Cut {beside} inside {line}", **said) if beside_mm > 0 else tr("Cut {beside} outside {line}", **said)


def line_text(line: CutLine, rules: Rules, unit: Unit) -> str:
    """Return beside which line one pocket is cut, and where that differs along it."""
    text = _beside(line.beside_mm, rules, unit)
    if line.same_all_round:
        return text
    return tr(
        "{text} along most of it, {least} to {most} elsewhere",
        text=text,
        least=_off(line.least_mm, unit),
        most=_off(line.most_mm, unit),
    )


def _off(beside_mm: float, unit: Unit) -> str:
    if abs(beside_mm) <= 0.05:
        return tr("on it")
    beside = format_length(abs(beside_mm), unit)
    return tr("{beside} inside", beside=beside) if beside_mm > 0 else tr("{beside} outside", beside=beside)


def own_line_text(pocket: Pocket, depth_mm: float, rules: Rules, unit: Unit) -> str:
    """Return how a pocket is cut where the rule of the day is not true of it: it lies shallow, or part of it floats."""
    line = cut_line(pocket, depth_mm, rules)
    usual = upright_beside_mm(rules, allowance_in(pocket, rules))
    if line.same_all_round and abs(line.beside_mm - usual) <= ALIKE_MM:
        return ""
    return line_text(line, rules, unit)


def cutting_text(ground: Ground, key: str, unit: Unit, *, saws_mm: tuple[float, ...] = ()) -> str:
    """Return how the pocket of a thing is cut. saws_mm: that are at hand; with none, any usual one is named."""
    pocket, rules = ground.pockets[key], ground.rules
    depth_mm = ground.layers[pocket.depth_layers - 1].bottom_mm
    line = cut_line(pocket, depth_mm, rules)
    found = [f"{line_text(line, rules, unit)}."]
    if line.floats_mm > 0.5:
        found.append(
            tr(
                "Part of it floats {floats} over the foam: sink the deep part first, then mark the rest.",
                floats=format_length(line.floats_mm, unit),
            )
        )
    slits = slits_in(pocket.surface)
    if slits:
        found.append(
            tr(
                "Where it is thin, {width} wide over {length}, cut one slit: the foam gives.",
                width=format_length(slits[0].width_mm, unit),
                length=format_length(slits[0].length_mm, unit, digits=0),
            )
        )
    found += [_tongue_text(one, unit) for one in tongues_of(ground) if key in one.owners]
    if line.lean_mm > 0.05:
        off = format_length(line.lean_mm, unit)
        found.append(
            tr(
                "A knife that leans in by {lean:g}° takes {off} off each side of the floor.",
                lean=rules.lean_deg,
                off=off,
            )
        )
    saw = saw_for(pocket.surface, saws_mm or SAWS_MM)
    if saw is not None:
        found.append(
            tr("A round one: hole saw or stencil of {saw}, over a backing board.", saw=format_length(saw, unit))
        )
    else:
        straight, whole = (sum(pair) for pair in zip(*(straight_mm(part) for part in polygons_in(pocket.surface))))
        if straight >= 0.2 * whole:
            found.append(tr("{straight:.0%} of its line runs straight: along a rule.", straight=straight / whole))
    return " ".join(found)


def _tongue_text(tongue: Tongue, unit: Unit) -> str:
    said = {
        "long": format_length(tongue.long_mm, unit, digits=0),
        "wide": format_length(tongue.wide_mm, unit, digits=0),
    }
    if tongue.is_kept:
        return tr("A tongue of foam, {long} long and {wide} wide, stands free there: glue it down at its foot.", **said)
    return tr("A tongue of foam, {long} long and {wide} wide, would stand free there: cut it off.", **said)


BEFORE_PEELING = tr(
    "Cut all lines of an opening from the sheet's top before you peel it. Who has peeled "
    "first sets the blade as from the ledge: as from the top it would come out below."
)


def blade_text(cut: Cut, unit: Unit) -> str:
    """Return how far the blade stands out: over the sheet's top, and where the cut begins deeper over its ledge too."""
    top = format_length(cut.blade_mm, unit)
    if cut.from_layer == 1:
        return top
    return tr(
        "{top} from the top, {from_ledge} from the ledge", top=top, from_ledge=format_length(cut.from_ledge_mm, unit)
    )
