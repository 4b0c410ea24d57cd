"""Weight and balance of loaded containers, what is found about containers, plain and cubed foam: closed forms."""

from __future__ import annotations

import math
import unittest

from msgspec.structs import replace

from cozy_burrow.core.arrange.facts import facts_of
from cozy_burrow.core.bench.cuts import cutting_plan
from cozy_burrow.core.container.bay import Bay, bay_of, headroom_mm
from cozy_burrow.core.container.blank import blanks_of
from cozy_burrow.core.depth.seat import floor_left_mm
from cozy_burrow.core.depth.seated import local_pocket, placed_pocket, seating_of
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.findings.kinds import KINDS
from cozy_burrow.core.findings.mends import mended
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.findings.stages import progress
from cozy_burrow.core.findings.telling import finding_text
from cozy_burrow.core.findings.vessels import lip_bend, stuck_mm
from cozy_burrow.core.ground.carrying import carried, unsure_g
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.ground.section import cut_along
from cozy_burrow.core.model.edits import change_container, change_item
from cozy_burrow.core.model.records import Container, Insert, Placement, Project, Rules, Sheet
from cozy_burrow.core.model.vessels import Corner, Handle, Lid, Obstacle, Taped
from cozy_burrow.jobs.export import export_files
from cozy_burrow.jobs.wording import mend_text
from tests.makers import box, drawer, laid, project

LINE = Rules(allowance_mm=0.0, edge_mm=10.0)


def codes(plan: Project) -> dict[str, Finding]:
    return {one.code: one for one in findings_of(plan)}


def case(**fields: object) -> Bay:
    """Return a case of 400 x 300 x 100 with one 50 mm sheet."""
    return Bay(
        container=Container(**{"kind": "case", "width_mm": 400.0, "depth_mm": 300.0, "height_mm": 100.0, **fields}),
        sheets=(Sheet(density_kg_m3=40.0),),
    )


class Carrying(unittest.TestCase):
    def test_weights_and_their_middle_are_what_a_scale_would_say(self) -> None:
        heavy = replace(box(100, 60, 20), mass_g=900.0)
        bay = case(handle=Handle(side="front", along_mm=200.0, height_mm=50.0), empty_mass_g=500.0)
        plan = laid(project(heavy, rules=replace(LINE, seat="flush"), bay=bay), (100, 150))
        load = carried(plan, plan.containers[0])
        foam = (400 * 300 * 50 - 100 * 60 * 20) * 40e-6
        self.assertAlmostEqual(load.foam_g, foam, delta=0.01)
        self.assertAlmostEqual(load.whole.mass_g, foam + 900 + 500, delta=0.01)
        foam_x = (400 * 300 * 50 * 200 - 100 * 60 * 20 * 100) * 40e-6
        x = (foam_x + 900 * 100 + 500 * 200) / (foam + 1400)
        self.assertAlmostEqual(load.whole.x_mm, x, delta=0.01)
        self.assertAlmostEqual(load.whole.y_mm, 150.0, delta=0.01)
        assert load.sideways_deg is not None
        self.assertAlmostEqual(load.sideways_deg, math.degrees(math.atan2(x - 200, 150)), places=3)
        found = codes(plan)["HANGS_ASKEW"]
        self.assertEqual((found.extra, found.unit), ("left", "°"))
        self.assertIn("left of its handle", finding_text(plan, found))

    def test_a_pull_takes_only_the_foam_that_its_pocket_left(self) -> None:
        from cozy_burrow.core.ground.gripping import regripped

        plan = laid(project(replace(box(100, 60, 12), mass_g=10.0), rules=LINE, bay=case()), (200, 150))
        pulled = regripped(plan, "insert-1", ["item-1#1"])
        ground = ground_of(pulled, pulled.inserts[0])
        stays = sum((400 * 300 - ground.taken_out(n).area) * 10 for n in range(1, 6)) * 40e-6
        self.assertAlmostEqual(carried(pulled, pulled.containers[0]).foam_g, stays, delta=0.02)

    def test_what_is_heavy_or_unknown_is_said(self) -> None:
        heavy = replace(box(100, 60, 20), mass_g=30_000.0)
        other = replace(box(40, 40, 20), id="item-2", name="unknown")
        plan = laid(project(heavy, other, rules=LINE, bay=case()), (100, 150), (300, 150))
        self.assertEqual(codes(plan)["HEAVY"].limit, 20.0)
        load = carried(plan, plan.containers[0])
        self.assertEqual(load.unknown, ("item-2#1",))
        self.assertIsNone(load.sideways_deg)

    def test_what_nobody_weighed_counts_by_the_one_rule_and_makes_the_whole_less_sure(self) -> None:
        known, other = replace(box(100, 60, 20), mass_g=400.0), box(40, 40, 20, "unknown")
        plan = laid(project(known, other, rules=LINE, bay=case()), (100, 150), (300, 150))
        load = carried(plan, plan.containers[0])
        guess = 40 * 40 * 20 * 6e-4
        self.assertAlmostEqual(load.guessed_g, guess)
        self.assertAlmostEqual(load.things_g, 400.0 + guess)
        self.assertAlmostEqual(facts_of(other).mass_g, guess)
        weighed = change_item(plan, replace(plan.items[1], mass_g=guess))
        sure = carried(weighed, weighed.containers[0])
        self.assertAlmostEqual(sure.whole.x_mm, load.whole.x_mm)
        self.assertGreater(unsure_g(load), unsure_g(sure) + 0.1)


