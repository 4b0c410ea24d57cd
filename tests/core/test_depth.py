"""Seats in whole layers, and pockets layer by layer, against closed forms."""

from __future__ import annotations

import itertools
import math
import unittest

import shapely
import shapely.affinity
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from cozy_burrow.core.container.bay import bay_of
from cozy_burrow.core.depth.peel import layers_to, set_seat, set_zone_layers
from cozy_burrow.core.depth.pocket import Pocket, grown
from cozy_burrow.core.depth.seat import floor_left_mm
from cozy_burrow.core.depth.seated import local_pocket, seating_of
from cozy_burrow.core.depth.sections import heights_at, reach_below
from cozy_burrow.core.depth.side_view import side_view
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.foam.layers import checked_sheet, floor_layers, layers_of
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.records import Item, Placement, Rules, Seat, Sheet, Zone
from cozy_burrow.core.tolerances import SIT_SLACK_MM
from tests.makers import DRIVER, L_STOP, box, drawer, laid, project, rod, stations

SNUGLESS = Rules(allowance_mm=0.0, least_foam_mm=0.0)


def pocket(item: Item, seat: Seat = "half", rules: Rules = SNUGLESS, sheets: tuple[Sheet, ...] | None = None) -> Pocket:
    return local_pocket(item, None, drawer(sheets=sheets), replace(rules, seat=seat))


class Layers(unittest.TestCase):
    def test_layers_are_counted_through_sheets_of_different_pitch(self) -> None:
        layers = layers_of((Sheet(thickness_mm=20.0, pitch_mm=10.0), Sheet(thickness_mm=9.6, pitch_mm=3.2)))
        self.assertEqual([(one.sheet, one.in_sheet) for one in layers], [(1, 1), (1, 2), (2, 1), (2, 2), (2, 3)])
        for layer, bottom in zip(layers, (10, 20, 23.2, 26.4, 29.6)):
            self.assertAlmostEqual(layer.bottom_mm, bottom)

    def test_what_the_pitch_leaves_over_belongs_to_the_lowest_layer(self) -> None:
        layers = layers_of((Sheet(thickness_mm=20.0, pitch_mm=3.2),))
        self.assertEqual(len(layers), 6)
        self.assertEqual(layers[-1].bottom_mm, 20.0)
        self.assertAlmostEqual(layers[-1].top_mm, 16.0)

    def test_the_floor_is_one_thick_layer_or_three_thin_ones(self) -> None:
        self.assertEqual(floor_layers((Sheet(thickness_mm=50.0, pitch_mm=10.0),), None), 1)
        self.assertEqual(floor_layers((Sheet(thickness_mm=32.0, pitch_mm=3.2),), None), 3)
        self.assertEqual(floor_layers((Sheet(),), 2), 2)

    def test_a_sheet_that_no_dealer_sells_is_refused(self) -> None:
        for thickness, pitch in ((0, 10), (50, 0), (50, 60), (math.nan, 10), (2000, 10), (500, 1)):
            with self.subTest((thickness, pitch)), self.assertRaises(UnusableInput):
                checked_sheet(Sheet(thickness_mm=thickness, pitch_mm=pitch), where="sheet")


