"""How things sit: askew, or so that a light push rocks them."""

from __future__ import annotations

from collections.abc import Iterator

from cozy_burrow.core.container.bay import Bay
from cozy_burrow.core.depth.options import options_for
from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.depth.sitting import LEVEL_DEG, ROCKS_BELOW, Sitting
from cozy_burrow.core.findings.finding import Finding, Mend, MendKind
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.ground.sits import sitting_in
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Placement, Rules

_MEND_OF: dict[str, MendKind] = {"layers": "advised_layers", "riser": "put_riser", "seat": "other_seat"}


def sitting_findings(ground: Ground) -> Iterator[Finding]:
    """Yield things that lie askew or rock."""
    placements = {one.id: one for one in ground.insert.placements}
    for key, pocket in ground.pockets.items():
        sitting = sitting_in(ground, key)
        if not sitting.level or sitting.rocks:
            yield _finding(sitting, pocket, placements[key], ground.bay, ground.rules)


@memo(rows=1024)
def _finding(sitting: Sitting, pocket: Pocket, placement: Placement, bay: Bay, rules: Rules) -> Finding:
    askew = not sitting.level
    left, top, right, bottom = pocket.surface.bounds
    options = options_for(pocket.item, placement, bay, rules)
    kinds = dict.fromkeys(_MEND_OF[one.kind] for one in options if one.kind in _MEND_OF)
    return Finding(
        severity="care",
        code="LIES_ASKEW" if askew else "ROCKS",
        placements=(pocket.owner,),
        value=sitting.tilt_deg if askew else 100 * sitting.push_share,
        limit=LEVEL_DEG if askew else 100 * ROCKS_BELOW / (1 - ROCKS_BELOW),
        unit="°" if askew else "%",
        where_mm=((left + right) / 2, (top + bottom) / 2),
        mends=tuple(Mend(kind=kind, target=pocket.owner) for kind in kinds),
    )
