"""What a screen reader finds on scenes painted by hand: each part by name and place, and a press chooses it."""

from __future__ import annotations

import re

import numpy as np
from PySide6.QtCore import QPointF
from PySide6.QtWidgets import QWidget
from shapely.geometry import box

from cozy_burrow.app.look.reader_parts import Part, ReaderParts
from cozy_burrow.app.screens.gather.retouch.heard import hear_retouch, retouch_parts
from cozy_burrow.app.screens.measure.survey_heard import hear_survey, survey_parts
from cozy_burrow.app.shell.heard_parts import hear_plan, plan_parts, section_parts
from cozy_burrow.core.capture.retouch.draft import Table, plain_draft
from cozy_burrow.core.geometry.rings import outline_of
from cozy_burrow.core.model.records import Project
from cozy_burrow.demo.shipped import demo_project
from cozy_burrow.jobs.capture import Backdrop, Capture
from tests.app.qt import QtCase, settle
from tests.app.screens import at_gather, at_measure
from tests.makers import van_drawer

DEMO = van_drawer()


def pressed(reader: ReaderParts, name: str) -> None:
    """Press a part as a reader does: by its unseen button."""
    reader.follow()
    button = next(one for one in reader._buttons.values() if one.accessibleName() == name)
    button.click()


class Heard(QtCase):
    def named(self, parts: object) -> dict[str, Part]:
        """Return parts by name; none may be without one, or off its scene."""
        found = {one.name: one for one in parts}  # type: ignore[attr-defined]
        self.assertNotIn("", found)
        return found

    def inside(self, scene: QWidget, parts: dict[str, Part]) -> None:
        for one in parts.values():
            self.assertTrue(scene.rect().intersects(one.where), one)

    def test_items_of_the_plan_lie_where_they_are_painted(self) -> None:
        window = self.window(DEMO)
        settle(window)
        found = self.named(plan_parts(window.plan, window.workspace))
        self.inside(window.plan.viewport(), found)
        key, pocket = next(iter(window.workspace.ground.pockets.items()))
        part = next(one for one in found.values() if one.key == key)
        middle = pocket.surface.representative_point()
        at = window.plan.viewportTransform().map(QPointF(middle.x, middle.y))
        self.assertTrue(part.where.contains(at.toPoint()))
        self.assertFalse(part.is_chosen)
        pressed(hear_plan(window.plan, window.workspace), part.name)
        self.assertEqual(window.workspace.selection, (key,))

    def test_the_section_tells_each_part_of_an_item(self) -> None:
        window = self.window(DEMO)
        settle(window)
        found = section_parts(window.section, window.workspace)
        self.assertEqual(len(found), len(window.section.cut.bodies))
        self.assertEqual([one.where.left() for one in found], sorted(one.where.left() for one in found))
        for one in found:
            self.assertRegex(one.about, r"\d+ layers? taken out, it lies from .* to .* below the surface")

    def test_two_corners_of_a_survey_are_pressed_to_be_taped(self) -> None:
        window = self.window(demo_project())
        window.workspace.show_insert("insert-4")
        window.show_stage("measure")
        at_measure(window).show_page("Survey")
        self.app.processEvents()
        canvas, page = at_measure(window).survey_canvas, at_measure(window).panel.survey
        corners = [one.name for one in window.workspace.container.corners]
        taped = window.workspace.container.taped
        parts = survey_parts(canvas, window.workspace)
        self.assertEqual(len(parts), len(corners) + len(taped))
        found = self.named(parts)
        self.inside(canvas, found)
        for name in corners:
            self.assertTrue(found[f"Corner {name}"].where.contains(canvas.corner_px(name).toPoint()))
        for one in taped:
            self.assertRegex(found[f"{one.first} to {one.second}"].about, r"taped as \d")
        reader = hear_survey(canvas, window.workspace)
        pressed(reader, f"Corner {corners[0]}")
        pressed(reader, f"Corner {corners[2]}")
        self.assertEqual((page.first.currentText(), page.second.currentText()), (corners[0], corners[2]))
        self.assertEqual(canvas.pair, (corners[0], corners[2]))

    def test_a_survey_without_corners_has_nothing_to_press(self) -> None:
        window = self.window(Project())
        window.show_stage("measure")
        at_measure(window).show_page("Survey")
        self.assertEqual(list(survey_parts(at_measure(window).survey_canvas, window.workspace)), [])

    def test_outlines_on_the_retouch_bench_are_chosen_by_a_press(self) -> None:
        window = self.window(Project())
        session, pixels = window.retouch, np.full((200, 400, 3), 240, dtype=np.uint8)
        drafts = tuple(
            plain_draft(outline_of(box(x, 0, x + 40, 20)), name=name, way="scan", source="a", sure_mm=0.1)
            for x, name in ((0, "left one"), (55, "right one"))
        )
        session.open(
            Capture(table=Table(drafts=drafts), backdrop=Backdrop(pixels, (0.0, 0.0), 0.25), trace=None, told="a scan")
        )
        self.app.processEvents()
        canvas = at_gather(window).retouch_canvas
        found = self.named(retouch_parts(canvas, session, window.workspace))
        self.inside(canvas, found)
        self.assertEqual(list(found), ["left one", "right one"])
        self.assertTrue(found["left one"].is_chosen)
        self.assertTrue(re.match(r"40(\.0)? mm x 20(\.0)? mm, ± 0\.1 mm", found["right one"].about), found)
        self.assertTrue(found["right one"].where.contains(canvas.pixel_of((75.0, 10.0)).toPoint()))
        pressed(hear_retouch(canvas, session, window.workspace), "right one")
        self.assertEqual(session.table.chosen, 1)
        session.close()
        self.assertEqual(list(retouch_parts(canvas, session, window.workspace)), [])
