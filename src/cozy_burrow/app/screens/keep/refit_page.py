"""Refit: another tool where one lies in cut foam, or one that is gone for good; what is cut more, what is glued in."""

from __future__ import annotations

from msgspec.structs import replace
from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QPushButton, QWidget

from cozy_burrow.app.desk.aside import Aside
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.frame.paged_panel import RefusingPage
from cozy_burrow.app.look.fields import head, rows, soft, verdict
from cozy_burrow.app.look.long_words import row_of
from cozy_burrow.app.look.reading_bar import ReadingBar
from cozy_burrow.app.screens.keep.sheet_button import Make, SheetButton
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.edits import change_item, item_of, placement_of, unplaced
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.refit.patch import Patch
from cozy_burrow.core.refit.refit import gone_for_good
from cozy_burrow.core.tongue import decimal, tr
from cozy_burrow.jobs.change_sheet import sheet_between
from cozy_burrow.jobs.refit import Proposal, replacing
from cozy_burrow.jobs.refit_words import layer_lines, patch_words


class RefitPage(RefusingPage):
    """`shown` carries what is to be laid over the plan: the patch, and the outline of the new item or None."""

    shown = Signal(object, object)

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        self.found: tuple[Proposal, ...] = ()
        self._filled: tuple[Project, Patch] | None = None
        self._asked: tuple[str, str] = ("", "")  # the plan's own words for what was looked at
        self.aside = Aside(workspace, self)
        self.aside.changed.connect(self._follow_if_seen)
        workspace.document_changed.connect(self._forget)
        self._head = head("")
        self.column.addWidget(self._head)
        self._how = soft(tr("Choose the item that goes, on the plan; then what comes in its place."))
        self.column.addWidget(self._how)
        self.new_box = QComboBox()
        self.new_box.setAccessibleName(tr("Item that comes in its place"))
        self.new_box.setMinimumContentsLength(6)
        self.new_box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.column.addWidget(self.new_box)
        self.find_button = QPushButton(tr("Find the best place for it"))
        self.find_button.setObjectName("main")
        self.find_button.clicked.connect(self.try_places)
        self.column.addWidget(self.find_button)
        self.bar = ReadingBar(self.aside.stop)
        self.aside.progressed.connect(self.bar.show_share)
        self.column.addWidget(self.bar)
        self.gone_button = QPushButton(tr("It is gone: fill its place"))
        self.gone_button.clicked.connect(self.fill)
        self.column.addWidget(self.gone_button)
        self.later_button = QPushButton(tr("Keep its place for a new one"))
        self.later_button.setToolTip(tr("It stays on the plan as expected, nothing is cut or filled"))
        self.later_button.clicked.connect(self.keep_place)
        self.column.addWidget(self.later_button)
        self.list = rows(tr("Ways to take it in"), least_px=64)
        self.list.setMaximumHeight(110)
        self.list.currentRowChanged.connect(lambda _: self._show())
        self.column.addWidget(self.list)
        self.verdict = verdict(
            tip=tr(
                "The foam as it is cut now against the new plan, layer by layer. What is narrower than a quarter of a "
                "millimetre is neither cut nor glued in."
            )
        )
        self.column.addWidget(self.verdict)
        self.take_button = QPushButton(tr("Take it"))
        self.take_button.setObjectName("main")
        self.take_button.clicked.connect(self.take)
        self.column.addWidget(self.take_button)
        self.sheet_button = SheetButton(workspace, self.aside, self, self._sheet)
        self.column.addWidget(self.sheet_button)
        self.column.addStretch(1)
        self.follow()

    def follow(self) -> None:
        """Show what is chosen, and what could come in its place."""
        workspace = self._workspace
        key = self._key()
        name = placement_name(workspace.project, key) if key else ""
        self._head.setText(tr("Instead of {name}", name=name) if key else tr("Another item in cut foam"))
        chosen = self.new_box.currentData()
        waiting = list(dict.fromkeys(item.id for item, _ in unplaced(workspace.project)))
        self.new_box.blockSignals(True)
        self.new_box.clear()
        for item_id in waiting:
            self.new_box.addItem(row_of(item_of(workspace.project, item_id).name), item_id)
        self.new_box.setCurrentIndex(max(0, self.new_box.findData(chosen)))
        self.new_box.blockSignals(False)
        if not waiting:
            self.new_box.addItem(tr("Everything has its place; gather the new one first"), None)
        self.new_box.setEnabled(bool(waiting))
        busy = self.aside.is_busy
        idle = bool(key) and not busy
        self.find_button.setEnabled(idle and bool(waiting))
        for button in (self.gone_button, self.later_button):
            button.setEnabled(idle)
        for part in (self.list, self.take_button, self.sheet_button):
            part.setVisible(bool(self.found) or self._filled is not None)
        self.sheet_button.setEnabled(not busy)
        if not busy:
            self.bar.hide()
        if busy:
            self.verdict.setText(tr("Every place, turn and open pocket is tried…"))
        elif not self.found and self._filled is None:
            self.verdict.setText(tr("Nothing changes until you take it."))

    def _key(self) -> str:
        chosen = self._workspace.selection
        return chosen[0] if len(chosen) == 1 else ""

    def _forget(self) -> None:
        """What was found is of a plan that is not there any more, and so is what is being looked for."""
        self.aside.stop()
        self.found, self._filled = (), None
        self.list.clear()
        self.shown.emit(None, None)

    def try_places(self) -> None:
        """Try every place for the new item, beside the window."""
        key, new_id = self._key(), self.new_box.currentData()
        if not key or new_id is None:
            return
        insert_id = self._workspace.insert_id
        self._forget()
        self.refused.emit("")
        self._asked = (placement_name(self._workspace.project, key), self.new_box.currentText())
        self.bar.show_share(0.0)
        self.aside.run_long(
            lambda project, token: replacing(project, insert_id, key, str(new_id), token=token),
            self._take_found,
            tell=False,
        )

    def _take_found(self, found: tuple[Proposal, ...]) -> None:
        self.found = found
        self._list(
            [f"{number}  {_short(one.way.patch)}{self._moves(one)}" for number, one in enumerate(found, start=1)]
        )

    def _moves(self, one: Proposal) -> str:
        names = [placement_name(self._workspace.project, key) for key in one.way.moved]
        return tr(", moves ‘{names}’", names="’, ‘".join(names)) if names else ""

    def fill(self) -> None:
        """Show what filling the place of what is chosen comes to."""
        key, insert_id = self._key(), self._workspace.insert_id
        if key:
            self._forget()
            self._asked = (placement_name(self._workspace.project, key), "")
            self.aside.run(lambda project: gone_for_good(project, insert_id, key), self._take_filled)

    def _take_filled(self, filled: tuple[Project, Patch]) -> None:
        self._filled = filled
        self._list([_short(filled[1])])

    def keep_place(self) -> None:
        """Keep the place of what is chosen: what it was is expected again."""
        key = self._key()
        if key:
            project = self._workspace.project
            item = item_of(project, placement_of(self._workspace.insert, key).item_id)
            self._workspace.do(
                tr("Keep the place of ‘{name}’", name=item.name), change_item(project, replace(item, use="expected"))
            )

    def _list(self, rows: list[str]) -> None:
        self.list.clear()
        self.list.addItems(rows)
        self.list.setCurrentRow(0)
        self.follow()
        self._show()

    def _chosen(self) -> tuple[Project, Patch] | None:
        if self._filled is not None:
            return self._filled
        row = self.list.currentRow()
        return (self.found[row].way.project, self.found[row].way.patch) if 0 <= row < len(self.found) else None

    def _show(self) -> None:
        chosen = self._chosen()
        if chosen is None:
            return
        patch = chosen[1]
        lines = [patch_words(patch), *layer_lines(patch, lambda mm: self._workspace.length(mm))]
        self.verdict.setText("\n".join(lines))
        outline = None
        row = self.list.currentRow()
        if self.found and 0 <= row < len(self.found):
            one = self.found[row].way.placement
            shape = polygon_of(item_of(chosen[0], one.item_id).outline)
            outline = placed(shape, x_mm=one.x_mm, y_mm=one.y_mm, angle_deg=one.angle_deg)
        self.shown.emit(patch, outline)

    def _sheet(self) -> Make | None:
        """Return what makes the sheet of the way that is chosen."""
        chosen, insert_id, name = self._chosen(), self._workspace.insert_id, self._workspace.project.title
        if chosen is None:
            return None
        return lambda project: sheet_between(project, chosen[0], insert_id, since=name)

    def take(self) -> None:
        """Take the way that is chosen, as one step of undo."""
        chosen = self._chosen()
        if chosen is None:
            return
        old, new = self._asked
        label = (
            tr("Put ‘{new}’ in the place of ‘{old}’", new=new, old=old)
            if new
            else tr("Fill the place of ‘{old}’", old=old)
        )
        self._workspace.do(label, chosen[0])


def _short(patch: Patch) -> str:
    fill, cut = (decimal(f"{volume / 1000:.1f}") for volume in (patch.fill_mm3, patch.cut_mm3))
    return tr("glue in {fill} cm³, cut {cut} cm³", fill=fill, cut=cut)
