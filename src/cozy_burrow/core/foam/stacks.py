"""Which sheets make up the height: every combination that fits, judged, the best first, with the reason.

Stack      boards above each other, top first
Gap        height that is left over above the foam
Deepest    how deep a pocket can be and leave its floor
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import combinations_with_replacement

from cozy_burrow.core.foam.boards import box_spot, measured_outline, sheet_of
from cozy_burrow.core.foam.layers import floor_layers, layers_of
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Record
from cozy_burrow.core.model.vessels import Board, Piece, Stores
from cozy_burrow.core.progress import Quiet, Token

MOST_SHEETS = 4
_MANY = 150
WIDE_GAP_MM = 10.0  # more than this above the foam, and things rattle under a lid or lie deep in a drawer
_FINE = {"layered": 0, "cubed": 1, "plain": 2}


class StackWish(Record, frozen=True, kw_only=True):
    """What a stack is for: the height it may take, the deepest pocket it must hold (0: any), the blank's size.

    whole_bottom: the lowest sheet is never cut. floor_layers: as the rules say. most_sheets: how many may be stacked.
    """

    height_mm: float
    needed_mm: float
    blank_mm: tuple[float, float]
    whole_bottom: bool = False
    floor_layers: int | None = None
    most_sheets: int = MOST_SHEETS


class Stack(Record, frozen=True, kw_only=True):
    """One combination. layers: how many may be cut. price None: something in it has no price and is not on the shelf.

    price: packs that must be bought for this stack alone, and their deliveries. from_shelf: sheets that lie there.
    left_over: blanks of this size that the bought boards still give.
    """

    boards: tuple[Board, ...]
    gap_mm: float
    deepest_mm: float
    layers: int
    price: float | None
    from_shelf: int
    left_over: int

    @property
    def height_mm(self) -> float:
        """All sheets together."""
        return sum(board.thickness_mm for board in self.boards)


class Ranked(Record, frozen=True, kw_only=True):
    """A stack with its place. why: "best", or the first thing in which it is behind the best: "shallow" (no pocket
    deep enough), "unpriced", "gap" (more than WIDE_GAP_MM), "price", "gap_small", "layers"."""

    stack: Stack
    why: str


def stacks_for(wish: StackWish, stores: Stores, *, token: Token | None = None) -> tuple[Ranked, ...]:
    """Return every combination of boards that fits the height, best first.

    Best is: deep enough; to be had; without a wide gap; then cheapest, then the smaller gap, then the more layers.
    Raises Cancelled.
    """
    token = token or Quiet()
    kinds = sorted(_kinds(stores), key=lambda board: (_FINE[board.material], board.pitch_mm, board.id))
    found: list[Stack] = []
    for count in range(1, wish.most_sheets + 1):
        for boards in combinations_with_replacement(kinds, count):
            token.step(count / (wish.most_sheets + 1))
            if sum(board.thickness_mm for board in boards) <= wish.height_mm + 1e-6:
                found.append(_judged(boards, wish, stores))
    found.sort(key=lambda stack: _worth(stack, wish))
    return tuple(Ranked(stack=one, why=_why(one, found[0], wish)) for one in found)


def _kinds(stores: Stores) -> list[Board]:
    by_id = {board.id: board for board in stores.boards}
    for piece in stores.shelf:
        by_id.setdefault(piece.board.id, piece.board)
    return list(by_id.values())


def _judged(boards: tuple[Board, ...], wish: StackWish, stores: Stores) -> Stack:
    sheets = tuple(sheet_of(board) for board in boards)
    layers = layers_of(sheets)
    floor = floor_layers(sheets, wish.floor_layers, whole_bottom=wish.whole_bottom)
    cut = max(0, len(layers) - floor)
    price, from_shelf, left_over = _price(boards, wish.blank_mm, stores)
    return Stack(
        boards=boards,
        gap_mm=wish.height_mm - sum(board.thickness_mm for board in boards),
        deepest_mm=layers[cut - 1].bottom_mm if cut else 0.0,
        layers=cut,
        price=price,
        from_shelf=from_shelf,
        left_over=left_over,
    )


def _price(boards: Sequence[Board], blank_mm: tuple[float, float], stores: Stores) -> tuple[float | None, int, int]:
    """Return what must be bought for these sheets alone, how many the shelf gives, how many blanks are left over."""
    total: float | None = 0.0
    shelf, left_over = 0, 0
    orders: dict[str, float] = {}
    for board in dict.fromkeys(boards):
        wanted = sum(1 for one in boards if one == board)
        mine = sum(_yield(piece, blank_mm) for piece in stores.shelf if piece.board.id == board.id)
        shelf += min(mine, wanted)
        rest = wanted - min(mine, wanted)
        if not rest:
            continue
        each = blanks_on(board, blank_mm)
        if board.price is None or not each:
            total = None
            continue
        packs = math.ceil(math.ceil(rest / each) / board.pack)
        orders[board.supplier] = orders.get(board.supplier, 0.0) + packs * board.price
        left_over += packs * board.pack * each - rest
    if total is None:
        return None, shelf, left_over
    for name, value in orders.items():
        seller = next((one for one in stores.suppliers if one.name == name), None)
        free = seller is None or (seller.free_from is not None and value >= seller.free_from)
        total += value + (0.0 if free or seller is None else seller.delivery)
    return total, shelf, left_over


@memo(rows=512)
def blanks_on(board: Board, blank_mm: tuple[float, float]) -> int:
    """Return how many equal rectangles a board gives.

    The best of all ways to cut the board once right through and fill both parts so, down to the last strip.
    """
    w, d = blank_mm
    if board.width_mm * board.depth_mm > _MANY * w * d:  # plain rows: nobody counts so many, and the search is deep
        ways = ((w, d), (d, w)) if not board.grain else ((w, d),)
        return max(int(board.width_mm // a) * int(board.depth_mm // b) for a, b in ways)
    return _most(round(board.width_mm, 3), round(board.depth_mm, 3), blank_mm, not board.grain, {})


def _most(
    width: float, depth: float, blank: tuple[float, float], turn: bool, known: dict[tuple[float, float], int]
) -> int:
    key = (round(width, 3), round(depth, 3))
    if key in known:
        return known[key]
    best = 0
    for w, d in (blank, blank[::-1]) if turn else (blank,):
        if w <= width + 1e-6 and d <= depth + 1e-6:
            rows = int((depth + 1e-6) // d)
            best = max(best, rows + _most(width - w, depth, blank, turn, known))
            columns = int((width + 1e-6) // w)
            best = max(best, columns + _most(width, depth - d, blank, turn, known))
    known[key] = best
    return best


@memo(rows=512)
def _yield(piece: Piece, blank_mm: tuple[float, float]) -> int:
    """Return how many blanks a piece of the shelf gives, as far as a stack can use them.

    Rows side by side on its measured outline.
    """
    outline = measured_outline(piece)
    best = 0
    for w, d in (blank_mm, blank_mm[::-1]) if not piece.board.grain else (blank_mm,):
        across = 1
        while best < MOST_SHEETS and box_spot(outline, w * across, d) is not None:
            down = 1
            while down * across < MOST_SHEETS and box_spot(outline, w * across, d * (down + 1)) is not None:
                down += 1
            best = max(best, across * down)
            across += 1
    return best


def _worth(stack: Stack, wish: StackWish) -> tuple[object, ...]:
    """Smaller is better."""
    return (
        stack.deepest_mm < wish.needed_mm - 1e-6,
        stack.price is None,
        stack.gap_mm > WIDE_GAP_MM,
        round(stack.price or 0.0, 2),
        round(stack.gap_mm, 3),
        -stack.layers,
        len(stack.boards),
        tuple(board.id for board in stack.boards),
    )


_REASONS = ("shallow", "unpriced", "gap", "price", "gap_small", "layers", "sheets", "name")


def _why(stack: Stack, best: Stack, wish: StackWish) -> str:
    if stack == best:
        return "best"
    pairs = zip(_worth(stack, wish), _worth(best, wish), _REASONS)
    return next((reason for mine, theirs, reason in pairs if mine != theirs), "name")
