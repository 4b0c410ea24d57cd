"""What a draft's photo shows of it: its own cut-out, laid where its outline lies, and where its colours meet."""

from __future__ import annotations

from msgspec.structs import replace
from shapely import affinity

from cozy_burrow.core.capture.retouch.colours import colours_meet
from cozy_burrow.core.capture.retouch.draft import Draft, kit_item, kit_shift
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.records import Item, Point
from cozy_burrow.core.relief.photo import moved_photo
from cozy_burrow.core.tongue import tr
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


def where_colours_meet(draft: Draft, capture: Capture) -> tuple[Point, Point]:
    """Return two marks on the line at which a draft's colours meet. Raises UnusableInput where it has no two."""
    factor, eye = 1.0, (0.0, 0.0)
    if capture.trace is not None:
        x, y, height = capture.trace.sight.camera.eye_mm
        factor, eye = height / (height - draft.edge_mm), (x, y)
    seen = affinity.scale(polygon_of(draft.item.outline), factor, factor, origin=(*eye, 0.0))
    shown = capture.backdrop
    found = colours_meet(seen, shown.pixels, shown.origin_mm, shown.cell_mm)
    if found is None:
        raise UnusableInput(
            tr("it has no two colours that meet in a line"), where=draft.item.name, remedy=tr("set the marks by hand")
        )
    first, second = ((eye[0] + (x - eye[0]) / factor, eye[1] + (y - eye[1]) / factor) for x, y in found)
    return first, second
