"""What a survey says, in words: how sure, what to tape next or again, out of square, bowed."""

from __future__ import annotations

from cozy_burrow.core.container.survey import Surveyed, bends, impossible
from cozy_burrow.core.model.records import Container
from cozy_burrow.core.units import Unit, format_length

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
            f"{one.first} to {one.second} cannot be {length(one.length_mm)}: "
            f"the way round is only {length(longest)}. Tape it again."
        )
    elif found.missing:
        more = "one more distance" if found.missing == 1 else f"{found.missing} more distances"
        lines.append(f"{more[0].upper()}{more[1:]} and the shape is fixed.")
    elif found.spare == 0:
        lines.append("The shape is fixed, but nothing checks the tape: one more distance would.")
    else:
        lines.append(f"Corners sure to ± {length(found.sure_mm)}; the tape scattered by {length(found.scatter_mm)}.")
    if broken is None and found.suspect is not None:
        slip = found.residuals[found.suspect]
        lines.append(
            f"Tape {slip.taped.first} to {slip.taped.second} again: it is "
            f"{length(abs(slip.off_mm))} {'longer' if slip.off_mm > 0 else 'shorter'} than the others say."
        )
        if found.rivals:
            also = ", ".join(
                f"{found.residuals[n].taped.first} to {found.residuals[n].taped.second}" for n in found.rivals
            )
            lines.append(f"It may as well be {also}: tape those too.")
    elif found.next_pair is not None:
        lines.append(f"Next: {found.next_pair[0]} to {found.next_pair[1]}, it helps most.")
    if not found.missing and broken is None:
        lines += shape_words(container, unit)
    return "\n".join(lines)


def shape_words(container: Container, unit: Unit) -> list[str]:
    """Return what is out of square and what is bowed, in words."""
    lines = []
    for one in bends(container.corners):
        if one.bow_mm is not None:
            if abs(one.bow_mm) >= _BOWED_MM:
                way = "outwards" if one.bow_mm > 0 else "inwards"
                lines.append(f"The wall bows {way} by {format_length(abs(one.bow_mm), unit)} at {one.corner}.")
        elif abs(one.off_mm) >= _SQUARE_MM:
            way = "wide" if one.angle_deg > 90 else "narrow"
            lines.append(
                f"Corner {one.corner} is {way}: {one.angle_deg:.1f}°, "
                f"{format_length(abs(one.off_mm), unit)} out of square over its shorter wall."
            )
    return lines or ["Every right angle is square to a millimetre."]
