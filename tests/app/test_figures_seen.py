"""No figure is cut off: neither one that lies over the plan near its edge, nor one in a field that has grown narrow."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any
from unittest.mock import patch

from hypothesis import given, settings
from hypothesis import strategies as st
from PySide6.QtCore import QEvent, QObject, QPointF, QRectF
from PySide6.QtGui import QPaintEvent, QRegion
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.look.fields import LengthField, NumberField, room_of
from cozy_burrow.app.scene.figures import Figures, _within
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.model.edits import move_placements
from cozy_burrow.core.units import Unit
from tests.app.qt import QtCase
from tests.app.settled import settle_whole
from tests.makers import van_drawer


class Painted(QObject):
    """Knows which part of a widget was painted."""

    def __init__(self) -> None:
        super().__init__()
        self.region = QRegion()

    def eventFilter(self, _: QObject, event: QEvent) -> bool:
        if isinstance(event, QPaintEvent):
            self.region += event.region()
        return False


class OverThePlan(QtCase):
    def cards(self, window: Window) -> list[QRectF]:
        """The figures that lie over the plan by now."""
        settle_whole(window)
        with self.noting_cards() as found:
            window.plan.viewport().grab()
        return found

    @contextmanager
    def noting_cards(self) -> Iterator[list[QRectF]]:
        """Note where figures are painted meanwhile."""
        found: list[QRectF] = []
        paint = Figures.card

        def card(self: Figures, card: QRectF, *args: Any, **more: Any) -> None:
            found.append(QRectF(card))
            paint(self, card, *args, **more)

        with patch.object(Figures, "card", card):
            yield found

    def test_a_figure_beside_the_edge_of_the_plan_is_seen_whole(self) -> None:
        window = self.window(van_drawer())
        window.resize(1280, 800)
        seen = 0
        for stage in ("lay-out", "grip"):
            window.show_stage(stage)
            settle_whole(window)
            view = QRectF(window.plan.viewport().rect())
            for placement in window.workspace.insert.placements:
                window.workspace.select((placement.id,))
                cards = self.cards(window)
                seen += len(cards)
                cut = [one for one in cards if view.intersects(one) and not view.contains(one)]
                self.assertEqual(cut, [], f"{placement.id} at {stage}")
        self.assertGreater(seen, 100)

    def test_what_is_painted_anew_covers_the_figures_of_before_and_of_now(self) -> None:
        """Only the part near a thing is painted anew as it is dragged, and figures may find room far off."""
        window = self.window(van_drawer(), stage="lay-out")
        workspace, viewport = window.workspace, window.plan.viewport()
        middle = QPointF(viewport.rect().center())

        def far(_: Figures, card: QRectF) -> QRectF:
            aside = 260 if card.center().x() < middle.x() else -260
            return card.translated(aside, 0)

        seen = 0
        with patch.object(Figures, "_free_card", far):
            for placement in workspace.insert.placements[::3]:
                workspace.select((placement.id,))
                before = self.cards(window)
                painted = Painted()
                viewport.installEventFilter(painted)
                moved = move_placements(workspace.project, workspace.insert_id, [placement.id], dx_mm=2.0, dy_mm=1.0)
                with self.noting_cards() as now:
                    workspace.do("Move", moved)
                    for _ in range(3):
                        self.app.processEvents()
                viewport.removeEventFilter(painted)
                for card in (*before, *now):
                    area = card.toAlignedRect() & viewport.rect()
                    self.assertEqual((QRegion(area) - painted.region).rectCount(), 0, f"{area} of {placement.id}")
                    seen += 1
        self.assertGreater(seen, 30)

    @settings(deadline=None)
    @given(st.floats(-300, 1500), st.floats(-300, 900), st.floats(10, 300), st.floats(8, 60))
    def test_what_is_brought_in_is_moved_by_as_little_as_it_takes(
        self, left: float, top: float, width: float, height: float
    ) -> None:
        view = QRectF(0.0, 0.0, 900.0, 360.0)
        card = QRectF(left, top, width, height)
        moved = _within(card, view)
        self.assertTrue(view.adjusted(-1e-6, -1e-6, 1e-6, 1e-6).contains(moved))
        for by, low, high, beyond in (
            (moved.left() - card.left(), card.left(), card.right(), view.right()),
            (moved.top() - card.top(), card.top(), card.bottom(), view.bottom()),
        ):
            self.assertAlmostEqual(by, max(0.0, -low) if low < 0 else min(0.0, beyond - high), places=6)


class InFields(QtCase):
    def test_a_field_is_as_wide_as_its_figure(self) -> None:
        """Its minus was cut off in the language that writes a comma: −3.5 mm looked like 3.5."""
        house = QWidget()
        self.addCleanup(house.deleteLater)
        units: tuple[Unit, ...] = ("mm", "inch")
        for unit in units:
            for length in (-3.5, -123.45, 0.1, 5_555.55):
                field = LengthField("Underside")
                field.setParent(house)
                field.show_length(length, unit)
                field.resize(field.minimumWidth(), 32)
                with self.subTest(unit=unit, length=length):
                    self.assertLessEqual(room_of(field), field.width())
                    self.assertEqual(field.cursorPosition(), 0)
        number = NumberField("Price", least=0, most=1e9, unit=" a square metre")
        number.setParent(house)
        number.show_number(123456.75)
        self.assertLessEqual(room_of(number), number.minimumWidth())

    def test_the_room_is_that_which_the_letters_take(self) -> None:
        """Wide enough by its own reckoning, and not scrolled: its last letter stands where it does in a broad one."""
        narrow, broad = LengthField("One"), LengthField("Other")
        for field in (narrow, broad):
            self.addCleanup(field.deleteLater)
            field.show_length(-123.45, "mm")
            field.setCursorPosition(len(field.text()))
        narrow.resize(narrow.minimumWidth(), 32)
        broad.resize(400, 32)
        for field in (narrow, broad):
            field.show()
        self.app.processEvents()
        left = [field.cursorRect().left() for field in (narrow, broad)]
        self.assertEqual(left[0], left[1])
