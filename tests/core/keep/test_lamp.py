"""Where the light of a photo comes from, against closed forms and against the lamp of simulated photos."""

from __future__ import annotations

import math
import unittest
from functools import cache

import numpy as np
import shapely

from cozy_burrow.core.capture.photo.picture import open_picture
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.keep.empty_look import Look as Seen
from cozy_burrow.core.keep.empty_look import Shine, kinds_of
from cozy_burrow.core.keep.lamp import Lamp, shadow_of, shine_of
from cozy_burrow.core.keep.looked import Looked
from cozy_burrow.core.keep.marks import LEAST_MM, size_that_fits
from cozy_burrow.core.keep.rays import Hits
from cozy_burrow.core.keep.roll_call import RollCall, roll_call
from cozy_burrow.core.relief.field import FOAM, lying_in
from cozy_burrow.core.relief.finish import Look
from cozy_burrow.demo.drawer import open_drawer
from cozy_burrow.demo.shipped import demo_project
from cozy_burrow.devices.simulated_drawer import DrawerCamera
from cozy_burrow.devices.simulated_scene import Light, Stand

PX_PER_MM = 4.0
DEPTH_MM = 20.0
GREY = Look(foam=(92, 92, 95), contrast=(92, 92, 95), rim=(140, 120, 95), floor=(92, 92, 95))
BLACK, PALE = (60, 60, 62), (205, 175, 60)


class Shadows(unittest.TestCase):
    def setUp(self) -> None:
        self.pit = np.zeros((320, 320), dtype=np.float32)
        self.pit[80:240, 80:240] = -DEPTH_MM  # 40 mm each way

    def test_a_wall_throws_a_shadow_as_long_as_its_height_over_the_tangent_from_wherever_light_comes(self) -> None:
        for high_deg in (45.0, 60.0, 72.0):
            reach = DEPTH_MM / math.tan(math.radians(high_deg)) * PX_PER_MM
            for azimuth_deg in (0.0, 90.0, 180.0, 270.0):
                shaded = shadow_of(self.pit, PX_PER_MM, Lamp(azimuth_deg, high_deg, 1.0)) > 0.0
                floor = shaded[80:240, 80:240]
                across, down = floor[80], floor[:, 80]
                along = {0.0: down, 90.0: across, 180.0: down[::-1], 270.0: across[::-1]}[azimuth_deg]
                with self.subTest(high_deg=high_deg, azimuth_deg=azimuth_deg):
                    self.assertAlmostEqual(int(along.sum()), reach, delta=1.5)
                    self.assertTrue(along[: int(along.sum())].all())  # in one piece, from the wall
                    self.assertFalse(shaded[:70].any() or shaded[250:].any())

    def test_light_from_between_throws_it_into_the_corner_on_either_hand(self) -> None:
        for azimuth_deg, rows, columns in ((45.0, 1, 1), (135.0, -1, 1), (225.0, -1, -1), (315.0, 1, -1)):
            shaded = shadow_of(self.pit, PX_PER_MM, Lamp(azimuth_deg, 60.0, 1.0)) > 0.0
            floor = shaded[80:240, 80:240][::rows, ::columns]
            each_way = DEPTH_MM / math.tan(math.radians(60.0)) / math.sqrt(2.0) * PX_PER_MM
            with self.subTest(azimuth_deg=azimuth_deg):
                self.assertAlmostEqual(int(floor[120].sum()), each_way, delta=2.5)
                self.assertAlmostEqual(int(floor[:, 120].sum()), each_way, delta=2.5)
                self.assertFalse(floor[-20:, -20:].any())

    def test_the_edge_of_a_shadow_is_not_sure_and_without_a_lamp_nothing_is(self) -> None:
        rows, columns = (np.asarray(one, dtype=np.float32) for one in np.indices(self.pit.shape))
        owner = np.full(self.pit.shape, FOAM, dtype=np.int16)
        side = np.zeros(self.pit.shape, dtype=bool)
        side[:, :90] = True
        met = Hits(owner, self.pit, side, columns, rows)
        level = np.zeros(self.pit.shape, dtype=np.float32)
        known = shine_of(Lamp(0.0, 45.0, 1.0), met, level, self.pit, PX_PER_MM)
        column = known.in_shade[80:240, 160]  # 20 mm of 40 lie in the dark
        self.assertTrue((column[10:70] > 0.5).all())
        self.assertTrue((column[90:] < 0.05).all())
        self.assertTrue(((column[77:83] > 0.05) & (column[77:83] < 0.5)).all())
        self.assertEqual(len(np.unique(known.in_shade[:, :90])), 1)  # a wall stands as it stands
        unknown = shine_of(None, met, level, self.pit, PX_PER_MM)
        self.assertEqual((unknown.is_known, len(np.unique(unknown.in_shade))), (False, 1))


