"""How well empty places show, the colours of foam, and items by themselves."""

from __future__ import annotations

import unittest

import numpy as np
import shapely
from msgspec.structs import replace

from cozy_burrow.core.findings.report import insert_findings
from cozy_burrow.core.findings.showing import HARDLY_SHOWS, SEEN_AT_A_GLANCE
from cozy_burrow.core.findings.telling import finding_text
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.model.materials import COLOURS
from cozy_burrow.core.model.records import Project, Sheet
from cozy_burrow.core.relief.emptiness import eye, shown_of
from cozy_burrow.core.relief.finish import rgb
from cozy_burrow.core.relief.portrait import portrait_of
from cozy_burrow.demo.shipped import demo_project
from tests.makers import DRIVER, box, drawer, laid, project, stations

KEY = "item-1#1"


def sheet(**fields: object) -> Sheet:
    return replace(Sheet(thickness_mm=50.0, pitch_mm=10.0), **fields)


def plan_of(sheet_: Sheet, layers: int) -> Project:
    """A large flat box whose pocket takes so many layers out of a sheet."""
    plan = laid(project(box(120.0, 70.0, 24.0), bay=drawer(sheets=(sheet_,))), (150.0, 100.0))
    placement = replace(plan.inserts[0].placements[0], zone_layers=(layers,))
    return replace(plan, inserts=(replace(plan.inserts[0], placements=(placement,)),))


def ground(sheet_: Sheet, layers: int) -> Ground:
    plan = plan_of(sheet_, layers)
    return ground_of(plan, plan.inserts[0])


def shown(sheet_: Sheet, layers: int) -> float:
    return shown_of(ground(sheet_, layers), KEY)


class Eyes(unittest.TestCase):
    def test_white_grey_and_red_are_where_the_standard_puts_them(self) -> None:
        picture = np.zeros((1, 3, 4), dtype=np.uint8)
        picture[0, :, :3] = (255, 255, 255), (119, 119, 119), (255, 0, 0)
        white, grey, red = eye(picture)[0]
        self.assertTrue(np.allclose(white, (100.0, 0.0, 0.0), atol=0.1))
        self.assertTrue(np.allclose(grey, (50.0, 0.0, 0.0), atol=0.2))
        self.assertTrue(np.allclose(red, (53.2, 80.1, 67.2), atol=0.3))


class EmptyPlaces(unittest.TestCase):
    def test_a_base_of_another_colour_shows_where_it_is_reached(self) -> None:
        based = sheet(contrast_layers=2, colour="black", base_colour="yellow")
        self.assertLess(shown(based, 2), SEEN_AT_A_GLANCE)
        self.assertGreater(shown(based, 4), 4 * SEEN_AT_A_GLANCE)
        self.assertLess(shown(sheet(colour="black"), 4), shown(based, 4) / 3)

    def test_deeper_shows_better_and_paler_foam_shows_its_shadows_better(self) -> None:
        for colour in ("", "grey", "white", "black"):
            steps = [shown(sheet(colour=colour), layers) for layers in (1, 2, 4)]
            self.assertEqual(steps, sorted(steps), colour)
        self.assertLess(shown(sheet(colour="black"), 2), shown(sheet(colour="white"), 2))

    def test_it_does_not_hang_on_where_the_pocket_lies_or_what_lies_beside_it(self) -> None:
        one = plan_of(sheet(), 2)
        alone = shown_of(ground_of(one, one.inserts[0]), KEY)
        beside = laid(project(box(120.0, 70.0, 24.0), box(60.0, 20.0, 12.0)), (120.0, 90.0), (240.0, 150.0))
        first = replace(beside.inserts[0].placements[0], zone_layers=(2,))
        beside = replace(
            beside, inserts=(replace(beside.inserts[0], placements=(first, beside.inserts[0].placements[1])),)
        )
        self.assertAlmostEqual(shown_of(ground_of(beside, beside.inserts[0]), KEY), alone, delta=0.7)

    def test_one_finding_names_all_that_hardly_show_and_none_is_there_where_all_do(self) -> None:
        plan = demo_project()
        first = ground_of(plan, plan.inserts[0])
        found = [one for one in insert_findings(first) if one.code == HARDLY_SHOWS.code]
        steps = {key: shown_of(first, key) for key in first.pockets}
        faint = {key for key, value in steps.items() if value < SEEN_AT_A_GLANCE}
        self.assertTrue(0 < len(faint) < len(steps))
        self.assertEqual(len(found), 1)
        self.assertEqual(set(found[0].placements), faint)
        self.assertEqual(found[0].placements[0], min(steps, key=lambda key: (steps[key], key)))
        self.assertEqual(found[0].severity, "note")
        self.assertIn("steps of lightness and colour", finding_text(plan, found[0]))
        bright = ground(sheet(contrast_layers=2, colour="black", base_colour="yellow"), 4)
        self.assertNotIn(HARDLY_SHOWS.code, [one.code for one in insert_findings(bright)])


class FoamColours(unittest.TestCase):
    def test_layers_have_the_colours_that_somebody_named(self) -> None:
        named = ground(sheet(contrast_layers=2, colour="black", base_colour="yellow"), 2)
        self.assertEqual([layer.colour for layer in named.layers], [COLOURS["black"]] * 3 + [COLOURS["yellow"]] * 2)
        self.assertEqual({layer.colour for layer in ground(sheet(contrast_layers=2), 2).layers}, {""})

    def test_the_picture_wears_them(self) -> None:
        from cozy_burrow.core.relief.field import field_of
        from cozy_burrow.core.relief.finish import daylight
        from cozy_burrow.core.relief.grid import Grid

        where = Grid.over((20.0, 20.0, 280.0, 180.0), 1.0)
        found = field_of(
            ground(sheet(contrast_layers=2, colour="black", base_colour="yellow"), 3), where, daylight(), filled=False
        )
        colours = [found.finishes[found.owner[row, column]].colour for row, column in ((5, 5), (80, 130))]
        self.assertEqual(colours, [rgb(COLOURS["black"]), rgb(COLOURS["yellow"])])


class Portraits(unittest.TestCase):
    def test_they_cover_what_the_item_covers(self) -> None:
        for item in (stations(DRIVER), box(90.0, 33.0, 12.0)):
            for scale in (0.4, 1.0, 2.7):
                found = portrait_of(item, scale)
                covered = float((found.pixels[:, :, 3] / 255.0).sum()) / scale**2
                self.assertAlmostEqual(covered / polygon_of(item.outline).area, 1.0, delta=0.03 / min(1.0, scale))
                left, top, right, bottom = found.grid.bounds
                self.assertTrue(shapely.box(left, top, right, bottom).covers(polygon_of(item.outline)))

    def test_a_round_handle_is_brighter_at_the_back_than_in_front(self) -> None:
        found = portrait_of(stations(DRIVER), 2.0)
        x = round((30.0 - found.grid.left_mm) * 2.0)
        light = found.pixels[:, x, :3].astype(float).sum(axis=1)[found.pixels[:, x, 3] == 255]
        third = len(light) // 3
        self.assertGreater(light[:third].mean(), 1.3 * light[-third:].mean())
