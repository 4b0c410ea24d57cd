"""Run under Xvfb: a box instead of ten items, a drag that catches, a typed gap, spread evenly, put in order, undo."""

from __future__ import annotations

from pathlib import Path

from msgspec.structs import replace
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from cozy_burrow.app.screens.lay_out.first_look_card import FirstLookCard
from cozy_burrow.core.model.edits import add_items
from cozy_burrow.core.model.records import Project, Rules
from tests.app.qt import application, plan_pixel, wait_until
from tests.app.screens import at_lay_out
from tests.makers import box, drawer, laid, project, rod
from tests.real_window.at_hand import at_hand, bring_to_front, go_through, put_away

LEFT, CTRL = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ControlModifier


def kit() -> Project:
    """Three boxes that lie, the middle one low and askew between the others; ten bottles wait."""
    boxes = [box(30, 40, 10, f"box {n}") for n in range(3)]
    bay = drawer(width=460, depth=300, height=130)
    plan = laid(project(*boxes, rules=Rules(allowance_mm=0.0), bay=bay), (50, 80), (110, 110), (168, 80))
    return add_items(plan, [replace(rod(90, 30, "bottle"), id="item-9", quantity=10)])


def in_order(folder: Path) -> None:
    """Go through it by keys and mouse."""
    plan = kit()
    window = at_hand(plan, folder)
    bring_to_front(window)
    app = application()
    QTest.keyClick(window, Qt.Key.Key_3, Qt.KeyboardModifier.AltModifier)
    workspace = window.workspace

    # One box instead of ten bottles.
    window._command("lay.first_look")
    card = next(one for one in window.findChildren(FirstLookCard) if one.isVisible())
    assert wait_until(lambda: card.list.isEnabled() and card.list.count() > 0)
    QTest.mouseClick(card.take_button, LEFT)
    assert [one.name for one in workspace.project.items][-1] == "Box of 10 bottle"
    assert workspace.project.items[-1].quantity == 1
    card.close()
    window.undo()
    assert workspace.project == plan

    # Carried between the others it comes to lie in their middle, on their line.
    view, start, end = window.plan.viewport(), plan_pixel(window, 110, 110), plan_pixel(window, 109.4, 80.9)
    QTest.mousePress(view, LEFT, Qt.KeyboardModifier.NoModifier, start.toPoint())
    for share in (0.3, 0.6, 0.9, 1.0):
        at = start + (end - start) * share
        QTest.mouseMove(view, QPointF(at).toPoint())
        app.processEvents()
    assert window.plan.handling.catches
    QTest.mouseRelease(view, LEFT, Qt.KeyboardModifier.NoModifier, end.toPoint())
    moved = workspace.insert.placements[1]
    assert (round(moved.x_mm, 1), round(moved.y_mm, 1)) == (109.0, 80.0), moved

    # A typed gap, spread again, put in order, and all of it taken back.
    workspace.select([one.id for one in workspace.insert.placements])
    field = at_lay_out(window).panel.gap_field
    field.setFocus()
    QTest.keyClicks(field, "14")
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert [round(one.x_mm, 2) for one in workspace.insert.placements] == [50.0, 94.0, 138.0]
    window.plan.setFocus()
    QTest.keyClick(window.plan, Qt.Key.Key_J, CTRL)
    gaps = [one.x_mm for one in workspace.insert.placements]
    assert abs((gaps[1] - gaps[0]) - (gaps[2] - gaps[1])) < 0.01
    QTest.keyClick(window, Qt.Key.Key_O, CTRL | Qt.KeyboardModifier.ShiftModifier)
    assert wait_until(lambda: not window.arranging.is_arranging)
    while window.undo_label is not None:
        window.undo()
    assert workspace.project == plan
    put_away(window)


if __name__ == "__main__":
    go_through(in_order)
