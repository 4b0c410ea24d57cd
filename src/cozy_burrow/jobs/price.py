"""The price of a job for whoever has it made, worked out from plan, log and price list, and said in words."""

from __future__ import annotations

from cozy_burrow.core.bench.forecast import SheetWork, forecast_from
from cozy_burrow.core.bench.price import LAYOUT_SLACK, Price, price_of
from cozy_burrow.core.bench.work import bench_work
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.model.records import Insert, Project
from cozy_burrow.core.progress import Token
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.bench_words import time_text
from cozy_burrow.jobs.boards import purchase_for
from cozy_burrow.jobs.workshop import Workshop

MADE_OF = tr(
    "Foam is the cheapest buy for the whole job (Measure, Sheets); pieces from your shelf count as paid. Hours at the "
    "bench and blades come from your log, or from what is usual. Layout can take {slack:g} times as long as you say, "
    "or be done in as much less. The range holds in 4 of 5 cases.",
    slack=LAYOUT_SLACK,
)


def works_of(project: Project, insert: Insert, workshop: Workshop) -> list[SheetWork]:
    """Return the work at every sheet of an insert that anything is cut from."""
    return [one.work for one in bench_work(ground_of(project, insert), workshop.tools) if one.cuts]


def job_price(project: Project, workshop: Workshop, *, token: Token | None = None) -> Price | None:
    """Return the price of a whole job; None where nobody pays by the hour, or nothing lies in any insert.

    Raises Cancelled.
    """
    laid = [insert for insert in project.inserts if insert.placements]
    if workshop.stores.hour_rate is None or not laid:
        return None
    purchase = purchase_for(project, workshop.stores, token=token)
    works = [work for insert in laid for work in works_of(project, insert, workshop)]
    return price_of(forecast_from(workshop.log), works, purchase, workshop.stores, inserts=len(laid))


def money_text(amount: float, currency: str, *, digits: int = 0) -> str:
    """Return a sum with its currency."""
    if digits:
        return tr("{currency}{amount:.2f}", currency=currency, amount=amount)
    return tr("{currency}{amount:.0f}", currency=currency, amount=amount)


def price_text(price: Price, currency: str, *, inserts: int = 1) -> str:
    """Return the price with its range and what it is made of. inserts: that it is for."""
    low, likely, high = (money_text(each, currency) for each in (price.total.low, price.total.likely, price.total.high))
    parts = []
    if price.foam:
        parts.append(tr("foam {sum}", sum=money_text(price.foam, currency)))
    elif not price.lacking:
        parts.append(tr("foam from the shelf"))
    blades = price.blades.likely * price.blade_price
    if blades >= 0.5:
        parts.append(tr("blades {sum}", sum=money_text(blades, currency)))
    rate = money_text(price.hour_rate, currency, digits=0 if price.hour_rate == round(price.hour_rate) else 2)
    parts.append(tr("{hours} of work at {rate} an hour", hours=time_text(price.hours * 60.0), rate=rate))
    text = tr("about {likely} ({low} to {high}): {parts}", likely=likely, low=low, high=high, parts=", ".join(parts))
    if inserts > 1:
        text += tr("; for all {count} inserts", count=inserts)
    if price.lacking:
        text += tr("; foam for {names} is not in it: no price is known", names=", ".join(price.lacking[:3]))
    return text


def hours_text(project: Project, insert: Insert, workshop: Workshop) -> str:
    """Return how long one insert takes: at the bench, and before that."""
    minutes = forecast_from(workshop.log).minutes(works_of(project, insert, workshop))
    text = tr(
        "about {likely} at the bench ({low} to {high})",
        likely=time_text(minutes.likely),
        low=time_text(minutes.low),
        high=time_text(minutes.high),
    )
    layout_h = workshop.stores.layout_h
    if not layout_h:
        return text
    before = time_text(layout_h * 60.0)
    return tr("{text}, before that about {before} of measuring and laying out", text=text, before=before)
