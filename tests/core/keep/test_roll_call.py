"""Roll call: rays against closed forms, and small drawers photographed with things there, gone and end for end."""

from __future__ import annotations

import io
import unittest
from functools import cache

import numpy as np
from PIL import Image

from cozy_burrow.core.capture.photo.camera import Camera
from cozy_burrow.core.capture.photo.picture import Picture, open_picture
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.keep.looked import Looked
from cozy_burrow.core.keep.odds import Weighed, weighed
from cozy_burrow.core.keep.otherwise import looked_at_turned
from cozy_burrow.core.keep.place import place_of
from cozy_burrow.core.keep.rays import Hits, crossing, hits
from cozy_burrow.core.keep.roll_call import RollCall, roll_call
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.relief.field import FOAM, OUTSIDE, Field
from cozy_burrow.core.relief.finish import Finish, Look
from cozy_burrow.core.relief.grid import Grid
from cozy_burrow.demo.drawer import open_drawer
from cozy_burrow.devices.simulated_drawer import DrawerCamera
from cozy_burrow.devices.simulated_scene import Light, Stand
from tests.makers import DRIVER, box, drawer, laid, project, stations

PLAIN = Look(foam=(52, 52, 54), contrast=(52, 52, 54), rim=(140, 120, 95), floor=(52, 52, 54))
MARK_MM = 12.0


def from_above(eye: tuple[float, float, float]) -> Camera:
    """A camera that looks straight down."""
    x, y, z = eye
    return Camera(
        width_px=1000,
        height_px=1000,
        focal_px=1000.0,
        centre_px=(500.0, 500.0),
        bend=(0.0, 0.0),
        turn=(0.0, 0.0, 0.0),
        shift_mm=(-x, -y, z),
    )


class Rays(unittest.TestCase):
    def setUp(self) -> None:
        self.grid = Grid(left_mm=0.0, top_mm=0.0, px_per_mm=2.0, columns=200, rows=100)
        self.height = np.zeros(self.grid.shape, dtype=np.float32)
        self.owner = np.full(self.grid.shape, FOAM, dtype=np.int16)

    def met(self, eye: tuple[float, float, float]) -> Hits:
        finishes = tuple(Finish(colour=(0, 0, 0)) for _ in range(5))
        grain = np.zeros(self.grid.shape, dtype=np.float32)
        return hits(Field(self.grid, self.height, self.owner, grain, finishes), from_above(eye))

    def test_the_near_wall_of_a_pit_hides_its_floor_and_the_far_one_is_seen(self) -> None:
        depth, height = 30.0, 400.0
        self.height[:, 80:160] = -depth  # 40 to 80 mm
        met = self.met((0.0, 25.0, height))
        # A ray over x at the surface leans x / height; it has gone so far aside when it is at the bottom.
        row = 50
        x = (np.arange(80, 160) + 0.5) / 2
        floor = ~met.side[row, 80:160] & (met.height_mm[row, 80:160] < -depth + 0.5)
        lands = x + x / height * depth
        due = lands < 80.0
        self.assertLess(int((floor != due).sum()), 4)
        self.assertTrue(met.side[row, 158])
        self.assertGreater(met.height_mm[row, 158], -depth)

    def test_what_stands_up_is_met_above_the_surface_and_found_again_from_elsewhere(self) -> None:
        high = 24.0
        self.height[20:80, 100:140] = high
        self.owner[20:80, 100:140] = OUTSIDE
        eye = (10.0, 20.0, 500.0)
        met = self.met(eye)
        top = (met.owner == OUTSIDE) & ~met.side
        column, row = crossing(from_above(eye), self.grid, met.column, met.row, met.height_mm)
        rows, columns = np.nonzero(top)
        self.assertGreater(len(rows), 2000)
        self.assertLess(float(np.abs(column[top] - columns).max()), 0.6)
        self.assertLess(float(np.abs(row[top] - rows).max()), 0.6)


@cache
def small_project() -> Project:
    """A drawer of 220 x 160 with a box, a driver and a short box."""
    things = (box(60, 24, 16, "stone"), stations(DRIVER.replace("210", "150"), "driver"), box(40, 30, 20, "tin"))
    plan = project(*things, bay=drawer(width=220, depth=160))
    return laid(plan, (70.0, 40.0, 0.0), (110.0, 85.0, 0.0), (120.0, 130.0, 0.0))


@cache
def small() -> Ground:
    """Its insert."""
    return ground_of(small_project(), small_project().inserts[0])


def key_of(name: str) -> str:
    return next(key for key, pocket in small().pockets.items() if pocket.item.name == name)


