"""Measure through its widgets: containers, stacks, boards, shelf, load, card template, refusals."""

from __future__ import annotations

from msgspec.structs import replace
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QCheckBox, QLineEdit, QScrollArea

from cozy_burrow.app.desk.stores_desk import StoresDesk
from cozy_burrow.app.screens.measure.pages import PAGES
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.container.starts import STARTS
from cozy_burrow.core.model.edits import change_insert
from cozy_burrow.core.model.materials import COLOURS
from cozy_burrow.core.model.records import Project, Rules
from cozy_burrow.core.model.told import fields_of
from cozy_burrow.core.model.vessels import Frame
from cozy_burrow.demo.shipped import demo_project
from tests.app.qt import QtCase, drag, key, plan_pixel, wait_until
from tests.app.screens import at_measure
from tests.makers import box, laid, project, rod


class Measure(QtCase):
    def measured(self, plan: Project, page: str, insert: str = "") -> Window:
        window = self.window(plan)
        window.stores.show_demo()
        if insert:
            window.workspace.show_insert(insert)
        at_measure(window).show_page(page)  # type: ignore[arg-type]
        self.app.processEvents()
        return window

    def type_in(self, field: object, text: str) -> None:
        field.setFocus()  # type: ignore[attr-defined]
        field.selectAll()  # type: ignore[attr-defined]
        QTest.keyClicks(field, text)  # type: ignore[call-overload]
        key(field, Qt.Key.Key_Return)  # type: ignore[arg-type]

    def test_a_start_shape_fills_the_fields_and_shows_what_its_kind_has(self) -> None:
        window = self.measured(Project(), "Inside")
        inside = at_measure(window).panel.inside
        self.assertFalse(inside.base_edge_field.isVisible())
        inside.start.setCurrentIndex(inside.start.findData("a moulded case"))
        inside.start.activated.emit(inside.start.currentIndex())
        self.assertEqual(window.workspace.container.draft_deg, STARTS["a moulded case"].draft_deg)
        self.assertEqual(inside.taper.button.text(), "▸  Taper of the walls: 3°")
        QTest.mouseClick(inside.taper.button, Qt.MouseButton.LeftButton)
        self.assertEqual(inside.taper.button.text(), "▾  Taper of the walls")
        self.assertTrue(inside.base_edge_field.isVisible())
        self.assertIn("chamfer", inside._blank_text.text())
        self.type_in(inside.draft_fields[1], "4,5")
        self.assertEqual(window.workspace.container.draft_deg[1], 4.5)
        self.type_in(inside.draft_fields[1], "80")
        self.assertEqual(window.workspace.container.draft_deg[1], 4.5)
        self.assertIn("Draft right", window.checks._troubles.text())
        window.undo()
        self.assertEqual(window.workspace.container.draft_deg[1], 3.0)

    def test_no_page_scrolls_in_its_first_state(self) -> None:
        window = self.measured(demo_project(), "Inside")
        window.show_stage("measure")
        panel = at_measure(window).panel
        for insert in window.workspace.project.inserts:
            window.workspace.show_insert(insert.id)
            for page in PAGES:
                at_measure(window).show_page(page)
                self.app.processEvents()
                (area,) = [one for one in panel.findChildren(QScrollArea) if one.isVisible()]
                with self.subTest(insert=insert.name, page=page):
                    self.assertTrue(wait_until(lambda area=area: area.verticalScrollBar().maximum() == 0, looks=2_000))

    def test_what_comes_into_a_fold_opens_it_and_what_was_there_does_not(self) -> None:
        window = self.measured(demo_project(), "Inside", "insert-2")
        window.show_stage("measure")
        inside = at_measure(window).panel.inside
        self.assertEqual(inside.obstacles.fold.button.text()[0], "▸")
        count = len(window.workspace.container.obstacles)
        self.assertGreater(count, 0)
        self.assertTrue(inside.obstacles.fold.button.text().endswith(f": {count}"))
        window.workspace.show_insert("insert-1")
        self.assertFalse(inside.obstacles.fold.button.isChecked())
        inside.obstacles.add_buttons["rib"].click()
        self.assertTrue(inside.obstacles.fold.button.isChecked())
        inside.obstacles.fold.button.setChecked(False)
        ribbed = window.workspace.project
        window.workspace.open(demo_project(), None)
        window.workspace.open(ribbed, None)  # its container has the id that the one without a rib had
        self.assertFalse(inside.obstacles.fold.button.isChecked())

    def test_boards_round_a_wall_are_planned_and_a_case_has_none(self) -> None:
        window = self.measured(Project(), "Inside")
        inside, workspace = at_measure(window).panel.inside, window.workspace
        rows = inside.frame
        self.assertTrue(rows.isVisible())
        self.assertFalse(rows.told.isVisible())
        rows.builds.click()
        self.assertEqual(workspace.container.frame, Frame())
        self.assertIn("2 × 594 mm, back and front", rows.told.text())
        self.type_in(rows.board, "9")
        self.assertIn("outside 588 mm × 408 mm", rows.told.text())
        self.type_in(rows.board, "1")
        self.assertEqual(workspace.container.frame, Frame(board_mm=9.0))
        rows.joint.setCurrentIndex(rows.joint.findData("rebate"))
        rows.joint.activated.emit(rows.joint.currentIndex())
        self.assertIn("2 × 399 mm, left and right", rows.told.text())
        kind = inside.change_box("kind", kind="case")
        self.assertTrue(kind)
        self.assertFalse(rows.isVisible())
        for _ in range(4):
            window.undo()
        self.assertIsNone(workspace.container.frame)
        self.assertFalse(rows.builds.isChecked())

    def test_a_figure_for_a_sheet_that_has_gone_is_refused_in_words(self) -> None:
        """A field that is left after its row was taken away sends what was typed all the same."""
        window = self.measured(laid(project(box()), (100, 100)), "Foam")
        foam, workspace = at_measure(window).panel.foam, window.workspace
        workspace.do("Add a sheet", change_insert(workspace.project, "insert-1", sheets=workspace.insert.sheets * 2))
        last = foam._rows[-1][0]
        workspace.undo()
        before = workspace.project
        last.entered.emit(30.0)
        self.assertIs(workspace.project, before)
        self.assertIn("sheet 2 is not there any more", window.checks._troubles.text())

    def test_every_rule_has_a_door_and_what_goes_through_it_holds(self) -> None:
        window = self.measured(laid(project(box(), rod()), (80, 60), (180, 120, 30)), "Rules")
        page, workspace = at_measure(window).panel.rules, window.workspace
        for field in fields_of(Rules):
            with self.subTest(field.name):
                if field.kind is bool:
                    tick = next(one for one in page.findChildren(QCheckBox) if one.text() == field.label)
                    tick.click()
                    self.assertIs(getattr(workspace.project.rules, field.name), True)
                    continue
                if field.name == "floor_layers":
                    page._floor.setValue(2)
                    self.assertEqual(workspace.project.rules.floor_layers, 2)
                    continue
                assert field.least is not None and field.most is not None
                line = next(one for one in page.findChildren(QLineEdit) if one.accessibleName() == field.label)
                wanted = round(field.least + 0.4 * (field.most - field.least), 1)
                self.type_in(line, f"{wanted}")
                self.assertAlmostEqual(getattr(workspace.project.rules, field.name), wanted)
                self.type_in(line, f"{field.most + 1}")
                self.assertAlmostEqual(getattr(workspace.project.rules, field.name), wanted)
                self.assertIn(field.label, window.checks._troubles.text())

    def test_walls_and_the_corner_are_pulled_by_hand_and_taken_back(self) -> None:
        window = self.measured(Project(), "Inside")
        view, grips = window.plan.viewport(), at_measure(window).layer.hand.grips()
        for grip, (dx, dy) in (("right", (20.0, 0.0)), ("front", (0.0, 15.0)), ("corner", (6.0, 6.0))):
            start = plan_pixel(window, *grips[grip])  # type: ignore[index]
            drag(view, start, start + QPointF(dx, dy) * window.plan.px_per_mm)
            window.plan.fit()
            grips = at_measure(window).layer.hand.grips()
        found = window.workspace.container
        self.assertAlmostEqual(found.width_mm, 590.0, delta=1.5)
        self.assertAlmostEqual(found.depth_mm, 405.0, delta=1.5)
        self.assertAlmostEqual(found.corner_radius_mm, 6.0 / (1 - 0.5**0.5), delta=6.0)
        for _ in range(3):
            window.undo()
        self.assertEqual(window.workspace.project, Project())

    def test_inserts_are_added_turned_to_and_taken_away(self) -> None:
        window = self.measured(demo_project(), "Inside")
        window.inserts.add("a wall panel")
        self.assertEqual(window.workspace.container.kind, "wall")
        self.assertEqual(window.workspace.container.name, "Wall panel 2")
        window.inserts.remove()
        self.assertEqual(len(window.workspace.project.inserts), 4)
        window.workspace.show_insert("insert-3")
        window.inserts.add_tier()
        self.assertEqual([one.name for one in window.workspace.project.inserts][1], "Concert case, tier 3")
        self.assertTrue(any(one.code == "STACK_TOO_HIGH" for one in window.workspace.findings))
        window.undo()
        seen = set()
        for _ in range(4):
            key(window, Qt.Key.Key_PageDown, Qt.KeyboardModifier.ControlModifier)
            seen.add(window.workspace.insert_id)
        self.assertEqual(seen, {"insert-1", "insert-2", "insert-3", "insert-4"})
        menu = window.inserts.menu()
        menu.aboutToShow.emit()
        self.assertIn("Concert case: Concert tray   (10)", [one.text() for one in menu.actions()])

    def test_the_only_insert_stays(self) -> None:
        window = self.measured(Project(), "Inside")
        window.inserts.remove()
        self.assertEqual(len(window.workspace.project.inserts), 1)
        self.assertIn("only insert", window.statusBar().currentMessage())

    def test_a_stack_is_chosen_in_the_picture_and_used(self) -> None:
        window = self.measured(demo_project(), "Foam")
        page, view = at_measure(window).panel.foam, at_measure(window).stack_view
        self.assertTrue(wait_until(lambda: bool(page.ranked)))
        self.assertIn("wanted", page.advice.text())
        view.setFocus()
        key(view, Qt.Key.Key_Right)
        self.assertIn("gap", view.accessibleDescription())
        wanted = page.ranked[1].stack
        key(view, Qt.Key.Key_Return)
        self.assertEqual([s.board_id for s in window.workspace.insert.sheets], [b.id for b in wanted.boards])
        QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=view.column(0).center().toPoint())
        self.assertEqual(view.current, 0)
        self.type_in(page._rows[0][1], "0")
        self.assertIn("too small", window.checks._troubles.text())
        self.assertGreater(len(window.workspace.insert.sheets), 1)
        page.whole_bottom.click()
        self.assertTrue(window.workspace.insert.whole_bottom)

    def test_only_whole_stacks_are_shown_and_the_keys_lead_to_the_others(self) -> None:
        window = self.measured(demo_project(), "Foam")
        page, view = at_measure(window).panel.foam, at_measure(window).stack_view
        self.assertTrue(wait_until(lambda: len(page.ranked) > 6))
        view.setFocus()
        for _ in range(len(page.ranked) + 2):
            self.assertTrue(view.rect().contains(view.column(view.current).toRect()))
            key(view, Qt.Key.Key_Right)
        self.assertEqual(view.current, len(view._ranked) - 1)

    def test_foam_and_base_have_colours_that_undo_takes_back(self) -> None:
        window = self.measured(demo_project(), "Foam")
        page = at_measure(window).panel.foam
        look = page._rows[0][3]
        for box_, word in ((look.colour, "black"), (look.base, "yellow")):
            row = box_.findData(word)
            box_.setCurrentIndex(row)
            box_.activated.emit(row)
        sheet = window.workspace.insert.sheets[0]
        self.assertEqual((sheet.colour, sheet.base_colour), ("black", "yellow"))
        self.assertEqual(window.workspace.ground.layers[-1].colour, COLOURS["yellow"])
        window.workspace.undo()
        window.workspace.undo()
        self.app.processEvents()
        self.assertEqual(look.colour.currentData(), "")
        window.workspace.show_insert("insert-2")
        self.app.processEvents()
        self.assertFalse(page._rows[0][3].base.isVisible())  # no layer of another colour in it

    def test_the_job_is_bought_cut_printed_and_its_offcuts_kept(self) -> None:
        window = self.measured(demo_project(), "Sheets")
        page = at_measure(window).panel.sheets
        self.assertTrue(wait_until(lambda: page.purchase is not None))
        self.assertIn("Together €", page._text.text())
        self.assertIn("Spares below, sheet 1", at_measure(window).boards_view.accessibleDescription())
        table = at_measure(window).shopping
        self.assertTrue(table.isVisible())
        sums = [table.item(row, 4).text() for row in range(table.rowCount())]  # type: ignore[union-attr]
        figures = [float(text.removeprefix("€")) for text in sums if text != "–"]
        self.assertAlmostEqual(sum(figures[:-1]), figures[-1], places=2)
        assert page.purchase is not None
        self.assertAlmostEqual(figures[-1], page.purchase.cost, places=2)
        page.write_plan(self.folder / "boards.pdf")
        self.assertTrue((self.folder / "boards.pdf").read_bytes().startswith(b"%PDF"))
        pieces = len(window.stores.stores.shelf)
        page.done.click()
        self.assertGreater(len(window.stores.stores.shelf), pieces)
        kept = StoresDesk(window.settings).stores
        self.assertEqual(kept, window.stores.stores)
        self.assertTrue(any(piece.note == "offcut" for piece in kept.shelf))
        self.assertTrue(wait_until(lambda: page.purchase is not None))
        self.assertLess(page.purchase.cost, 151.0)  # type: ignore[union-attr]

    def test_prices_and_pieces_are_the_fitters_own(self) -> None:
        window = self.measured(project(box()), "Sheets")
        page = at_measure(window).panel.sheets
        rows, shelf = page.boards, page.shelf
        for fold in (page.prices, page.pieces):
            self.assertFalse(fold.button.isChecked())
            fold.button.click()
        count = len(window.stores.stores.boards)
        rows.add.click()
        self.assertEqual(len(window.stores.stores.boards), count + 1)
        self.type_in(rows.price, "12.5")
        self.type_in(rows.pack, "3")
        self.type_in(rows.name, "Grey block")
        board = window.stores.stores.boards[-1]
        self.assertEqual((board.name, board.price, board.pack), ("Grey block", 12.5, 3))
        self.type_in(rows.name, " ")
        self.assertEqual(window.stores.stores.boards[-1].name, "Grey block")
        self.assertIn("price without a sheet", window.checks._troubles.text())
        self.type_in(rows.free, "80")
        rows.remove.click()
        self.assertEqual(len(window.stores.stores.boards), count)
        shelf.add.click()
        self.type_in(shelf.sides[0], "500")
        self.type_in(shelf.bows[2], "3")
        self.assertEqual(window.stores.stores.shelf[-1].sides_mm[0], 500.0)
        self.assertEqual(window.stores.stores.shelf[-1].bow_mm[2], 3.0)
        self.type_in(shelf.diagonal, "5000")
        self.assertIsNone(window.stores.stores.shelf[-1].diagonal_mm)
        pieces = len(window.stores.stores.shelf)
        shelf.remove.click()
        self.assertEqual(len(window.stores.stores.shelf), pieces - 1)

    def test_a_damaged_price_list_is_told_and_not_written_over(self) -> None:
        (self.folder / "stores.json").write_text("{ half a li")
        window = self.measured(Project(), "Sheets")
        self.assertIn("damaged", window.stores.trouble)
        at_measure(window).panel.sheets.boards.add.click()
        self.assertEqual((self.folder / "stores.json").read_text(), "{ half a li")

    def test_a_gathered_card_template_becomes_the_rim(self) -> None:
        window = self.measured(laid(project(box(320, 210, 3, name="card")), (150, 100)), "Survey")
        page = at_measure(window).panel.survey
        page.template.setCurrentIndex(1)
        page.template.activated.emit(1)
        found = window.workspace.container
        self.assertEqual((found.width_mm, found.depth_mm), (320.0, 210.0))
        self.assertEqual(window.workspace.project.items, ())
        self.assertEqual(window.workspace.ground.blank.bounds, (0.0, 0.0, 320.0, 210.0))
        page.plain.click()
        self.assertIsNone(window.workspace.container.outline)

    def test_corners_of_a_rough_sketch_are_dragged_until_distances_hold_them(self) -> None:
        window = self.measured(Project(), "Survey")
        page, canvas = at_measure(window).panel.survey, at_measure(window).survey_canvas
        page.sketch.setCurrentIndex(1)
        page.sketch.activated.emit(1)
        at = canvas.corner_px("C")
        drag(canvas, at, at + QPointF(30, 0))
        self.assertGreater(window.workspace.container.width_mm, 405.0)
        page.corner.setCurrentText("B")
        page.more.click()
        self.assertEqual([one.name for one in window.workspace.container.corners], list("ABECD"))
        page.corner.setCurrentText("E")
        page.fewer.click()
        self.assertEqual([one.name for one in window.workspace.container.corners], list("ABCD"))
        canvas.setFocus()
        QTest.keyClicks(canvas, "ac")
        self.assertEqual((page.first.currentText(), page.second.currentText()), ("A", "C"))
        page.choose_pair("A", "A")
        self.type_in(page.length_field, "300")
        self.assertIn("same", window.checks._troubles.text())
        for first, second, length in (("A", "B", "300"), ("B", "C", "200"), ("A", "C", "900")):
            page.choose_pair(first, second)
            self.type_in(page.length_field, length)
        self.assertIn("cannot be", page._words.text())
        self.assertTrue(any(one.code == "SURVEY_BROKEN" for one in window.workspace.findings))

    def test_a_figure_half_typed_is_dropped_when_its_survey_is_undone(self) -> None:
        """A field that is hidden loses the focus, and with it hands on what stands in it."""
        for wanted in ("length_field", "rise_field", "radius_field"):
            with self.subTest(field=wanted):
                window = self.measured(Project(), "Survey")
                page, start = at_measure(window).panel.survey, window.workspace.project
                page.sketch.setCurrentIndex(1)
                page.sketch.activated.emit(1)
                QTest.mouseClick(page.corners.button, Qt.MouseButton.LeftButton)
                page.chord_field.setText("30")
                field = getattr(page, wanted)
                field.setFocus()
                field.selectAll()
                QTest.keyClicks(field, "12")
                window.undo()
                self.app.processEvents()
                self.assertEqual(window.workspace.project, start)
                self.assertEqual(dict(window.workspace.troubles), {})

    def colours(self, window: Window) -> int:
        """Return how many colours the picture of the load shows, looked at on a grid."""
        image = at_measure(window).carry_view.grab().toImage()
        return len({image.pixel(x, y) for x in range(0, image.width(), 9) for y in range(120, 361, 20)})

    def test_the_load_is_said_and_pictured(self) -> None:
        window = self.measured(demo_project(), "Carry", insert="insert-2")
        text = at_measure(window).panel.carry.text.text()
        self.assertRegex(text, r"4\.\d kg ± 0\.\d: items")
        self.assertIn("of the plan", text)
        loaded = self.colours(window)
        demo = demo_project()
        empty = replace(demo, inserts=tuple(replace(one, placements=(), pulls=()) for one in demo.inserts))
        self.assertGreater(loaded, 1.3 * self.colours(self.measured(empty, "Carry", insert="insert-2")))
        for theme in ("lamp", "light"):
            window.set_theme(theme)  # type: ignore[arg-type]
