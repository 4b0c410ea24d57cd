"""Foam that flops: outer walls that bend too far, and tongues that are to be glued down or given up."""

from __future__ import annotations

from collections.abc import Iterator

from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.findings.kinds import kind
from cozy_burrow.core.ground.floppy import floppy_edges
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.ground.tongues import tongues_of
from cozy_burrow.core.tolerances import RULE_SLACK_MM
from cozy_burrow.core.tongue import tr

FLOPPY_EDGE = kind(
    "FLOPPY_EDGE",
    tr("Floppy edge"),
    tr(
        "An outer wall bends the more, the deeper and longer it stands free, and most where its end is open. A light "
        "push should bend it by no more than its own thickness."
    ),
    stage="lay-out",
    says=lambda one: tr(
        "The outer wall beside {who} is {value} thick and stands free{layer}: a light push bends it by more than that. "
        "From {limit} on it stays upright: move the item {more} further in.",
        who=one.who,
        value=one.value,
        layer=one.layer,
        limit=one.limit,
        more=one.figure(one.finding.limit - one.finding.value),
    ),
)
TONGUE = kind(
    "TONGUE",
    tr("Tongue of foam"),
    tr("Foam that is held at one end only tears off as the layers are peeled, and flops later."),
    stage="cut",
    against="alone",
    says=lambda one: (
        tr(
            "A tongue of foam {value} long stands free in the pocket of {who}: glue it down.",
            value=one.value,
            who=one.who,
        )
        if one.finding.extra == KEPT
        else tr(
            "A tongue of foam {value} long stands free in the pocket of {who}: it is too small to glue, so cut it off.",
            value=one.value,
            who=one.who,
        )
    ),
)
KEPT = "kept"


def floppy_findings(ground: Ground) -> Iterator[Finding]:
    """Yield outer walls that flop, except where the edge is said to be too thin already, and tongues.

    The sides of a drawer or a case, and boards round a panel, back an outer wall up: it bends inwards at most, while
    its item is out.
    """
    container = ground.bay.container
    backed = container.kind != "wall" or container.frame is not None
    for edge in floppy_edges(ground):
        if edge.thick_mm >= ground.rules.edge_mm - RULE_SLACK_MM:
            yield Finding(
                severity="note" if backed else "care",
                code=FLOPPY_EDGE.code,
                placements=edge.owners,
                value=edge.thick_mm,
                limit=edge.upright_mm,
                unit="mm",
                where_mm=edge.at_mm,
                layer=edge.layer,
            )
    for tongue in tongues_of(ground):
        at = tongue.area.representative_point()
        yield Finding(
            severity="note",
            code=TONGUE.code,
            placements=tongue.owners,
            value=tongue.long_mm,
            limit=0.0,
            unit="mm",
            where_mm=(float(at.x), float(at.y)),
            layer=tongue.layer,
            extra=KEPT if tongue.is_kept else "",
        )
