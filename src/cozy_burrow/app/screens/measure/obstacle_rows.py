"""What stands into the inside: ribs, posts, latch bulges, fixing points, each with its place and height range."""

from __future__ import annotations

from msgspec.structs import replace
from PySide6.QtWidgets import QComboBox, QGridLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import LengthField, soft
from cozy_burrow.app.look.fold import Fold
from cozy_burrow.app.look.long_words import row_of
from cozy_burrow.app.screens.measure.page import Page, narrow, shown_container
from cozy_burrow.core.container.blank import THIN_NOTCH_MM
from cozy_burrow.core.model.records import Point, Ring
from cozy_burrow.core.model.vessels import Obstacle, ObstacleKind
from cozy_burrow.core.tongue import tr

KINDS: tuple[tuple[str, ObstacleKind], ...] = (
    (tr("rib"), "rib"),
    (tr("post"), "post"),
    (tr("latch bulge"), "latch"),
    (tr("fixing point"), "fixing"),
)
_FIELDS = (
    (tr("left"), 0),
    (tr("back"), 1),
    (tr("wide"), 2),
    (tr("deep"), 3),
    (tr("from"), 4),
    (tr("up to"), 5),
)

_LONG = (
    tr("from the left"),
    tr("from the back"),
    tr("width"),
    tr("depth"),
    tr("from this height above the floor"),
    tr("up to this height"),
)


class ObstacleRows(QWidget):
    """A choice of obstacle, its figures, and buttons for more and for fewer."""

    def __init__(self, workspace: Workspace, page: Page) -> None:
        super().__init__(page)
        self._workspace, self._page, self._current = workspace, page, 0
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        self.fold = Fold(tr("Ribs, posts and latches"))
        outer.addWidget(self.fold)
        layout = self.fold.column
        self.chooser = QComboBox()
        self.chooser.setAccessibleName(tr("Obstacle"))
        narrow(self.chooser)
        self.chooser.activated.connect(self._choose)
        layout.addWidget(self.chooser)
        grid = QGridLayout()
        self.fields: list[LengthField] = []
        for text, index in _FIELDS:
            field = LengthField(tr("Obstacle: {long}", long=_LONG[index]), least_mm=-1000.0)
            field.entered.connect(lambda mm, index=index: self._set(index, mm))
            field.refused.connect(page.refused)
            grid.addWidget(QLabel(text), index // 2, 2 * (index % 2))
            grid.addWidget(field, index // 2, 2 * (index % 2) + 1)
            self.fields.append(field)
        layout.addLayout(grid)
        buttons = QGridLayout()
        self.add_buttons: dict[str, QPushButton] = {}
        for n, (text, kind) in enumerate(KINDS):
            button = QPushButton(tr("Add a {text}", text=text))
            button.clicked.connect(lambda _=False, kind=kind, text=text: self._add(kind, text))
            buttons.addWidget(button, n, 0)
            self.add_buttons[kind] = button
        self.remove = QPushButton(tr("Take it away"))
        self.remove.clicked.connect(self._remove)
        buttons.addWidget(self.remove, len(KINDS), 0)
        layout.addLayout(buttons)
        self._hint = soft("")
        layout.addWidget(self._hint)

    def follow(self) -> None:
        """Show the container's obstacles."""
        obstacles = self._workspace.container.obstacles
        self.fold.follow(bool(obstacles), of=shown_container(self._workspace))
        self.fold.tell(str(len(obstacles)) if obstacles else "")
        thin = self._workspace.length(THIN_NOTCH_MM)
        self._hint.setText(
            tr("Blanks are notched at its height only; thinner than {thin} it gets one slit.", thin=thin)
        )
        self._current = min(self._current, max(0, len(obstacles) - 1))
        self.chooser.clear()
        self.chooser.addItems([row_of(one.name) for one in obstacles] or [tr("nothing yet")])
        self.chooser.setCurrentIndex(self._current)
        self.chooser.setEnabled(bool(obstacles))
        self.remove.setEnabled(bool(obstacles))
        for field in self.fields:
            field.setEnabled(bool(obstacles))
        figures = self._figures() if obstacles else [None] * 6
        for field, value in zip(self.fields, figures):
            field.show_length(value, self._workspace.unit)

    def _figures(self) -> list[float | None]:
        one, box = self._workspace.container.obstacles[self._current], self._workspace.container
        left, back, right, front = bounds(one.ring)
        high = box.height_mm if one.high_mm is None else one.high_mm
        return [left, back, right - left, front - back, one.low_mm, high]

    def _choose(self, index: int) -> None:
        self._current = index
        self.follow()

    def _set(self, index: int, value: float) -> None:
        obstacles = list(self._workspace.container.obstacles)
        if not obstacles:
            return
        one, figures = obstacles[self._current], [figure or 0.0 for figure in self._figures()]
        figures[index] = value
        left, back, wide, deep, low, high = figures
        ring = one.ring if index > 3 else block(left, back, wide, deep)
        obstacles[self._current] = replace(one, ring=ring, low_mm=low, high_mm=high)
        self._page.change_box(one.name, obstacles=tuple(obstacles))

    def _add(self, kind: ObstacleKind, text: str) -> None:
        box = self._workspace.container
        names = {one.name for one in box.obstacles}
        number = next(n for n in range(1, 1000) if f"{text} {n}" not in names)
        places = {
            "rib": block(box.width_mm / 2 - 10, 0.0, 20.0, 8.0),
            "post": block(box.width_mm / 2 - 8, box.depth_mm / 2 - 8, 16.0, 16.0),
            "latch": block(box.width_mm / 2 - 18, box.depth_mm - 4, 36.0, 4.0),
            "fixing": block(16.0, 16.0, 12.0, 12.0),
        }
        low = box.height_mm * 0.85 if kind == "latch" else 0.0
        high = 6.0 if kind == "fixing" else None
        new = Obstacle(name=f"{text} {number}", kind=kind, ring=places[kind], low_mm=low, high_mm=high)
        self._current = len(box.obstacles)
        self._page.change_box(text, obstacles=(*box.obstacles, new))

    def _remove(self) -> None:
        obstacles = self._workspace.container.obstacles
        kept = tuple(one for n, one in enumerate(obstacles) if n != self._current)
        self._page.change_box(tr("obstacles"), obstacles=kept)


def bounds(ring: Ring) -> tuple[float, float, float, float]:
    """Return left, back, right and front of a ring."""
    xs, ys = [x for x, _ in ring], [y for _, y in ring]
    return min(xs), min(ys), max(xs), max(ys)


def block(left: float, back: float, wide: float, deep: float) -> tuple[Point, ...]:
    """Return an upright rectangle as a ring."""
    return ((left, back), (left + wide, back), (left + wide, back + deep), (left, back + deep))
