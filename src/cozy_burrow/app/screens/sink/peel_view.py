"""The peel view: one picture a layer, from the top down, of what is taken out of it and what stays."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QFontMetricsF, QMouseEvent, QPainter, QPen, QShowEvent, QTransform
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.painting import paints, saved
from cozy_burrow.app.look.theme.theme import Theme, type_font
from cozy_burrow.app.scene.paths import area_path
from cozy_burrow.core.foam.layers import Layer
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.tongue import tr, trn


class PeelView(QWidget):
    """Small plans side by side; a press on a pocket chooses its thing."""

    def __init__(self, workspace: Workspace, theme: Theme, scale: float, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._workspace, self._theme, self._scale = workspace, theme, scale
        self.setAccessibleName(tr("Layer by layer"))
        workspace.document_changed.connect(self._follow)
        workspace.selection_changed.connect(self.update)

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self._theme = theme
        self.update()

    def showEvent(self, event: QShowEvent) -> None:
        """Catch up with what changed while it was hidden."""
        super().showEvent(event)
        self._follow()

    def _follow(self) -> None:
        if not self.isVisible():
            return  # it catches up when it is shown: counting openings is nothing for a drag at another stage
        ground = self._workspace.ground
        counts = [layer_count(ground, layer) for layer in ground.layers]
        self.setAccessibleDescription(
            "; ".join(tr("layer {n}: {count} openings", n=n, count=count) for n, count in enumerate(counts, start=1))
        )
        self.update()

    def shown(self) -> list[Layer]:
        """Return the layers that get a picture: all that are cut, and the first of those that stay whole."""
        layers = list(self._workspace.ground.layers)
        deepest = max((layer.number for layer in layers if layer_count(self._workspace.ground, layer)), default=0)
        return layers[: deepest + 1]

    def cells(self) -> list[tuple[Layer, QRectF, QTransform]]:
        """Return for each layer its card on the widget, and how the plan is mapped onto it."""
        left, top, right, bottom = self._workspace.ground.extent
        wide, high = max(1.0, right - left), max(1.0, bottom - top)
        foot = 2 * QFontMetricsF(type_font("small", self._scale)).height() + 8
        layers = self.shown()
        count = len(layers)

        def size(columns: int) -> float:
            rows = math.ceil(count / columns)
            return min((self.width() / columns - 18) / wide, (self.height() / rows - 18 - foot) / high)

        columns = max(range(1, count + 1), key=size)
        cell_w, cell_h = self.width() / columns, self.height() / math.ceil(count / columns)
        found = []
        for index, layer in enumerate(layers):
            card = QRectF((index % columns) * cell_w, (index // columns) * cell_h, cell_w, cell_h)
            card = card.adjusted(4, 4, -4, -4)
            scale = max(0.01, min((card.width() - 10) / wide, (card.height() - 10 - foot) / high))
            shift = card.center() - QPointF((left + right) / 2, (top + bottom) / 2) * scale - QPointF(0, foot / 2)
            found.append((layer, card, QTransform(scale, 0, 0, scale, shift.x(), shift.y())))
        return found

    @paints
    def paintEvent(self, painter: QPainter) -> None:
        """Paint foam and openings of every layer; this layer's floors are paler than what goes on below."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(type_font("small", self._scale))
        ground, theme = self._workspace.ground, self._theme
        for layer, card, transform in self.cells():
            painter.setPen(QPen(theme.colour("line"), 1))
            painter.setBrush(theme.colour("panel"))
            painter.drawRoundedRect(card, 7, 7)
            with saved(painter):
                painter.setTransform(transform, True)
                self._layer(painter, ground, layer)
            painter.setPen(theme.colour("ink"))
            painter.drawText(
                card.adjusted(4, 0, -4, -5),
                Qt.AlignmentFlag.AlignBottom | Qt.AlignmentFlag.AlignHCenter,
                self._caption(layer),
            )

    def _caption(self, layer: Layer) -> str:
        count = layer_count(self._workspace.ground, layer)
        last = self._workspace.ground.layers[-1]
        if not count and layer is not last:
            return tr("Layers {number} to {number_2}\nstay whole", number=layer.number, number_2=last.number)
        kind = trn("{count} opening", "{count} openings", count) if count else tr("stays whole")
        base = tr(", contrast base") if layer.contrast else ""
        return tr(
            "Layer {number}, to {bottom}\n{kind}{base}",
            number=layer.number,
            bottom=self._workspace.length(layer.bottom_mm),
            kind=kind,
            base=base,
        )

    def _layer(self, painter: QPainter, ground: Ground, layer: Layer) -> None:
        theme = self._theme
        role = "foam_contrast" if layer.contrast else ("foam_top" if layer.number % 2 else "strata_b")
        painter.fillPath(area_path(ground.blanks[layer.sheet - 1].polygon), theme.foam(layer.colour, role))
        here = ground.taken_out(layer.number)
        below = ground.taken_out(layer.number + 1) if layer.number < len(ground.layers) else None
        painter.fillPath(area_path(here), theme.colour("paper"))
        if below is not None:
            painter.fillPath(area_path(below), theme.colour("pocket_deep"))
        pen = QPen(theme.colour("shade"), 1.2)
        pen.setCosmetic(True)
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(area_path(here))
        pen = QPen(theme.colour("accent"), 2.6)
        pen.setCosmetic(True)
        painter.setPen(pen)
        for key in self._workspace.selection:
            areas = ground.pockets[key].layers if key in ground.pockets else ()
            if len(areas) >= layer.number:
                painter.drawPath(area_path(areas[layer.number - 1]))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Choose the thing whose pocket is pressed in the picture of a layer."""
        import shapely

        ground = self._workspace.ground
        for layer, card, transform in self.cells():
            if not card.contains(event.position()):
                continue
            at = transform.inverted()[0].map(event.position())
            for key, pocket in ground.pockets.items():
                areas = pocket.layers
                if len(areas) >= layer.number and areas[layer.number - 1].covers(shapely.Point(at.x(), at.y())):
                    self._workspace.select((key,))
                    return
        self._workspace.select(())


def layer_count(ground: Ground, layer: Layer) -> int:
    """Return how many separate openings a layer has."""
    return len(ground.taken_out(layer.number).geoms)
