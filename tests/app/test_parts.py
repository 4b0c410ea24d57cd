"""The parts of the window on their own: fields, background work, settings, workspace, hands, the section."""

from __future__ import annotations

import math
import threading
import time
from collections.abc import Callable, Iterator
from itertools import combinations
from pathlib import Path
from unittest.mock import Mock, patch

from msgspec.structs import replace
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QEnterEvent, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLabel, QWidget

from cozy_burrow.app.checks.mending import Mending
from cozy_burrow.app.desk import judge as judge_module
from cozy_burrow.app.desk.judge import Judge
from cozy_burrow.app.desk.settings import RECENT, THEME, TYPE_SCALE, Settings
from cozy_burrow.app.desk.tasks import Task
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.frame.command import Command, run
from cozy_burrow.app.look.fields import LengthField
from cozy_burrow.app.look.text_plate import TextPlate
from cozy_burrow.app.look.theme.theme import load_theme
from cozy_burrow.app.scene.handling import Handling
from cozy_burrow.app.scene.layer import gap_text, gaps_of_selection
from cozy_burrow.app.scene.paths import area_path, ring_path
from cozy_burrow.app.screens.lay_out import laying
from cozy_burrow.app.screens.measure.box_handling import BoxHandling
from cozy_burrow.app.section import line
from cozy_burrow.app.section.painting import Frame, _merged, _without
from cozy_burrow.app.section.section_view import FOLLOWS_MS, SectionView
from cozy_burrow.core.container.starts import STARTS, add_container, remove_insert
from cozy_burrow.core.depth.peel import set_zone_layers
from cozy_burrow.core.errors import Cancelled, Gone, UnusableInput
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.ground.section import cut_along, section_line
from cozy_burrow.core.model.coherence import Incoherent
from cozy_burrow.core.model.edits import change_insert, remove_items
from cozy_burrow.core.model.memo import forget_all
from cozy_burrow.core.model.records import Project, Rules
from cozy_burrow.core.progress import make_way
from tests.app.qt import QtCase, drag, key, plan_pixel, settle, wait_until
from tests.app.screens import at_cut, at_grip, at_measure, at_sink
from tests.makers import DRIVER, box, laid, project, stations, van_drawer

TWO = laid(project(box(60, 20, 30), box(60, 20, 30), rules=Rules(allowance_mm=0.0)), (100, 80), (100, 120))


class Fields(QtCase):
    def field(self, **options: object) -> tuple[LengthField, list[float]]:
        home = QWidget()
        self.addCleanup(home.deleteLater)
        field = LengthField("Width", **options)  # type: ignore[arg-type]
        field.setParent(home)
        home.show()
        home.activateWindow()
        self.app.processEvents()
        got: list[float] = []
        field.entered.connect(got.append)
        return field, got

    def type(self, field: LengthField, text: str) -> None:
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, text)
        key(field, Qt.Key.Key_Return)

    def test_a_length_is_taken_in_any_way_of_writing(self) -> None:
        field, got = self.field(least_mm=0.0)
        for text in ("12", "1.2cm", "1/2in", "1 1/8in"):
            self.type(field, text)
        self.assertEqual([round(one, 3) for one in got], [12.0, 12.0, 12.7, 28.575])

    def test_bare_numbers_are_inches_where_inches_are_shown(self) -> None:
        field, got = self.field(least_mm=0.0)
        field.show_length(25.4, "inch")
        self.assertEqual(field.text(), "1 in")
        self.type(field, "2")
        self.assertEqual(got, [50.8])

    def test_what_does_not_hold_is_marked_and_not_sent(self) -> None:
        field, got = self.field(least_mm=5.0)
        for text in ("4", "x", "nan", ""):
            self.type(field, text)
            if text:
                self.assertEqual(field.property("refused"), "true", text)
        self.assertEqual(got, [])
        self.type(field, "5")
        self.assertEqual((got, field.property("refused")), ([5.0], "false"))

    def test_an_optional_field_may_stay_empty(self) -> None:
        field, _ = self.field(optional=True)
        self.assertIsNone(field.value())
        strict, _ = self.field()
        with self.assertRaises(UnusableInput):
            strict.value()

    def test_a_figure_is_not_taken_away_from_under_the_pen(self) -> None:
        field, _ = self.field(least_mm=0.0)
        field.setFocus()
        QTest.keyClicks(field, "12")
        field.show_length(99.0, "mm")
        self.assertEqual(field.text(), "12")

    def test_a_plate_keeps_its_height_whatever_it_says(self) -> None:
        plate = TextPlate(lines=3)
        height = plate.height()
        plate.setText("a long text " * 20)
        self.assertEqual((plate.height(), plate.accessibleName()), (height, plate.text()))


