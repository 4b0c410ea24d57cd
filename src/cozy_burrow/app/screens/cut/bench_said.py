"""What bench mode says: before the first cut, at a line, once all are cut."""

from __future__ import annotations

from dataclasses import dataclass

from cozy_burrow.app.screens.cut.bench_sheet import Said, finished_text
from cozy_burrow.core.bench.at_bench import AtBench
from cozy_burrow.core.bench.cuts import cutting_plan
from cozy_burrow.core.bench.methods import METHODS, Tools
from cozy_burrow.core.bench.preparing import pinned_in, riser_sizes_mm
from cozy_burrow.core.bench.work import SheetBench, bench_work
from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.model.records import Insert, Project
from cozy_burrow.core.model.vessels import Stores
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import Unit, format_length
from cozy_burrow.jobs.bench_words import capital, care_texts, method_text, passes_text, steps_text, time_text, why_text
from cozy_burrow.jobs.first_steps import first_steps_at
from cozy_burrow.jobs.sink_words import risers_text
from cozy_burrow.jobs.templates import cut_name


@dataclass(frozen=True)
class OnTheBench:
    """A sheet as it is when the bench is opened. first: what is done before; pinned: where the template is pinned."""

    project: Project
    insert: Insert
    ground: Ground
    bench: SheetBench
    first: tuple[str, ...]
    pinned: tuple[int, ...]

    @property
    def layers(self) -> int:
        """How many layers the sheet has."""
        return sum(1 for layer in self.ground.layers if layer.sheet == self.bench.sheet)

    @property
    def name(self) -> str:
        """Which sheet it is, in words."""
        return tr("{insert}, sheet {sheet}", insert=self.insert.name, sheet=self.bench.sheet)

    @property
    def glued_onto(self) -> int | None:
        """The sheet that this one is glued onto in the end; None: it is the lowest."""
        return self.bench.sheet + 1 if self.bench.sheet < len(self.insert.sheets) else None


def on_the_bench(project: Project, insert: Insert, sheet: int, tools: Tools, stores: Stores) -> OnTheBench:
    """Return a sheet with all that is known of it. The ground is worked out, never guessed: it is cut."""
    ground = ground_of(project, insert)
    is_template = project.rules.marking == "template"
    return OnTheBench(
        project=project,
        insert=insert,
        ground=ground,
        bench=bench_work(ground, tools)[sheet - 1],
        first=first_steps_at(project, ground, sheet, stores),
        pinned=pinned_in(cutting_plan(ground)[sheet - 1]) if is_template else (),
    )


def said_first(sheet: OnTheBench, *, clock: str, glue: str) -> Said:
    """Return what is said before the first cut."""
    return Said(
        where=sheet.name,
        what=tr("Before the first cut"),
        how="\n\n".join(sheet.first),
        why=tr("The clock starts with the first cut."),
        clock=clock,
        glue=glue,
    )


def said_line(sheet: OnTheBench, work: AtBench, unit: Unit, *, is_dull: bool, clock: str, glue: str) -> Said:
    """Return what is said of the line in hand."""
    cuts = sheet.bench.cuts
    one = cuts[work.at]
    care = [*care_texts(one, unit, always=False)]
    if work.at in work.torn:
        care.insert(0, tr("Torn here: change the blade and cut it again."))
    elif is_dull:
        care.insert(0, tr("This blade has cut a long way: change it before the foam tears."))
    passes = tr("in {count} passes: {passes}", count=len(one.passes_mm), passes=passes_text(one, unit))
    layers = tr("{count} of {all} layers", count=one.cut.to_layer, all=sheet.layers)
    in_passes = METHODS[one.method].is_knife and len(one.passes_mm) > 1
    return Said(
        where=sheet.name + " · " + tr("cut {number} of {count}", number=one.cut.number, count=len(cuts)),
        what=cut_name(sheet.project, one.cut),
        how=tr("{method}. {steps}", method=capital(method_text(one)), steps=steps_text(one)),
        blade=format_length(one.cut.blade_mm, unit),
        passes=f"{layers}, {passes}" if in_passes else layers,
        care=tuple(care),
        why=tr("Why now: {why}.", why=why_text(one.cut)),
        clock=clock,
        glue=glue,
    )


def said_done(
    sheet: OnTheBench, work: AtBench, spent_s: float, *, tried: str, told: str, risers: str, noted: str, glue: str
) -> Said:
    """Return what is said once all lines are cut. tried: whose fit is asked for; told: what to do about it.

    risers: what goes back under it. noted: that the sheet is in the log, or why it is not.
    """
    done = finished_text(time_text(spent_s / 60.0), work.blades)
    peel = tr("Peel every opening to its layer, keep the fingers at the seam, then try each item.")
    how: list[str] = []
    if tried:
        how += [told] if told else [risers, peel]
    elif sheet.glued_onto is not None:
        how.append(tr("Once sheet {next} is cut too, glue this one onto it: press 5 minutes.", next=sheet.glued_onto))
    return Said(
        where=sheet.name + (f" · {done}" if tried else ""),
        what=tr("How does ‘{name}’ fit?", name=tried) if tried else done,
        how="\n".join(filter(None, (*how, noted))),
        care=(tr("Torn at {count} cuts: check these first.", count=len(work.torn)),) if work.torn else (),
        glue=glue,
        why=tr("Saving it makes your next forecast more exact. The log stays on this computer."),
    )


def riser_text(pocket: Pocket | None, unit: Unit) -> str:
    """Return what of its plug goes back under an item, with its size; empty where nothing does."""
    if pocket is None:
        return ""
    text = risers_text(pocket.item, pocket.seating.risers_mm, unit, riser_sizes_mm(pocket))
    return tr("First {risers}: glue, press 5 minutes.", risers=text) if text else ""
