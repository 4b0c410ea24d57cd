"""What is written on templates: whole, beside no other words, over no line, and where it belongs."""

from __future__ import annotations

import unittest
from itertools import combinations

import pypdfium2
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import affinity
from shapely.geometry import LineString, Polygon, box

from cozy_burrow.core.bench.cut import Cut
from cozy_burrow.core.model.records import Point, Project
from cozy_burrow.demo.shipped import demo_project
from cozy_burrow.export.bench_pdf import numbers_on
from cozy_burrow.export.free_room import Room
from cozy_burrow.export.paper import template_papers
from cozy_burrow.export.template_words import Written, written
from cozy_burrow.export.templates_pdf import SheetTemplate, drawn_lines, spread_of, templates_pdf, words_of
from cozy_burrow.jobs.export_job import ExportJob

_LETTERS_MM = 0.4  # by which letters may come nearer to a line than what is kept clear: squares are half a millimetre
_PT = 72 / 25.4


def sheets_of(project: Project) -> list[SheetTemplate]:
    """The sheets of a project that something is cut in."""
    return [sheet for sheet in ExportJob(project, "a4").templates if sheet.plan.cuts]


def cut_of(number: int, ring: tuple[Point, ...]) -> Cut:
    """A cut along a ring, in export coordinates."""
    middle = Polygon(ring).representative_point()
    return Cut(
        number=number,
        sheet=1,
        kind="pocket",
        name=f"item-{number}#1",
        owners=(),
        from_layer=1,
        to_layer=1,
        blade_mm=10.0,
        from_ledge_mm=10.0,
        length_mm=Polygon(ring).exterior.length,
        through=False,
        slit=False,
        label_mm=(middle.x, middle.y),
        line=ring,
    )


def lettered(
    rings: list[tuple[Point, ...]], text: str, *, size_mm: Point = (200.0, 150.0), joints: tuple[LineString, ...] = ()
) -> tuple[Written, ...]:
    """Write the same words for rings on a sheet."""
    cuts = [cut_of(number, ring) for number, ring in enumerate(rings, 1)]
    return written(
        cuts,
        {cut.number: f"{cut.number} {text}" for cut in cuts},
        size_mm=size_mm,
        blank=box(0, 0, *size_mm),
        lines=[LineString((*cut.line, cut.line[0])) for cut in cuts],
        joints=joints,
    )


def square(x: float, y: float, side: float, high: float | None = None) -> tuple[Point, ...]:
    """A box by its front left corner."""
    high = side if high is None else high
    return ((x, y), (x + side, y), (x + side, y + high), (x, y + high))


