"""An inch project never says mm: every text of every stage is read, with its hovers and names."""

from __future__ import annotations

import re

from msgspec.structs import replace
from PySide6.QtWidgets import QAbstractItemView, QComboBox, QTableView, QWidget

from cozy_burrow.app.screens.measure.pages import PAGES
from cozy_burrow.core.findings.telling import finding_text
from cozy_burrow.core.model.stages import STAGES
from cozy_burrow.core.units import format_fine
from cozy_burrow.demo.shipped import demo_project
from tests.app.qt import QtCase, settle
from tests.app.screens import at_gather, at_measure

_SAYS_MM = re.compile(r"(?<!N·)\bmm\b|mm²")
# What a dealer calls a board stays as it is called.
_NAMES = re.compile(r"(?:layers|base|cubed|plain), \d+ mm")


def texts_of(widget: QWidget) -> list[str]:
    """Everything that a widget says, shown, on hover or to a reader of screens."""
    texts = [widget.toolTip(), widget.statusTip(), widget.accessibleName(), widget.accessibleDescription()]
    for name in ("text", "placeholderText", "title"):
        told = getattr(widget, name, None)
        if callable(told):
            texts.append(str(told()))
    if isinstance(widget, QComboBox):
        texts += [widget.itemText(n) for n in range(widget.count())]
    if isinstance(widget, QAbstractItemView):
        model = widget.model()
        for row in range(model.rowCount()):
            for column in range(model.columnCount() if isinstance(widget, QTableView) else 1):
                texts += [str(model.index(row, column).data(role)) for role in (0, 3, 11, 12)]
    return texts


class Inches(QtCase):
    def test_no_stage_says_mm_in_an_inch_project(self) -> None:
        window = self.window(replace(demo_project(), units="inch"), stage="gather")
        window.stores.show_demo()
        workspace = window.workspace
        found: dict[str, str] = {}
        read = 0

        def look(where: str) -> None:
            nonlocal read
            settle(window)
            for widget in window.findChildren(QWidget):
                for text in texts_of(widget) if widget.isVisible() else ():
                    read += 1
                    if _SAYS_MM.search(_NAMES.sub("", text)):
                        found.setdefault(text, where)

        for insert in workspace.project.inserts[:2]:
            workspace.show_insert(insert.id)
            for stage in STAGES:
                window.show_stage(stage)
                for page in PAGES if stage == "measure" else (None,):
                    if page is not None:
                        at_measure(window).panel.show_page(page)
                    for keys in ((), tuple(one.id for one in insert.placements[:1])):
                        workspace.select(keys)
                        look(f"{stage} {page or ''}")
        for way in at_gather(window).add.ways:
            window.show_stage("gather")
            at_gather(window).add.show_way(way)
            look(way)
        for finding in workspace.findings:
            self.assertNotIn(" mm", finding_text(workspace.project, finding))
        self.assertEqual(found, {})
        self.assertGreater(read, 5_000)

    def test_figures_too_small_for_fractions_are_decimals(self) -> None:
        self.assertEqual([format_fine(0.3, "inch"), format_fine(-0.3, "inch")], ["0.012 in", "−0.012 in"])
        self.assertEqual(format_fine(0.35, "mm", digits=2), "0.35 mm")
