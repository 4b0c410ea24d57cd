"""Empty places: those that would hardly show, so that nobody notices at a glance what is missing."""

from __future__ import annotations

from collections.abc import Iterator

from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.findings.kinds import kind
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.relief.emptiness import shown_of
from cozy_burrow.core.tongue import tr, trn

# Steps of L*a*b*, the mean over a place. One or two are told apart side by side; a wide pocket one layer deep in grey
# foam differs by four to seven and is overlooked, one with a shadow round its floor by ten and more and is not.
SEEN_AT_A_GLANCE = 8.0
HARDLY_SHOWS = kind(
    "HARDLY_SHOWS",
    tr("Empty place hardly shows"),
    tr("What is missing is noticed in the evening, or at the next job."),
    stage="sink",
    says=lambda one: trn(
        "{who}: the empty place differs from the foam round it by {value} steps of lightness and colour; {limit} are "
        "seen at a glance. A base of another colour that the pocket reaches shows it, or a label in it.",
        "{who}: the empty places differ from the foam round them by as little as {value} steps of lightness and "
        "colour; {limit} are seen at a glance. A base of another colour that the pockets reach shows them, or labels "
        "in them.",
        len(one.finding.placements),
        who=one.who,
        value=one.value,
        limit=one.limit,
    ),
)


def showing_findings(ground: Ground) -> Iterator[Finding]:
    """Yield one finding for all things of an insert whose empty places would hardly show, the faintest first."""
    shown = {key: shown_of(ground, key) for key in ground.pockets}
    faint = sorted((key for key, steps in shown.items() if steps < SEEN_AT_A_GLANCE), key=lambda key: (shown[key], key))
    if faint:
        middle = ground.pockets[faint[0]].surface.representative_point()
        yield Finding(
            severity="note",
            code=HARDLY_SHOWS.code,
            placements=tuple(faint),
            value=shown[faint[0]],
            limit=SEEN_AT_A_GLANCE,
            unit="",
            where_mm=(float(middle.x), float(middle.y)),
        )
