"""What wishes and styles are called, what each figure means, and what is said of things that found no room."""

from __future__ import annotations

from collections.abc import Sequence

from cozy_burrow.core.arrange.wishes import StyleName, Wish, WishName
from cozy_burrow.core.ground.arranging import LeftOver
from cozy_burrow.core.ground.sharing import OneMore, parted
from cozy_burrow.core.model.edits import container_of, insert_of, item_of
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.tongue import tr, trn
from cozy_burrow.core.units import Unit, format_length

STYLE_NAMES: dict[StyleName, str] = {
    "tidy": tr("Tidy rows"),
    "tight": tr("Tight"),
    "balanced": tr("Balanced for carrying"),
}
STYLE_WHY: dict[StyleName, str] = {
    "tidy": tr("Lanes with one front line each where there is room, sets in rows with one trench, groups together."),
    "tight": tr("As little room as can be found; the rest is one area for later."),
    "balanced": tr("The weight of all items lies under the handle, or in the middle."),
}
WISH_NAMES: dict[WishName, str] = {
    "together": tr("Groups together"),
    "rows": tr("Sets in rows"),
    "aligned": tr("All one way"),
    "lines": tr("Ends in line"),
    "gaps": tr("Even gaps"),
    "symmetry": tr("Left like right"),
    "at_hand": tr("Everyday in front"),
    "handles": tr("Handles towards you"),
    "balance": tr("Weight balanced"),
    "room": tr("Spare room"),
}
WISH_WHY: dict[WishName, str] = {
    "together": tr("Mean foam between the neighbours of a group, along the shortest tree that links them."),
    "rows": tr("Share of a set's neighbours in size that lie side by side, in a row that goes one way."),
    "aligned": tr("Share of all length that lies along the two most used directions, within 2°."),
    "lines": tr(
        "Share of items whose front end, back end or middle is on one line with a neighbour's in their row, for an eye."
    ),
    "gaps": tr("Share of gaps along rows, in both directions, that equal the next one for an eye."),
    "symmetry": tr(
        "Share of the pockets' area that a mirror in the middle, between left and right, lays onto pockets. Counts "
        "only where you give it a weight."
    ),
    "at_hand": tr("Share of pairs of unlike use in which the more used item lies no farther from the hand's side."),
    "handles": tr(
        "Share of handles that point to the hand's side. The handle is the end that the balance point is near."
    ),
    "balance": tr("How far the centre of mass of all items lies from the handle, or from the middle without one."),
    "room": tr(
        "Largest rectangle that is free of items, walls and edge; the pale area is all that hangs together. "
        "Where less than a quarter of the foam is used it does not count: there items are spread."
    ),
}


def wish_figure(wish: Wish, unit: Unit) -> str:
    """Return the figure of a wish with its unit."""
    if wish.score is None:
        return "–"
    match wish.name:
        case "together":
            return format_length(wish.figure, unit)
        case "balance":
            return tr("{off} off", off=format_length(wish.figure, unit))
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
            return f"{width} x {depth} {('in' if unit == 'inch' else 'mm')}"
    return tr("none")


def why_left(project: Project, one: LeftOver) -> str:
    """Return why a thing found no place."""
    name = item_of(project, one.item_id).name
    if one.why == "too_large":
        where = container_of(project, insert_of(project, one.insert_id)).kind if one.insert_id else "insert"
        return tr("‘{name}’ is {too_long}", name=name, too_long=too_long(one, project.units, where=where))
    if one.why == "no_time":
        return tr("‘{name}’ was not tried: the search was stopped first", name=name)
    return tr("‘{name}’ finds no room that keeps walls and edges", name=name)


_WHERE = {"insert": tr("insert"), "drawer": tr("drawer"), "case": tr("case"), "wall": tr("wall")}


def too_long(one: LeftOver, unit: Unit, *, where: str = "insert") -> str:
    """Return in what a thing is larger than the insert. where: what that is called: drawer, case, wall."""
    if one.length_mm > one.longest_mm:
        length = format_length(one.length_mm, unit, suffix=False)
        return tr(
            "too long for this {where} even on the diagonal: {length} of {longest}",
            where=_WHERE[where],
            length=length,
            longest=format_length(one.longest_mm, unit),
        )
    return tr("too large for this {where}, however it is turned", where=_WHERE[where])


def one_more_words(count: int, more: OneMore, unit: Unit) -> str:
    """Return what a second container would take."""
    sizes = [format_length(side, unit, digits=0, suffix=False) for side in (more.width_mm, more.depth_mm)]
    said = {
        "size": f"{sizes[0]} x {sizes[1]} {'in' if unit == 'inch' else 'mm'}",
        "takes": more.takes,
        "free": more.free_share,
    }
    if more.takes == count:
        return trn(
            "One item does not fit: a second one of {size} would take it, with {free:.0%} of its foam left",
            "{count} items do not fit: a second one of {size} would take them, with {free:.0%} of its foam left",
            count,
            **said,
        )
    return tr(
        "{count} items do not fit: a second one of {size} would take {takes} of them, with {free:.0%} of its foam left",
        count=count,
        **said,
    )


def parted_words(project: Project, unit: Unit) -> str:
    """Return which sets were parted between two sizes, and why; empty where none was."""
    said = []
    for name, where in parted(project).items():
        places = [
            tr(
                "{insert} ({short} to {long})",
                insert=insert,
                short=format_length(short, unit, digits=0, suffix=False),
                long=format_length(long, unit, digits=0),
            )
            for insert, short, long in where
        ]
        said.append(
            tr(
                "The set ‘{name}’ is parted by size, as no insert had room for all of it: {places}",
                name=name,
                places=", ".join(places),
            )
        )
    return ". ".join(said)


def left_words(project: Project, left: Sequence[LeftOver]) -> str:
    """Return the first few things that found no room, with the reasons."""
    said = [why_left(project, one) for one in left[:3]]
    more = tr("; and {count} more", count=len(left) - 3) if len(left) > 3 else ""
    return "; ".join(said) + more
