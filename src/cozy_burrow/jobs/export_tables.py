"""items.csv and cuts.csv: where everything lies, and every cut in order."""

from __future__ import annotations

from cozy_burrow.core.bench.methods import OWNED, Tools
from cozy_burrow.core.bench.work import bench_work
from cozy_burrow.core.depth.seat import seat_for
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.model.edits import placement_of
from cozy_burrow.core.model.records import Project
from cozy_burrow.export.tables_csv import table_csv
from cozy_burrow.jobs.bench_words import method_text, why_text
from cozy_burrow.jobs.templates import cut_name


def items_csv(project: Project) -> bytes:
    """Return a row for every thing that has a place."""
    rows = []
    for insert in project.inserts:
        ground = ground_of(project, insert)
        left, _, _, front = ground.extent
        for key, pocket in ground.pockets.items():
            placement = placement_of(insert, key)
            item = pocket.item
            rows.append(
                [
                    item.name,
                    placement.copy,
                    insert.name,
                    item.group,
                    item.use,
                    placement.x_mm - left,
                    front - placement.y_mm,
                    -placement.angle_deg % 360.0,
                    seat_for(item, placement, project.rules),
                    " ".join(str(count) for count in pocket.seating.zone_layers),
                    pocket.seating.proud_mm,
                    pocket.seating.bottom_mm,
                    item.mass_g if item.mass_g is not None else "",
                ]
            )
    header = [
        "name", "copy", "insert", "group", "use", "x_mm", "y_mm", "angle_deg", "seat", "layers_by_zone",
        "stands_out_mm", "deepest_mm", "mass_g",
    ]  # fmt: skip
    return table_csv(header, rows)


def cuts_csv(project: Project, stems: dict[str, str], tools: Tools = OWNED) -> bytes:
    """Return a row for every cut. stems: how the files of each insert are called."""
    rows = []
    for insert in project.inserts:
        for plan in bench_work(ground_of(project, insert), tools):
            for one in plan.cuts:
                cut = one.cut
                rows.append(
                    [
                        f"{stems[insert.id]}-sheet-{plan.sheet}",
                        cut.number,
                        cut.kind,
                        cut_name(project, cut),
                        cut.from_layer,
                        cut.to_layer,
                        cut.blade_mm,
                        cut.length_mm,
                        "yes" if cut.through else "no",
                        cut.from_ledge_mm,
                        cut.straight_mm,
                        method_text(one),
                        " ".join(f"{each:g}" for each in one.passes_mm),
                        why_text(cut),
                    ]
                )
    header = [
        "sheet",
        "number",
        "kind",
        "name",
        "from_layer",
        "to_layer",
        "blade_mm",
        "length_mm",
        "through",
        "blade_from_ledge_mm",
        "straight_mm",
        "method",
        "passes_mm",
        "why",
    ]
    return table_csv(header, rows)
