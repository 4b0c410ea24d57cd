"""A second photo of what lies on the bench, from another place: thicknesses are measured, what was hidden appears.

What a hand has done to an outline stays: it is only led along to the height that was measured.
"""

from __future__ import annotations

import math

from msgspec.structs import replace

from cozy_burrow.core.capture.photo.heights import Height, Step, View, height_of, mixed, step_of, walls_of
from cozy_burrow.core.capture.photo.several import check_same_mat, same_things, view_of
from cozy_burrow.core.capture.photo.trace import PhotoTrace, outline_of_seen, sure_of
from cozy_burrow.core.capture.retouch.draft import USUAL_THICKNESS_MM, Draft, Table, plain_draft, with_thickness
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import checked_outline, polygon_of
from cozy_burrow.core.kit.zones import set_zone, split_zones
from cozy_burrow.core.model.records import Item, Point, Section
from cozy_burrow.core.tongue import tr

_LEAST_MM = 0.3  # a card: nothing that is traced is thinner
_FAR_MM = 10.0
_SURELY = 0.95
_PALE = 0.35  # of the light: paler walls are not seen beside paper
_SAME = 0.3  # of it lies where another draft does


def with_photo(table: Table, first: PhotoTrace, second: PhotoTrace, *, source: str) -> Table:
    """Return the table with every edge as high as both photos say, and what only the second one shows.

    Raises UnusableInput where the second photo shows another mat, or nothing of what lies on the bench.
    """
    check_same_mat([first.sight, second.sight])
    same = same_things([(thing, first.sight) for thing in first.things], second)
    if not same:
        raise UnusableInput(
            tr("none of the items on the bench is seen in it"),
            where=source,
            remedy=tr("photograph the same layout from a place a hand or two aside"),
        )
    found = {row: column for column, row in same.items()}
    drafts = [
        _measured(draft, first, second, found[draft.seen]) if draft.seen in found else draft for draft in table.drafts
    ]
    for number in range(len(second.things)):
        if number not in same:
            drafts += _new(second, number, drafts, source=source)
    return replace(table, drafts=tuple(drafts))


def _measured(draft: Draft, first: PhotoTrace, second: PhotoTrace, other: int) -> Draft:
    assert draft.seen is not None
    views = view_of(first.things[draft.seen], first.sight), view_of(second.things[other], second.sight)
    section, hidden, height = _as_seen(draft, views, step=first.things[draft.seen].step)
    if height is None:
        return draft
    if draft.measured_mm is not None and draft.measured_sigma_mm:  # a third photo: both, each as sure as it is
        height = _both(Height(draft.measured_mm, draft.measured_sigma_mm), height)
    step = step_of(*views, height, sides="round" if hidden else "straight") if section == "flat" else None
    edge = height.edge_mm if step is None else max(step.before.edge_mm, step.after.edge_mm)
    thickness = max(_LEAST_MM, edge * (2 if section == "round" else 1))
    changed = with_thickness(draft, first, thickness_mm=round(thickness, 2), section=section, walls_hidden=hidden)
    sigma = height.sigma_mm if step is None else max(step.before.sigma_mm, step.after.sigma_mm)
    sure = sure_of(first.sight, first.things[draft.seen], height_mm=edge, height_sigma_mm=sigma)
    told = replace(changed.item.provenance, uncertainty_mm=round(sure, 3))
    item = replace(changed.item, provenance=told)
    changed = replace(changed, item=item, measured_mm=height.edge_mm, measured_sigma_mm=sigma)
    return changed if step is None or len(changed.item.zones) > 1 else _in_parts(changed, step)


def _as_seen(draft: Draft, views: tuple[View, View], *, step: float) -> tuple[Section, bool, Height | None]:
    """Return the body that two photos tell, whether its walls are hidden, and the height of its edge.

    The height is None where they can't tell it. step: how much the rim differs from the paper beside it.

    Every draft begins as one with upright walls: photos that tell otherwise make it round. What was set to another
    body, or measured before, stays what it is. Walls as pale as paper are not seen beside it: then the photos show the
    upper edge all round, as they show a round thing's widest line. Which it is they don't tell, and it is taken as
    upright: a pocket half as deep as it should be can be cut deeper.
    """
    if draft.section != "flat" or draft.measured_mm is not None:
        return draft.section, draft.walls_hidden, height_of(*views, sides=draft.sides, guess_mm=draft.edge_mm)
    walls = walls_of([views], usual="straight", guess_mm=draft.edge_mm)
    told = {way.sides: (way.share, height) for way in walls for height in way.heights if height is not None}
    if not told:
        return draft.section, False, None
    if walls[0].sides == "round" and "round" in told and step < _PALE:
        return "flat", True, told["round"][1]
    whole = sum(share for share, _ in told.values())
    height = mixed([(share / whole, one) for share, one in told.values()])
    if walls[0].sides == "straight" or walls[0].share < _SURELY:
        return "flat", False, height
    if "straight" in told and step_of(*views, height, sides="round") is not None:  # parts of two heights are flat ones
        return "flat", False, told["straight"][1]
    return "round", False, height


def _both(one: Height, other: Height) -> Height:
    weights = one.sigma_mm**-2, other.sigma_mm**-2
    mean = (one.edge_mm * weights[0] + other.edge_mm * weights[1]) / sum(weights)
    return Height(mean, math.sqrt(1 / sum(weights)))


def _in_parts(draft: Draft, step: Step) -> Draft:
    """Return the draft in two zones, each as thick as it was measured; as it was where no line parts it there."""
    (x, y), (u, v) = step.at_mm, step.along
    try:
        item = split_zones(draft.item, (x - _FAR_MM * v, y + _FAR_MM * u), (x + _FAR_MM * v, y - _FAR_MM * u))
    except UnusableInput:
        return draft
    for index in range(len(item.zones)):
        ahead = _ahead(item, index, step.at_mm, step.along)
        own = step.after if ahead else step.before
        item = set_zone(item, index, thickness_mm=max(_LEAST_MM, round(own.edge_mm, 2)))
    return replace(draft, item=item)


def _ahead(item: Item, index: int, at: Point, along: Point) -> bool:
    middle = polygon_of(item.zones[index].region).centroid
    return (middle.x - at[0]) * along[0] + (middle.y - at[1]) * along[1] > 0


def _new(trace: PhotoTrace, number: int, drafts: list[Draft], *, source: str) -> list[Draft]:
    """Return a draft of a thing that only the second photo shows, its height as usual: no photo tells it.

    None where another one lies there: an earlier photo brought it to the bench.
    """
    found = outline_of_seen(trace, trace.things[number], height_mm=USUAL_THICKNESS_MM, sides="straight")
    if not found:
        return []
    main = max(found, key=lambda one: float(one.shape.area))
    if any(polygon_of(one.item.outline).intersection(main.shape).area > _SAME * main.shape.area for one in drafts):
        return []
    outline = checked_outline(main.shape, where=source)
    name = tr("item {count}", count=len(drafts) + 1)
    return [plain_draft(outline, name=name, way="photo", source=source, sure_mm=main.sure_mm)]
