"""Fit coupons: one shape cut at graded allowances; the pocket that holds best becomes the snug fit of a foam."""

from __future__ import annotations

from msgspec.structs import replace
from shapely.geometry import Polygon

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.offset import mitred
from cozy_burrow.core.geometry.rings import polygon_of, polygons_in
from cozy_burrow.core.model.records import Item, Project, Sheet
from cozy_burrow.core.model.vessels import FitTest, PullTest, Stores
from cozy_burrow.core.tongue import tr

GRADES_MM = (-2.0, -1.5, -1.0, -0.5, 0.0, 0.5)  # larger all round than the thing; below zero is snug
_LEAST_SIDE_MM = 8.0  # of the coupon's thing: less is all corner


def foam_name(sheet: Sheet) -> str:
    """Return what a foam is known by from job to job."""
    return sheet.name or f"{sheet.material} foam, {sheet.pitch_mm:g} mm layers, {sheet.density_kg_m3:g} kg/m³"


def coupon_shapes(item: Item) -> tuple[tuple[float, Polygon], ...]:
    """Return (allowance, pocket outline) for every grade, round a thing's outline. Raises UnusableInput for slivers."""
    outline = Polygon(polygon_of(item.outline).exterior)
    left, top, right, bottom = outline.bounds
    if min(right - left, bottom - top) < _LEAST_SIDE_MM:
        raise UnusableInput(
            tr("‘{name}’ is too thin for a coupon", name=item.name),
            remedy=tr("take an item at least {least:g} mm wide", least=_LEAST_SIDE_MM),
        )
    found: list[tuple[float, Polygon]] = []
    for grade in GRADES_MM:
        parts = polygons_in(mitred(outline, grade)) if grade else [outline]
        if not parts:
            raise UnusableInput(tr("‘{name}’ is too thin for a coupon", name=item.name), remedy=tr("take a wider item"))
        found.append((grade, max(parts, key=lambda part: float(part.area))))
    return tuple(found)


def with_fit(stores: Stores, fit: FitTest) -> Stores:
    """Return the stores with a coupon's result; there is one for each foam and blade."""
    others = tuple(one for one in stores.fits if (one.foam, one.blade) != (fit.foam, fit.blade))
    return replace(stores, fits=(*others, fit))


def fit_for(stores: Stores, foam: str, blade: str) -> FitTest | None:
    """Return the coupon's result for a foam and blade."""
    return next((one for one in stores.fits if (one.foam, one.blade) == (foam, blade)), None)


def fitted(project: Project, fit: FitTest) -> Project:
    """Return the project with the coupon's best as its snug fit. Raises UnusableInput where the best was not snug."""
    if fit.best_mm > 0:
        raise UnusableInput(
            tr("the best pocket of the coupon was larger than the item: nothing holds it"),
            remedy=tr("cut another with a sharper blade, or take stiffer foam"),
        )
    return replace(project, rules=replace(project.rules, snug_mm=-fit.best_mm))


def with_pull_test(stores: Stores, test: PullTest) -> Stores:
    """Return the stores with one more pull test. Raises UnusableInput where there is nothing to compare."""
    if test.estimated_n <= 0 or test.measured_n <= 0:
        raise UnusableInput(
            tr("a pull test needs a snug item and a reading above zero"), remedy=tr("take an item that the foam grips")
        )
    return replace(stores, pull_tests=(*stores.pull_tests, test))


def tests_for(stores: Stores, foam: str, blade: str) -> tuple[tuple[float, float], ...]:
    """Return (estimated, measured) of all pull tests in a foam with a blade."""
    mine = [one for one in stores.pull_tests if (one.foam, one.blade) == (foam, blade)]
    return tuple((one.estimated_n, one.measured_n) for one in mine)