class BackgroundWork(QtCase):
    def test_work_runs_on_another_thread_and_reports_here(self) -> None:
        here = threading.get_ident()
        seen: list[object] = []
        task = Task(lambda token: (token.step(0.5), threading.get_ident())[1])
        task.progressed.connect(seen.append)
        task.done.connect(lambda outcome: seen.append((outcome, threading.get_ident())))
        task.begin()
        self.assertTrue(wait_until(lambda: len(seen) == 2))
        self.assertEqual(seen[0], 0.5)
        outcome, at = seen[1]  # type: ignore[misc]
        self.assertNotEqual(outcome, here)
        self.assertEqual(at, here)

    def test_a_stop_is_heard_at_the_next_step_and_an_error_arrives(self) -> None:
        ended: list[str] = []

        def for_ever(token: object) -> None:
            while True:
                token.step(0.0)  # type: ignore[attr-defined]

        task = Task(for_ever)
        task.finished.connect(lambda: ended.append("stopped"))
        task.begin()
        task.stop()
        self.assertTrue(wait_until(lambda: bool(ended)))

        def broken(token: object) -> None:
            raise ValueError("a bug")

        failing = Task(broken)
        failing.failed.connect(lambda error: ended.append(str(error)))
        failing.begin()
        self.assertTrue(wait_until(lambda: len(ended) == 2))
        self.assertEqual(ended[1], "a bug")


class KeptSettings(QtCase):
    def test_settings_come_back_in_their_own_kind(self) -> None:
        settings = Settings(self.folder)
        settings.set(TYPE_SCALE, 1.5)
        settings.set(THEME, "lamp")
        again = Settings(self.folder)
        self.assertEqual((again.get(TYPE_SCALE), again.get(THEME)), (1.5, "lamp"))
        settings.set(TYPE_SCALE, "rubbish")
        self.assertEqual(Settings(self.folder).get(TYPE_SCALE), 1.0)

    def test_recent_projects_are_newest_first_once_each_and_only_while_they_exist(self) -> None:
        settings = Settings(self.folder)
        paths = [self.folder / f"{n}.burrow" for n in range(12)]
        for path in paths:
            path.touch()
            settings.add_recent(path)
        settings.add_recent(paths[5])
        self.assertEqual(settings.recent()[:2], [paths[5].resolve(), paths[11].resolve()])
        self.assertEqual(len(settings.get(RECENT)), 8)
        paths[5].unlink()
        self.assertNotIn(paths[5].resolve(), settings.recent())


