"""What is said of a board of the price list: its kind, and what ships with the list in the language that is spoken."""

from __future__ import annotations

from cozy_burrow.core.model.vessels import Board
from cozy_burrow.core.tongue import tr

_KINDS = {"layered": tr("layered"), "cubed": tr("cubed"), "plain": tr("plain, cut through")}
# Texts of `assets/foams.toml`; what a fitter wrote instead is said as it was written.
SHIPPED = {
    "black, grey": tr("black, grey"),
    "black, grey, white": tr("black, grey, white"),
    "black over ochre, grey over ochre": tr("black over ochre, grey over ochre"),
    "dark grey": tr("dark grey"),
    "a fresh snap-off blade": tr("a fresh snap-off blade"),
    "fine long-tipped blade, one pass for each two layers": tr("fine long-tipped blade, one pass for each two layers"),
    "snap-off blade, 9 mm wide": tr("snap-off blade, 9 mm wide"),
    "snap-off blade, 18 mm wide": tr("snap-off blade, 18 mm wide"),
    "snap-off blade, 25 mm wide": tr("snap-off blade, 25 mm wide"),
    "none: cubes are plucked; tape the edges, they crumble": tr(
        "none: cubes are plucked; tape the edges, they crumble"
    ),
}


def board_text(board: Board) -> str:
    """Return kind, colours, figures and knife of a board as one sentence."""
    return tr(
        "{kind}; {colours}; {density_kg_m3:g} kg/m³, {stiffness:g} kPa at a quarter pressed in "
        "(usual figures; the maker's count); knife: {knife}.",
        kind=_KINDS[board.material],
        colours=SHIPPED.get(board.colours, board.colours),
        density_kg_m3=board.density_kg_m3,
        stiffness=board.stiffness_kpa,
        knife=SHIPPED.get(board.knife, board.knife),
    )
