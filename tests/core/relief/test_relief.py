"""The relief against closed forms: pixels that an area covers, heights of balls and boxes, lengths of shadows."""

from __future__ import annotations

import math
import random
import tracemalloc
import unittest
import unittest.mock

import numpy as np
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace
from shapely.errors import GEOSException
from shapely.geometry import MultiPolygon, Point, Polygon
from shapely.geometry import box as rectangle

from cozy_burrow.core.depth.sections import heights_at
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.model.edits import insert_of, move_placements
from cozy_burrow.core.model.records import FingerPull, Project, Rules
from cozy_burrow.core.relief.field import CONTRAST, FLOOR, FOAM, OUTSIDE, RIM, Field, field_of, lying_in
from cozy_burrow.core.relief.finish import Look, rgb
from cozy_burrow.core.relief.grid import Grid, covered, runs_of
from cozy_burrow.core.relief.light import SUNS, Sun, corners, lit, normals, shadow, under_shadow
from cozy_burrow.core.relief.picture import Picture, picture_of, repainted, touched_bounds
from cozy_burrow.core.relief.sprite import bare_ground, rows_of, sprite_of
from cozy_burrow.core.relief.tops import top_at
from cozy_burrow.demo.shipped import demo_project
from tests.core.depth.floors import thing
from tests.makers import box, laid, project, rod, van_drawer

LOOK = Look(foam=rgb("#8d867b"), contrast=rgb("#c98f4d"), rim=rgb("#d9c9ae"), floor=rgb("#5f584e"))


def field(plan: Project, px_per_mm: float = 2.0, *, filled: bool = True, number: int = 0) -> Field:
    ground = ground_of(plan, plan.inserts[number])
    left, top, right, bottom = ground.extent
    grid = Grid.over((left - 12, top - 12, right + 12, bottom + 12), px_per_mm)
    return field_of(ground, grid, LOOK, filled=filled)


def at(found: Field, x_mm: float, y_mm: float) -> tuple[int, int]:
    """The pixel that a place of the plan lies in."""
    grid = found.grid
    return int((y_mm - grid.top_mm) * grid.px_per_mm), int((x_mm - grid.left_mm) * grid.px_per_mm)


def middle_of(found: Field, row: int, column: int) -> tuple[float, float]:
    grid = found.grid
    return grid.left_mm + (column + 0.5) / grid.px_per_mm, grid.top_mm + (row + 0.5) / grid.px_per_mm


