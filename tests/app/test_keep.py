"""Keep offscreen: a call by taps is written down, a refit taken and undone, an item from the shelf, find, labels."""

from __future__ import annotations

import threading
from pathlib import Path
from unittest.mock import patch

from msgspec.structs import replace
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from cozy_burrow.app.desk import tasks as tasks_module
from cozy_burrow.app.desk.kept_desk import KeptDesk
from cozy_burrow.app.desk.settings import Settings
from cozy_burrow.app.frame.handed import Handed
from cozy_burrow.app.screens.keep import refit_page as refit_module
from cozy_burrow.app.screens.keep import roll as roll_module
from cozy_burrow.app.screens.keep.keep_panel import KeepPanel
from cozy_burrow.app.screens.keep.screen import KeepScreen
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.capture.retouch.draft import plain_draft
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import outline_of
from cozy_burrow.core.keep.place import Place
from cozy_burrow.core.keep.roll_call import RollCall
from cozy_burrow.core.kit.shapes import box_item
from cozy_burrow.core.model.edits import add_items, change_insert, change_item, remove_items
from cozy_burrow.core.model.kept import PlaceState
from cozy_burrow.core.model.records import Item, Project
from cozy_burrow.core.refit.refit import gone_for_good
from cozy_burrow.storage.kept_files import THINGS, Keeper, Shelf
from cozy_burrow.storage.project_file import load, save
from tests.app.qt import QtCase, key, plan_pixel, settle, wait_until
from tests.core.capture.scenes import DRIVER, RING, SQUARE, photo
from tests.makers import box, laid, project, rod

BLOCK, ROD = "item-1#1", "item-2#1"


def kit() -> Project:
    """A box and a rod in a drawer; a longer box waits."""
    plan = laid(project(box(name="block"), rod(name="rod")), (60, 60), (180, 120, 30))
    return add_items(plan, [box_item("item-3", "longer block", length_mm=66, width_mm=20, thickness_mm=12)])


def said(block: PlaceState, rod_: PlaceState) -> RollCall:
    """What a photo says of both places."""
    places = (
        Place(key=BLOCK, state=block, why="seen", odds=1.0, seen=100),
        Place(key=ROD, state=rod_, why="hardly seen from here", odds=0.0, seen=9),
    )
    return RollCall(places=places, marks_found=4, off_mm=0.1)


class Keep(QtCase):
    def at_keep(self, plan: Project | None = None) -> tuple[Window, KeepScreen, KeepPanel]:
        window = self.window(plan or kit(), stage="keep")
        screen = KeepScreen.of(window)
        settle(window)
        return window, screen, screen.panel

    def target(self, path: Path) -> object:
        return patch.object(QFileDialog, "getSaveFileName", return_value=(str(path), ""))


