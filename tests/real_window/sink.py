"""Run under Xvfb: seats, section, lid, a stop, the advised riser, pulls for all, one moved until it fails, undo."""

from __future__ import annotations

from pathlib import Path

from msgspec.structs import replace
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.model.records import Container, Item, Project, Rules
from cozy_burrow.core.model.vessels import Lid
from tests.app.qt import drag, plan_pixel, settle, wait_until
from tests.app.screens import at_grip, at_sink
from tests.core.depth.floors import thing
from tests.makers import box, laid, project
from tests.real_window.at_hand import at_hand, bring_to_front, go_through, put_away

CTRL, ALT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.AltModifier
LEFT = Qt.MouseButton.LeftButton
MALLET, FILE = "thing#1", "file#1"


def mallet_case() -> Project:
    """Return a case with a lid: a mallet that tips where its head alone is held, and a heavy file."""
    mallet = replace(thing(((0, -20, 30, 20), -12, 12), ((30, -5, 120, 5), -4, 4)), name="mallet", mass_g=200.0)
    file: Item = replace(box(140, 20, 12), id="file", name="file", mass_g=400.0)
    plan = laid(project(mallet, file, rules=Rules(allowance_mm=0.0, seat="flush")), (90, 60), (200, 140))
    lid = Lid(depth_mm=6.0, foam_mm=8.0, give_mm=3.0)
    case = Container(kind="case", width_mm=340, depth_mm=220, height_mm=55, lid=lid)
    return replace(plan, containers=(case,), title="A mallet and a file")


def codes(window: Window, severity: str) -> set[str]:
    """Return the codes of what is found."""
    return {one.code for one in window.workspace.findings if one.severity == severity}


def sink_and_grip(folder: Path) -> None:
    """Go through it by keys and mouse."""
    start = mallet_case()
    window = at_hand(start, folder)
    bring_to_front(window)
    workspace = window.workspace

    # The mallet is chosen on the plan at Sink, and the section laid along it.
    QTest.keyClick(window, Qt.Key.Key_4, ALT)
    QTest.mouseClick(window.plan.viewport(), LEFT, pos=plan_pixel(window, 105, 60).toPoint())
    assert workspace.selection == (MALLET,)
    window.plan.setFocus()
    QTest.keyClick(window.plan, Qt.Key.Key_S)
    flush = window.section.cut

    # Another seat: the section shows it higher.
    half = next(one for one in at_sink(window).panel._seats.buttons() if one.property("seat") == "half")
    QTest.mouseClick(half, LEFT)
    assert wait_until(lambda: window.section.cut != flush)
    top = min(z for body in window.section.cut.bodies for _, z in body.ring)
    assert top < min(z for body in flush.bodies for _, z in body.ring) - 5

    # The lid comes down and stays open on it: a stop.
    at_sink(window).panel.closing.slider.setValue(600)
    assert window.section.settling.motion.lid_raised_mm == 60.0
    QTest.mouseClick(at_sink(window).panel.closing.close_button, LEFT)
    assert "Does not close" in at_sink(window).panel.closing.verdict.text(), at_sink(
        window
    ).panel.closing.verdict.text()
    assert wait_until(lambda: not at_sink(window).panel.closing.glide.is_moving)
    assert window.section.settling.motion.lid_raised_mm > 1.0
    assert "TOO_HIGH" in codes(window, "stop")

    # Flush again it closes, but its head alone is held: the advised riser is taken.
    flat = next(one for one in at_sink(window).panel._seats.buttons() if one.property("seat") == "flush")
    QTest.mouseClick(flat, LEFT)
    assert "TOO_HIGH" not in codes(window, "stop")
    assert codes(window, "care") & {"ROCKS", "LIES_ASKEW"}, codes(window, "care")
    settle(window)
    riser = next(one for one in at_sink(window).panel.option_buttons if "plug back" in one.text())
    QTest.mouseClick(riser, LEFT)
    assert not codes(window, "care") & {"ROCKS", "LIES_ASKEW"}
    assert any(workspace.ground.pockets[MALLET].seating.risers_mm)
    assert "Lies level" in at_sink(window).panel.verdict.text(), at_sink(window).panel.verdict.text()
    seated = workspace.project

    # Pulls for everything.
    QTest.keyClick(window, Qt.Key.Key_5, ALT)
    QTest.mouseClick(at_grip(window).panel.all_button, LEFT)
    settle(window)
    assert not codes(window, "care") & {"NO_GRIP", "GRIP_POOR"}, codes(window, "care")
    pulled = workspace.project

    # One circle after the other is dragged along the file until fingers would not hold it.
    workspace.select((FILE,))
    assert at_grip(window).panel.verdict.text().startswith("Comes out level"), at_grip(window).panel.verdict.text()
    pull = next(one for one in workspace.ground.pulls if one.pull.serves == (FILE,))
    for index in range(len(pull.pull.points_mm)):
        pull = next(one for one in workspace.ground.pulls if one.pull.serves == (FILE,))
        at = pull.parts[index].centroid
        pixel = plan_pixel(window, at.x, at.y)
        drag(window.plan.viewport(), pixel, pixel + QPointF(48, 0) * window.plan.px_per_mm, steps=7)
    assert at_grip(window).panel.verdict.text().startswith("Hard to lift out"), at_grip(window).panel.verdict.text()
    assert "GRIP_POOR" in codes(window, "care")

    # Taken back: the moved circles, the pulls, the riser, the seats.
    for _ in range(len(pull.pull.points_mm)):
        QTest.keyClick(window, Qt.Key.Key_Z, CTRL)
    assert workspace.project == pulled
    assert at_grip(window).panel.verdict.text().startswith("Comes out level")
    QTest.keyClick(window, Qt.Key.Key_Z, CTRL)
    assert workspace.project == seated
    while window.undo_label:
        QTest.keyClick(window, Qt.Key.Key_Z, CTRL)
    assert workspace.project == start
    put_away(window)


if __name__ == "__main__":
    go_through(sink_and_grip)
