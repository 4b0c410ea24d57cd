"""bench.pdf: the cutting plan in order, one picture and one table a sheet, with the cautions first."""

from __future__ import annotations

import itertools
from typing import Any

from msgspec.structs import replace
from shapely.geometry import LineString

from cozy_burrow.core.bench.cuts import blade_settings
from cozy_burrow.core.model.records import Point, Record
from cozy_burrow.core.tongue import tr, trn
from cozy_burrow.core.units import Unit, format_length
from cozy_burrow.export.flowing import flowing_pdf, ruled
from cozy_burrow.export.lettering import marked_up
from cozy_burrow.export.paper import BOLD, CAUTIONS, INK, REGULAR, Paper, register_fonts
from cozy_burrow.export.template_words import Written, blank_of, written
from cozy_burrow.export.templates_pdf import SheetTemplate

_MM = 72 / 25.4  # in points
_MOST_IN_A_ROW = 300  # characters of a name: a row that is higher than the page can be printed nowhere


class BenchNotes(Record, frozen=True, kw_only=True):
    """What stands above the tables: the project's title, findings still open, and how lines are cut, in words."""

    title: str
    open_findings: tuple[str, ...]
    cutting: tuple[str, ...] = ()


def bench_pdf(sheets: list[SheetTemplate], notes: BenchNotes, *, paper: Paper, units: Unit) -> bytes:
    """Return the cutting plan as the bytes of a PDF."""
    from reportlab.lib.colors import Color
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.lib.units import mm
    from reportlab.platypus import PageBreak, Paragraph, Spacer, Table

    register_fonts()
    ink = Color(*INK)
    body = ParagraphStyle("body", fontName=REGULAR, fontSize=9.5, leading=13, textColor=ink)
    head = ParagraphStyle("head", parent=body, fontName=BOLD, fontSize=15, leading=20)
    strong = ParagraphStyle("strong", parent=body, fontName=BOLD)
    right = ParagraphStyle("right", parent=body, alignment=2)
    fine = ParagraphStyle("fine", parent=body, fontSize=8.5, leading=11)
    small_head = ParagraphStyle("small", parent=head, fontSize=11, leading=15, spaceBefore=6)
    story: list[Any] = [
        Paragraph(marked_up(notes.title, BOLD) + tr(": bench plan"), head),
        Paragraph(tr("Before you cut"), small_head),
    ]
    story += [Paragraph("• " + caution, body) for caution in CAUTIONS]
    if notes.open_findings:
        story.append(Paragraph(tr("Still to fix ({count})", count=len(notes.open_findings)), small_head))
        story += [Paragraph("• " + marked_up(text), body) for text in notes.open_findings[:30]]
    if notes.cutting:
        story.append(Paragraph(tr("How lines are cut"), small_head))
        story += [Paragraph("• " + marked_up(text), body) for text in notes.cutting]
    width = (paper.width_mm - 30) * mm
    for index, sheet in enumerate(sheets):
        story.append(PageBreak() if index else Spacer(1, 4 * mm))
        story.append(Paragraph(marked_up(sheet.title, BOLD), head))
        plan = sheet.plan
        story.append(
            Paragraph(
                tr(
                    "{layers} layers of {pitch} · {count} cuts · {metres:.1f} m of cut, once round each · in the "
                    "order of the work",
                    layers=plan.layers,
                    pitch=format_length(plan.pitch_mm, units),
                    count=len(plan.cuts),
                    metres=plan.metres,
                ),
                body,
            )
        )
        blades = ", ".join(
            trn("{blade} ({count} cut)", "{blade} ({count} cuts)", count, blade=format_length(length, units))
            for length, count in blade_settings(plan)
        )
        if blades:
            story.append(Paragraph(tr("Set the blade, from the sheet's top, to: {blades}", blades=blades), body))
        for method, steps in dict.fromkeys((way.method, way.steps) for way in sheet.ways.values()):
            story.append(Paragraph(marked_up(tr("{method}: {steps}", method=method, steps=steps)), body))
        if sheet.first:
            story.append(Paragraph(tr("Before the first cut"), small_head))
            story += [Paragraph("• " + marked_up(step), body) for step in sheet.first]
        story.append(Spacer(1, 3 * mm))
        story.append(_picture(sheet, width))
        story.append(Spacer(1, 3 * mm))
        rows: list[list[Any]] = [
            [tr("No."), tr("What and how"), tr("Layers out"), tr("Blade, each pass"), tr("from ledge"), tr("Length")]
        ]
        for cut in plan.cuts:
            span = (
                tr("{first} to {last}", first=cut.from_layer, last=cut.to_layer)
                if cut.to_layer > cut.from_layer
                else f"{cut.to_layer}"
            )
            name = sheet.names.get(cut.number, cut.name)
            what = [Paragraph(marked_up(name if len(name) <= _MOST_IN_A_ROW else name[:_MOST_IN_A_ROW] + "…"), strong)]
            way = sheet.ways.get(cut.number)
            if way is not None:
                how = tr("{method}; now: {why}", method=way.method, why=way.why) if way.why else way.method
                what.append(Paragraph(marked_up(how), fine))
                what += [Paragraph(f'<font name="{BOLD}">!</font> {marked_up(care)}', fine) for care in way.care]
            through = tr(" through") if cut.through else ""
            rows.append(
                [
                    str(cut.number),
                    what,
                    span + through,
                    Paragraph(marked_up(way.passes), right) if way else format_length(cut.blade_mm, units),
                    format_length(cut.from_ledge_mm, units) if cut.from_layer > 1 else "",
                    format_length(cut.length_mm, units, digits=0),
                ]
            )
        shares = (0.06, 0.41, 0.13, 0.19, 0.10, 0.11)
        table = Table(rows, colWidths=[width * share for share in shares], repeatRows=1)
        table.setStyle(ruled(("VALIGN", (0, 0), (-1, -1), "TOP"), ("ALIGN", (3, 0), (-1, -1), "RIGHT")))
        story.append(table)
    return flowing_pdf(story, paper=paper, title=tr("Bench plan"))


