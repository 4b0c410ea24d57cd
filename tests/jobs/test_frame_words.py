"""A frame on paper and in words: what is sawn, where it is screwed, what to look out for."""

from __future__ import annotations

import io
import unittest

import pypdfium2
from msgspec.structs import replace

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Container, Project
from cozy_burrow.core.model.vessels import Frame
from cozy_burrow.jobs.export import export_files
from cozy_burrow.jobs.frame_words import boards_text, frame_page
from tests.makers import box, laid, project

WALL = Container(kind="wall", name="Bench wall", width_mm=460, depth_mm=380, height_mm=50, frame=Frame())


def hanging(container: Container) -> Project:
    plan = laid(project(replace(box(120, 40, 30), mass_g=600.0)), (150, 100))
    return replace(plan, containers=(replace(container, id=plan.containers[0].id),))


class FrameOnPaper(unittest.TestCase):
    def test_it_comes_with_the_papers_where_one_is_built_and_only_there(self) -> None:
        files = dict(export_files(hanging(WALL), kinds=("pdf",)))
        text = pypdfium2.PdfDocument(io.BytesIO(files["frame.pdf"]))[0].get_textpage().get_text_range()
        for said in ("Bench wall: frame", "404 mm", "50 mm", "8 screws 3", "Measure the door behind"):
            self.assertIn(said, text)
        self.assertNotIn("frame.pdf", dict(export_files(hanging(replace(WALL, frame=None)), kinds=("pdf",))))
        tapered = replace(WALL, kind="case", draft_deg=(2.0, 2.0, 2.0, 2.0))
        self.assertNotIn("frame.pdf", dict(export_files(hanging(tapered), kinds=("pdf",))))

    def test_each_joint_is_said(self) -> None:
        for joint, said in (
            ("butt", "sides run through; glue, and screw through them: 8 screws 3 × 30 mm, 12.5 mm, 37.5 mm from the"),
            ("rebate", "sides get a rebate at both ends, 12 mm wide and 6 mm deep"),
            ("mitre", "saw both ends to 45°"),
        ):
            frame = Frame(joint=joint)  # type: ignore[arg-type]
            page = frame_page(hanging(WALL), replace(WALL, frame=frame, id="container-1"))
            self.assertIn(said, page.steps[1])

    def test_it_says_what_each_screw_carries(self) -> None:
        plan = hanging(WALL)
        text = frame_page(plan, plan.containers[0]).steps[-1]
        self.assertIn("40 | 40; 420 | 40; 40 | 340; 420 | 340", text)
        self.assertRegex(text, r"weighs about \d\.\d kg, 0\.\d kg a screw")
        bare = hanging(replace(WALL, frame=Frame(back_mm=0.0)))
        self.assertIn("It has no back: hold it by angle brackets", frame_page(bare, bare.containers[0]).steps[-1])
        tray = hanging(replace(WALL, kind="drawer"))
        self.assertFalse(any("Fix it" in step for step in frame_page(tray, tray.containers[0]).steps))

    def test_inches_are_for_what_is_measured(self) -> None:
        self.assertIn("2 × 15 29/32 in, sides", boards_text(WALL, "inch"))  # 404 mm
        with self.assertRaisesRegex(UnusableInput, "no frame is planned"):
            boards_text(replace(WALL, frame=None), "mm")
