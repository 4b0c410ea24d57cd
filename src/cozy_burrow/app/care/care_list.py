"""The care list: findings in order of weight; the chosen one says its figure, its reason and its mends."""

from __future__ import annotations

from PySide6.QtCore import (
    QAbstractListModel,
    QModelIndex,
    QPersistentModelIndex,
    QPointF,
    QRect,
    QRectF,
    QSize,
    Qt,
    Signal,
)
from PySide6.QtGui import QFontMetrics, QPainter, QPen, QPolygonF
from PySide6.QtWidgets import (
    QLabel,
    QListView,
    QPushButton,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from cozy_burrow.app.care.mending import Mending
from cozy_burrow.app.fields import head, panel, soft
from cozy_burrow.app.painting import guarded, saved
from cozy_burrow.app.theme.theme import Theme, type_font
from cozy_burrow.app.workspace import Workspace
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.jobs.wording import SEVERITY, TITLES, WHY, finding_text, mend_text, named, subject_name

_Index = QModelIndex | QPersistentModelIndex
FINDING = Qt.ItemDataRole.UserRole


class CareModel(QAbstractListModel):
    """The findings of the workspace; rows that stay keep their place, so the chosen one stays chosen.

    While something is dragged the list follows a few times a second, the plan at every step.
    """

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._workspace = workspace
        self._rows: tuple[Finding, ...] = workspace.findings_seen
        workspace.judged.connect(self._follow)

    def rowCount(self, parent: _Index = QModelIndex()) -> int:  # noqa: B008
        """Number of findings."""
        return 0 if parent.isValid() else len(self._rows)

    def data(self, index: _Index, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        """Text, tooltip and the finding itself."""
        if not index.isValid() or index.row() >= len(self._rows):
            return None
        finding = self._rows[index.row()]
        if role == FINDING:
            return finding
        if role in {Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole}:
            text = finding_text(self._workspace.project, finding)
            return f"{SEVERITY[finding.severity]}: {TITLES[finding.code]}. {text}"
        if role == Qt.ItemDataRole.ToolTipRole:
            return WHY[finding.code]
        return None

    def _follow(self) -> None:
        new = self._workspace.findings_seen
        if new == self._rows:
            return
        if len(new) == len(self._rows):
            old, self._rows = self._rows, new
            for row, (before, now) in enumerate(zip(old, new)):
                if before != now:  # the rest need not be painted anew at every step of a drag
                    self.dataChanged.emit(self.index(row), self.index(row))
            return
        self.beginResetModel()
        self._rows = new
        self.endResetModel()


class _Delegate(QStyledItemDelegate):
    def __init__(self, workspace: Workspace, theme: Theme, scale: float, parent: QWidget) -> None:
        super().__init__(parent)
        self._workspace, self.theme, self._scale = workspace, theme, scale

    def sizeHint(self, option: QStyleOptionViewItem, index: _Index) -> QSize:
        return QSize(100, round(62 * self._scale))

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: _Index) -> None:
        with guarded(painter, option.rect):
            self._paint(painter, option, index)

    def _paint(self, painter: QPainter, option: QStyleOptionViewItem, index: _Index) -> None:
        finding: Finding = index.data(FINDING)
        rect: QRect = option.rect
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        theme, colour = self.theme, self.theme.severity(finding.severity)
        with saved(painter):
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            card = QRectF(rect).adjusted(3, 3, -3, -2)
            soft_role = {"stop": "stop_soft", "care": "care_soft"}.get(finding.severity, "panel")
            painter.setBrush(theme.colour(soft_role))
            painter.setPen(QPen(theme.colour("accent") if chosen else colour, 2.4 if chosen else 1))
            painter.drawRoundedRect(card, 6, 6)
            paint_mark(painter, finding.severity, QPointF(card.left() + 15, card.top() + 16 * self._scale), colour)
            painter.setPen(theme.colour("ink"))
            painter.setFont(type_font("figure", self._scale))
            line = round(19 * self._scale)
            title = QRectF(card.left() + 28, card.top() + 6, card.width() - 34, line)
            painter.drawText(title, Qt.AlignmentFlag.AlignVCenter, TITLES[finding.code])
            figure = _short_figure(self._workspace, finding)
            if figure:
                painter.setPen(colour)
                painter.drawText(title, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, figure)
            painter.setPen(theme.colour("ink"))
            painter.setFont(type_font("small", self._scale))
            who = named(self._workspace.project, finding.placements) or subject_name(self._workspace.project, finding)
            metrics = QFontMetrics(painter.font())
            second = QRectF(card.left() + 28, title.bottom() + 2, card.width() - 34, line)
            text = metrics.elidedText(who, Qt.TextElideMode.ElideRight, round(second.width()))
            painter.drawText(second, Qt.AlignmentFlag.AlignVCenter, text)


def paint_mark(painter: QPainter, severity: str, at: QPointF, colour: object) -> None:
    """Paint the sign of a weight: a triangle for a stop, a diamond for care, a dot for a note."""
    corners = {
        "stop": [QPointF(0, -7), QPointF(7.5, 6), QPointF(-7.5, 6)],
        "care": [QPointF(0, -7), QPointF(7, 0), QPointF(0, 7), QPointF(-7, 0)],
    }.get(severity)
    with saved(painter):
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour)
        if corners is None:
            painter.drawEllipse(at, 5, 5)
        else:
            painter.drawPolygon(QPolygonF([at + corner for corner in corners]))


