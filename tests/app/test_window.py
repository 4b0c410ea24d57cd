"""The window as a person meets it: every stage, keys, words, names, both themes."""

from __future__ import annotations

import re
import sys
from pathlib import Path
from typing import get_args

from msgspec.structs import replace
from PySide6.QtCore import QAbstractItemModel, QPointF, Qt
from PySide6.QtGui import QColor
from PySide6.QtTest import QAbstractItemModelTester, QTest
from PySide6.QtWidgets import QAbstractButton, QAbstractItemView, QComboBox, QLineEdit, QSlider, QSpinBox, QWidget

from cozy_burrow.app.desk.crash import CrashGuard
from cozy_burrow.app.frame.command import Command, check_keys
from cozy_burrow.app.look.theme.theme import ThemeName, load_theme
from cozy_burrow.app.shell.commands import COMMANDS
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.model.stages import STAGES
from cozy_burrow.storage.project_file import load
from tests.app.qt import QtCase, drag, key, plan_pixel, settle, wait_until
from tests.app.screens import at_cut, at_gather, at_grip, at_lay_out, at_measure, at_sink
from tests.makers import van_drawer

APP = Path(__file__).resolve().parents[2] / "src" / "cozy_burrow" / "app"
DEMO = van_drawer()


def luminance(colour: QColor) -> float:
    """Return the relative luminance as WCAG 2 defines it."""
    parts = [part / 12.92 if part <= 0.03928 else ((part + 0.055) / 1.055) ** 2.4 for part in colour.getRgbF()[:3]]
    return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]


def contrast(one: QColor, other: QColor) -> float:
    low, high = sorted((luminance(one), luminance(other)))
    return (high + 0.05) / (low + 0.05)


class Looks(QtCase):
    def test_text_stands_out_from_what_it_lies_on(self) -> None:
        for name in get_args(ThemeName):
            theme = load_theme(name)
            for text in ("ink", "ink_soft", "care", "stop", "good", "accent"):
                for ground in ("surface", "panel", "paper"):
                    with self.subTest(f"{name} {text} on {ground}"):
                        self.assertGreaterEqual(contrast(theme.colour(text), theme.colour(ground)), 4.5)
            pairs = (
                "on_accent/accent paper/stop ink/stop_soft stop/stop_soft ink/care_soft care/care_soft ink/accent_soft"
            )
            for text, ground in (pair.split("/") for pair in pairs.split()):
                with self.subTest(f"{name} {text} on {ground}"):
                    self.assertGreaterEqual(contrast(theme.colour(text), theme.colour(ground)), 4.5)

    def test_no_colour_is_written_outside_the_theme(self) -> None:
        for path in APP.rglob("*.py"):
            if path.parent.name != "theme":
                self.assertNotRegex(path.read_text(), r"#[0-9a-fA-F]{6}\b|QColor\(\d", path.name)

    def test_every_control_has_a_name(self) -> None:
        window = self.window(DEMO)
        kinds = (QAbstractButton, QLineEdit, QComboBox, QSpinBox, QAbstractItemView, QSlider)
        for stage in STAGES:
            window.show_stage(stage)
            window.workspace.choose_item("item-1")
            nameless = []
            for widget in window.findChildren(QWidget):
                if isinstance(widget, kinds) and widget.isVisibleTo(window) and widget.focusPolicy():
                    text = widget.text() if isinstance(widget, QAbstractButton) else ""
                    label = re.sub(r"\W", "", widget.accessibleName() + text + widget.toolTip())
                    buddy = widget.parent() is not None and isinstance(widget.parent(), QSpinBox | QComboBox)
                    in_form = isinstance(widget, QLineEdit) and bool(widget.placeholderText())
                    if not label and not buddy and not in_form:
                        nameless.append(f"{stage}: {type(widget).__name__} {widget.objectName()}")
            self.assertEqual(nameless, [])

    def test_twice_the_size_fits_a_large_screen_in_both_themes(self) -> None:
        for theme in get_args(ThemeName):
            window = self.window(DEMO, theme=theme, scale=2.0, stage="lay-out")
            window.resize(2560, 1600)
            self.app.processEvents()
            picture = window.grab()
            self.assertGreaterEqual(picture.width(), 2560)
            self.assertGreater(window.plan.height(), 500)
            self.assertGreaterEqual(window.path.height(), 112)

    def test_this_binding_does_not_lose_references(self) -> None:
        window = self.window(Project())
        before = sys.getrefcount(None)
        for _ in range(100):
            window.update()
        self.assertGreater(sys.getrefcount(None), before - 100)

    def test_models_keep_their_promises(self) -> None:
        window = self.window(DEMO)
        models: list[QAbstractItemModel] = [
            at_gather(window).gallery.kit,
            window.checks.model,
            at_cut(window).panel.table,
        ]
        for model in models:
            tester = QAbstractItemModelTester(model, QAbstractItemModelTester.FailureReportingMode.Warning)
            window.workspace.do("x", replace(window.workspace.project, title="x"))
            window.workspace.undo()
            tester.deleteLater()