class RollCalls(Keep):
    def test_a_call_by_taps_is_written_down_and_taken_back(self) -> None:
        window, screen, panel = self.at_keep()
        page, plan = panel.roll, window.plan
        self.assertIn("2 items", page.verdict.text())
        self.assertFalse(page.note_button.isVisible())
        spot = plan_pixel(window, 180, 120).toPoint()
        QTest.mouseClick(plan.viewport(), Qt.MouseButton.LeftButton, pos=spot)
        self.assertEqual(screen.roll.call and screen.roll.call.states, {BLOCK: "filled", ROD: "empty"})
        self.assertIn("Missing: rod", page.verdict.text())
        self.assertIn("rod: missing", page.list.item(1).text())
        page.note_field.setText("lent out")
        QTest.mouseClick(page.note_button, Qt.MouseButton.LeftButton)
        (call,) = window.workspace.project.roll_calls
        self.assertEqual(([one.name for one in call.absent], call.note), (["rod"], "lent out"))
        self.assertIn("missing: rod (lent out)", page.log.text())
        self.assertIsNone(screen.roll.call)
        window.undo()
        self.assertEqual(window.workspace.project.roll_calls, ())

    def test_of_nothing_no_roll_is_called(self) -> None:
        window, screen, panel = self.at_keep(project(box()))
        window._command("keep.roll")
        self.assertIsNone(screen.roll.call)
        self.assertIn("empty", panel.roll.verdict.text())
        self.assertFalse(panel.roll.hand_button.isEnabled())

    def test_down_the_list_by_keys_alone(self) -> None:
        window, screen, panel = self.at_keep()
        page = panel.roll
        QTest.mouseClick(page.hand_button, Qt.MouseButton.LeftButton)
        self.assertIn("Everything is home", page.verdict.text())
        page.list.setFocus()
        page.list.setCurrentRow(1)
        key(page.list, Qt.Key.Key_Return)
        self.assertEqual(screen.roll.call and screen.roll.call.states[ROD], "empty")
        self.assertEqual(window.workspace.selection, (ROD,))
        key(page.list, Qt.Key.Key_Return)
        self.assertEqual(screen.roll.call and screen.roll.call.states[ROD], "filled")
        page.note_field.setFocus()
        key(page.note_field, Qt.Key.Key_Return)
        self.assertEqual(window.workspace.project.roll_calls[0].absent, ())
        self.assertIn("everything home", page.log.text())

    def test_a_press_on_a_row_taps_it_and_the_rows_keep_their_order(self) -> None:
        _, screen, panel = self.at_keep()
        rows = panel.roll.list
        for number, key_ in ((1, ROD), (0, BLOCK)):
            spot = rows.visualItemRect(rows.item(number)).center()
            QTest.mouseClick(rows.viewport(), Qt.MouseButton.LeftButton, pos=spot)
            self.assertEqual(screen.roll.call and screen.roll.call.states[key_], "empty")
            self.assertEqual(rows.currentRow(), number)
        self.assertEqual([rows.item(n).text().split()[1] for n in (0, 1)], ["block:", "rod:"])

    def test_a_photo_says_and_a_tap_settles_what_is_unsure(self) -> None:
        window, screen, panel = self.at_keep()
        page = panel.roll
        with patch.object(roll_module, "run_apart", return_value=(said("filled", "unsure"), b"photo")):
            screen.roll.read(b"", "open.jpg")
            self.assertTrue(wait_until(lambda: not screen.roll.is_busy))
        self.assertIn("unsure", page.verdict.text().lower())
        self.assertEqual(page.list.item(0).toolTip(), "hardly seen from here")
        screen.roll.tap(ROD)
        self.assertIn("Everything is home", page.verdict.text())
        page.write_down()
        self.assertEqual(window.workspace.insert.full_photo, b"photo")  # everything was seen in its place

    def test_a_photo_that_is_not_good_is_not_kept_to_compare_with(self) -> None:
        window, screen, panel = self.at_keep()
        with patch.object(roll_module, "run_apart", return_value=(said("filled", "empty"), b"photo")):
            screen.roll.read(b"", "open.jpg")
            self.assertTrue(wait_until(lambda: not screen.roll.is_busy))
        panel.roll.write_down()
        self.assertIsNone(window.workspace.insert.full_photo)

    def test_what_cannot_be_read_is_said_and_what_was_found_stays(self) -> None:
        _, screen, panel = self.at_keep()
        screen.roll.begin()
        screen.roll.tap(ROD)
        with patch.object(roll_module, "run_apart", side_effect=UnusableInput("no mark is seen", remedy="look again")):
            screen.roll.read(b"", "open.jpg")
            self.assertTrue(wait_until(lambda: not screen.roll.is_busy))
        self.assertIn("no mark is seen", panel._refused.text())
        self.assertEqual(screen.roll.call and screen.roll.call.states[ROD], "empty")
        panel.roll.read_photo(self.folder / "none.jpg")
        self.assertIn("no such file", panel._refused.text())

    def test_what_came_from_another_document_or_goes_meanwhile_is_dropped(self) -> None:
        window, screen, _ = self.at_keep()
        goes_on = threading.Event()

        def late(*_: object, **__: object) -> tuple[RollCall, bytes]:
            goes_on.wait(3_600)
            return said("filled", "empty"), b""

        with patch.object(roll_module, "run_apart", side_effect=late):
            screen.roll.read(b"", "open.jpg")
            window.workspace.do(
                "Take off", change_insert(kit(), "insert-1", placements=kit().inserts[0].placements[:1])
            )
            goes_on.set()
            self.assertTrue(wait_until(lambda: not screen.roll.is_busy))
            self.assertEqual(screen.roll.call and screen.roll.call.states, {BLOCK: "filled"})
            screen.roll.read(b"", "open.jpg")
            window.workspace.open(kit(), None)
            self.assertTrue(wait_until(lambda: not screen.roll.is_busy))
        self.assertIsNone(screen.roll.call)

    def test_the_log_and_the_marks_are_written(self) -> None:
        window, screen, panel = self.at_keep()
        screen.roll.begin()
        screen.roll.tap(ROD)
        panel.roll.write_down()
        log, marks = self.folder / "calls.csv", self.folder / "marks.pdf"
        with self.target(log):  # type: ignore[attr-defined]
            QTest.mouseClick(panel.roll.log_button, Qt.MouseButton.LeftButton)
        self.assertIn(",Drawer,2,rod,empty,", log.read_text())
        with self.target(marks):  # type: ignore[attr-defined]
            QTest.mouseClick(panel.roll.marks_button, Qt.MouseButton.LeftButton)
        self.assertTrue(wait_until(marks.exists))
        self.assertTrue(marks.read_bytes().startswith(b"%PDF"))
        self.assertIn("marks.pdf", window.statusBar().currentMessage())


