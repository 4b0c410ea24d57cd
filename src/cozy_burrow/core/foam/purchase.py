"""A purchase: which boards and pieces are cut into what, what is ordered, what it costs, what is left over."""

from __future__ import annotations

import math

from shapely.geometry import Polygon, box

from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.model.records import Record, Sheet
from cozy_burrow.core.model.vessels import Board, Piece

LEAST_OFFCUT_MM = 60.0  # a strip narrower than this is waste, not an offcut


class Wanted(Frozen):
    """A blank that must be cut: whose it is, of which sheet, and its outline."""

    __slots__ = ("name", "outline", "sheet")

    def __init__(self, name: str, sheet: Sheet, outline: Polygon) -> None:
        self.name, self.sheet, self.outline = name, sheet, outline


class CutBoard(Frozen):
    """One board or piece with the blanks that are cut from it, in its own coordinates."""

    __slots__ = ("board", "laid", "outline", "piece")

    def __init__(
        self, board: Board, piece: Piece | None, outline: Polygon, laid: tuple[tuple[Wanted, Polygon], ...]
    ) -> None:
        self.board, self.piece, self.outline, self.laid = board, piece, outline, laid

    @property
    def used_mm2(self) -> float:
        """Area that becomes blanks."""
        return float(sum(outline.area for _, outline in self.laid))


class Order(Record, frozen=True, kw_only=True):
    """So many packs of one kind of board."""

    board: Board
    packs: int

    @property
    def cost(self) -> float:
        """What they cost without delivery."""
        return self.packs * (self.board.price or 0.0)


class Purchase(Frozen):
    """The plan: boards to cut, packs to order, deliveries, what could not be cut and why.

    proven: whether no cheaper plan exists.
    """

    def __init__(
        self,
        boards: tuple[CutBoard, ...],
        orders: tuple[Order, ...],
        deliveries: tuple[tuple[str, float], ...],
        short: tuple[tuple[Wanted, str], ...],
        *,
        proven: bool,
    ) -> None:
        self.boards, self.orders, self.deliveries, self.short, self.proven = boards, orders, deliveries, short, proven

    @property
    def cost(self) -> float:
        """Packs and deliveries."""
        return sum(order.cost for order in self.orders) + sum(cost for _, cost in self.deliveries)

    @property
    def kept_share(self) -> float:
        """Share of the boards and pieces cut into that goes to the shelf as offcuts, 0 to 1."""
        whole = sum(one.outline.area for one in self.boards)
        return sum(w * d for one in self.boards for w, d in offcuts(one)) / whole if whole else 0.0

    @property
    def waste_share(self) -> float:
        """Share of the boards and pieces cut into that becomes neither blank nor offcut, 0 to 1."""
        whole = sum(one.outline.area for one in self.boards)
        used = sum(one.used_mm2 for one in self.boards) / whole if whole else 1.0
        return max(0.0, 1.0 - used - self.kept_share)


Box = tuple[float, float, float, float]


def offcuts(one: CutBoard) -> tuple[tuple[float, float], ...]:
    """Return the sizes (width, depth) of what is left of a board and worth keeping, largest first."""
    return tuple((math.floor(x1 - x0), math.floor(y1 - y0)) for x0, y0, x1, y1 in offcut_boxes(one))


def offcut_boxes(one: CutBoard) -> tuple[Box, ...]:
    """Return where the boxes lie that are left of a board and worth keeping, largest first.

    Two ways are looked at, the strips right of and below all blanks; the one with the larger box is told.
    """
    left, top, right, bottom = one.outline.bounds
    far = max((outline.bounds[2] for _, outline in one.laid), default=left)
    low = max((outline.bounds[3] for _, outline in one.laid), default=top)
    ways = (
        ((far, top, right, bottom), (left, low, far, bottom)),
        ((left, low, right, bottom), (far, top, right, low)),
    )
    boxes = [[_on_the_board(one.outline, strip) for strip in way] for way in ways]
    best = max(boxes, key=lambda pair: max(_sides(each)[0] * _sides(each)[1] for each in pair))
    kept = [each for each in best if min(_sides(each)) >= LEAST_OFFCUT_MM]
    return tuple(sorted(kept, key=lambda each: -math.floor(_sides(each)[0]) * math.floor(_sides(each)[1])))


def _sides(one: Box) -> tuple[float, float]:
    return one[2] - one[0], one[3] - one[1]


def _on_the_board(outline: Polygon, strip: Box) -> Box:
    """Return a strip taken in until it lies on the board as it is: leaning or hollow edges cost."""
    x0, y0, x1, y1 = strip
    board = outline.buffer(1e-4)
    for step in range(round(LEAST_OFFCUT_MM)):
        if x1 - x0 <= 2 * step or y1 - y0 <= 2 * step:
            break
        inner = (x0 + step, y0 + step, x1 - step, y1 - step)
        if board.covers(box(*inner)):
            return inner
    return x0, y0, x0, y0
