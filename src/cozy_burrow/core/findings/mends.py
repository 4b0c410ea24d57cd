"""What the program can do about a finding: each mend as a pure change of the project."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from msgspec.structs import replace

from cozy_burrow.core.container.bay import bay_of, headroom_mm, stack_mm
from cozy_burrow.core.depth.options import options_for, seated
from cozy_burrow.core.depth.seated import seating_of
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.findings.finding import Finding, Mend
from cozy_burrow.core.findings.grips import stands_in
from cozy_burrow.core.findings.mend_kinds import (
    ADD_PULL,
    AS_ADVISED,
    FEWER_LAYERS,
    FIT_LINE,
    FIT_SNUG,
    LAY_IN,
    LAY_UNDER,
    LIFT_STRAPS,
    LOWER_SEAT,
    MOVE_CLEAR,
    ON_EDGE,
    ON_FACE,
    REMOVE_PULL,
    SEAT_BY_RULE,
    SEAT_JUDGED,
    THINNER_STACK,
    MendKind,
)
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.findings.walls import wall_findings
from cozy_burrow.core.foam.layers import floor_of, layers_of
from cozy_burrow.core.ground.fitting import laid_in, moved_clear
from cozy_burrow.core.ground.gripping import gripped, regripped
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.ground.under import laid_under
from cozy_burrow.core.kit.several import on_edge, on_face
from cozy_burrow.core.model.edits import (
    change_insert,
    change_item,
    change_placements,
    copy_of,
    insert_of,
    item_of,
    placement_of,
    remove_pulls,
)
from cozy_burrow.core.model.records import Fit, Insert, Item, Placement, Project, Seat
from cozy_burrow.core.tolerances import FOAM_GIVES_MM
from cozy_burrow.core.tongue import tr


def mended_first(project: Project, finding: Finding, mends: Sequence[Mend], *, insert_id: str) -> tuple[Mend, Project]:
    """Return the first of a finding's mends that can be carried out, and the project with it.

    insert_id: the insert that is meant where a mend names none. A finding belongs to a document: whether it still holds
    in this one is looked at again first. Raises UnusableInput where it does not, or where no mend can be.
    """
    if finding not in findings_of(project):
        raise UnusableInput(
            tr("this check no longer holds: the plan has changed since"),
            remedy=tr("look at the list, which is as it is now"),
        )
    refusal: UnusableInput | None = None
    for mend in mends:
        try:
            return mend, mended(project, _insert_of(project, mend) or insert_id, mend)
        except UnusableInput as error:
            refusal = refusal or error
    if refusal is None:
        raise UnusableInput(tr("nothing is offered for this check"), remedy=tr("change the plan by hand"))
    raise refusal


def _insert_of(project: Project, mend: Mend) -> str | None:
    for insert in project.inserts:
        names = {one.id for one in insert.placements} | {pull.id for pull in insert.pulls} | {insert.id}
        if mend.target in names:
            return insert.id
    return None


Carries = Callable[[Project, Insert, str], Project]
_CARRIED: dict[str, Carries] = {}


def mended(project: Project, insert_id: str, mend: Mend) -> Project:
    """Return the project with the mend carried out. Raises UnusableInput where it cannot be."""
    return _CARRIED[mend.kind](project, insert_of(project, insert_id), mend.target)


def carries_out(kind: MendKind) -> Callable[[Carries], Carries]:
    """Say that a function carries a kind of mend out: it is given the project, the insert and the mend's target."""

    def note(function: Carries) -> Carries:
        _CARRIED[kind.name] = function
        return function

    return note


@carries_out(MOVE_CLEAR)
def _move_clear(project: Project, insert: Insert, key: str) -> Project:
    return _or_refuse(
        moved_clear(project, insert.id, key),
        tr("there is no clear spot for it in this insert"),
        tr("free it if it is locked, or make room"),
    )


@carries_out(LAY_IN)
def _lay_in(project: Project, insert: Insert, key: str) -> Project:
    return _or_refuse(
        laid_in(project, insert.id, *copy_of(project, key)),
        tr("there is no room for it among what lies here"),
        tr("let the program arrange everything, or take something out"),
    )


@carries_out(LAY_UNDER)
def _lay_under(project: Project, insert: Insert, key: str) -> Project:
    return _or_refuse(
        laid_under(project, insert.id, *copy_of(project, key)),
        tr("no item here has room for it underneath"),
        tr("it must fit inside a shallow pocket, with foam left below and round it"),
    )


@carries_out(ADD_PULL)
def _add_pull(project: Project, insert: Insert, key: str) -> Project:
    changed, given = gripped(project, insert.id, [key])
    if all(one.pull is None for one in given):
        raise UnusableInput(
            tr("no finger pull fits beside it"), remedy=tr("move its neighbours away, or let it stand out more")
        )
    return changed


@carries_out(REMOVE_PULL)
def _remove_pull(project: Project, insert: Insert, key: str) -> Project:
    return remove_pulls(project, insert.id, [key])


@carries_out(SEAT_BY_RULE)
def _seat_by_rule(project: Project, insert: Insert, key: str) -> Project:
    return change_placements(project, insert.id, [key], lambda one: replace(one, zone_layers=None, risers_mm=None))


@carries_out(FIT_SNUG)
def _fit_snug(project: Project, insert: Insert, key: str) -> Project:
    return _fitted(project, insert, key, "snug")


@carries_out(FIT_LINE)
def _fit_line(project: Project, insert: Insert, key: str) -> Project:
    return _fitted(project, insert, key, "line")


