"""An item's own cut-out of the photo that it came from, laid where its outline lies."""

from __future__ import annotations

from msgspec.structs import replace

from cozy_burrow.core.capture.retouch.draft import Draft, kit_item, kit_shift
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.relief.photo import moved_photo
from cozy_burrow.jobs.capture import Capture


def kit_item_with_photo(draft: Draft, capture: Capture) -> Item:
    """Return a draft as the kit holds it, with its cut-out where the picture gave one.

    The edge stands above the paper and so covers more of it than it is large: what was cut out is taken in towards the
    point below the camera as the outline was, and grows where that was scaled to the calliper.
    """
    item = kit_item(draft)
    cutout = capture.cutouts[draft.seen] if draft.seen is not None and draft.seen < len(capture.cutouts) else None
    if cutout is None:
        return item
    factor, about = 1.0, (0.0, 0.0)
    if capture.trace is not None:
        x, y, height = capture.trace.sight.camera.eye_mm
        factor, about = (height - draft.edge_mm) / height, (x, y)
    photo = moved_photo(cutout, factor=factor, about_mm=about, shift_mm=(0.0, 0.0))
    for grown, middle in draft.scales:
        photo = moved_photo(photo, factor=grown, about_mm=middle, shift_mm=(0.0, 0.0))
    return replace(item, photo=moved_photo(photo, factor=1.0, about_mm=(0.0, 0.0), shift_mm=kit_shift(draft)))
