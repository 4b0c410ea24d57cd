"""Roll call: which places of an insert are filled, empty or unsure, from a photo of it.

Every ray of the photo meets one thing with everything in its place, and another with that place empty. What it shows
is weighed: how likely is this light of the empty surface there (learnt from what is empty in this photo anyway), how
likely of a thing, of which hardly anything is known, or of the very thing, where a photo with everything in its place
is given. A place is what most of its rays say; where they don't agree, it is unsure.

Odds   the logarithm of how much likelier a ray's light is of the thing than of the empty place
"""

from __future__ import annotations

from cozy_burrow.core.capture.photo.picture import Picture
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.keep.instead import looked_at_instead
from cozy_burrow.core.keep.looked import Looked
from cozy_burrow.core.keep.odds import likely_the_very, weighed
from cozy_burrow.core.keep.otherwise import looked_at_other, looked_at_turned
from cozy_burrow.core.keep.place import Place, place_of
from cozy_burrow.core.model.records import Record


class RollCall(Record, frozen=True, kw_only=True):
    """What a photo says of all places of an insert."""

    places: tuple[Place, ...]
    marks_found: int
    off_mm: float


def roll_call(ground: Ground, picture: Picture, *, where: str, full: Picture | None = None) -> RollCall:
    """Return what a photo says of every place. full: a photo with everything in its place. Raises UnusableInput."""
    now = Looked(ground, picture, where=where)
    then = Looked(ground, full, where="--full") if full is not None else None
    rays = weighed(now, then)
    very = likely_the_very(now.look, then, now.full) if then is not None else None
    places = []
    for key in ground.pockets:
        place, turned_odds = looked_at_turned(ground, now, then, rays, place_of(now, rays.odds, key))
        place = looked_at_other(now, rays.odds, very, place, turned_odds)
        places.append(looked_at_instead(ground, now, rays.odds, place))
    return RollCall(places=tuple(places), marks_found=now.sight.found, off_mm=now.sight.off_mm)
