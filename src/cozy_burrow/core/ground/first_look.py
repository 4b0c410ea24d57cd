"""What goes in? A first look at a kit before anything is laid: what will not go in, what a box would hold more simply,
what is better left out; each as a proposal with what it gives.

Share    the part of the foam that pockets take, each with half the wall round it: above FULL no layout is found, below
         SHARE one is found soon
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal

from msgspec.structs import replace

from cozy_burrow.core.arrange.crowding import FULL, cover
from cozy_burrow.core.arrange.pieces import Piece, diagonals, fits_at_all, longest_mm
from cozy_burrow.core.container.bay import Bay, bay_of, headroom_mm
from cozy_burrow.core.depth.seated import local_pocket
from cozy_burrow.core.foam.layers import floor_of, layers_of
from cozy_burrow.core.ground.fitting import used_bed
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.ground.sharing import SHARE
from cozy_burrow.core.kit.boxed import box_of
from cozy_burrow.core.model.edits import insert_of, remove_items, take_out, unplaced
from cozy_burrow.core.model.records import Item, Project, Record
from cozy_burrow.core.progress import Token
from cozy_burrow.core.pulls.forms import piece_for
from cozy_burrow.core.tolerances import RULE_SLACK_MM

BOXED_FROM = 5  # copies: fewer are as soon cut for
_WORTH_AREA, _WORTH_LINE = 0.15, 0.4  # saved of the foam or of the cut line, from which on a box is proposed
_ROOMY = 0.5  # share of the foam below which there is room for what comes later
_MOST_LEFT_OUT = 0.4  # of all items: whoever would have to leave out more needs another insert

_ROUND_MM = 10.0  # to which the sides of a larger container are told

Kind = Literal["too_large", "too_high", "box", "more_foam", "leave_out", "room"]


class Proposal(Record, frozen=True, kw_only=True):
    """One thing to be said of a kit. item_ids: whom it is about; copies: how many of them.

    now_share, then_share: of the foam, before and after. line_mm: cut line that is saved. length_mm, longest_mm: of an
    item that does not go in, and of the foam; of one that stands too high, what it stands out and what is above.
    instead: what takes their place. size_mm: the inside from left to right and from back to front of a container that
    would hold all, in the shape of this one; inserts: how many like this one would.
    """

    kind: Kind
    item_ids: tuple[str, ...] = ()
    copies: int = 0
    now_share: float = 0.0
    then_share: float = 0.0
    line_mm: float = 0.0
    length_mm: float = 0.0
    longest_mm: float = 0.0
    size_mm: tuple[float, float] = (0.0, 0.0)
    inserts: int = 0
    instead: Item | None = None

    @property
    def may_be_taken(self) -> bool:
        """Whether one press does it."""
        return self.kind in {"box", "leave_out"}


class FirstLook(Record, frozen=True, kw_only=True):
    """The share of the foam that the kit asks for, and what there is to be said of it."""

    share: float
    proposals: tuple[Proposal, ...]


class _Wanted(Record, frozen=True, kw_only=True):
    item: Item
    copies: int
    area_mm2: float  # of one copy, with half the wall round it
    line_mm: float

    @property
    def is_here_alone(self) -> bool:
        """Whether no copy lies in another insert: what is done to the item would be done there too."""
        return self.copies == self.item.quantity


def first_look(project: Project, insert_id: str, *, token: Token) -> FirstLook:
    """Return what is to be said of all that lies in an insert or nowhere. Raises Cancelled."""
    insert = insert_of(project, insert_id)
    copies = {item.id: 0 for item in project.items}
    for item, _ in unplaced(project):
        copies[item.id] += 1
    for one in insert.placements:
        copies[one.item_id] += 1
    empty = take_out(project, insert_id, [one.id for one in insert.placements])
    bay = bay_of(empty, insert_of(empty, insert_id))
    bed = used_bed(ground_of(empty, insert_of(empty, insert_id)), without=frozenset())
    room_mm2 = float(bed.area.area)
    refused: list[Proposal] = []
    wanted: list[_Wanted] = []
    asked = [item for item in project.items if copies[item.id]]
    for number, item in enumerate(asked):
        token.step(number / len(asked))
        piece = piece_for(item, 1, bay, project.rules, with_pulls=False)
        shape = piece.forms[-1].shape
        about = {"item_ids": (item.id,), "copies": copies[item.id]}
        if bed.area.is_empty or not (fits_at_all(shape, bed) and diagonals(piece, bed)):
            longest = 0.0 if bed.area.is_empty else longest_mm(bed.area)
            refused.append(Proposal(kind="too_large", length_mm=longest_mm(shape), longest_mm=longest, **about))  # type: ignore[arg-type]
            continue
        pocket = local_pocket(item, None, bay, project.rules)
        above = headroom_mm(bay)
        if pocket.seating.proud_mm > above + RULE_SLACK_MM:
            refused.append(Proposal(kind="too_high", length_mm=pocket.seating.proud_mm, longest_mm=above, **about))  # type: ignore[arg-type]
            continue
        line = float(pocket.layers[0].length) if pocket.layers else 0.0
        wanted.append(_Wanted(item=item, copies=copies[item.id], area_mm2=_area(piece), line_mm=line))
    if room_mm2 <= 0.0:
        return FirstLook(share=0.0, proposals=tuple(refused))
    share = sum(one.copies * one.area_mm2 for one in wanted) / room_mm2
    found = [*refused, *_boxes(wanted, bay, project, share, room_mm2)]
    if share > FULL:
        found += [_more_foam(bay, bed.area.bounds, share), *_left_out(wanted, share, room_mm2)]
    elif wanted and share < _ROOMY:
        found.append(Proposal(kind="room", now_share=share, then_share=share))
    return FirstLook(share=share, proposals=tuple(found))


def _area(piece: Piece) -> float:
    return cover([piece], [-1])


def _boxes(wanted: Sequence[_Wanted], bay: Bay, project: Project, share: float, room_mm2: float) -> list[Proposal]:
    """Return boxes for what comes in numbers, where that saves foam or cutting, the most first."""
    layers = layers_of(bay.sheets)
    deep = sum(layer.thickness_mm for layer in layers[: len(layers) - floor_of(bay, project.rules.floor_layers)])
    highest = deep + min(deep, max(0.0, headroom_mm(bay)))
    found = []
    for one in wanted:
        in_numbers = one.copies >= BOXED_FROM and one.is_here_alone
        box = box_of(one.item, one.copies, highest_mm=highest) if in_numbers else None
        if box is None:
            continue
        pocket = local_pocket(box, None, bay, project.rules)
        area = _area(piece_for(box, 1, bay, project.rules, with_pulls=False))
        line = float(pocket.layers[0].length) if pocket.layers else 0.0
        before_area, before_line = one.copies * one.area_mm2, one.copies * one.line_mm
        if pocket.seating.proud_mm > headroom_mm(bay) + RULE_SLACK_MM:
            continue
        if area > before_area or (area > (1 - _WORTH_AREA) * before_area and line > (1 - _WORTH_LINE) * before_line):
            continue
        found.append(
            Proposal(
                kind="box",
                item_ids=(one.item.id,),
                copies=one.copies,
                now_share=share,
                then_share=share - (before_area - area) / room_mm2,
                line_mm=before_line - line,
                instead=box,
            )
        )
    return sorted(found, key=lambda one: (one.then_share, one.item_ids))


def _more_foam(bay: Bay, room: tuple[float, float, float, float], share: float) -> Proposal:
    """Return how much more foam would hold a kit: inserts like this one, or one as much larger either way.

    Edges stay as wide as they are: only what is between them grows.
    """
    left, top, right, bottom = room
    grown = math.sqrt(share / SHARE) - 1
    sides = (bay.container.width_mm, right - left), (bay.container.depth_mm, bottom - top)
    wide, deep = (math.ceil((whole + grown * inner) / _ROUND_MM) * _ROUND_MM for whole, inner in sides)
    return Proposal(
        kind="more_foam", now_share=share, then_share=SHARE, size_mm=(wide, deep), inserts=math.ceil(share / SHARE)
    )


def _left_out(wanted: Sequence[_Wanted], share: float, room_mm2: float) -> list[Proposal]:
    """Return what is best left out so that the rest finds room: seldom used first, the bulkiest of those first.

    Nothing that is used daily goes, and nothing at all where too much would have to: then one more insert is wanted.
    """
    seldom = {"rare": 0, "weekly": 1}
    may_go = [one for one in wanted if one.item.use in seldom and one.is_here_alone]
    may_go.sort(key=lambda one: (seldom[one.item.use], -one.copies * one.area_mm2, one.item.id))
    gone: list[_Wanted] = []
    then = share
    for one in may_go:
        if then <= SHARE:
            break
        gone.append(one)
        then -= one.copies * one.area_mm2 / room_mm2
    # What went first may not have been needed: a large one later freed enough.
    for one in sorted(gone, key=lambda one: one.copies * one.area_mm2):
        back = then + one.copies * one.area_mm2 / room_mm2
        if back <= SHARE:
            gone.remove(one)
            then = back
    count = sum(one.copies for one in gone)
    if then > SHARE or count > _MOST_LEFT_OUT * sum(one.copies for one in wanted):
        return []
    ids = tuple(one.item.id for one in gone)
    return [Proposal(kind="leave_out", item_ids=ids, copies=count, now_share=share, then_share=then)]


def taken(project: Project, proposal: Proposal) -> Project:
    """Return the project with a proposal taken: a box in place of its copies, or items out of the kit."""
    if proposal.kind == "leave_out":
        return remove_items(project, proposal.item_ids)
    assert proposal.kind == "box" and proposal.instead is not None
    (item_id,) = proposal.item_ids
    for insert in project.inserts:
        project = take_out(project, insert.id, [one.id for one in insert.placements if one.item_id == item_id])
    box = replace(proposal.instead, id=item_id)
    return replace(project, items=tuple(box if one.id == item_id else one for one in project.items))