class Keys(QtCase):
    def test_two_commands_on_one_key_are_refused(self) -> None:
        check_keys(COMMANDS)
        one = Command("a", "A", "X", lambda w: None, keys="Ctrl+Y")
        with self.assertRaises(ValueError):
            check_keys((one, replace_id(one, "b")))
        with self.assertRaises(ValueError):
            check_keys((one, one))

    def test_stages_are_reached_by_key_and_on_the_path(self) -> None:
        window = self.window(DEMO)
        for number, stage in enumerate(STAGES, start=1):
            QTest.keyClick(window, getattr(Qt.Key, f"Key_{number}"), Qt.KeyboardModifier.AltModifier)
            self.assertEqual(window.stage, stage)
        key(window.path, Qt.Key.Key_Left)
        self.assertEqual(window.stage, STAGES[-2])
        middle = window.path.chamber("sink").center().toPoint()
        QTest.mouseClick(window.path, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, middle)
        self.assertEqual(window.stage, "sink")
        self.assertIn("Sink is shown", window.path.accessibleDescription())

    def test_a_command_is_found_by_typing(self) -> None:
        window = self.window(DEMO)
        window.commands.open()
        QTest.keyClicks(window.commands.line, "dark")
        self.assertEqual([one.id for one in window.commands.matches()], ["view.theme", "view.desktop_theme"])
        key(window.commands.line, Qt.Key.Key_Return)
        self.assertEqual(window.theme_name, "lamp")
        self.assertFalse(window.commands.isVisible())

    def test_things_are_nudged_turned_locked_and_put_back_from_the_keyboard(self) -> None:
        window = self.window(DEMO, stage="lay-out")
        plan, workspace = window.plan, window.workspace
        plan.setFocus()
        key(plan, Qt.Key.Key_N)
        (chosen,) = workspace.selection
        before = next(one for one in workspace.insert.placements if one.id == chosen)

        def now() -> object:
            return next((one for one in workspace.insert.placements if one.id == chosen), None)

        for _ in range(3):
            key(plan, Qt.Key.Key_Right)
        self.assertEqual(now().x_mm, before.x_mm + 1.5)  # type: ignore[attr-defined]
        key(plan, Qt.Key.Key_Period)
        self.assertEqual(now().angle_deg, (before.angle_deg + 1) % 360)  # type: ignore[attr-defined]
        key(plan, Qt.Key.Key_E)
        key(plan, Qt.Key.Key_L)
        self.assertTrue(now().locked)  # type: ignore[attr-defined]
        key(plan, Qt.Key.Key_Right)
        self.assertEqual(now().x_mm, before.x_mm + 1.5)  # type: ignore[attr-defined]
        key(plan, Qt.Key.Key_Delete)
        self.assertIsNone(now())
        self.assertIn("1", at_lay_out(window).panel._head.text())
        while workspace.history.undo_label:
            workspace.undo()
        self.assertEqual(workspace.project, DEMO)