class Refitting(Keep):
    def test_a_longer_one_takes_the_place_and_it_is_one_step(self) -> None:
        window, screen, panel = self.at_keep()
        screen.show_page("Refit")
        before = window.workspace.project
        self.assertFalse(panel.refit.find_button.isEnabled())
        window.workspace.select((BLOCK,))
        QTest.mouseClick(panel.refit.find_button, Qt.MouseButton.LeftButton)
        self.assertTrue(wait_until(lambda: bool(panel.refit.found)))
        self.assertIn("glue in 0.0 cm³", panel.refit.list.item(0).text())
        self.assertIn("Layer 1", panel.refit.verdict.text())
        self.assertIs(window.workspace.project, before)
        self.assertTrue(wait_until(panel.refit.sheet_button.isEnabled))
        with self.target(self.folder / "change.pdf"):  # type: ignore[attr-defined]
            QTest.mouseClick(panel.refit.sheet_button, Qt.MouseButton.LeftButton)
        self.assertTrue(wait_until((self.folder / "change.pdf").exists))
        settle(window)
        QTest.mouseClick(panel.refit.take_button, Qt.MouseButton.LeftButton)
        names = {one.name for one in window.workspace.project.items}
        self.assertEqual(names, {"rod", "longer block"})
        window.undo()
        self.assertEqual(window.workspace.project, before)

    def test_what_is_gone_is_filled_and_remembered_or_its_place_kept(self) -> None:
        window, screen, panel = self.at_keep()
        screen.show_page("Refit")
        window.workspace.select((ROD,))
        QTest.mouseClick(panel.refit.gone_button, Qt.MouseButton.LeftButton)
        self.assertTrue(wait_until(lambda: panel.refit.take_button.isVisible()))
        self.assertIn("Nothing is cut", panel.refit.verdict.text())
        QTest.mouseClick(panel.refit.take_button, Qt.MouseButton.LeftButton)
        self.assertTrue(window.workspace.insert.glued)
        self.assertEqual([one.id for one in window.workspace.insert.placements], [BLOCK])
        window.workspace.select((BLOCK,))
        QTest.mouseClick(panel.refit.later_button, Qt.MouseButton.LeftButton)
        self.assertEqual(window.workspace.project.items[0].use, "expected")

    def test_what_can_be_taken_can_be_pressed_though_the_thread_tidies_up_still(self) -> None:
        window, screen, panel = self.at_keep()
        screen.show_page("Refit")
        window.workspace.select((ROD,))
        tidied, filling = threading.Event(), set[int]()
        self.addCleanup(tidied.set)

        def fill(project: Project, insert_id: str, key: str) -> object:
            filling.add(threading.get_ident())
            return gone_for_good(project, insert_id, key)

        def tidy() -> None:
            if threading.get_ident() in filling:
                tidied.wait(3_600)

        with patch.object(refit_module, "gone_for_good", fill), patch.object(tasks_module, "give_back", tidy):
            QTest.mouseClick(panel.refit.gone_button, Qt.MouseButton.LeftButton)
            self.assertTrue(wait_until(panel.refit.take_button.isVisible))
            self.assertTrue(panel.refit.later_button.isEnabled())
            tidied.set()
            settle(window)


