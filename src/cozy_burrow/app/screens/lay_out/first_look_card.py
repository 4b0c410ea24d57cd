"""What goes in? Proposals for the kit before anything is laid, each with what it gives; one press takes one."""

from __future__ import annotations

from PySide6.QtWidgets import QDialog, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from cozy_burrow.app.desk.aside import Aside
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import grow, head, rows, verdict
from cozy_burrow.core.ground.first_look import FirstLook, Proposal, first_look, taken
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.first_look_words import gives, line_of, sum_words


class FirstLookCard(QDialog):
    """Looks at the insert that is shown, beside the window; what is taken is a step of undo, and it looks again."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._workspace = workspace
        self._look: FirstLook | None = None
        self._of: Project | None = None
        self.aside = Aside(workspace, self)
        self.aside.changed.connect(self._tell)
        self.setWindowTitle(tr("What goes in?"))
        self.setMinimumWidth(520)
        column = QVBoxLayout(self)
        column.addWidget(head(tr("What goes into ‘{name}’?", name=workspace.insert.name)))
        self.sum = verdict(tip=tr("Pockets as their seats would have them, each with half the wall round it"))
        column.addWidget(self.sum)
        self.list = rows(tr("Proposals"), least_px=150)
        self.list.currentRowChanged.connect(lambda _: self._tell())
        column.addWidget(self.list)
        self.told = verdict()
        column.addWidget(self.told)
        row = QHBoxLayout()
        column.addLayout(row)
        self.take_button = QPushButton(tr("Take this"))
        self.take_button.setObjectName("main")
        self.take_button.clicked.connect(self.take)
        close = QPushButton(tr("Close"))
        close.clicked.connect(self.close)
        for button in (self.take_button, close):
            button.setAutoDefault(False)
            row.addWidget(button)
        workspace.document_changed.connect(self.look)
        self.look()

    @property
    def chosen(self) -> Proposal | None:
        """The proposal of the row that is chosen."""
        row = self.list.currentRow()
        return self._look.proposals[row] if self._look is not None and 0 <= row < len(self._look.proposals) else None

    def look(self) -> None:
        """Look at the kit as it is now."""
        if self._of is self._workspace.project:
            return
        insert_id = self._workspace.insert_id
        self.aside.run_long(
            lambda project, token: (project, first_look(project, insert_id, token=token)), self._take_look, tell=False
        )

    def _take_look(self, found: tuple[Project, FirstLook]) -> None:
        self._of, self._look = found
        self.list.blockSignals(True)
        self.list.clear()
        self.list.addItems([line_of(self._of, one) for one in self._look.proposals])
        self.list.setCurrentRow(0)
        self.list.blockSignals(False)

    def _tell(self) -> None:
        if not self.aside.is_busy and self._of is not self._workspace.project:
            self.look()  # it was changed while this looked at it
            return
        is_known = self._look is not None and self._of is self._workspace.project
        self.list.setEnabled(is_known)
        self.take_button.setEnabled(is_known and self.chosen is not None and self.chosen.may_be_taken)
        if not is_known or self._look is None or self._of is None:
            self.sum.setText(tr("Looking at the kit…"))
            self.told.setText("")
            return
        self.sum.setText(sum_words(self._look))
        one = self.chosen
        where = self._workspace.container.kind
        given = gives(self._of, one, where=where) if one is not None else tr("Nothing stands in the way: arrange it.")
        self.told.setText(given)
        grow(self)

    def take(self) -> None:
        """Do what is chosen, as a step of undo."""
        one = self.chosen
        if one is not None and one.may_be_taken and self._of is self._workspace.project:
            self._workspace.do(line_of(self._of, one), taken(self._workspace.project, one))

    def done(self, result: int) -> None:
        """Look no longer: the card goes."""
        self._workspace.document_changed.disconnect(self.look)
        self.aside.stop()
        super().done(result)
