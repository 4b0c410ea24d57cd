"""What is said of a kit before anything is laid: a line for each proposal, and what it gives."""

from __future__ import annotations

from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.ground.arranging import LeftOver
from cozy_burrow.core.ground.first_look import FirstLook, Proposal, first_look
from cozy_burrow.core.model.edits import container_of, insert_of, item_of
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.progress import Quiet
from cozy_burrow.core.tongue import decimal, tr, trn
from cozy_burrow.core.units import Unit, format_length
from cozy_burrow.jobs.wish_words import too_long

_MOST_NAMED = 4


def sum_words(look: FirstLook) -> str:
    """Return what the kit asks for altogether."""
    return tr("The kit asks for {share:.0%} of the foam, with walls and edges.", share=look.share)


def why_full(project: Project, insert_id: str) -> list[str]:
    """Return what is to be said where a kit asks for more than an insert has: nothing where it asks for less."""
    look = first_look(project, insert_id, token=Quiet())
    ways = [one for one in look.proposals if one.kind in {"more_foam", "leave_out"}]
    if all(one.kind != "more_foam" for one in ways):
        return []
    where = container_of(project, insert_of(project, insert_id)).kind
    return [sum_words(look), *(gives(project, one, where=where) for one in ways)]


def line_of(project: Project, one: Proposal) -> str:
    """Return a proposal in a line."""
    name = item_of(project, one.item_ids[0]).name if one.item_ids else ""
    match one.kind:
        case "too_large":
            return tr("‘{name}’ does not go in", name=name)
        case "too_high":
            return tr("‘{name}’ stands too high", name=name)
        case "box":
            return tr("One box for {count} × ‘{name}’", count=one.copies, name=name)
        case "more_foam":
            return tr("More foam is needed")
        case "leave_out":
            return trn("Leave {count} item out", "Leave {count} items out", one.copies)
        case "room":
            return tr("Room for what comes later")


def gives(project: Project, one: Proposal, *, where: str) -> str:
    """Return why, and what a proposal gives. where: the kind of container that was looked into."""
    unit = project.units
    match one.kind:
        case "too_large":
            nowhere = LeftOver(
                item_id=one.item_ids[0], copy=1, why="too_large", length_mm=one.length_mm, longest_mm=one.longest_mm
            )
            said = too_long(nowhere, unit, where=where)
            return tr("It is {too_long}. Lay it elsewhere, or choose a larger one.", too_long=said)
        case "too_high":
            return tr(
                "It would stand out {out}, and above the foam there is {room}. Lay it flatter, or choose deeper foam.",
                out=format_length(one.length_mm, unit),
                room=format_length(one.longest_mm, unit),
            )
        case "box":
            box = one.instead
            assert box is not None
            left, top, right, bottom = polygon_of(box.outline).bounds
            wide, deep, high = (
                format_length(side, unit, digits=0, suffix=last)
                for side, last in ((right - left, False), (bottom - top, False), (box.thickness_mm, True))
            )
            return tr(
                "A box of about {size}: one pocket instead of {count}, {line} less to cut, {then:.0%} of the foam "
                "instead of {now:.0%}. In the box they touch each other. Measure yours and correct the sizes.",
                size=f"{wide} × {deep} × {high}",
                count=one.copies,
                line=_line_words(one.line_mm, unit),
                now=one.now_share,
                then=one.then_share,
            )
        case "more_foam":
            wide, deep = (
                format_length(side, unit, digits=0, suffix=last) for side, last in zip(one.size_mm, (False, True))
            )
            return tr(
                "It would take about {count} inserts like this one, or a single one of about {wide} × {deep} inside.",
                count=one.inserts,
                wide=wide,
                deep=deep,
            )
        case "leave_out":
            names = ", ".join(f"‘{item_of(project, key).name}’" for key in one.item_ids[:_MOST_NAMED])
            more = len(one.item_ids) - _MOST_NAMED
            names += tr(" and {count} more", count=more) if more > 0 else ""
            return tr(
                "{names}: seldom used, or bulky. Without them the kit asks for {then:.0%} of the foam instead of "
                "{now:.0%}, so that the rest can find room. They leave the kit; undo brings them back.",
                names=names,
                now=one.now_share,
                then=one.then_share,
            )
        case "room":
            return tr(
                "Only {now:.0%} of the foam is needed. Keep an area free for what comes later, or take a smaller one.",
                now=one.now_share,
            )


def _line_words(line_mm: float, unit: Unit) -> str:
    """Return the length of a cut line: metres where there are some."""
    if unit == "mm" and line_mm >= 1_000.0:
        return decimal(f"{line_mm / 1_000.0:.1f}") + " m"
    return format_length(line_mm, unit, digits=0)