class Comparing(Keep):
    def test_with_the_file_and_with_another_and_onto_paper(self) -> None:
        window, screen, panel = self.at_keep()
        file = self.folder / "drawer.burrow"
        save(window.workspace.project, file)
        window.workspace.mark_saved(file)
        screen.show_page("Compare")
        QTest.mouseClick(panel.compare.saved_button, Qt.MouseButton.LeftButton)
        self.assertTrue(wait_until(lambda: "Nothing has changed" in panel.compare.verdict.text()))
        self.assertFalse(panel.compare.sheet_button.isEnabled())
        block, rod_ = window.workspace.insert.placements
        moved = (replace(block, x_mm=block.x_mm + 12), rod_)
        window.workspace.do("Move", change_insert(window.workspace.project, "insert-1", placements=moved))
        self.assertTrue(wait_until(lambda: "block: 12 mm to the right" in panel.compare.verdict.text()))
        sheet = self.folder / "change.pdf"
        self.assertTrue(wait_until(panel.compare.sheet_button.isEnabled))
        with self.target(sheet):  # type: ignore[attr-defined]
            QTest.mouseClick(panel.compare.sheet_button, Qt.MouseButton.LeftButton)
        self.assertTrue(wait_until(sheet.exists))
        self.assertTrue(sheet.read_bytes().startswith(b"%PDF"))
        panel.compare.with_file(self.folder / "none.burrow")
        self.assertIn("no such file", panel._refused.text())