class Workspaces(QtCase):
    def test_a_change_that_changes_nothing_is_no_step(self) -> None:
        workspace = Workspace(TWO)
        workspace.do("nothing", TWO)
        workspace.do("the same again", replace(TWO))
        self.assertIsNone(workspace.history.undo_label)

    def test_a_row_of_nudges_is_one_step_until_another_gesture_begins(self) -> None:
        workspace = Workspace(TWO)
        workspace.select(("item-1#1",))
        workspace.begin_gesture()
        for _ in range(3):
            laying.nudge(workspace, 0.5, 0)
        workspace.begin_gesture()
        laying.nudge(workspace, 0.5, 0)
        self.assertEqual(workspace.insert.placements[0].x_mm, 102.0)
        workspace.undo()
        self.assertEqual(workspace.insert.placements[0].x_mm, 101.5)
        workspace.undo()
        self.assertEqual(workspace.project, TWO)
        workspace.redo()
        self.assertEqual(workspace.insert.placements[0].x_mm, 101.5)

    def test_what_is_gone_is_not_selected_any_more(self) -> None:
        workspace = Workspace(TWO)
        workspace.select(("item-1#1", "item-2#1"))
        laying.to_tray(workspace)
        self.assertEqual(workspace.selection, ())

    def test_a_mend_that_cannot_be_says_why(self) -> None:
        workspace = Workspace(TWO)
        workspace.select(("item-1#1", "item-2#1"))
        laying.nudge(workspace, 400.0, 0.0)
        laying.lock(workspace)
        finding = next(one for one in workspace.findings if any(mend.kind == "move_clear" for mend in one.mends))
        self.assertIn("no clear spot", self._refused(workspace, finding))

    def test_a_check_that_no_longer_holds_is_not_mended(self) -> None:
        """It was seen before something was undone; what it offers would lay a thing that lies there already."""
        workspace = Workspace(TWO)
        workspace.select(("item-1#1",))
        laying.to_tray(workspace)
        finding = next(one for one in workspace.findings if one.code == "UNPLACED")
        workspace.undo()
        self.assertIn("no longer holds", self._refused(workspace, finding))
        self.assertIs(workspace.project, TWO)

    def test_a_mend_of_a_plan_that_was_changed_meanwhile_is_dropped(self) -> None:
        workspace = Workspace(TWO)
        workspace.select(("item-1#1",))
        laying.to_tray(workspace)
        finding = next(one for one in workspace.findings if one.code == "UNPLACED")

        def change() -> None:
            workspace.do("Name it", replace(workspace.project, title="later"))

        self.assertIn("changed meanwhile", self._refused(workspace, finding, meanwhile=change))
        self.assertEqual(workspace.history.undo_label, "Name it")

    def _refused(self, workspace: Workspace, finding: Finding, *, meanwhile: Callable[[], None] = lambda: None) -> str:
        """Return what is said of a mend that is not carried out."""
        refused: list[str] = []
        workspace.refused.connect(refused.append)
        mending = Mending(workspace, workspace)
        self.assertTrue(mending.take(finding, finding.mends))
        meanwhile()
        self.assertTrue(wait_until(lambda: not mending.is_busy))
        return " ".join(refused)

    def test_a_change_that_breaks_the_plan_is_not_made(self) -> None:
        workspace = Workspace(TWO)
        insert = TWO.inserts[0]
        twice = replace(TWO, inserts=(replace(insert, placements=(*insert.placements, insert.placements[0])),))
        with self.assertRaises(Incoherent):
            workspace.do("Lay it twice", twice)
        self.assertIs(workspace.project, TWO)
        self.assertIsNone(workspace.history.undo_label)

    def test_what_is_not_there_is_not_chosen(self) -> None:
        workspace = Workspace(TWO)
        workspace.select(("nobody#1", "item-1#1"))
        self.assertEqual(workspace.selection, ("item-1#1",))
        workspace.choose_item("nobody")
        self.assertIsNone(workspace.item_id)
        workspace.show_insert("nowhere")
        self.assertEqual(workspace.insert_id, "insert-1")

    def test_findings_come_beside_the_window(self) -> None:
        workspace = Workspace(TWO)
        _ = workspace.findings
        heard: list[int] = []
        workspace.judged.connect(lambda: heard.append(len(workspace.findings_seen)))
        with patch.object(Judge, "at_once", False):
            workspace.select(("item-1#1",))
            laying.nudge(workspace, 400.0, 0.0)
            workspace.begin_gesture()
            laying.turn(workspace, 90.0)
            self.assertFalse(workspace.is_judged)
            self.assertTrue(wait_until(lambda: workspace.is_judged))
        self.assertEqual(heard, [len(workspace.findings)])
        forget_all()
        self.assertEqual(workspace.findings_seen, findings_of(workspace.project))

    def test_what_was_judged_for_an_older_plan_ends_in_the_middle(self) -> None:
        workspace, begun, ended = Workspace(TWO), threading.Event(), threading.Event()
        cut_short: list[bool] = []

        def very_long(project: Project, **_: str) -> Iterator[None]:
            begun.set()
            try:
                for _ in range(20_000):
                    make_way()
                    time.sleep(0.001)
            except Cancelled:
                cut_short.append(True)
                raise
            finally:
                ended.set()
            yield

        with patch.object(Judge, "at_once", False):
            with patch.object(judge_module, "judging", very_long):
                workspace.do("Name it", replace(TWO, title="one"))
                self.assertTrue(wait_until(begun.is_set))
            workspace.do("Name it", replace(TWO, title="two"))
            self.assertTrue(wait_until(ended.is_set))
            self.assertEqual(cut_short, [True])
            self.assertTrue(wait_until(lambda: workspace.is_judged))

    def test_seats_that_take_long_are_guessed_first_and_judged_while_the_window_stays_awake(self) -> None:
        with patch.object(Workspace, "patience_s", -1.0), patch.object(Judge, "at_once", False):
            plan = van_drawer()
            nobody_said = replace(plan, items=tuple(replace(one, seat=None) for one in plan.items))
            workspace = Workspace(replace(nobody_said, rules=replace(plan.rules, seat=None)))
            drawn: list[Ground] = []
            workspace.document_changed.connect(lambda: drawn.append(workspace.ground))
            thinner = replace(workspace.insert.sheets[0], pitch_mm=5.0)
            workspace.do("Take thinner layers", change_insert(workspace.project, "insert-1", sheets=(thinner,)))
            self.assertTrue(drawn[0].guessed)
            self.assertEqual(list(drawn[0].pockets), list(workspace.ground.pockets))
            self.assertTrue(wait_until(lambda: workspace.is_judged))
        self.assertEqual([bool(ground.guessed) for ground in drawn], [True, False])
        forget_all()
        exact = ground_of(workspace.project, workspace.insert)
        self.assertEqual(
            {name: pocket.seating for name, pocket in workspace.ground.pockets.items()},
            {name: pocket.seating for name, pocket in exact.pockets.items()},
        )

    def test_what_is_brought_in_is_a_step_of_undo_with_a_place_of_its_own(self) -> None:
        workspace = Workspace(TWO)
        workspace.path = Path("/a/mine.burrow")
        workspace.do("Name it", replace(TWO, title="mine"))
        other = replace(TWO, title="theirs")
        workspace.bring_in("Restore", other, Path("/b/theirs.burrow"))
        self.assertTrue(workspace.is_dirty)
        self.assertEqual(workspace.path, Path("/b/theirs.burrow"))
        workspace.mark_saved(Path("/b/theirs.burrow"))
        self.assertFalse(workspace.is_dirty)
        workspace.undo()
        self.assertEqual((workspace.project.title, workspace.path), ("mine", Path("/a/mine.burrow")))
        self.assertTrue(workspace.is_dirty)
        workspace.undo()
        self.assertFalse(workspace.is_dirty)
        workspace.redo()
        workspace.redo()
        self.assertEqual((workspace.project.title, workspace.path), ("theirs", Path("/b/theirs.burrow")))
        self.assertFalse(workspace.is_dirty)

    def test_opening_another_project_forgets_the_old_history(self) -> None:
        workspace = Workspace(TWO)
        workspace.do("x", replace(TWO, title="x"))
        workspace.open(Project(), None)
        self.assertIsNone(workspace.history.undo_label)
        self.assertFalse(workspace.is_dirty)
        workspace.open(TWO, None, saved=False)
        self.assertTrue(workspace.is_dirty)


