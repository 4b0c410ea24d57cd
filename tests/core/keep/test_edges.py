"""Edges that are seen where a thing has them, or where its empty pocket has: steps in rasters, and things like foam."""

from __future__ import annotations

import unittest

import numpy as np

from cozy_burrow.core.capture.photo.picture import open_picture
from cozy_burrow.core.keep.edges import Edges
from cozy_burrow.core.keep.empty_look import Look, Mask, coarse_of
from cozy_burrow.core.keep.rays import Hits, light_table
from cozy_burrow.core.keep.roll_call import roll_call
from cozy_burrow.core.relief.finish import Look as Finish
from cozy_burrow.devices.simulated_scene import Light
from tests.core.keep.test_lamp import key_of as key_in_tools
from tests.core.keep.test_lamp import photo as tools_photo
from tests.core.keep.test_lamp import tools
from tests.core.keep.test_roll_call import PLAIN, key_of, photo, small

_ROWS, _COLUMNS = 120, 160
_THING, _POCKET = (30, 90, 40, 90), (24, 70, 52, 130)  # first and last row, first and last column


def within(bounds: tuple[int, int, int, int]) -> Mask:
    cells = np.zeros((_ROWS, _COLUMNS), dtype=bool)
    cells[bounds[0] : bounds[1], bounds[2] : bounds[3]] = True
    return cells


def met(cells: Mask, height_mm: float) -> Hits:
    rows, columns = (np.asarray(one, dtype=np.float32) for one in np.indices(cells.shape))
    high = np.where(cells, height_mm, 0.0).astype(np.float32)
    return Hits(np.where(cells, 7, 1).astype(np.int16), high, np.zeros(cells.shape, dtype=bool), columns, rows)


def look(cells: Mask, step: float, *, noise: float = 0.01, hue: float = 0.0) -> Look:
    chance = np.random.default_rng(5)
    level = (np.where(cells, step, 0.0) + noise * chance.standard_normal(cells.shape)).astype(np.float32)
    hues = np.zeros((*cells.shape, 3), dtype=np.float32)
    hues[..., 0] = np.where(cells, hue, 0.0)
    return Look(level=level, hue=hues, told=np.ones(cells.shape, dtype=bool), coarse=np.zeros_like(hues))


class Steps(unittest.TestCase):
    def setUp(self) -> None:
        self.thing, self.pocket = within(_THING), within(_POCKET)
        self.full, self.empty = met(self.thing, 6.0), met(self.pocket, -20.0)

    def seen(self, photo_of: Look) -> tuple[float, float]:
        found = Edges(photo_of, self.full, self.empty).of(self.thing | self.pocket)
        return found.thing, found.pocket

    def test_those_of_the_thing_are_told_from_those_of_its_pocket(self) -> None:
        for said in ({"step": 0.4}, {"step": -0.4}, {"step": 0.0, "hue": 0.3}):
            thing, pocket = self.seen(look(self.thing, **said))
            self.assertGreater(thing, 0.3, said)
            self.assertLess(pocket, -0.15, said)
            thing, pocket = self.seen(look(self.pocket, **said))
            self.assertLess(thing, -0.15, said)
            self.assertGreater(pocket, 0.3, said)

    def test_noise_alone_speaks_for_neither(self) -> None:
        thing, pocket = self.seen(look(self.thing, 0.0, noise=0.05))
        self.assertLess(abs(thing - pocket), 0.1)
        self.assertLess(max(thing, pocket), 0.0)

    def test_a_splinter_across_is_no_edge_of_either(self) -> None:
        across = within((55, 58, 0, _COLUMNS))
        thing, pocket = self.seen(look(across, 1.0))
        self.assertLess(max(thing, pocket), 0.0)

    def test_what_hardly_lies_apart_says_nothing(self) -> None:
        same = Edges(look(self.thing, 0.5), self.full, met(self.thing, -20.0)).of(self.thing)
        self.assertEqual((same.thing, same.pocket, same.balance), (0.0, 0.0, 0.0))


class Dark(unittest.TestCase):
    def test_colours_of_the_dark_are_told_as_coarsely_as_a_photo_has_them(self) -> None:
        chance = np.random.default_rng(8)
        for light in (0.0008, 0.003, 0.02, 0.3):
            true = light * np.exp(chance.uniform(-0.1, 0.1, (4000, 1, 3)))
            values = np.searchsorted((light_table()[1:] + light_table()[:-1]) / 2, true)
            off = np.log(light_table()[np.maximum(1, values)]) - np.log(true)
            due = coarse_of(true.astype(np.float32))
            self.assertLess(float(off.std()), 1.1 * float(due.mean()))
            self.assertGreater(float(off.std()), 0.3 * float(due.mean()))

    def test_the_dark_of_an_empty_pocket_in_blue_foam_has_nothing_in_it(self) -> None:
        blue = Finish(foam=(40, 52, 74), contrast=(40, 52, 74), rim=(140, 120, 95), floor=(40, 52, 74))
        gone = ("Voicing tool", "Depth stop", "Felt strip reel", "Tuning lever")
        keys = {key_in_tools(name): name for name in gone}
        light = Light(slope=(-0.6, -0.5), ambient=0.35)
        seen = open_picture(tools_photo(light, look=blue, missing=list(keys)), where="photo")
        said = {keys[one.key]: one.state for one in roll_call(tools(), seen, where="photo").places if one.key in keys}
        self.assertEqual(said, dict.fromkeys(gone, "empty"))


class ThingsLikeFoam(unittest.TestCase):
    def test_its_outline_keeps_a_thing_of_shaded_foams_colour_from_being_empty(self) -> None:
        stone = key_of("stone")
        for colour in ((52, 52, 54), (34, 34, 35)):
            for tilt_deg in (12.0, 28.0):
                seen = photo(look=PLAIN, tilt_deg=tilt_deg, colours={stone: colour})
                said = {one.key: one for one in roll_call(small(), seen, where="photo").places}
                self.assertIn(said[stone].state, {"filled", "unsure"}, (colour, tilt_deg))

    def test_a_thing_as_dark_as_the_shade_is_found_end_for_end(self) -> None:
        driver = key_of("driver")
        grey = Finish(foam=(92, 92, 95), contrast=(92, 92, 95), rim=(140, 120, 95), floor=(92, 92, 95))
        for tilt_deg in (12.0, 28.0):
            for colour in ((36, 36, 38), (52, 52, 54)):
                seen = photo(look=grey, tilt_deg=tilt_deg, turned=[driver], colours={driver: colour})
                said = {one.key: one.state for one in roll_call(small(), seen, where="photo").places}
                self.assertIn(said[driver], {"turned", "unsure"}, (tilt_deg, colour))
            gone = roll_call(small(), photo(look=grey, tilt_deg=tilt_deg, missing=[driver]), where="photo")
            self.assertEqual({one.key: one.state for one in gone.places}[driver], "empty")

    def test_its_empty_pocket_is_not_taken_for_it(self) -> None:
        stone = key_of("stone")
        for tilt_deg in (12.0, 28.0):
            said = roll_call(small(), photo(tilt_deg=tilt_deg, missing=[stone]), where="photo")
            self.assertEqual({one.key: one.state for one in said.places}[stone], "empty")


if __name__ == "__main__":
    unittest.main()
