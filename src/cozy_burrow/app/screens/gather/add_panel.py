"""The ways in: photos, paper, calliper stations, plain shapes, drawings, a whole table."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from msgspec.structs import replace
from PySide6.QtWidgets import (
    QButtonGroup,
    QGridLayout,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from cozy_burrow.app.desk.bench_session import RetouchSession
from cozy_burrow.app.desk.settings import Settings
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import Column, Form, LengthField, NextOnEnter, head, panel, soft
from cozy_burrow.app.look.long_words import Words
from cozy_burrow.app.screens.gather.calliper_way import CalliperWay
from cozy_burrow.app.screens.gather.files_way import FilesWay
from cozy_burrow.app.screens.gather.picture_ways import PictureWays
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.kit.shapes import box_item, round_item
from cozy_burrow.core.kit.stations import station_item
from cozy_burrow.core.model.edits import add_items
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.tongue import tr


class AddPanel(QWidget):
    """Gathers new things into the kit."""

    def __init__(
        self,
        workspace: Workspace,
        session: RetouchSession,
        settings: Settings,
        may_clear: Callable[[], bool],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        panel(self)
        self._workspace, self._session = workspace, session
        self.pictures = PictureWays(workspace, session, settings, may_clear)
        self.pictures.setParent(self)
        self.pictures.hide()
        self.files = FilesWay(workspace, lambda: " ".join(self.name.text().split()))
        layout = QVBoxLayout(self)
        layout.addWidget(head(tr("Gather an item")))
        form = Form()
        self.name, self.group = NextOnEnter(), NextOnEnter()
        self.name.setPlaceholderText(tr("tuning lever"))
        self.group.setPlaceholderText(tr("what it stays with"))
        form.addRow(tr("Name"), self.name)
        form.addRow(tr("Group"), self.group)
        layout.addLayout(form)
        layout.addLayout(self._ways())
        layout.addWidget(self.pages, 1)
        self._refused = Words()
        self._refused.setObjectName("refused")
        layout.addWidget(self._refused)
        self.pictures.refused.connect(self._say_refused)
        self.files.refused.connect(self._say_refused)
        self.files.found.connect(self._take_file)

    def _ways(self) -> QGridLayout:
        """Return one button a way in, and fill the pages that they turn to."""
        self.pages = QStackedWidget()
        grid = QGridLayout()
        grid.setSpacing(4)
        self.ways: dict[str, QPushButton] = {}
        group = QButtonGroup(self)
        pages: tuple[tuple[str, str, QWidget], ...] = (
            ("Photo", tr("Photo"), self.pictures.photo),
            ("Paper", tr("Paper"), self.pictures.paper),
            ("Calliper", tr("Calliper"), self._calliper_page()),
            ("Box", tr("Box"), self._box_tab()),
            ("Round", tr("Round"), self._round_tab()),
            ("Files", tr("Files"), self.files),
        )
        for number, (name, called, page) in enumerate(pages):
            button = QPushButton(called)
            button.setCheckable(True)
            area = Column()
            area.setWidget(page)
            self.pages.addWidget(area)
            button.clicked.connect(lambda _=False, name=name: self.show_way(name))
            group.addButton(button)
            grid.addWidget(button, number // 3, number % 3)
            self.ways[name] = button
        self.show_way("Calliper")
        return grid

    def show_way(self, name: str) -> None:
        """Turn to one of the ways in."""
        self.ways[name].setChecked(True)
        self.pages.setCurrentIndex(list(self.ways).index(name))

    def take_picture(self, picture: Path | bytes) -> None:
        """Take a picture that was dropped, a file or the bytes of one: as a photo on the mat.

        Where Paper is open it is left to its two buttons, for it may be a scan of items or a traced sheet.
        """
        if self.ways["Paper"].isChecked() and not self._session.is_open:
            self._say_refused(
                tr("Is it a scan or a traced sheet? Choose it by its button here. A photo is dropped on Photo.")
            )
            return
        self.show_way("Photo")
        if isinstance(picture, Path):
            self.pictures.take_photo_file(picture)
            return
        try:
            self.pictures.take_photo(picture, tr("dropped picture"))
        except UnusableInput as error:
            self._say_refused(error.sentence())

    def _say_refused(self, sentence: str) -> None:
        self._refused.setText(sentence)
        if sentence and not self._refused.isVisible():  # a photo was dropped on the retouch bench
            self._workspace.refused.emit(sentence)

    def _calliper_page(self) -> QWidget:
        page = CalliperWay(self._workspace, self._say_refused)
        self.calliper = page
        layout = page.layout()
        assert isinstance(layout, QVBoxLayout)
        self.add_calliper = self._main_button(
            tr("Add it to the kit"), lambda: station_item("item-1", self._named(), page.stations), layout
        )
        return page

    def _box_tab(self) -> QWidget:
        page = QWidget()
        layout = QVBoxLayout(page)
        form = Form()
        self._box = [LengthField(text, least_mm=0.1) for text in (tr("Length"), tr("Width"), tr("Thickness"))]
        for field in self._box:
            form.addRow(field.accessibleName(), field)
        layout.addLayout(form)
        self.add_box = self._main_button(tr("Add the box"), self._make_box, layout, after=self._box)
        layout.addStretch(1)
        return page

    def _round_tab(self) -> QWidget:
        page = QWidget()
        layout = QVBoxLayout(page)
        layout.addWidget(soft(tr("A cylinder that lies on its side: a bottle, a tin, a tube.")))
        form = Form()
        self._round = [LengthField(text, least_mm=0.1) for text in (tr("Length"), tr("Diameter"))]
        for field in self._round:
            form.addRow(field.accessibleName(), field)
        layout.addLayout(form)
        self._main_button(tr("Add the round item"), self._make_round, layout, after=self._round)
        layout.addStretch(1)
        return page

    def _main_button(
        self, text: str, make: Callable[[], Item], layout: QVBoxLayout, *, after: Sequence[LengthField] = ()
    ) -> QPushButton:
        """Add the button that adds; Enter in the last field presses it, a refusal leads to the field meant."""

        def at_enter() -> None:
            if not self._add(make):
                refused = next((field for field in after if field.is_wanting), None)
                if refused is not None:
                    refused.setFocus()
                    refused.selectAll()

        if after:
            after[-1].returnPressed.connect(at_enter)
        button = QPushButton(text)
        button.setObjectName("main")
        button.clicked.connect(at_enter)
        layout.addWidget(button)
        return button

    def _named(self) -> str:
        return " ".join(self.name.text().split()) or tr("new item")

    def _make_box(self) -> Item:
        length, width, thickness = (self._needed(field) for field in self._box)
        return box_item("item-1", self._named(), length_mm=length, width_mm=width, thickness_mm=thickness)

    def _make_round(self) -> Item:
        length, diameter = (self._needed(field) for field in self._round)
        return round_item("item-1", self._named(), length_mm=length, diameter_mm=diameter)

    def _needed(self, field: LengthField) -> float:
        field.set_unit(self._workspace.unit)
        value = field.value()
        assert value is not None
        return value

    def _add(self, make: Callable[[], Item]) -> bool:
        try:
            self.take_in([make()])
        except UnusableInput as error:
            self._refused.setText(error.sentence())
            return False
        if self.calliper.stations:
            self.calliper.clear()
        for field in (*self._box, *self._round, self.name):
            field.clear()
        self.name.setFocus()
        return True

    def _take_file(self, items: list[Item], remarks: str) -> None:
        try:
            self.take_in(items)
        except UnusableInput as error:
            self._refused.setText(error.sentence())
            return
        self._refused.setText(remarks)
        if self.name.text().strip() == items[0].name:  # what was typed meanwhile is for the next item
            self.name.clear()

    def take_in(self, items: list[Item]) -> None:
        """Put items into the kit as one step of undo, the last of them chosen."""
        self._refused.setText("")
        group = " ".join(self.group.text().split())
        if group:
            items = [item if item.group else replace(item, group=group) for item in items]
        project = add_items(self._workspace.project, items)
        text = f"‘{items[0].name}’" if len(items) == 1 else tr("{count} items", count=len(items))
        self._workspace.do(tr("Gather {text}", text=text), project)
        self._workspace.choose_item(project.items[-1].id)
