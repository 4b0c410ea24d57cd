"""The boards round a wall panel or a removable tray: lengths with their joints, screws and where, points to fix it.

A frame goes round the inside of its container and is as deep as that. A wall panel hangs on its uprights: they run
through, and the screws that hold the lower board are loaded across, not pulled out. Of a tray the longer boards do.
"""

from __future__ import annotations

import math
from typing import Literal

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Container, Point, Record
from cozy_burrow.core.model.vessels import Frame, Side
from cozy_burrow.core.tongue import tr

Pair = Literal["top_bottom", "sides", "back_front", "left_right"]
BACK_LESS_MM = 1.0  # the back is smaller than the frame outside: then it stands out nowhere
WOOD_KG_M3 = 600.0  # birch plywood, beech; pine is lighter
SAW_MM = 3.0  # that each cut takes
_LENGTHS_MM = (12.0, 16.0, 20.0, 25.0, 30.0, 35.0, 40.0, 45.0, 50.0, 60.0, 70.0, 80.0, 100.0, 120.0, 140.0, 160.0)
# Up to which thickness of board: a screw and its hole; thicker than a third of the edge it splits it.
_ACROSS = ((9.0, (2.5, 1.5)), (13.0, (3.0, 2.0)), (16.0, (3.5, 2.5)), (20.0, (4.0, 2.5)))
_THICKEST = (5.0, 3.5)
_INTO_END = 2.5  # times the board that a screw goes through: end grain holds badly
_SHORT_MM = 5.0  # of wood that stays before the point of a screw
_BACK_EVERY_MM = 150.0
_FROM_CORNER_MM = 30.0
_FIX_EVERY_MM = 400.0
_FIX_FROM_EDGE_MM = 40.0


class BoardCut(Record, frozen=True, kw_only=True):
    """Two boards alike. length_mm: as sawn, over all; is_through: its ends are seen at the corners."""

    pair: Pair
    length_mm: float
    width_mm: float
    thick_mm: float
    is_through: bool
    count: int = 2

    @property
    def size_mm(self) -> tuple[float, float, float]:
        """Length, width and thickness."""
        return self.length_mm, self.width_mm, self.thick_mm


class Screws(Record, frozen=True, kw_only=True):
    """So many alike: diameter, length, and how wide is drilled ahead of them."""

    count: int
    across_mm: float
    length_mm: float
    drill_mm: float


class FramePlan(Record, frozen=True, kw_only=True):
    """How a frame is built. outside_mm: width and height as it hangs or lies. rebate_mm: how deep it is; 0: none.

    corner: screws of all corners; corner_at_mm: how far from the back edge each of one corner is; none where mitred.
    back_mm: size of the sheet behind; back_thick_mm: 0 where there is none; back_at: its screws, in hung coordinates of
    the outside. fixings: inside it.
    Hung coordinates go from the lower left corner to the right and up; of a tray from the front left to the back.
    """

    outside_mm: Point
    inside_mm: Point
    boards: tuple[BoardCut, ...]
    rebate_mm: float
    corner: Screws | None
    corner_at_mm: tuple[float, ...]
    back_mm: Point | None
    back_thick_mm: float
    back: Screws | None
    back_at: tuple[Point, ...]
    fixings: tuple[Point, ...]

    @property
    def board_mm(self) -> float:
        """How much board they take, saw cuts counted."""
        return sum(one.count * (one.length_mm + SAW_MM) for one in self.boards)

    @property
    def boards_g(self) -> float:
        """What the boards weigh, in a usual wood."""
        volume = sum(one.count * one.length_mm * one.width_mm * one.thick_mm for one in self.boards)
        return volume * WOOD_KG_M3 / 1e6

    @property
    def mass_g(self) -> float:
        """What boards and back weigh, in a usual wood."""
        wide, high = self.back_mm or (0.0, 0.0)
        return self.boards_g + wide * high * self.back_thick_mm * WOOD_KG_M3 / 1e6


def frame_of(container: Container) -> FramePlan:
    """Return how the frame that a container names is built. Raises UnusableInput where none can be."""
    frame = container.frame
    if frame is None:
        raise UnusableInput(tr("no frame is planned"), where=container.name, remedy=tr("say how thick its boards are"))
    if container.kind == "case" or container.corners or container.outline is not None or any(container.draft_deg):
        raise UnusableInput(
            tr("boards go round a straight rectangle only"),
            where=container.name,
            remedy=tr("give width and depth, without taper"),
        )
    wide, high = inside = _hung_size(container)
    board, deep = frame.board_mm, container.height_mm
    outside = wide + 2 * board, high + 2 * board
    upright_through = container.kind == "wall" or high > wide
    rebate = board / 2 if frame.joint == "rebate" else 0.0
    corner_at, corner = _corner(frame, deep)
    back_at = _back_screws(outside, board) if frame.back_mm > 0 else ()
    return FramePlan(
        outside_mm=outside,
        inside_mm=inside,
        boards=_boards(container, frame, inside, upright_through=upright_through, rebate_mm=rebate),
        rebate_mm=rebate,
        corner=corner,
        corner_at_mm=corner_at,
        back_mm=(outside[0] - BACK_LESS_MM, outside[1] - BACK_LESS_MM) if frame.back_mm > 0 else None,
        back_thick_mm=frame.back_mm,
        back=_screws(len(back_at), board, frame.back_mm * 3 + 8.0, frame.back_mm + deep - _SHORT_MM)
        if back_at
        else None,
        back_at=back_at,
        fixings=_fixings(container, inside) if container.kind == "wall" and frame.back_mm > 0 else (),
    )


