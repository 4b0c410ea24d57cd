"""Everything the bench, a cutting shop and a spreadsheet need, written whole or not at all."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

from msgspec.structs import replace

from cozy_burrow.core.bench.cuts import Cut, SheetCuts, cutting_plan
from cozy_burrow.core.depth.seat import seat_for
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.ground.guides import guide_lines
from cozy_burrow.core.model.edits import item_of, placement_of
from cozy_burrow.core.model.records import Insert, Project
from cozy_burrow.core.units import format_length
from cozy_burrow.export.bench_pdf import BenchNotes, bench_pdf
from cozy_burrow.export.drawing import SheetDrawing, file_stem, sheet_drawings
from cozy_burrow.export.dxf import sheet_dxf
from cozy_burrow.export.labels_pdf import labels_pdf
from cozy_burrow.export.layout_json import layout_json
from cozy_burrow.export.lettering import unprintable
from cozy_burrow.export.paper import papers
from cozy_burrow.export.svg import sheet_svg
from cozy_burrow.export.tables_csv import table_csv
from cozy_burrow.export.templates_pdf import SheetTemplate, templates_pdf
from cozy_burrow.jobs.cut_words import BEFORE_PEELING, MARKING_NAMES, blade_text, marking_text, own_line_text
from cozy_burrow.jobs.files import replace_set
from cozy_burrow.jobs.note_words import noted
from cozy_burrow.jobs.sink_words import risers_text
from cozy_burrow.jobs.wording import finding_text, placement_name

KINDS = ("pdf", "svg", "dxf", "json", "csv", "labels")


def parse_only(text: str | None) -> tuple[str, ...]:
    """Return the kinds in `pdf,svg`; all where text is None. Raises UnusableInput."""
    if text is None:
        return KINDS
    kinds = tuple(part.strip().lower() for part in text.split(",") if part.strip())
    for kind in kinds:
        if kind not in KINDS:
            raise UnusableInput(f"'{kind}' is no kind of export", where="--only", remedy=f"write {','.join(KINDS)}")
    if not kinds:
        raise UnusableInput("no kind is named", where="--only", remedy=f"write {','.join(KINDS)}")
    return kinds


def write_export(project: Project, folder: Path, *, kinds: tuple[str, ...], paper: str = "a4") -> list[str]:
    """Write the chosen kinds into a folder and return the files' names. Raises UnusableInput."""
    return replace_set(folder, export_files(project, kinds=kinds, paper=paper), whole_set=_drawing_names(project))


def print_remarks(project: Project) -> tuple[str, ...]:
    """Return a sentence for each name that prints blank in part: neither the shipped fonts nor the system's have it."""
    names = [project.title, *(one.name for one in project.inserts), *(one.name for one in project.items)]
    groups = [one.group for one in project.items]
    found = []
    for name in dict.fromkeys((*names, *groups)):
        lacking = unprintable(name)
        if lacking:
            found.append(f"'{name}': no font on this system has {' '.join(lacking)}; it prints blank on paper")
    return tuple(found)


def _drawing_names(project: Project) -> frozenset[str]:
    """Return the names of all drawings that the project has, whether they are asked for or not."""
    stems = _stems(project)
    names = [f"{stem}-layout.json" for stem in stems.values()]
    for insert in project.inserts:
        for number in range(1, len(insert.sheets) + 1):
            names += [f"{stems[insert.id]}-sheet-{number}.{ending}" for ending in ("dxf", "svg")]
    return frozenset(names)


def export_files(project: Project, *, kinds: tuple[str, ...], paper: str = "a4") -> Iterator[tuple[str, bytes]]:
    """Yield the name and the bytes of every file of the chosen kinds."""
    size = papers()[paper]
    templates: list[SheetTemplate] = []
    labels: list[tuple[str, str]] = []
    stems = _stems(project)
    for insert in project.inserts:
        ground = ground_of(project, insert)
        names = {one.id: placement_name(project, one.id) for one in insert.placements}
        drawings = sheet_drawings(ground, names, stem=stems[insert.id])
        for drawing in drawings:
            if "dxf" in kinds:
                yield f"{drawing.name}.dxf", sheet_dxf(drawing)
            if "svg" in kinds:
                yield f"{drawing.name}.svg", sheet_svg(drawing)
        if "json" in kinds:
            pairs = {one.id: (item_of(project, one.item_id).name, one.copy) for one in insert.placements}
            yield f"{stems[insert.id]}-layout.json", layout_json(ground, pairs)
        templates += _templates(project, insert, ground, drawings)
        for one in insert.placements:
            item = item_of(project, one.item_id)
            labels.append((names[one.id], " · ".join(filter(None, (insert.name, item.group, item.notes)))))
    if "pdf" in kinds:
        findings = findings_of(project)
        stops = tuple(finding_text(project, one) for one in findings if one.severity == "stop")
        notes = BenchNotes(title=project.title, open_findings=stops, cutting=_cutting(project))
        yield "templates.pdf", templates_pdf(templates, paper=size, units=project.units)
        yield "bench.pdf", bench_pdf(templates, notes, paper=size, units=project.units)
    if "labels" in kinds:
        yield "labels.pdf", labels_pdf(labels, paper=size)
    if "csv" in kinds:
        yield "items.csv", _items_csv(project)
        yield "cuts.csv", _cuts_csv(project, stems)


