"""Foam that was put back and is hardly held: more of it is bare than glued."""

from __future__ import annotations

from collections.abc import Iterator

from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.findings.kinds import kind
from cozy_burrow.core.ground.gluing import held_pieces
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.tongue import tr

GLUED_BARE = kind(
    "GLUED_BARE",
    tr("Glued-in foam hardly held"),
    tr("A glued seam is the weakest place of a wall; a piece that is bare on most sides comes off with the item."),
    stage="keep",
    says=lambda one: tr(
        "The piece glued in beside {who}{layer} is glued on {value} and bare on {limit}. Cut the place out "
        "square and glue in one block instead.",
        who=one.who,
        layer=one.layer,
        value=one.value,
        limit=one.limit,
    ),
)


def gluing_findings(ground: Ground) -> Iterator[Finding]:
    """Yield pieces of foam that were put back and have more bare face than glued one, beside a thing that pushes."""
    for piece in held_pieces(ground):
        if piece.beside and piece.glued_mm2 < piece.bare_mm2:
            at = piece.area.representative_point()
            yield Finding(
                severity="care",
                code=GLUED_BARE.code,
                placements=tuple(key for key in ground.pockets if key in piece.beside),
                value=piece.glued_mm2 / 100.0,
                limit=piece.bare_mm2 / 100.0,
                unit="cm²",
                where_mm=(round(at.x, 2), round(at.y, 2)),
                layer=piece.layer,
            )