class Things(Keep):
    def with_the_first_kept(self) -> tuple[Window, KeepPanel]:
        window, screen, panel = self.at_keep()
        screen.show_page("Things")
        self.assertTrue(wait_until(lambda: panel.desk.is_read))
        window.workspace.choose_item("item-1")
        panel.things.keep()
        self.assertTrue(wait_until(lambda: not panel.desk.is_busy))
        return window, panel

    def test_an_item_is_kept_taken_into_another_kit_and_asks_when_it_changes(self) -> None:
        window, panel = self.with_the_first_kept()
        page = panel.things
        page.keep_all()
        self.assertFalse(page.all_button.isEnabled())  # they are written beside the window
        self.assertTrue(wait_until(lambda: page.list.count() == 3))
        self.assertTrue(wait_until(lambda: not panel.desk.is_busy))
        self.assertTrue(all(one.kept_as for one in window.workspace.project.items))
        page.search.setText("lon")
        self.assertEqual(page.list.count(), 1)
        count = len(window.workspace.project.items)
        key(page.search, Qt.Key.Key_Return)
        self.assertEqual(len(window.workspace.project.items), count + 1)
        self.assertEqual(window.workspace.project.items[-1].name, "longer block")
        item = window.workspace.project.items[0]
        grown = box_item(item.id, "block", length_mm=64, width_mm=20, thickness_mm=12)
        window.workspace.do("Measure", change_item(window.workspace.project, replace(grown, kept_as=item.kept_as)))
        window.workspace.choose_item("item-1")
        self.assertIn("64 mm", page.kit_text.text())
        self.assertIn("60 mm", page.kit_text.text())
        QTest.mouseClick(page.back_button, Qt.MouseButton.LeftButton)
        self.assertEqual(window.workspace.project.items[0].outline, item.outline)
        page.show_like()
        self.assertEqual(page.list.item(0).text().split()[0], "block")

    def test_a_photo_of_some_finds_those_that_are_like_them(self) -> None:
        shapes = {"driver": DRIVER, "ring": RING, "square": SQUARE}
        kit_ = [
            plain_draft(outline_of(shape), name=name, way="drawn", source="", sure_mm=0.1).item
            for name, shape in shapes.items()
        ]
        window, screen, panel = self.at_keep(project(*kit_))
        screen.show_page("Things")
        page = panel.things
        self.assertTrue(wait_until(lambda: panel.desk.is_read))
        page.keep_all()
        self.assertTrue(wait_until(lambda: not panel.desk.is_busy))
        names = {one.name for one in window.workspace.project.items}
        path = self.folder / "mat.jpg"
        path.write_bytes(photo(15.0, "straight"))
        handed = Handed(paths=(path,))
        self.assertTrue(screen.take_handed(handed))
        self.assertTrue(wait_until(lambda: "% like no." in page.list.item(0).text()))
        found = [page.list.item(row).text() for row in range(page.list.count())]
        self.assertEqual({text.split("  ")[0] for text in found}, names)
        self.assertEqual(len({text.rsplit(" ", 1)[1] for text in found}), 3)  # each like another one of the photo
        page.search.setText("x")
        page.search.setText("")
        self.assertNotIn("%", page.list.item(0).text())
        path.write_bytes(b"no photo")
        page.photo.read_file(path)
        self.assertTrue(wait_until(lambda: "mat.jpg" in panel._refused.text()))
        self.assertEqual(page.list.count(), 3)

    def test_what_is_kept_while_files_are_read_stays_in_sight(self) -> None:
        was_read, goes_on, read = threading.Event(), threading.Event(), Keeper.read

        def slow(keeper: Keeper[Item], folder: Path, known: Shelf[Item] | None = None) -> Shelf[Item]:
            shelf = read(keeper, folder, known)
            was_read.set()
            goes_on.wait(3_600)
            return shelf

        seen: list[bool] = []
        with patch.object(Keeper, "read", slow):
            desk = KeptDesk(THINGS, Settings(self.folder))
            desk.look_again()
            self.assertTrue(wait_until(was_read.is_set))
            kept = desk.keep(box(name="block"))
            desk.changed.connect(lambda: seen.append(desk.get(kept.key) is not None))
            goes_on.set()
            self.assertTrue(wait_until(lambda: desk.is_read))
        self.assertEqual(seen, [True])

    def test_what_was_measured_anew_is_told_of_other_projects_that_have_it_as_it_was(self) -> None:
        window, panel = self.with_the_first_kept()
        page = panel.things
        plan = window.workspace.project
        jobs = self.folder / "jobs"  # not beside the window's own recovery copy
        jobs.mkdir()
        save(replace(plan, title="second van"), jobs / "second.burrow")
        save(plan, jobs / "drawer.burrow")
        window.workspace.mark_saved(jobs / "drawer.burrow")
        longer = box_item("item-1", "block", length_mm=63, width_mm=20, thickness_mm=12)
        window.workspace.do("Measure", change_item(plan, replace(longer, kept_as=plan.items[0].kept_as)))
        self.assertIn("Which is right?", page.kit_text.text())
        page.keep()
        self.assertTrue(wait_until(lambda: "‘second van’ still has it as it was" in page.kit_text.text()))
        window.workspace.open(load(jobs / "second.burrow"), jobs / "second.burrow")
        window.workspace.choose_item("item-1")
        page.follow()
        self.assertIn("Which is right?", page.kit_text.text())
        page.take_kept()
        page.follow()
        self.assertIn("is kept.", page.kit_text.text())
        self.assertNotIn("still has it", page.kit_text.text())  # that was told in the one that was open before

    def test_to_a_folder_and_back(self) -> None:
        _, screen, panel = self.at_keep()
        screen.show_page("Things")
        page = panel.things
        self.assertTrue(wait_until(lambda: panel.desk.is_read))
        page.keep_all()
        self.assertTrue(wait_until(lambda: page.list.count() == 3))
        self.assertTrue(wait_until(lambda: not panel.desk.is_busy))
        page.folders.export_to(self.folder / "out")
        self.assertTrue(wait_until(lambda: not panel.desk.is_busy))
        self.assertEqual(len(list((self.folder / "out").glob("*.svg"))), 3)
        page.list.setCurrentRow(0)
        self.answers = ["Remove it"]
        page._ask_remove()
        self.assertTrue(wait_until(lambda: page.list.count() == 2))
        page.folders.import_from(self.folder / "out")
        self.assertTrue(wait_until(lambda: page.list.count() == 5))
        self.assertTrue(wait_until(lambda: not panel.desk.is_busy))
        page.folders.import_from(self.folder / "nowhere")
        self.assertTrue(wait_until(lambda: "cannot be read" in panel._refused.text()))

    def test_many_are_kept_with_the_list_made_once_and_what_came_meanwhile_is_left_alone(self) -> None:
        plan = add_items(kit(), [box(name=f"block {n}", length=40.0 + n) for n in range(30)])
        window, screen, panel = self.at_keep(plan)
        screen.show_page("Things")
        page = panel.things
        self.assertTrue(wait_until(lambda: panel.desk.is_read))
        window.workspace.choose_item("item-1")
        page.show_like()
        made: list[int] = []
        panel.desk.changed.connect(lambda: made.append(len(panel.desk.shelf.kept)))
        page.keep_all()
        gone = window.workspace.project.items[-1]
        window.workspace.do("Take out", remove_items(window.workspace.project, [gone.id]))
        self.assertTrue(wait_until(lambda: not panel.desk.is_busy))
        self.assertEqual(made[0], 33)
        self.assertLessEqual(len(made), 2)  # once they are kept, once they were read again
        items = window.workspace.project.items
        self.assertEqual((len(items), all(one.kept_as for one in items)), (32, True))
        window.workspace.undo()
        self.assertFalse(any(one.kept_as for one in window.workspace.project.items))

    def test_stopped_in_between_what_was_kept_stays(self) -> None:
        plan = add_items(kit(), [box(name=f"block {n}") for n in range(30)])
        window, screen, panel = self.at_keep(plan)
        screen.show_page("Things")
        self.assertTrue(wait_until(lambda: panel.desk.is_read))
        keep, count = Keeper.keep, 0

        def slow(keeper: Keeper[Item], *args: object, **named: object) -> object:
            nonlocal count
            count += 1
            if count == 5:
                panel.desk.stop()
            return keep(keeper, *args, **named)  # type: ignore[arg-type]

        with patch.object(Keeper, "keep", slow):
            panel.things.keep_all()
            self.assertTrue(wait_until(lambda: not panel.desk.is_busy))
        self.assertEqual(sum(bool(one.kept_as) for one in window.workspace.project.items), 5)
        self.assertEqual(len(panel.desk.shelf.kept), 5)