class Hands(QtCase):
    def test_a_thing_is_carried_and_put_back_by_escape(self) -> None:
        workspace = Workspace(TWO)
        hands = Handling(workspace)
        hands.press((100, 80), reach_mm=4, more=False)
        hands.move((110, 75))
        self.assertEqual((workspace.insert.placements[0].x_mm, workspace.insert.placements[0].y_mm), (110, 75))
        self.assertIn("Move ‘box’", workspace.history.undo_label or "")
        hands.cancel()
        self.assertEqual(workspace.project, TWO)

    def test_a_shaking_hand_moves_nothing(self) -> None:
        workspace = Workspace(TWO)
        hands = Handling(workspace)
        hands.press((100, 80), reach_mm=4, more=False)
        hands.move((100.1, 80.1))
        hands.release()
        self.assertEqual(workspace.project, TWO)
        self.assertEqual(workspace.selection, ("item-1#1",))

    def test_a_rectangle_selects_what_lies_within_and_shift_adds(self) -> None:
        workspace = Workspace(TWO)
        hands = Handling(workspace)
        hands.press((20, 20), reach_mm=4, more=False)
        hands.move((180, 99))
        hands.release()
        self.assertEqual(workspace.selection, ("item-1#1",))
        hands.press((100, 120), reach_mm=4, more=True)
        hands.release()
        self.assertEqual(workspace.selection, ("item-1#1", "item-2#1"))
        hands.press((100, 120), reach_mm=4, more=True)
        self.assertEqual(workspace.selection, ("item-1#1",))

    def test_the_section_line_is_carried_whole_or_by_an_end(self) -> None:
        workspace = Workspace(TWO)
        hands = Handling(workspace)
        (x0, y0), (x1, y1) = section_line(workspace.ground)
        self.assertEqual(hands.kind_at((200, y0), reach_mm=4), "section")
        hands.press((200, y0), reach_mm=4, more=False)
        hands.move((200, y0 + 10))
        hands.release()
        self.assertEqual(section_line(workspace.ground), ((x0, y0 + 10), (x1, y1 + 10)))
        hands.press((x1, y1 + 10), reach_mm=4, more=False)
        hands.move((x1, y1 - 40))
        self.assertEqual(section_line(workspace.ground), ((x0, y0 + 10), (x1, y1 - 40)))

    def test_the_section_is_laid_along_and_across_a_thing(self) -> None:
        workspace = Workspace(laid(project(stations(DRIVER), rules=Rules(allowance_mm=0.0)), (150, 100, 30)))
        workspace.select(("item-1#1",))
        line.section_along(workspace, across=False)
        self.assertEqual(len(cut_along(workspace.ground, *section_line(workspace.ground)).bodies), 2)
        line.section_along(workspace, across=True)
        self.assertEqual(len(cut_along(workspace.ground, *section_line(workspace.ground)).bodies), 1)
        before = section_line(workspace.ground)
        line.shift_section(workspace, 5.0)
        self.assertAlmostEqual(section_line(workspace.ground)[0][1], before[0][1] + 5)


