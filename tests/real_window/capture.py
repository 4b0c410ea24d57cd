"""Photo to kit in a real window, by keys and mouse; started by a test in a process under Xvfb."""

from __future__ import annotations

import math
from pathlib import Path

from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.records import Project
from tests.app.qt import application, drag, key, wait_until
from tests.app.screens import at_gather
from tests.real_window.at_hand import at_hand, bring_to_front, go_through, put_away


def photo_job(folder: Path) -> None:
    """Take a demo photo, part what touches, straighten, add a knob, split zones, undo and redo, send, undo."""
    window = at_hand(Project(), folder)
    bring_to_front(window)
    app = application()

    # The way in by key, the simulated camera by mouse.
    QTest.keyClick(window, Qt.Key.Key_P, Qt.KeyboardModifier.ControlModifier)
    assert at_gather(window).add.ways["Photo"].isChecked()
    app.processEvents()
    QTest.mouseClick(at_gather(window).add.pictures.demo_photo, Qt.MouseButton.LeftButton)
    assert wait_until(lambda: window.retouch.is_open), at_gather(window).add._refused.text()
    app.processEvents()
    session, canvas, tools = window.retouch, at_gather(window).retouch_canvas, at_gather(window).retouch_tools
    assert len(session.table.drafts) == 3, [one.bounds_mm for one in session.table.drafts]

    def click(at: tuple[float, float]) -> None:
        QTest.mouseClick(
            canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, canvas.pixel_of(at).toPoint()
        )
        app.processEvents()

    # The two that touch: the lowest on the page. Chosen by a click, parted between two marks.
    touching = max(range(3), key=lambda n: session.table.drafts[n].bounds_mm[3])
    left, _, right, _ = session.table.drafts[touching].bounds_mm
    click(polygon_of(session.table.drafts[touching].item.outline).representative_point().coords[0])
    assert session.table.chosen == touching
    shape = polygon_of(session.draft.item.outline)
    heights = {x: shape.intersection(_upright(x, shape)).length for x in [left + 0.5 * n for n in range(20, 260)]}
    neck = min((x for x in heights if left + 25 < x < right - 25), key=lambda x: heights[x])
    crossing = shape.intersection(_upright(neck, shape)).bounds
    session.set_mark(0, (neck, crossing[1] - 3))
    session.set_mark(1, (neck, crossing[3] + 3))
    QTest.mouseClick(tools.mends.buttons["part"], Qt.MouseButton.LeftButton)
    assert len(session.table.drafts) == 4, window.statusBar().currentMessage()

    # A straight edge: marks by clicks on the rim, straightened by key.
    row = min(range(4), key=lambda n: session.table.drafts[n].bounds_mm[1])
    session.choose(row)
    ring = session.draft.item.outline.outer
    first, second = ring[0], ring[min(6, len(ring) - 1)]
    session.active_mark = 0
    click(first)
    click(second)
    assert math.dist(session.marks[0], first) < 1.0, (session.marks, first)
    before = session.draft.item.outline
    QTest.keyClick(window, Qt.Key.Key_L, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    assert session.draft.item.outline != before

    # The active mark by keys: to the outline's other places and back.
    canvas.setFocus()
    mark = session.marks[session.active_mark]
    for code in (Qt.Key.Key_N, Qt.Key.Key_Right, Qt.Key.Key_M, Qt.Key.Key_M, Qt.Key.Key_Left, Qt.Key.Key_B):
        key(canvas, code)
    assert math.dist(session.marks[session.active_mark], mark) < 3.0

    # A point dragged with the mouse.
    index = len(session.draft.item.outline.outer) // 2
    point = session.draft.item.outline.outer[index]
    canvas.lens = False
    spot = canvas.pixel_of(point)
    drag(canvas, spot, spot + QPointF(0, 6))
    assert session.undo_label == "Move a point", session.undo_label

    # The knob that everybody forgets.
    inner = polygon_of(session.draft.item.outline).representative_point()
    session.set_mark(0, (inner.x, inner.y))
    session.set_mark(1, (inner.x, inner.y - 40))
    tools.mends.knob_width.setFocus()
    QTest.keyClicks(tools.mends.knob_width, "8")
    QTest.keyClicks(tools.mends.knob_thickness, "20")
    QTest.mouseClick(tools.mends.buttons["knob"], Qt.MouseButton.LeftButton)
    assert [zone.name for zone in session.draft.item.zones][-1] == "knob"

    # Zones on either side of a line, by key.
    left, top, right, bottom = session.draft.bounds_mm
    session.set_mark(0, ((left + right) / 2 - 20, top - 5))
    session.set_mark(1, ((left + right) / 2 - 20, bottom + 5))
    zones = len(session.draft.item.zones)
    QTest.keyClick(window, Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    assert len(session.draft.item.zones) > zones

    # Its own thickness, typed; parallax follows.
    session.choose((session.table.chosen + 1) % 4)
    width = session.draft.bounds_mm[2] - session.draft.bounds_mm[0]
    tools.thickness.setFocus()
    tools.thickness.selectAll()
    QTest.keyClicks(tools.thickness, "25")
    key(tools.thickness, Qt.Key.Key_Return)
    assert session.draft.edge_mm == 25.0
    assert session.draft.bounds_mm[2] - session.draft.bounds_mm[0] < width

    # The bench has an undo of its own.
    table = session.table
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert session.draft.edge_mm == 10.0
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    assert session.table == table

    # Into the kit, and back out of it.
    QTest.mouseClick(tools.send, Qt.MouseButton.LeftButton)
    assert len(window.workspace.project.items) == 4
    assert not session.is_open
    assert all(item.provenance.way == "photo" for item in window.workspace.project.items)
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert not window.workspace.project.items
    put_away(window)


def _upright(x: float, shape: object) -> object:
    from shapely.geometry import LineString

    _, top, _, bottom = shape.bounds  # type: ignore[attr-defined]
    return LineString([(x, top - 1), (x, bottom + 1)])


if __name__ == "__main__":
    go_through(photo_job)