def _picture(sheet: SheetTemplate, width: float) -> Any:
    """Return the sheet in small, each opening shaded by its depth and numbered by its cut."""
    from reportlab.graphics.shapes import Circle, Drawing, Line, Polygon
    from reportlab.lib.colors import Color

    scale = width / sheet.drawing.width_mm
    scale = min(scale, 330.0 / sheet.drawing.height_mm)
    picture = Drawing(sheet.drawing.width_mm * scale, sheet.drawing.height_mm * scale)

    def polygon(ring: Any, shade: float, line: float) -> None:
        flat = [value * scale for point in ring for value in point]
        picture.add(Polygon(flat, fillColor=Color(shade, shade, shade), strokeColor=Color(*INK), strokeWidth=line))

    polygon(sheet.drawing.blank, 0.93, 0.8)
    for cut in sorted(sheet.plan.cuts, key=lambda one: one.to_layer):
        polygon(cut.line, 0.84 - 0.5 * (cut.to_layer - 1) / max(1, sheet.plan.layers), 0.4)
    words = numbers_on(sheet, scale)
    for one in words:
        if one.to is not None:  # it stands beside what it names
            (x1, y1), (x2, y2) = one.to
            picture.add(Line(x1 * _MM, y1 * _MM, x2 * _MM, y2 * _MM, strokeColor=Color(*INK), strokeWidth=0.3))
            picture.add(Circle(x2 * _MM, y2 * _MM, 0.9, fillColor=Color(*INK), strokeWidth=0))
    for one in words:
        text, font, size = one.form.lines[0]
        at = one.at_mm[0] * _MM, (one.at_mm[1] - 0.36 * size) * _MM
        for dx, dy in itertools.product((-0.6, 0.0, 0.6), repeat=2):  # a pale rim: figures stand on dark depths
            shade = Color(1, 1, 1)
            picture.add(_number(text, font, size, (at[0] + dx, at[1] + dy), shade))
        picture.add(_number(text, font, size, at, Color(*INK)))
    return picture


def _number(text: str, font: str, size_mm: float, at: Point, shade: Any) -> Any:
    from reportlab.graphics.shapes import String

    return String(*at, text, fontName=font, fontSize=size_mm * _MM, textAnchor="middle", fillColor=shade)


def numbers_on(sheet: SheetTemplate, scale: float) -> tuple[Written, ...]:
    """Return where the numbers of cuts stand on a small picture, in mm of the paper. scale: points to a millimetre."""
    shrunk = scale / _MM

    def small(points: tuple[Point, ...]) -> tuple[Point, ...]:
        return tuple((x * shrunk, y * shrunk) for x, y in points)

    cuts = [replace(cut, line=small(cut.line), label_mm=small((cut.label_mm,))[0]) for cut in sheet.plan.cuts]
    return written(
        cuts,
        {cut.number: str(cut.number) for cut in cuts},
        size_mm=(sheet.drawing.width_mm * shrunk, sheet.drawing.height_mm * shrunk),
        blank=blank_of([small(ring) for ring in (sheet.drawing.blank, *sheet.drawing.holes)]),
        lines=[LineString((*cut.line, cut.line[0])) for cut in cuts],
        joints=(),
    )
