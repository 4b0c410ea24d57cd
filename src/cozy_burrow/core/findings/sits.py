"""How things sit: askew, or so that a light push rocks them."""

from __future__ import annotations

from collections.abc import Iterator

from cozy_burrow.core.depth.pocket import Pocket, allowance_in
from cozy_burrow.core.depth.sitting import LEVEL_DEG, ROCKS_BELOW, Sitting, sitting_of
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.findings.kinds import kind
from cozy_burrow.core.findings.mend_kinds import ADD_PULL, AS_ADVISED, MendKind
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.ground.holding import holding_of
from cozy_burrow.core.ground.sits import lies_firm_in, sitting_in
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.tongue import tr

GRIPPED_TIMES = 10.0  # its weight, at least: then nothing tips by itself


LIES_ASKEW = kind(
    "LIES_ASKEW",
    tr("Not level"),
    tr("A tool that dips at one end works itself loose, and its high end meets the lid first."),
    stage="sink",
    against="above",
    says=lambda one: tr(
        "{who} is {value} off level, {limit:.0f}° allowed.", who=one.who, value=one.value, limit=one.finding.limit
    ),
)
ROCKS = kind(
    "ROCKS",
    tr("Rocks in its pocket"),
    tr("Hardly anything but its weight keeps it down: it rattles on the road and ends up crooked in the drawer."),
    stage="sink",
    says=lambda one: tr(
        "{who} rocks: a push of {value} of its weight at its end tips it, {limit} needed.",
        who=one.who,
        value=one.value,
        limit=one.limit,
    ),
)
UNDER = kind(
    "UNDER",
    tr("In an under-pocket"),
    tr("What lies below is easily forgotten: label it, and take the upper item out first."),
    stage="sink",
    against="unsaid",
    says=lambda one: tr(
        "{name} lies under {name_2}: take {name_2} out first, put it back last.", name=one.name(0), name_2=one.name(1)
    ),
)

UNKNOWN_REST = kind(
    "UNKNOWN_REST",
    tr("Can't say how it lies"),
    tr("The computation of how it comes to rest found no answer, so nothing is said of level and rocking."),
    stage="sink",
    against="unsaid",
    says=lambda one: tr("How {who} comes to rest could not be computed: lay it in its pocket and look.", who=one.who),
)


def sitting_findings(ground: Ground) -> Iterator[Finding]:
    """Yield things that lie askew or rock."""
    for key, pocket in ground.pockets.items():
        if sitting_in(ground, key).pose.unknown:
            left, top, right, bottom = pocket.surface.bounds
            yield Finding(
                severity="care",
                code=UNKNOWN_REST.code,
                placements=(key,),
                value=0.0,
                limit=0.0,
                unit="",
                where_mm=((left + right) / 2, (top + bottom) / 2),
            )
        elif not lies_firm_in(ground, key) and not _gripped(ground, key):
            yield _finding(sitting_in(ground, key), pocket, ADD_PULL if _undermined(ground, key) else AS_ADVISED)
        upper = ground.under.get(key)
        if upper is not None:
            yield Finding(severity="note", code=UNDER.code, placements=(key, upper), value=0.0, limit=0.0, unit="mm")


def _gripped(ground: Ground, key: str) -> bool:
    """Return whether the foam grips a thing with so many times its weight that it stays as it was pressed in."""
    holding = holding_of(ground, key)
    return holding.hold.low_n >= GRIPPED_TIMES * holding.weight_n


def _undermined(ground: Ground, key: str) -> bool:
    """Return whether a thing would lie firm if only its own pocket were cut: a pull took its floor away."""
    pocket = ground.pockets[key]
    alone = sitting_of(pocket, ground.layers, snug_mm=-allowance_in(pocket, ground.rules))
    return alone.level and not alone.rocks


@memo(rows=1024)
def _finding(sitting: Sitting, pocket: Pocket, mend: MendKind) -> Finding:
    askew = not sitting.level
    left, top, right, bottom = pocket.surface.bounds
    return Finding(
        severity="care",
        code=(LIES_ASKEW if askew else ROCKS).code,
        placements=(pocket.owner,),
        value=sitting.tilt_deg if askew else 100 * max(0.0, sitting.push_share),
        limit=LEVEL_DEG if askew else 100 * ROCKS_BELOW / (1 - ROCKS_BELOW),
        unit="°" if askew else "%",
        where_mm=((left + right) / 2, (top + bottom) / 2),
        mends=(mend.at(pocket.owner),),
    )
