"""A row of a set: things side by side, sorted by size, walls between their true outlines, one trench across them.

Each thing stands upright in the row's own coordinates (its length along y, its handle to the front), the trench lies
along y = 0 near every balance point, so that each lifts level. Front ends are brought to one line as far as that
leaves the trench near the balance.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import shapely
from shapely.geometry import LineString
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.arrange.facts import Facts
from cozy_burrow.core.arrange.pieces import Form, Part, Piece, wanted_between
from cozy_burrow.core.container.bay import Bay
from cozy_burrow.core.depth.pocket import Pocket, local_pocket
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.model.records import FingerPull, Item, Point, Rules
from cozy_burrow.core.pulls.forms import piece_for, wall_of
from cozy_burrow.core.pulls.suggest import needs_pull

ROW_MOST = 14  # longer rows are split: a hand loses its place in them
_OFF_BALANCE = 0.13  # of its length that the trench may lie off a thing's balance point
_SAVES = 0.93  # an alternated row must be so much narrower, or it stays as it reads best
_PAST_MM = 8.0  # with the round end of the trench about a fingertip past the outer pockets


class RowPlan(Frozen):
    """What a row's form brings besides its things: the trench in the row's coordinates, or none."""

    __slots__ = ("points_mm", "served", "width_mm")

    def __init__(self, points_mm: tuple[Point, Point], width_mm: float, served: tuple[tuple[str, int], ...]) -> None:
        self.points_mm, self.width_mm, self.served = points_mm, width_mm, served


class _Upright(Frozen):
    """A thing turned upright, its balance point at the origin."""

    __slots__ = ("angle_deg", "bare", "facts", "form", "key", "pocket", "shape")

    def __init__(self, key: tuple[str, int], pocket: Pocket, facts: Facts, angle_deg: float, form: Form) -> None:
        self.key, self.pocket, self.facts, self.angle_deg, self.form = key, pocket, facts, angle_deg, form
        turned = placed(pocket.surface, x_mm=0.0, y_mm=0.0, angle_deg=angle_deg)
        angle = math.radians(angle_deg)
        x, y = facts.balance
        self.bare = (math.cos(angle) * x - math.sin(angle) * y, math.sin(angle) * x + math.cos(angle) * y)
        self.shape: BaseGeometry = shapely.transform(turned, lambda points: points - self.bare)


def row_piece(
    members: Sequence[tuple[Item, int, Facts]], name: str, bay: Bay, rules: Rules, *, with_pulls: bool
) -> Piece:
    """Return a set's things as one piece: a row, or rows alternated where that saves room; halves where it is long.

    members: (item, copy, facts), any order. Found no place as a whole, it falls into two rows, then into things.
    """
    ordered = sorted(members, key=lambda one: (-one[2].length_mm, -one[2].width_mm, one[0].id, one[1]))
    return _row(ordered, name, bay, rules, with_pulls)


def _row(ordered: Sequence[tuple[Item, int, Facts]], name: str, bay: Bay, rules: Rules, with_pulls: bool) -> Piece:
    singles = [piece_for(item, copy, bay, rules, with_pulls=with_pulls, facts=facts) for item, copy, facts in ordered]
    if len(ordered) >= 6:
        half = (len(ordered) + 1) // 2
        instead = [_row(part, name, bay, rules, with_pulls) for part in (ordered[:half], ordered[half:])]
    else:
        instead = singles
    forms = [] if len(ordered) > ROW_MOST else _forms(ordered, singles, bay, rules, with_pulls)
    if not forms:  # nothing lies here as a whole: the first half speaks for the size
        return Piece(
            (f"row of {name}", ordered[0][1]),
            (_never(singles),),
            group=singles[0].group,
            angles_deg=(),
            instead=instead,
        )
    key = (f"row of {name}: {ordered[0][0].id}", ordered[0][1])
    return Piece(key, forms, group=singles[0].group, angles_deg=(0.0, 90.0, 180.0, 270.0), instead=instead)


def _never(singles: Sequence[Piece]) -> Form:
    whole = shapely.union_all([one.forms[-1].shape for one in singles])
    parts = [part for one in singles for part in one.forms[-1].parts]
    return Form(whole, max(one.forms[-1].wall_mm for one in singles), parts=parts)


def _forms(
    ordered: Sequence[tuple[Item, int, Facts]], singles: Sequence[Piece], bay: Bay, rules: Rules, with_pulls: bool
) -> list[Form]:
    upright = []
    for (item, copy, facts), single in zip(ordered, singles):
        pocket = local_pocket(item, None, bay, rules)
        upright.append(_Upright((item.id, copy), pocket, facts, _upright_deg(facts), single.forms[-1]))
    plain = _stood(upright)
    turned = [
        one if n % 2 == 0 else _Upright(one.key, one.pocket, one.facts, one.angle_deg + 180.0, one.form)
        for n, one in enumerate(upright)
    ]
    other = _stood(turned)
    wide, narrow = _width(upright, plain), _width(turned, other)
    choices = [(upright, plain)]
    if narrow < _SAVES * wide and any(one.facts.handle is not None for one in upright):
        choices = [(turned, other), (upright, plain)]
    return [_form(row, places, bay, rules, with_pulls) for row, places in choices]


def _upright_deg(facts: Facts) -> float:
    """Return the turn that lays a thing's length along y, its handle to the front."""
    if facts.axis_deg is None:
        return 90.0 if facts.length_mm > facts.width_mm else 0.0
    turn = 90.0 - facts.axis_deg
    if facts.handle is not None:
        angle = math.radians(turn)
        if math.sin(angle) * facts.handle[0] + math.cos(angle) * facts.handle[1] < 0:
            turn += 180.0
    return turn % 360.0