class Vessels(unittest.TestCase):
    def with_box(self, container: Container, **insert: object) -> Project:
        one = Insert(id="insert-1", name="Tray", container_id=container.id, **insert)
        return Project(containers=(container,), inserts=(one,), rules=LINE)

    def test_surveys_are_judged(self) -> None:
        points = {"A": (0.0, 0.0), "B": (400.0, 0.0), "C": (400.0, 300.0), "D": (0.0, 300.0)}
        corners = tuple(Corner(name=n, x_mm=x, y_mm=y) for n, (x, y) in points.items())

        def tape(*pairs: str, **odd: float) -> tuple[Taped, ...]:
            return tuple(
                Taped(first=p[0], second=p[1], length_mm=math.dist(points[p[0]], points[p[1]]) + odd.get(p, 0.0))
                for p in pairs
            )

        sides = ("AB", "BC", "CD", "DA")
        for taped, code in (
            (tape(*sides), "SURVEY_SHORT"),
            (tape(*sides, "AC", AC=290.0), "SURVEY_BROKEN"),
            (tape(*sides, *sides, "AC", "BD", BC=9.0), "TAPE_AGAIN"),
        ):
            plan = self.with_box(Container(corners=corners, taped=taped))
            with self.subTest(code):
                found = codes(plan)
                self.assertIn(code, found)
                self.assertGreater(len(finding_text(plan, found[code])), 20)
        self.assertNotIn("SURVEY_SHORT", codes(self.with_box(Container(corners=corners, taped=tape(*sides, "AC")))))

    def test_walls_that_meet_and_tiers_that_stick(self) -> None:
        closed = self.with_box(Container(kind="case", height_mm=300.0, draft_deg=(44.0,) * 4))
        self.assertIn("DRAFT_CLOSES", codes(closed))
        undercut = Container(kind="case", width_mm=400.0, depth_mm=300.0, height_mm=100.0, draft_deg=(-4.0,) * 4)
        found = codes(self.with_box(undercut))["TIER_STUCK"]
        # The blank stands at half its sheet's height: 75 mm below the rim, in the corner by both walls.
        self.assertAlmostEqual(found.value, 75 * math.tan(math.radians(4)) * math.sqrt(2), delta=0.05)
        barely = replace(undercut, draft_deg=(-0.4,) * 4)  # 0.7 mm: foam gives so much
        self.assertNotIn("TIER_STUCK", codes(self.with_box(barely)))
        latch = Obstacle(name="latch", kind="latch", ring=((180, 290), (220, 290), (220, 300), (180, 300)), low_mm=60.0)
        box_with = replace(undercut, draft_deg=(0.0,) * 4, obstacles=(latch,))
        blank = blanks_of(bay_of(self.with_box(box_with), self.with_box(box_with).inserts[0]))[0]
        self.assertAlmostEqual(stuck_mm(box_with, blank), 10.0)

    def test_a_lip_that_creases_the_blank_is_told_with_its_share_and_limit(self) -> None:
        lipped = Container(kind="drawer", width_mm=400.0, depth_mm=200.0, height_mm=80.0, front_lip_mm=40.0)
        plan = self.with_box(lipped)
        bend = lip_bend(bay_of(plan, plan.inserts[0]))
        assert bend is not None
        found = codes(plan)["LIP_CREASES"]
        self.assertAlmostEqual(found.value, 100 * bend[1])
        self.assertEqual((found.limit, found.unit), (12.0, "%"))
        self.assertGreater(found.value, found.limit)
        self.assertNotIn("LIP_CREASES", codes(self.with_box(replace(lipped, front_lip_mm=0.0))))

    def test_a_lip_bends_the_blank_by_what_an_arc_says(self) -> None:
        bay = Bay(container=Container(depth_mm=400.0, front_lip_mm=12.0), sheets=(Sheet(thickness_mm=50.0),))
        rise, stretch = lip_bend(bay) or (0.0, 0.0)
        radius = 400.0**2 / (8 * rise)
        half = 400.0 / radius / 2
        self.assertAlmostEqual(2 * radius * math.sin(half), 388.0, delta=0.5)
        self.assertAlmostEqual(stretch, 25.0 / radius)
        self.assertIsNone(lip_bend(drawer()))

    def test_tiers_want_straps_and_take_them(self) -> None:
        box_of_two = Container(kind="case", height_mm=110.0, lid=Lid(depth_mm=20.0, foam_mm=20.0, give_mm=5.0))
        plan = Project(containers=(box_of_two,), inserts=(Insert(id="a", name="Top"), Insert(id="b", name="Low")))
        straps = [one for one in findings_of(plan) if one.code == "NO_STRAPS"]
        self.assertEqual({one.subject for one in straps}, {"a", "b"})
        self.assertIn("‘Top’", finding_text(plan, next(one for one in straps if one.subject == "a")))
        plan = mended(plan, straps[0].subject, straps[0].mends[0])
        self.assertTrue(mend_text(plan, straps[0].mends[0]))
        self.assertEqual(sum(one.code == "NO_STRAPS" for one in findings_of(plan)), 1)
        self.assertAlmostEqual(headroom_mm(bay_of(plan, plan.inserts[0])), 110 - 100 + 20 - 20 + 5)

    def test_a_thing_below_a_tier_does_not_touch_it_and_one_that_stands_out_is_a_stop(self) -> None:
        plan = laid(project(box(80, 40, 26), rules=LINE, bay=case(height_mm=120.0)), (100, 100))
        tall = replace(plan, inserts=(Insert(id="top", name="Top", lift_straps=True), *plan.inserts))
        ground = ground_of(tall, tall.inserts[1])
        self.assertEqual(ground.pockets["item-1#1"].seating.zone_layers, (3,))
        proud = replace(tall, rules=replace(LINE, seat="half"))
        self.assertIn("TOO_HIGH", codes(proud))

    def test_fixing_points_are_kept_free_and_change_with_the_container(self) -> None:
        screw = Obstacle(name="screw", kind="fixing", ring=((95, 95), (105, 95), (105, 105), (95, 105)), high_mm=5.0)
        plan = laid(project(box(80, 40, 20), rules=LINE, bay=case(kind="wall")), (100, 100))
        self.assertNotIn("ON_FIXING", codes(plan))
        fixed = change_container(plan, replace(plan.containers[0], obstacles=(screw,)))
        found = codes(fixed)["ON_FIXING"]
        cleared = mended(fixed, "insert-1", found.mends[0])
        self.assertNotIn("ON_FIXING", codes(cleared))

    def test_every_kind_has_its_words(self) -> None:
        self.assertTrue(all(kind.title and kind.why.endswith(".") for kind in KINDS.values()))


