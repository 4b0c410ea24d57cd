"""Where the names of things stand on the plan: on the thing where there is room, else beside it, else nowhere.

A name stands level or along its thing, never over another name, another thing, or anything that is kept free; where it
stands off, a short line joins it to its thing. The tightest choose first: those with the fewest places.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from itertools import islice

import numpy as np
import shapely
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import nearest_points

from cozy_burrow.core.geometry.axes import long_axis_deg
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Outline, Placement, Point, Record
from cozy_burrow.core.progress import make_way

ROOM_MM = 1.0  # between a name and whatever else
_NEAR_MM = 2.5  # from a thing to its name beside it
_FAR_MM = (0.0, 7.0, 16.0)  # farther off, where it is narrow
_ALONG = (0.0, 0.22, -0.22, 0.36, -0.36)  # shares of the thing's length at which a name may stand on or beside it
_LEADER_FROM_MM = 4.0
_MOST_PLACES = 8  # that one name is given to choose from
_COMPACT = 1.25
_LEVEL_DEG = 12.0  # a thing that lies so nearly level has its name level


class NameTag(Record, frozen=True, kw_only=True):
    """A name's middle and turn on the plan. leader: a line from the name to its thing; on_thing: it stands on it."""

    key: str
    at: Point
    angle_deg: float
    on_thing: bool
    leader: tuple[Point, Point] | None = None


def names_on(
    ground: Ground, sizes_mm: Mapping[str, tuple[float, float]], taken: Sequence[BaseGeometry] = ()
) -> tuple[NameTag, ...]:
    """Return where names stand. sizes_mm: width and height of each placement's name. taken: where none may stand.

    A placement whose name finds no room is left out.
    """
    at = {one.id: one for one in ground.insert.placements}
    bodies = {key: _body(ground.pockets[key].item.outline, at[key]) for key in sizes_mm if key in at}
    keys = list(bodies)
    cuts = [_first_area(ground, key) for key in keys]
    others = shapely.STRtree([*bodies.values(), *cuts, *taken, *(one.area for one in ground.pulls if one.layers)])
    owner = [*keys, *keys, *([_TAKEN] * len(taken)), *("" for one in ground.pulls if one.layers)]
    room = ground.blank
    tags: list[NameTag] = []
    stand: list[Polygon] = []
    free: dict[str, list[_Place]] = {}
    for key in keys:
        make_way()
        places = _places(bodies[key], sizes_mm[key])
        fit = (one for one in places if _is_free(one, key, bodies[key], others, owner, room))
        free[key] = list(islice(fit, _MOST_PLACES))
    for key in sorted(keys, key=lambda one: (len(free[one]), one)):
        for tag, shape in free[key]:
            if all(shape.distance(other) >= ROOM_MM for other in stand):
                stand.append(shape)
                tags.append(_joined(tag, key, shape, bodies[key]))
                break
    return tuple(sorted(tags, key=lambda one: keys.index(one.key)))


@memo(rows=1024)
def _body(outline: Outline, placement: Placement) -> Polygon:
    return placed(polygon_of(outline), x_mm=placement.x_mm, y_mm=placement.y_mm, angle_deg=placement.angle_deg)


def _first_area(ground: Ground, key: str) -> BaseGeometry:
    return ground.pockets[key].surface


_Place = tuple[NameTag, Polygon]
_TAKEN = "taken"  # is nobody's, as pulls are; but names on a thing keep off it, too


def _places(body: Polygon, size: tuple[float, float]) -> Iterator[_Place]:
    """Yield places for a name, the best first: on the thing, along it or level, then beside it."""
    wide, deep = body.bounds[2] - body.bounds[0], body.bounds[3] - body.bounds[1]
    compact = max(wide, deep) < _COMPACT * min(wide, deep)  # it has no direction that anybody sees
    axis = 0.0 if compact else _upright(long_axis_deg(body))
    if min(abs(axis), abs(abs(axis) - 180.0)) < _LEVEL_DEG:
        axis = 0.0
    turns = [axis] if axis == 0.0 else [axis, 0.0]
    middle = body.centroid
    cos, sin = math.cos(math.radians(axis)), math.sin(math.radians(axis))
    corners = shapely.get_coordinates(body) - (middle.x, middle.y)
    along, across = corners @ (cos, sin), corners @ (-sin, cos)
    length = float(along.max() - along.min())
    for share in _ALONG:
        x, y = middle.x + share * length * cos, middle.y + share * length * sin
        for turn in turns:
            yield _place((x, y), turn, size, on_thing=True)
    for far in _FAR_MM:
        for side in (float(across.max()) + _NEAR_MM + far, float(across.min()) - _NEAR_MM - far):
            for share in _ALONG:
                for turn in turns:
                    reach = _half_across(size, turn - axis)
                    shift = side + math.copysign(reach, side)
                    x = middle.x + share * length * cos - shift * sin
                    y = middle.y + share * length * sin + shift * cos
                    yield _place((x, y), turn, size, on_thing=False)
        for end in (float(along.max()) + _NEAR_MM + far, float(along.min()) - _NEAR_MM - far):
            for turn in turns:
                shift = end + math.copysign(_half_across(size, turn - axis + 90.0), end)
                yield _place((middle.x + shift * cos, middle.y + shift * sin), turn, size, on_thing=False)


def _half_across(size: tuple[float, float], turn_deg: float) -> float:
    """Return half the reach of a name across a line that it is turned against by so much."""
    turn = math.radians(turn_deg)
    return abs(size[0] / 2 * math.sin(turn)) + abs(size[1] / 2 * math.cos(turn))


def _place(at: Point, turn_deg: float, size: tuple[float, float], *, on_thing: bool) -> _Place:
    turn = math.radians(turn_deg)
    corners = np.array([(-1, -1), (1, -1), (1, 1), (-1, 1)]) * np.array(size) / 2
    matrix = np.array([[math.cos(turn), math.sin(turn)], [-math.sin(turn), math.cos(turn)]])
    shape = Polygon(corners @ matrix + np.array(at))
    return NameTag(key="", at=at, angle_deg=turn_deg, on_thing=on_thing), shape


def _is_free(
    place: _Place, key: str, body: Polygon, others: shapely.STRtree, owner: Sequence[str], room: Polygon
) -> bool:
    tag, shape = place
    if tag.on_thing:
        return bool(body.covers(shape)) and not any(
            owner[n] != key and owner[n] != "" for n in others.query(shape, predicate="intersects")
        )
    if not room.covers(shape):
        return False
    near = others.query(shape, predicate="dwithin", distance=ROOM_MM)
    return not len(near)


def _joined(tag: NameTag, key: str, shape: Polygon, body: Polygon) -> NameTag:
    leader = None
    if not tag.on_thing and body.distance(shape) > _LEADER_FROM_MM:
        start, end = nearest_points(shape, body)
        leader = ((float(start.x), float(start.y)), (float(end.x), float(end.y)))
    return NameTag(key=key, at=tag.at, angle_deg=tag.angle_deg, on_thing=tag.on_thing, leader=leader)


def _upright(angle_deg: float) -> float:
    """Return an angle at which text is not read upside down: above -90, up to 90."""
    turned = (angle_deg + 90.0) % 180.0 - 90.0
    return 90.0 if turned == -90.0 else turned
