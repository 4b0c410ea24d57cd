"""A row of a set: things side by side, sorted by size, walls between their true outlines, one trench across them.

Each thing stands upright in the row's own coordinates (its length along y, its handle to the front), the trench lies
along y = 0 near every balance point, so that each lifts level. Front ends are brought to one line as far as that
leaves the trench near the balance; of things that lie the other way round, their back ends to another.
"""

from __future__ import annotations

import itertools
import math
from collections import Counter
from collections.abc import Sequence

import shapely
from shapely.geometry import LineString
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.arrange.facts import Facts
from cozy_burrow.core.arrange.pieces import Form, Part, Piece, wanted_between
from cozy_burrow.core.container.bay import Bay
from cozy_burrow.core.depth.seated import local_pocket
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.model.pull_kinds import TRENCH
from cozy_burrow.core.model.records import FingerPull, Item, Point, Rules
from cozy_burrow.core.progress import make_way
from cozy_burrow.core.pulls.areas import needs_pull
from cozy_burrow.core.pulls.forms import piece_for, wall_of
from cozy_burrow.core.pulls.reach import FINGER_FLAT, SPAN_MM
from cozy_burrow.core.pulls.trench import band_of, trench_line
from cozy_burrow.core.pulls.upright import Upright, away_to_lines, upright_deg

ROW_MOST = 14  # longer rows are split: a hand loses its place in them
_SPLIT_FROM = 6  # shorter rows fall into things at once
_OWN_ROW_FROM = 3  # so many alike stay together when a row of several kinds falls apart
_KEPT_SHARE = 0.6  # of its length that a trench may take the floor from
_SAVES = 0.93  # an alternated row must be so much narrower, or it stays as it reads best
_SHIFTS_MM = (0.0, 6.0, -6.0, 12.0, -12.0, 18.0, -18.0)
_NEAR_TRENCH_MM = 6.0  # beside its edges: so far it may still be moved along the row's things


_Members = Sequence[tuple[Item, int, Facts]]


class RowPlan(Frozen):
    """What a row's form brings besides its things: the trench in the row's coordinates, or none."""

    __slots__ = ("points_mm", "served", "width_mm")

    def __init__(self, points_mm: tuple[Point, Point], width_mm: float, served: tuple[tuple[str, int], ...]) -> None:
        self.points_mm, self.width_mm, self.served = points_mm, width_mm, served


def row_piece(members: _Members, name: str, bay: Bay, rules: Rules, *, with_pulls: bool) -> Piece:
    """Return a set's things as one piece: a row, or rows alternated where that saves room; halves where it is long.

    members: (item, copy, facts), any order. Found no place as a whole, it falls into two rows, then into things.
    """
    ordered = sorted(members, key=lambda one: (-one[2].length_mm, -one[2].width_mm, one[0].id, one[1]))
    return _row(ordered, name, bay, rules, with_pulls)


def _row(ordered: _Members, name: str, bay: Bay, rules: Rules, with_pulls: bool) -> Piece:
    singles = [piece_for(item, copy, bay, rules, with_pulls=with_pulls, facts=facts) for item, copy, facts in ordered]
    by_depth = _by_depth(ordered, bay, rules) if with_pulls else []

    def fallen_apart() -> list[Piece]:
        if len(ordered) < _SPLIT_FROM and not by_depth:
            return singles
        parts = by_depth or _kinds(ordered) or _halves(ordered)
        return [
            _row(part, name, bay, rules, with_pulls) if len(part) > 1 else singles[ordered.index(part[0])]
            for part in parts
        ]

    forms = [] if by_depth or len(ordered) > ROW_MOST else _forms(ordered, singles, bay, rules, with_pulls)
    # Named after its first and its number: the half that begins alike is another piece.
    key = (f"{len(ordered)} in a row of {name}: {ordered[0][0].id}", ordered[0][1])
    if not forms:  # nothing lies here as a whole: what it is made of speaks for the size
        return Piece(key, (_never(singles),), group=singles[0].group, angles_deg=(), instead=fallen_apart)
    return Piece(key, forms, group=singles[0].group, angles_deg=(0.0, 90.0, 180.0, 270.0), instead=fallen_apart)