class OtherFoams(unittest.TestCase):
    def test_plain_foam_is_cut_through_and_the_plug_put_back(self) -> None:
        plain = Sheet(thickness_mm=50.0, pitch_mm=50.0, material="plain")
        base = Sheet(thickness_mm=10.0, pitch_mm=10.0)
        item = box(60, 20, 31)
        bay = drawer(sheets=(plain, base))
        half = seating_of(item, None, bay, replace(LINE, seat="half"))
        self.assertEqual((half.zone_layers, half.risers_mm), ((1,), (34.5,)))
        self.assertAlmostEqual(half.proud_mm, 15.5)
        self.assertAlmostEqual(floor_left_mm(half, bay.sheets), 10 + 34.5)
        deep = seating_of(item, None, bay, replace(LINE, seat="deep"))
        self.assertEqual((deep.bottom_mm, deep.risers_mm), (50.0, ()))
        alone = seating_of(item, None, drawer(sheets=(plain,)), replace(LINE, seat="deep"))
        self.assertEqual((alone.bottom_mm, alone.risers_mm), (42.0, (8.0,)))
        plan = laid(project(item, rules=replace(LINE, seat="deep"), bay=drawer(sheets=(plain,))), (100, 100))
        self.assertNotIn("FLOOR_GONE", codes(plan))

    def test_cubed_foam_loses_whole_cubes(self) -> None:
        cubed = Sheet(thickness_mm=40.0, pitch_mm=40.0, material="cubed", cell_mm=15.0)
        bay = drawer(sheets=(cubed, Sheet(thickness_mm=20.0)))
        item, place = box(58, 28, 30), Placement(id="item-1#1", item_id="item-1", copy=1, x_mm=100.0, y_mm=80.0)
        area = placed_pocket(item, place, bay, LINE).surface
        self.assertAlmostEqual(area.area % 225.0, 0.0, delta=1e-6)
        left, top, right, bottom = area.bounds
        self.assertEqual([value % 15.0 for value in area.bounds], [0.0] * 4)
        # 71 to 129 and 66 to 94: cubes more than a third covered.
        self.assertEqual((left, top, right, bottom), (75.0, 60.0, 135.0, 90.0))
        self.assertAlmostEqual(local_pocket(item, None, bay, LINE).surface.area, 58 * 28, delta=0.1)

    def test_layers_of_mixed_sheets_are_counted_through(self) -> None:
        mixed = (Sheet(thickness_mm=30.0, pitch_mm=3.0), Sheet(thickness_mm=30.0, pitch_mm=10.0))
        found = seating_of(box(60, 20, 44), None, drawer(sheets=mixed), replace(LINE, seat="flush"))
        self.assertEqual((found.zone_layers, found.bottom_mm), ((11,), 40.0))

    def test_a_riser_is_said_where_the_knife_works(self) -> None:
        plain = Sheet(name="plain", thickness_mm=50.0, pitch_mm=50.0, material="plain")
        base = Sheet(thickness_mm=10.0, pitch_mm=10.0)
        plan = laid(
            project(box(80, 30, 31), rules=replace(LINE, seat="half"), bay=drawer(sheets=(plain, base))), (100, 80)
        )
        ground = ground_of(plan, plan.inserts[0])
        cut = cut_along(ground, (-5.0, 80.0), (305.0, 80.0))
        self.assertEqual([(body.riser_mm, body.floor_layers) for body in cut.bodies], [(34.5, 1)])
        self.assertEqual([(bite.layer, bite.span) for bite in cut.bites], [(1, (65.0, 145.0))])
        cuts = cutting_plan(ground)[0].cuts
        self.assertEqual([(one.blade_mm, one.through) for one in cuts], [(50.0, True)])
        files = dict(export_files(plan, kinds=("pdf", "csv", "dxf")))
        self.assertIn(b"yes", files["cuts.csv"])
        self.assertIn("drawer-sheet-2.dxf", files)

    def test_mixed_pitches_are_cut_to_whole_layers_of_each_sheet(self) -> None:
        mixed = (Sheet(thickness_mm=12.8, pitch_mm=3.2), Sheet(thickness_mm=30.0, pitch_mm=10.0))
        plan = laid(project(box(80, 30, 30), rules=replace(LINE, seat="flush"), bay=drawer(sheets=mixed)), (100, 80))
        ground = ground_of(plan, plan.inserts[0])
        (pocket,) = ground.pockets.values()
        self.assertEqual((pocket.depth_layers, pocket.seating.bottom_mm), (6, 32.8))
        upper, lower = cutting_plan(ground)
        self.assertEqual([(one.to_layer, one.blade_mm, one.through) for one in upper.cuts], [(4, 12.8, True)])
        self.assertEqual([(one.to_layer, one.blade_mm, one.through) for one in lower.cuts], [(2, 20.0, False)])


