"""Small lit pictures for lists and cards: made beside the window a few at a time, kept while they are looked at.

Until there is one, whoever shows it draws something simpler. `at_once` is for a picture of the window, which waits.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable

from PySide6.QtCore import QObject, QRectF, Signal
from PySide6.QtGui import QPainter, QPixmap

from cozy_burrow.app.desk.tasks import Task, TaskToken, only_light
from cozy_burrow.app.look.theme.theme import Theme
from cozy_burrow.app.scene.relief import picture_from
from cozy_burrow.app.scene.tool_painting import outline_tool, paint_tool
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.relief.finish import Look
from cozy_burrow.core.relief.light import Pixels
from cozy_burrow.core.relief.picture import picture_of
from cozy_burrow.core.relief.portrait import portrait_of

_MOST_KEPT = 300
_AT_A_TIME = 12  # after so many, what there is by then is shown
_LEAST_PER_MM = 0.01
Bounds = tuple[float, float, float, float]
Made = tuple[Pixels, Bounds]
Shown = tuple[QPixmap, QRectF]


class SmallPictures(QObject):
    """Knows pictures by a key. `changed`: there are more."""

    changed = Signal()
    at_once = False

    def __init__(self, parent: QObject | None = None, *, most: int = _MOST_KEPT) -> None:
        super().__init__(parent)
        self._most = most
        # What a picture is of is held along: keys name it by its identity.
        self._known: OrderedDict[Hashable, tuple[object, Shown]] = OrderedDict()
        self._wanted: dict[Hashable, tuple[object, Callable[[], Made]]] = {}
        self._task: Task | None = None
        self._is_broken = False  # one could not be made: none is asked for again, or that would have no end

    @property
    def is_busy(self) -> bool:
        """Whether any are being made."""
        return self._task is not None

    def get(self, key: Hashable, of: object, make: Callable[[], Made]) -> Shown | None:
        """Return a picture and where it lies; None while there is none, which is made then."""
        if key not in self._known and self.at_once:
            self._keep([(key, of, make())])
        found = self._known.get(key)
        if found is None:
            self._wanted[key] = (of, make)
            self._begin()
            return None
        self._known.move_to_end(key)
        return found[1]

    def forget(self) -> None:
        """Know none any more: colours have changed."""
        self._known.clear()

    def _begin(self) -> None:
        if self._task is not None or self._is_broken or not self._wanted:
            return
        wanted = list(self._wanted.items())[:_AT_A_TIME]
        self._wanted = {}  # what is still to be seen asks again when it is painted

        def work(token: TaskToken) -> list[tuple[Hashable, object, Made]]:
            found = []
            for key, (of, make) in wanted:
                token.step(0.0)
                with only_light(token):
                    found.append((key, of, make()))
            return found

        task = self._task = Task(work, self)
        task.done.connect(self._keep)
        task.failed.connect(self._fail)
        task.finished.connect(self._end)
        task.begin()

    def _keep(self, made: list[tuple[Hashable, object, Made]]) -> None:
        for key, of, (pixels, (left, top, right, bottom)) in made:
            self._known[key] = (of, (picture_from(pixels), QRectF(left, top, right - left, bottom - top)))
        while len(self._known) > self._most:
            self._known.popitem(last=False)

    def _fail(self, error: Exception) -> None:
        self._is_broken = True
        raise error  # on the interface's thread, where the crash guard keeps the work

    def _end(self) -> None:
        self._task = None
        self.changed.emit()


class Portraits(SmallPictures):
    """Items by themselves, seen from above."""

    def paint(self, painter: QPainter, item: Item, theme: Theme) -> None:
        """Paint an item, drawn until there is a picture of it; as `put` does."""
        if self.put(painter, item):
            outline_tool(painter, item, theme.colour("tool_line"))
        else:
            paint_tool(painter, item, theme, worn=True)

    def put(self, painter: QPainter, item: Item) -> bool:
        """Paint the picture of an item in its own coordinates; False while there is none.

        The painter is scaled alike both ways, and not turned.
        """
        scale = scale_of(painter)

        def make() -> Made:
            portrait = portrait_of(item, scale)
            return portrait.pixels, portrait.grid.bounds

        return _put(painter, self.get((id(item), scale), item, make))


class SmallReliefs(SmallPictures):
    """Whole inserts, small."""

    def put(self, painter: QPainter, ground: Ground, look: Look, *, px_per_mm: float | None = None) -> bool:
        """Paint the picture of an insert in the plan's coordinates; False while there is none.

        px_per_mm: dots of the screen, where the painter is turned.
        """
        scale = scale_of(painter) if px_per_mm is None else max(_LEAST_PER_MM, round(px_per_mm, 3))

        def make() -> Made:
            picture = picture_of(ground, scale, look, soon=True)
            return picture.pixels, picture.grid.bounds

        return _put(painter, self.get((id(ground), scale, look), ground, make))


def scale_of(painter: QPainter) -> float:
    """Return how many dots of the screen a millimetre is for a painter."""
    device = painter.device()
    sharp = float(device.devicePixelRatioF()) if device is not None else 1.0
    return max(_LEAST_PER_MM, round(painter.transform().m11() * sharp, 3))


def _put(painter: QPainter, shown: Shown | None) -> bool:
    if shown is None:
        return False
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.drawPixmap(shown[1], shown[0], QRectF(shown[0].rect()))
    return True
