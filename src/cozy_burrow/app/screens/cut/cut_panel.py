"""Cut: sheet by sheet and layer by layer, the cuts in order, and the papers for the bench."""

from __future__ import annotations

from PySide6.QtCore import QAbstractTableModel, QModelIndex, QPersistentModelIndex, Qt, Signal
from PySide6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QHeaderView,
    QLabel,
    QPushButton,
    QSlider,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from cozy_burrow.app.desk.following import FollowingPanel
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import head, panel, soft, verdict
from cozy_burrow.core.bench.cuts import Cut, SheetCuts, blade_settings, cutting_plan
from cozy_burrow.core.tongue import tr, within
from cozy_burrow.export.paper import CAUTIONS
from cozy_burrow.jobs.cut_words import BEFORE_PEELING, blade_text, cutting_text, marking_text
from cozy_burrow.jobs.templates import cut_name

_Index = QModelIndex | QPersistentModelIndex
_HEADS = (tr("No."), tr("What"), tr("Layers out"), tr("Blade"), tr("Length"))


class CutTable(QAbstractTableModel):
    """The cuts of one sheet in order."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._workspace = workspace
        self.cuts: tuple[Cut, ...] = ()

    def show_cuts(self, cuts: tuple[Cut, ...]) -> None:
        """Show the cuts of a sheet."""
        self.beginResetModel()
        self.cuts = cuts
        self.endResetModel()

    def rowCount(self, parent: _Index = QModelIndex()) -> int:  # noqa: B008
        """Number of cuts."""
        return 0 if parent.isValid() else len(self.cuts)

    def columnCount(self, parent: _Index = QModelIndex()) -> int:  # noqa: B008
        """Number of columns."""
        return 0 if parent.isValid() else len(_HEADS)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        """Heads of the columns."""
        if role == Qt.ItemDataRole.DisplayRole and orientation == Qt.Orientation.Horizontal:
            return _HEADS[section]
        return None

    def data(self, index: _Index, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        """One cell."""
        if not index.isValid() or index.row() >= len(self.cuts):
            return None
        cut = self.cuts[index.row()]
        if role == Qt.ItemDataRole.TextAlignmentRole and index.column() in {0, 3, 4}:
            return int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        if role != Qt.ItemDataRole.DisplayRole:
            return None
        length = self._workspace.length
        span = (
            tr("{first} to {last}", first=cut.from_layer, last=cut.to_layer)
            if cut.to_layer > cut.from_layer
            else f"{cut.to_layer}"
        )
        return (
            str(cut.number),
            cut_name(self._workspace.project, cut),
            span + (tr(" · right through") if cut.through else ""),
            blade_text(cut, self._workspace.unit),
            length(cut.length_mm, digits=0),
        )[index.column()]


class CutPanel(FollowingPanel):
    """Choose sheet and layer; export."""

    layer_shown = Signal(object)
    cuts_shown = Signal(object)
    export_wanted = Signal()
    print_wanted = Signal()

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        panel(self)
        self._ground: object = None
        layout = QVBoxLayout(self)
        layout.addWidget(head(tr("The sheet on the bench")))
        self.sheet = QComboBox()
        self.sheet.setAccessibleName(tr("Sheet"))
        self.sheet.currentIndexChanged.connect(lambda _: self._show_sheet())
        layout.addWidget(self.sheet)
        self._about = soft("")
        self._about.setToolTip(
            tr(
                "Metres: the length of every line, cut once. Blade: from this sheet's top down to a "
                "layer boundary, and from the ledge where a deeper line begins. {before_peeling}",
                before_peeling=BEFORE_PEELING,
            )
        )
        layout.addWidget(self._about)
        layout.addWidget(soft(tr("Peeled down to layer")))
        self.layer = QSlider(Qt.Orientation.Horizontal)
        self.layer.setAccessibleName(tr("Peeled down to layer"))
        self.layer.setPageStep(1)
        self.layer.valueChanged.connect(self.peel)
        layout.addWidget(self.layer)
        self._peeled = soft("")
        layout.addWidget(self._peeled)
        self.export_button = QPushButton(tr("Write templates and papers…"))
        self.export_button.setObjectName("main")
        self.export_button.clicked.connect(self.export_wanted)
        layout.addWidget(self.export_button)
        self.print_button = QPushButton(tr("Print papers…"))
        self.print_button.clicked.connect(self.print_wanted)
        layout.addWidget(self.print_button)
        layout.addWidget(soft(tr("1:1 templates, bench plan and labels as PDF; DXF, SVG, JSON and CSV beside them.")))
        layout.addWidget(soft(tr("How the chosen item is cut")))
        self.how = verdict(
            tip=tr(
                "By fit, marking, tip, kerf and lean at Measure, Rules. The pockets on template and "
                "drawing are true already: what is printed is cut on its line."
            )
        )
        layout.addWidget(self.how)
        layout.addStretch(1)
        caution = QLabel(tr("Before you cut\n") + "\n".join("• " + text for text in (CAUTIONS[0], CAUTIONS[3])))
        caution.setObjectName("verdict")
        caution.setWordWrap(True)
        layout.addWidget(caution)
        self.table = CutTable(workspace, self)
        self.view = QTableView()
        self.view.setModel(self.table)
        self.view.setAccessibleName(tr("Cuts in order"))
        self.view.verticalHeader().hide()
        self.view.setShowGrid(False)
        self.view.setAlternatingRowColors(True)
        self.view.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.view.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.view.setTabKeyNavigation(False)
        self.view.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        self.view.horizontalHeader().setSectionResizeMode(1, QHeaderView.ResizeMode.Stretch)
        self.view.selectionModel().currentRowChanged.connect(self._choose)

    def plans(self) -> tuple[SheetCuts, ...]:
        """Return the cutting plan."""
        return cutting_plan(self._workspace.ground)

    def follow(self) -> None:
        """Show the document as it is now."""
        self._tell_how()
        if self._ground is self._workspace.ground:
            return
        self._ground = self._workspace.ground
        chosen = max(0, self.sheet.currentIndex())
        self.sheet.blockSignals(True)
        self.sheet.clear()
        for plan, sheet in zip(self.plans(), self._workspace.insert.sheets):
            self.sheet.addItem(
                tr("Sheet {sheet}: {thickness}", sheet=plan.sheet, thickness=self._workspace.length(sheet.thickness_mm))
            )
        self.sheet.setCurrentIndex(min(chosen, self.sheet.count() - 1))
        self.sheet.blockSignals(False)
        self._show_sheet()

    def _tell_how(self) -> None:
        workspace = self._workspace
        rules = workspace.project.rules
        if len(workspace.selection) == 1:
            self.how.setText(cutting_text(workspace.ground, workspace.selection[0], workspace.unit))
        else:
            snug = marking_text(rules, workspace.unit, allowance_mm=-rules.snug_mm)
            self.how.setText(tr("Snug items: {snug}", snug=within(snug)))

    def _plan(self) -> SheetCuts:
        """Return the cuts of the chosen sheet, of the last one where it was taken away since its name was listed."""
        plans = self.plans()
        return plans[min(max(0, self.sheet.currentIndex()), len(plans) - 1)]

    def _show_sheet(self) -> None:
        plan = self._plan()
        length = self._workspace.length
        blades = ", ".join(f"{length(blade)} ({count})" for blade, count in blade_settings(plan)) or tr("none")
        self._about.setText(
            tr(
                "{layers} layers of {pitch}. {count} cuts, {metres:.1f} m, one pass each. Blade out to "
                "(cuts): {blades}.",
                layers=plan.layers,
                pitch=length(plan.pitch_mm),
                count=len(plan.cuts),
                metres=plan.metres,
                blades=blades,
            )
        )
        self.table.show_cuts(plan.cuts)
        self.cuts_shown.emit(plan.cuts)
        self.layer.setRange(0, plan.layers)
        self.layer.setValue(plan.layers)
        self.peel()

    def peel(self) -> None:
        """Tell the plan down to which layer it is peeled."""
        plan = self._plan()
        first = next(layer for layer in self._workspace.ground.layers if layer.sheet == plan.sheet)
        count = self.layer.value()
        self._peeled.setText(tr("{count} of {layers} layers of this sheet are peeled", count=count, layers=plan.layers))
        self.layer_shown.emit(first.number - 1 + count)

    def _choose(self, index: QModelIndex) -> None:
        if index.isValid() and index.row() < len(self.table.cuts):
            self._workspace.select(self.table.cuts[index.row()].owners)
