"""The plan at Cut: the numbers of the cuts, where the template bears them."""

from __future__ import annotations

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.scene.handling import Handling
from cozy_burrow.app.scene.layer import ItemsLayer
from cozy_burrow.app.scene.overlay import Overlay
from cozy_burrow.app.screens.cut.numbers import Numbered, paint_corner, paint_numbers, standing
from cozy_burrow.core.bench.cut import Cut
from cozy_burrow.core.model.records import Point
from cozy_burrow.core.tongue import trn


class CutLayer(ItemsLayer):
    """No items are seen here: the foam is empty."""

    tool_alpha = 0.0
    shows_section = False

    @property
    def shows_names(self) -> bool:
        """The numbers of the cuts are enough to read."""
        return False

    def __init__(self, workspace: Workspace, handling: Handling) -> None:
        super().__init__(workspace, handling)
        self.cuts: tuple[Cut, ...] = ()
        self._numbered: tuple[tuple[object, ...], tuple[Numbered, ...]] = (), ()

    def show_cuts(self, cuts: tuple[Cut, ...]) -> None:
        """Number these cuts."""
        self.cuts = cuts
        self.changed.emit()

    def about(self, point: Point) -> str:
        """Say besides what lies there why some numbers are not seen."""
        told = [super().about(point)]
        if hidden := self._hidden:
            told.append(
                trn(
                    "{count} number finds no room: come nearer, or choose its line in the table",
                    "{count} numbers find no room: come nearer, or choose a line in the table",
                    hidden,
                )
            )
        return "\n".join(one for one in told if one)

    def paint_last(self, overlay: Overlay) -> None:
        """Paint the numbers; those of the selection are filled. In the corner stands how many find no room."""
        paint_numbers(overlay, self._standing(overlay))
        if hidden := self._hidden:
            paint_corner(overlay, f"+{hidden}")

    @property
    def _hidden(self) -> int:
        return sum(one.stands is None for one in self._numbered[1])

    def _standing(self, overlay: Overlay) -> tuple[Numbered, ...]:
        """Return the numbers of what is in view with where they stand.

        Those of the selection come first: they find room before all others.
        """
        selected = set(self.workspace.selection)
        key = self.cuts, overlay.transform, overlay.view, frozenset(selected)
        if self._numbered[0] != key:
            seen = [cut for cut in self.cuts if overlay.view.contains(overlay.to_view(cut.label_mm).toPoint())]
            cuts = sorted(seen, key=lambda cut: not selected.intersection(cut.owners))
            stands = standing(overlay, [str(cut.number) for cut in cuts], [cut.label_mm for cut in cuts])
            numbered = [
                Numbered(str(cut.number), cut.label_mm, at, bool(selected.intersection(cut.owners)))
                for cut, at in zip(cuts, stands)
            ]
            self._numbered = key, tuple(numbered)
        return self._numbered[1]
