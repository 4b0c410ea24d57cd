"""The rows of the list of checks: findings in order of weight; many with one complaint are one row that opens."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QAbstractListModel, QModelIndex, QPersistentModelIndex, Qt
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.findings.telling import finding_text, kind_of
from cozy_burrow.core.model.records import Record
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.wording import SEVERITY

_Index = QModelIndex | QPersistentModelIndex
FINDING, BUNDLE, INSIDE = (Qt.ItemDataRole.UserRole + n for n in range(3))
MOST_ALONE = 2  # findings of one kind that have a row each


class Bundle(Record, frozen=True, kw_only=True):
    """Findings of one kind and weight as one row, open or not."""

    findings: tuple[Finding, ...]
    is_open: bool

    @property
    def first(self) -> Finding:
        """The weightiest of them."""
        return self.findings[0]


Row = Finding | Bundle


def rows_of(findings: Sequence[Finding], opened: frozenset[str]) -> tuple[Row, ...]:
    """Return the rows for findings in order of weight; those of an opened bundle follow it."""
    alike: dict[tuple[str, str], list[Finding]] = {}
    for finding in findings:
        alike.setdefault((finding.severity, finding.code), []).append(finding)
    rows: list[Row] = []
    for finding in findings:
        bundle = alike[finding.severity, finding.code]
        if len(bundle) <= MOST_ALONE:
            rows.append(finding)
        elif bundle[0] is finding:
            is_open = finding.code in opened
            rows.append(Bundle(findings=tuple(bundle), is_open=is_open))
            rows += bundle if is_open else []
    return tuple(rows)


class CheckModel(QAbstractListModel):
    """The findings of the workspace; rows that stay keep their place, so the chosen one stays chosen.

    While something is dragged the list follows a few times a second, the plan at every step.
    """

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._workspace = workspace
        self._opened: frozenset[str] = frozenset()
        self.findings: tuple[Finding, ...] = workspace.findings_seen
        self._rows: tuple[Row, ...] = rows_of(self.findings, self._opened)
        workspace.judged.connect(self._follow)

    def rowCount(self, parent: _Index = QModelIndex()) -> int:  # noqa: B008
        """Number of rows."""
        return 0 if parent.isValid() else len(self._rows)

    def data(self, index: _Index, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        """Text, tooltip and the finding itself, or the bundle with its first."""
        if not index.isValid() or index.row() >= len(self._rows):
            return None
        row = self._rows[index.row()]
        finding = row.first if isinstance(row, Bundle) else row
        if role == FINDING:
            return finding
        if role == BUNDLE:
            return row if isinstance(row, Bundle) else None
        if role == INSIDE:
            return not isinstance(row, Bundle) and finding.code in self._opened
        if role in {Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole}:
            head = f"{SEVERITY[finding.severity]}: {kind_of(finding).title}"
            if isinstance(row, Bundle):
                return tr(
                    "{head}, {count} times. {how}",
                    head=head,
                    count=len(row.findings),
                    how=tr("Open") if row.is_open else tr("Enter opens it"),
                )
            return f"{head}. {finding_text(self._workspace.project, finding)}"
        if role == Qt.ItemDataRole.ToolTipRole:
            return kind_of(finding).why
        return None

    def row_of(self, finding: Finding) -> int:
        """Return the row of a finding, its bundle opened where it lies in one; -1 where it is not there."""
        if any(isinstance(row, Bundle) and not row.is_open and finding in row.findings for row in self._rows):
            self.turn(finding.code)
        return next((n for n, row in enumerate(self._rows) if row == finding), -1)

    def turn(self, code: str) -> None:
        """Open the bundle of a kind, or close it."""
        self._opened ^= {code}
        self._show(rows_of(self.findings, self._opened))

    def _follow(self) -> None:
        new = self._workspace.findings_seen
        if new == self.findings:
            return
        self.findings = new
        counts = {one.code for one in new}
        self._opened &= counts  # closed again once none is left
        self._show(rows_of(new, self._opened))

    def _show(self, new: tuple[Row, ...]) -> None:
        if len(new) == len(self._rows):
            old, self._rows = self._rows, new
            for row, (before, now) in enumerate(zip(old, new)):
                if before != now:  # the rest need not be painted anew at every step of a drag
                    self.dataChanged.emit(self.index(row), self.index(row))
            return
        self.beginResetModel()
        self._rows = new
        self.endResetModel()
