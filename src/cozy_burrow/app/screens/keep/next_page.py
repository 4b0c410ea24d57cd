"""The next one: this insert as the beginning of another, in another container or foam; more drawers like this one."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QPlainTextEdit, QPushButton, QWidget

from cozy_burrow.app.desk import ask
from cozy_burrow.app.desk.aside import Aside
from cozy_burrow.app.desk.kept_desk import KeptDesk
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.frame.paged_panel import RefusingPage
from cozy_burrow.app.look.fields import Form, LengthField, head, soft, verdict
from cozy_burrow.app.look.long_words import row_of
from cozy_burrow.app.look.reading_bar import ReadingBar
from cozy_burrow.core.container.cabinet import add_like, rows_of
from cozy_burrow.core.container.checks import checked_container
from cozy_burrow.core.errors import Cancelled, UnusableInput
from cozy_burrow.core.foam.layers import checked_sheet
from cozy_burrow.core.model.records import Container, Sheet
from cozy_burrow.core.progress import Token
from cozy_burrow.core.refit.start_from import Started, started_from
from cozy_burrow.core.tongue import tr, trn

_STEPS = 240  # of a search that nobody watches: where most lies already, more changes little


class _Few:
    """A token that ends a search after so many steps, and the work when the window's own says so."""

    def __init__(self, token: Token, steps: int) -> None:
        self._token, self._left, self._all = token, steps, steps

    def step(self, fraction: float) -> None:
        """Count; raises Cancelled."""
        self._left -= 1
        self._token.step(min(0.99, 1.0 - self._left / self._all))
        if self._left < 0:
            raise Cancelled


