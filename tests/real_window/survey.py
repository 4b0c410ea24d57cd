"""From a survey to its blank to the template in a real window; started by a test in a process under Xvfb."""

from __future__ import annotations

import math
from pathlib import Path
from unittest.mock import patch

import ezdxf
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog
from shapely.geometry import Polygon

from cozy_burrow.core.container.blank import blanks_of
from cozy_burrow.core.model.records import Project
from tests.app.qt import application, drag, key, plan_pixel, wait_until
from tests.app.screens import at_measure
from tests.real_window.at_hand import at_hand, bring_to_front, go_through, put_away

TRUE = {"A": (0.0, 0.0), "B": (402.0, 0.0), "C": (398.0, 251.0), "D": (2.0, 249.0)}


def survey_to_template(folder: Path) -> None:
    """Sketch, tape with a slip, tape again, round a corner, take the foam, notch, cut, write, undo."""
    window = at_hand(Project(), folder)
    bring_to_front(window)
    app = application()
    workspace = window.workspace
    QTest.keyClick(window, Qt.Key.Key_2, Qt.KeyboardModifier.AltModifier)
    assert window.stage == "measure"
    QTest.mouseClick(at_measure(window).panel.buttons["Survey"], Qt.MouseButton.LeftButton)
    page = at_measure(window).panel.survey
    page.sketch.setFocus()
    key(page.sketch, Qt.Key.Key_Down)
    page.sketch.activated.emit(page.sketch.currentIndex())
    assert [one.name for one in workspace.container.corners] == ["A", "B", "C", "D"]
    assert any(one.code == "SURVEY_SHORT" for one in workspace.findings) is False  # nothing is taped yet

    # The program asks for one distance after the other; each is typed and Entered. One is a slip of 9 mm.
    asked = []
    for number in range(9):
        pair = (page.first.currentText(), page.second.currentText())
        length = math.dist(TRUE[pair[0]], TRUE[pair[1]]) + (9.0 if number == 2 else 0.0)
        page.length_field.setFocus()
        QTest.keyClicks(page.length_field, f"{length:.1f}")
        key(page.length_field, Qt.Key.Key_Return)
        asked.append(pair)
        if number >= 5:  # every pair is taped: two more of them by clicks on the sketch
            again = asked[number - 5]
            for name in again:
                at = at_measure(window).survey_canvas.corner_px(name)
                QTest.mouseClick(at_measure(window).survey_canvas, Qt.MouseButton.LeftButton, pos=at.toPoint())
            assert (page.first.currentText(), page.second.currentText()) in {again, again[::-1]}
    assert len(workspace.container.taped) == 9, asked
    slip = "–".join(asked[2])
    found = [one for one in workspace.findings if one.code == "TAPE_AGAIN"]
    assert found and found[0].extra == slip.replace("–", " to "), (found, slip)
    assert "again" in page.list.item(2).text(), page.list.item(2).text()
    page.list.setCurrentRow(2)
    QTest.mouseClick(page.forget, Qt.MouseButton.LeftButton)
    assert not [one for one in workspace.findings if one.code == "TAPE_AGAIN"]

    # A corner rounded from a chord and its height.
    QTest.mouseClick(page.corners.button, Qt.MouseButton.LeftButton)
    page.corner.setCurrentText("C")
    page.chord_field.setFocus()
    QTest.keyClicks(page.chord_field, f"{2 * 30 * math.sin(0.6):.3f}")
    key(page.chord_field, Qt.Key.Key_Return)
    page.rise_field.setFocus()
    QTest.keyClicks(page.rise_field, f"{30 * (1 - math.cos(0.6)):.3f}")
    key(page.rise_field, Qt.Key.Key_Return)
    radius = next(one.radius_mm for one in workspace.container.corners if one.name == "C")
    assert abs(radius - 30.0) < 0.05, radius

    # A rib, carried along the back wall by hand; a press fit; the advised foam.
    QTest.mouseClick(at_measure(window).panel.buttons["Inside"], Qt.MouseButton.LeftButton)
    inside = at_measure(window).panel.inside
    QTest.mouseClick(inside.tray.button, Qt.MouseButton.LeftButton)
    inside.fit_field.setFocus()
    inside.fit_field.selectAll()
    QTest.keyClicks(inside.fit_field, "2")
    key(inside.fit_field, Qt.Key.Key_Return)
    QTest.mouseClick(inside.obstacles.fold.button, Qt.MouseButton.LeftButton)
    QTest.mouseClick(inside.obstacles.add_buttons["rib"], Qt.MouseButton.LeftButton)
    app.processEvents()
    before = workspace.container.obstacles[0].ring[0]
    start = plan_pixel(window, before[0] + 10, 4.0)
    drag(window.plan.viewport(), start, start + QPointF(-40 * window.plan.px_per_mm, 0))
    after = workspace.container.obstacles[0].ring[0]
    assert abs(before[0] - after[0] - 40.0) < 1.5, (before, after)
    window.stores.show_demo()
    QTest.mouseClick(at_measure(window).panel.buttons["Foam"], Qt.MouseButton.LeftButton)
    assert wait_until(lambda: bool(at_measure(window).panel.foam.ranked))
    QTest.mouseClick(at_measure(window).panel.foam.use, Qt.MouseButton.LeftButton)
    blank = blanks_of(workspace.ground.bay)[0].polygon
    ring = Polygon([TRUE[name] for name in "ABCD"])
    assert abs(blank.area - (ring.area + 2 * ring.length - 20 * 10)) < 500, (blank.area, ring.area)

    # The template, 1:1, with this very blank.
    out = folder / "papers"
    out.mkdir()
    with patch.object(QFileDialog, "getExistingDirectory", return_value=str(out)):
        QTest.keyClick(window, Qt.Key.Key_E, Qt.KeyboardModifier.ControlModifier)
    assert wait_until(lambda: (out / "cuts.csv").exists())
    assert (out / "templates.pdf").stat().st_size > 5_000
    sheets = sorted(out.glob("*-sheet-*.dxf"))
    assert len(sheets) == len(workspace.insert.sheets), sheets
    line = ezdxf.readfile(sheets[0]).modelspace().query('LWPOLYLINE[layer=="BLANK"]')[0]
    written = Polygon([(x, y) for x, y, *_ in line])
    assert abs(written.area - blank.area) < 1.0, (written.area, blank.area)

    for _ in range(60):
        if workspace.history.undo_label is None:
            break
        QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert workspace.project == Project()
    put_away(window)


if __name__ == "__main__":
    go_through(survey_to_template)
