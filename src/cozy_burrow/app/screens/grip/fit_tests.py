"""Coupons and pull tests: print the one, enter which pocket was best; pull a thing with the luggage scale."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QComboBox, QDialog, QPushButton, QVBoxLayout, QWidget

from cozy_burrow.app.desk import ask
from cozy_burrow.app.desk.stores_desk import StoresDesk
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import Form, NumberField, head, soft, verdict
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.foam.fits import GRADES_MM, fit_for, fitted, foam_name, with_fit, with_pull_test
from cozy_burrow.core.ground.holding import Holding
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.model.vessels import FitTest, PullTest
from cozy_burrow.core.tongue import tr, trn
from cozy_burrow.core.units import format_fine
from cozy_burrow.devices.luggage_scale import LuggageScale, SimulatedScale
from cozy_burrow.jobs.fits import blade_name, calibration_of, write_coupon

_SIMULATED_SHARE = 0.8  # of the estimate: what the stand-in's foam truly holds


class FitTests(QDialog):
    """Kept for one foam and one way of cutting; `changed` tells of every result."""

    changed = Signal()

    def __init__(
        self, workspace: Workspace, stores: StoresDesk, item: Item, holding: Holding, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self._workspace, self._stores, self._item, self._holding = workspace, stores, item, holding
        self._foam = foam_name(workspace.insert.sheets[0])
        self._blade = blade_name(workspace.project.rules)
        # The estimate before any pull test: tests must not feed on what they taught.
        factor = calibration_of(stores.stores, workspace.insert.sheets[0], workspace.project.rules).factor
        self._bare_n = holding.hold.grip_n / factor
        self.scale: LuggageScale = SimulatedScale(
            self._bare_n * _SIMULATED_SHARE, seed=len(stores.stores.pull_tests) + 1
        )
        self.setWindowTitle(tr("Fit: coupon and pull test"))
        self.setMinimumWidth(420)
        layout = QVBoxLayout(self)
        layout.addWidget(head(tr("Tried in {foam}", foam=self._foam)))
        layout.addWidget(
            soft(
                tr(
                    "Cut as now: {blade}. Results are kept for this foam and this way of cutting.",
                    blade=tr(self._blade),
                )
            )
        )
        layout.addWidget(head(tr("Fit coupon")))
        layout.addWidget(
            soft(
                tr("Six pockets for ‘{name}’ from 2 mm smaller to 0.5 mm larger. Which one held best?", name=item.name)
            )
        )
        self.print_button = QPushButton(tr("Write the coupon to print…"))
        self.print_button.clicked.connect(self._ask_path)
        layout.addWidget(self.print_button)
        form = Form()
        self.best = QComboBox()
        self.best.setAccessibleName(tr("Best pocket of the coupon"))
        for grade in GRADES_MM:
            how = (
                tr("on the line")
                if grade == 0
                else f"{format_fine(abs(grade), workspace.unit)} {(tr('smaller') if grade < 0 else tr('larger'))}"
            )
            self.best.addItem(how, grade)
        known = fit_for(stores.stores, self._foam, self._blade)
        now = known.best_mm if known is not None else -workspace.project.rules.snug_mm
        self.best.setCurrentIndex(min(range(len(GRADES_MM)), key=lambda n: abs(GRADES_MM[n] - now)))
        form.addRow(tr("Best pocket"), self.best)
        layout.addLayout(form)
        self.take_button = QPushButton(tr("Take it as the snug fit"))
        self.take_button.clicked.connect(self.take_best)
        layout.addWidget(self.take_button)
        layout.addWidget(head(tr("Pull test")))
        layout.addWidget(
            soft(tr("Hook the luggage scale to the item in its pocket, pull straight out, read the highest figure."))
        )
        row = Form()
        self.force = NumberField(tr("Highest pull"), least=0.1, most=500.0, unit=" N")
        self.force.entered.connect(self.take_pull)
        row.addRow(tr("Highest pull, N"), self.force)
        layout.addLayout(row)
        self.scale_button = QPushButton(tr("Read the scale"))
        self.scale_button.setToolTip(tr("The stand-in shipped with the program: no scale is plugged in"))
        self.scale_button.clicked.connect(lambda: self.take_pull(self.scale.peak_n()))
        layout.addWidget(self.scale_button)
        self.says = verdict()
        layout.addWidget(self.says)
        self._tell()

    def _tell(self, trouble: str = "") -> None:
        stores, rules = self._stores.stores, self._workspace.project.rules
        calibration = calibration_of(stores, self._workspace.insert.sheets[0], rules)
        known = fit_for(stores, self._foam, self._blade)
        fit = tr("Snug is {snug} smaller all round", snug=self._workspace.length(rules.snug_mm)) + (
            tr(", by your coupon.") if known else tr(", by rule of thumb.")
        )
        pulls = (
            trn(
                "{count} pull test: foam holds {factor:.2f} times what was estimated, single ones ± {spread:.0f} %.",
                "{count} pull tests: foam holds {factor:.2f} times what was estimated, single ones ± {spread:.0f} %.",
                calibration.tests,
                factor=calibration.factor,
                spread=100 * calibration.spread,
            )
            if calibration.tests
            else tr("No pull test yet; ‘{name}’ is estimated at {bare:.0f} N.", name=self._item.name, bare=self._bare_n)
        )
        self.says.setText(trouble or f"{fit} {pulls}")
        self.says.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByKeyboard)

    def _ask_path(self) -> None:
        path = ask.target(self, tr("Write the fit coupon"), "fit-coupon.pdf", tr("PDF (*.pdf)"), ".pdf")
        if path is not None:
            self.write(path)

    def write(self, path: Path) -> None:
        """Write the coupon's page."""
        try:
            write_coupon(self._workspace.project, self._item, self._workspace.insert.sheets[0], path)
        except UnusableInput as error:
            self._tell(error.sentence())
            return
        self._workspace.said.emit(tr("Fit coupon written to {path}", path=path))

    def take_best(self) -> None:
        """Keep which pocket was best, and cut snug pockets like it from now on."""
        fit = FitTest(foam=self._foam, blade=tr(self._blade), best_mm=float(self.best.currentData()))
        try:
            project = fitted(self._workspace.project, fit)
        except UnusableInput as error:
            self._tell(error.sentence())
            return
        if self._stores.take(with_fit(self._stores.stores, fit)):
            self._workspace.do(tr("Take the coupon's best as snug"), project)
        self._tell()
        self.changed.emit()

    def take_pull(self, measured_n: float | None) -> None:
        """Keep what the scale read."""
        if measured_n is None:
            return
        test = PullTest(
            foam=self._foam,
            blade=tr(self._blade),
            thing=self._item.name,
            estimated_n=self._bare_n,
            measured_n=float(measured_n),
        )
        try:
            self._stores.take(with_pull_test(self._stores.stores, test))
        except UnusableInput as error:
            self._tell(error.sentence())
            return
        self.force.show_number(measured_n)
        self._tell()
        self.changed.emit()
