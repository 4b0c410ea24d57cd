"""Fit coupons and pull tests: the page to cut, the result kept, the scale read."""

from __future__ import annotations

from pathlib import Path

from cozy_burrow.core.depth.hold import Calibration, calibrated
from cozy_burrow.core.foam.fits import coupon_shapes, foam_name, tests_for
from cozy_burrow.core.model.records import Item, Project, Rules, Sheet
from cozy_burrow.core.model.vessels import Stores
from cozy_burrow.core.tongue import marked
from cozy_burrow.export.coupon_pdf import coupon_pdf
from cozy_burrow.export.paper import papers
from cozy_burrow.storage.whole_file import write_whole

# Kept with each result, so never in another language.
BLADES = {
    "template": marked("knife on a printed template"),
    "marker": marked("knife inside a marker line"),
    "knife": marked("knife round it"),
}


def blade_name(rules: Rules) -> str:
    """Return how pockets are marked and cut, as fits are kept by it."""
    return BLADES.get(rules.marking, rules.marking)


def write_coupon(project: Project, item: Item, sheet: Sheet, path: Path, *, paper: str = "a4") -> None:
    """Write the coupon of a thing for a foam. Raises UnusableInput."""
    data = coupon_pdf(
        coupon_shapes(item),
        name=item.name,
        foam=foam_name(sheet),
        paper=papers()[paper],
        units=project.units,
    )
    write_whole(path, data)


def calibration_of(stores: Stores, sheet: Sheet, rules: Rules) -> Calibration:
    """Return what pull tests in a foam say, cut as the rules say."""
    return calibrated(tests_for(stores, foam_name(sheet), blade_name(rules)))
