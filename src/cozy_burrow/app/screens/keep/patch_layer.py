"""The plan with a change of the foam laid over it: what is cut, what is glued in."""

from __future__ import annotations

import shapely
from PySide6.QtCore import Qt
from PySide6.QtGui import QBrush, QPen
from shapely.geometry.base import BaseGeometry

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.scene.layer import PlanLayer
from cozy_burrow.app.scene.overlay import Overlay
from cozy_burrow.app.scene.paths import area_path
from cozy_burrow.app.screens.keep.on_plan import TapHand
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.refit.patch import Patch
from cozy_burrow.core.tongue import tr


class PatchLayer(PlanLayer):
    """A press chooses an item. shown: the patch, and the outline of what would lie there."""

    def __init__(self, workspace: Workspace) -> None:
        super().__init__(workspace, TapHand(workspace, lambda _: None, lambda: False))
        self._patch: Patch | None = None
        self._outline: BaseGeometry | None = None
        workspace.document_changed.connect(lambda: self.show_patch(None))

    @property
    def shows_names(self) -> bool:
        """Names are read while nothing is laid over them."""
        return self._patch is None

    def show_patch(self, patch: Patch | None, outline: BaseGeometry | None = None) -> None:
        """Lay a change over the plan. outline: of the thing that would lie there."""
        self._patch, self._outline = patch, outline
        self.changed.emit()

    def paint(self, overlay: Overlay, pointed: Finding | None) -> None:
        """Paint what is cut and what is filled, of all layers together, with a word each."""
        painter, theme = overlay.painter, overlay.theme
        overlay.selection(self.workspace.ground, self.workspace.selection)
        if self._patch is None:
            return
        cut = shapely.union_all([one.cut for one in self._patch.layers])
        fill = shapely.union_all([one.fill for one in self._patch.layers])
        words = []
        for area, role, pattern, text in (
            (fill, "care", Qt.BrushStyle.Dense4Pattern, tr("glue in")),
            (cut, "accent", Qt.BrushStyle.BDiagPattern, tr("cut")),
        ):
            if area.is_empty:
                continue
            painter.setPen(QPen(theme.colour(role), 1.8))
            painter.setBrush(QBrush(theme.colour(role), pattern))
            painter.drawPath(overlay.transform.map(area_path(area)))
            largest = max(polygons_in(area), key=lambda part: part.area, default=None)
            if largest is not None:
                at = largest.representative_point()
                words.append((text, overlay.to_view((at.x, at.y)), theme.colour(role)))
        if self._outline is not None:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("tool_line"), 1.8, Qt.PenStyle.DashLine))
            painter.drawPath(overlay.transform.map(area_path(self._outline)))
        for told in words:  # over all areas: one lies in another where a layer is cut and the next one filled
            overlay.figure(*told)
