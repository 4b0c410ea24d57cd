"""What wishes and styles are called, what each figure means, and what is said of things that found no room."""

from __future__ import annotations

from collections.abc import Sequence

from cozy_burrow.core.arrange.wishes import StyleName, Wish, WishName
from cozy_burrow.core.ground.arranging import LeftOver
from cozy_burrow.core.ground.sharing import OneMore
from cozy_burrow.core.model.edits import item_of
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.units import Unit, format_length

STYLE_NAMES: dict[StyleName, str] = {"tidy": "Tidy rows", "tight": "Tight", "balanced": "Balanced for carrying"}
STYLE_WHY: dict[StyleName, str] = {
    "tidy": "Sets in rows with one trench, axes straight, groups together.",
    "tight": "As little room as can be found; the rest is one area for later.",
    "balanced": "The weight of all things lies under the handle, or in the middle.",
}
WISH_NAMES: dict[WishName, str] = {
    "together": "Groups together",
    "rows": "Sets in rows",
    "aligned": "Lined up",
    "at_hand": "Everyday in front",
    "handles": "Handles towards you",
    "balance": "Weight balanced",
    "room": "Spare room",
}
WISH_WHY: dict[WishName, str] = {
    "together": "Mean foam between the neighbours of a group, along the shortest tree that links them.",
    "rows": "Share of a set's neighbours in size that lie side by side, in a row that goes one way.",
    "aligned": "Share of all length that lies along the two most used directions, within 2°.",
    "at_hand": "Share of pairs of unlike use in which the more used thing lies nearer to the hand's side.",
    "handles": "Share of handles that point to the hand's side. The handle is the end that the balance point is near.",
    "balance": "How far the centre of mass of all things lies from the handle, or from the middle without one.",
    "room": "Largest rectangle that is free of things, walls and edge; the pale area is all that hangs together.",
}


def wish_figure(wish: Wish, unit: Unit) -> str:
    """Return the figure of a wish with its unit."""
    if wish.score is None:
        return "–"
    match wish.name:
        case "together":
            return format_length(wish.figure, unit)
        case "balance":
            return f"{format_length(wish.figure, unit)} off"
        case "room":
            return rectangle(wish, unit)
        case _:
            return f"{wish.figure:.0%}"


def rectangle(wish: Wish, unit: Unit) -> str:
    """Return the sides of the largest rectangle that is left over."""
    for area, name in wish.areas:
        if name == "rectangle" and not area.is_empty:
            left, top, right, bottom = area.bounds
            width, depth = (format_length(side, unit, digits=0, suffix=False) for side in (right - left, bottom - top))
            return f"{width} x {depth} {'in' if unit == 'inch' else 'mm'}"
    return "none"


def why_left(project: Project, one: LeftOver) -> str:
    """Return why a thing found no place."""
    name = item_of(project, one.item_id).name
    if one.why == "too_large":
        return f"‘{name}’ is {too_long(one, project.units, where=project.containers[0].kind)}"
    if one.why == "no_time":
        return f"‘{name}’ was not tried: the search was stopped first"
    return f"‘{name}’ finds no room that keeps walls and edges"


def too_long(one: LeftOver, unit: Unit, *, where: str = "insert") -> str:
    """Return in what a thing is larger than the insert. where: what that is called: drawer, case, wall."""
    if one.length_mm > one.longest_mm:
        length = format_length(one.length_mm, unit, suffix=False)
        return f"too long for this {where} even on the diagonal: {length} of {format_length(one.longest_mm, unit)}"
    return f"too large for this {where}, however it is turned"


def one_more_words(count: int, more: OneMore, unit: Unit) -> str:
    """Return what a second container would take."""
    sizes = [format_length(side, unit, digits=0, suffix=False) for side in (more.width_mm, more.depth_mm)]
    things = "One thing does" if count == 1 else f"{count} things do"
    takes = ("it" if count == 1 else "them") if more.takes == count else f"{more.takes} of them"
    size = f"{sizes[0]} x {sizes[1]} {'in' if unit == 'inch' else 'mm'}"
    return f"{things} not fit: a second one of {size} would take {takes}, with {more.free_share:.0%} of its foam left"


def left_words(project: Project, left: Sequence[LeftOver]) -> str:
    """Return the first few things that found no room, with the reasons."""
    said = [why_left(project, one) for one in left[:3]]
    more = f"; and {len(left) - 3} more" if len(left) > 3 else ""
    return "; ".join(said) + more
