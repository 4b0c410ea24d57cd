"""Outer walls that flop and tongues of foam: against closed forms of beams and plates, and as a fitter meets them."""

from __future__ import annotations

import math
import unittest

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace

from cozy_burrow.core.depth.bending import BRUSH_N, bends_mm, long_upright_mm, upright_mm
from cozy_burrow.core.findings.floppy import FLOPPY_EDGE, TONGUE
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.findings.telling import finding_text
from cozy_burrow.core.findings.walls import THIN_EDGE
from cozy_burrow.core.geometry.rings import outline_of, rectangle
from cozy_burrow.core.ground.floppy import floppy_edges
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.ground.tongues import tongues_of
from cozy_burrow.core.kit.shapes import box_item
from cozy_burrow.core.model.records import Item, Project, Rules, Sheet
from cozy_burrow.jobs.cut_words import cutting_text
from tests.makers import drawer, laid, project

STRESS = 0.16  # N/mm², of foam of 30 kg/m³
ON_LINE = Rules(allowance_mm=0.0, edge_mm=5.0, seat="flush", floor_layers=1, least_foam_mm=0.0)


def bent(thick: float, long: float, deep: float, *, foot: bool, held: tuple[bool, bool]) -> np.ndarray:
    """How far an even wall gives at 201 places."""
    return bends_mm(np.full(201, thick), long / 200, deep_mm=deep, pressed_n_mm2=STRESS, foot=foot, held=held)


class Beams(unittest.TestCase):
    def test_without_a_foot_it_is_the_beam_of_the_handbook(self) -> None:
        inertia = 30 * 12.0**3 / 12
        both = bent(12, 200, 30, foot=False, held=(True, True))
        self.assertAlmostEqual(both[100] / (BRUSH_N * 200**3 / (192 * STRESS * inertia)), 1.0, places=6)
        one = bent(12, 200, 30, foot=False, held=(True, False))
        self.assertAlmostEqual(one[200] / (BRUSH_N * 200**3 / (3 * STRESS * inertia)), 1.0, places=6)
        self.assertAlmostEqual(one[100] / (BRUSH_N * 100**3 / (3 * STRESS * inertia)), 1.0, places=6)
        self.assertTrue(np.isinf(bent(12, 200, 30, foot=False, held=(False, False))).all())

    def test_a_taper_without_a_foot_is_the_integral_of_its_bending(self) -> None:
        thick = np.linspace(20, 8, 401)
        at = np.linspace(0, 120, 401)
        found = bends_mm(thick, 0.3, deep_mm=25, pressed_n_mm2=STRESS, foot=False, held=(True, False))[-1]
        moment = (120 - at) ** 2 / (STRESS * 25 * thick**3 / 12)
        self.assertAlmostEqual(found / np.trapezoid(moment, at), 1.0, places=3)

    def test_a_short_piece_on_its_foot_alone_is_a_cantilever(self) -> None:
        # Pushed in its middle and free all round but at its foot, it leans as a whole.
        found = bent(15, 10, 40, foot=True, held=(False, False))[100]
        self.assertAlmostEqual(found / (BRUSH_N * 4 * 40**3 / (STRESS * 10 * 15**3)), 1.0, places=2)

    def test_told_from_its_other_end_it_bends_as_much(self) -> None:
        thick = np.array([9.0, 14.0, 22.0, 11.0, 17.0])
        for foot, held in ((True, (False, False)), (True, (True, False)), (False, (False, True))):
            said = {"deep_mm": 40.0, "pressed_n_mm2": STRESS, "foot": foot}
            found = bends_mm(thick, 8.0, held=held, **said)  # type: ignore[arg-type]
            back = bends_mm(thick[::-1], 8.0, held=held[::-1], **said)  # type: ignore[arg-type]
            self.assertTrue(np.allclose(found, back[::-1], rtol=1e-9), (found, back))

    def test_a_long_wall_is_the_plate_of_the_book_but_for_a_little(self) -> None:
        found = bent(14, 1200, 40, foot=True, held=(False, False))[100]
        plate = 0.168 * BRUSH_N * 40**2 / (STRESS * 14**3 / 12)
        self.assertLess(abs(found / plate - 0.93), 0.02)
        self.assertAlmostEqual(upright_mm(14, found), long_upright_mm(40, STRESS), places=2)

    def test_what_is_upright_just_does_not_flop(self) -> None:
        for deep, expected in ((25, 9.2), (40, 11.7), (80, 16.5)):
            thick = long_upright_mm(deep, STRESS)
            self.assertAlmostEqual(thick, expected, delta=0.3)
            self.assertAlmostEqual(bent(thick, 40 * deep, deep, foot=True, held=(True, True))[100], thick, delta=0.01)

    @given(
        some.floats(3, 40), some.floats(20, 600), some.floats(5, 120), some.booleans(), some.booleans(), some.booleans()
    )
    def test_what_is_thicker_or_held_more_never_bends_more(
        self, thick: float, long: float, deep: float, foot: bool, left: bool, right: bool
    ) -> None:
        now = bent(thick, long, deep, foot=foot, held=(left, right))
        self.assertTrue((bent(thick * 1.2, long, deep, foot=foot, held=(left, right)) <= now).all())
        self.assertTrue((bent(thick, long, deep, foot=True, held=(True, True)) <= now * (1 + 1e-6) + 1e-9).all())


