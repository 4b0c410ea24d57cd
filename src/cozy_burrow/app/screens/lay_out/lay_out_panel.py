"""Lay out, at the left: the tray, arranging for the fitter, how the layout meets the wishes, and the fitter's moves."""

from __future__ import annotations

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QMenu,
    QProgressBar,
    QPushButton,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from cozy_burrow.app.desk.arranging import Arranging
from cozy_burrow.app.desk.following import FollowingPanel
from cozy_burrow.app.desk.selected import selected_words
from cozy_burrow.app.desk.tasks import Task
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import Column, LengthField, head, panel, soft
from cozy_burrow.app.look.text_plate import TextPlate
from cozy_burrow.app.screens.lay_out import laying
from cozy_burrow.app.screens.lay_out.tray import TrayList
from cozy_burrow.app.screens.lay_out.wish_list import WishList
from cozy_burrow.core.arrange.wishes import STYLES, Scores, StyleName
from cozy_burrow.core.ground.judging import scores_of
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.wish_words import STYLE_NAMES, STYLE_WHY

_MOST_SEEN = 6  # rows of the tray; more scroll
_JUDGE_AFTER_MS = 350  # a drag must not pay for scores
_MOVES = (
    ("lay.turn_right", tr("Turn 90°")),
    ("lay.swap_ends", tr("Swap ends")),
    ("lay.lock", tr("Lock")),
    ("lay.take_out", tr("Take off the foam")),
    ("lay.row", tr("Make a row")),
    ("lay.spread", tr("Spread")),
    ("lay.mirror", tr("Mirror")),
)
_SIDES = ("left", "right", "back", "front")
SIDE_BUTTONS = {"left": tr("Left"), "right": tr("Right"), "back": tr("Back"), "front": tr("Front")}
MORE = (
    "lay.first_look",
    "lay.order",
    "lay.improve",
    "lay.repack",
    "lay.fill_area",
    "lay.keep_free",
    "lay.free_again",
    "lay.share_out",
)