class OnAWholeSheet(unittest.TestCase):
    sheets: list[SheetTemplate]
    words: list[tuple[Written, ...]]

    @classmethod
    def setUpClass(cls) -> None:
        cls.sheets = sheets_of(demo_project())
        cls.words = [words_of(sheet, spread_of(sheet, template_papers()["a4"])) for sheet in cls.sheets]

    def test_no_words_stand_over_others_or_over_a_line(self) -> None:
        for sheet, words in zip(self.sheets, self.words, strict=True):
            for one, other in combinations(words, 2):
                with self.subTest(sheet=sheet.title, words=(one.number, other.number)):
                    self.assertFalse(one.box.intersects(other.box))
            tree = shapely.STRtree(drawn_lines(sheet))
            for one in words:
                with self.subTest(sheet=sheet.title, words=one.number):
                    self.assertEqual(len(tree.query(one.box.buffer(-_LETTERS_MM), predicate="intersects")), 0)

    def test_every_cut_is_told_where_it_lies_or_by_a_line_into_it(self) -> None:
        for sheet, told in zip(self.sheets, self.words, strict=True):
            words = {one.number: one for one in told}
            self.assertEqual(sorted(words), sorted(cut.number for cut in sheet.plan.cuts))
            for cut in sheet.plan.cuts:
                one, area = words[cut.number], Polygon(cut.line).buffer(0.01)
                with self.subTest(sheet=sheet.title, cut=cut.number):
                    if one.to is None:
                        self.assertTrue(area.contains(one.box))
                    else:
                        self.assertTrue(area.contains(shapely.Point(one.to[1])))
                        self.assertLess(one.box.distance(shapely.Point(one.to[0])), 1e-6)
            whole = sum(len(one.form.lines) > 1 for one in words.values())
            self.assertGreater(whole / len(words), 0.85)

    def test_no_words_are_parted_by_the_edge_of_a_page(self) -> None:
        spread = spread_of(self.sheets[0], template_papers()["a4"])
        self.assertGreater(spread.columns, 1)
        for one in self.words[0]:
            left, _, right, _ = one.box.bounds
            with self.subTest(words=one.number):
                self.assertEqual(int(left // spread.tile_width_mm), int(right // spread.tile_width_mm))

    def test_letters_come_out_of_the_printer_where_they_were_put(self) -> None:
        sheet = self.sheets[0]
        paper = template_papers()["roll-610"]
        spread = spread_of(sheet, paper)
        self.assertEqual(len(spread.pages), 1)
        page = pypdfium2.PdfDocument(templates_pdf([sheet], paper=paper, units="mm"))[0]
        text = page.get_textpage()
        foot = 11.0, 11.0 + 17.0  # margin, and margin with the foot
        shift_y = foot[1] - (sheet.drawing.height_mm - spread.tile_height_mm)
        seen = 0
        for one in words_of(sheet, spread):
            x1, y1, x2, y2 = one.box.bounds
            here = [(x1 + foot[0]) * _PT, (y1 + shift_y) * _PT, (x2 + foot[0]) * _PT, (y2 + shift_y) * _PT]
            found = text.get_text_bounded(here[0] - 2, here[1] - 2, here[2] + 2, here[3] + 2)
            with self.subTest(words=one.number):
                self.assertIn(one.form.lines[0][0].split()[0], found.split())
                seen += 1
        self.assertEqual(seen, len(sheet.plan.cuts))


class OnASmallPicture(unittest.TestCase):
    def test_numbers_of_the_bench_plan_stand_apart_and_lead_to_what_they_name(self) -> None:
        for sheet in sheets_of(demo_project()):
            scale = 480.0 / sheet.drawing.width_mm  # points to a millimetre, as on a page of A4
            shrunk = scale / _PT
            words = {one.number: one for one in numbers_on(sheet, scale)}
            self.assertEqual(sorted(words), sorted(cut.number for cut in sheet.plan.cuts))
            for one, other in combinations(words.values(), 2):
                with self.subTest(sheet=sheet.title, words=(one.number, other.number)):
                    self.assertFalse(one.box.intersects(other.box))
            for cut in sheet.plan.cuts:
                one, area = words[cut.number], affinity.scale(Polygon(cut.line), shrunk, shrunk, origin=(0, 0))
                with self.subTest(sheet=sheet.title, cut=cut.number):
                    told = one.box.centroid if one.to is None else shapely.Point(one.to[1])
                    self.assertLess(area.distance(told), 0.1)
                    self.assertEqual(one.form.lines[0][0], str(cut.number))


class WhereThereIsLittleRoom(unittest.TestCase):
    def test_where_there_is_room_words_stand_in_the_middle_of_what_they_name(self) -> None:
        (one,) = lettered([square(40, 40, 60)], "pliers\n2 layers · blade 20 mm")
        self.assertIsNone(one.to)
        self.assertEqual([text for text, _, _ in one.form.lines], ["1 pliers", "2 layers · blade 20 mm"])
        self.assertAlmostEqual(one.at_mm[0], 70.0, delta=0.6)
        self.assertAlmostEqual(one.at_mm[1], 70.0, delta=0.6)

    def test_in_a_narrow_upright_place_they_break_or_stand_upright(self) -> None:
        (broken,) = lettered([square(40, 40, 22, 60)], "pliers\n2 layers · blade 20 mm")
        self.assertEqual([text for text, _, _ in broken.form.lines][1:], ["2 layers", "blade 20 mm"])
        (upright,) = lettered([square(40, 40, 9, 80)], "pliers\n2 layers · blade 20 mm")
        self.assertTrue(upright.form.upright)
        self.assertIsNone(upright.to)

    def test_where_there_is_no_room_they_stand_beside_it_with_a_line(self) -> None:
        (one,) = lettered([square(40, 40, 4)], "pliers\n2 layers · blade 20 mm")
        assert one.to is not None
        self.assertGreater(len(one.form.lines), 1)
        self.assertLess(one.box.distance(box(40, 40, 44, 44)), 3.0)
        self.assertTrue(box(40, 40, 44, 44).contains(shapely.Point(one.to[1])))

    def test_between_many_openings_only_the_number_is_left(self) -> None:
        rings = [square(x, y, 5) for x in range(10, 80, 8) for y in range(10, 80, 8)]
        words = lettered(rings, "pliers with a long name\n2 layers · blade 20 mm", size_mm=(90.0, 90.0))
        self.assertEqual(len(words), len(rings))
        inner = [one for one in words if one.to is None]
        self.assertTrue(all(len(one.form.lines) == 1 for one in inner))
        self.assertGreater(len(inner), len(rings) / 2)

    def test_a_line_beside_crosses_no_other_opening(self) -> None:
        rings = [square(80, 70, 4), square(70, 60, 8, 30), square(86, 60, 8, 30)]
        one = lettered(rings, "pin\n1 layer · blade 10 mm")[0]
        assert one.to is not None
        lead = LineString(one.to)
        self.assertFalse(any(lead.crosses(Polygon(ring)) for ring in rings[1:]))

    def test_a_cut_without_width_is_told_beside_it(self) -> None:
        (one,) = lettered([((40.0, 40.0), (90.0, 40.0), (60.0, 40.0))], "card\n1 layer · blade 10 mm")
        assert one.to is not None
        self.assertAlmostEqual(one.to[1][1], 40.0, delta=1.0)

    def test_the_edge_of_a_page_is_kept_clear(self) -> None:
        seam = LineString([(70, 0), (70, 150)])
        (one,) = lettered([square(40, 40, 60)], "pliers\n2 layers · blade 20 mm", joints=(seam,))
        self.assertFalse(one.box.intersects(seam))

    def test_a_name_of_a_thousand_letters_leaves_the_number(self) -> None:
        (one,) = lettered([square(40, 40, 60)], "W" * 1000 + "\n2 layers")
        self.assertEqual([text for text, _, _ in one.form.lines], ["1"])

    @settings(max_examples=60, deadline=None)
    @given(
        st.lists(
            st.tuples(st.integers(0, 4), st.integers(0, 3), st.integers(3, 34), st.integers(3, 34)),
            min_size=1,
            max_size=12,
            unique_by=lambda one: one[:2],
        )
    )
    def test_whatever_is_cut_words_are_apart_from_each_other_and_from_lines(
        self, drawn: list[tuple[int, int, int, int]]
    ) -> None:
        rings = [square(4 + 38 * column, 4 + 36 * row, wide, high) for column, row, wide, high in drawn]
        words = lettered(rings, "pin box\n1 layer · blade 10 mm")
        self.assertEqual(len(words), len(rings))
        for one, other in combinations(words, 2):
            self.assertFalse(one.box.intersects(other.box))
        for one in words:
            for ring in rings:
                self.assertFalse(one.box.buffer(-_LETTERS_MM).intersects(LineString((*ring, ring[0]))))


class Squares(unittest.TestCase):
    def test_a_box_finds_the_nearest_room_in_an_area(self) -> None:
        room = Room(100, 60)
        room.take_box((40, 20), (60, 40))
        part = room.part(room.inside(box(10, 10, 90, 50)))
        self.assertEqual(part.within((20, 10), (20.0, 30.0)), (20.0, 30.0))
        beside = part.within((20, 10), (50.0, 30.0))
        assert beside is not None
        found = box(beside[0] - 10, beside[1] - 5, beside[0] + 10, beside[1] + 5)
        self.assertFalse(box(40, 20, 60, 40).intersects(found))
        self.assertIsNone(part.within((90, 10), (50.0, 30.0)))

    def test_an_area_without_squares_has_no_room(self) -> None:
        room = Room(100, 60)
        part = room.part(room.inside(Polygon()))
        self.assertIsNone(part.within((1, 1), (0.0, 0.0)))
        self.assertEqual(len(part.beside((1, 1), room.inside(Polygon()), (0.0, 0.0), 10.0)), 0)