class SectionFrame(QtCase):
    def test_pixels_and_millimetres_agree_both_ways(self) -> None:
        workspace = Workspace(TWO)
        cut = cut_along(workspace.ground, (0.0, 80.0), (300.0, 80.0))
        frame = Frame.fit(cut, 800, 200, 1.0)
        for s, z in ((0.0, 0.0), (120.0, 33.0), (300.0, 50.0)):
            back = frame.to_mm(frame.point(s, z))
            self.assertAlmostEqual(back[0], s)
            self.assertAlmostEqual(back[1], z)
        corner = frame.point(300.0, 50.0)
        self.assertLessEqual(corner.x(), 800)
        self.assertLessEqual(corner.y(), 200)
        self.assertGreaterEqual(frame.point(0.0, -25.0).y(), 0)

    def test_in_a_drag_it_follows_now_and_then_its_own_line_at_once_and_in_the_end_always(self) -> None:
        workspace = Workspace(TWO)
        view = SectionView(workspace, load_theme("light"), 1.0)
        self.addCleanup(view.deleteLater)
        hands = Handling(workspace)
        (x0, y0), _ = section_line(workspace.ground)
        pauses: list[float] = []
        pause = Mock(start=pauses.append, isActive=lambda: bool(pauses))

        def drag_from(at: tuple[float, float], *, steps: int) -> int:
            hands.press(at, reach_mm=4, more=False)
            with (
                patch("cozy_burrow.app.section.section_view.cut_along", side_effect=cut_along) as cut,
                patch(
                    "cozy_burrow.app.section.section_view.time.perf_counter", return_value=0.0
                ),  # cutting takes no time
                patch.object(view, "_soon", pause),
            ):
                for step in range(1, steps + 1):
                    hands.move((at[0], at[1] + 2.0 * step))
            hands.release()
            return cut.call_count

        hands.press((100, 80), reach_mm=4, more=False)
        hands.release()
        self.assertEqual(drag_from((100, 80), steps=5), 1)  # the first step; then it rests
        self.assertGreaterEqual(min(pauses), FOLLOWS_MS)
        view._rest_is_over()
        self.assertIs(view._shown and view._shown[0], workspace.ground)
        pauses.clear()
        self.assertEqual(drag_from((x0 + 280, y0), steps=1), 1)
        self.assertLess(min(pauses), FOLLOWS_MS)

    def test_spans_are_merged_and_taken_away(self) -> None:
        self.assertEqual(_merged([(5, 9), (0, 3), (2, 4)]), [(0, 4), (5, 9)])
        self.assertEqual(_without((0, 10), [(2, 4), (6, 20)]), [(0, 2), (4, 6)])
        self.assertEqual(_without((0, 10), [(-5, 20)]), [])

    def test_paths_keep_holes_open(self) -> None:
        import shapely

        washer = shapely.Point(0, 0).buffer(20).difference(shapely.Point(0, 0).buffer(8))
        path = area_path(washer)
        self.assertTrue(path.contains(QPointF(14, 0)))
        self.assertFalse(path.contains(QPointF(0, 0)))
        self.assertTrue(ring_path(((0, 0), (10, 0), (10, 10))).contains(QPointF(8, 4)))


