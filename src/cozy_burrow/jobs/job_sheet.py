"""What the job sheet says of every insert: for the customer, without what only the bench needs."""

from __future__ import annotations

from collections import Counter

from cozy_burrow.core.ground.carrying import carried, unsure_g
from cozy_burrow.core.model.edits import item_of
from cozy_burrow.core.model.records import Container, Sheet
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import Unit, format_length
from cozy_burrow.export.job_pdf import JobPage
from cozy_burrow.jobs.export_job import ExportedInsert, ExportJob
from cozy_burrow.jobs.insert_pictures import as_png, insert_picture
from cozy_burrow.jobs.price import hours_text, job_price, price_text

PAPER_DPI = 90  # of the insert; on the page it is drawn smaller, and finer
_NAMES = {"drawer": tr("Drawer"), "case": tr("Case"), "wall": tr("Wall panel")}


def job_pages(job: ExportJob) -> list[JobPage]:
    """Return a page an insert that anything lies in; where work is paid by the hour, with time and price."""
    laid = [one for one in job.inserts if one.insert.placements]
    price = job_price(job.project, job.workshop)
    found = []
    for one in laid:
        paid: list[tuple[str, str]] = []
        if price is not None:
            paid.append((tr("Time"), hours_text(job.project, one.insert, job.workshop)))
            if one is laid[0]:
                said = price_text(price, job.workshop.stores.currency, inserts=len(laid))
                paid.append((tr("Price"), said))
        found.append(_page(job, one, paid))
    return found


def _page(job: ExportJob, one: ExportedInsert, paid: list[tuple[str, str]]) -> JobPage:
    project, units = job.project, job.project.units
    container = one.ground.bay.container
    count = Counter(lying.item_id for lying in one.insert.placements)
    return JobPage(
        title=f"{project.title}: {one.insert.name}",
        picture_png=as_png(insert_picture(one.ground, dpi=PAPER_DPI), dpi=PAPER_DPI),
        facts=(
            (_NAMES[container.kind], _inside(container, units)),
            (tr("Foam"), "; ".join(_foam(sheet, units) for sheet in one.insert.sheets)),
            (tr("Weight"), _weight(job, container)),
            *paid,
        ),
        items=tuple((item_of(project, key).name, number) for key, number in count.items()),
    )


def _inside(container: Container, units: Unit) -> str:
    wide, deep = (
        format_length(length, units, digits=0, suffix=False) for length in (container.width_mm, container.depth_mm)
    )
    high = format_length(container.height_mm, units, digits=0)
    return tr("{name}, inside {wide} x {deep} x {high}", name=container.name, wide=wide, deep=deep, high=high)


def _foam(sheet: Sheet, units: Unit) -> str:
    thick = format_length(sheet.thickness_mm, units, digits=0)
    name = (sheet.name or tr("sheet")).removesuffix(f", {thick}")
    if sheet.contrast_layers:
        return tr("{name}, {thick}, with a base of another colour", name=name, thick=thick)
    return tr("{name}, {thick}", name=name, thick=thick)


def _weight(job: ExportJob, container: Container) -> str:
    load = carried(job.project, container)
    tiers = tr("all tiers together") if sum(one.container_id == container.id for one in job.project.inserts) > 1 else ""
    empty = tr("without the container") if not load.case_g else ""
    rest = "".join(f", {text}" for text in (tiers, empty) if text)
    return tr(
        "about {whole:.1f} kg ± {unsure:.1f}, of it {foam:.1f} kg foam{rest}",
        whole=load.whole.mass_g / 1000.0,
        unsure=unsure_g(load) / 1000.0,
        foam=load.foam_g / 1000.0,
        rest=rest,
    )