def _by_depth(ordered: _Members, bay: Bay, rules: Rules) -> list[_Members]:
    """Return a row's things by how many layers they go down, where one trench would not do for all; else nothing.

    A trench is as deep as the deepest asks for: it takes most of the floor from under a short thing that goes less far.
    """
    pockets = [local_pocket(item, None, bay, rules) for item, _, _ in ordered]
    deepest = max(pocket.depth_layers for pocket in pockets)
    if not any(needs_pull(pocket, rules) for pocket in pockets) or not any(
        pocket.depth_layers < deepest and facts.length_mm * _KEPT_SHARE < rules.trench_mm
        for pocket, (_, _, facts) in zip(pockets, ordered)
    ):
        return []
    runs = itertools.groupby(zip(pockets, ordered), key=lambda one: one[0].depth_layers)
    return [[one for _, one in run] for _, run in runs]


def _halves(ordered: _Members) -> list[_Members]:
    half = (len(ordered) + 1) // 2
    return [ordered[:half], ordered[half:]]


def _kinds(ordered: _Members) -> list[_Members]:
    """Return a row's things of which there are several as rows of their own, and the rest; nothing: all are unlike."""
    count = Counter(item.id for item, _, _ in ordered)
    several = [item_id for item_id, number in count.items() if _OWN_ROW_FROM <= number < len(ordered)]
    parts = [[one for one in ordered if one[0].id == item_id] for item_id in several]
    rest = [one for one in ordered if one[0].id not in several]
    return [*parts, *([rest] if rest else [])] if parts else []


def _never(singles: Sequence[Piece]) -> Form:
    whole = shapely.union_all([one.forms[-1].shape for one in singles])
    parts = [part for one in singles for part in one.forms[-1].parts]
    return Form(whole, max(one.forms[-1].wall_mm for one in singles), parts=parts)


def _forms(ordered: _Members, singles: Sequence[Piece], bay: Bay, rules: Rules, with_pulls: bool) -> list[Form]:
    pockets = [local_pocket(item, None, bay, rules) for item, _, _ in ordered]
    needing = [with_pulls and needs_pull(pocket, rules) for pocket in pockets]
    if any(needs and facts.width_mm > SPAN_MM for needs, (_, _, facts) in zip(needing, ordered)):
        return []  # no hand spans it from one side of a trench to the other: each is gripped by itself
    balanced = any(needing)
    upright = [
        Upright((item.id, copy), pocket, facts, upright_deg(facts), single.forms[-1], balanced=balanced)
        for (item, copy, facts), single, pocket in zip(ordered, singles, pockets)
    ]
    plain = _stood(upright, rules)
    turned = [one if n % 2 == 0 else one.turned() for n, one in enumerate(upright)]
    other = _stood(turned, rules)
    wide, narrow = _width(upright, plain), _width(turned, other)
    choices = [(upright, plain)]
    if narrow < _SAVES * wide and any(one.facts.handle is not None for one in upright):
        choices = [(turned, other), (upright, plain)]
    made = [_form(row, places, bay, rules, with_pulls) for row, places in choices]
    return [form for form in made if form is not None]


def _stood(row: Sequence[Upright], rules: Rules) -> list[Point]:
    """Return where each stands, left to right, each as close to those before it as walls and fingers allow.

    A snug pocket is smaller than its thing, so that a wall alone may leave no room for a fingertip between what stands
    in the trench.
    """
    finger_mm = FINGER_FLAT * rules.finger_mm if row[0].balanced else 0.0
    band = rules.trench_mm / 2 + _NEAR_TRENCH_MM
    away = away_to_lines(row)
    places: list[Point] = []
    stood: list[BaseGeometry] = []
    bodies: list[BaseGeometry] = []
    for n, one in enumerate(row):
        y = away[n]
        in_trench = shapely.clip_by_rect(_shifted(one.body, (0.0, y)), -1e4, -band, 1e4, band)
        if n == 0:
            places.append((0.0, y))
            stood.append(_shifted(one.shape, places[-1]))
            bodies.append(in_trench)
            continue
        near = list(zip(stood, bodies, row))[-3:]
        low = places[-1][0]
        high = max(float(shape.bounds[2]) for shape in stood) - float(one.shape.bounds[0])
        high += max(max(wanted_between(one.form, other.form), finger_mm) for _, _, other in near)
        high += max(0.0, float(one.shape.bounds[0] - one.body.bounds[0])) + _bulge(near)
        make_way()
        for _ in range(16):
            x = (low + high) / 2
            moved = _shifted(one.shape, (x, y))
            body = _shifted(in_trench, (x, 0.0))
            fits = all(
                shape.distance(moved) >= wanted_between(one.form, other.form)
                and (there.is_empty or body.is_empty or there.distance(body) >= finger_mm)
                for shape, there, other in near
            )
            low, high = (low, x) if fits else (x, high)
        places.append((math.ceil(high * 20) / 20, y))
        stood.append(_shifted(one.shape, places[-1]))
        bodies.append(_shifted(in_trench, (places[-1][0], 0.0)))
    return places


