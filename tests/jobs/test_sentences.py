"""Sentences by their figures: what a fitter reads is what a ruler would show, in millimetres and in inches."""

from __future__ import annotations

import re
import unittest

from msgspec.structs import fields, replace

from cozy_burrow.core.bench.cuts import cutting_plan
from cozy_burrow.core.depth.seat import floor_left_mm
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.findings.telling import finding_text
from cozy_burrow.core.foam.boards import shipped_stores
from cozy_burrow.core.ground.grips import grip_of
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.ground.holding import holding_of
from cozy_burrow.core.ground.sits import sitting_in
from cozy_burrow.core.model.edits import add_pulls
from cozy_burrow.core.model.records import FingerPull, Project, Rules
from cozy_burrow.core.model.vessels import Board
from cozy_burrow.core.units import format_length
from cozy_burrow.jobs.board_words import SHIPPED, board_text
from cozy_burrow.jobs.cut_words import BEFORE_PEELING, blade_text, cutting_text, marking_text
from cozy_burrow.jobs.export import export_files
from cozy_burrow.jobs.grip_words import grip_text, hold_text
from cozy_burrow.jobs.note_words import note_cautions, noted
from cozy_burrow.jobs.sink_words import sits_text
from cozy_burrow.jobs.templates import cutting_words
from tests.makers import DRIVER, box, laid, project, rod, stations, van_drawer
from tests.real_window.sink import mallet_case

LINE = Rules(allowance_mm=0.0)


def said(plan: Project, code: str) -> list[str]:
    return [finding_text(plan, one) for one in findings_of(plan) if one.code == code]


def here(plan: Project) -> Ground:
    return ground_of(plan, plan.inserts[0])


class Findings(unittest.TestCase):
    def test_walls_and_edges_are_the_distances_that_were_laid_out(self) -> None:
        for gap in (3.5, 7.0, 11.0):
            rules = replace(LINE, wall_mm=12.0)
            plan = laid(
                project(box(60, 30, 12, "one"), box(60, 30, 12, "two"), rules=rules), (100, 80), (100, 110 + gap)
            )
            (text,) = said(plan, "THIN_WALL")
            self.assertIn(f"{gap:g} mm of foam between ‘one’ and ‘two’", text)
            self.assertIn("12 mm needed", text)
        (text,) = said(laid(project(box(60, 30, 12, "one"), rules=LINE), (35, 80)), "THIN_EDGE")
        self.assertIn("5 mm of foam from ‘one’ to the edge, 15 mm needed", text)

    def test_what_stands_out_and_what_room_there_is(self) -> None:
        for thickness in (60, 75, 90):
            plan = laid(project(box(60, 30, thickness, "tall"), rules=replace(LINE, seat="half")), (150, 100))
            out = thickness - 10 * min(4, round(thickness / 2 / 10 - 1e-9))
            (text,) = said(plan, "TOO_HIGH")
            self.assertIn(f"sticks up {out:g} mm, 25 mm of room", text)
            self.assertIn("Sink it deeper" if thickness <= 66 else "Even on the floor", text)

    def test_a_thing_below_the_surface_is_not_said_to_stand_out(self) -> None:
        for thickness, words in ((8, "lies 2 mm below the surface"), (12, "sticks up 2 mm")):
            plan = laid(project(box(60, 30, thickness, "flat"), rules=replace(LINE, seat="flush")), (150, 100))
            (text,) = said(plan, "NO_GRIP")
            self.assertIn(words, text)
            self.assertIn("8 mm", text)

    def test_every_finding_says_its_figure_and_its_limit_in_the_units_of_the_project(self) -> None:
        plans = [
            van_drawer(),
            mallet_case(),
            laid(project(stations(DRIVER), rod(80, 40), box(90, 40, 70), rules=LINE), (90, 40), (100, 70), (100, 90)),
        ]
        seen: set[str] = set()
        for plan in plans:
            for unit in ("mm", "inch"):
                shown = replace(plan, units=unit)
                for one in findings_of(shown):
                    if one.unit != "mm" or one.code in {"POCKETS_MEET", "PULL_ASTRAY", "GRIP_POOR", "SLIVER"}:
                        continue
                    text = finding_text(shown, one)
                    seen.add(one.code)
                    self.assertIn(format_length(abs(one.value), unit), text)  # type: ignore[arg-type]
                    self.assertEqual(bool(re.search(r"\bmm\b", text)), unit == "mm", text)
        self.assertGreaterEqual(len(seen), 3, seen)

    def test_nothing_holds_what_the_foam_does_not_touch(self) -> None:

        loose = Finding(
            severity="care", code="LOOSE", placements=("item-1#1",), value=0.0, limit=9.2, unit="N", extra="jolt"
        )
        plan = laid(project(box(60, 30, 12, "tin"), rules=LINE), (150, 100))
        text = finding_text(plan, loose)
        self.assertIn("Nothing holds ‘tin’", text)
        self.assertIn("jolt pulls with 9.2 N", text)
        self.assertNotIn("0 N", text)
        self.assertIn("with at most 3.2 N", finding_text(plan, replace(loose, value=3.2, subject="depth")))
        self.assertIn("with nothing to 3.2 N", finding_text(plan, replace(loose, value=3.2, subject="fit")))
        self.assertIn("pulls with 0.3 N", finding_text(plan, replace(loose, value=0.2, limit=0.3)))


