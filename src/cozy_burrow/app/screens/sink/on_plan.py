"""The plan at Sink: items are pale, so that the floors under them are seen."""

from __future__ import annotations

from cozy_burrow.app.scene.layer import ItemsLayer


class SinkLayer(ItemsLayer):
    """Pockets before items."""

    tool_alpha = 0.5
