"""Which other thing lies in a place: named where it fits, wherever in it it lies; its own is never taken for it."""

from __future__ import annotations

import unittest
from functools import cache
from unittest.mock import patch

import numpy as np
from msgspec.structs import replace

from cozy_burrow.core.capture.photo.picture import Picture, open_picture
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.keep.edges import Edges, EdgesSeen
from cozy_burrow.core.keep.looked import Looked
from cozy_burrow.core.keep.odds import weighed
from cozy_burrow.core.keep.otherwise import looked_at_other
from cozy_burrow.core.keep.place import Place, cells_of, place_of
from cozy_burrow.core.keep.roll_call import roll_call
from cozy_burrow.core.keep.supposed import Supposed, in_thought, more_than, supposed
from cozy_burrow.core.keep.turned import lying_turned
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.relief.field import Lying
from cozy_burrow.core.relief.finish import Look
from cozy_burrow.demo import drawer as simulated
from cozy_burrow.devices.simulated_drawer import DrawerCamera
from cozy_burrow.devices.simulated_scene import Light, Stand
from tests.makers import DRIVER, box, drawer, laid, project, stations

BLUE = Look(foam=(40, 52, 74), contrast=(205, 120, 40), rim=(140, 120, 95), floor=(60, 60, 60))
DARK = Look(foam=(52, 52, 54), contrast=(52, 52, 54), rim=(140, 120, 95), floor=(52, 52, 54))
FOAM_OF_DARK = (54, 54, 55)


@cache
def ground() -> Ground:
    """A drawer of 240 x 180 with a long case, a driver, a stone and a tin."""
    things = (
        box(150, 36, 20, "case"), stations(DRIVER.replace("210", "150"), "driver"), box(60, 24, 16, "stone"),
        box(40, 30, 20, "tin"),
    )  # fmt: skip
    plan = laid(
        project(*things, bay=drawer(width=240, depth=180)),
        (120.0, 40.0, 0.0), (110.0, 95.0, 0.0), (70.0, 145.0, 0.0), (160.0, 145.0, 0.0),
    )  # fmt: skip
    return ground_of(plan, plan.inserts[0])


def key_of(name: str) -> str:
    return next(key for key, pocket in ground().pockets.items() if pocket.item.name == name)


def item_of(name: str) -> Item:
    return ground().pockets[key_of(name)].item


@cache
def photo(
    look: Look,
    *,
    missing: str = "",
    instead: tuple[str, str] | None = None,
    moved: tuple[float, float, float] = (0.0, 0.0, 0.0),
    dark: bool = False,
) -> Picture:
    """Return a photo of the drawer. instead: what lies in whose place, so many mm aside there, and so many degrees.

    dark: what lies in the case's place has nearly the colour of dark foam.
    """
    laid_in = simulated._laid_in  # the simulated drawer lays everything into the middle

    def aside(where: Ground, item: Item, own: Lying) -> Lying:
        one = laid_in(where, item, own)
        x, y, turn = moved
        there = one.placement
        lies = replace(there, x_mm=there.x_mm + x, y_mm=there.y_mm + y, angle_deg=there.angle_deg + turn)
        return Lying(item, lies, one.pose)

    stand = Stand(aim_mm=(120, 90), height_mm=360.0, tilt_deg=18.0, towards_deg=40.0, width_px=1000, height_px=750)
    with patch.object(simulated, "_laid_in", aside):
        scene = simulated.open_drawer(
            ground(),
            look,
            mark_mm=12.0,
            missing=[key_of(missing)] if missing else [],
            instead={key_of(instead[1]): item_of(instead[0])} if instead else None,
            colours={key_of("case"): FOAM_OF_DARK} if dark else None,
        )
    return open_picture(DrawerCamera(scene, stand, Light(slope=(0.4, 0.3)), 1).take_photo(), where="photo")


def called(picture: Picture) -> dict[str, Place]:
    said = roll_call(ground(), picture, where="photo")
    return {ground().pockets[one.key].item.name: one for one in said.places}


