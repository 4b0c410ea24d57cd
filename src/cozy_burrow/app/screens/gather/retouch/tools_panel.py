"""Beside the picture on the retouch bench: what was found in it, the figures of the chosen thing, and its mends."""

from __future__ import annotations

from msgspec.structs import replace
from PySide6.QtCore import Signal
from PySide6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QListWidget,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from cozy_burrow.app.desk.bench_session import RetouchSession
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import Column, Form, LengthField, NextOnEnter, clear_grid, head, panel
from cozy_burrow.app.look.long_words import Words, row_of
from cozy_burrow.app.screens.gather.retouch.mends import Mends
from cozy_burrow.core.capture.retouch import draft as drafts
from cozy_burrow.core.capture.retouch.draft import Draft
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.kit.shapes import renamed
from cozy_burrow.core.model.records import Section
from cozy_burrow.core.tongue import tr, trn

_BODIES: tuple[tuple[Section, bool, str], ...] = (  # with its walls hidden or not
    ("flat", False, tr("upright walls")),
    ("flat", True, tr("upright walls as pale as paper")),
    ("round", False, tr("round, lying")),
)
_UNSURE_MM = 0.8  # a pocket's depth that is less sure is measured by hand


class RetouchTools(QWidget):
    """Lists the things of a picture, takes the figures of one, mends it, sends all to the kit."""

    send_wanted = Signal()
    side_wanted = Signal()
    another_wanted = Signal()
    look_wanted = Signal(object)  # a place of the picture, in its millimetres
    close_wanted = Signal()

    def __init__(self, session: RetouchSession, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        panel(self)
        self._session, self._workspace = session, workspace
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 6, 0)
        column.addLayout(self._things())
        column.addLayout(self._figures())
        self.mends = Mends(session, workspace)
        self.mends.side_wanted.connect(self.side_wanted)
        column.addWidget(self.mends)
        column.addStretch(1)
        area = Column()
        area.setWidget(page)
        outer = QVBoxLayout(self)
        outer.addWidget(area, 1)
        outer.addLayout(self._ends())
        session.changed.connect(self.follow)
        self.follow()

    # Building

    def _things(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.addWidget(head(tr("On the bench")))
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Items found in the picture"))
        self.list.currentRowChanged.connect(self._session.choose)
        self.list.setFixedHeight(self.fontMetrics().height() * 6)
        column.addWidget(self.list)
        return column

    def _ends(self) -> QGridLayout:
        grid = QGridLayout()
        self.send = QPushButton(tr("Send all to the kit"))
        self.send.setObjectName("main")
        self.send.clicked.connect(self.send_wanted)
        grid.addWidget(self.send, 0, 0, 1, 2)
        drop, close = QPushButton(tr("Leave this out")), QPushButton(tr("Close"))
        drop.clicked.connect(
            lambda: self._session.do(tr("Leave an item out"), lambda table: drafts.without(table, table.chosen))
        )
        close.setToolTip(tr("Take the picture off the bench; what was not sent is gone"))
        close.clicked.connect(self.close_wanted)
        grid.addWidget(drop, 1, 0)
        grid.addWidget(close, 1, 1)
        return grid

    def _figures(self) -> QVBoxLayout:
        column = QVBoxLayout()
        form = Form()
        self.name = NextOnEnter()
        self.name.setAccessibleName(tr("Name of the item"))
        self.name.editingFinished.connect(self._rename)
        form.addRow(tr("Name"), self.name)
        self.thickness = LengthField(tr("Thickness by calliper"), least_mm=0.1)
        self.thickness.setToolTip(
            tr("The height of the edge that the camera saw follows from it; parallax is taken out anew.")
        )
        self.thickness.entered.connect(self._set_thickness)
        form.addRow(tr("Thickness"), self.thickness)
        self.another = QPushButton(tr("By another photo…"))
        self.another.setToolTip(
            tr(
                "The same layout, taken from a place a hand or two aside: how far each edge moves between both tells "
                "how high it is."
            )
        )
        self.another.clicked.connect(self.another_wanted)
        form.addRow("", self.another)
        self.body = QComboBox()
        self.body.setAccessibleName(tr("Body below the edge"))
        self.body.setToolTip(tr("Upright: the edge is the top. Round: the widest line is half way up."))
        self.body.addItems([text for *_, text in _BODIES])
        self.body.activated.connect(self._set_body)
        form.addRow(tr("Body"), self.body)
        self.notes = NextOnEnter()
        self.notes.setAccessibleName(tr("Notes on the item"))
        self.notes.setPlaceholderText(tr("spring: strapped shut"))
        self.notes.setToolTip(
            tr("What to mind: a spring to strap shut for tracing, a cable, a sharp edge, goes away hot")
        )
        self.notes.editingFinished.connect(self._note)
        form.addRow(tr("Notes"), self.notes)
        column.addLayout(form)
        self.verdict = Words()
        self.verdict.setObjectName("verdict")
        self.verdict.setToolTip(
            tr(
                "± is one standard deviation: noise of the edge, how well the marks fit the page, and "
                "how surely the height of the lens is known."
            )
        )
        column.addWidget(self.verdict)
        self.look = QPushButton()
        self.look.setToolTip(
            tr(
                "The picture hardly shows an edge there: the dotted run was drawn across from what lies beside it. "
                "Check it in the lens, mend it between A and B."
            )
        )
        self.look.clicked.connect(self._look_at_doubt)
        column.addWidget(self.look)
        self._zones = QWidget()
        self._zone_grid = QGridLayout(self._zones)
        self._zone_grid.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self._zones)
        return column

    # Following

    def follow(self) -> None:
        """Show the table as it is now."""
        if not self._session.is_open:
            return
        table, draft = self._session.table, self._session.draft
        self.list.blockSignals(True)
        if self.list.count() != len(table.drafts):
            self.list.clear()
            self.list.addItems([""] * len(table.drafts))
        for row, one in enumerate(table.drafts):
            entry = self.list.item(row)
            entry.setText(f"{row_of(one.item.name)}   {self._size(one)}")
        self.list.setCurrentRow(table.chosen)
        self.list.blockSignals(False)
        if not (self.name.hasFocus() and self.name.isModified()):
            self.name.setText(draft.item.name)
        if not (self.notes.hasFocus() and self.notes.isModified()):
            self.notes.setText(draft.item.notes)
        self.thickness.show_length(draft.thickness_mm, self._workspace.unit)
        body = (draft.section, draft.walls_hidden)
        self.body.setCurrentIndex(next((n for n, kind in enumerate(_BODIES) if kind[:2] == body), 0))
        edge = self._workspace.length(draft.edge_mm)
        seen = tr("Edge seen {edge} above the mat. ", edge=edge) if draft.seen is not None else ""
        sure = self._workspace.length(draft.item.provenance.uncertainty_mm, digits=2)
        self.verdict.setText(f"{self._size(draft)}, ± {sure}. {seen}{self._measured(draft)}")
        self._show_doubts(draft)
        self.send.setText(
            tr("Send all {count} to the kit", count=len(table.drafts))
            if len(table.drafts) > 1
            else tr("Send it to the kit")
        )
        self._show_zones(draft)
        self.mends.follow()

    def _measured(self, draft: Draft) -> str:
        """Say what several photos told of the height of the edge, beside what stands in the field."""
        if draft.measured_mm is None or draft.measured_sigma_mm is None:
            return ""
        length = self._workspace.length
        sigma = length(draft.measured_sigma_mm, digits=2)
        told = (
            tr("Measured from photos, part by part, ± {sigma}.", sigma=sigma)
            if len(draft.item.zones) > 1
            else tr("Measured from photos: {edge} ± {sigma}.", edge=length(draft.measured_mm), sigma=sigma)
        )
        if draft.measured_sigma_mm > _UNSURE_MM:
            return f"{told} {tr('Too unsure to cut by: measure it with a calliper.')}"
        if draft.walls_hidden:
            return f"{told} {tr('Its walls look like the paper. If it is round, set the body.')}"
        return told

    def _show_doubts(self, draft: Draft) -> None:
        capture = self._session.capture
        trace = None if capture is None else capture.trace
        self.another.setVisible(trace is not None)
        runs = drafts.doubtful(draft, trace)
        self.look.setVisible(bool(runs))
        self.look.setText(trn("Look at {count} unsure run", "Look at {count} unsure runs", len(runs)))

    def _look_at_doubt(self) -> None:
        """Put the marks at the ends of the next unsure run, the longest first, and bring it near."""
        capture = self._session.capture
        if capture is None:
            return
        runs = drafts.doubtful(self._session.draft, capture.trace)
        if not runs:
            return
        ends = [(run[0], run[-1]) for run in runs]
        shown = ends.index(self._session.marks) if self._session.marks in ends else -1
        run = runs[(shown + 1) % len(runs)]
        for index, place in enumerate((run[0], run[-1])):
            self._session.set_mark(index, place)
        self.look_wanted.emit(run[len(run) // 2])

    def _size(self, draft: Draft) -> str:
        left, top, right, bottom = polygon_of(draft.item.outline).bounds
        length = self._workspace.length
        return f"{length(right - left)} × {length(bottom - top)}"

    def _show_zones(self, draft: Draft) -> None:
        clear_grid(self._zone_grid)
        if len(draft.item.zones) < 2:
            return
        for row, zone in enumerate(draft.item.zones):
            place = (row // 2, 2 * (row % 2))
            self._zone_grid.addWidget(Words(zone.name), *place)
            field = LengthField(tr("Thickness of {name}", name=zone.name), least_mm=0.1)
            field.show_length(zone.thickness_mm, self._workspace.unit)
            field.entered.connect(
                lambda mm, row=row: self._session.do_draft(
                    tr("Set a thickness"), lambda one: drafts.with_zone_thickness(one, row, mm)
                )
            )
            self._zone_grid.addWidget(field, place[0], place[1] + 1)

    # Doing

    def _rename(self) -> None:
        if self._session.is_open and self.name.text() != self._session.draft.item.name:
            text = self.name.text()
            self._session.do_draft(tr("Name it"), lambda draft: replace(draft, item=renamed(draft.item, text)))

    def _note(self) -> None:
        text = " ".join(self.notes.text().split())
        if self._session.is_open and text != self._session.draft.item.notes:
            self._session.do_draft(tr("Note it"), lambda draft: replace(draft, item=replace(draft.item, notes=text)))

    def _set_thickness(self, length_mm: float) -> None:
        capture = self._session.capture
        if capture is not None:
            self._session.do_draft(
                tr("Set the thickness"),
                lambda draft: drafts.with_thickness(draft, capture.trace, thickness_mm=length_mm),
            )

    def _set_body(self, index: int) -> None:
        capture = self._session.capture
        if capture is not None:
            section, hidden, _ = _BODIES[index]
            self._session.do_draft(
                tr("Set the body"),
                lambda draft: drafts.with_thickness(draft, capture.trace, section=section, walls_hidden=hidden),
            )