def _fitted(project: Project, insert: Insert, key: str, fit: Fit) -> Project:
    item = item_of(project, placement_of(insert, key).item_id)
    return change_item(project, replace(item, fit=fit))


@carries_out(LIFT_STRAPS)
def _lift_straps(project: Project, insert: Insert, key: str) -> Project:
    return change_insert(project, key, lift_straps=True)


def _or_refuse(result: Project | None, what: str, remedy: str) -> Project:
    if result is None:
        raise UnusableInput(what, remedy=remedy)
    return result


@carries_out(FEWER_LAYERS)
def _fewer_layers(project: Project, insert: Insert, key: str) -> Project:
    floor = floor_of(bay_of(project, insert), project.rules.floor_layers)
    most = len(layers_of(insert.sheets)) - floor
    placement = placement_of(insert, key)
    seating = seating_of(item_of(project, placement.item_id), placement, bay_of(project, insert), project.rules)
    wanted = tuple(min(count, max(1, most)) for count in seating.zone_layers)
    return change_placements(project, insert.id, [key], lambda one: replace(one, zone_layers=wanted))


@carries_out(AS_ADVISED)
def _seated(project: Project, insert: Insert, key: str) -> Project:
    """Take the first good way of seating a thing that needs no other foam."""
    placement = placement_of(insert, key)
    item, bay = item_of(project, placement.item_id), bay_of(project, insert)
    for option in options_for(item, placement, bay, project.rules):
        if option.kind != "sheet":
            return _with_placement(project, insert.id, seated(placement, option))
    raise UnusableInput(
        tr("'{name}' has no way to lie level in this foam", name=item.name),
        remedy=tr("lay it on another side, or take other foam"),
    )


@carries_out(SEAT_JUDGED)
def _seat_judged(project: Project, insert: Insert, key: str) -> Project:
    """Seat a thing as if nobody had named a seat."""
    placement = placement_of(insert, key)
    named = item_of(project, placement.item_id).seat or project.rules.seat
    seat: Seat | None = None if named is None else "judged"
    return _with_placement(project, insert.id, replace(placement, seat=seat, zone_layers=None, risers_mm=None))


@carries_out(ON_EDGE)
def _on_edge(project: Project, insert: Insert, key: str) -> Project:
    """Stand a thin flat thing on edge, all its copies; seats and pulls of what lay flat are chosen anew."""
    stood = on_edge(item_of(project, placement_of(insert, key).item_id))
    if not stands_in(stood, bay_of(project, insert), project.rules):
        raise UnusableInput(
            tr("'{name}' stands higher on edge than there is room", name=stood.name),
            remedy=tr("take a thicker stack, or let it lie"),
        )
    return _in_another_pose(project, stood)


@carries_out(ON_FACE)
def _on_face(project: Project, insert: Insert, key: str) -> Project:
    """Lay a disc on its face, all its copies; one that has no room so where it stands moves clear."""
    laid = on_face(item_of(project, placement_of(insert, key).item_id))
    changed = _in_another_pose(project, laid)
    for one in changed.inserts:
        for lying in one.placements:
            if lying.item_id != laid.id or not _is_in_the_way(changed, one.id, lying.id):
                continue
            clear = moved_clear(changed, one.id, lying.id)
            if clear is None:
                raise UnusableInput(
                    tr("'{name}' finds no room on its face", name=laid.name),
                    remedy=tr("make room for it first, or take a thicker stack"),
                )
            changed = clear
    return changed


def _is_in_the_way(project: Project, insert_id: str, key: str) -> bool:
    ground = ground_of(project, insert_of(project, insert_id))
    return any(key in one.placements and one.severity == "stop" for one in wall_findings(ground))


def _in_another_pose(project: Project, item: Item) -> Project:
    """Return the project with an item in another pose, the seats and pulls of all its copies chosen anew."""
    changed = change_item(project, item)
    for one in project.inserts:
        copies = [lying.id for lying in one.placements if lying.item_id == item.id]
        if copies:
            changed = change_placements(
                changed, one.id, copies, lambda lying: replace(lying, seat=None, zone_layers=None, risers_mm=None)
            )
            changed = regripped(changed, one.id, copies)
    return changed


@carries_out(LOWER_SEAT)
def _lower_seat(project: Project, insert: Insert, key: str) -> Project:
    """Take out as many layers as let the thing clear the container's height, by the seat that is made for it."""
    placement = placement_of(insert, key)
    item = item_of(project, placement.item_id)
    bay = bay_of(project, insert)
    headroom = max(0.0, headroom_mm(bay))
    tries: tuple[Seat, ...] = ("judged", "lid", "flush", "deep")
    for seat in tries:
        tried = replace(placement, seat=seat, zone_layers=None, risers_mm=None)
        if seating_of(item, tried, bay, project.rules).proud_mm <= headroom + FOAM_GIVES_MM:
            return _with_placement(project, insert.id, tried)
    raise UnusableInput(
        tr("'{name}' is too thick for this stack", name=item.name),
        remedy=tr("take a thicker stack, or lay it on another side"),
    )


def _with_placement(project: Project, insert_id: str, placement: Placement) -> Project:
    return change_placements(project, insert_id, [placement.id], lambda _: placement)


@carries_out(THINNER_STACK)
def _thinner_stack(project: Project, insert: Insert, key: str) -> Project:
    sheets, bay = insert.sheets, bay_of(project, insert)
    while len(sheets) > 1 and bay.below_mm + stack_mm(sheets) > bay.container.height_mm:
        sheets = sheets[:-1]
    return change_insert(project, insert.id, sheets=sheets)