class Stages(unittest.TestCase):
    def states(self, plan: Project) -> dict[str, str]:
        return {one.stage: one.state for one in progress(plan, findings_of(plan))}

    def test_measuring_has_begun_once_the_container_is_another(self) -> None:
        self.assertEqual(self.states(Project())["measure"], "untouched")
        measured = change_container(Project(), Container(width_mm=444.0))
        self.assertEqual(self.states(measured)["measure"], "fine")
        closed = change_container(Project(), Container(kind="case", height_mm=300.0, draft_deg=(44.0,) * 4))
        self.assertEqual(self.states(closed)["measure"], "under way")

    def test_a_finding_about_a_container_is_one_for_all_its_tiers(self) -> None:
        corners = tuple(Corner(name=n, x_mm=x, y_mm=y) for n, x, y in (("A", 0, 0), ("B", 400, 0), ("C", 400, 300)))
        odd = Container(kind="case", corners=corners, taped=(Taped(first="A", second="B", length_mm=400.0),))
        tiers = tuple(Insert(id=name, name=name, lift_straps=True) for name in ("top", "low"))
        found = [one for one in findings_of(Project(containers=(odd,), inserts=tiers)) if one.code == "SURVEY_SHORT"]
        self.assertEqual(len(found), 1)
        self.assertEqual(found[0].value, 2.0)