def edge(length: float, wall: float, deep: float, **rules: object) -> tuple[Project, Ground]:
    """A box that stands `deep` in foam, `wall` from the edge at the back of a wide drawer."""
    layers = math.ceil(deep / 10) + 2
    bay = drawer(width=700, depth=300, height=200, sheets=(Sheet(thickness_mm=10.0 * layers, pitch_mm=10.0),))
    thing = box_item("item-1", "box", length_mm=length, width_mm=60.0, thickness_mm=deep)
    plan = laid(project(thing, rules=replace(ON_LINE, **rules), bay=bay), (350, wall + 30))
    return plan, ground_of(plan, plan.inserts[0])


class Edges(unittest.TestCase):
    def test_a_long_deep_wall_flops_and_one_as_thin_and_deep_but_short_does_not(self) -> None:
        (found,) = floppy_edges(edge(400, 14, 80)[1])
        self.assertAlmostEqual(found.thick_mm, 14, delta=0.1)
        self.assertAlmostEqual(found.upright_mm, long_upright_mm(80, STRESS), delta=0.3)
        self.assertEqual((found.owners, found.layer, found.deep_mm), (("item-1#1",), 8, 80.0))
        self.assertEqual(floppy_edges(edge(60, 14, 80)[1]), ())
        self.assertEqual(floppy_edges(edge(400, 14, 40)[1]), ())

    def test_moved_in_by_what_is_said_it_stays_upright(self) -> None:
        (found,) = floppy_edges(edge(400, 12, 80)[1])
        self.assertEqual(floppy_edges(edge(400, found.upright_mm + 0.3, 80)[1]), ())
        self.assertEqual(len(floppy_edges(edge(400, found.upright_mm - 0.6, 80)[1])), 1)

    def test_an_end_that_is_open_to_the_side_makes_it_flop(self) -> None:
        plan, whole = edge(400, 17.2, 80)
        self.assertEqual(floppy_edges(whole), ())
        slot = replace(box_item("item-2", "slot", length_mm=60, width_mm=90, thickness_mm=80), id="item-2")
        both = replace(plan, items=(*plan.items, slot))
        both = laid(both, (350, 47.2), (590, 20))
        found = floppy_edges(ground_of(both, both.inserts[0]))
        self.assertEqual(len(found), 1)
        self.assertIn("item-1#1", found[0].owners)
        self.assertLess(abs(found[0].at_mm[0] - 560), 40)

    def test_cut_right_through_only_its_ends_hold_it(self) -> None:
        bay = drawer(width=700, depth=300, height=60, sheets=(Sheet(thickness_mm=30.0, material="plain"),))
        for length, expected in ((120, 0), (500, 1)):
            thing = box_item("item-1", "box", length_mm=length, width_mm=60.0, thickness_mm=30)
            plan = laid(project(thing, rules=replace(ON_LINE, floor_layers=0), bay=bay), (350, 48))
            self.assertEqual(len(floppy_edges(ground_of(plan, plan.inserts[0]))), expected, length)

    def test_it_is_said_once_and_not_where_the_edge_is_too_thin_already(self) -> None:
        plan, _ = edge(400, 14, 80)
        said = [one for one in findings_of(plan) if one.code == FLOPPY_EDGE.code]
        self.assertEqual([(one.placements, one.severity) for one in said], [(("item-1#1",), "note")])
        free = replace(plan, containers=(replace(plan.containers[0], kind="wall"),))
        self.assertEqual([one.severity for one in findings_of(free) if one.code == FLOPPY_EDGE.code], ["care"])
        self.assertRegex(
            finding_text(plan, said[0]), r"14 mm thick.* in layer 8.*From 16\.\d mm on.*move the item 2\.\d mm"
        )
        codes = {one.code for one in findings_of(edge(400, 14, 80, edge_mm=20.0)[0])}
        self.assertIn(THIN_EDGE.code, codes)
        self.assertNotIn(FLOPPY_EDGE.code, codes)


