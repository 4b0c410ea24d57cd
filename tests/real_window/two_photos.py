"""Two photos of one layout in a real window; started by a test in a process under Xvfb."""

from __future__ import annotations

from pathlib import Path
from unittest.mock import patch

from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from cozy_burrow.core.capture.retouch.draft import doubtful
from cozy_burrow.core.model.records import Project
from cozy_burrow.demo import photo as demo
from cozy_burrow.demo.shipped import demo_project
from cozy_burrow.devices.simulated_scene import Colour
from tests.app.qt import application, drag, key, wait_until
from tests.app.screens import at_gather
from tests.real_window.at_hand import at_hand, bring_to_front, go_through, put_away

_PALE: Colour = (0.80, 0.80, 0.79)  # beside paper in its own shade its edge is hardly seen


def two_photos_job(folder: Path) -> None:
    """Measure thicknesses from another photo, correct one outline, mend an unsure run, send all with their pictures."""
    first, second = _photos(folder)
    window = at_hand(Project(), folder)
    bring_to_front(window)
    app = application()
    QTest.keyClick(window, Qt.Key.Key_P, Qt.KeyboardModifier.ControlModifier)
    app.processEvents()
    with patch.object(QFileDialog, "getOpenFileName", return_value=(str(first), "")):
        QTest.mouseClick(at_gather(window).add.pictures.choose_photo, Qt.MouseButton.LeftButton)
    assert wait_until(lambda: window.retouch.is_open), at_gather(window).add._refused.text()
    app.processEvents()
    session, canvas, tools = window.retouch, at_gather(window).retouch_canvas, at_gather(window).retouch_tools
    guessed = {draft.thickness_mm for draft in session.table.drafts}
    assert len(guessed) == 1, guessed

    # The other photo tells how thick things are; what is typed stands beside it.
    with patch.object(QFileDialog, "getOpenFileName", return_value=(str(second), "")):
        QTest.mouseClick(tools.another, Qt.MouseButton.LeftButton)
    assert wait_until(lambda: session.undo_label == "Measure from another photo"), window.statusBar().currentMessage()
    true = {item.name: item.thickness_mm for item in demo_project().items}
    for name, y in (("Loop pliers", 62.0), ("Tuning fork", 118.0)):
        draft = min(session.table.drafts, key=lambda one: abs((one.bounds_mm[1] + one.bounds_mm[3]) / 2 - y))
        assert draft.measured_mm is not None, name
        assert abs(draft.thickness_mm - true[name]) < 1.0, (name, draft.thickness_mm, true[name])
    assert "Measured from photos" in tools.verdict.text(), tools.verdict.text()

    # A run that the photo hardly shows: brought near, mended between the marks, not asked for again.
    capture = session.capture
    assert capture is not None
    doubted = [n for n, draft in enumerate(session.table.drafts) if doubtful(draft, capture.trace)]
    assert doubted, "every edge of the pale things is sure"
    session.choose(doubted[0])
    app.processEvents()
    assert tools.look.isVisible()
    asked = len(doubtful(session.draft, capture.trace))
    QTest.mouseClick(tools.look, Qt.MouseButton.LeftButton)
    QTest.mouseClick(tools.mends.buttons["straighten"], Qt.MouseButton.LeftButton)
    assert len(doubtful(session.draft, capture.trace)) < asked, session.undo_label

    # Another one is corrected by a point dragged with the mouse.
    session.choose(next(n for n in range(len(session.table.drafts)) if n != doubted[0]))
    app.processEvents()
    outline = session.draft.item.outline
    canvas.setFocus()
    canvas.lens = False
    spot = canvas.pixel_of(outline.outer[len(outline.outer) // 2])
    drag(canvas, spot, spot + QPointF(0, 6))
    assert session.undo_label == "Move a point", session.undo_label
    key(canvas, Qt.Key.Key_N)

    # Into the kit, each with its picture.
    count = len(session.table.drafts)
    QTest.mouseClick(tools.send, Qt.MouseButton.LeftButton)
    items = window.workspace.project.items
    assert len(items) == count, (len(items), count)
    assert all(item.photo is not None for item in items), [item.name for item in items]
    put_away(window)


def _photos(folder: Path) -> tuple[Path, Path]:
    """Return two photos of the demo's layout, all but the pliers as pale as paper."""
    laid = tuple((*one[:4], _PALE if one[0] != "Loop pliers" else one[4]) for one in demo._LAID)
    found = []
    with patch.object(demo, "_LAID", laid):
        for name, seed, aside in (("one.jpg", 1, False), ("other.jpg", 3, True)):
            path = folder / name
            path.write_bytes(demo.demo_camera(seed=seed, aside=aside).take_photo())
            found.append(path)
    return found[0], found[1]


if __name__ == "__main__":
    go_through(two_photos_job)