def replace_id(command: Command, id_: str) -> Command:
    from dataclasses import replace as changed

    return changed(command, id=id_)


class Work(QtCase):
    def test_a_first_thing_is_gathered_from_a_calliper_that_types_enter(self) -> None:
        window = self.window(Project())
        add, calliper = at_gather(window).add, at_gather(window).add.calliper
        QTest.keyClicks(add.name, "Driver")
        for at, width in (("0", "32"), ("95", "32"), ("95", "6"), ("210", "6")):
            calliper.at.setFocus()
            QTest.keyClicks(calliper.at, at)
            key(calliper.at, Qt.Key.Key_Return)
            self.assertTrue(calliper.width_field.hasFocus())
            QTest.keyClicks(calliper.width_field, width)
            key(calliper.width_field, Qt.Key.Key_Return)
            key(calliper.thickness, Qt.Key.Key_Return)
            self.assertTrue(calliper.at.hasFocus())
        QTest.mouseClick(add.add_calliper, Qt.MouseButton.LeftButton)
        (item,) = window.workspace.project.items
        self.assertEqual((item.name, len(item.zones), item.thickness_mm), ("Driver", 2, 32.0))
        self.assertEqual(window.workspace.history.undo_label, "Gather ‘Driver’")

    def test_a_wrong_figure_is_said_and_changes_nothing(self) -> None:
        window = self.window(DEMO, stage="measure")
        field = at_measure(window).panel.inside.width_field
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, "wide")
        key(field, Qt.Key.Key_Return)
        self.assertIn("not a length", field.trouble)
        self.assertEqual(window.workspace.container.width_mm, 570.0)
        self.assertIn("not a length", window.checks._troubles.text())
        field.selectAll()
        QTest.keyClicks(field, "22 1/2in")
        key(field, Qt.Key.Key_Return)
        self.assertEqual(window.workspace.container.width_mm, 571.5)
        self.assertEqual(field.trouble, "")
        self.assertEqual(window.workspace.troubles, {})

    def test_inches_everywhere_at_one_switch(self) -> None:
        window = self.window(DEMO, stage="measure")
        window.flip_units()
        self.assertEqual(at_measure(window).panel.inside.height_field.text(), "2 15/16 in")
        self.assertIn(" in", at_measure(window).panel.inside._blank_text.text())
        window.flip_units()
        self.assertEqual(at_measure(window).panel.inside.height_field.text(), "75 mm")

    def test_an_item_is_split_by_a_line_and_given_heights(self) -> None:
        window = self.window(DEMO, stage="gather")
        window.workspace.choose_item(next(one.id for one in DEMO.items if one.name == "Straight edge"))
        canvas = at_gather(window).bench.canvas
        middle = QPointF(canvas.width() / 2, canvas.height() / 2)
        drag(canvas, middle - QPointF(20, 60), middle - QPointF(20, -60))
        item = window.workspace.item
        assert item is not None
        self.assertEqual(len(item.zones), 2)
        thickness, under, _ = at_gather(window).bench._zones.rows[1]
        for field, text in ((thickness, "9"), (under, "-2")):
            field.setFocus()
            field.selectAll()
            QTest.keyClicks(field, text)
            key(field, Qt.Key.Key_Return)
        item = window.workspace.item
        assert item is not None
        self.assertEqual((item.zones[1].under_mm, item.zones[1].top_mm), (-2.0, 7.0))

    def test_arranging_runs_beside_the_window_and_can_be_stopped(self) -> None:
        bare = replace(DEMO, inserts=(replace(DEMO.inserts[0], placements=(), pulls=()),))
        window = self.window(bare, stage="lay-out")
        window.arranging.begin()
        self.assertTrue(wait_until(lambda: window.arranging.results != {}))
        self.assertTrue(at_lay_out(window).variations.isVisible())
        window.arranging.stop()
        self.assertTrue(wait_until(lambda: not window.arranging.is_arranging))
        self.assertEqual([one.code for one in window.workspace.findings if one.severity == "stop"], [])
        self.assertEqual(len(window.workspace.insert.placements), 26)
        self.assertEqual(window.workspace.history.undo_label, "Arrange: tidy rows")
        window.undo()
        self.assertEqual(window.workspace.insert.placements, ())

    def test_a_floor_is_pulled_in_the_section_and_the_plan_follows(self) -> None:
        window = self.window(DEMO, stage="sink")
        window.workspace.select(("item-1#1",))
        rect = window.section.handle_rect("item-1#1", 0)
        layer = window.section.frame().px_per_mm * 10
        before = window.workspace.ground.pockets["item-1#1"].seating.zone_layers[0]
        drag(window.section, rect.center(), rect.center() + QPointF(0, layer))
        after = window.workspace.ground.pockets["item-1#1"].seating
        self.assertEqual((after.zone_layers[0], after.by_hand), (before + 1, True))
        self.assertIn("set by hand", at_sink(window).panel.verdict.text())
        window.section.setFocus()
        key(window.section, Qt.Key.Key_Up)
        self.assertEqual(window.workspace.ground.pockets["item-1#1"].seating.zone_layers[0], before)

    def test_pulls_are_suggested_dragged_and_laid_as_a_trench(self) -> None:
        bare = replace(DEMO, inserts=(replace(DEMO.inserts[0], pulls=()),))
        window = self.window(bare, stage="grip")
        workspace = window.workspace
        heads = [one.id for one in DEMO.items if "head" in one.name.lower() and "lever" not in one.name]
        workspace.select([f"{item}#1" for item in heads])
        at_grip(window).panel.trench()
        self.assertEqual([pull.kind for pull in workspace.insert.pulls], ["trench"])
        self.assertEqual(len(workspace.ground.pulls[0].reaches), 4)
        workspace.select(())
        at_grip(window).panel.give_all()
        settle(window)
        self.assertGreater(len(workspace.insert.pulls), 5)
        self.assertEqual([one.code for one in workspace.findings if one.code == "NO_GRIP"], [])
        self.assertEqual([one.code for one in workspace.findings if one.code in {"GRIP_POOR", "PULL_SMALL"}], [])
        circle = next(one for one in workspace.ground.pulls if one.pull.kind == "circle_pair")
        at = circle.parts[0].centroid
        start = plan_pixel(window, at.x, at.y)
        drag(window.plan.viewport(), start, start + QPointF(6, 0))
        self.assertEqual(workspace.history.undo_label, "Move a finger pull")

    def test_the_cut_stage_counts_cuts_and_writes_papers(self) -> None:
        window = self.window(DEMO, stage="cut")
        self.assertGreater(at_cut(window).panel.table.rowCount(), 40)
        at_cut(window).panel.layer.setValue(1)
        self.assertIn("1 of 5", at_cut(window).panel._peeled.text())
        window.desk.export_to(self.folder / "papers", ("csv", "dxf"))
        self.assertTrue(wait_until(lambda: (self.folder / "papers" / "cuts.csv").exists()))

    def test_what_is_dropped_and_taken_out_by_whoever_hears_of_it_is_not_looked_for(self) -> None:
        """A field that is hidden by the change finishes, and may change the plan within the change."""
        bare = replace(DEMO, inserts=(replace(DEMO.inserts[0], placements=(), pulls=()),))
        window = self.window(bare, stage="lay-out")
        workspace = window.workspace
        workspace.document_changed.connect(
            lambda: workspace.do("Take out", replace(workspace.project, inserts=bare.inserts))
        )
        window.laying_in.drop("item-1#1", (200.0, 100.0))
        self.assertEqual(workspace.insert.placements, ())
        self.assertEqual(workspace.selection, ())

    def test_a_thing_is_dropped_from_the_tray_and_the_file_is_saved(self) -> None:
        bare = replace(DEMO, inserts=(replace(DEMO.inserts[0], placements=(), pulls=()),))
        window = self.window(bare, stage="lay-out")
        window.laying_in.drop("item-1#1", (200.0, 100.0))
        self.assertEqual(window.workspace.selection, ("item-1#1",))
        window.laying_in.lay_in_best("item-2#1")
        settle(window)
        self.assertEqual(len(window.workspace.insert.placements), 2)
        path = self.folder / "mine.burrow"
        self.assertTrue(window.desk.save_to(path))
        self.assertFalse(window.workspace.is_dirty)
        self.assertEqual(load(path), window.workspace.project)
        self.assertEqual(window.settings.recent(), [path.resolve()])

    def test_work_that_was_left_behind_is_offered_and_brought_back(self) -> None:
        from cozy_burrow.storage.recovery import RecoveryStore

        store = RecoveryStore(self.folder)
        store.keep(replace(DEMO, title="Left behind"), self.folder / "x.burrow")
        import os

        os.close(store._lock)  # as if the program had been killed
        window = self.window(Project())
        self.assertTrue(window.banner.isVisible())
        QTest.mouseClick(window.banner.bring, Qt.MouseButton.LeftButton)
        self.assertEqual(window.workspace.project.title, "Left behind")
        self.assertTrue(window.workspace.is_dirty)
        self.assertFalse(window.banner.isVisible())
        self.assertTrue(window.autosave.store.copy_path.exists())

    def test_a_change_is_kept_as_a_recovery_copy_soon(self) -> None:
        window = self.window(DEMO)
        window.workspace.do("x", replace(DEMO, title="x"))
        self.assertTrue(wait_until(lambda: window.autosave.store.copy_path.exists()))
        self.assertEqual(load(window.autosave.store.copy_path).title, "x")

    def test_a_bug_costs_no_work_and_shows_no_traceback(self) -> None:
        said: list[str] = []
        kept: list[bool] = []
        guard = CrashGuard(self.folder, keep_work=lambda: kept.append(True), say=said.append)
        try:
            raise RuntimeError("a bug")
        except RuntimeError as error:
            guard.caught(type(error), error, error.__traceback__)
        self.assertEqual(kept, [True])
        self.assertIn("Your work is kept", said[0])
        self.assertNotIn("Traceback", said[0])
        self.assertEqual(len(list((self.folder / "reports").glob("report-*.txt"))), 1)

    def test_the_check_list_points_and_mends(self) -> None:
        window = self.window(DEMO, stage="lay-out")
        workspace = window.workspace
        workspace.select(("item-20#1",))
        window.plan.setFocus()
        for _ in range(4):
            key(window.plan, Qt.Key.Key_Right)
        window.plan.setFocus()
        key(window.plan, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
        row, finding = next((n, one) for n, one in enumerate(workspace.findings) if one.code == "THIN_WALL")
        window.next_finding()
        self.assertEqual(window.plan.current_finding, workspace.findings[0])
        window.checks.choose(row)
        self.assertEqual(window.plan.current_finding, finding)
        self.assertEqual(set(workspace.selection), set(finding.placements))
        self.assertTrue(window.checks.mend_current())
        self.assertFalse(window.checks.mend_current())  # one at a time
        self.assertTrue(wait_until(lambda: not window.checks.mending.is_busy))
        self.assertNotIn(finding.placements, [one.placements for one in workspace.findings])

    def test_a_file_that_cannot_be_opened_is_said_in_words(self) -> None:
        from unittest.mock import patch

        window: Window = self.window(DEMO)
        (self.folder / "bad.burrow").write_bytes(b"no zip")
        with patch("cozy_burrow.app.desk.project_desk.QMessageBox.warning") as warning:
            window.desk.open_path(self.folder / "bad.burrow")
        self.assertIn("damaged", warning.call_args.args[2])
        self.assertEqual(window.workspace.project, DEMO)
