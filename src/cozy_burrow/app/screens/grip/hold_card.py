"""Does it stay? How hard the foam holds the chosen thing, its fit, and what coupons and pull tests say."""

from __future__ import annotations

from msgspec.structs import replace
from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from cozy_burrow.app.desk.stores_desk import StoresDesk
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import soft, verdict
from cozy_burrow.core.depth.hold import Calibration
from cozy_burrow.core.depth.pocket import allowance_for
from cozy_burrow.core.ground.holding import Holding, holding_of
from cozy_burrow.core.model.edits import change_item, item_of
from cozy_burrow.core.model.records import Fit, Item
from cozy_burrow.core.tongue import tr, within
from cozy_burrow.jobs.fits import calibration_of
from cozy_burrow.jobs.grip_words import hold_text, hold_why

FIT_NAMES: dict[Fit, str] = {"snug": tr("Snug"), "line": tr("On the line"), "easy": tr("Easy")}


class HoldCard(QWidget):
    """Follows the one thing that is chosen; its panel tells it when."""

    def __init__(self, workspace: Workspace, stores: StoresDesk, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._workspace, self._stores = workspace, stores
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(soft(tr("Does it stay?")))
        self.verdict = verdict()
        layout.addWidget(self.verdict)
        row = QHBoxLayout()
        row.setSpacing(4)
        self._group = QButtonGroup(self)
        self.fit_buttons: dict[Fit, QPushButton] = {}
        for fit, name in FIT_NAMES.items():
            button = QPushButton(name)
            button.setCheckable(True)
            button.setAccessibleName(tr("Fit: {name}", name=within(name)))
            button.clicked.connect(lambda _=False, fit=fit: self._set_fit(fit))
            self._group.addButton(button)
            self.fit_buttons[fit] = button
            row.addWidget(button)
        layout.addLayout(row)
        self.test_button = QPushButton(tr("Try it: coupon and pull test…"))
        self.test_button.clicked.connect(self.try_it)
        layout.addWidget(self.test_button)

    def calibration(self) -> Calibration:
        """Return what pull tests in this foam say."""
        workspace = self._workspace
        return calibration_of(self._stores.stores, workspace.insert.sheets[0], workspace.project.rules)

    def holding(self) -> Holding | None:
        """Return how the one chosen thing holds."""
        workspace = self._workspace
        if len(workspace.selection) != 1:
            return None
        return holding_of(workspace.ground, workspace.selection[0], self.calibration())

    @property
    def item(self) -> Item | None:
        """The chosen thing."""
        chosen = self._workspace.selection
        return item_of(self._workspace.project, chosen[0].rpartition("#")[0]) if len(chosen) == 1 else None

    def follow(self) -> None:
        """Show the document as it is now."""
        holding, item = self.holding(), self.item
        self.setVisible(holding is not None)
        if holding is None or item is None:
            return
        self.verdict.setText(hold_text(holding))
        self.verdict.setToolTip(hold_why(holding, self.calibration(), self._workspace.unit))
        allowance = allowance_for(item, self._workspace.project.rules)
        fit: Fit = "snug" if allowance < -0.05 else ("easy" if allowance > 0.05 else "line")
        self._group.setExclusive(False)
        for name, button in self.fit_buttons.items():
            button.setChecked(name == fit)
            length = self._workspace.length(abs(allowance))
            button.setToolTip(
                tr("Its pocket is {length} smaller all round now", length=length)
                if allowance < 0
                else tr("Its pocket is {length} larger all round now", length=length)
            )
        self._group.setExclusive(True)

    def _set_fit(self, fit: Fit) -> None:
        item = self.item
        if item is not None:
            project = change_item(self._workspace.project, replace(item, fit=fit))
            self._workspace.do(
                tr("Fit ‘{name}’ {fit_names}", name=item.name, fit_names=within(FIT_NAMES[fit])), project
            )
        self.follow()

    def try_it(self) -> None:
        """Open the page of coupons and pull tests."""
        from cozy_burrow.app.screens.grip.fit_tests import FitTests

        item, holding = self.item, self.holding()
        if item is not None and holding is not None:
            self.tests = FitTests(self._workspace, self._stores, item, holding, self)
            self.tests.changed.connect(self.follow)
            self.tests.show()