class Finding(Keep):
    def test_where_it_lies_in_another_file_and_it_opens_there(self) -> None:
        folder = self.folder / "jobs"
        folder.mkdir()
        other = kit()
        other = change_item(other, replace(other.items[0], name="voicing tool"))
        save(other, folder / "other.burrow")
        save(kit(), folder / "this.burrow")
        window, screen, panel = self.at_keep(load(folder / "this.burrow"))
        window.workspace.mark_saved(folder / "this.burrow")
        screen.show_page("Where")
        page = panel.where
        self.assertTrue(wait_until(lambda: "2 projects" in page.verdict.text()))
        page.search.setText("voic")
        self.assertTrue(wait_until(lambda: page.list.count() == 1))
        self.assertTrue(wait_until(lambda: screen.find_view._ground is not None))
        self.assertFalse(screen.find_view.grab().isNull())
        page.open()
        self.assertEqual(window.workspace.path, folder / "other.burrow")
        self.assertEqual(window.workspace.selection, (BLOCK,))


class Labelling(Keep):
    def test_sheets_tape_and_floors(self) -> None:
        _, screen, panel = self.at_keep()
        screen.show_page("Labels")
        page = panel.labels
        self.assertIn("2 labels on 1 sheet", page.verdict.text())
        page.start.setValue(24)
        self.assertIn("on 2 sheets", page.verdict.text())
        page.picture.setChecked(True)
        for button, name in ((page.write_button, "labels.pdf"), (page.floor_button, "floor.pdf")):
            with self.target(self.folder / name):  # type: ignore[attr-defined]
                QTest.mouseClick(button, Qt.MouseButton.LeftButton)
            self.assertTrue(wait_until((self.folder / name).exists))
            self.assertTrue((self.folder / name).read_bytes().startswith(b"%PDF"))
        QTest.mouseClick(page.printer_button, Qt.MouseButton.LeftButton)
        self.assertEqual(len(page.printer.printed), 1)  # type: ignore[attr-defined]
        page.what.setCurrentIndex(2)
        page.what.activated.emit(2)
        self.assertIn("1 label ", page.verdict.text())


class Next(Keep):
    def test_the_next_one_begins_with_this_and_undo_comes_back(self) -> None:
        window, screen, panel = self.at_keep()
        screen.show_page("Next")
        page, before = panel.next, window.workspace.project
        page.fields["width_mm"].setText("360")
        QTest.mouseClick(page.begin_button, Qt.MouseButton.LeftButton)
        self.assertTrue(wait_until(lambda: window.workspace.project is not before))
        self.assertTrue(wait_until(lambda: not page.aside.is_busy))
        self.assertEqual(window.workspace.container.width_mm, 360.0)
        self.assertEqual(len(window.workspace.insert.placements), 2)
        self.assertIn("2 of 2 items kept their places", page.verdict.text())
        window.undo()
        self.assertEqual(window.workspace.project, before)
        page.fields["height_mm"].setText("many")
        page.begin()
        self.assertTrue(panel._refused.text())

    def test_a_container_is_kept_and_a_cabinet_made_of_it(self) -> None:
        window, screen, panel = self.at_keep()
        screen.show_page("Next")
        page = panel.next
        self.assertTrue(wait_until(lambda: panel.boxes.is_read))
        page.keep()
        self.assertTrue(wait_until(lambda: page.box.count() == 2))
        page.box.setCurrentIndex(1)
        page.add_rows()
        self.assertIn("no drawer is named", panel._refused.text())
        page.rows.setPlainText("Top; left, first\nSecond; left, second")
        QTest.mouseClick(page.more_button, Qt.MouseButton.LeftButton)
        self.assertEqual([one.name for one in window.workspace.project.inserts], ["Drawer", "Top", "Second"])
        self.assertEqual(window.workspace.project.containers[-1].place, "left, second")
        self.answers = ["Remove it"]
        page._ask_remove()
        self.assertTrue(wait_until(lambda: page.box.count() == 1))
