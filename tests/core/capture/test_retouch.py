"""Outlines mended by hand: against closed forms, and one step that does not spoil another."""

from __future__ import annotations

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Point, Polygon, box

from cozy_burrow.core.capture.retouch import shaping
from cozy_burrow.core.capture.retouch.draft import (
    Table,
    kit_item,
    measured,
    parted,
    plain_draft,
    reshaped,
    with_knob,
    with_thickness,
    with_zone_thickness,
    with_zones,
    without,
)
from cozy_burrow.core.capture.retouch.side import side_reaches, zones_from_side
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import outline_of, polygon_of
from cozy_burrow.core.kit.stations import parse_stations, station_item
from cozy_burrow.core.kit.zones import covers_outline
from cozy_burrow.core.model.records import Outline


def wavy_box() -> Outline:
    """A box of 80 x 20 whose upper side waves by 0.6 mm, as a shaky trace would."""
    top = [(x, 0.6 * math.sin(x)) for x in np.linspace(0, 80, 200)]
    return outline_of(Polygon([*top, (80, 20), (0, 20)]))


def area(outline: Outline) -> float:
    return float(polygon_of(outline).area)


class Shaping(unittest.TestCase):
    def test_a_straightened_stretch_is_straight_and_the_rest_stays(self) -> None:
        straight = shaping.straightened(wavy_box(), (0, 0), (80, 0))
        self.assertLess(polygon_of(straight).symmetric_difference(box(0, 0, 80, 20)).area, 80 * 0.1)
        self.assertIn((80.0, 20.0), straight.outer)

    def test_the_shorter_way_is_taken_also_over_the_first_point(self) -> None:
        outline = wavy_box()
        turned = Outline(outer=(*outline.outer[100:], *outline.outer[:100]))
        self.assertAlmostEqual(
            area(shaping.straightened(turned, (0, 0), (80, 0))), area(shaping.straightened(outline, (0, 0), (80, 0)))
        )

    def test_a_rounded_stretch_finds_the_radius_back(self) -> None:
        rough = np.random.default_rng(3)
        angles = np.linspace(math.pi, 0, 60)
        arc = [(30 * math.cos(a) + rough.normal(0, 0.08), -30 * math.sin(a) + rough.normal(0, 0.08)) for a in angles]
        arc[0], arc[-1] = (-30.0, 0.0), (30.0, 0.0)
        outline = outline_of(Polygon([*arc, (30, 40), (-30, 40)]))
        round_again = shaping.rounded(outline, (-30, 0), (30, 0))
        rim = np.array([point for point in round_again.outer if point[1] < -1e-6])
        self.assertLess(np.abs(np.hypot(*rim.T) - 30).max(), 0.15)

    def test_smoothing_takes_the_wave_out_and_keeps_the_ends(self) -> None:
        smooth = shaping.smoothed(wavy_box(), (0, 0), (80, 0))
        rim = np.array([point for point in smooth.outer if point[1] < 10])
        self.assertLess(np.abs(rim[(rim[:, 0] > 8) & (rim[:, 0] < 72)][:, 1]).max(), 0.15)
        for mark in ((0.0, 0.0), (80.0, 0.0)):
            end = shaping.on_outline(wavy_box(), mark, within_mm=2.0)
            self.assertLess(polygon_of(smooth).boundary.distance(Point(end)), 0.01)

    @given(by=st.floats(-4, 6))
    @settings(max_examples=40, deadline=None, derandomize=True)
    def test_widening_a_box_adds_to_its_sides(self, by: float) -> None:
        wide = shaping.widened(outline_of(box(0, 0, 60, 20)), by)
        self.assertAlmostEqual(area(wide), (60 + 2 * by) * (20 + 2 * by), delta=0.02)

    def test_mirroring_makes_both_halves_alike(self) -> None:
        lopsided = outline_of(Polygon([(0, 0), (40, 0), (45, 20), (0, 20)]))
        both = polygon_of(shaping.mirrored_half(lopsided, (0, 10), (50, 10)))
        flipped = Polygon([(x, 20 - y) for x, y in both.exterior.coords])
        self.assertLess(both.symmetric_difference(flipped).area, 0.01)

    def test_a_knob_of_two_marks_is_a_rounded_bar(self) -> None:
        outline, piece = shaping.with_knob(outline_of(box(0, 0, 60, 20)), (30, 10), (30, 40), width_mm=10)
        self.assertAlmostEqual(area(piece), 30 * 10 + math.pi * 25, delta=0.3)
        self.assertAlmostEqual(area(outline), 1200 + 20 * 10 + math.pi * 25 / 2, delta=0.3)

    def test_a_hole_between_two_marks_is_a_rounded_slot(self) -> None:
        plate = shaping.with_hole(outline_of(box(0, 0, 60, 20)), (20, 10), (40, 10), width_mm=6)
        self.assertAlmostEqual(area(plate), 1200 - 20 * 6 - math.pi * 9, delta=0.2)
        with self.assertRaisesRegex(UnusableInput, "apart"):
            shaping.with_hole(outline_of(box(0, 0, 60, 20)), (30, -5), (30, 25), width_mm=6)

    def test_things_that_touch_are_parted_where_they_touch_only(self) -> None:
        together = box(0, 0, 40, 10).union(box(40, 0, 80, 10)).union(box(0, 30, 80, 40)).union(box(0, 10, 3, 30))
        parts = shaping.parted(outline_of(together), (40, -2), (40, 12))
        self.assertEqual(len(parts), 2)
        self.assertAlmostEqual(sum(area(part) for part in parts), together.area, delta=0.01)
        self.assertAlmostEqual(min(area(part) for part in parts), 400, delta=0.01)

    def test_what_cannot_be_done_is_said(self) -> None:
        outline = outline_of(box(0, 0, 60, 20))
        for change in (
            lambda: shaping.with_knob(outline, (100, 100), (120, 100), width_mm=5),
            lambda: shaping.parted(outline, (70, 0), (70, 20)),
            lambda: shaping.widened(outline, -11),
            lambda: shaping.without_hole(outline, (5, 5)),
            lambda: shaping.scaled(outline, 3.0),
            lambda: shaping.straightened(outline, (10, 0), (10, 0)),
            lambda: shaping.mirrored_half(outline, (0, 50), (60, 50)),
        ):
            with self.subTest(), self.assertRaises(UnusableInput):
                change()

    def test_a_hole_is_filled(self) -> None:
        ring = outline_of(Point(0, 0).buffer(20).difference(Point(0, 0).buffer(8)))
        self.assertEqual(shaping.without_hole(ring, (1, 1)).holes, ())


