"""The plan as a lit picture: at rest, under a hand, empty, nearer; and as a drawing."""

from __future__ import annotations

from typing import Any
from unittest.mock import Mock, PropertyMock, patch

import numpy as np
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QImage, QPainter
from PySide6.QtTest import QTest

from cozy_burrow.app.desk import tasks
from cozy_burrow.app.desk.settings import PLAN_LOOK
from cozy_burrow.app.look.theme.theme import load_theme
from cozy_burrow.app.scene import relief
from cozy_burrow.app.scene.carried import Carried
from cozy_burrow.app.scene.drawn_apart import DrawnApart, Painting
from cozy_burrow.app.scene.ground_item import GroundItem
from cozy_burrow.app.scene.relief import look_of
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.errors import Cancelled
from cozy_burrow.core.ground.ground import Cutout, Ground, peeled
from cozy_burrow.core.relief.picture import Picture, picture_of
from tests.app.qt import QtCase, drag, key, plan_pixel, wait_until, work_waits
from tests.app.screens import at_cut
from tests.makers import van_drawer


def seen(window: Window) -> np.ndarray:
    """The plan's pixels, (rows, columns, 3)."""
    image = window.plan.viewport().grab().toImage().convertToFormat(QImage.Format.Format_RGBA8888)
    rows = np.frombuffer(image.constBits(), dtype=np.uint8).reshape(image.height(), image.bytesPerLine())
    return rows[:, : image.width() * 4].reshape(image.height(), image.width(), 4)[:, :, :3].astype(int)


