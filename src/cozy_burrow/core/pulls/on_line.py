"""Lines for the ends of things that stand side by side, where each may move only so far along its length."""

from __future__ import annotations

from collections.abc import Sequence

_ROUNDED_MM = 1e-9  # an end just as far off as it may move comes to the line, whatever rounding leaves
_NEARLY_MM = 8.0  # between ends that do not come to the line: they would look like one that was missed


def onto_lines(ends_mm: Sequence[float], most_mm: Sequence[float], *, near_mm: float | None = None) -> list[float]:
    """Return where each end comes to, none farther than its most from where it was.

    That is the line that most can come to; of several the one nearest to near_mm, or that moves them least. The others
    come as near to it as they may, so that a long row of sizes ends in a slope; where those nearly lie on a line of
    their own, they do.
    """
    if not ends_mm:
        return []
    line = line_for(ends_mm, most_mm, near_mm=near_mm)
    come = [max(end - most, min(end + most, line)) for end, most in zip(ends_mm, most_mm)]
    off = [n for n, at in enumerate(come) if abs(at - line) > _ROUNDED_MM]
    for side in (-1, 1):
        rest = [n for n in off if side * (come[n] - line) > 0]
        farthest = max((come[n] for n in rest), key=lambda at: abs(at - line), default=line)
        is_near = all(abs(come[n] - farthest) < _NEARLY_MM for n in rest)
        if is_near and all(_is_reached(farthest, ends_mm[n], most_mm[n]) for n in rest):
            for n in rest:
                come[n] = farthest
    return come


def line_for(ends_mm: Sequence[float], most_mm: Sequence[float], *, near_mm: float | None = None) -> float:
    """Return the line that most ends come to, none by more than its most.

    Of several the one nearest to near_mm, or where that is None the one that moves them least in sum. How many a line
    reaches changes only where one begins or ends to be reached, and the sum of moves bends only there and at the ends
    themselves: so these are all that are tried. Raises ValueError where there are no ends.
    """
    at = {end + side * most for end, most in zip(ends_mm, most_mm) for side in (-1, 0, 1)}

    def told(line: float) -> tuple[int, float, float]:
        reached = sum(_is_reached(line, end, most) for end, most in zip(ends_mm, most_mm))
        moved = sum(min(abs(line - end), most) for end, most in zip(ends_mm, most_mm))
        return -reached, moved if near_mm is None else abs(line - near_mm), line

    return min(at if near_mm is None else {*at, near_mm}, key=told)


def _is_reached(line_mm: float, end_mm: float, most_mm: float) -> bool:
    return abs(line_mm - end_mm) <= most_mm + _ROUNDED_MM
