"""What templates and bench plan say: the cuts of every sheet with their names, and how lines are cut, in words."""

from __future__ import annotations

from msgspec.structs import replace

from cozy_burrow.core.bench.cut import Cut, SheetCuts
from cozy_burrow.core.bench.cuts import cutting_plan
from cozy_burrow.core.bench.methods import OWNED, Tools
from cozy_burrow.core.bench.preparing import LEAST_RISER_MM, riser_sizes_mm
from cozy_burrow.core.bench.work import bench_work
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.ground.guides import guide_lines
from cozy_burrow.core.model.edits import item_of
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.pull_kinds import kind_of_pull
from cozy_burrow.core.model.records import Insert, Project
from cozy_burrow.core.tongue import tr, trn, within
from cozy_burrow.core.units import format_length
from cozy_burrow.export.drawing import SheetDrawing
from cozy_burrow.export.templates_pdf import SheetTemplate
from cozy_burrow.jobs.bench_words import way_in_words
from cozy_burrow.jobs.cut_words import BEFORE_PEELING, MARKING_NAMES, blade_text, marking_text, own_line_text
from cozy_burrow.jobs.note_words import noted
from cozy_burrow.jobs.sink_words import risers_text


def cutting_words(project: Project) -> tuple[str, ...]:
    """Return how lines are cut with the fits of this project, and what is put back or taken out in which order."""
    rules = project.rules
    snug = marking_text(rules, project.units, allowance_mm=-rules.snug_mm)
    line = marking_text(rules, project.units, allowance_mm=0.0)
    found = [
        BEFORE_PEELING,
        tr("Marking: {marking_names}. Snug items: {snug}", marking_names=MARKING_NAMES[rules.marking], snug=snug),
    ]
    if line != snug:
        found.append(tr("On the line (boxes): {line}", line=line))
    for insert in project.inserts:
        ground = ground_of(project, insert)
        for key, pocket in ground.pockets.items():
            depth_mm = ground.layers[pocket.depth_layers - 1].bottom_mm
            own = own_line_text(pocket, depth_mm, rules, project.units)
            if own:
                found.append(f"{placement_name(project, key)}: {within(own)}.")
            risers = risers_text(pocket.item, pocket.seating.risers_mm, project.units, riser_sizes_mm(pocket))
            if risers:
                found.append(
                    tr(
                        "{placement_name}: {risers}, glued; five minutes to hold, an hour to cure.",
                        placement_name=placement_name(project, key),
                        risers=risers,
                    )
                )
        for pull in ground.pulls:
            name = placement_name(project, pull.pull.serves[0])
            if not kind_of_pull(pull.pull).cuts:
                found.append(
                    tr(
                        "{name}: a ribbon {width} wide goes in under it.",
                        name=name,
                        width=format_length(pull.pull.width_mm, project.units),
                    )
                )
            elif not kind_of_pull(pull.pull).opens:
                found.append(
                    tr("{name}: its floor goes deeper under one end, for a push there; label that end.", name=name)
                )
        for item in dict.fromkeys(pocket.item.id for pocket in ground.pockets.values()):
            thing = item_of(project, item)
            if thing.notes:
                found.append(f"{thing.name}: {noted(thing)}")
        for lower, upper in ground.under.items():
            names = placement_name(project, lower), placement_name(project, upper)
            found.append(
                tr(
                    "{names} lies in an under-pocket: cut it once {names_2} is peeled, and lay it in first.",
                    names=names[0],
                    names_2=names[1],
                )
            )
    return tuple(found)


def cut_name(project: Project, cut: Cut) -> str:
    """Return what the cut belongs to, in words."""
    if cut.kind == "pocket":
        return placement_name(project, cut.name) + (tr(", one slit") if cut.slit else "")
    who = [placement_name(project, key) for key in cut.owners]
    return tr("pull for ") + (
        ", ".join(who) if len(who) <= 3 else tr("{who} and {count} more", who=who[0], count=len(who) - 1)
    )


def sheet_templates(
    project: Project, insert: Insert, ground: Ground, drawings: tuple[SheetDrawing, ...], tools: Tools = OWNED
) -> list[SheetTemplate]:
    """Return what is printed for every sheet of an insert, in export coordinates."""
    left, _, _, front = ground.extent
    floating = tuple(tuple((x - left, front - y) for x, y in line) for line in guide_lines(ground))
    found = []
    works = bench_work(ground, tools)
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
            cut.number: trn(
                "{number} {name}\n{count} layer · blade {blade}",
                "{number} {name}\n{count} layers · blade {blade}",
                cut.to_layer,
                number=cut.number,
                name=cut_name(project, cut) if cut.kind == "pocket" else tr("pull"),
                blade=blade_text(cut, project.units),
            )
            for cut in plan.cuts
        }
        names = {cut.number: cut_name(project, cut) + _riser_words(ground, cut, project) for cut in plan.cuts}
        title = tr(
            "{title} · {name} · sheet {sheet} of {count}",
            title=project.title,
            name=insert.name,
            sheet=plan.sheet,
            count=len(drawings),
        )
        exported: SheetCuts = replace(plan, cuts=cuts)
        guides = floating if drawing.sheet == 1 else ()
        ways = {one.cut.number: way_in_words(one, project.units) for one in works[plan.sheet - 1].cuts}
        found.append(
            SheetTemplate(
                drawing=drawing, plan=exported, texts=texts, names=names, title=title, guides=guides, ways=ways
            )
        )
    return found


def _riser_words(ground: Ground, cut: Cut, project: Project) -> str:
    """Return what is put back where plain foam was cut through."""
    if cut.kind != "pocket" or ground.insert.sheets[cut.sheet - 1].material != "plain":
        return ""
    risers = [riser for riser in ground.pockets[cut.name].seating.risers_mm if riser > LEAST_RISER_MM]
    if not risers:
        return ""
    slices = tr(" and ").join(format_length(riser, project.units) for riser in risers)
    return tr(": slice the plug, glue back {slices}", slices=slices)
