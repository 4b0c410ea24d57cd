"""What is said of an item by itself: where its outline came from."""

from __future__ import annotations

from cozy_burrow.core.model.records import Item
from cozy_burrow.core.tongue import tr


def came_from(item: Item) -> str:
    """Return where an item's outline came from: a form, a drawing, a photo by the name of its file."""
    source = item.provenance.source
    match item.provenance.way:
        case "box":
            return tr("a plain box")
        case "round":
            return tr("a plain cylinder")
        case "stations":
            return tr("calliper stations")
        case "drawn":
            return tr("a drawing")
        case "photo":
            return tr("the photo {source}", source=source)
        case "scan":
            return tr("the scan {source}", source=source)
        case "tracing":
            return tr("the traced sheet {source}", source=source)
        case "svg" | "dxf":
            return tr("the drawing {source}", source=source)