def _cutting(project: Project) -> tuple[str, ...]:
    """Return how lines are cut with the fits of this project, and what is put back or taken out in which order."""
    rules = project.rules
    snug = marking_text(rules, project.units, allowance_mm=-rules.snug_mm)
    line = marking_text(rules, project.units, allowance_mm=0.0)
    found = [BEFORE_PEELING, f"Marking: {MARKING_NAMES[rules.marking]}. Snug things: {snug}"]
    if line != snug:
        found.append(f"On the line (boxes): {line}")
    for insert in project.inserts:
        ground = ground_of(project, insert)
        for key, pocket in ground.pockets.items():
            depth_mm = ground.layers[pocket.depth_layers - 1].bottom_mm
            own = own_line_text(pocket, depth_mm, rules, project.units)
            if own:
                found.append(f"{placement_name(project, key)}: {own[0].lower()}{own[1:]}.")
            risers = risers_text(pocket.item, pocket.seating.risers_mm, project.units)
            if risers:
                found.append(f"{placement_name(project, key)}: {risers}, glued; five minutes to hold, an hour to cure.")
        for pull in ground.pulls:
            name = placement_name(project, pull.pull.serves[0])
            if pull.pull.kind == "ribbon":
                found.append(
                    f"{name}: a ribbon {format_length(pull.pull.width_mm, project.units)} wide goes in under it."
                )
            elif pull.pull.kind == "press":
                found.append(f"{name}: its floor goes deeper under one end, for a push there; label that end.")
        for item in dict.fromkeys(pocket.item.id for pocket in ground.pockets.values()):
            thing = item_of(project, item)
            if thing.notes:
                found.append(f"{thing.name}: {noted(thing)}")
        for lower, upper in ground.under.items():
            names = placement_name(project, lower), placement_name(project, upper)
            found.append(f"{names[0]} lies in an under-pocket: cut it once {names[1]} is peeled, and lay it in first.")
    return tuple(found)


def _stems(project: Project) -> dict[str, str]:
    stems: dict[str, str] = {}
    for insert in project.inserts:
        stem, number = file_stem(insert.name), 2
        while stem in stems.values():
            stem, number = f"{file_stem(insert.name)}-{number}", number + 1
        stems[insert.id] = stem
    return stems


def cut_name(project: Project, cut: Cut) -> str:
    """Return what the cut belongs to, in words."""
    if cut.kind == "pocket":
        return placement_name(project, cut.name) + (", one slit" if cut.slit else "")
    who = [placement_name(project, key) for key in cut.owners]
    return "pull for " + (", ".join(who) if len(who) <= 3 else f"{who[0]} and {len(who) - 1} more")


def _templates(
    project: Project, insert: Insert, ground: Ground, drawings: tuple[SheetDrawing, ...]
) -> list[SheetTemplate]:
    left, _, _, front = ground.extent
    floating = tuple(tuple((x - left, front - y) for x, y in line) for line in guide_lines(ground))
    found = []
    for plan, drawing in zip(cutting_plan(ground), drawings):
        cuts = tuple(
            replace(
                cut,
                line=tuple((x - left, front - y) for x, y in cut.line),
                label_mm=(cut.label_mm[0] - left, front - cut.label_mm[1]),
            )
            for cut in plan.cuts
        )
        texts = {
            cut.number: f"{cut.number} {cut_name(project, cut) if cut.kind == 'pocket' else 'pull'}\n"
            f"{cut.to_layer} {'layers' if cut.to_layer > 1 else 'layer'} · blade "
            f"{blade_text(cut, project.units)}"
            for cut in plan.cuts
        }
        names = {cut.number: cut_name(project, cut) + _riser_words(ground, cut, project) for cut in plan.cuts}
        title = f"{project.title} · {insert.name} · sheet {plan.sheet} of {len(drawings)}"
        exported: SheetCuts = replace(plan, cuts=cuts)
        guides = floating if drawing.sheet == 1 else ()
        found.append(
            SheetTemplate(drawing=drawing, plan=exported, texts=texts, names=names, title=title, guides=guides)
        )
    return found


def _riser_words(ground: Ground, cut: Cut, project: Project) -> str:
    """Return what is put back where plain foam was cut through."""
    if cut.kind != "pocket" or ground.insert.sheets[cut.sheet - 1].material != "plain":
        return ""
    risers = [riser for riser in ground.pockets[cut.name].seating.risers_mm if riser > 0.5]
    if not risers:
        return ""
    return ": slice the plug, glue back " + " and ".join(format_length(riser, project.units) for riser in risers)


def _items_csv(project: Project) -> bytes:
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


def _cuts_csv(project: Project, stems: dict[str, str]) -> bytes:
    rows = []
    for insert in project.inserts:
        for plan in cutting_plan(ground_of(project, insert)):
            for cut in plan.cuts:
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
    ]
    return table_csv(header, rows)