def _stood(row: Sequence[_Upright]) -> list[Point]:
    """Return where each stands, left to right, each as close to those before it as walls allow."""
    front = max(float(one.shape.bounds[3]) for one in row)
    places: list[Point] = []
    stood: list[BaseGeometry] = []
    for n, one in enumerate(row):
        most = _OFF_BALANCE * one.facts.length_mm
        y = max(-most, min(most, front * 0.8 - float(one.shape.bounds[3])))
        if n == 0:
            places.append((0.0, round(y, 2)))
            stood.append(_shifted(one.shape, (0.0, round(y, 2))))
            continue
        near = list(zip(stood, row))[-3:]
        low = places[-1][0]
        high = max(float(shape.bounds[2]) for shape in stood) - float(one.shape.bounds[0])
        high += max(wanted_between(one.form, other.form) for _, other in near)
        for _ in range(16):
            x = (low + high) / 2
            moved = _shifted(one.shape, (x, round(y, 2)))
            fits = all(shape.distance(moved) >= wanted_between(one.form, other.form) for shape, other in near)
            low, high = (low, x) if fits else (x, high)
        places.append((math.ceil(high * 20) / 20, round(y, 2)))
        stood.append(_shifted(one.shape, places[-1]))
    return places


def _shifted(shape: BaseGeometry, by: Point) -> BaseGeometry:
    return placed(shape, x_mm=by[0], y_mm=by[1], angle_deg=0.0)


def _width(row: Sequence[_Upright], places: Sequence[Point]) -> float:
    return max(x + float(one.shape.bounds[2]) for one, (x, _) in zip(row, places)) - min(
        x + float(one.shape.bounds[0]) for one, (x, _) in zip(row, places)
    )


def _form(row: Sequence[_Upright], places: Sequence[Point], bay: Bay, rules: Rules, with_pulls: bool) -> Form:
    shapes = [_shifted(one.shape, at) for one, at in zip(row, places)]
    bounds = shapely.union_all(shapes).bounds
    middle = ((bounds[0] + bounds[2]) / 2, (bounds[1] + bounds[3]) / 2)
    middle = (round(middle[0], 2), round(middle[1], 2))
    # A trench that one of them needs runs through all: it would come too near to those it left out.
    wanted = with_pulls and any(needs_pull(one.pocket, rules) for one in row)
    served = tuple(one.key for one in row) if wanted else ()
    plan = None
    if served:
        line = shapely.union_all(shapes).intersection(LineString([(-1e5, 0.0), (1e5, 0.0)]))
        left, right = float(line.bounds[0]) - _PAST_MM, float(line.bounds[2]) + _PAST_MM
        points = ((round(left - middle[0], 2), -middle[1]), (round(right - middle[0], 2), -middle[1]))
        plan = RowPlan(points, rules.trench_mm, served)
    parts: list[Part] = []
    pockets: list[BaseGeometry] = []
    for one, (x, y) in zip(row, places):
        x, y = x - one.bare[0] - middle[0], y - one.bare[1] - middle[1]
        parts.append(Part(one.key, one.pocket.surface, one.facts, x_mm=x, y_mm=y, angle_deg=one.angle_deg))
        pockets.append(placed(one.pocket.surface, x_mm=x, y_mm=y, angle_deg=one.angle_deg))
    if plan is not None:
        pockets.append(LineString(plan.points_mm).buffer(plan.width_mm / 2, quad_segs=16))
    walls = [wall_of(one.pocket, bay, rules) for one in row]
    return Form(
        shapely.union_all(pockets),
        max(wall for wall, _ in walls),
        plan,
        snap_mm=max(snap for _, snap in walls),
        parts=parts,
        worse=0.0,
    )


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
        kind="trench",
        serves=tuple(placement_ids[key] for key in plan.served),
        points_mm=(first, second),
        width_mm=plan.width_mm,
    )
