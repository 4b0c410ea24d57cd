"""Names on the plan: on their things or beside them, never over anything else, never upside down."""

from __future__ import annotations

import math
import unittest

import numpy as np
import shapely
from shapely.geometry import Polygon
from shapely.geometry import box as rectangle

from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.ground.naming import ROOM_MM, NameTag, names_on
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.demo.shipped import demo_project
from tests.makers import box, laid, project


def card(tag: NameTag, size: tuple[float, float]) -> Polygon:
    turn = math.radians(tag.angle_deg)
    corners = np.array([(-1, -1), (1, -1), (1, 1), (-1, 1)]) * np.array(size) / 2
    matrix = np.array([[math.cos(turn), math.sin(turn)], [-math.sin(turn), math.cos(turn)]])
    return Polygon(corners @ matrix + np.array(tag.at))


def body(ground: Ground, key: str) -> Polygon:
    one = next(one for one in ground.insert.placements if one.id == key)
    outline = polygon_of(ground.pockets[key].item.outline)
    return placed(outline, x_mm=one.x_mm, y_mm=one.y_mm, angle_deg=one.angle_deg)


class Names(unittest.TestCase):
    def test_where_there_is_room_a_name_stands_level_on_its_thing(self) -> None:
        plan = laid(project(box(120.0, 40.0, 12.0)), (150.0, 100.0))
        ground = ground_of(plan, plan.inserts[0])
        (tag,) = names_on(ground, {"item-1#1": (60.0, 9.0)})
        self.assertTrue(tag.on_thing)
        self.assertEqual((tag.angle_deg, tag.leader), (0.0, None))
        self.assertTrue(body(ground, "item-1#1").covers(card(tag, (60.0, 9.0))))

    def test_a_mark_on_the_thing_moves_the_name_along_it(self) -> None:
        plan = laid(project(box(160.0, 40.0, 12.0)), (150.0, 100.0))
        ground = ground_of(plan, plan.inserts[0])
        mark = shapely.Point(150.0, 100.0).buffer(6.0)
        (tag,) = names_on(ground, {"item-1#1": (40.0, 9.0)}, taken=[mark])
        self.assertTrue(tag.on_thing)
        self.assertFalse(card(tag, (40.0, 9.0)).intersects(mark))

    def test_on_an_upright_thing_it_is_read_from_one_side(self) -> None:
        for angle in (90.0, 270.0, 60.0, 240.0):
            plan = laid(project(box(120.0, 20.0, 12.0)), (150.0, 100.0, angle))
            (tag,) = names_on(ground_of(plan, plan.inserts[0]), {"item-1#1": (80.0, 9.0)})
            self.assertTrue(tag.on_thing)
            self.assertTrue(-90.0 < tag.angle_deg <= 90.0)
            self.assertAlmostEqual((tag.angle_deg - angle + 90.0) % 180.0, 90.0, places=6)

    def test_beside_a_thin_thing_and_joined_where_it_stands_off(self) -> None:
        plan = laid(project(box(120.0, 6.0, 12.0)), (150.0, 100.0))
        ground = ground_of(plan, plan.inserts[0])
        (near,) = names_on(ground, {"item-1#1": (60.0, 9.0)})
        self.assertFalse(near.on_thing)
        self.assertIsNone(near.leader)
        ring = body(ground, "item-1#1").buffer(9.0)
        (far,) = names_on(ground, {"item-1#1": (60.0, 9.0)}, taken=[ring])
        assert far.leader is not None
        self.assertLess(body(ground, "item-1#1").distance(shapely.Point(far.leader[1])), 0.1)

    def test_where_there_is_none_there_is_no_name(self) -> None:
        plan = laid(project(box(120.0, 6.0, 12.0)), (150.0, 100.0))
        ground = ground_of(plan, plan.inserts[0])
        self.assertEqual(names_on(ground, {"item-1#1": (60.0, 9.0)}, taken=[rectangle(-50, -50, 400, 400)]), ())
        self.assertEqual(names_on(ground, {"gone#1": (60.0, 9.0)}), ())

    def test_over_the_whole_demo_no_name_hides_anything(self) -> None:
        plan = demo_project()
        for insert in plan.inserts:
            ground = ground_of(plan, insert)
            sizes = {one.id: (4.2 * len(placement_name(plan, one.id)), 8.5) for one in insert.placements}
            tags = names_on(ground, sizes)
            self.assertGreaterEqual(len(tags), 0.8 * len(sizes), insert.name)
            cards = {tag.key: card(tag, sizes[tag.key]) for tag in tags}
            for tag in tags:
                mine = cards[tag.key]
                others = [cards[key] for key in cards if key != tag.key]
                others += [body(ground, key) for key in ground.pockets if key != tag.key]
                if not tag.on_thing:
                    others += [body(ground, tag.key), *(one.areas[0] for one in ground.cutouts)]
                    self.assertTrue(ground.blank.covers(mine))
                self.assertGreater(min(mine.distance(other) for other in others), 0.0, tag.key)
            pairs = [cards[a].distance(cards[b]) for n, a in enumerate(cards) for b in list(cards)[:n]]
            self.assertGreaterEqual(min(pairs), ROOM_MM - 1e-6)