class Pixels(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(st.integers(0, 10_000), st.floats(0.3, 5.0))
    def test_those_are_covered_whose_middles_lie_inside(self, seed: int, scale: float) -> None:
        chance = np.random.default_rng(seed)
        angles = np.sort(chance.uniform(0, 2 * math.pi, 17))
        reach = chance.uniform(5.0, 40.0, 17)
        star = Polygon(np.column_stack([reach * np.cos(angles) + 3.3, reach * np.sin(angles) - 1.7])).buffer(0)
        area = star.difference(Point(2.0, 1.0).buffer(3.1)).union(rectangle(50.0517, 3.0123, 61.3, 9.7719))
        grid = Grid.over((-30.0, -25.0, 57.0, 30.0), scale)  # a part of the area lies beyond it
        found = covered(area, grid)
        mask = np.zeros(grid.shape, dtype=bool)
        if found is not None:
            mask[found[0]] = found[1]
        x, y = np.meshgrid(*grid.middles((slice(0, grid.rows), slice(0, grid.columns))))
        self.assertTrue(np.array_equal(mask, shapely.contains_xy(area, x, y)))

    def test_areas_that_share_an_edge_share_no_pixel(self) -> None:
        grid = Grid.over((0, 0, 40, 40), 1.7)
        left, right = covered(rectangle(1, 1, 17.5, 30), grid), covered(rectangle(17.5, 1, 33, 30), grid)
        both = covered(rectangle(1, 1, 33, 30), grid)
        assert left is not None and right is not None and both is not None
        self.assertEqual(left[1].sum() + right[1].sum(), both[1].sum())

    @settings(max_examples=60, deadline=None)
    @given(st.integers(0, 10_000), st.floats(0.3, 5.0))
    def test_blocks_hold_the_very_pixels_that_are_covered_and_each_once(self, seed: int, scale: float) -> None:
        chance = np.random.default_rng(seed)
        left, top = chance.uniform(-40, 10, 2)
        tray = rectangle(left, top, left + 50, top + 40).buffer(chance.uniform(0, 9))
        holes = [Point(*chance.uniform(-20, 40, 2)).buffer(chance.uniform(0.5, 12)) for _ in range(4)]
        area = tray.difference(shapely.union_all(holes)).union(rectangle(-29, 28.1, -20, 29.6))
        grid = Grid.over((-30.0, -25.0, 57.0, 30.0), scale)
        times, mask = np.zeros(grid.shape, dtype=int), np.zeros(grid.shape, dtype=bool)
        for block in runs_of(area, grid):
            times[block] += 1
        found = covered(area, grid)
        if found is not None:
            mask[found[0]] = found[1]
        self.assertTrue(np.array_equal(times, mask.astype(int)))

    def test_a_container_is_few_blocks(self) -> None:
        grid = Grid.over((0.0, 0.0, 400.0, 300.0), 4.0)
        self.assertEqual(runs_of(rectangle(10, 10, 390, 290), grid), [(slice(40, 1160), slice(40, 1560))])

    def test_what_lies_off_the_grid_covers_nothing(self) -> None:
        grid = Grid.over((0, 0, 10, 10), 2.0)
        for area in (rectangle(20, 0, 30, 5), rectangle(0, -9, 5, -2), Polygon()):
            self.assertIsNone(covered(area, grid))
            self.assertEqual(runs_of(area, grid), [])


class Heights(unittest.TestCase):
    def test_a_ball_in_its_pocket_is_a_ball(self) -> None:
        ball = rod(40.0, 40.0)
        ring = Point(0, 0).buffer(20.0, quad_segs=64)
        outline = replace(ball.outline, outer=tuple((x, y) for x, y in ring.exterior.coords[:-1]))
        zone = replace(ball.zones[0], region=outline, axis=None)
        ball = replace(ball, outline=outline, zones=(zone,))
        plan = laid(project(ball), (100.0, 90.0))
        found = field(plan)
        datum = ground_of(plan, plan.inserts[0]).pockets["item-1#1"].seating.datum_mm
        for x, y in ((100, 90), (108, 90), (100, 101), (91, 84), (112, 100)):
            row, column = at(found, x, y)
            px, py = middle_of(found, row, column)
            away = math.hypot(px - 100, py - 90)
            middle = (zone.under_mm + zone.top_mm) / 2 - datum
            self.assertAlmostEqual(found.height_mm[row, column], middle + math.sqrt(400 - away**2), delta=0.25)

    def test_a_box_a_pull_and_the_foam_stand_in_steps(self) -> None:
        plan = laid(project(box(80.0, 40.0, 24.0)), (150.0, 120.0))
        serves = ("item-1#1",)
        pull = FingerPull(id="p", kind="circle", serves=serves, points_mm=((0.0, 20.0),), width_mm=40.0, layers=4)
        plan = replace(plan, inserts=(replace(plan.inserts[0], pulls=(pull,)),))
        ground = ground_of(plan, plan.inserts[0])
        seating = ground.pockets["item-1#1"].seating
        full, empty = field(plan), field(plan, filled=False)
        floor = -ground.layers[seating.zone_layers[0] - 1].bottom_mm
        self.assertAlmostEqual(float(full.height_mm[at(full, 150, 115)]), seating.proud_mm, places=4)
        self.assertAlmostEqual(float(empty.height_mm[at(empty, 150, 115)]), floor, places=4)
        self.assertAlmostEqual(float(full.height_mm[at(full, 150, 152)]), -ground.layers[3].bottom_mm, places=4)
        self.assertEqual(float(full.height_mm[at(full, 30, 180)]), 0.0)
        self.assertEqual(full.finishes[full.owner[at(full, 150, 115)]].body, "item-1#1")
        self.assertEqual(full.owner[at(full, 30, 180)], FOAM)
        self.assertEqual(full.owner[at(full, -4, 100)], RIM)
        self.assertEqual(full.owner[0, 0], OUTSIDE)

    def test_a_pocket_shows_the_contrast_where_it_reaches_it_and_the_floor_where_it_goes_through(self) -> None:
        plan = laid(project(box(80.0, 40.0, 24.0)), (150.0, 120.0))
        insert = plan.inserts[0]
        layers = len(ground_of(plan, insert).layers)
        sheet = replace(insert.sheets[0], contrast_layers=1)

        def shown(count: int) -> int:
            placement = replace(insert.placements[0], zone_layers=(count,))
            changed = replace(plan, inserts=(replace(insert, sheets=(sheet,), placements=(placement,)),))
            found = field(changed, filled=False)
            return int(found.owner[at(found, 150, 120)])

        self.assertEqual([shown(1), shown(layers - 1)], [FOAM, CONTRAST])
        self.assertEqual(shown(layers), FLOOR)

    def test_a_part_is_what_the_whole_shows_there(self) -> None:
        plan = demo_project()
        ground = ground_of(plan, plan.inserts[0])
        whole = field(plan, 1.37)
        part_grid = Grid.over((210.0, 90.0, 330.0, 171.0), 1.37)
        part = field_of(ground, part_grid, LOOK)
        row = round((part_grid.top_mm - whole.grid.top_mm) * 1.37)
        column = round((part_grid.left_mm - whole.grid.left_mm) * 1.37)
        there = (slice(row, row + part_grid.rows), slice(column, column + part_grid.columns))
        self.assertTrue(np.array_equal(part.height_mm, whole.height_mm[there]))
        self.assertTrue(np.array_equal(part.grain, whole.grain[there]))

    def test_the_same_document_gives_the_same_picture_to_the_bit(self) -> None:
        plan = demo_project()
        first, second = (lit(field(plan, 1.0)) for _ in range(2))
        self.assertTrue(np.array_equal(first, second))
        self.assertEqual(first.shape[2], 4)


class Tops(unittest.TestCase):
    def test_they_are_those_that_the_section_is_cut_through(self) -> None:
        chance = np.random.default_rng(3)
        for item in demo_project().items:
            for zone in item.zones:
                left, top, right, bottom = polygon_of(zone.region).bounds
                points = chance.uniform((left, top), (right, bottom), (400, 2))
                true = heights_at(zone, points)[1]
                on = np.isfinite(true)
                found = top_at(zone, *points[on].astype(np.float32).T)
                # Where a round part steps, half a station on its axis may be the other side of the step.
                self.assertLess(float(np.quantile(np.abs(found - true[on]), 0.97)), 0.1, item.name)


class Light(unittest.TestCase):
    def test_a_shadow_is_as_long_as_the_block_is_high_by_the_suns_slope(self) -> None:
        for scale, high_mm, sun in (
            (2.0, 12.0, SUNS[0]),
            (1.3, 30.0, SUNS[3]),
            (3.0, 7.0, Sun(0.0, 45.0)),
            (2.0, 9.0, Sun(-38.0, 45.0)),
        ):
            height = np.zeros((300, 300), dtype=np.float32)
            height[60:70, 40:200] = high_mm
            below = under_shadow(height, scale, sun)
            # Straight to the front the shadow's edge has sunk to the floor after so many millimetres.
            x, y, up = sun.towards
            long_px = high_mm / (up / -y) * scale
            column = 120 + round(long_px * x / y / 2)
            shaded = np.flatnonzero(below[70:, column] > 1e-4)
            self.assertAlmostEqual(len(shaded), long_px, delta=1.01)
            # And its height over the floor falls evenly on the way.
            way = below[70 : 70 + len(shaded), column]
            self.assertTrue(np.allclose(np.diff(way), -(up / -y) / scale, atol=1e-3))

    def test_a_shadow_falls_to_the_side_that_the_light_does_not_come_from(self) -> None:
        height = np.zeros((200, 200), dtype=np.float32)
        height[90:110, 90:110] = 20.0
        taken = shadow(height, 2.0)
        self.assertEqual(float(taken[:90].max()), 0.0)
        self.assertEqual(float(taken[:, :90].max()), 0.0)
        self.assertGreater(float(taken[115, 112]), 0.9)

    def test_flat_ground_is_evenly_lit_and_open(self) -> None:
        height = np.full((80, 90), -12.5, dtype=np.float32)
        open_, edge = corners(height, 2.0)
        self.assertTrue(np.allclose(open_, 1.0) and np.allclose(edge, 0.0))
        self.assertEqual(float(shadow(height, 2.0).max()), 0.0)

    def test_corners_are_darker_than_the_middle_of_a_pocket(self) -> None:
        height = np.zeros((200, 200), dtype=np.float32)
        height[50:150, 50:150] = -20.0
        open_, _ = corners(height, 2.0)
        self.assertLess(float(open_[52, 52]), float(open_[100, 100]) - 0.1)
        self.assertAlmostEqual(float(open_[10, 10]), 1.0, places=3)

    def test_a_slope_has_the_normal_of_its_plane_and_a_step_belongs_to_nobody(self) -> None:
        y, x = np.mgrid[0:60, 0:80].astype(np.float32)
        plane = (0.2 * x - 0.1 * y) / np.float32(2.0)  # 0.2 and -0.1 millimetres a millimetre at 2 pixels each
        nx, ny, nz = normals(plane, 2.0)
        true = np.array([-0.2, 0.1, 1.0]) / math.sqrt(1 + 0.04 + 0.01)
        self.assertTrue(np.allclose([nx[30, 40], ny[30, 40], nz[30, 40]], true, atol=1e-4))
        step = np.zeros((20, 20), dtype=np.float32)
        step[:, 10:] = 15.0
        nx, ny, nz = normals(step, 2.0)
        self.assertTrue(np.allclose(nz, 1.0))

    def test_a_proud_thing_throws_a_shadow_onto_the_foam_and_an_empty_place_is_dark(self) -> None:
        plan = laid(project(box(80.0, 40.0, 38.0)), (150.0, 120.0))
        full, empty = field(plan), field(plan, filled=False)
        picture, hole = lit(full).astype(int), lit(empty).astype(int)
        ground = ground_of(plan, plan.inserts[0])
        self.assertGreater(ground.pockets["item-1#1"].seating.proud_mm, 5)
        beside, far = at(full, 150, 120 + 22.5), at(full, 270, 180)
        self.assertLess(picture[beside][:3].sum(), 0.8 * picture[far][:3].sum())
        self.assertLess(hole[at(empty, 133, 103)][:3].sum(), 0.7 * hole[far][:3].sum())


class Room(unittest.TestCase):
    def test_a_picture_takes_little_more_than_what_it_is_lit_from(self) -> None:
        """All of it at once took half as much again, while a search and the checks have their own."""
        demo = demo_project()
        ground = ground_of(demo, demo.inserts[0])
        picture_of(ground, 0.5, LOOK)  # what is worked out once: how things rest
        for scale, most in ((1.9, 42.0), (2.8, 26.0)):  # in one piece, in bands; bytes a pixel
            tracemalloc.start()
            self.addCleanup(tracemalloc.stop)
            made = picture_of(ground, scale, LOOK)
            _, took = tracemalloc.get_traced_memory()
            tracemalloc.stop()
            self.assertLess(took / (made.grid.rows * made.grid.columns), most, scale)


class Mended(unittest.TestCase):
    def test_what_changes_far_off_the_picture_is_not_seen_in_it(self) -> None:
        for far in ((900.0, 90.0), (-700.0, 90.0), (100.0, 1900.0), (100.0, -700.0), (5000.0, 5000.0)):
            plan = laid(project(box(60.0, 20.0, 12.0), box(40.0, 30.0, 20.0)), far, (150.0, 120.0))
            before = picture_of(ground_of(plan, plan.inserts[0]), 1.0, LOOK, mends=True)
            first, second = plan.inserts[0].placements
            moved = replace(plan.inserts[0], placements=(replace(first, x_mm=first.x_mm + 3.0), second))
            after = ground_of(replace(plan, inserts=(moved,)), moved)
            mended = repainted(before, after)
            self.assertIs(mended.ground, after)
            self.assertTrue(np.array_equal(mended.pixels[:, :, :3], before.pixels[:, :, :3]))

    def test_mended_again_and_again_it_is_the_picture_of_the_whole(self) -> None:
        demo = van_drawer()
        insert, chance = demo.inserts[0], random.Random(5)
        for filled in (True, False):
            mended = picture_of(ground_of(demo, insert), 1.2, LOOK, filled=filled, mends=True)
            now = insert
            for step in range(10):
                places = list(now.placements)
                moved = chance.randrange(len(places))
                if step == 4:
                    places.pop(moved)
                else:
                    old = places[moved]
                    places[moved] = replace(
                        old, x_mm=old.x_mm + chance.uniform(-9, 9), angle_deg=old.angle_deg + chance.choice((0.0, 4.0))
                    )
                now = replace(now, placements=tuple(places), pulls=())
                ground = ground_of(replace(demo, inserts=(now,)), now)
                mended = repainted(mended, ground)
                self.assertIsNotNone(mended.field)
            whole = picture_of(ground, 1.2, LOOK, filled=filled)
            apart = np.abs(mended.pixels.astype(int) - whole.pixels).max(axis=2)
            self.assertLess(float((apart > 3).mean()), 0.002)
            self.assertLess(float((apart > 12).mean()), 0.0002)

    def test_owners_of_former_times_stay_until_there_are_too_many(self) -> None:
        plan = laid(project(box(60.0, 20.0, 12.0), box(40.0, 30.0, 20.0)), (90.0, 60.0), (150.0, 120.0))
        ground = ground_of(plan, plan.inserts[0])
        whole = field_of(ground, Grid.over((0, 0, 300, 200), 1.0), LOOK, sharp=2)
        kept = whole.kept()
        part = field_of(ground, Grid.over((60, 40, 120, 80), 1.0), LOOK, sharp=2)
        again = kept.with_part(part)
        assert again is not None
        self.assertTrue(np.array_equal(again.owner, whole.owner))
        self.assertTrue(np.array_equal(again.height_mm, whole.height_mm))
        self.assertLess(again.owner.nbytes + again.grain.nbytes, whole.owner.nbytes + whole.grain.nbytes)
        other = [replace(one, body=f"other {n}") for n, one in enumerate(part.finishes * 60)]
        many = Field(part.grid, part.height_mm, part.owner, part.grain, tuple(other), part.sharp)
        self.assertIsNone(kept.with_part(many))

    def test_a_head_that_lies_over_the_foam_moves_along_whole(self) -> None:
        """Its pocket is a slit; what is seen of it is ten times as wide."""
        square = thing(((0, -45, 24, 45), 12, 16), ((0, -5, 130, 5), 0, 10))
        head = laid(project(square, rules=Rules(seat="flush", allowance_mm=0.0)), (150.0, 100.0))
        insert = head.inserts[0]
        (pocket,) = ground_of(head, insert).pockets.values()
        self.assertLess(pocket.surface.bounds[3], 110.0)
        before = picture_of(ground_of(head, insert), 1.0, LOOK, mends=True)
        moved = replace(insert, placements=tuple(replace(p, x_mm=p.x_mm + 12.0) for p in insert.placements))
        after = ground_of(replace(head, inserts=(moved,)), moved)
        apart = np.abs(repainted(before, after).pixels.astype(int) - picture_of(after, 1.0, LOOK).pixels).max(axis=2)
        self.assertLess(float((apart > 3).mean()), 0.002)

    def test_where_one_of_a_row_moves_the_rest_of_it_is_not_made_anew(self) -> None:
        demo = demo_project()
        insert = next(one for one in demo.inserts if any(len(pull.serves) == 8 for pull in one.pulls))
        row = next(pull.serves for pull in insert.pulls if len(pull.serves) == 8)
        before = ground_of(demo, insert)
        whole = picture_of(before, 1.0, LOOK, mends=True)
        for name in row:
            moved = move_placements(demo, insert.id, [name], dx_mm=1.5, dy_mm=0.5)
            after = ground_of(moved, insert_of(moved, insert.id))
            bounds = touched_bounds(before, after)
            assert bounds is not None
            things = [one.outline.bounds for one in lying_in(before) if one.placement.id in row]
            long = max(one[3] for one in things) - min(one[1] for one in things)
            self.assertLess(bounds[3] - bounds[1], 0.6 * long, name)
            self._is_the_whole(repainted(whole, after), after)

    def test_a_thing_of_another_colour_in_the_same_place_is_made_anew(self) -> None:
        plan = laid(project(box(60.0, 20.0, 12.0), box(40.0, 30.0, 20.0)), (90.0, 60.0), (150.0, 120.0))
        before = picture_of(ground_of(plan, plan.inserts[0]), 1.0, LOOK, mends=True)
        red = replace(plan, items=(replace(plan.items[0], colour="#b03020"), *plan.items[1:]))
        after = ground_of(red, red.inserts[0])
        mended = repainted(before, after)
        self.assertFalse(np.array_equal(mended.pixels, before.pixels))
        self._is_the_whole(mended, after)

    def test_edges_that_can_not_be_told_apart_are_made_anew_whole(self) -> None:
        plan = laid(project(box(60.0, 20.0, 12.0)), (150.0, 120.0))
        insert = plan.inserts[0]
        before = ground_of(plan, insert)
        moved = replace(insert, placements=tuple(replace(p, x_mm=p.x_mm + 2.0) for p in insert.placements))
        after = ground_of(replace(plan, inserts=(moved,)), moved)
        known = touched_bounds(before, after)
        for kind in (Polygon, MultiPolygon):
            patched = unittest.mock.patch.object(
                kind, "symmetric_difference", side_effect=GEOSException("side location")
            )
            self.enterContext(patched)
        self.assertEqual(touched_bounds(before, after), known)  # all of both places

    def _is_the_whole(self, mended: Picture, ground: Ground) -> None:
        whole = picture_of(ground, mended.grid.px_per_mm, LOOK)
        apart = np.abs(mended.pixels.astype(int) - whole.pixels).max(axis=2)
        self.assertLess(float((apart > 3).mean()), 0.002)
        self.assertLess(float((apart > 12).mean()), 0.0002)

    def test_a_picture_of_one_row_or_column_is_one(self) -> None:
        plan = laid(project(box(60.0, 20.0, 12.0)), (150.0, 120.0))
        ground = ground_of(plan, plan.inserts[0])
        for rows, columns in ((1, 40), (40, 1), (1, 1)):
            grid = Grid(left_mm=120.0, top_mm=110.0, px_per_mm=1.0, columns=columns, rows=rows)
            self.assertEqual(lit(field_of(ground, grid, LOOK)).shape, (rows, columns, 4))


class Sprites(unittest.TestCase):
    def test_over_bare_foam_they_make_the_picture_again(self) -> None:
        plan = demo_project()
        ground = ground_of(plan, plan.inserts[0])
        whole, bare = picture_of(ground, 1.2, LOOK), picture_of(bare_ground(ground), 1.2, LOOK)
        made = bare.pixels[:, :, :3].astype(float)
        rows = rows_of(ground)
        self.assertEqual(sorted(key for row in rows for key in row), sorted(ground.pockets))
        for row in rows:
            sprite = sprite_of(whole, bare, row)
            assert sprite is not None
            at = [a - b for a, b in zip(sprite.grid.first, whole.grid.first)]
            there = (slice(at[0], at[0] + sprite.grid.rows), slice(at[1], at[1] + sprite.grid.columns))
            cover = sprite.pixels[:, :, 3:] / 255.0
            made[there] = made[there] * (1 - cover) + sprite.pixels[:, :, :3] * cover
        apart = np.abs(made - whole.pixels[:, :, :3]).max(axis=2)
        self.assertLess(float((apart > 8).mean()), 0.02)

    def test_what_lies_beside_the_picture_has_none(self) -> None:
        for place in ((900.0, 90.0), (-400.0, 90.0), (100.0, 1900.0), (100.0, -700.0)):
            plan = laid(project(box(60.0, 20.0, 12.0)), place)
            ground = ground_of(plan, plan.inserts[0])
            whole, bare = picture_of(ground, 1.0, LOOK), picture_of(bare_ground(ground), 1.0, LOOK)
            self.assertIsNone(sprite_of(whole, bare, frozenset(("item-1#1",))))