def hung(container: Container, x_mm: float, y_mm: float) -> Point:
    """Return a place inside as it hangs: how far from the left, and how far up; of a tray, from its front."""
    wide, deep = container.width_mm, container.depth_mm
    down: Side = container.down if container.kind == "wall" else "front"
    match down:
        case "front":
            return x_mm, deep - y_mm
        case "back":
            return wide - x_mm, y_mm
        case "left":
            return y_mm, x_mm
        case "right":
            return deep - y_mm, wide - x_mm


def _hung_size(container: Container) -> Point:
    is_turned = container.kind == "wall" and container.down in {"left", "right"}
    sides = container.width_mm, container.depth_mm
    return (sides[1], sides[0]) if is_turned else sides


def _boards(
    container: Container, frame: Frame, inside: Point, *, upright_through: bool, rebate_mm: float
) -> tuple[BoardCut, ...]:
    names: tuple[Pair, Pair] = ("top_bottom", "sides") if container.kind == "wall" else ("back_front", "left_right")
    found = []
    for name, length, through in zip(names, inside, (not upright_through, upright_through)):
        is_over_all = through or frame.joint == "mitre"
        # What stands between two boards goes into the rebate of both.
        whole = length + 2 * frame.board_mm if is_over_all else length + 2 * rebate_mm
        found.append(
            BoardCut(
                pair=name,
                length_mm=whole,
                width_mm=container.height_mm,
                thick_mm=frame.board_mm,
                is_through=is_over_all,
            )
        )
    return tuple(found)


def _corner(frame: Frame, deep_mm: float) -> tuple[tuple[float, ...], Screws | None]:
    """Return how far from the back edge the screws of a corner sit, evenly over its depth, and what they are."""
    if frame.joint == "mitre":
        return (), None
    count = 1 if deep_mm < 30.0 else 2 if deep_mm <= 80.0 else math.ceil(deep_mm / 40.0)
    at = tuple(round(deep_mm * (2 * number + 1) / (2 * count), 1) for number in range(count))
    return at, _screws(4 * count, frame.board_mm, _INTO_END * frame.board_mm)


def _screws(count: int, board_mm: float, least_mm: float, most_mm: float = _LENGTHS_MM[-1]) -> Screws:
    """Return screws that do not split a board into whose edge or end they go, so long at least where they may be.

    most_mm: longer ones would come out at the other side; the shortest that is sold is named all the same.
    """
    across, drill = next((screw for most, screw in _ACROSS if board_mm <= most), _THICKEST)
    may_be = [one for one in _LENGTHS_MM if one <= most_mm] or [_LENGTHS_MM[0]]
    length = next((one for one in may_be if one >= least_mm - 1e-9), may_be[-1])
    return Screws(count=count, across_mm=across, length_mm=length, drill_mm=drill)


def _back_screws(outside: Point, board_mm: float) -> tuple[Point, ...]:
    """Return screws through the back into the middle of the boards' edges, the lower and upper rows first."""
    wide, high = outside
    middle = board_mm / 2
    xs, ys = _spread(wide, _FROM_CORNER_MM, _BACK_EVERY_MM), _spread(high, _FROM_CORNER_MM, _BACK_EVERY_MM)
    rows = [(x, y) for y in (middle, high - middle) for x in xs]
    return (*rows, *((x, y) for x in (middle, wide - middle) for y in ys))


def _fixings(container: Container, inside: Point) -> tuple[Point, ...]:
    """Return where it is fixed through its back: as the container says, else near corners, at most 400 mm apart."""
    told = [one for one in container.obstacles if one.kind == "fixing"]
    if told:
        middles = [[sum(values) / len(one.ring) for values in zip(*one.ring)] for one in told]
        return tuple(hung(container, x, y) for x, y in middles)
    xs, ys = (_spread(length, _FIX_FROM_EDGE_MM, _FIX_EVERY_MM) for length in inside)
    return tuple((x, y) for y in ys for x in xs if x in {xs[0], xs[-1]} or y in {ys[0], ys[-1]})


def _spread(length_mm: float, from_end_mm: float, most_mm: float) -> tuple[float, ...]:
    """Return places along a length, the outer ones so far from its ends, no two further apart than that."""
    from_end = min(from_end_mm, length_mm / 4)
    between = length_mm - 2 * from_end
    count = max(1, math.ceil(between / most_mm - 1e-9))
    return tuple(round(from_end + between * number / count, 1) for number in range(count + 1))
