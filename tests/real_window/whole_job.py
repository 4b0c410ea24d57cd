"""The whole job in a real window, driven by keys and mouse; started by a test in a process under Xvfb."""

from __future__ import annotations

from pathlib import Path
from unittest.mock import patch

from PySide6.QtCore import QMimeData, QPointF, Qt
from PySide6.QtGui import QDragEnterEvent, QDropEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from cozy_burrow.app.screens.lay_out.tray import MIME
from cozy_burrow.core.findings.finding import Finding
from tests.app.qt import application, drag, key, plan_pixel, wait_until
from tests.app.screens import at_gather, at_lay_out
from tests.makers import van_drawer
from tests.real_window.at_hand import at_hand, bring_to_front, go_through


def whole_job(folder: Path) -> None:
    """Open the demo, gather, drop, drag until a finding, mend, cut the section, deepen, undo all, export."""
    demo = van_drawer()
    window = at_hand(demo, folder)
    bring_to_front(window)
    app = application()
    workspace = window.workspace

    # A thing by stations, as a calliper types them.
    QTest.keyClick(window, Qt.Key.Key_1, Qt.KeyboardModifier.AltModifier)
    assert window.stage == "gather"
    at_gather(window).add.name.setFocus()
    QTest.keyClicks(at_gather(window).add.name, "Small awl")
    calliper = at_gather(window).add.calliper
    for at, width in (("0", "14"), ("20", "14"), ("20", "4"), ("40", "4")):
        at_gather(window).add.calliper.at.setFocus()
        for field, text in ((calliper.at, at), (calliper.width_field, width), (calliper.thickness, "")):
            assert field.hasFocus(), field.accessibleName()
            QTest.keyClicks(field, text)
            key(field, Qt.Key.Key_Return)
    QTest.mouseClick(at_gather(window).add.add_calliper, Qt.MouseButton.LeftButton)
    awl = workspace.project.items[-1]
    assert (awl.name, len(awl.zones)) == ("Small awl", 2)

    # Dropped onto the plan from the tray.
    QTest.keyClick(window, Qt.Key.Key_3, Qt.KeyboardModifier.AltModifier)
    assert window.stage == "lay-out"
    app.processEvents()
    spot = window.plan.viewport().mapTo(window, plan_pixel(window, 468.0, 100.0).toPoint())
    data = QMimeData()
    data.setData(MIME, f"{awl.id}#1".encode())
    dropped = QDropEvent(
        QPointF(spot), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    )
    entered = QDragEnterEvent(
        spot, Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    )
    for event in (entered, dropped):
        app.sendEvent(window, event)
    placed = next(one for one in workspace.insert.placements if one.item_id == awl.id)
    assert workspace.selection == (placed.id,)

    # Carried to the left until a wall is too thin.
    view = window.plan.viewport()
    window.plan.setFocus()
    key(window.plan, Qt.Key.Key_P)  # neighbours do not make way
    assert not at_lay_out(window).panel.push_box.isChecked()
    thin: list[Finding] = []
    for _ in range(30):
        where = next(one for one in workspace.insert.placements if one.id == placed.id)
        start = plan_pixel(window, where.x_mm - 10, where.y_mm)
        drag(view, start, start + QPointF(-6, 0), steps=3)
        thin = [one for one in workspace.findings if one.code in {"THIN_WALL", "POCKETS_MEET"}]
        if any(placed.id in one.placements for one in thin):
            break
    assert any(placed.id in one.placements for one in thin)

    # Mended from the care list.
    row = next(n for n, one in enumerate(workspace.findings) if placed.id in one.placements and one.mends)
    window.checks.choose(row)
    app.processEvents()
    finding = window.checks.current()
    assert finding is not None
    mend = next(n for n, one in enumerate(finding.mends) if one.target == placed.id)
    button = window.checks._buttons.itemAt(mend).widget()  # type: ignore[union-attr]
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)
    assert wait_until(lambda: not window.checks.mending.is_busy)
    left = [one for one in workspace.findings if one.severity == "stop"]
    assert not left, left

    # One end of the section line is carried to the front.
    assert workspace.insert.section_line is not None
    start = plan_pixel(window, *workspace.insert.section_line[0])
    drag(view, start, start + QPointF(0, 4))
    assert workspace.history.undo_label == "Move the section", workspace.history.undo_label

    # A zone one layer deeper, in the section.
    QTest.keyClick(window, Qt.Key.Key_4, Qt.KeyboardModifier.AltModifier)
    app.processEvents()
    before = workspace.ground.pockets["item-1#1"].seating.zone_layers
    rect = window.section.handle_rect("item-1#1", 0)
    drag(window.section, rect.center(), rect.center() + QPointF(0, 10 * window.section.frame().px_per_mm))
    after = workspace.ground.pockets["item-1#1"].seating.zone_layers
    assert after[0] == before[0] + 1, (before, after)

    # Everything undone, step by step, by key.
    for _ in range(200):
        if workspace.history.undo_label is None:
            break
        QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert workspace.project == demo

    # Written for the bench.
    out = folder / "papers"
    out.mkdir()
    with patch.object(QFileDialog, "getExistingDirectory", return_value=str(out)):
        QTest.keyClick(window, Qt.Key.Key_E, Qt.KeyboardModifier.ControlModifier)
    assert wait_until(lambda: (out / "cuts.csv").exists())
    assert (out / "templates.pdf").stat().st_size > 10_000
    window.close()


if __name__ == "__main__":
    go_through(whole_job)
