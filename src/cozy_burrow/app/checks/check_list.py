"""The list of checks as it is seen; the chosen finding says its figure, its reason and its mends."""

from __future__ import annotations

from PySide6.QtCore import QModelIndex, QPersistentModelIndex, QPointF, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFontMetrics, QPainter, QPen, QPolygonF
from PySide6.QtWidgets import (
    QListView,
    QPushButton,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from cozy_burrow.app.checks.check_model import BUNDLE, FINDING, INSIDE, Bundle, CheckModel
from cozy_burrow.app.checks.mending import Mending
from cozy_burrow.app.checks.sketch import Sketch
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import head, panel, soft
from cozy_burrow.app.look.long_words import Words
from cozy_burrow.app.look.painting import guarded, saved
from cozy_burrow.app.look.theme.theme import Theme, type_font
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.findings.kinds import subject_name
from cozy_burrow.core.findings.telling import brief, finding_text, kind_of
from cozy_burrow.core.model.names import named
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.wording import SEVERITY, counted, mend_text

_Index = QModelIndex | QPersistentModelIndex


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
        bundle: Bundle | None = index.data(BUNDLE)
        rect: QRect = option.rect
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        theme, colour = self.theme, self.theme.severity(finding.severity)
        with saved(painter):
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            card = QRectF(rect).adjusted(3 + (14 * self._scale if index.data(INSIDE) else 0), 3, -3, -2)
            soft_role = {"stop": "stop_soft", "care": "care_soft"}.get(finding.severity, "panel")
            painter.setBrush(theme.colour(soft_role))
            painter.setPen(QPen(theme.colour("accent") if chosen else colour, 2.4 if chosen else 1))
            painter.drawRoundedRect(card, 6, 6)
            paint_mark(painter, finding.severity, QPointF(card.left() + 15, card.top() + 16 * self._scale), colour)
            painter.setPen(theme.colour("ink"))
            painter.setFont(type_font("figure", self._scale))
            line = round(19 * self._scale)
            room = QRectF(card.left() + 28, card.top() + 6, card.width() - 34, line)
            if bundle is not None:
                self._words(
                    painter, room, kind_of(finding).title, f"{len(bundle.findings)} {'▴' if bundle.is_open else '▾'}"
                )
                figure, who = "", self._who(bundle)
            else:
                figure = brief(self._workspace.project, finding)
                who = named(self._workspace.project, finding.placements)
                who = who or subject_name(self._workspace.project, finding)
                wide = QFontMetrics(painter.font()).horizontalAdvance(f"{kind_of(finding).title}  {figure}")
                beside = figure if wide <= room.width() else ""
                self._words(painter, room, kind_of(finding).title, beside, colour)
                figure = "" if beside else figure
            painter.setFont(type_font("small", self._scale))
            self._words(painter, room.translated(0, line + 2), who, figure, colour)

    def _words(self, painter: QPainter, room: QRectF, text: str, figure: str, colour: QColor | None = None) -> None:
        """Paint a text, cut short before the figure at its right end: figures never cover words."""
        metrics = QFontMetrics(painter.font())
        painter.setPen(colour if colour is not None else self.theme.colour("ink"))
        painter.drawText(room, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, figure)
        left = room.width() - (metrics.horizontalAdvance(f"{figure}  ") if figure else 0)
        painter.setPen(self.theme.colour("ink"))
        shown = metrics.elidedText(text, Qt.TextElideMode.ElideRight, round(left))
        painter.drawText(room, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, shown)

    def _who(self, bundle: Bundle) -> str:
        """Return whom the first of a bundle are about."""
        project = self._workspace.project
        found = [named(project, one.placements) or subject_name(project, one) for one in bundle.findings[:3]]
        return ", ".join(dict.fromkeys(filter(None, found)))


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


class CheckList(QWidget):
    """The list, and below it what the chosen finding means and what can be done."""

    chosen = Signal(object)
    asked = Signal(str)  # for more about a check, by its code
    headed = Signal(str, str)  # for its rail: marks with counts, and the same in words

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
        self._troubles = Words()
        self._troubles.setObjectName("refused")
        self._troubles.setAccessibleName(tr("Figures that were not taken"))
        layout.addWidget(self._troubles)
        workspace.troubles_changed.connect(self._show_troubles)
        self.view = QListView()
        self.view.setAccessibleName(tr("Checks"))
        self.view.setVerticalScrollMode(QListView.ScrollMode.ScrollPerPixel)
        self.view.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.model = CheckModel(workspace, self)
        self.view.setModel(self.model)
        self._delegate = _Delegate(workspace, theme, scale, self)
        self.view.setItemDelegate(self._delegate)
        layout.addWidget(self.view, 1)
        self._empty = soft("")
        layout.addWidget(self._empty)
        self.sketch = Sketch(theme, scale)
        layout.addWidget(self.sketch)
        self._text = Words()
        self._text.setObjectName("verdict")
        layout.addWidget(self._text)
        self._buttons = QVBoxLayout()
        layout.addLayout(self._buttons)
        self._rest = QWidget()  # takes the room when there is no list
        layout.addWidget(self._rest, 1)
        self.view.clicked.connect(self._turn)
        self.view.activated.connect(self._turn)
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
        self.sketch.set_theme(theme)
        self.view.viewport().update()

    def current(self) -> Finding | None:
        """Return the finding that is chosen; of a bundle the first."""
        found: Finding | None = self.view.currentIndex().data(FINDING)
        return found

    @property
    def position(self) -> int:
        """Which of all findings is chosen, -1 for none."""
        current = self.current()
        return next((n for n, one in enumerate(self.model.findings) if one == current), -1)

    def choose(self, number: int) -> None:
        """Choose one of all findings; a bundle that it lies in opens."""
        if number < len(self.model.findings):
            row = self.model.row_of(self.model.findings[number])
            self.view.setCurrentIndex(self.model.index(row))

    def _turn(self, index: QModelIndex) -> None:
        bundle: Bundle | None = index.data(BUNDLE)
        if bundle is not None:
            self.model.turn(bundle.first.code)
            self.view.setCurrentIndex(self.model.index(index.row()))

    def mend_current(self) -> bool:
        """Begin to carry out the first mend of the chosen finding that can be; False where none is offered."""
        finding = self.current()
        return finding is not None and self.mending.take(finding, finding.mends)

    def _show_all(self) -> None:
        findings, judged = self._workspace.findings_seen, self._workspace.is_judged
        judged = judged or self._workspace.is_in_gesture  # in a drag they follow a little later, and nothing flickers
        seen = (findings, judged, self._workspace.unit, bool(self._workspace.insert.placements))
        if seen == self._seen:
            return
        self._seen = seen
        counts = [(kind, sum(1 for one in findings if one.severity == kind)) for kind in SEVERITY]
        said = ", ".join(counted(kind, count) for kind, count in counts if count)
        head = (said[0].upper() + said[1:]) if said else tr("All checks passed")
        self._title = head if judged else tr("Checking…")
        self._head.setText(tr("Working it out…") if self.mending.is_busy else self._title)
        marks = {"stop": "▲", "care": "◆", "note": "●"}
        rail = [f"{marks[kind]} {count}" for kind, count in counts if count]
        self.headed.emit(
            "\n".join(rail) or ("✓" if judged else "…"), tr("{title}. Opens the list over the scene", title=self._title)
        )
        laid = bool(self._workspace.insert.placements)
        self._empty.setText("" if findings else (tr("Every wall, edge, floor and grip holds.") if laid else ""))
        self._empty.setVisible(not findings and judged)
        self.view.setVisible(bool(findings))
        self._rest.setVisible(not findings)
        self._show_current()

    @property
    def title(self) -> str:
        """How many there are of each weight, in words; empty while they are worked out."""
        return self._title if self._workspace.is_judged else ""

    def _show_troubles(self) -> None:
        sentences = [tr("▲ Not taken: {sentence}", sentence=sentence) for sentence in self._workspace.troubles.values()]
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
        self.sketch.show_code(finding.code if finding is not None else None)
        self.chosen.emit(finding)
        if finding is None:
            return
        project = self._workspace.project
        bundle: Bundle | None = self.view.currentIndex().data(BUNDLE)
        if bundle is not None:
            self._text.setText(
                tr(
                    "{count} times: {title}.\n{why}",
                    count=len(bundle.findings),
                    title=kind_of(finding).title,
                    why=kind_of(finding).why,
                )
            )
            text = tr("Close them") if bundle.is_open else tr("Show all {count}", count=len(bundle.findings))
            button = QPushButton(text)
            button.clicked.connect(lambda: self._turn(self.view.currentIndex()))
            self._buttons.addWidget(button)
            self._add_more(finding.code)
            return
        self._text.setText(f"{finding_text(project, finding)}\n{kind_of(finding).why}")
        for mend in finding.mends:
            text = mend_text(project, mend)
            button = QPushButton(text)
            button.clicked.connect(lambda _=False, mend=mend: self.mending.take(finding, (mend,)))
            self._buttons.addWidget(button)
        self._add_more(finding.code)
        self._show_mending()

    def _add_more(self, code: str) -> None:
        """Below what can be done stands the way to what is written of such a check."""
        button = QPushButton(tr("More about this check"))
        button.setToolTip(tr("What it compares and what helps, in the help"))
        button.clicked.connect(lambda: self.asked.emit(code))
        self._buttons.addWidget(button)

    def _show_mending(self) -> None:
        """While a mend is worked out, no other can be asked for; the head says so."""
        busy = self.mending.is_busy
        for index in range(self._buttons.count()):
            item = self._buttons.itemAt(index)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.setEnabled(not busy)
        self._head.setText(tr("Working it out…") if busy else self._title)