class Floors(unittest.TestCase):
    def test_their_look_is_learnt_in_the_light_and_without_a_lamp_by_the_brighter_part(self) -> None:
        shape = (60, 60)
        flat, no = np.zeros(shape, dtype=np.float32), np.zeros(shape, dtype=bool)
        floor = Hits(np.full(shape, FOAM, dtype=np.int16), flat - 20.0, no, flat, flat)
        level, in_shade = flat - 0.2, flat + 0.01
        level[:, :15], in_shade[:, :15] = -1.1, 0.85
        hue = np.zeros((*shape, 3), dtype=np.float32)
        look = Seen(level, hue, ~no, coarse=hue)
        for shine in (Shine(flat, in_shade, True), Shine(flat, flat + 0.3, False)):
            kind = kinds_of(look, floor, floor, FOAM, {}, shine)[FOAM]
            with self.subTest(is_known=shine.is_known):
                self.assertAlmostEqual(kind.level, -0.2, places=4)
                self.assertLess(kind.level_spread, 0.2)


@cache
def tools() -> Ground:
    plan = demo_project()
    return ground_of(plan, plan.inserts[0])


def key_of(name: str) -> str:
    return next(key for key, pocket in tools().pockets.items() if pocket.item.name == name)


def photo(light: Light, *, look: Look = GREY, **said: object) -> bytes:
    left, back, right, front = tools().extent
    taken = shapely.union_all([tools().taken_out(1), *(one.outline for one in lying_in(tools()))])
    mark_mm = size_that_fits(tools().blank, taken) or LEAST_MM
    stand = Stand(
        aim_mm=((left + right) / 2, (back + front) / 2),
        height_mm=1.25 * (right - left),
        tilt_deg=14.0,
        towards_deg=200.0,
        width_px=1500,
        height_px=1125,
    )
    scene = open_drawer(tools(), look, mark_mm=mark_mm, **said)  # type: ignore[arg-type]
    return DrawerCamera(scene, stand, light, 3).take_photo()


BLACK_ONES = ("Hammer file", "Straight edge", "Needle tin")


@cache
def told() -> RollCall:
    """What is said of a photo in which some things are black, one is gone, and a smaller one lies in a place."""
    things = {pocket.item.name: pocket.item for pocket in tools().pockets.values()}
    seen = photo(
        Light(slope=(-0.25, -0.2), ambient=0.6),
        missing=[key_of("Tuning lever")],
        colours={**dict.fromkeys(map(key_of, BLACK_ONES), BLACK), key_of("Centre pin box"): PALE},
        instead={key_of("Centre pin box"): things["Depth stop"]},
    )
    return roll_call(tools(), open_picture(seen, where="photo"), where="photo")


class Photos(unittest.TestCase):
    def state_of(self, name: str) -> str:
        return next(one.state for one in told().places if one.key == key_of(name))

    def test_the_lamp_is_found_by_the_shadows_in_pulls(self) -> None:
        for slope in ((0.45, 0.3), (-0.3, -0.35)):
            seen = Looked(tools(), open_picture(photo(Light(slope=slope, ambient=0.5)), where="photo"), where="photo")
            lamp = seen.lamp
            assert lamp is not None
            due_deg = math.degrees(math.atan2(slope[0], slope[1])) % 360.0
            off_deg = (lamp.azimuth_deg - due_deg + 180.0) % 360.0 - 180.0
            with self.subTest(slope=slope, found=lamp):
                self.assertLess(abs(off_deg), 20.0)
                self.assertAlmostEqual(lamp.high_deg, math.degrees(math.atan(1 / math.hypot(*slope))), delta=12.0)

    def test_a_black_thing_in_the_light_is_no_empty_pocket_in_the_dark(self) -> None:
        self.assertEqual([self.state_of(name) for name in BLACK_ONES], ["filled"] * 3)
        self.assertEqual(self.state_of("Tuning lever"), "empty")
        odd = {one.key for one in told().places if one.state not in {"filled", "unsure"}}
        self.assertEqual(odd, {key_of("Tuning lever"), key_of("Centre pin box")})

    def test_a_smaller_thing_in_a_place_is_told_and_named(self) -> None:
        self.assertEqual(self.state_of("Centre pin box"), "other")
        why = next(one.why for one in told().places if one.key == key_of("Centre pin box"))
        self.assertIn("Depth stop", why)


if __name__ == "__main__":
    unittest.main()
