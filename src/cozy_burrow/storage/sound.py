"""Is what was decoded a project that can be worked with? Figures in range, names that exist, outlines that close."""

from __future__ import annotations

import math

from cozy_burrow.core.container.checks import checked_container
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.foam.layers import checked_sheet
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.coherence import incoherence
from cozy_burrow.core.model.pull_kinds import PULL_KINDS
from cozy_burrow.core.model.ranges import checked
from cozy_burrow.core.model.records import Insert, Item, Outline, Project, Rules
from cozy_burrow.core.tolerances import LARGEST_LENGTH_MM
from cozy_burrow.core.tongue import tr

_REMEDY = tr("open the recovery copy or an older save")
_MOST_SPARE = 50
_MOST_PX_PER_MM, _MOST_PHOTO_BYTES = 1000.0, 2_000_000


def check_sound(project: Project, *, where: str) -> Project:
    """Return the project; raises UnusableInput for the first thing in it that cannot be."""
    try:
        _check_rules(project.rules)
        for item in project.items:
            _check_item(item)
        for container in project.containers:
            if container.outline is not None:
                _check_outline(container.outline, tr("container '{name}'", name=container.name[:60]))
            checked_container(container, where=tr("container '{name}'", name=container.name[:60]))
        for insert in project.inserts:
            _check_insert(insert)
        wrong = incoherence(project)
        if wrong:
            raise UnusableInput(wrong, remedy=_REMEDY)
    except UnusableInput as error:
        raise error.at(where) from error
    return project


def _finite(where: str, *values: float | None, most: float = LARGEST_LENGTH_MM) -> None:
    for value in values:
        if value is not None and not (math.isfinite(value) and abs(value) <= most):
            raise UnusableInput(tr("{value} is no length", value=value), where=where, remedy=_REMEDY)


def _check_rules(rules: Rules) -> None:
    """Refuse figures outside the ranges that their fields declare, for a project that no reader has looked at."""
    for field in rules.__struct_fields__:
        value = getattr(rules, field)
        if isinstance(value, int | float) and not isinstance(value, bool):
            try:
                checked(Rules, field, value, where=tr("rules, {field}", field=field), unit="")
            except UnusableInput as error:
                raise UnusableInput(
                    error.what,
                    where=error.where,
                    remedy=tr("{remedy}, or {remedy_2}", remedy=error.remedy, remedy_2=_REMEDY),
                ) from error


def _check_outline(outline: Outline, where: str) -> None:
    for ring in (outline.outer, *outline.holes):
        if len(ring) < 3:
            raise UnusableInput(tr("an outline has fewer than three corners"), where=where, remedy=_REMEDY)
        for x, y in ring:
            _finite(where, x, y)
    if not polygon_of(outline).is_valid or polygon_of(outline).area <= 0:
        raise UnusableInput(tr("an outline crosses itself"), where=where, remedy=_REMEDY)


def _check_item(item: Item) -> None:
    where = tr("item '{name}'", name=item.name[:60])
    _check_outline(item.outline, where)
    if not item.zones:
        raise UnusableInput(tr("it has no zone"), where=where, remedy=_REMEDY)
    checked(Item, "quantity", item.quantity, where=tr("{where}, quantity", where=where), unit="")
    if item.mass_g is not None:
        checked(Item, "mass_g", item.mass_g, where=tr("{where}, mass_g", where=where), unit=" g")
    photo = item.photo
    if photo is not None:
        _finite(where, photo.left_mm, photo.top_mm)
        if not 0.0 < photo.px_per_mm <= _MOST_PX_PER_MM or len(photo.jpeg) > _MOST_PHOTO_BYTES:
            raise UnusableInput(tr("its photo has no size that a photo can have"), where=where, remedy=_REMEDY)
    for zone in item.zones:
        _check_outline(zone.region, where)
        _finite(where, zone.under_mm, zone.top_mm, zone.under_end_mm, zone.top_end_mm)
        if zone.thickness_mm <= 0 or (zone.under_end_mm is None) != (zone.top_end_mm is None):
            raise UnusableInput(tr("'{name}' has no thickness", name=zone.name[:40]), where=where, remedy=_REMEDY)
        if zone.axis is not None:
            _finite(where, *zone.axis[0], *zone.axis[1])
            if math.dist(*zone.axis) < 1e-6 and zone.under_end_mm is not None:
                raise UnusableInput(tr("a tapered zone has no axis"), where=where, remedy=_REMEDY)


def _check_insert(insert: Insert) -> None:
    where = tr("insert '{name}'", name=insert.name[:60])
    if not 1 <= len(insert.sheets) <= 40:
        raise UnusableInput(tr("it has no sheet or too many"), where=where, remedy=_REMEDY)
    for sheet in insert.sheets:
        checked_sheet(sheet, where=where)
        if sheet.contrast_layers < 0:
            raise UnusableInput(tr("the contrast base is below zero"), where=where, remedy=_REMEDY)
    checked(Insert, "press_fit_mm", insert.press_fit_mm, where=tr("{where}, press_fit_mm", where=where))
    if len(insert.spare) > _MOST_SPARE:
        raise UnusableInput(
            tr("more than {most_spare} areas are kept free", most_spare=_MOST_SPARE), where=where, remedy=_REMEDY
        )
    for ring in insert.spare:
        _check_outline(Outline(outer=ring), tr("{where}, an area kept free", where=where))
    for piece in insert.glued:
        _check_outline(piece.outline, tr("{where}, foam that was glued in", where=where))
    if insert.section_line is not None:
        _finite(where, *insert.section_line[0], *insert.section_line[1])
    for one in insert.placements:
        _finite(where, one.x_mm, one.y_mm, one.angle_deg, most=10 * LARGEST_LENGTH_MM)
        _finite(where, *(one.risers_mm or ()))
    for pull in insert.pulls:
        for point in pull.points_mm:
            _finite(where, *point)
        _finite(where, pull.width_mm)
        kind = PULL_KINDS.get(pull.kind)
        if kind is None:
            raise UnusableInput(
                tr("a finger pull is of no kind known here: '{kind}'", kind=pull.kind), where=where, remedy=_REMEDY
            )
        if len(pull.points_mm) != kind.points or pull.width_mm <= 0 or not pull.serves:
            raise UnusableInput(tr("a finger pull is not whole"), where=where, remedy=_REMEDY)
