"""The item bench says what the parts of an item are made of, and the picture follows."""

from __future__ import annotations

from PySide6.QtWidgets import QComboBox, QScrollArea

from cozy_burrow.app.screens.gather.item_bench import ItemBench
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.model.materials import COLOURS, MATERIALS
from cozy_burrow.core.relief.finish import finish_of, rgb
from tests.app.qt import QtCase
from tests.app.screens import at_gather
from tests.makers import DRIVER, box, project, stations


class PartLooks(QtCase):
    def bench(self, window: Window) -> ItemBench:
        return at_gather(window).bench

    def choose(self, bench: ItemBench, called: str, data: str) -> None:
        """Choose a row as a person does, by the choice's accessible name."""
        box_ = next(one for one in bench.findChildren(QComboBox) if one.accessibleName() == called and one.isVisible())
        row = box_.findData(data)
        self.assertGreaterEqual(row, 0)
        box_.setCurrentIndex(row)
        box_.activated.emit(row)

    def test_each_part_has_its_own_and_undo_takes_it_back(self) -> None:
        window = self.window(project(stations(DRIVER)), stage="gather")
        window.workspace.choose_item("item-1")
        self.app.processEvents()
        bench = self.bench(window)
        self.choose(bench, "Material of zone 1", "wood")
        self.assertEqual(window.workspace.project.items[0].material, "wood/")
        self.choose(bench, "Material of zone 2", "brass")
        self.choose(bench, "Colour of zone 1", "red")
        item = window.workspace.project.items[0]
        self.assertEqual((item.material, item.colour), ("wood/brass", "red/"))
        self.assertEqual(finish_of(item, 0, "").colour, rgb(COLOURS["red"]))
        self.assertEqual(finish_of(item, 1, "").colour, rgb(MATERIALS["brass"].colour))
        self.choose(bench, "Colour of zone 1", "")
        self.assertEqual(window.workspace.project.items[0].colour, "")
        for _ in range(4):
            window.workspace.undo()
        self.app.processEvents()
        self.assertEqual(window.workspace.project.items[0].material, "")
        self.assertEqual(bench._zones.looks[0].material.currentData(), "")

    def test_every_material_and_colour_can_be_chosen(self) -> None:
        window = self.window(project(box()), stage="gather")
        window.workspace.choose_item("item-1")
        self.app.processEvents()
        bench = self.bench(window)
        for name in MATERIALS:
            self.choose(bench, "Material of zone 1", name)
            self.assertEqual(window.workspace.project.items[0].material, name)
        for name in COLOURS:
            self.choose(bench, "Colour of zone 1", name)
            self.assertEqual(window.workspace.project.items[0].colour, name)

    def test_at_large_letters_nothing_lies_beside_what_is_seen(self) -> None:
        window = self.window(project(stations(DRIVER)), stage="gather", scale=2.0)
        window.workspace.choose_item("item-1")
        self.app.processEvents()
        bench = self.bench(window)
        (area,) = bench.findChildren(QScrollArea)
        self.assertEqual(area.horizontalScrollBar().maximum(), 0)
        thickness, under, shape = bench._zones.rows[1]
        self.assertGreater(shape.y(), thickness.y())
        self.assertEqual(thickness.y(), under.y())
        wide = self.bench(self.window(project(stations(DRIVER)), stage="gather"))
        wide._workspace.choose_item("item-1")
        self.app.processEvents()
        self.assertLess(wide._zones.rows[1][2].y(), wide._zones.rows[1][0].geometry().bottom())