class Seats(unittest.TestCase):
    def seating(self, item: Item, seat: Seat, **container: float) -> tuple[tuple[int, ...], float]:
        found = seating_of(item, None, drawer(**container), replace(SNUGLESS, seat=seat))
        return found.zone_layers, found.proud_mm

    def test_half_is_the_number_nearest_to_half_the_thickness(self) -> None:
        for thickness, wanted in ((3, 1), (12, 1), (29, 1), (31, 2), (49, 2), (51, 3), (200, 4)):
            with self.subTest(thickness):
                self.assertEqual(self.seating(box(60, 20, thickness), "half")[0], (wanted,))

    def test_flush_is_the_number_nearest_to_the_thickness(self) -> None:
        for thickness, wanted in ((3, 1), (14, 1), (16, 2), (26, 3), (34, 3), (90, 4)):
            with self.subTest(thickness):
                self.assertEqual(self.seating(box(60, 20, thickness), "flush")[0], (wanted,))

    def test_deep_leaves_the_floor_and_no_more(self) -> None:
        self.assertEqual(self.seating(box(60, 20, 5), "deep")[0], (4,))

    def test_lid_goes_no_deeper_than_it_must(self) -> None:
        self.assertEqual(self.seating(box(60, 20, 40), "lid"), ((2,), 20.0))
        self.assertEqual(self.seating(box(60, 20, 40), "lid", height=60)[0], (3,))

    def test_proud_leaves_enough_to_hold(self) -> None:
        layers, proud = self.seating(box(60, 20, 30), "proud")
        self.assertEqual(layers, (2,))
        self.assertGreaterEqual(proud, 8.0)

    def test_a_driver_lies_level_with_its_handle_half_sunk(self) -> None:
        found = seating_of(stations(DRIVER), None, drawer(), SNUGLESS)
        self.assertEqual(found.zone_layers, (2, 1))
        self.assertAlmostEqual(found.datum_mm, 4.0)
        self.assertAlmostEqual(found.proud_mm, 12.0)
        self.assertAlmostEqual(floor_left_mm(found, drawer().sheets), 30.0)

    def test_a_zone_below_the_thickest_never_goes_into_the_floor(self) -> None:
        item = stations("0:40x20@0 60:40x20@0 60:10x4@-30 90:10x4@-30")
        found = seating_of(item, None, drawer(), replace(SNUGLESS, seat="flush"))
        self.assertTrue(found.held_up)
        self.assertLessEqual(max(found.zone_layers), 4)
        self.assertLessEqual(found.bottom_mm, 40.0 + 1e-6)

    def test_layers_by_hand_decide_how_high_it_rests(self) -> None:
        plan = laid(project(stations(DRIVER)), (150, 100))
        deeper = set_zone_layers(plan, "insert-1", "item-1#1", 0, 3)
        one = deeper.inserts[0].placements[0]
        self.assertEqual(one.zone_layers, (3, 1))
        found = seating_of(plan.items[0], one, bay_of(plan, plan.inserts[0]), plan.rules)
        # The shaft now rests on its own floor, so the handle hangs: its axis is 10 - 3 below the surface.
        self.assertAlmostEqual(found.datum_mm, 7.0)
        self.assertIs(set_zone_layers(deeper, "insert-1", "item-1#1", 0, 3), deeper)
        self.assertIsNone(set_seat(deeper, "insert-1", ("item-1#1",), "flush").inserts[0].placements[0].zone_layers)
        self.assertEqual(layers_to(plan, "insert-1", 23.0), 2)

    @settings(derandomize=True, deadline=None, max_examples=150)
    @given(
        st.sampled_from(("half", "flush", "proud", "lid", "deep")),
        st.lists(st.tuples(st.floats(5, 50), st.floats(0.5, 60)), min_size=1, max_size=4),
        st.sampled_from(((50.0, 10.0), (30.0, 3.2), (20.0, 10.0))),
    )
    def test_no_zone_is_lifted_by_its_floor_and_the_floor_stays(
        self, seat: Seat, parts: list[tuple[float, float]], sheet: tuple[float, float]
    ) -> None:
        words = [f"{n * 30}:{w:.1f}x{t:.1f} {n * 30 + 30}:{w:.1f}x{t:.1f}" for n, (w, t) in enumerate(parts)]
        item = stations(" ".join(words))
        insert = drawer(sheets=(Sheet(thickness_mm=sheet[0], pitch_mm=sheet[1]),))
        found = seating_of(item, None, insert, replace(SNUGLESS, seat=seat))
        layers = layers_of(insert.sheets)
        most = len(layers) - floor_layers(insert.sheets, None)
        for zone, count in zip(item.zones, found.zone_layers):
            self.assertTrue(1 <= count <= most)
            self.assertGreaterEqual(layers[count - 1].bottom_mm, found.datum_mm - zone.lowest_mm - 0.11)


