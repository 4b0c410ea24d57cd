"""What a job costs whoever has it made: foam from the buying plan, blades, and hours at a rate."""

from __future__ import annotations

import math
from collections.abc import Sequence
from statistics import NormalDist

import numpy as np

from cozy_burrow.core.bench.forecast import HIGH, Forecast, Range, SheetWork, Values, range_of
from cozy_burrow.core.foam.purchase import Purchase
from cozy_burrow.core.model.records import Record
from cozy_burrow.core.model.vessels import Stores

# Laying out takes half as long again as people expect: so far the usual hours may be off, either way.
LAYOUT_SLACK = 1.5
_QUANTILE = NormalDist().inv_cdf(HIGH / 100.0)


class Price(Record, frozen=True, kw_only=True):
    """The price of a whole job and what it is made of. lacking: blanks that no price is known for.

    foam: packs and deliveries; what lies on the shelf is paid. bench_h, layout_h: hours. total: with its own range, as
    not everything turns out dear at once.
    """

    foam: float
    blades: Range
    blade_price: float
    bench_h: Range
    layout_h: Range
    hour_rate: float
    total: Range
    lacking: tuple[str, ...] = ()

    @property
    def hours(self) -> float:
        """All hours that are likely."""
        return self.bench_h.likely + self.layout_h.likely


def price_of(
    forecast: Forecast, works: Sequence[SheetWork], purchase: Purchase, stores: Stores, *, inserts: int
) -> Price:
    """Return the price of a job. works: of all sheets that anything is cut from; inserts: that are laid out."""
    minutes, blades = forecast.drawn(works)
    layout = _layout_h(stores.layout_h * inserts, len(minutes))
    rate = stores.hour_rate or 0.0
    total = purchase.cost + rate * (minutes / 60.0 + layout) + stores.blade_price * blades
    return Price(
        foam=purchase.cost,
        blades=forecast.blades(works),
        blade_price=stores.blade_price,
        bench_h=range_of(minutes / 60.0),
        layout_h=range_of(layout),
        hour_rate=rate,
        total=range_of(total),
        lacking=tuple(one.name for one, _ in purchase.short),
    )


def _layout_h(usual_h: float, count: int) -> Values:
    """Return draws of the hours of laying out: as likely longer as shorter, within the slack in four of five."""
    drawn = np.random.default_rng(23).standard_normal(count)
    return np.asarray(usual_h * np.exp(drawn * math.log(LAYOUT_SLACK) / _QUANTILE), dtype=np.float64)