class Instead(unittest.TestCase):
    def test_it_is_named_wherever_in_the_place_it_lies(self) -> None:
        for moved in ((0.0, 0.0, 0.0), (6.0, 3.0, 0.0), (-5.0, -2.0, 3.0)):
            with self.subTest(moved=moved):
                seen = called(photo(BLUE, moved=moved, instead=("stone", "case")))
                self.assertEqual({name: one.state for name, one in seen.items() if name != "case"},
                                 {"driver": "filled", "stone": "filled", "tin": "filled"})  # fmt: skip
                self.assertEqual(seen["case"].state, "other")
                self.assertIn("stone", seen["case"].why)

    def test_a_longer_one_that_stands_over_the_place_is_named_too(self) -> None:
        seen = called(photo(BLUE, instead=("stone", "tin")))
        self.assertEqual(seen["tin"].state, "other")
        self.assertIn("stone", seen["tin"].why)

    def test_of_the_foams_colour_it_is_not_taken_for_nothing(self) -> None:
        seen = called(photo(DARK, instead=("driver", "case"), dark=True))
        self.assertIn(seen["case"].state, {"other", "unsure"})

    def test_its_own_thing_and_an_empty_place_are_no_other(self) -> None:
        for look in (BLUE, DARK):
            seen = called(photo(look, missing="tin", dark=True))
            self.assertFalse([name for name, one in seen.items() if one.state == "other"])
            self.assertEqual(seen["tin"].state, "empty")


class HardlyBare(unittest.TestCase):
    def test_what_looks_like_nothing_for_the_most_part_is_not_called_empty_unless_its_rim_is_seen(self) -> None:
        now = Looked(ground(), photo(BLUE, missing="case"), where="photo")
        cells = cells_of(now, key_of("case"))
        self.assertGreater(now.edges.of(cells).pocket, 0)
        _, columns = np.nonzero(cells)
        for share, pocket, state in ((0.3, -0.1, "unsure"), (0.3, 0.1, "empty"), (0.8, -0.1, "empty")):
            odds = np.zeros(now.grid.shape)
            odds[:, : int(np.quantile(columns, share))] = -3.0  # the rest says neither this nor that
            place = replace(place_of(now, odds, key_of("case")), state="empty")
            with patch.object(Edges, "of", return_value=EdgesSeen(0.0, pocket)):
                self.assertEqual(looked_at_other(now, odds, None, place, 0.0).state, state)


class Weighing(unittest.TestCase):
    def fits(self, picture: Picture, other: str, own: str) -> Supposed:
        now = Looked(ground(), picture, where="photo")
        place = next(one for one in now.lying if one.placement.id == key_of(own))
        lies = simulated._laid_in(ground(), item_of(other), place)
        thought = in_thought(ground(), now, place, lies)
        odds = np.zeros(now.grid.shape)
        return supposed(now, odds, thought)

    def test_by_edges_alone_what_lies_there_fits_and_what_does_not_does_not(self) -> None:
        with_stone = photo(BLUE, instead=("stone", "case"))
        self.assertGreater(self.fits(with_stone, "stone", "case").fits, 0.5)
        self.assertLess(self.fits(photo(BLUE), "stone", "case").fits, -0.3)
        empty = photo(BLUE, missing="case")
        self.assertLess(self.fits(empty, "stone", "case").rim, 0.0)

    def test_rays_speak_for_it_where_the_two_differ(self) -> None:
        now = Looked(ground(), photo(BLUE), where="photo")
        place = next(one for one in now.lying if one.placement.id == key_of("case"))
        thought = in_thought(ground(), now, place, simulated._laid_in(ground(), item_of("stone"), place))
        odds = np.zeros(now.grid.shape)
        for in_both, only_own, due in ((3.0, -2.0, 2.0), (3.0, 3.0, -3.0), (-4.0, 0.0, 0.0)):
            part = np.where(thought.is_other, in_both, np.where(thought.is_own, only_own, 0.0))
            odds[thought.window] = part
            found = supposed(now, odds, thought)
            self.assertAlmostEqual(found.rays, due, delta=0.05 * abs(due) + 0.2)
            self.assertAlmostEqual(found.shows, in_both)

    def test_against_the_thing_end_for_end_the_one_that_lies_there_has_more_and_the_other_as_much_less(self) -> None:
        now = Looked(ground(), photo(BLUE, instead=("stone", "driver")), where="photo")
        place = next(one for one in now.lying if one.placement.id == key_of("driver"))
        odds = weighed(now, None).odds
        stone, turned = (
            (thought, supposed(now, odds, thought))
            for thought in (
                in_thought(ground(), now, place, simulated._laid_in(ground(), item_of("stone"), place)),
                in_thought(ground(), now, place, lying_turned(place)),
            )
        )
        more = more_than(odds, stone, turned)
        self.assertGreater(more, 0.25)
        self.assertAlmostEqual(more_than(odds, turned, stone), -more)


if __name__ == "__main__":
    unittest.main()