def _bulge(near: Sequence[tuple[BaseGeometry, BaseGeometry, Upright]]) -> float:
    """Return by how much bodies reach beyond their pockets to the right."""
    return max(0.0, *(float(body.bounds[2] - shape.bounds[2]) for shape, body, _ in near if not body.is_empty), 0.0)


def _shifted(shape: BaseGeometry, by: Point) -> BaseGeometry:
    return placed(shape, x_mm=by[0], y_mm=by[1], angle_deg=0.0)


def _width(row: Sequence[Upright], places: Sequence[Point]) -> float:
    return max(x + float(one.shape.bounds[2]) for one, (x, _) in zip(row, places)) - min(
        x + float(one.shape.bounds[0]) for one, (x, _) in zip(row, places)
    )


def _form(row: Sequence[Upright], places: Sequence[Point], bay: Bay, rules: Rules, with_pulls: bool) -> Form | None:
    """Return the row as a form; None where every trench would leave an island of foam in the opening."""
    shapes = [_shifted(one.shape, at) for one, at in zip(row, places)]
    bounds = shapely.union_all(shapes).bounds
    middle = (round((bounds[0] + bounds[2]) / 2, 2), round((bounds[1] + bounds[3]) / 2, 2))
    parts: list[Part] = []
    layers: list[list[BaseGeometry]] = []
    for one, (x, y) in zip(row, places):
        x, y = x - one.bare[0] - middle[0], y - one.bare[1] - middle[1]
        parts.append(Part(one.key, one.pocket.surface, one.facts, x_mm=x, y_mm=y, angle_deg=one.angle_deg))
        for number, area in enumerate(one.pocket.layers):
            if number == len(layers):
                layers.append([])
            layers[number].append(placed(area, x_mm=x, y_mm=y, angle_deg=one.angle_deg))
    # A trench that one of them needs runs through all: it would come too near to those it left out.
    wanted = with_pulls and any(needs_pull(one.pocket, rules) for one in row)
    plan = None
    if wanted:
        plan = _trench(layers, -middle[1], tuple(one.key for one in row), rules)
        if plan is None:
            return None
    pockets = [_shifted(shape, (-middle[0], -middle[1])) for shape in shapes]
    if plan is not None:
        pockets.append(band_of(plan.points_mm, plan.width_mm))
    walls = [wall_of(one.pocket, bay, rules) for one in row]
    return Form(
        shapely.union_all(pockets),
        max(wall for wall, _ in walls),
        plan,
        snap_mm=max(snap for _, snap in walls),
        parts=parts,
        worse=0.0,
    )


def _trench(
    layers: Sequence[Sequence[BaseGeometry]], y: float, served: tuple[tuple[str, int], ...], rules: Rules
) -> RowPlan | None:
    """Return the trench nearest to y that crosses every pocket and closes off no foam at any layer, or None."""
    for shift in _SHIFTS_MM:
        points = trench_line(layers[0], axis_deg=-90.0, at_mm=-y - shift)
        if points is None:
            continue
        band = band_of(points, rules.trench_mm)
        if not any(leaves_island([*areas, band]) for areas in layers):
            return RowPlan(points, rules.trench_mm, served)
    return None


def leaves_island(areas: Sequence[BaseGeometry]) -> bool:
    """Return whether areas taken out together close off a piece of foam: it would stand alone, and tear off."""
    whole = shapely.union_all(list(areas))
    return any(len(part.interiors) > 0 for part in polygons_in(whole))


def trench_of(
    form: Form, placement_ids: dict[tuple[str, int], str], *, x_mm: float, y_mm: float, angle_deg: float
) -> FingerPull | None:
    """Return the trench of a row that lies somewhere, in plan coordinates; None where the form has none."""
    plan = form.tag
    if not isinstance(plan, RowPlan):
        return None
    line = placed(LineString(plan.points_mm), x_mm=x_mm, y_mm=y_mm, angle_deg=angle_deg)
    first, second = ((round(float(x), 3), round(float(y), 3)) for x, y in shapely.get_coordinates(line))
    return FingerPull(
        id="",
        kind=TRENCH.name,
        serves=tuple(placement_ids[key] for key in plan.served),
        points_mm=(first, second),
        width_mm=plan.width_mm,
    )