class NextPage(RefusingPage):
    """Chooses a container and foam, and begins with what lies here."""

    def __init__(self, workspace: Workspace, boxes: KeptDesk, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        self._boxes = boxes
        self.aside = Aside(workspace, self)
        self.aside.changed.connect(self._follow_if_seen)
        self._said, self._said_of = "", workspace.project  # what became of things, as long as that is what is shown
        boxes.changed.connect(self._follow_if_seen)
        boxes.refused.connect(self.refused)
        self.column.addWidget(head(tr("Begin the next one with this")))
        self.column.addWidget(
            soft(tr("What fits keeps its place, the rest is arranged again; undo brings this one back."))
        )
        form = Form()
        self.box = QComboBox()
        self.box.setAccessibleName(tr("Container to begin with"))
        self.box.setMinimumContentsLength(6)
        self.box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.box.activated.connect(lambda _: self._show_box())
        form.addRow(tr("Container"), self.box)
        self.fields: dict[str, LengthField] = {}
        for name, label in (
            ("width_mm", tr("Width")),
            ("depth_mm", tr("Depth")),
            ("height_mm", tr("Height")),
            ("thickness_mm", tr("Foam")),
            ("pitch_mm", tr("Layers of")),
        ):
            field = LengthField(label, least_mm=1.0)
            field.refused.connect(self.refused)
            form.addRow(label, field)
            self.fields[name] = field
        self.column.addLayout(form)
        self.begin_button = self._button(tr("Begin a new project with it"), self.begin)
        self.begin_button.setObjectName("main")
        self.bar = ReadingBar(self.aside.stop)
        self.aside.progressed.connect(self.bar.show_share)
        self.column.addWidget(self.bar)
        self.verdict = verdict()
        self.column.addWidget(self.verdict)
        self.column.addWidget(head(tr("My containers")))
        row = QHBoxLayout()
        self.keep_button = self._button(tr("Keep this one"), self.keep, row)
        self.remove_button = self._button(tr("Remove…"), self._ask_remove, row)
        self.column.addLayout(row)
        self.column.addWidget(head(tr("More like this one")))
        self.rows = QPlainTextEdit()
        self.rows.setAccessibleName(tr("Drawers to add, a line each: name; place"))
        self.rows.setPlaceholderText(tr("A line each, as:\nTop drawer; left, first"))
        self.rows.setTabChangesFocus(True)
        self.rows.setMaximumHeight(70)
        self.column.addWidget(self.rows)
        self.more_button = self._button(tr("Add these drawers"), self.add_rows)
        self.column.addStretch(1)
        boxes.look_again()
        self._shown: Container | None = None
        self.follow()

    def _button(self, text: str, do: Callable[[], object], row: QHBoxLayout | None = None) -> QPushButton:
        button = QPushButton(text)
        button.clicked.connect(lambda _=False: do())
        (self.column if row is None else row).addWidget(button)
        return button

    def follow(self) -> None:
        """Show the containers that there are, and how the one that is shown stands to them."""
        workspace = self._workspace
        chosen = self.box.currentData()
        self.box.blockSignals(True)
        self.box.clear()
        self.box.addItem(tr("As this one"), "")
        for one in self._boxes.shelf.kept:
            self.box.addItem(row_of(one.what.name), one.key)
        self.box.setCurrentIndex(max(0, self.box.findData(chosen)))
        self.box.blockSignals(False)
        if workspace.container is not self._shown:
            self._show_box()
        laid = bool(workspace.insert.placements)
        self.begin_button.setEnabled(laid and not self.aside.is_busy)
        self.remove_button.setEnabled(bool(self.box.currentData()))
        if not self.aside.is_busy:
            self.bar.hide()
        if self._said and self._said_of is workspace.project:
            self.verdict.setText(self._said)
        elif not laid:
            self.verdict.setText(tr("This insert is empty."))
        else:
            self.verdict.setText(
                trn(
                    "{count} item has its place here.",
                    "{count} items have their places here.",
                    len(workspace.insert.placements),
                )
            )

    def _chosen(self) -> Container:
        kept = self._boxes.get(str(self.box.currentData() or ""))
        return kept.what if kept is not None else self._workspace.container

    def _show_box(self) -> None:
        workspace, box = self._workspace, self._chosen()
        self._shown = workspace.container
        sheet = workspace.insert.sheets[0]
        for name, field in self.fields.items():
            field.setModified(False)
            field.show_length(getattr(box if hasattr(box, name) else sheet, name), workspace.unit)
        self.remove_button.setEnabled(bool(self.box.currentData()))

    def _wanted(self) -> tuple[Container, tuple[Sheet, ...]]:
        """Return the container and the foam that are asked for. Raises UnusableInput."""
        figures = {}
        for name, field in self.fields.items():
            field.set_unit(self._workspace.unit)
            figures[name] = field.value() or 0.0
        box, sheets = self._chosen(), self._workspace.insert.sheets
        sizes = {name: figures[name] for name in ("width_mm", "depth_mm", "height_mm")}
        if any(abs(getattr(box, name) - size) > 1e-6 for name, size in sizes.items()):
            # A free outline or surveyed corners are of the old size: the new one is a plain box of what was typed.
            plain = {"outline": None, "corners": (), "taped": (), "obstacles": (), "handle": None}
            box = checked_container(replace(box, **sizes, **plain), where=box.name)
        foam = {name: figures[name] for name in ("thickness_mm", "pitch_mm")}
        if any(abs(getattr(sheets[0], name) - size) > 1e-6 for name, size in foam.items()):
            new = replace(sheets[0], **foam, name="", board_id="")
            checked_sheet(new, where=tr("foam"))
            sheets = (new,)
        return box, sheets

    def begin(self) -> None:
        """Begin a new project with what lies here, beside the window."""
        try:
            box, sheets = self._wanted()
        except UnusableInput as error:
            self.refused.emit(error.sentence())
            return
        self.refused.emit("")
        project, insert_id = self._workspace.project, self._workspace.insert_id
        self.bar.show_share(0.0)
        self.aside.run_long(
            lambda _, token: started_from(project, insert_id, box, sheets, token=_Few(token, _STEPS)), self._take
        )

    def _take(self, started: Started) -> None:
        stayed, all_of = len(started.stayed), len(started.project.inserts[0].placements) + len(started.left_over)
        self._workspace.bring_in(tr("Begin the next one"), started.project, None)
        self._said = tr(
            "{stayed} of {all} items kept their places, {moved} moved, {left} without a place.",
            stayed=stayed,
            all=all_of,
            moved=all_of - stayed - len(started.left_over),
            left=len(started.left_over),
        )
        self._said_of = self._workspace.project

    def keep(self) -> None:
        """Keep the container that is shown, for other jobs."""
        box = self._workspace.container
        same = next((one for one in self._boxes.shelf.kept if one.what.name == box.name), None)
        if self._boxes.keep(box, key=same.key if same is not None else "") is not None:
            self._workspace.said.emit(tr("‘{name}’ is kept", name=box.name))

    def _ask_remove(self) -> None:
        kept = self._boxes.get(str(self.box.currentData() or ""))
        if kept is None:
            return
        text = tr("‘{name}’ goes off this list. Projects that have it keep it.", name=kept.what.name)
        if ask.which(self, tr("Remove a container"), text, (tr("Remove it"), tr("Cancel"))) == 0:
            self._boxes.remove(kept.key)

    def add_rows(self) -> None:
        """Add a drawer a line, like the container that is chosen."""
        workspace = self._workspace
        like = self._chosen()
        try:
            rows = rows_of(self.rows.toPlainText())
        except UnusableInput as error:
            self.refused.emit(error.sentence())
            return
        self.refused.emit("")
        project = add_like(workspace.project, workspace.insert_id, rows, like=like)
        workspace.do(trn("Add {count} drawer", "Add {count} drawers", len(rows)), project)
        self.rows.clear()
