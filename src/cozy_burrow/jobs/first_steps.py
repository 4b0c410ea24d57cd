"""What is done at a sheet before its first cut, in sentences: blank, template or marks, what is marked later."""

from __future__ import annotations

from cozy_burrow.core.bench.cut import SheetCuts
from cozy_burrow.core.bench.cuts import cutting_plan
from cozy_burrow.core.bench.preparing import blank_passes, is_square, pinned_in
from cozy_burrow.core.container.blank import blanks_of
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.model.records import Insert, Point, Project, Record
from cozy_burrow.core.model.vessels import Stores
from cozy_burrow.core.tongue import tr, trn, within
from cozy_burrow.core.units import format_length
from cozy_burrow.export.drawing import blank_notes
from cozy_burrow.jobs.cut_words import MARKING_NAMES, marking_text


class Pages(Record, frozen=True, kw_only=True):
    """Which pages of the templates are a sheet's: the first one's number, how many lie in each row from the back."""

    first: int
    rows: tuple[int, ...]

    @property
    def count(self) -> int:
        """How many."""
        return sum(self.rows)


def first_steps_at(project: Project, ground: Ground, sheet: int, stores: Stores) -> tuple[str, ...]:
    """Return the steps at a sheet (1: the top one) where nothing is printed yet."""
    blank = blanks_of(ground.bay)[sheet - 1]
    return first_steps(
        project,
        ground.insert,
        cutting_plan(ground)[sheet - 1],
        tuple((x, y) for x, y in blank.polygon.exterior.coords),
        notes=blank_notes(blank),
        stores=stores,
    )


def first_steps(
    project: Project,
    insert: Insert,
    plan: SheetCuts,
    blank: tuple[Point, ...],
    *,
    notes: tuple[str, ...] = (),
    stores: Stores,
    pages: Pages | None = None,
) -> tuple[str, ...]:
    """Return the steps in their order. blank: the outer cut's ring. notes: what it asks for beyond its line.

    pages: of the templates as they were laid out; None: nobody knows the paper yet.
    """
    found = [_blank_text(project, insert, plan, blank, notes, stores)]
    if not plan.cuts and is_square(blank):
        pass  # nothing to be drawn on it
    elif project.rules.marking == "template":
        found.append(_template_text(plan, pages))
    else:
        line = marking_text(project.rules, project.units, allowance_mm=-project.rules.snug_mm)
        found.append(
            tr(
                "Marking ({way}): lay everything out as in the picture, check that all of it fits, then mark. "
                "Snug: {line}",
                way=MARKING_NAMES[project.rules.marking],
                line=within(line),
            )
        )
    later = [str(cut.number) for cut in plan.cuts if "MARK_NOW" in cut.why]
    if later:
        found.append(
            trn(
                "Cut {numbers} is marked a second time, with the deep part of its item sunk.",
                "Cuts {numbers} are marked a second time, with the deep parts of their items sunk.",
                len(later),
                numbers=", ".join(later),
            )
        )
    if len(insert.sheets) > 1 and plan.sheet < len(insert.sheets):
        found.append(
            tr(
                "Once both are cut and tried, glue this sheet onto sheet {next}: press 5 minutes, cure 1 hour.",
                next=plan.sheet + 1,
            )
        )
    return tuple(found)


def _blank_text(
    project: Project, insert: Insert, plan: SheetCuts, blank: tuple[Point, ...], notes: tuple[str, ...], stores: Stores
) -> str:
    sheet, units = insert.sheets[plan.sheet - 1], project.units
    xs, ys = [x for x, _ in blank], [y for _, y in blank]
    size = {
        "wide": format_length(max(xs) - min(xs), units, suffix=False),
        "deep": format_length(max(ys) - min(ys), units),
        "thick": format_length(sheet.thickness_mm, units),
    }
    if is_square(blank):
        text = tr("Blank: {wide} × {deep} of {thick} foam", **size)
    else:
        text = tr("Blank: by its outer line, {wide} × {deep} over all, of {thick} foam", **size)
    if insert.press_fit_mm > 0:
        fit = format_length(insert.press_fit_mm, units)
        text += tr("; that is {fit} more on each side than the opening, so that it grips", fit=fit)
    if stores.cutting == "saw" and is_square(blank):
        how = tr("Table saw: guards on, push stick, no gloves near the blade; the maker's instructions count.")
    else:
        count = blank_passes(sheet.thickness_mm)
        how = trn(
            "New blade, upright, {count} pass along a rule.", "New blade, upright, {count} passes along a rule.", count
        )
    return " ".join((f"{text}.", how, *(f"{note[:1].upper()}{note[1:]}." for note in notes)))


def _template_text(plan: SheetCuts, pages: Pages | None) -> str:
    if pages is None:
        text = tr("Template: print it and check its 100 mm bar.")
    elif pages.count == 1:
        text = tr("Template: page {first} of templates.pdf; check its 100 mm bar.", first=pages.first)
    else:
        rows, number = [], pages.first
        for count in pages.rows:
            rows.append(f"{number}" if count == 1 else f"{number}–{number + count - 1}")
            number += count
        text = tr(
            "Template: pages {first} to {last} of templates.pdf; check the 100 mm bar, then tape them, crosses on "
            "crosses. Rows from the back: {rows}.",
            first=pages.first,
            last=pages.first + pages.count - 1,
            rows=" | ".join(rows),
        )
    pins = pinned_in(plan)
    if not pins:
        return text
    where = trn(
        "Lay it on the blank's edges and pin it inside cut {numbers}: that foam comes out anyway.",
        "Lay it on the blank's edges and pin it inside cuts {numbers}: that foam comes out anyway.",
        len(pins),
        numbers=", ".join(map(str, pins)),
    )
    return f"{text} {where}"
