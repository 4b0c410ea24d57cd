"""From a project to the boards: which blanks it wants, the cheapest buy, and the shelf once the job is cut."""

from __future__ import annotations

from msgspec.structs import replace

from cozy_burrow.core.container.bay import bay_of
from cozy_burrow.core.container.blank import blanks_of
from cozy_burrow.core.foam.buying import plan_purchase
from cozy_burrow.core.foam.purchase import Purchase, Wanted, offcuts
from cozy_burrow.core.model.edits import free_id
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.model.vessels import Board, Piece, Stores
from cozy_burrow.core.progress import Token
from cozy_burrow.core.tongue import tr

SHORT_WORDS = {
    "no_board": tr("no board with a price and no piece on the shelf is of this foam"),
    "too_large": tr("no board and no piece is large enough"),
}


def wanted_blanks(project: Project) -> tuple[Wanted, ...]:
    """Return every blank of the job; those with no inside left are a finding elsewhere."""
    found = []
    for insert in project.inserts:
        for blank, sheet in zip(blanks_of(bay_of(project, insert)), insert.sheets):
            if not blank.polygon.is_empty:
                found.append(
                    Wanted(tr("{name}, sheet {sheet}", name=insert.name, sheet=blank.sheet), sheet, blank.polygon)
                )
    return tuple(found)


def purchase_for(project: Project, stores: Stores, *, token: Token | None = None) -> Purchase:
    """Return the cutting plan and the cheapest buy of the whole job. Raises Cancelled."""
    return plan_purchase(wanted_blanks(project), stores, token=token)


def shelf_after(stores: Stores, purchase: Purchase) -> Stores:
    """Return the stores once the job is cut: used pieces are gone, offcuts and boards left whole lie on the shelf."""
    used = {cut.piece.id for cut in purchase.boards if cut.piece is not None}
    shelf = [piece for piece in stores.shelf if piece.id not in used]
    for cut in purchase.boards:
        for width, depth in offcuts(cut):
            shelf.append(_piece(shelf, cut.board.id, cut.board, width, depth, "offcut"))
    for order in purchase.orders:
        cut_up = sum(1 for cut in purchase.boards if cut.piece is None and cut.board == order.board)
        for _ in range(order.packs * order.board.pack - cut_up):
            board = order.board
            shelf.append(_piece(shelf, board.id, board, board.width_mm, board.depth_mm, tr("whole, from a pack")))
    return replace(stores, shelf=tuple(shelf))


def _piece(shelf: list[Piece], stem: str, board: Board, width: float, depth: float, note: str) -> Piece:
    return Piece(
        id=free_id(stem, [piece.id for piece in shelf]),
        board=board,
        sides_mm=(width, depth, width, depth),
        note=note,
    )
