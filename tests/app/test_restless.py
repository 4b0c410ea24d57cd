"""A restless hand: hundreds of commands, clicks and drags in no order; nothing breaks, and undo leads back."""

from __future__ import annotations

import random
from unittest.mock import patch

from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from cozy_burrow.app.desk import ask
from cozy_burrow.app.frame.command import run
from cozy_burrow.app.shell.commands import COMMANDS
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.model.memo import forget_all
from cozy_burrow.demo.shipped import demo_project
from cozy_burrow.storage.project_file import from_bytes, to_bytes
from tests.app.qt import QtCase, drag, settle, wait_until

NOT_HERE = {"project.quit", "help.page"}


class Restless(QtCase):
    def test_whatever_is_pressed_in_whatever_order(self) -> None:
        chance = random.Random(1)
        demo = demo_project()
        window = self.window(demo)
        workspace = window.workspace
        commands = [one for one in COMMANDS if one.id not in NOT_HERE]
        with (
            patch.object(QFileDialog, "getOpenFileName", return_value=("", "")),
            patch.object(QFileDialog, "getSaveFileName", return_value=("", "")),
            patch.object(QFileDialog, "getExistingDirectory", return_value=""),
            patch.object(ask, "which", lambda *asked: len(asked[-1]) - 1),
        ):
            for _ in range(80):
                choice = chance.random()
                if choice < 0.6:
                    run(window, chance.choice(commands))
                elif choice < 0.8 and window.stage != "gather":
                    view = window.plan.viewport()
                    start = QPointF(chance.uniform(0, view.width()), chance.uniform(0, view.height()))
                    drag(view, start, start + QPointF(chance.uniform(-40, 40), chance.uniform(-40, 40)), steps=2)
                elif choice < 0.9 and window.section.isVisible():
                    at = QPointF(chance.uniform(0, window.section.width()), chance.uniform(0, window.section.height()))
                    drag(window.section, at, at + QPointF(0, chance.uniform(-30, 30)), steps=2)
                elif workspace.findings:
                    window.checks.choose(chance.randrange(len(workspace.findings)))
                    window.checks.mend_current()
                window.commands.hide()
                settle(window)
                self.assertEqual(self.uncaught, [])
            window.arranging.stop()
            self.assertTrue(wait_until(lambda: not window.arranging.is_arranging))
        # What is shown is what a fresh look at the document says, and it survives a save.
        shown = workspace.findings
        forget_all()
        self.assertEqual(findings_of(workspace.project), shown)
        self.assertEqual(from_bytes(to_bytes(workspace.project), where="a"), workspace.project)
        while workspace.history.undo_label is not None:
            workspace.undo()
        self.assertEqual(workspace.project, workspace.history.steps[0].project)

    def test_every_stage_in_both_themes_and_units_and_with_nothing_in_it(self) -> None:
        from cozy_burrow.core.model.records import Project
        from cozy_burrow.core.model.stages import STAGES

        for plan in (demo_project(), Project()):
            window = self.window(plan)
            for stage in STAGES:
                window.show_stage(stage)
                for _ in range(2 if plan.items else 1):
                    window.flip_theme()
                    window.flip_units()
                    self.app.processEvents()
                    window.grab()
                self.assertEqual(self.uncaught, [])

    def test_a_stale_figure_is_never_left_on_the_plan(self) -> None:
        window = self.window(demo_project(), stage="lay-out")
        workspace = window.workspace
        workspace.select(("item-1#1",))
        window.plan.setFocus()
        for _ in range(12):
            QTest.keyClick(window.plan, Qt.Key.Key_Right)
            ground = ground_of(workspace.project, workspace.insert)
            self.assertIs(workspace.ground, ground)
        forget_all()
        fresh = findings_of(workspace.project)
        self.assertEqual(workspace.findings, fresh)