def photo(*, look: Look = PLAIN, tilt_deg: float = 15.0, seed: int = 1, **said: object) -> Picture:
    left, back, right, front = small().extent
    stand = Stand(
        aim_mm=((left + right) / 2, (back + front) / 2),
        height_mm=330.0,
        tilt_deg=tilt_deg,
        towards_deg=40.0,
        width_px=1000,
        height_px=750,
    )
    scene = open_drawer(small(), look, mark_mm=MARK_MM, **said)  # type: ignore[arg-type]
    return open_picture(DrawerCamera(scene, stand, Light(slope=(0.4, 0.3)), seed).take_photo(), where="photo")


class RollCalls(unittest.TestCase):
    def states(self, said: RollCall) -> dict[str, str]:
        return {small().pockets[one.key].item.name: one.state for one in said.places}

    def test_who_is_there_and_who_is_gone(self) -> None:
        said = roll_call(small(), photo(missing=[key_of("driver")]), where="photo")
        self.assertEqual(self.states(said), {"stone": "filled", "driver": "empty", "tin": "filled"})
        self.assertEqual(said.marks_found, 4)
        self.assertTrue(all(one.why for one in said.places))

    def test_contrast_and_another_light_and_a_photo_from_the_other_side(self) -> None:
        look = Look(foam=(40, 52, 74), contrast=(205, 120, 40), rim=(140, 120, 95), floor=(60, 60, 60))
        seen = photo(look=look, tilt_deg=30.0, missing=[key_of("stone"), key_of("tin")])
        upside_down = Picture(pixels=np.ascontiguousarray(seen.pixels[::-1, ::-1]), focal_px=seen.focal_px)
        full = photo(look=look, tilt_deg=12.0)
        for one in (seen, upside_down):
            said = roll_call(small(), one, where="photo", full=full)
            self.assertEqual(self.states(said), {"stone": "empty", "driver": "filled", "tin": "empty"})

    def test_a_bottom_of_a_colour_that_nothing_tells_is_not_guessed(self) -> None:
        """No pull shows it, no other photo: orange may be a thing, or the foam below."""
        look = Look(foam=(40, 52, 74), contrast=(205, 120, 40), rim=(140, 120, 95), floor=(60, 60, 60))
        said = roll_call(small(), photo(look=look, missing=[key_of("stone")]), where="photo")
        self.assertNotEqual(self.states(said)["stone"], "filled")

    def test_end_for_end_is_told_by_its_outline(self) -> None:
        said = roll_call(small(), photo(turned=[key_of("driver")]), where="photo")
        self.assertEqual(self.states(said), {"stone": "filled", "driver": "turned", "tin": "filled"})

    def test_it_is_told_too_where_what_is_bare_is_too_dark_to_look_so(self) -> None:
        driver = key_of("driver")
        now = Looked(small(), photo(turned=[driver]), where="photo")
        rays = weighed(now, None)
        # The dark takes from all that speaks for foam: to where the bare half looks a little like a thing, and a lot.
        for least, state in ((0.5, "turned"), (3.2, "unsure"), (4.0, "filled")):
            odds = np.maximum(rays.odds, least)
            place = place_of(now, odds, driver)
            self.assertEqual(place.state, "filled")
            found, _ = looked_at_turned(small(), now, None, Weighed(odds=odds, empty=rays.empty), place)
            self.assertEqual(found.state, state, least)

    def test_a_smaller_thing_that_leaves_much_of_a_place_empty_is_another_one(self) -> None:
        look = Look(foam=(40, 52, 74), contrast=(205, 120, 40), rim=(140, 120, 95), floor=(60, 60, 60))
        smaller = project(box(28, 16, 14, "other")).items[0]
        seen = photo(look=look, instead={key_of("tin"): smaller}, colours={key_of("tin"): (60, 60, 62)})
        said = roll_call(small(), seen, where="photo")
        self.assertEqual(self.states(said), {"stone": "filled", "driver": "filled", "tin": "other"})

    def test_a_photo_with_everything_there_helps_and_says_nothing_wrong(self) -> None:
        full = photo(tilt_deg=5.0, seed=2)
        said = roll_call(small(), photo(missing=[key_of("tin")]), where="photo", full=full)
        self.assertEqual(self.states(said), {"stone": "filled", "driver": "filled", "tin": "empty"})

    def test_a_photo_of_another_insert_of_its_size_is_not_believed(self) -> None:
        plan = small_project()
        other = laid(plan, (140.0, 118.0, 0.0), (106.0, 76.0, 180.0), (70.0, 34.0, 0.0))
        seen = photo(missing=[key_of("tin")])
        with self.assertRaises(UnusableInput) as caught:
            roll_call(ground_of(other, other.inserts[0]), seen, where="photo")
        self.assertIn("not seen where", caught.exception.sentence())

    def test_a_photo_of_something_else_is_refused(self) -> None:
        stream = io.BytesIO()
        Image.new("RGB", (1200, 900), (90, 80, 70)).save(stream, "PNG")
        with self.assertRaises(UnusableInput):
            roll_call(small(), open_picture(stream.getvalue(), where="x"), where="x")


if __name__ == "__main__":
    unittest.main()
