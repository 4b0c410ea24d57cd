"""What a survey says, in words: how sure, what to tape next or again, out of square, bowed."""

from __future__ import annotations

from cozy_burrow.core.container.survey import Residual, Surveyed, bends, impossible, pair_text
from cozy_burrow.core.model.records import Container
from cozy_burrow.core.tongue import tr, trn
from cozy_burrow.core.units import Unit, format_fine, format_length

_SQUARE_MM = 1.0  # out of square by less is not worth a word
_BOWED_MM = 1.0


def survey_words(container: Container, found: Surveyed, unit: Unit) -> str:
    """Return one short sentence a line."""

    def length(value: float) -> str:
        return format_length(value, unit)

    lines = []
    broken = impossible(container.taped)
    if broken is not None:
        one, longest = broken
        lines.append(
            tr(
                "{first} to {second} cannot be {length}: the way round is only {longest}. Tape it again.",
                first=one.first,
                second=one.second,
                length=length(one.length_mm),
                longest=length(longest),
            )
        )
    elif found.missing:
        lines.append(
            trn(
                "One more distance and the shape is fixed.",
                "{count} more distances and the shape is fixed.",
                found.missing,
            )
        )
    elif found.spare == 0:
        lines.append(tr("The shape is fixed, but nothing checks the tape: one more distance would."))
    else:
        lines.append(
            tr(
                "Corners sure to ± {sure}; the tape scattered by {scatter}.",
                sure=length(found.sure_mm),
                scatter=length(found.scatter_mm),
            )
        )
    if broken is None and found.suspect is not None:
        slip = found.residuals[found.suspect]
        said = {"first": slip.taped.first, "second": slip.taped.second, "off": length(abs(slip.off_mm))}
        lines.append(
            tr("Tape {first} to {second} again: it is {off} longer than the others say.", **said)
            if slip.off_mm > 0
            else tr("Tape {first} to {second} again: it is {off} shorter than the others say.", **said)
        )
        if found.rivals:
            also = ", ".join(
                pair_text(found.residuals[n].taped.first, found.residuals[n].taped.second) for n in found.rivals
            )
            lines.append(tr("It may as well be {also}: tape those too.", also=also))
    elif found.next_pair is not None:
        lines.append(
            tr(
                "Next: {next_pair} to {next_pair_2}, it helps most.",
                next_pair=found.next_pair[0],
                next_pair_2=found.next_pair[1],
            )
        )
    if not found.missing and broken is None:
        lines += shape_words(container, unit)
    return "\n".join(lines)


def signed(length_mm: float, unit: Unit) -> str:
    """Return a small length with its sign."""
    return f"{'+' if length_mm >= 0 else ''}{format_fine(length_mm, unit)}"


def off_text(one: Residual, unit: Unit, *, is_odd: bool) -> str:
    """Return what was taped, and by how much that is off. is_odd: it goes least well with the others."""
    length = format_length(one.taped.length_mm, unit)
    if not one.is_checked:
        return tr("taped as {length}, checked by no other", length=length)
    off = format_length(abs(one.off_mm), unit)
    said = (
        tr("taped as {length}, {off} longer than all together say", length=length, off=off)
        if one.off_mm > 0
        else tr("taped as {length}, {off} shorter than all together say", length=length, off=off)
    )
    return tr("{said}: tape it again", said=said) if is_odd else said


def shape_words(container: Container, unit: Unit) -> list[str]:
    """Return what is out of square and what is bowed, in words."""
    lines = []
    for one in bends(container.corners):
        if one.bow_mm is not None:
            if abs(one.bow_mm) >= _BOWED_MM:
                bowed = {"bow": format_length(abs(one.bow_mm), unit), "corner": one.corner}
                lines.append(
                    tr("The wall bows outwards by {bow} at {corner}.", **bowed)
                    if one.bow_mm > 0
                    else tr("The wall bows inwards by {bow} at {corner}.", **bowed)
                )
        elif abs(one.off_mm) >= _SQUARE_MM:
            way = tr("wide") if one.angle_deg > 90 else tr("narrow")
            lines.append(
                tr(
                    "Corner {corner} is {way}: {angle:.1f}°, {off} out of square over its shorter wall.",
                    corner=one.corner,
                    way=way,
                    angle=one.angle_deg,
                    off=format_length(abs(one.off_mm), unit),
                )
            )
    return lines or [tr("Every right angle is square to a millimetre.")]
