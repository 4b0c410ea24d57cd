"""Lit pictures of the ground that is shown: made beside the window, mended where a change touched them.

A picture of one scale serves until somebody comes nearer; until the new one is there, the old one is shown larger.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PySide6.QtCore import QObject, QRectF, Signal
from PySide6.QtGui import QImage, QPixmap

from cozy_burrow.app.desk.tasks import Task, TaskToken, only_light
from cozy_burrow.app.look.theme.theme import Theme
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.ground.sits import sits_known
from cozy_burrow.core.progress import Quiet, Token
from cozy_burrow.core.relief.finish import Look, rgb
from cozy_burrow.core.relief.light import Pixels
from cozy_burrow.core.relief.picture import Picture, can_be_mended, mends_quickly, picture_of, repainted
from cozy_burrow.core.relief.sprite import bare_ground

_SOLID = 0.9  # as solid as that, what lies under a thing is not seen
_LARGEST_PX = 2_000_000  # of a picture: nearer than that, it is shown larger than it is
Made = dict[str, Picture]


@dataclass(frozen=True)
class Shown:
    """A picture that can be painted: where it lies in the plan, and the picture of things and foam that it is of."""

    pixmap: QPixmap
    place: QRectF
    picture: Picture
    solid: float


class Relief(QObject):
    """Knows the pictures of one ground at one scale. `changed`: there is one that was waited for."""

    changed = Signal()
    at_once = False  # in the window's own thread: for a picture of the window, which waits for it

    def __init__(self, theme: Theme, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._look = look_of(theme)
        self._made: Made = {}
        self._shown: Shown | None = None
        self._task: Task | None = None
        self._asked: tuple[Ground, float, tuple[str, ...]] | None = None
        self._asked_for: Ground | None = None
        self._is_rough = False  # made in a hurry, or mended: true to a shade or two

    def set_theme(self, theme: Theme) -> None:
        """See everything in other colours."""
        self._look = look_of(theme)
        self._made, self._shown = {}, None
        self._stop()

    def shown_bare(self, ground: Ground, px_per_mm: float) -> Shown | None:
        """Return a picture of the foam with nothing cut, of this scale or an older one; None where there is none."""
        return self._seen(bare_ground(ground), px_per_mm, 0.0, ("bare",), like=True)

    def shown(self, ground: Ground, px_per_mm: float, solid: float, *, like: bool = False) -> Shown | None:
        """Return a picture of a ground; of this scale, or while that is made an older one; None where there is none.

        solid: how much of the things is seen, 0 to 1; of the rest, the empty places. like: till then, one of another
        ground in the same container will do.
        """
        wanted = ("full", "empty") if 0.0 < solid < _SOLID else ("full",) if solid else ("empty",)
        return self._seen(ground, px_per_mm, solid, wanted, like=like)

    def _seen(
        self, ground: Ground, px_per_mm: float, solid: float, wanted: tuple[str, ...], *, like: bool
    ) -> Shown | None:
        self._asked_for = ground
        scale = round(min(px_per_mm, _most_per_mm(ground)), 5)
        known = self._shown
        if known is not None and known.picture.ground is ground and known.solid == solid and _scale(known) == scale:
            return known
        if not self._has(wanted, ground, scale):
            self._begin(ground, scale, wanted)
            if not (self.at_once and self._has(wanted, ground, scale)):
                serves = known is not None and (known.picture.ground is ground or (like and _alike(known, ground)))
                return known if serves else None
        self._shown = _shown([self._made[name] for name in wanted], solid)
        return self._shown

    def bare(self) -> Picture | None:
        """Return the picture of the foam with nothing cut, of the scale that was last shown."""
        bare = self._made.get("bare")
        return bare if bare is not None and self._shown is not None and bare.grid == self._shown.picture.grid else None

    def is_true_of(self, ground: Ground) -> bool:
        """Whether what was last shown is the finished picture of a ground."""
        shown = self._shown
        if self._task is not None or shown is None or self._asked_for is None:
            return False
        return shown.picture.ground is self._asked_for and self._asked_for.insert is ground.insert

    @property
    def now(self) -> Shown | None:
        """What was last shown."""
        return self._shown

    def _has(self, wanted: tuple[str, ...], ground: Ground, scale: float) -> bool:
        return all(self._mend(name, ground, scale) for name in wanted)

    def _mend(self, name: str, ground: Ground, scale: float) -> bool:
        """Bring a picture up to date where only a part of it must be made anew; False where it must be made whole."""
        made = self._made.get(name)
        if made is None or made.grid.px_per_mm != scale:
            return False
        if not (can_be_mended(made, ground) if self.at_once else mends_quickly(made, ground)):
            return False
        if made.ground is not ground:
            self._made[name] = repainted(made, ground, soon=True)
            self._is_rough = True
        return True

    def settle(self) -> None:
        """Everything is known of how things rest: make anew, beside the window, what was made in a hurry."""
        if self._is_rough and self._shown is not None and self._task is None:
            ground, scale = self._shown.picture.ground, _scale(self._shown)
            self._begin(ground, scale, tuple(name for name in ("full", "empty") if name in self._made), anew=True)

    def _begin(self, ground: Ground, scale: float, wanted: tuple[str, ...], *, anew: bool = False) -> None:
        """Make the pictures that are wanted, and that of bare foam; what there is of this ground and scale is kept.

        anew: the wanted ones are not.
        """
        asked = (ground, scale, wanted)
        if self._asked is not None and self._asked[0] is ground and self._asked[1:] == asked[1:]:
            return
        self._stop()
        self._asked = asked
        look = self._look
        bare = bare_ground(ground)
        # Those of another scale serve for nothing but what is shown meanwhile, and are as large as what is made.
        self._made = {name: one for name, one in self._made.items() if one.grid.px_per_mm == scale}
        kept = {
            name: one
            for name, one in self._made.items()
            if (can_be_mended(one, bare) if name == "bare" else one.ground is ground and not anew)
        }
        self._is_rough = (self._is_rough and len(kept) > ("bare" in kept)) or not all(
            sits_known(ground, key) for key in ground.pockets
        )

        def work(token: Token) -> Made:
            made: Made = dict(kept)
            for name in (*wanted, "bare"):
                if name not in made:
                    token.step(0.0)
                    of = bare if name == "bare" else ground
                    same = made.get("empty") if of is bare and bare is ground else None
                    made[name] = same or picture_of(
                        of, scale, look, filled=name != "empty", soon=True, mends=name != "bare"
                    )
            return made

        def beside(token: TaskToken) -> Made:
            with only_light(token):
                return work(token)

        if self.at_once:
            self._made, self._asked, self._shown = work(Quiet()), None, None
            return
        task = self._task = Task(beside, self, beside=True)
        task.done.connect(lambda made: self._take(task, made))
        task.failed.connect(_raise)
        task.begin_soon()

    def _take(self, task: Task, made: Made) -> None:
        if task is self._task:
            self._task, self._asked, self._made, self._shown = None, None, made, None
            self.changed.emit()

    def _stop(self) -> None:
        self._asked = None
        if self._task is not None:
            self._task.stop()
            self._task = None


def look_of(theme: Theme) -> Look:
    """Return the colours of foam and container in a theme."""
    return Look(
        foam=rgb(theme.relief_foam),
        contrast=rgb(theme.foam_contrast),
        rim=rgb(theme.relief_rim),
        floor=rgb(theme.relief_floor),
    )


def picture_from(pixels: Pixels) -> QPixmap:
    """Return pixels as Qt paints them."""
    whole = np.ascontiguousarray(pixels)
    rows, columns = whole.shape[:2]
    return QPixmap.fromImage(QImage(whole.data, columns, rows, columns * 4, QImage.Format.Format_RGBA8888))


def _shown(pictures: list[Picture], solid: float) -> Shown:
    first = pictures[0]
    if len(pictures) > 1:
        import cv2

        full, empty = (one.pixels for one in pictures)
        mixed = np.asarray(cv2.addWeighted(full, solid, empty, 1.0 - solid, 0.0), dtype=np.uint8)
        first = Picture(first.grid, mixed, first.ground, first.look, True)
    left, top, right, bottom = first.grid.bounds
    return Shown(picture_from(first.pixels), QRectF(left, top, right - left, bottom - top), first, solid)


def _alike(shown: Shown, ground: Ground) -> bool:
    return can_be_mended(shown.picture, ground)


def _scale(shown: Shown) -> float:
    return shown.picture.grid.px_per_mm


def _most_per_mm(ground: Ground) -> float:
    left, top, right, bottom = ground.extent
    return float((_LARGEST_PX / max(1.0, (right - left + 20.0) * (bottom - top + 20.0))) ** 0.5)


def _raise(error: Exception) -> None:
    raise error  # on the interface's thread, where the crash guard keeps the work
