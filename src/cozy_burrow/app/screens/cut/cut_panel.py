"""Cut: sheet by sheet and layer by layer, the cuts in order, and the papers for the bench."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QModelIndex, Qt, Signal
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QPushButton,
    QSlider,
    QWidget,
)

from cozy_burrow.app.desk.bench_desk import BenchDesk
from cozy_burrow.app.desk.following import FollowingPanel
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import head, scrolled, soft, verdict
from cozy_burrow.app.look.long_words import Words
from cozy_burrow.app.screens.cut.cut_table import CutTable, CutView
from cozy_burrow.core.bench.cut import SheetCuts
from cozy_burrow.core.bench.cuts import blade_settings, cutting_plan
from cozy_burrow.core.bench.ordering import as_advised, cut_moved, is_own
from cozy_burrow.core.bench.work import SheetBench, bench_work
from cozy_burrow.core.tongue import tr, within
from cozy_burrow.export.paper import CAUTIONS
from cozy_burrow.jobs.bench_words import (
    FROM_WHAT,
    breaks_text,
    took_text,
)
from cozy_burrow.jobs.cut_words import BEFORE_PEELING, cutting_text, marking_text


class CutPanel(FollowingPanel):
    """Choose sheet and layer; export."""

    layer_shown = Signal(object)
    cuts_shown = Signal(object)
    export_wanted = Signal()
    print_wanted = Signal()
    bench_wanted = Signal()
    tools_wanted = Signal()
    price_wanted = Signal()

    def __init__(self, workspace: Workspace, bench: BenchDesk, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        self._desk = bench
        bench.changed.connect(self._show_sheet)
        self._ground: object = None
        layout, _ = scrolled(self)
        layout.addWidget(head(tr("The sheet on the bench")))
        self.sheet = QComboBox()
        self.sheet.setAccessibleName(tr("Sheet"))
        self.sheet.currentIndexChanged.connect(lambda _: self._show_sheet())
        layout.addWidget(self.sheet)
        self._about = soft("")
        self._about.setToolTip(
            tr(
                "Metres: the length of every line, once round. Blade: from this sheet's top down to a "
                "layer boundary, and from the ledge where a deeper line begins. {before_peeling}",
                before_peeling=BEFORE_PEELING,
            )
        )
        layout.addWidget(self._about)
        self._times = soft("")
        self._times.setToolTip(FROM_WHAT)
        layout.addWidget(self._times)
        layout.addWidget(soft(tr("Peeled down to layer")))
        self.layer = QSlider(Qt.Orientation.Horizontal)
        self.layer.setAccessibleName(tr("Peeled down to layer"))
        self.layer.setPageStep(1)
        self.layer.valueChanged.connect(self.peel)
        layout.addWidget(self.layer)
        self._peeled = soft("")
        layout.addWidget(self._peeled)
        self.bench_button = QPushButton(tr("Bench mode"))
        self.bench_button.setToolTip(tr("One cut at a time, full screen: Ctrl+B"))
        self.bench_button.setObjectName("main")
        self.bench_button.clicked.connect(self.bench_wanted)
        layout.addWidget(self.bench_button)
        self.export_button = QPushButton(tr("Write templates and papers…"))
        self.export_button.clicked.connect(self.export_wanted)
        layout.addWidget(self.export_button)
        self.print_button = QPushButton(tr("Print papers…"))
        self.print_button.clicked.connect(self.print_wanted)
        layout.addWidget(self.print_button)
        self.advised_button = QPushButton(tr("Back to the suggested order"))
        self.advised_button.clicked.connect(self.advise_order)
        layout.addWidget(self.advised_button)
        row = QHBoxLayout()
        layout.addLayout(row)
        self.tools_button = QPushButton(tr("My tools…"))
        self.tools_button.setToolTip(tr("What you own besides a knife decides how lines are cut"))
        self.tools_button.clicked.connect(self.tools_wanted)
        row.addWidget(self.tools_button)
        self.price_button = QPushButton(tr("Price…"))
        self.price_button.setToolTip(tr("For those who are paid for it: foam, blades and hours of the whole job"))
        self.price_button.clicked.connect(self.price_wanted)
        row.addWidget(self.price_button)
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
        caution = Words(tr("Before you cut\n") + "\n".join("• " + text for text in (CAUTIONS[0], CAUTIONS[3])))
        caution.setObjectName("verdict")
        layout.addWidget(caution)
        self.table = CutTable(workspace, self)
        self.table.moved.connect(self.move_to)
        self.view = CutView(self.table)
        self.view.selectionModel().currentRowChanged.connect(self._choose)
        for keys, by in (("Alt+Up", -1), ("Alt+Down", 1)):
            shortcut = QShortcut(QKeySequence(keys), self.view)
            shortcut.setContext(Qt.ShortcutContext.WidgetShortcut)
            shortcut.activated.connect(partial(self.move_cut, by))

    def plans(self) -> tuple[SheetCuts, ...]:
        """Return the cutting plan."""
        return cutting_plan(self._workspace.ground)

    def follow(self) -> None:
        """Show the document as it is now."""
        self._tell_how()
        if self._ground is self._workspace.ground:
            self.table.retell()  # names and units are no part of it
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
            self.how.setText(
                cutting_text(workspace.ground, workspace.selection[0], workspace.unit, saws_mm=self._desk.tools.saws_mm)
            )
        else:
            snug = marking_text(rules, workspace.unit, allowance_mm=-rules.snug_mm)
            self.how.setText(tr("Snug items: {snug}", snug=within(snug)))

    def _plan(self) -> SheetCuts:
        """Return the cuts of the chosen sheet, of the last one where it was taken away since its name was listed."""
        plans = self.plans()
        return plans[min(max(0, self.sheet.currentIndex()), len(plans) - 1)]

    @property
    def sheet_number(self) -> int:
        """Which sheet is shown, 1 the top one."""
        return self._plan().sheet

    def _bench(self) -> SheetBench:
        """Return how the chosen sheet is cut."""
        return bench_work(self._workspace.ground, self._desk.tools)[self._plan().sheet - 1]

    def _tell_times(self) -> None:
        works = [sheet.work for sheet in bench_work(self._workspace.ground, self._desk.tools) if sheet.cuts]
        here = self._bench()
        self.bench_button.setEnabled(bool(here.cuts))
        forecast = self._desk.forecast
        if not here.cuts:
            self._times.setText(tr("Nothing is cut from this sheet."))
            return
        said = [tr("This sheet: {took}.", took=took_text(forecast, [here.work]))]
        if len(works) > 1:
            said.append(tr("The insert: {took}.", took=took_text(forecast, works)))
        if self._desk.trouble:
            said.append(tr("Your log is not counted: {why}", why=self._desk.trouble))
        self._times.setText("\n".join(said))

    def _show_sheet(self) -> None:
        plan = self._plan()
        length = self._workspace.length
        blades = ", ".join(f"{length(blade)} ({count})" for blade, count in blade_settings(plan)) or tr("none")
        self._about.setText(
            tr(
                "{layers} layers of {pitch}. {count} cuts, {metres:.1f} m once round. Blade out to (cuts): {blades}.",
                layers=plan.layers,
                pitch=length(plan.pitch_mm),
                count=len(plan.cuts),
                metres=plan.metres,
                blades=blades,
            )
        )
        self.advised_button.setVisible(is_own(self._workspace.project, self._workspace.insert_id))
        self.table.show_cuts(self._bench().cuts)
        self.view.fit_columns()
        self._tell_times()
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

    def move_cut(self, by: int) -> None:
        """Take the cut that is chosen earlier or later."""
        row = self.view.currentIndex().row()
        self.move_to(row, row + by)

    def move_to(self, row: int, to: int) -> None:
        """Take the cut of a row to another row, a step of undo; what that breaks is said."""
        workspace, count = self._workspace, len(self.table.cuts)
        if not (0 <= row < count and 0 <= to < count) or row == to:
            return
        cut = self.table.cuts[row].cut
        taken = workspace.attempt(
            tr("Cut it earlier") if to < row else tr("Cut it later"),
            lambda: cut_moved(workspace.project, workspace.insert_id, cut.key, cut.number + to - row),
        )
        if taken:
            self.follow()
            self.view.selectRow(to)
            broken = breaks_text(self.table.cuts[to].cut)
            if broken:
                workspace.said.emit(tr("Cut {number}: {broken}", number=to + 1, broken=broken))

    def advise_order(self) -> None:
        """Put all cuts back into the order that is advised."""
        workspace = self._workspace
        workspace.attempt(tr("Restore the suggested order"), lambda: as_advised(workspace.project, workspace.insert_id))

    def _choose(self, index: QModelIndex) -> None:
        if index.isValid() and index.row() < len(self.table.cuts):
            self._workspace.select(self.table.cuts[index.row()].cut.owners)