class Sinking(unittest.TestCase):
    def test_the_verdict_counts_layers_proud_and_floor_as_a_ruler_would(self) -> None:
        for thickness, layers in ((12, 1), (26, 3), (44, 4)):
            plan = laid(project(box(80, 30, thickness), rules=replace(LINE, seat="flush")), (150, 100))
            ground = here(plan)
            pocket = ground.pockets["item-1#1"]
            text = sits_text(pocket.item, pocket.seating, sitting_in(ground, "item-1#1"), ground, "mm")
            proud = thickness - 10 * layers
            stands = f"stands {proud} mm proud" if proud >= 0 else f"lies {-proud} mm below the surface"
            self.assertIn(f"Lies level, {stands}", text)
            self.assertIn(f"Out: {layers} {'layer' if layers == 1 else 'layers'}", text)
            self.assertIn(f"{50 - 10 * layers} mm of foam stay under it", text)
            self.assertEqual(floor_left_mm(pocket.seating, ground.insert.sheets), 50 - 10 * layers)


class Gripping(unittest.TestCase):
    def test_the_grip_says_how_far_from_the_balance_point_it_lies(self) -> None:
        plan = laid(project(box(120, 20, 12), rules=replace(LINE, seat="flush")), (150, 100))
        for off in (0.0, 15.0):
            pull = FingerPull(
                id="", kind="circle_pair", serves=("item-1#1",), points_mm=((off, -10.0), (off, 10.0)), width_mm=40.0
            )
            text = grip_text(grip_of(here(add_pulls(plan, "insert-1", [pull])), "item-1#1"), "mm")
            self.assertIn("at its balance point" if off == 0 else "15 mm from its balance point", text)

    def test_hold_is_nothing_on_the_line_and_a_range_where_it_is_snug(self) -> None:
        on_line = laid(project(replace(box(80, 30, 20), mass_g=200.0), rules=LINE), (150, 100))
        text = hold_text(holding_of(here(on_line), "item-1#1"))
        most = holding_of(here(on_line), "item-1#1").hold.high_n
        self.assertIn(f"grips it with nothing to {most:.0f} N; it weighs 2.0 N.", text)
        snug = replace(on_line, rules=Rules(allowance_mm=-1.0))
        held = holding_of(here(snug), "item-1#1").hold
        text = hold_text(holding_of(here(snug), "item-1#1"))
        self.assertIn(f"about {held.grip_n:.0f} N ({held.low_n:.0f} to {held.high_n:.0f})", text)
        self.assertLess(held.low_n, held.grip_n)


