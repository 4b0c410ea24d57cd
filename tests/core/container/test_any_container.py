"""Whatever container passes the checks can be looked at: blanks, section, findings, load; nothing crashes."""

from __future__ import annotations

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from cozy_burrow.core.container.checks import checked_container
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.findings.telling import finding_text
from cozy_burrow.core.ground.carrying import carried
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.ground.section import cut_along
from cozy_burrow.core.model.records import Container, Insert, Project, Sheet
from cozy_burrow.core.model.vessels import Corner, Handle, Lid, Obstacle, Taped
from cozy_burrow.jobs.survey_words import survey_words
from tests.core.container.test_blanks import TAPERED
from tests.makers import box, laid, project

LENGTH = st.floats(5, 900)
corner = st.builds(
    Corner,
    name=st.sampled_from("ABCDEF"),
    x_mm=st.floats(-50, 600),
    y_mm=st.floats(-50, 600),
    radius_mm=st.floats(0, 80),
)
taped = st.builds(Taped, first=st.sampled_from("ABCD"), second=st.sampled_from("ABCD"), length_mm=st.floats(1, 900))
ring = st.lists(st.tuples(st.floats(-20, 600), st.floats(-20, 600)), min_size=3, max_size=5).map(tuple)
obstacle = st.builds(
    Obstacle,
    name=st.just("it"),
    kind=st.sampled_from(("rib", "post", "latch", "fixing")),
    ring=ring,
    low_mm=st.floats(0, 50),
    high_mm=st.none() | st.floats(1, 200),
)
container = st.builds(
    Container,
    kind=st.sampled_from(("drawer", "case", "wall")),
    width_mm=LENGTH,
    depth_mm=LENGTH,
    height_mm=st.floats(5, 300),
    corner_radius_mm=st.floats(0, 60),
    corners=st.just(()) | st.lists(corner, min_size=3, max_size=6).map(tuple),
    taped=st.lists(taped, max_size=6).map(tuple),
    draft_deg=st.tuples(*[st.floats(-20, 45)] * 4),
    base_corner_radius_mm=st.none() | st.floats(0, 60),
    base_edge_radius_mm=st.floats(0, 60),
    obstacles=st.lists(obstacle, max_size=2).map(tuple),
    front_lip_mm=st.floats(0, 20),
    lid=st.none() | st.builds(Lid, depth_mm=st.floats(0, 60), foam_mm=st.floats(20, 40), give_mm=st.floats(0, 20)),
    handle=st.none() | st.builds(Handle, side=st.sampled_from(("front", "left")), along_mm=st.floats(0, 100)),
)


class AnyContainer(unittest.TestCase):
    @settings(derandomize=True, deadline=None, max_examples=120)
    @given(container, st.integers(1, 3))
    def test_it_is_refused_in_words_or_can_be_worked_with(self, one: Container, sheets: int) -> None:
        try:
            checked_container(one, where="box")
        except UnusableInput as error:
            self.assertNotIn("\n", error.sentence())
            return
        plan = laid(project(box(60, 30, 20)), (80, 60))
        insert = replace(plan.inserts[0], sheets=(Sheet(),) * sheets)
        plan = replace(plan, containers=(one,), inserts=(insert, Insert(id="below", name="Below")))
        for finding in findings_of(plan):
            self.assertTrue(finding_text(plan, finding))
        cut_along(ground_of(plan, plan.inserts[0]), (-10.0, 60.0), (500.0, 61.0))
        self.assertTrue(np.isfinite(carried(plan, one).whole.mass_g))

    @settings(derandomize=True, deadline=None, max_examples=60)
    @given(st.lists(taped, max_size=9).map(tuple))
    def test_no_distances_break_a_survey(self, distances: tuple[Taped, ...]) -> None:
        from cozy_burrow.core.container.starts import sketched
        from cozy_burrow.core.container.survey import solve_survey, with_taped

        known = tuple(one for one in distances if one.first != one.second)
        found = solve_survey(sketched("four corners"), known)
        self.assertTrue(all(np.isfinite((one.x_mm, one.y_mm)).all() for one in found.corners))
        surveyed = with_taped(Container(), sketched("four corners"), known)
        self.assertTrue(survey_words(surveyed, solve_survey(surveyed.corners, known), "mm"))


class Sections(unittest.TestCase):
    def test_the_section_shows_walls_as_they_lean_and_tiers_round_it(self) -> None:
        case = replace(TAPERED, lid=Lid(depth_mm=30.0, foam_mm=25.0, give_mm=8.0))
        top, low = (Insert(id=name, name=name, sheets=(Sheet(thickness_mm=50.0),)) for name in ("top", "low"))
        plan = Project(containers=(case,), inserts=(top, low))
        upper = cut_along(ground_of(plan, top), (-10.0, 150.0), (410.0, 150.0))
        lower = cut_along(ground_of(plan, low), (-10.0, 150.0), (410.0, 150.0))
        self.assertEqual((upper.rim_z_mm, upper.floor_z_mm, upper.above_mm), (-20.0, 100.0, 0.0))
        self.assertEqual(upper.lid_foam_mm, (-25.0, -50.0))
        self.assertEqual((lower.rim_z_mm, lower.floor_z_mm, lower.above_mm), (-70.0, 50.0, 50.0))
        self.assertIsNone(lower.lid_foam_mm)
        left, right = lower.walls
        self.assertAlmostEqual(left[0][0], 10.0)
        self.assertEqual(right[0], (410.0, -70.0))
        # At the floor the wall has leaned in and the round edge has gone on.
        lean = np.tan(np.radians(4.0))
        inset = (18.0 + 102.0 * np.sin(np.radians(4.0))) / np.cos(np.radians(4.0))
        self.assertAlmostEqual(left[-1][0] - 10.0, inset, delta=0.05)
        self.assertGreater(left[-1][0] - 10.0, 120.0 * lean)
        self.assertGreater(upper.sheet_foam[0][0][1] - upper.sheet_foam[0][0][0], lower.foam[0][1] - lower.foam[0][0])
        self.assertGreater(lower.lower_edges[-1][0], 5.0)
