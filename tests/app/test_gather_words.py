"""Gathering by keyboard alone: Enter adds, a refusal leads to the field meant; mass, notes, fields that are emptied."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLabel, QPushButton, QScrollArea, QWidget

from cozy_burrow.app.look.fields import Form, LengthField
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.ground.sits import proud_in
from cozy_burrow.core.kit.zones import mass_g_of
from cozy_burrow.core.model.edits import remove_items
from cozy_burrow.core.model.records import Project, Rules
from cozy_burrow.demo.shipped import demo_project
from tests.app.qt import QtCase, key, settle
from tests.app.screens import at_gather, at_grip, at_measure
from tests.makers import box, laid, project


def typed(field: QWidget, text: str) -> None:
    """Write into a field and press Enter."""
    field.setFocus()
    QTest.keyClicks(field, text)
    key(field, Qt.Key.Key_Return)


class Keys(QtCase):
    def test_enter_in_the_last_field_adds_and_the_first_is_ready_for_the_next(self) -> None:
        window = self.window(Project(), stage="gather")
        add, kit = at_gather(window).add, lambda: window.workspace.project.items
        for way, fields, figures in (("Box", add._box, ("60", "30", "8")), ("Round", add._round, ("70", "20"))):
            add.show_way(way)
            for count in (1, 2):
                before = len(kit())
                typed(add.name, f"{way} {count}")
                self.assertIs(self.app.focusWidget(), add.group)
                fields[0].setFocus()
                for field, figure in zip(fields, figures):
                    self.assertIs(self.app.focusWidget(), field)
                    typed(field, figure)
                self.assertEqual([item.name for item in kit()[before:]], [f"{way} {count}"])
                self.assertIs(self.app.focusWidget(), add.name)
                self.assertEqual([field.text() for field in fields], [""] * len(fields))

    def test_what_is_refused_leads_to_the_field_that_is_meant(self) -> None:
        window = self.window(Project(), stage="gather")
        add = at_gather(window).add
        add.show_way("Box")
        typed(add._box[0], "60")
        typed(add._box[1], "wide")
        typed(add._box[2], "8")
        self.assertEqual(window.workspace.project.items, ())
        self.assertIs(self.app.focusWidget(), add._box[1])
        self.assertIn("not a length", add._refused.text())

    def test_enter_presses_the_button_that_has_the_focus(self) -> None:
        window = self.window(demo_project(), stage="gather")
        button = at_gather(window).add.ways["Round"]
        button.setFocus()
        key(button, Qt.Key.Key_Enter)
        self.assertTrue(button.isChecked())
        self.assertEqual(at_gather(window).add.pages.currentIndex(), list(at_gather(window).add.ways).index("Round"))
        add = next(
            one for one in at_gather(window).add.pages.currentWidget().findChildren(QPushButton) if one.isVisible()
        )
        add.setFocus()
        key(add, Qt.Key.Key_Return)
        self.assertIn("not a length", at_gather(window).add._refused.text())

    def test_a_label_has_one_middle_line_with_its_field(self) -> None:
        window = self.window(demo_project(), stage="measure")
        window.show_stage("sink")
        window.show_stage("grip")
        for stage in ("gather", "measure", "sink", "grip"):
            window.show_stage(stage)  # type: ignore[arg-type]
            self.app.processEvents()
            seen = 0
            for form in window.findChildren(Form):
                roles = (form.ItemRole.LabelRole, form.ItemRole.FieldRole)
                for row in range(form.rowCount()):
                    label, field = (form.itemAt(row, role) for role in roles)
                    one, other = (item.widget() if item is not None else None for item in (label, field))
                    if isinstance(one, QLabel) and other is not None and one.isVisible() and other.isVisible():
                        middles = [widget.mapToGlobal(widget.rect().center()).y() for widget in (one, other)]
                        self.assertAlmostEqual(middles[0], middles[1], delta=1.0, msg=one.text())
                        self.assertTrue(one.alignment() & Qt.AlignmentFlag.AlignVCenter)
                        seen += 1
            if stage == "measure":
                self.assertGreater(seen, 3)


class Room(QtCase):
    def test_three_zones_are_in_sight_and_other_stages_keep_their_section(self) -> None:
        window = self.window(demo_project(), stage="gather")
        item = next(one for one in window.workspace.project.items if len(one.zones) == 3)
        window.workspace.choose_item(item.id)
        settle(window)
        area = at_gather(window).bench.findChild(QScrollArea)
        assert isinstance(area, QScrollArea)
        self.assertEqual(area.verticalScrollBar().maximum(), 0)
        window.show_stage("lay-out")
        settle(window)
        self.assertLess(window.section.height(), area.height())
        self.assertGreater(window.plan.height(), 2 * window.section.height())

    def test_what_is_dragged_stays_so_for_screens_of_one_kind(self) -> None:
        window = self.window(demo_project(), stage="lay-out")
        scene = window.frame.scene
        seen = {}
        for stage, below in (("lay-out", 190), ("gather", 310), ("sink", 350)):
            window.workspace.choose_item(window.workspace.project.items[0].id)
            window.show_stage(stage)  # type: ignore[arg-type]
            settle(window)
            scene.setSizes([sum(scene.sizes()) - below, below])
            seen[stage] = scene.sizes()
        for stage in ("lay-out", "cut", "gather", "grip", "sink", "lay-out"):
            window.show_stage(stage)  # type: ignore[arg-type]
            settle(window)
            if stage in seen:
                self.assertAlmostEqual(scene.sizes()[1], seen[stage][1], delta=2, msg=stage)


class Mass(QtCase):
    def test_a_thing_is_weighed_and_its_mass_taken_back(self) -> None:
        window = self.window(project(box(60, 30, 8)), stage="gather")
        workspace, bench = window.workspace, at_gather(window).bench
        workspace.choose_item("item-1")
        guess = mass_g_of(workspace.project.items[0])
        bench.weigh()
        weighed = workspace.project.items[0].mass_g
        assert weighed is not None
        self.assertAlmostEqual(weighed, guess, delta=3.0)
        self.assertEqual(bench._mass.text(), f"{weighed:g} g")
        bench._mass.selectAll()
        typed(bench._mass, "85")
        self.assertEqual(workspace.project.items[0].mass_g, 85.0)
        bench._mass.setFocus()
        bench._mass.selectAll()
        key(bench._mass, Qt.Key.Key_Delete)
        key(bench._mass, Qt.Key.Key_Return)
        self.assertIsNone(workspace.project.items[0].mass_g)

    def test_notes_are_seen_again_with_the_caution_that_belongs_to_them(self) -> None:
        window = self.window(project(box(60, 30, 8)), stage="gather")
        window.workspace.choose_item("item-1")
        typed(at_gather(window).bench._notes, "goes away hot")
        self.assertEqual(window.workspace.project.items[0].notes, "goes away hot")
        self.assertIn("cold", at_gather(window).bench._notes.toolTip())


class Refused(QtCase):
    """What a field refused is said as long as it stands there, and no longer."""

    def refused(self, *, after: Project | None = None) -> Window:
        """Return a window with a mass half typed. after: what was there before this project was brought in."""
        plan = project(box(60, 30, 8), box(40, 20, 6))
        window = self.window(plan if after is None else after, stage="gather")
        if after is not None:
            window.workspace.bring_in("Restore", plan, None)
        window.workspace.choose_item("item-1")
        mass = at_gather(window).bench._mass
        mass.setFocus()
        mass.selectAll()
        QTest.keyClicks(mass, "x")
        return window

    def test_another_item_has_another_mass(self) -> None:
        window = self.refused()
        key(at_gather(window).bench._mass, Qt.Key.Key_Return)
        self.assertEqual(list(window.workspace.troubles), ["mass"])
        window.workspace.choose_item("item-2")
        self.assertEqual(window.workspace.troubles, {})

    def test_and_what_is_gone_has_none(self) -> None:
        for label in ("opened", "brought in", "taken out", "as before"):
            with self.subTest(label):
                window = self.refused(after=Project() if label == "as before" else None)
                workspace = window.workspace
                if label == "as before":
                    workspace.undo()
                elif label == "opened":
                    workspace.open(Project(), None)
                elif label == "brought in":
                    workspace.bring_in("Restore", Project(), None)
                else:
                    workspace.do("Take out", remove_items(workspace.project, ["item-1", "item-2"]))
                settle(window)
                self.assertEqual(workspace.troubles, {})


class Emptied(QtCase):
    def test_an_optional_length_is_taken_back_by_emptying_its_field(self) -> None:
        window = self.window(laid(project(box(60, 30, 8)), (150, 100)), stage="measure")
        workspace = window.workspace
        at_measure(window).panel.show_page("Rules")
        field = next(one for one in window.findChildren(LengthField) if one.accessibleName() == "Allowance")
        field.setFocus()
        field.selectAll()
        typed(field, "2")
        self.assertEqual(workspace.project.rules.allowance_mm, 2.0)
        field.setFocus()
        field.selectAll()
        key(field, Qt.Key.Key_Delete)
        key(field, Qt.Key.Key_Return)
        self.assertIsNone(workspace.project.rules.allowance_mm)
        self.assertEqual(field.text(), "")

    def test_a_hook_can_be_taken_back_and_the_best_pull_says_why_it_gives_none(self) -> None:
        window = self.window(laid(project(box(60, 30, 8), rules=Rules(allowance_mm=0.0)), (150, 100)), stage="grip")
        workspace, grip = window.workspace, at_grip(window).panel
        workspace.select(("item-1#1",))
        said: list[str] = []
        workspace.said.connect(said.append)
        for data in ("hook", "not held"):
            grip.kind_box.setCurrentIndex(grip.kind_box.findData(data))
            grip._take_kind()
            self.assertEqual(workspace.project.items[0].held_by, "hook" if data == "hook" else None)
            grip.suggest()
            settle(window)
            if data == "hook":
                self.assertIn("needs no pull: it has a hook", said[-1])
                self.assertEqual(workspace.insert.pulls, ())
        self.assertEqual(len(workspace.insert.pulls), 1)

    def test_what_stands_out_needs_none_and_the_figure_is_said(self) -> None:
        window = self.window(laid(project(box(60, 30, 40)), (150, 100)), stage="grip")
        window.workspace.select(("item-1#1",))
        said: list[str] = []
        window.workspace.said.connect(said.append)
        at_grip(window).panel.suggest()
        settle(window)
        proud = window.workspace.length(proud_in(window.workspace.ground, "item-1#1"))
        self.assertIn(f"stands out {proud}", said[-1])