def fork(gap: float, long: float, thick: float = 40, root: float = 20) -> Item:
    """A thing with two legs, `gap` apart and `long` long: foam stands between them, held at the open end."""
    whole = rectangle(root + long, 2 * 15 + gap)
    _, top, right, _ = whole.bounds
    between = rectangle(long + 1, gap)
    dx, dy = right - long - between.bounds[0], top + 15 - between.bounds[1]
    shape = whole.difference(shapely.transform(between, lambda at: at + np.array([dx, dy])))
    thing = box_item("item-1", "fork", length_mm=100, width_mm=50, thickness_mm=thick)
    outline = outline_of(shape)
    return replace(thing, outline=outline, zones=tuple(replace(one, region=outline) for one in thing.zones))


def with_fork(thing: Item) -> tuple[Project, Ground]:
    """It lies flush in deep foam."""
    bay = drawer(width=400, depth=300, height=120, sheets=(Sheet(thickness_mm=80.0, pitch_mm=10.0),))
    plan = laid(project(thing, rules=ON_LINE, bay=bay), (200, 150, 30))
    return plan, ground_of(plan, plan.inserts[0])


class Tongues(unittest.TestCase):
    def test_foam_between_two_legs_is_a_tongue_where_it_flops(self) -> None:
        plan, ground = with_fork(fork(8, 70))
        (found,) = tongues_of(ground)
        self.assertEqual(found.owners, ("item-1#1",))
        self.assertAlmostEqual(found.long_mm, 70, delta=6)
        self.assertAlmostEqual(found.wide_mm, 8, delta=0.6)
        self.assertTrue(found.is_kept)
        (said,) = [one for one in findings_of(plan) if one.code == TONGUE.code]
        self.assertEqual(said.severity, "note")
        self.assertIn("glue it down", finding_text(plan, said))
        self.assertRegex(
            cutting_text(ground, "item-1#1", "mm"), r"A tongue of foam, \d+ mm long and 8 mm wide.*glue it"
        )

    def test_a_broad_one_a_shallow_one_and_a_short_one_stay_as_they_are(self) -> None:
        for thing in (fork(20, 70), fork(8, 70, thick=10), fork(8, 10)):
            self.assertEqual(tongues_of(with_fork(thing)[1]), ())

    def test_a_small_one_is_given_up(self) -> None:
        plan, ground = with_fork(fork(5, 30))
        (found,) = tongues_of(ground)
        self.assertFalse(found.is_kept)
        (said,) = [one for one in findings_of(plan) if one.code == TONGUE.code]
        self.assertIn("cut it off", finding_text(plan, said))
        self.assertIn("cut it off", cutting_text(ground, "item-1#1", "mm"))

    def test_foam_between_two_pockets_is_one_where_a_pull_joins_them_and_not_before(self) -> None:
        bay = drawer(width=400, depth=300, height=120, sheets=(Sheet(thickness_mm=80.0, pitch_mm=10.0),))
        things = [replace(box_item("x", f"bar {n}", length_mm=140, width_mm=20, thickness_mm=40)) for n in (1, 2)]
        cross = box_item("x", "cross", length_mm=30, width_mm=120, thickness_mm=40)
        apart = laid(project(*things, rules=ON_LINE, bay=bay), (150, 100), (150, 127))
        self.assertEqual(tongues_of(ground_of(apart, apart.inserts[0])), ())
        joined = laid(project(*things, cross, rules=ON_LINE, bay=bay), (150, 100), (150, 127), (230, 113.5))
        (found,) = tongues_of(ground_of(joined, joined.inserts[0]))
        self.assertEqual(set(found.owners), {one.id for one in joined.inserts[0].placements})
        self.assertAlmostEqual(found.wide_mm, 7, delta=0.6)