class LayOutPanel(FollowingPanel):
    """Tray, arranging, wishes and moves; all in one column that scrolls where it must."""

    lay_in = Signal(str)
    command = Signal(str)
    picture_wanted = Signal(object)

    def __init__(self, workspace: Workspace, arranging: Arranging, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        panel(self)
        self._arranging = arranging
        self._judging: Task | None = None
        self._judged: Project | None = None
        self._scores: Scores | None = None
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(_JUDGE_AFTER_MS)
        self._timer.timeout.connect(self._judge)
        column = QWidget()
        column.setObjectName("column")
        layout = QVBoxLayout(column)
        layout.setContentsMargins(8, 6, 8, 6)
        layout.setSpacing(6)
        self._build_tray(layout)
        self._build_arranging(layout)
        self.wishes = WishList()
        self.wishes.picture_wanted.connect(self.picture_wanted)
        self.wishes.weighed.connect(lambda name, weight: arranging.set_weight(name, weight))
        layout.addWidget(self.wishes)
        self._build_moves(layout)
        layout.addStretch(1)
        scroll = Column()
        scroll.setWidget(column)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 2, 0, 2)
        whole.addWidget(scroll)
        arranging.progressed.connect(self.show_progress)
        arranging.gained.connect(self._show_advice)
        arranging.closed.connect(self._show_advice)
        arranging.style_changed.connect(self._show_style)
        self._show_style()
        self.follow()

    def _build_tray(self, layout: QVBoxLayout) -> None:
        self._head = head("")
        layout.addWidget(self._head)
        self.list = TrayList()
        self.list.lay_in.connect(self.lay_in)
        layout.addWidget(self.list)
        self._hint = soft("")
        layout.addWidget(self._hint)
        self.look_button = QPushButton(tr("What goes in?"))
        self.look_button.setToolTip(tr("What will not go in, what a box would hold more simply, what to leave out"))
        self.look_button.clicked.connect(lambda: self.command.emit("lay.first_look"))
        layout.addWidget(self.look_button)

    def _build_arranging(self, layout: QVBoxLayout) -> None:
        self.style_box = QComboBox()
        self.style_box.setAccessibleName(tr("Style of the layout"))
        for style in STYLES:
            self.style_box.addItem(STYLE_NAMES[style], style)
            self.style_box.setItemData(self.style_box.count() - 1, STYLE_WHY[style], Qt.ItemDataRole.ToolTipRole)
        self.style_box.activated.connect(lambda n: self._arranging.set_style(self.style_box.itemData(n)))
        layout.addWidget(self.style_box)
        row = QHBoxLayout()
        self.arrange_button = QPushButton(tr("Arrange for me"))
        self.arrange_button.setObjectName("main")
        self.arrange_button.setToolTip(tr("Lays everything that is not locked anew. Ctrl+Return"))
        self.arrange_button.clicked.connect(lambda: self.command.emit("lay.arrange"))
        row.addWidget(self.arrange_button, 1)
        self.more_button = QToolButton()
        self.more_button.setText(tr("More ▾"))
        self.more_button.setToolTip(
            tr("Improve, re-pack a selection, fill or keep an area, share out over all inserts")
        )
        self.more_button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.more_menu = QMenu(self.more_button)
        self.more_button.setMenu(self.more_menu)
        row.addWidget(self.more_button)
        layout.addLayout(row)
        self.progress = QProgressBar()
        self.progress.setRange(0, 1000)
        self.progress.setAccessibleName(tr("Progress of arranging"))
        self.progress.hide()
        layout.addWidget(self.progress)
        self.stop_button = QPushButton(tr("Stop, keep the best so far"))
        self.stop_button.clicked.connect(self._arranging.stop)
        self.stop_button.hide()
        layout.addWidget(self.stop_button)
        self.advice = soft("")
        self.advice.hide()
        layout.addWidget(self.advice)

    def _build_moves(self, layout: QVBoxLayout) -> None:
        self.push_box = QCheckBox(tr("Push neighbours aside"))
        self.push_box.setToolTip(
            tr(
                "While an item is dragged its neighbours move aside within the rules, edges snap to "
                "lines, and what finds no room springs back. Hold Ctrl to drag freely"
            )
        )
        self.push_box.setChecked(True)
        layout.addWidget(self.push_box)
        self._moves = QWidget()
        moves = QVBoxLayout(self._moves)
        moves.setContentsMargins(0, 0, 0, 0)
        moves.setSpacing(6)
        layout.addWidget(self._moves)
        grid = QGridLayout()
        grid.setSpacing(4)
        moves.addLayout(grid)
        for index, (command, text) in enumerate(_MOVES):
            button = QPushButton(text)
            button.clicked.connect(lambda _=False, command=command: self.command.emit(command))
            grid.addWidget(button, index // 2, index % 2)
        gap = QHBoxLayout()
        gap.setSpacing(4)
        gap.addWidget(soft(tr("Gap")))
        self.gap_field = LengthField(tr("Gap between the selected items"), least_mm=0.0, optional=True)
        self.gap_field.setPlaceholderText(tr("of two or more"))
        self.gap_field.entered.connect(self._set_gap)
        gap.addWidget(self.gap_field, 1)
        grid.addLayout(gap, len(_MOVES) // 2, 1)
        sides = QHBoxLayout()
        sides.setSpacing(4)
        moves.addLayout(sides)
        sides.addWidget(soft(tr("Align")))
        for side in _SIDES:
            button = QPushButton(SIDE_BUTTONS[side])
            button.setObjectName("narrow")
            button.setAccessibleName(tr("Align {side}", side=side))
            button.clicked.connect(lambda _=False, side=side: self.command.emit(f"lay.align_{side}"))
            sides.addWidget(button, 1)
        self._about = TextPlate(lines=4)
        layout.addWidget(self._about)

    def _set_gap(self, gap_mm: float | None) -> None:
        if gap_mm is not None:
            laying.set_gap(self._workspace, gap_mm)

    def follow(self) -> None:
        """Show the document as it is now."""
        self._follow_selection()
        self._timer.start()
        # Once something lies there, the question is asked from the menu.
        self.look_button.setVisible(bool(self._workspace.project.items) and not self._workspace.insert.placements)
        waiting = self.list.show_waiting(self._workspace)
        if waiting is None:
            return
        self._head.setText(
            tr("Not placed yet: {count}", count=self.list.count()) if waiting else tr("Everything is placed")
        )
        self.list.setVisible(waiting)
        rows = max(2, min(_MOST_SEEN, self.list.count()))
        self.list.setFixedHeight(rows * (self.list.fontMetrics().height() + 12) + 4)
        self._hint.setText(
            tr("Drag onto the foam, or press Enter to lay it where it fits.")
            if waiting
            else (tr("Drag items to move them.") if self._workspace.project.items else tr("Gather items first."))
        )

    def _follow_selection(self) -> None:
        workspace = self._workspace
        # What a hand does needs something in the hand; how the layout meets the wishes is read without.
        self._moves.setVisible(bool(workspace.selection))
        self.wishes.fold(bool(workspace.selection) or not workspace.insert.placements)
        self.gap_field.setEnabled(len(workspace.selection) > 1)
        self.gap_field.show_length(None, workspace.unit)
        self._about.setText(selected_words(workspace))

    @property
    def judged(self) -> Project | None:
        """The project that the scores shown are of."""
        return self._judged

    # How the layout meets the wishes, worked out off this thread a little after the last change.

    def _judge(self) -> None:
        workspace = self._workspace
        if not self.isVisible() or workspace.project is self._judged:
            return
        if self._judging is not None or self._arranging.is_arranging:
            self._timer.start()
            return
        if not workspace.insert.placements:
            self._take_scores(workspace.project, None)
            return
        project, insert_id, weights = workspace.project, workspace.insert_id, dict(self._arranging.weights)
        task = Task(lambda _: scores_of(project, insert_id, weights), self)
        self._judging = task
        task.done.connect(lambda scores: self._take_scores(project, scores))
        task.failed.connect(self._hear_failure)
        task.finished.connect(self._end_judging)
        task.begin()

    def judge_now(self) -> None:
        """Work the scores out at once, for a picture."""
        workspace = self._workspace
        if workspace.insert.placements and workspace.project is not self._judged:
            scores = scores_of(workspace.project, workspace.insert_id, self._arranging.weights)
            self._take_scores(workspace.project, scores)

    def _take_scores(self, project: Project, scores: Scores | None) -> None:
        self._judged, self._scores = project, scores
        self.wishes.show_scores(scores, self._workspace.unit, STYLE_NAMES[self._arranging.style])

    def _end_judging(self) -> None:
        self._judging = None
        if self._workspace.project is not self._judged:
            self._timer.start()

    def _hear_failure(self, error: Exception) -> None:
        raise error  # on the interface's thread, where the crash guard keeps the work

    def _show_style(self) -> None:
        style: StyleName = self._arranging.style
        self.style_box.setCurrentIndex(self.style_box.findData(style))
        self.style_box.setToolTip(STYLE_WHY[style])
        self.wishes.show_weights(self._arranging.weights)
        self._judged = None
        self._timer.start()

    # Searching

    def show_progress(self, fraction: float | None) -> None:
        """Show how far the search is; None: it is over."""
        searching = fraction is not None
        self.progress.setVisible(searching)
        self.stop_button.setVisible(searching)
        self.arrange_button.setEnabled(not searching)
        self.more_button.setEnabled(not searching)
        self.style_box.setEnabled(not searching)
        if fraction is not None:
            self.progress.setValue(round(fraction * 1000))

    def _show_advice(self) -> None:
        self.advice.setText(self._arranging.advice)
        self.advice.setVisible(bool(self._arranging.advice))
