"""Slits: where a pocket is too thin for a strip of foam to be cut out, said before somebody tries."""

from __future__ import annotations

from collections.abc import Iterator

from cozy_burrow.core.depth.slits import slits_in
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.findings.kinds import kind
from cozy_burrow.core.geometry.placing import to_plan
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.tolerances import STRIP_MM
from cozy_burrow.core.tongue import tr

SLIT = kind(
    "SLIT",
    tr("One slit"),
    tr("So thin a strip of foam can't be cut out: one slit with the knife, and the foam gives."),
    stage="cut",
    says=lambda one: tr(
        "{who}: a part is {value} wide, so cut one slit there. A strip needs {limit} or more.",
        who=one.who,
        value=one.value,
        limit=one.limit,
    ),
)


def slit_findings(ground: Ground) -> Iterator[Finding]:
    """Yield things whose pocket, or a part of it, is one slit."""
    for placement in ground.insert.placements:
        pocket = ground.pockets.get(placement.id)
        slits = slits_in(pocket.local.surface) if pocket is not None else ()
        if slits:
            yield Finding(
                severity="note",
                code=SLIT.code,
                placements=(placement.id,),
                value=slits[0].width_mm,
                limit=STRIP_MM,
                unit="mm",
                where_mm=to_plan(placement, slits[0].at),
            )