class LitPlan(QtCase):
    lit = True

    def lit_window(self) -> Window:
        window = self.window(van_drawer(), stage="lay-out")
        window.plan.look_named(False)
        self.app.processEvents()
        return window

    def expected(self, window: Window, *, filled: bool = True, ground: Ground | None = None) -> np.ndarray:
        """What the core says that the plan looks like, laid where the view shows it."""
        ground = ground or window.workspace.ground
        picture = picture_of(ground, round(window.plan.px_per_mm, 5), look_of(load_theme("light")), filled=filled)
        left, top, _, _ = picture.grid.bounds
        corner = plan_pixel(window, left, top)
        found = np.full((*seen(window).shape[:2], 3), -1)
        rows, columns = picture.pixels.shape[:2]
        row, column = round(corner.y()), round(corner.x())
        there = (slice(max(0, row), row + rows), slice(max(0, column), column + columns))
        shown = picture.pixels[max(0, -row) :, max(0, -column) :, :3]
        part = found[there]
        part[:] = shown[: part.shape[0], : part.shape[1]]
        return found

    def assert_seen(self, window: Window, expected: np.ndarray, *, within: int = 3) -> None:
        """Most of the plan looks as expected; over the rest lies what is drawn on tracing paper."""
        window.workspace.select(())
        self.app.processEvents()
        known = (expected >= 0).all(axis=2)
        apart = np.abs(seen(window) - expected).max(axis=2)[known]
        self.assertGreater(float((apart <= within).mean()), 0.93)

    def test_it_is_the_picture_that_the_core_makes(self) -> None:
        window = self.lit_window()
        self.assert_seen(window, self.expected(window), within=0)

    def test_empty_places_and_the_drawing_are_a_key_away(self) -> None:
        window = self.lit_window()
        window.plan.setFocus()
        key(window.plan, Qt.Key.Key_W)
        self.assertFalse(window.plan.is_filled)
        self.assert_seen(window, self.expected(window, filled=False), within=0)
        key(window.plan, Qt.Key.Key_W)
        key(window.plan, Qt.Key.Key_D)
        self.assertEqual(window.settings.text(PLAN_LOOK), "drawing")
        drawn = seen(window)
        key(window.plan, Qt.Key.Key_D)
        self.assertGreater(float(np.abs(seen(window) - drawn).max(axis=2).mean()), 5.0)
        self.assert_seen(window, self.expected(window), within=0)

    def test_what_is_carried_looks_as_it_did_and_as_it_will(self) -> None:
        window = self.lit_window()
        placement = next(one for one in window.workspace.insert.placements if one.item_id == "item-19")
        start = plan_pixel(window, placement.x_mm, placement.y_mm)
        before = seen(window)
        view = window.plan.viewport()
        QTest.mousePress(view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start.toPoint())
        shift = QPoint(24, 10)
        for step in (0.3, 0.7, 1.0):
            QTest.mouseMove(view, (start + QPointF(shift) * step).toPoint())
            self.app.processEvents()
        moved = next(one for one in window.workspace.insert.placements if one.id == placement.id)
        at = plan_pixel(window, moved.x_mm, moved.y_mm).toPoint() - start.toPoint()
        self.assertGreater(at.manhattanLength(), 10)
        # Its middle is what it was, so far on: the very dots, since it is the same sprite.
        here, there = start.toPoint(), start.toPoint() + at
        held = seen(window)
        size = 6
        was = before[here.y() - size : here.y() + size, here.x() - size - 30 : here.x() + size - 30]
        now = held[there.y() - size : there.y() + size, there.x() - size - 30 : there.x() + size - 30]
        self.assertLess(float(np.abs(was - now).mean()), 8.0)
        # What lies still is one picture under it, once all is cut out; the same dots as one by one.
        carried = window.plan._lit._carried
        assert carried is not None
        while carried.make_one():
            pass
        with patch.object(Carried, "at_rest", return_value=None):
            one_by_one = seen(window)
        with patch.object(Carried, "sprite", autospec=True, side_effect=Carried.sprite) as asked:
            at_once = seen(window)
        self.assertLess(asked.call_count, 4)
        self.assertLess(float((np.abs(at_once - one_by_one) > 2).mean()), 1e-3)
        QTest.mouseRelease(view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, there)
        self.app.processEvents()
        self.assert_seen(window, self.expected(window))
        window.workspace.undo()
        self.app.processEvents()
        self.assert_seen(window, self.expected(window))

    def test_nearer_it_is_as_sharp(self) -> None:
        window = self.lit_window()
        for _ in range(4):
            window.zoom(1.25)
            self.app.processEvents()
        self.assert_seen(window, self.expected(window), within=0)

    def test_beside_the_window_it_comes_in_its_time(self) -> None:
        window = self.lit_window()
        window.plan._relief.at_once = False
        with work_waits():
            window.zoom(1.5)
            self.app.processEvents()
            self.assertFalse(self.is_sharp(window))
        self.assertTrue(wait_until(lambda: window.plan._relief.now is not None and self.is_sharp(window)))
        self.app.processEvents()
        self.assert_seen(window, self.expected(window), within=0)

    def test_large_pictures_are_lit_one_at_a_time(self) -> None:
        """Each takes some forty megabytes while it is made."""
        window = self.lit_window()
        window.plan._relief.at_once = False
        alone = []

        def made(*args: Any, **more: Any) -> Picture:
            alone.append(tasks._light.locked())
            return picture_of(*args, **more)

        with patch.object(relief, "picture_of", made):
            window.zoom(1.5)
            self.assertTrue(wait_until(lambda: self.is_sharp(window)))
        self.assertTrue(alone and all(alone), alone)

    def test_who_waits_for_another_picture_in_vain_is_told_so(self) -> None:
        token = Mock()
        type(token).stopped = PropertyMock(side_effect=(False, False, True))
        with tasks._light, self.assertRaises(Cancelled), tasks.only_light(token):
            self.fail("two at once")

    def test_the_empty_places_come_in_their_time_too_and_the_filled_ones_stay_till_then(self) -> None:
        window = self.lit_window()
        window.plan._relief.at_once = False
        filled = self.expected(window)
        window.plan.setFocus()
        with work_waits():
            key(window.plan, Qt.Key.Key_W)
            self.assert_seen(window, filled, within=0)
        self.assertTrue(wait_until(lambda: window.plan._relief.is_true_of(window.workspace.ground)))
        self.app.processEvents()
        self.assert_seen(window, self.expected(window, filled=False), within=0)

    def test_at_cut_the_foam_is_lit_as_far_as_it_is_peeled(self) -> None:
        window = self.lit_window()
        window.show_stage("cut")
        self.app.processEvents()
        whole = window.workspace.ground
        slider = at_cut(window).panel.layer
        for count in (slider.maximum(), 1, 0):
            slider.setValue(count)
            self.app.processEvents()
            ground = peeled(whole, count)
            self.assertEqual(len(ground.cutouts), len(whole.cutouts) if count else 0)
            right, other = (self.share_of_foam_like(window, one) for one in (ground, peeled(whole, 0 if count else 2)))
            self.assertGreater(right, 0.9)
            self.assertGreater(right, other + 0.02)

    def test_a_peeled_layer_vanishes_before_the_eye(self) -> None:
        window = self.lit_window()
        window.show_stage("cut")
        self.app.processEvents()
        window.plan._relief.at_once = False
        before, lit = seen(window), window.plan._lit
        with patch.object(lit._peeling, "begin"):  # turned by hand
            at_cut(window).panel.layer.setValue(0)
            self.assertTrue(wait_until(lambda: lit._fades is not None))
        lit._fade(0.5)
        half = seen(window)
        lit._fade(1.0)
        after = seen(window)
        self.assertIsNone(lit._fades)
        changed = np.abs(after - before).max(axis=2) > 20
        self.assertGreater(int(changed.sum()), 2_000)
        between = np.abs(half - (before + after) / 2)[changed]
        self.assertLess(float(np.median(between)), 3.0)

    def share_of_foam_like(self, window: Window, ground: Ground) -> float:
        """How much of the foam is seen as a ground's: between the numbers of the cuts, which are as pale as paper."""
        expected, now = self.expected(window, filled=False, ground=ground), seen(window)
        foam = (now.max(axis=2) < 150) & (expected.max(axis=2) < 150) & (expected >= 0).all(axis=2)
        self.assertGreater(float(foam.mean()), 0.2)
        return float((np.abs(now - expected).max(axis=2)[foam] <= 3).mean())

    def is_sharp(self, window: Window) -> bool:
        now = window.plan._relief.now
        return now is not None and now.picture.grid.px_per_mm == round(window.plan.px_per_mm, 5)

    def test_a_row_that_falls_apart_is_drawn_until_it_is_let_go(self) -> None:
        window = self.lit_window()
        row = next(pull for pull in window.workspace.insert.pulls if len(pull.serves) > 2)
        one = next(p for p in window.workspace.insert.placements if p.id == row.serves[0])
        start = plan_pixel(window, one.x_mm, one.y_mm)
        drag(window.plan.viewport(), start, start + QPointF(0, 9))
        self.assert_seen(window, self.expected(window))

    def test_what_a_row_leaves_where_it_lies_is_painted_once(self) -> None:
        window = self.lit_window()
        row = next(pull for pull in window.workspace.insert.pulls if len(pull.serves) > 2)
        one = next(p for p in window.workspace.insert.placements if p.id == row.serves[0])
        start, view = plan_pixel(window, one.x_mm, one.y_mm).toPoint(), window.plan.viewport()
        QTest.mousePress(view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start)
        seen_at: list[np.ndarray] = []
        for step in (10, 11, 12, 13):  # freely, so that nobody makes way
            moved = QPoint(0, 8 * step)
            QTest.mouseMove(view, start + moved)
            self.app.processEvents()
            with patch.object(
                GroundItem, "_paint_cutouts", autospec=True, side_effect=GroundItem._paint_cutouts
            ) as cut:
                seen_at.append(seen(window))
        drawn = [len(call.args[3]) for call in cut.call_args_list]
        self.assertEqual(drawn, [1])  # the pocket that is carried; what lies still was painted before

        def directly(_: DrawnApart, painter: QPainter, cutouts: list[Cutout], draw: Painting) -> None:
            draw(painter, list(cutouts))

        with patch.object(DrawnApart, "paint", directly):
            self.assertLess(float((np.abs(seen(window) - seen_at[-1]) > 2).mean()), 1e-3)
        self.assertGreater(float((np.abs(seen_at[0] - seen_at[-1]) > 2).mean()), 1e-3)
        window.plan.set_theme(load_theme("lamp"))  # in the middle of a drag: nothing of the old colours stays
        self.app.processEvents()
        dark = seen(window)
        with patch.object(DrawnApart, "paint", directly):
            self.assertLess(float((np.abs(seen(window) - dark) > 2).mean()), 1e-3)
        QTest.mouseRelease(view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start + moved)
