"""An insert in use, in a real window: roll call, refit, my items, find, compare, labels; started by a test."""

from __future__ import annotations

from pathlib import Path
from unittest.mock import patch

import pypdfium2
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from cozy_burrow.app.screens.keep.screen import KeepScreen
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.kit.shapes import box_item
from cozy_burrow.core.model.edits import add_items, item_of
from cozy_burrow.demo.drawer import open_drawer
from cozy_burrow.devices.simulated_drawer import DrawerCamera
from cozy_burrow.devices.simulated_scene import Stand
from cozy_burrow.storage.project_file import load, save
from tests.app.qt import application, key, plan_pixel, settle, wait_until
from tests.core.keep.test_roll_call import MARK_MM, PLAIN, key_of, small, small_project
from tests.real_window.at_hand import at_hand, bring_to_front, go_through, put_away

LEFT = Qt.MouseButton.LeftButton
ALT = Qt.KeyboardModifier.AltModifier


def photo(path: Path, *missing: str) -> None:
    """Photograph the open drawer with some things missing."""
    left, back, right, front = small().extent
    stand = Stand(
        aim_mm=((left + right) / 2, (back + front) / 2), height_mm=320.0, tilt_deg=12.0, width_px=1000, height_px=750
    )
    scene = open_drawer(small(), PLAIN, mark_mm=MARK_MM, missing=[key_of(name) for name in missing])
    path.write_bytes(DrawerCamera(scene, stand).take_photo())


def in_use(folder: Path) -> None:
    """Call the roll, refit and take it back, use again, find, compare, label."""
    jobs = folder / "jobs"
    jobs.mkdir()
    save(small_project(), jobs / "drawer.burrow")
    window = at_hand(load(jobs / "drawer.burrow"), folder)
    workspace = window.workspace
    workspace.mark_saved(jobs / "drawer.burrow")
    bring_to_front(window)
    app = application()

    # Two are missing; one of them is only out of sight, a tap says so; it is written down.
    QTest.keyClick(window, Qt.Key.Key_7, ALT)
    assert window.stage == "keep"
    settle(window)
    screen = KeepScreen.of(window)
    roll, page = screen.roll, screen.panel.roll
    photo(folder / "open.jpg", "tin", "stone")
    with patch.object(QFileDialog, "getOpenFileName", return_value=(str(folder / "open.jpg"), "")):
        QTest.mouseClick(page.photo_button, LEFT)
    assert wait_until(lambda: roll.call is not None and not roll.is_busy), page.verdict.text()
    assert roll.call is not None
    assert {name for name, state in roll.call.states.items() if state != "filled"} == {key_of("tin"), key_of("stone")}
    at = next(one for one in workspace.insert.placements if one.id == key_of("tin"))
    QTest.mouseClick(window.plan.viewport(), LEFT, pos=plan_pixel(window, at.x_mm, at.y_mm).toPoint())
    page.note_field.setFocus()
    QTest.keyClicks(page.note_field, "at the customer's")
    key(page.note_field, Qt.Key.Key_Return)
    (call,) = workspace.project.roll_calls
    assert ([one.name for one in call.absent], call.note) == (["stone"], "at the customer's"), call

    # The tin is replaced by one that is longer: taken, and taken back.
    tin = item_of(workspace.project, at.item_id)
    left, top, right, low = polygon_of(tin.outline).bounds
    longer = box_item("x", "new tin", length_mm=right - left + 4, width_mm=low - top, thickness_mm=tin.thickness_mm)
    workspace.do("Gather", add_items(workspace.project, [longer]))
    before = workspace.project
    screen.show_page("Refit")
    workspace.select((at.id,))
    app.processEvents()
    refit = screen.panel.refit
    QTest.mouseClick(refit.find_button, LEFT)
    assert wait_until(lambda: bool(refit.found)), refit.verdict.text()
    QTest.mouseClick(refit.take_button, LEFT)
    assert "new tin" in {item_of(workspace.project, one.item_id).name for one in workspace.insert.placements}
    window.undo()
    assert workspace.project == before

    # What is gathered is kept, and comes into the kit once more.
    screen.show_page("Things")
    things = screen.panel.things
    assert wait_until(lambda: screen.panel.desk.is_read)
    QTest.mouseClick(things.all_button, LEFT)
    assert wait_until(lambda: things.list.count() == len(workspace.project.items))
    things.search.setFocus()
    QTest.keyClicks(things.search, "new")
    count = len(workspace.project.items)
    key(things.search, Qt.Key.Key_Return)
    assert len(workspace.project.items) == count + 1

    screen.show_page("Where")
    find = screen.panel.where
    QTest.keyClicks(find.search, "driver")
    assert wait_until(lambda: find.list.count() == 1), find.verdict.text()
    assert "Drawer" in find.verdict.text()

    screen.show_page("Compare")
    compare = screen.panel.compare
    with patch.object(QFileDialog, "getOpenFileName", return_value=(str(jobs / "drawer.burrow"), "")):
        QTest.mouseClick(compare.other_button, LEFT)
    assert wait_until(lambda: "Nothing has changed" in compare.verdict.text()), compare.verdict.text()

    screen.show_page("Labels")
    labels = screen.panel.labels
    with patch.object(QFileDialog, "getSaveFileName", return_value=(str(folder / "labels.pdf"), "")):
        QTest.mouseClick(labels.write_button, LEFT)
    assert len(pypdfium2.PdfDocument((folder / "labels.pdf").read_bytes())) == 1
    put_away(window)


if __name__ == "__main__":
    go_through(in_use)
