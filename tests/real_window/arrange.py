"""Run under Xvfb: arrange, stop, lock two, arrange again, pick a variation, push with a drag, take it all back."""

from __future__ import annotations

from pathlib import Path
from unittest.mock import patch

from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from cozy_burrow.app.desk import arranging
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.model.records import Placement
from tests.app.qt import drag, key, plan_pixel, wait_until
from tests.app.screens import at_lay_out
from tests.makers import van_drawer
from tests.real_window.at_hand import at_hand, bring_to_front, go_through, put_away

LOCKED = ("item-1#1", "item-11#1")
CTRL = Qt.KeyboardModifier.ControlModifier


def places(window: Window) -> dict[str, Placement]:
    """Return every placement by its id."""
    return {one.id: one for one in window.workspace.insert.placements}


def stops(window: Window) -> list[str]:
    """Return the codes of what must be mended."""
    return [one.code for one in window.workspace.findings if one.severity == "stop"]


def ended(window: Window) -> bool:
    """Wait until no search runs."""
    return wait_until(lambda: not window.arranging.is_arranging)


def lay_out(folder: Path) -> None:
    """Go through it by keys and mouse."""
    demo = van_drawer()
    window = at_hand(demo, folder)
    bring_to_front(window)
    QTest.keyClick(window, Qt.Key.Key_3, Qt.KeyboardModifier.AltModifier)
    workspace = window.workspace

    # Arranged, and stopped as soon as there is something.
    QTest.keyClick(window, Qt.Key.Key_Return, CTRL)
    assert window.arranging.is_arranging
    assert wait_until(lambda: window.arranging.results != {})
    assert at_lay_out(window).panel.stop_button.isVisible()
    QTest.mouseClick(at_lay_out(window).panel.stop_button, Qt.MouseButton.LeftButton)
    assert ended(window)
    assert len(places(window)) == 26 and not stops(window), stops(window)
    first = workspace.project

    # Two are locked where they lie, and everything else is arranged again.
    workspace.select(LOCKED)
    window.plan.setFocus()
    key(window.plan, Qt.Key.Key_L)
    locked = {name: places(window)[name] for name in LOCKED}
    assert all(one.locked for one in locked.values())
    QTest.keyClick(window, Qt.Key.Key_Return, CTRL)
    assert wait_until(lambda: len(window.arranging.results) >= 2)
    QTest.mouseClick(at_lay_out(window).panel.stop_button, Qt.MouseButton.LeftButton)
    assert ended(window)
    assert {name: places(window)[name] for name in LOCKED} == locked
    assert not stops(window), stops(window)

    # Another variation is taken by a click.
    before = workspace.project
    steps = len(workspace.history.steps)
    card = next(one for one in at_lay_out(window).variations.cards if one.isVisible() and not one.isChecked())
    QTest.mouseClick(card, Qt.MouseButton.LeftButton)
    assert workspace.project is not before and len(workspace.history.steps) == steps
    assert {name: places(window)[name] for name in LOCKED} == locked
    assert not stops(window), stops(window)

    # A thing is dragged against its neighbours, which make way within the rules.
    pushed = None
    for name in sorted(places(window)):
        if name in LOCKED:
            continue
        picked = workspace.project
        there = places(window)
        at = window.workspace.ground.pockets[name].surface.representative_point()
        start = plan_pixel(window, at.x, at.y)
        for way in (QPointF(14, 0), QPointF(-14, 0), QPointF(0, 14), QPointF(0, -14)):
            drag(window.plan.viewport(), start, start + way * window.plan.px_per_mm, steps=7)
            assert not [code for code in stops(window) if code in {"THIN_WALL", "POCKETS_MEET", "THIN_EDGE"}]
            moved = {key for key, one in places(window).items() if one != there[key]}
            if name in moved and len(moved) > 1:
                pushed = (picked, moved)
                break
            if workspace.project is not picked:
                QTest.keyClick(window, Qt.Key.Key_Z, CTRL)
        if pushed:
            break
    assert pushed, "nothing could be pushed"
    assert not pushed[1] & set(LOCKED)

    # Taken back: the push, the arrangement with its variation, the lock, the first arrangement.
    for expected in (pushed[0], None, first, demo):
        QTest.keyClick(window, Qt.Key.Key_Z, CTRL)
        assert expected is None or workspace.project == expected
    put_away(window)


if __name__ == "__main__":
    # As long as it is watched: the machine may be slow.
    with patch.object(arranging, "ARRANGE_SECONDS", 3_600.0):
        go_through(lay_out)