class OnThePlan(QtCase):
    def test_gaps_are_shown_for_the_one_that_is_chosen_and_follow_a_drag(self) -> None:
        window = self.window(TWO, stage="lay-out")
        start = plan_pixel(window, 100, 80)
        drag(window.plan.viewport(), start, start + QPointF(0, 6))
        (gap, *_) = gaps_of_selection(window.workspace)
        wall = window.workspace.insert.placements[1].y_mm - window.workspace.insert.placements[0].y_mm - 20
        self.assertAlmostEqual(gap.gap_mm, wall, places=3)
        self.assertIn("≥" if wall >= 12 else "<", gap_text(window.workspace, gap))

    def test_coming_nearer_keeps_the_middle_by_keys_and_what_lies_under_the_wheel(self) -> None:
        window = self.window(van_drawer(), stage="lay-out")
        view, plan = window.plan.viewport(), window.plan

        def apart(held: tuple[float, float], at: QPoint) -> float:
            return math.dist(held, plan.plan_point(at)) * plan.px_per_mm

        enter = QEnterEvent(QPointF(20, 20), QPointF(20, 20), view.mapToGlobal(QPointF(20, 20)))
        QApplication.sendEvent(view, enter)  # the window opened under a mouse that has not moved yet
        middle = view.rect().center()
        for factor in (1.5, 1.3, 0.8):
            held = plan.plan_point(middle)
            plan.zoom(factor)
            self.assertLess(apart(held, middle), 1.5)
        for x, y, turns in ((120, 90, 120), (view.width() - 60, 200, 120), (260, view.height() - 30, -120)):
            at = QPoint(x, y)
            held = plan.plan_point(at)
            none = Qt.KeyboardModifier.NoModifier
            wheel = QWheelEvent(
                QPointF(at), view.mapToGlobal(QPointF(at)), QPoint(), QPoint(0, turns), Qt.MouseButton.NoButton, none,
                Qt.ScrollPhase.NoScrollPhase, False,
            )  # fmt: skip
            QApplication.sendEvent(view, wheel)
            self.assertLess(apart(held, at), 1.5, at)

    def test_coming_nearer_and_fitting_again(self) -> None:
        window = self.window(TWO, stage="lay-out")
        before = window.plan.px_per_mm
        window.plan.zoom(1.25)
        self.assertAlmostEqual(window.plan.px_per_mm, before * 1.25, places=4)
        window.plan.fit()
        self.assertAlmostEqual(window.plan.px_per_mm, before, places=4)
        window.plan.zoom(1e6)
        self.assertLess(window.plan.px_per_mm, 40)

    def test_the_picture_of_the_foam_is_darker_where_it_is_deeper(self) -> None:
        deep = replace(TWO, rules=replace(TWO.rules, seat="deep"))
        shades = []
        for plan in (TWO, deep):
            window = self.window(plan, stage="cut")
            at_cut(window).layer.cuts = ()
            window.plan.fit()
            self.app.processEvents()
            at = plan_pixel(window, 75, 74).toPoint()
            shades.append(window.plan.viewport().grab().toImage().pixelColor(at).lightness())
        self.assertLess(shades[1], shades[0])

    def test_a_measured_drawer_says_inside_and_blank(self) -> None:
        window = self.window(van_drawer(), stage="measure")
        self.assertIn("573 mm", at_measure(window).panel.inside._blank_text.text())
        self.assertIn("5 layers", at_measure(window).panel.foam._text.text())
        at_measure(window).panel.foam._one_more()
        self.assertEqual(len(window.workspace.insert.sheets), 2)
        at_measure(window).panel.foam._one_less()
        self.assertEqual(len(window.workspace.insert.sheets), 1)

    def test_seats_are_chosen_for_several_things_at_once(self) -> None:
        window = self.window(TWO, stage="sink")
        window.workspace.select(("item-1#1", "item-2#1"))
        deep = next(one for one in at_sink(window).panel._seats.buttons() if one.property("seat") == "deep")
        QTest.mouseClick(deep, Qt.MouseButton.LeftButton)
        depths = {pocket.depth_layers for pocket in window.workspace.ground.pockets.values()}
        self.assertEqual(depths, {4})
        self.assertEqual(window.workspace.history.undo_label, "Change the seat")

    def test_the_verdict_tells_whether_a_thing_can_be_got_out(self) -> None:
        flat = laid(project(box(80, 30, 8), rules=Rules(allowance_mm=0.0)), (150, 100))
        window = self.window(flat, stage="grip")
        window.workspace.select(("item-1#1",))
        self.assertIn("Can't be lifted out", at_grip(window).panel.verdict.text())
        QTest.mouseClick(at_grip(window).panel.suggest_button, Qt.MouseButton.LeftButton)
        settle(window)
        self.assertIn("Comes out level", at_grip(window).panel.verdict.text())
        at_grip(window).panel._set_width(30.0)
        self.assertEqual(window.workspace.insert.pulls[0].width_mm, 30.0)
        QTest.mouseClick(at_grip(window).panel.remove_button, Qt.MouseButton.LeftButton)
        self.assertEqual(window.workspace.insert.pulls, ())

    def test_the_table_of_cuts_reads_the_same_plan_as_the_papers(self) -> None:
        from cozy_burrow.core.bench.cuts import cutting_plan

        window = self.window(van_drawer(), stage="cut")
        table = at_cut(window).panel.table
        (plan,) = cutting_plan(window.workspace.ground)
        self.assertEqual(table.rowCount(), len(plan.cuts))
        self.assertEqual(table.data(table.index(0, 1)), "Straight edge")  # along the back edge, from corner to corner
        self.assertEqual(plan.cuts[0].blade_mm, 10.0)
        self.assertEqual(table.data(table.index(0, 4)), window.workspace.length(plan.cuts[0].blade_mm))
        at_cut(window).panel.view.selectRow(0)
        self.assertEqual(window.workspace.selection, plan.cuts[0].owners)

    def test_numbers_of_cuts_stand_apart_in_view_and_who_finds_no_room_is_told(self) -> None:
        window = self.window(van_drawer(), stage="cut", scale=2.0)
        layer, view = at_cut(window).layer, window.plan.viewport()

        def standing() -> dict[str, tuple[float, float]]:
            view.grab()
            found = {one.text: one.stands for one in layer._numbered[1] if one.stands is not None}
            for (_, one), (_, other) in combinations(found.items(), 2):
                self.assertFalse(abs(one[0] - other[0]) < 20 and abs(one[1] - other[1]) < 20, (one, other))
            for x, y in found.values():
                self.assertTrue(10 < x < view.width() - 10 and 10 < y < view.height() - 10, (x, y))
            return found

        shown = standing()
        hidden = [cut for cut in layer.cuts if str(cut.number) not in shown]
        self.assertGreater(len(hidden), 3)
        self.assertIn(f"{len(hidden)} numbers find no room", layer.about((0.0, 0.0)))
        window.workspace.select(hidden[0].owners[:1])
        self.assertIn(str(hidden[0].number), standing())
        window.plan.zoom(4.0)
        self.assertGreater(len(standing()), 0)
        self.assertNotIn("find no room", layer.about((0.0, 0.0)))