class Cutting(unittest.TestCase):
    def test_the_line_is_half_the_pen_and_the_allowance_inside(self) -> None:
        for tip, allowance, kerf, words in (
            (0.8, 0.0, 0.0, "Cut 0.4 mm inside the middle of the marker line."),
            (2.0, -1.0, 0.0, "Cut 2 mm inside the middle of the marker line."),
            (0.8, 0.4, 0.0, "Cut on the middle of the marker line."),
            (0.8, 1.0, 0.0, "Cut 0.6 mm outside the middle of the marker line."),
            (0.8, 0.0, 1.2, "Cut 1 mm inside the middle of the marker line."),
        ):
            rules = Rules(marking="marker", tip_mm=tip, kerf_mm=kerf)
            self.assertEqual(marking_text(rules, "mm", allowance_mm=allowance), words)

    def test_blades_are_told_from_the_top_and_from_the_ledge_and_neither_goes_below_the_sheet(self) -> None:
        plan = laid(project(stations(DRIVER), rod(80, 40), rules=replace(LINE, seat="flush")), (150, 60), (100, 130))
        deeper = 0
        for sheet in cutting_plan(here(plan)):
            for cut in sheet.cuts:
                self.assertAlmostEqual(cut.blade_mm, 10.0 * cut.to_layer)
                self.assertAlmostEqual(cut.from_ledge_mm, 10.0 * (cut.to_layer - cut.from_layer + 1))
                # Peeled down to where it begins, and set as told from there, the tip ends where it should.
                self.assertAlmostEqual(10.0 * (cut.from_layer - 1) + cut.from_ledge_mm, cut.blade_mm)
                text = blade_text(cut, "mm")
                self.assertEqual("ledge" in text, cut.from_layer > 1)
                self.assertTrue(text.startswith(f"{cut.blade_mm:g} mm"))
                deeper += cut.from_layer > 1
        self.assertGreater(deeper, 0)
        table = dict(export_files(plan, kinds=("csv",)))["cuts.csv"].decode().splitlines()
        self.assertTrue(table[0].endswith("through,blade_from_ledge_mm,straight_mm,method,passes_mm,why"))
        self.assertIn(BEFORE_PEELING, cutting_words(plan))

    def test_a_leaning_knife_takes_depth_times_tangent_off_each_side(self) -> None:
        plan = laid(project(box(80, 25, 20), rules=replace(LINE, lean_deg=10.0, seat="flush")), (150, 100))
        text = cutting_text(here(plan), "item-1#1", "mm")
        self.assertIn("leans in by 10° takes 3.5 mm off each side", text)  # 20 mm times tan 10°
        self.assertIn("76% of its line runs straight", text)  # both long sides: 160 of 210 mm

    def test_a_round_pocket_names_its_saw(self) -> None:
        tin = stations("0:40x30 40:40x30", "square tin")
        self.assertNotIn("hole saw", cutting_text(here(laid(project(tin, rules=LINE), (150, 100))), "item-1#1", "mm"))


class Notes(unittest.TestCase):
    def test_each_note_brings_the_caution_that_belongs_to_it(self) -> None:
        for notes, words in (
            ("goes away hot", "cold"),
            ("sharp edge", "edge"),
            ("Spring!", "Strap"),
            ("cable 2 m", "Coil"),
            ("li-ion battery", "carrier"),
            ("red handle", ""),
        ):
            found = " ".join(note_cautions(notes))
            self.assertTrue(words in found if words else not found, (notes, found))
        thing = replace(box(60, 30, 8), notes="goes away hot")
        self.assertEqual(noted(thing), "goes away hot. Put it away cold: foam melts and burns.")
        self.assertEqual(noted(box(60, 30, 8)), "")


class Boards(unittest.TestCase):
    def test_every_shipped_word_of_a_board_is_known_to_the_catalogues_and_the_others_are_the_fitters(self) -> None:
        boards = shipped_stores().boards
        words = {word for one in boards for word in (one.colours, one.knife)}
        self.assertEqual({*words, next(one.default for one in fields(Board) if one.name == "knife")}, SHIPPED.keys())
        own = replace(boards[0], colours="a rest, green", knife="my grandfather's")
        self.assertIn("a rest, green; ", board_text(own))
        self.assertTrue(board_text(own).endswith("knife: my grandfather's."))


if __name__ == "__main__":
    unittest.main()