def _short_figure(workspace: Workspace, finding: Finding) -> str:
    if finding.code == "GRIP_POOR":
        return ""  # its sentence says which figure is meant
    if finding.unit == "mm" and finding.code not in {"PULL_ASTRAY", "POCKETS_MEET"}:
        sign = "›" if finding.code in {"TOO_HIGH", "STACK_TOO_HIGH", "HELD_UP"} else "‹"
        return f"{workspace.length(finding.value)} {sign} {workspace.length(finding.limit)}"
    if finding.unit == "°":
        return f"{finding.value:.1f}° › {finding.limit:.0f}°"
    if finding.code == "ROCKS":
        return f"{finding.value:.0f} % ‹ {finding.limit:.0f} %"
    if finding.unit in {"kg", "%", "N"}:
        return f"{finding.value:.0f} {finding.unit} › {finding.limit:.0f}"
    return f"{finding.value:.0f} {finding.unit}" if finding.unit == "mm²" else ""


class CareList(QWidget):
    """The list, and below it what the chosen finding means and what can be done."""

    chosen = Signal(object)

    def __init__(self, workspace: Workspace, theme: Theme, scale: float, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        panel(self)
        self._workspace = workspace
        self.mending = Mending(workspace, self)
        self.mending.changed.connect(self._show_mending)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 8, 8, 8)
        self._head = head("")
        layout.addWidget(self._head)
        self._troubles = QLabel()
        self._troubles.setObjectName("refused")
        self._troubles.setWordWrap(True)
        self._troubles.setAccessibleName("Figures that were not taken")
        layout.addWidget(self._troubles)
        workspace.troubles_changed.connect(self._show_troubles)
        self.view = QListView()
        self.view.setAccessibleName("Care list")
        self.view.setVerticalScrollMode(QListView.ScrollMode.ScrollPerPixel)
        self.view.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.model = CareModel(workspace, self)
        self.view.setModel(self.model)
        self._delegate = _Delegate(workspace, theme, scale, self)
        self.view.setItemDelegate(self._delegate)
        layout.addWidget(self.view, 1)
        self._empty = soft("")
        layout.addWidget(self._empty)
        self._text = QLabel()
        self._text.setObjectName("verdict")
        self._text.setWordWrap(True)
        layout.addWidget(self._text)
        self._buttons = QVBoxLayout()
        layout.addLayout(self._buttons)
        self._rest = QWidget()  # takes the room when there is no list
        layout.addWidget(self._rest, 1)
        self.view.selectionModel().currentChanged.connect(lambda *_: self._show_current())
        self._seen: tuple[object, ...] = ()
        self._title = ""
        workspace.document_changed.connect(self._show_all)
        workspace.judged.connect(self._show_all)
        self._show_all()
        self._show_troubles()

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self._delegate.theme = theme
        self.view.viewport().update()

    def current(self) -> Finding | None:
        """Return the finding that is chosen."""
        found: Finding | None = self.view.currentIndex().data(FINDING)
        return found

    def choose(self, row: int) -> None:
        """Choose a finding by its row."""
        if row < self.model.rowCount():
            self.view.setCurrentIndex(self.model.index(row))

    def mend_current(self) -> bool:
        """Begin to carry out the first mend of the chosen finding that can be; False where none is offered."""
        finding = self.current()
        return finding is not None and self.mending.take(finding, finding.mends)

    def _show_all(self) -> None:
        findings, judged = self._workspace.findings_seen, self._workspace.is_judged
        if self._workspace.is_in_gesture and not judged:
            return
        seen = (findings, judged, self._workspace.unit, bool(self._workspace.insert.placements))
        if seen == self._seen:
            return
        self._seen = seen
        counts = [(word, sum(1 for one in findings if one.severity == kind)) for kind, word in SEVERITY.items()]
        said = ", ".join(f"{count} {word.lower()}" for word, count in counts if count)
        head = f"To mend: {said}" if said else "Nothing to mend"
        self._title = head if judged else "Checking…"
        self._head.setText("Working it out…" if self.mending.is_busy else self._title)
        laid = bool(self._workspace.insert.placements)
        self._empty.setText("" if findings else ("Every wall, edge, floor and grip holds." if laid else ""))
        self._empty.setVisible(not findings and judged)
        self.view.setVisible(bool(findings))
        self._rest.setVisible(not findings)
        self._show_current()

    def _show_troubles(self) -> None:
        sentences = [f"▲ Not taken: {sentence}" for sentence in self._workspace.troubles.values()]
        self._troubles.setText("\n".join(sentences))
        self._troubles.setVisible(bool(sentences))

    def _show_current(self) -> None:
        while self._buttons.count():
            item = self._buttons.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.deleteLater()
        finding = self.current()
        self._text.setVisible(finding is not None)
        self.chosen.emit(finding)
        if finding is None:
            return
        project = self._workspace.project
        self._text.setText(f"{finding_text(project, finding)}\n{WHY[finding.code]}")
        for mend in finding.mends:
            text = mend_text(project, mend)
            button = QPushButton(text)
            button.clicked.connect(lambda _=False, mend=mend: self.mending.take(finding, (mend,)))
            self._buttons.addWidget(button)
        self._show_mending()

    def _show_mending(self) -> None:
        """While a mend is worked out, no other can be asked for; the head says so."""
        busy = self.mending.is_busy
        for index in range(self._buttons.count()):
            item = self._buttons.itemAt(index)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.setEnabled(not busy)
        self._head.setText("Working it out…" if busy else self._title)