class Interrupted(QtCase):
    """What a hand holds belongs to the plan it was taken from: where that has changed under it, it lets go."""

    def setUp(self) -> None:
        super().setUp()
        self.workspace = Workspace(TWO)
        self.hands = Handling(self.workspace)
        self.hands.pushes = False

    def carry(self) -> None:
        self.hands.press((100.0, 80.0), reach_mm=1.0, more=False)
        self.hands.move((110.0, 80.0))

    def test_an_insert_that_is_taken_away_in_a_drag(self) -> None:
        self.workspace.do("Another", add_container(self.workspace.project, next(iter(STARTS)))[0])
        second = self.workspace.project.inserts[-1].id
        self.carry()
        self.workspace.do("Take it away", remove_insert(self.workspace.project, "insert-1"))
        self.assertEqual(self.workspace.insert_id, second)
        self.hands.move((120.0, 90.0))
        self.assertFalse(self.hands.is_holding)
        self.hands.release()
        self.hands.cancel()
        self.assertEqual([one.id for one in self.workspace.project.inserts], [second])

    def test_an_undo_in_a_drag_is_not_done_over(self) -> None:
        self.carry()
        self.workspace.undo()
        self.hands.move((140.0, 90.0))
        self.hands.release()
        self.assertIs(self.workspace.project, TWO)
        self.carry()
        self.workspace.do("Remove", remove_items(self.workspace.project, ["item-1"]))
        after = self.workspace.project
        self.hands.cancel()
        self.assertIs(self.workspace.project, after)

    def test_a_wall_that_is_pulled_while_something_else_changes(self) -> None:
        box_hands = BoxHandling(self.workspace)
        right = box_hands.grips()["right"]
        box_hands.press(right, reach_mm=5.0)
        box_hands.move((right[0] + 10.0, right[1]))
        self.workspace.undo()
        box_hands.move((right[0] + 20.0, right[1]))
        self.assertFalse(box_hands.is_holding)
        self.assertIs(self.workspace.project, TWO)

    def test_a_floor_of_a_thing_that_is_gone(self) -> None:
        with self.assertRaises(Gone):
            set_zone_layers(TWO, "insert-1", "item-1#1", 7, 2)
        with self.assertRaises(Gone):
            set_zone_layers(TWO, "insert-1", "nobody#1", 0, 2)

    def test_a_command_that_finds_nothing_says_so(self) -> None:
        window = self.window(TWO, stage="lay-out")
        heard: list[str] = []
        window.workspace.refused.connect(heard.append)

        def gone(_: object) -> None:
            raise Gone("this insert")

        run(window, Command("x", "Do it", "Test", gone))
        self.assertIn("not there any more", heard[0])

    def test_what_is_said_stands_alone_on_the_status_line(self) -> None:
        window = self.window(TWO, stage="lay-out")
        keys = next(one for one in window.statusBar().findChildren(QLabel) if "F8" in one.text())
        self.assertTrue(keys.isVisible())
        window.say("Wrote it")
        for _ in range(3):
            self.app.processEvents()
        self.assertFalse(keys.isVisible())
        window.flip_theme()
        self.app.processEvents()
        self.assertFalse(keys.isVisible())