class Drafts(unittest.TestCase):
    def setUp(self) -> None:
        self.draft = plain_draft(outline_of(box(0, 0, 100, 20)), name="square", way="scan", source="a", sure_mm=0.1)

    def test_zones_follow_a_new_outline_and_cover_it(self) -> None:
        split = with_zones(self.draft, (50, -5), (50, 25))
        thick = with_zone_thickness(split, 1, 4.0)
        changed = reshaped(thick, outline_of(box(0, -3, 110, 20)))
        self.assertTrue(covers_outline(changed.item, share=0.999))
        self.assertEqual(len(changed.item.zones), 2)
        self.assertEqual(changed.item.zones[1].top_mm, 4.0)

    def test_a_knob_is_a_zone_with_its_own_thickness(self) -> None:
        made = with_knob(self.draft, (50, 18), (50, 30), width_mm=8, thickness_mm=25)
        self.assertEqual([zone.name for zone in made.item.zones], ["body", "knob"])
        self.assertEqual(made.item.thickness_mm, 25)
        self.assertTrue(covers_outline(made.item, share=0.999))

    def test_parting_makes_two_drafts_and_leaves_the_others(self) -> None:
        table = parted(Table(drafts=(self.draft, self.draft)), (50, -5), (50, 25))
        self.assertEqual(len(table.drafts), 3)
        self.assertAlmostEqual(area(table.drafts[0].item.outline), 1000, delta=0.01)
        self.assertEqual(table.drafts[2], self.draft)
        self.assertEqual(len(without(table, 0).drafts), 2)

    def test_the_kit_gets_it_centred_with_its_zones(self) -> None:
        item = kit_item(with_zones(self.draft, (25, -5), (25, 25)))
        self.assertEqual(polygon_of(item.outline).bounds, (-50, -10, 50, 10))
        self.assertTrue(covers_outline(item, share=0.999))

    def test_a_thickness_without_a_photo_changes_the_zone_only(self) -> None:
        changed = with_thickness(self.draft, None, thickness_mm=18, section="round")
        self.assertEqual((changed.item.zones[0].under_mm, changed.item.zones[0].top_mm), (-9, 9))
        self.assertEqual(changed.item.outline, self.draft.item.outline)

    def test_a_calliper_says_by_how_much_it_is_wrong(self) -> None:
        length, factor = measured((0, 0), (100, 0), calliper_mm=101)
        self.assertEqual((length, factor), (100, 1.01))


class FromTheSide(unittest.TestCase):
    def test_the_zones_of_a_screwdriver_get_their_thickness(self) -> None:
        item = station_item("item-1", "driver", parse_stations("0:30x30 90:30x30 90:6x6 200:6x6"))
        side = Polygon([(0, 0), (90, 0), (90, 12), (200, 12), (200, 18), (90, 18), (90, 30), (0, 30)])
        flat = zones_from_side(item, side)
        heights = sorted((zone.under_mm, zone.top_mm) for zone in flat.zones)
        self.assertEqual([tuple(round(one, 1) for one in pair) for pair in heights], [(0.0, 30.0), (12.0, 18.0)])

    def test_turned_and_upside_down_are_told(self) -> None:
        item = station_item("item-1", "wedge", parse_stations("0:20x10 40:20x10 40:20x30 100:20x30"))
        side = Polygon([(0, 20), (60, 20), (60, 40), (100, 40), (100, 50), (0, 50)])
        reaches = side_reaches(item, side, turned=True, upside_down=False)
        self.assertEqual([round(one.top_mm) for one in reaches], [10, 30])
        low = side_reaches(item, side, turned=True, upside_down=True)
        self.assertEqual([round(one.under_mm) for one in low], [20, 0])

    def test_another_thing_is_refused(self) -> None:
        item = station_item("item-1", "driver", parse_stations("0:30 90:30"))
        with self.assertRaisesRegex(UnusableInput, "from its side"):
            zones_from_side(item, Polygon([(0, 0), (60, 0), (60, 10), (0, 10)]))