class Pockets(unittest.TestCase):
    def test_a_rod_narrows_below_its_middle_by_the_chord(self) -> None:
        cut = pocket(rod(100, 60), "half")
        self.assertEqual(cut.depth_layers, 3)
        middle = cut.seating.datum_mm
        for number, area in enumerate(cut.layers):
            top = number * 10.0
            half = 30.0 if top <= middle else math.sqrt(30**2 - (top - middle) ** 2)
            self.assertAlmostEqual(area.area, 100 * 2 * half, delta=0.5)

    def test_a_rod_deeper_than_its_middle_is_full_width_down_to_it(self) -> None:
        cut = pocket(rod(100, 32), "flush")  # 3 layers: the axis lies 14 below the surface
        widths = [area.bounds[3] - area.bounds[1] for area in cut.layers]
        self.assertAlmostEqual(widths[0], 32.0, places=2)
        self.assertAlmostEqual(widths[1], 32.0, places=2)
        self.assertAlmostEqual(widths[2], 2 * math.sqrt(16**2 - 6**2), places=2)

    def test_a_cone_narrows_along_its_axis_too(self) -> None:
        item = stations("0:40 100:20")
        cut = pocket(item, "flush")
        datum = cut.seating.datum_mm
        for number, area in enumerate(cut.layers):
            rise = number * 10.0 - datum
            for share in (0.05, 0.3, 0.6, 0.9):
                radius = 20 - 10 * share
                half = radius if rise <= 0 else math.sqrt(max(0.0, radius**2 - rise**2))
                line = shapely.LineString([(-50 + 100 * share, -30), (-50 + 100 * share, 30)])
                self.assertAlmostEqual(area.intersection(line).length, 2 * half, delta=0.25)

    def test_a_step_is_deep_under_the_stock_and_shallow_under_the_blade(self) -> None:
        cut = pocket(stations(L_STOP), "flush")
        self.assertEqual(cut.seating.zone_layers, (2, 2))
        thin = pocket(stations("0:60x38 14:60x38 14:24x2 160:24x2"), "half")
        self.assertEqual(thin.seating.zone_layers, (2, 1))
        self.assertAlmostEqual(thin.layers[1].area, 14 * 60, places=3)
        self.assertAlmostEqual(thin.layers[0].area, 14 * 60 + 146 * 24, places=3)

    def test_a_sloping_underside_is_cut_in_stairs(self) -> None:
        cut = pocket(stations("0:20x40 100:20x10"), "flush")
        # Underside from -20 to -5 about the axis, which rests at 20: depth at share t is 40 - 15 t.
        self.assertAlmostEqual(cut.seating.datum_mm, 20.0)
        self.assertAlmostEqual(cut.layers[3].area, 20 * 100 * (10 / 15), delta=0.5)
        self.assertAlmostEqual(cut.layers[2].area, 20 * 100, delta=0.5)

    def test_what_hangs_in_the_air_is_not_cut_for(self) -> None:
        item = stations("0:40 60:40 60:20x2@8 160:20x2@8")
        cut = pocket(item, "half")  # the axis lies at the surface, the blade 8 mm above it
        left, _, right, _ = cut.surface.bounds
        self.assertAlmostEqual(right - left, 60.0)
        between = stations("0:40 60:40 60:20x2@8 160:20x2@8 160:40 200:40")
        self.assertEqual(len(pocket(between, "half").surface.geoms), 1)  # a bridge: one pocket all the same

    def test_the_allowance_is_the_same_all_round(self) -> None:
        cut = pocket(box(60, 20, 10), rules=Rules(allowance_mm=2.0))
        self.assertAlmostEqual(cut.surface.area, 60 * 20 + 2 * 2 * 80 + math.pi * 4, delta=0.5)

    def test_snug_is_smaller_all_round_but_no_thin_part_is_lost(self) -> None:
        cut = pocket(box(60, 20, 10), rules=Rules(allowance_mm=-1.0))
        self.assertAlmostEqual(cut.surface.area, 58 * 18, delta=0.1)
        thin = stations("0:30 60:30 60:1.6x1.6 120:1.6x1.6")
        shape = local_pocket(thin, None, drawer(), Rules()).surface
        self.assertEqual(len(shape.geoms), 1)
        self.assertAlmostEqual(shape.bounds[2], 59.0, delta=0.05)  # on the line along it, snug at its tip

    @settings(derandomize=True, deadline=None, max_examples=40)
    @given(st.floats(0.4, 9.0), st.floats(0.2, 1.5), st.floats(0, 90))
    def test_a_slot_is_as_wide_as_its_part_allows_without_a_step(self, wide: float, snug: float, angle: float) -> None:
        head, shaft = shapely.box(0, -15, 60, 15), shapely.box(60, -wide / 2, 160, wide / 2)
        turned = shapely.affinity.rotate(shapely.union_all([head, shaft]), angle, origin=(0, 0))
        slot = shapely.affinity.rotate(grown(turned, -snug), -angle, origin=(0, 0))
        self.assertEqual(len(shapely.get_parts(slot)), 1)
        self.assertTrue(turned.buffer(1e-3).covers(grown(turned, -snug)))
        for x in (62.0, 110.0, 155.0):
            width = slot.intersection(shapely.LineString([(x, -20), (x, 20)])).length
            self.assertAlmostEqual(width, max(min(wide, 3.0), wide - 2 * snug), delta=0.02)
        across = slot.intersection(shapely.LineString([(30, -20), (30, 20)])).length
        self.assertAlmostEqual(across, 30 - 2 * snug, delta=0.02)

    def test_in_a_bend_of_a_thin_part_the_knife_stays_off_its_inner_corner(self) -> None:
        """By as much as along the sides that meet there."""
        for wide, snug, taken in ((3.4, 0.6, 0.2), (3.8, 0.4, 0.4), (3.8, 0.6, 0.4)):
            for turn_deg in (0, 37, 90, 200):
                corner = shapely.Point(wide, wide)
                bent = shapely.Polygon([(0, 0), (30, 0), (30, wide), (wide, wide), (wide, 30), (0, 30)])
                slot = grown(shapely.affinity.rotate(bent, turn_deg, origin=corner), -snug)
                with self.subTest(wide=wide, snug=snug, turn_deg=turn_deg):
                    self.assertAlmostEqual(slot.distance(corner), taken, delta=0.02)

    def test_a_tapering_blade_gets_no_narrower_slot_where_it_is_thicker(self) -> None:
        blade = grown(shapely.Polygon([(0, -5), (100, -0.5), (100, 0.5), (0, 5)]), -1.0)
        widths = [blade.intersection(shapely.LineString([(x, -9), (x, 9)])).length for x in range(98, 2, -4)]
        self.assertEqual(len(shapely.get_parts(blade)), 1)
        for thin, thick in itertools.pairwise(widths):
            self.assertGreaterEqual(thick, thin - 0.06)
        self.assertAlmostEqual(widths[-1], 10 - 9 * 0.06 - 2, delta=0.05)

    def test_boxes_are_cut_on_the_line_and_tools_snug_where_nobody_says(self) -> None:
        self.assertAlmostEqual(local_pocket(box(60, 20), None, drawer(), Rules()).surface.area, 1200, delta=0.1)
        self.assertLess(local_pocket(stations(DRIVER), None, drawer(), Rules()).surface.bounds[2], 105)

    def test_thin_fins_inside_one_pocket_are_given_up(self) -> None:
        fork = stations("0:5x5 40:5x5 40:22x5 90:22x5")
        slot = shapely.box(5, -1, 60, 1)
        outline = polygon_of(fork.outline).difference(slot)
        closed = pocket(box(), rules=Rules(allowance_mm=0.0, least_foam_mm=3.0))
        self.assertEqual(len(closed.surface.geoms), 1)
        self.assertGreater(grown(outline, 1.0).area, outline.area)

    def test_a_hole_in_the_item_leaves_no_island(self) -> None:
        ring = shapely.Point(0, 0).buffer(30).difference(shapely.Point(0, 0).buffer(20))
        from cozy_burrow.core.kit.shapes import drawn_item

        cut = pocket(drawn_item("item-1", "ring", ring, thickness_mm=8))
        self.assertEqual(len(cut.surface.geoms), 1)
        self.assertEqual(len(cut.surface.geoms[0].interiors), 0)

    def test_a_thing_that_barely_dips_in_is_cut_where_it_dips(self) -> None:
        cut = pocket(stations("0:28 60:28 60:4 140:4"), "half")  # the shaft floats above the foam
        self.assertEqual(cut.seating.zone_layers, (1, 1))
        self.assertEqual(len(cut.surface.geoms), 1)
        self.assertAlmostEqual(cut.surface.bounds[2], -10.0)  # where the handle ends

    @settings(derandomize=True, deadline=None, max_examples=60)
    @given(
        st.lists(st.tuples(st.floats(4, 50), st.one_of(st.none(), st.floats(2, 50))), min_size=2, max_size=5),
        st.sampled_from(("half", "flush", "deep")),
        st.floats(0, 3),
    )
    def test_a_pocket_holds_its_item_and_lets_it_in_from_above(
        self, parts: list[tuple[float, float | None]], seat: Seat, allowance: float
    ) -> None:
        words = []
        for index, (width, thickness) in enumerate(parts):
            size = f"{width:.1f}" + (f"x{thickness:.1f}" if thickness is not None else "")
            words += [f"{index * 40}:{size}", f"{index * 40 + 40}:{size}"]
        item = stations(" ".join(words))
        cut = pocket(item, seat, Rules(allowance_mm=allowance))
        layers = layers_of(drawer().sheets)
        for number, area in enumerate(cut.layers, start=1):
            if number < len(cut.layers):
                self.assertLess(cut.layers[number].difference(area.buffer(0.02)).area, 0.1)
            for zone in item.zones:
                needed = reach_below(zone, cut.seating.datum_mm - layers[number - 1].top_mm - SIT_SLACK_MM - 1e-6)
                self.assertLess(needed.difference(area.buffer(0.02)).area, 0.5)


class SideAndHeights(unittest.TestCase):
    def test_heights_of_a_round_zone_follow_the_circle(self) -> None:
        import numpy as np

        zone: Zone = rod(100, 40).zones[0]
        points = np.array([[0.0, 0.0], [0.0, 12.0], [0.0, 25.0]])
        under, top = heights_at(zone, points)
        self.assertAlmostEqual(float(top[0]), 20.0, places=3)
        self.assertAlmostEqual(float(under[1]), -16.0, places=2)
        self.assertTrue(math.isnan(float(top[2])))

    def test_the_side_view_has_a_ring_a_zone(self) -> None:
        rings = side_view(stations(DRIVER))
        self.assertEqual(len(rings), 2)
        self.assertAlmostEqual(max(y for _, y in rings[0]), 16.0)
        self.assertAlmostEqual(min(y for _, y in rings[1]), -3.0)

    def test_a_placement_may_have_its_own_seat(self) -> None:
        one = Placement(id="a#1", item_id="a", copy=1, x_mm=0, y_mm=0, seat="deep")
        self.assertEqual(seating_of(box(), one, drawer(), SNUGLESS).zone_layers, (4,))
