"""The demo's drawer, open, before the simulated camera: some things missing, end for end, or in each other's place."""

from __future__ import annotations

import itertools
import random
from collections.abc import Collection, Mapping

import numpy as np
import shapely
from msgspec.structs import replace

from cozy_burrow.core.capture.photo.mat import marker_cells
from cozy_burrow.core.depth.settling import Pose
from cozy_burrow.core.errors import UnusableInput, quoted
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.keep.marks import LEAST_MM, USUAL_MM, Mark, Point, foam_corners, marks, size_that_fits, stuck
from cozy_burrow.core.keep.roll_call import RollCall
from cozy_burrow.core.keep.turned import lying_turned
from cozy_burrow.core.model.edits import insert_of
from cozy_burrow.core.model.records import Item, Project
from cozy_burrow.core.progress import Token
from cozy_burrow.core.relief.field import RIM_MM, Field, Lying, field_of, lying_in
from cozy_burrow.core.relief.finish import Finish, Look
from cozy_burrow.core.relief.grid import Grid
from cozy_burrow.core.tongue import tr
from cozy_burrow.devices.simulated_drawer import Drawer, DrawerCamera
from cozy_burrow.devices.simulated_scene import Light, Stand
from cozy_burrow.jobs.roll_call import called_apart

_PX_PER_MM = 2.0
_WORKSHOP = Look(foam=(58, 58, 60), contrast=(205, 120, 40), rim=(140, 120, 95), floor=(58, 58, 60))


def open_drawer(
    ground: Ground,
    look: Look,
    *,
    missing: Collection[str] = (),
    turned: Collection[str] = (),
    instead: Mapping[str, Item] | None = None,
    mark_mm: float | None = USUAL_MM,
    colours: Mapping[str, tuple[int, int, int]] | None = None,
) -> Drawer:
    """Return an open drawer as something to photograph.

    missing, turned: placements whose things are not there, or lie end for end. instead: things that lie in another's
    place. mark_mm: how large the marks in its corners are; None: there are none. colours: of things, by placement.
    """
    things = []
    for one in lying_in(ground):
        key = one.placement.id
        if key in missing:
            continue
        if instead is not None and key in instead:
            things.append(_laid_in(ground, instead[key], one))
        elif key in turned:
            things.append(lying_turned(one))
        else:
            things.append(one)
    left, back, right, front = ground.extent
    around = RIM_MM + 2.0
    grid = Grid.over((left - around, back - around, right + around, front + around), _PX_PER_MM)
    field = field_of(ground, grid, look, things=things)
    drawer = _as_seen(field, colours or {})
    corners = foam_corners(ground.blank)
    for mark in marks(mark_mm) if mark_mm is not None else ():
        drawer = drawer.with_picture(*_sticker(mark, corners[mark.number - 1]))
    return drawer


def _laid_in(ground: Ground, item: Item, own: Lying) -> Lying:
    """Return another thing in a place: its middle on that of the one that belongs there, on its floor."""
    there, lowest = own.outline.centroid, min(zone.lowest_mm for zone in item.zones)
    pose = Pose(datum_mm=lowest + ground.pockets[own.placement.id].seating.bottom_mm)
    middle = Lying(item, replace(own.placement, x_mm=0.0, y_mm=0.0), pose).outline.centroid
    return Lying(item, replace(own.placement, x_mm=there.x - middle.x, y_mm=there.y - middle.y), pose)


def _as_seen(field: Field, colours: Mapping[str, tuple[int, int, int]]) -> Drawer:
    table = np.array([_colour(one, colours) for one in field.finishes], dtype=np.float32)
    gloss = np.array([one.gloss for one in field.finishes], dtype=np.float32)
    grained = np.array([one.grain_share for one in field.finishes], dtype=np.float32)
    owner = field.owner[:: field.sharp, :: field.sharp]
    colour = table[owner] * (1 + grained[owner] * field.grain)[..., None]
    grid = field.grid
    middle = 0.5 / grid.px_per_mm
    return Drawer(
        height_mm=np.asarray(field.height_mm, dtype=np.float32),
        colour=np.asarray(np.clip(colour, 0.003, 1.0), dtype=np.float32),
        gloss=np.asarray(0.5 * gloss[owner], dtype=np.float32),
        origin_mm=(grid.left_mm + middle, grid.top_mm + middle),
        cell_mm=1 / grid.px_per_mm,
    )


def _colour(finish: Finish, colours: Mapping[str, tuple[int, int, int]]) -> np.ndarray:
    """Return what share of the light a surface gives back: colours are told as screens have them, by their root."""
    return (np.array(colours.get(finish.body, finish.colour), dtype=np.float32) / 255.0) ** 2.2


def _sticker(mark: Mark, corner: Point) -> tuple[np.ndarray, tuple[float, float, float, float]]:
    """Return a mark's sticker, (rows, columns) 1 where white, and where it is stuck."""
    rim = mark.rim_mm
    quad = stuck(mark.number, corner, size_mm=mark.size_mm, inset_mm=rim)
    place = (quad[0, 0] - rim, quad[0, 1] - rim, quad[2, 0] + rim, quad[2, 1] + rim)
    cells = np.where(marker_cells(mark.pattern), 0.0, 1.0).astype(np.float32).repeat(14, axis=0).repeat(14, axis=1)
    return np.pad(cells, 21, constant_values=1), place


def demo_photo(project: Project, insert_id: str, *, seed: int, missing: Collection[str] = (), token: Token) -> bytes:
    """Return a photo of an insert as it lies open at the end of a day.

    missing: placements whose things are not there; none: what `evening` says.

    Raises Cancelled, and UnusableInput where nothing lies in it.
    """
    insert = insert_of(project, insert_id)
    ground = ground_of(project, insert)
    if not ground.pockets:
        raise UnusableInput(
            tr("nothing lies in {name}", name=quoted(insert.name)), remedy=tr("lay the items in first: Alt+3")
        )
    chance = random.Random(seed)
    gone, turned, instead = evening(ground, seed, chance, missing=missing)
    taken = shapely.union_all([ground.taken_out(1), *(one.outline for one in lying_in(ground))])
    scene = open_drawer(
        ground,
        _WORKSHOP,
        missing=gone,
        turned=turned,
        instead=instead,
        mark_mm=size_that_fits(ground.blank, taken) or LEAST_MM,
    )
    left, back, right, front = ground.extent
    stand = Stand(
        aim_mm=((left + right) / 2, (back + front) / 2),
        height_mm=1.25 * max(right - left, (front - back) * 4 / 3),
        tilt_deg=chance.uniform(4.0, 18.0),
        towards_deg=chance.uniform(0.0, 360.0),
        width_px=2000,
        height_px=1500,
    )
    return DrawerCamera(scene, stand, Light(), seed, token=token).take_photo()


def evening(
    ground: Ground, seed: int, chance: random.Random, *, missing: Collection[str] = ()
) -> tuple[list[str], list[str], dict[str, Item]]:
    """Return what is not as it should be: what is missing, what lies end for end, what lies in another's place.

    missing: only these are; none: one or two, and at every third seed from 2 on something lies end for end, from 3 on
    two things of about one size are in each other's place.
    """
    keys = list(ground.pockets)
    gone = [key for key in keys if key in missing]
    if gone:
        return gone, [], {}
    gone = chance.sample(keys, min(len(keys), chance.randint(1, 2)))
    there = [one for one in lying_in(ground) if one.placement.id not in gone]
    if seed % 3 == 2:
        turnable = [one.placement.id for one in there if _shows_turned(one)]
        return gone, chance.sample(turnable, min(1, len(turnable))), {}
    if seed % 3 == 0:
        pairs = [pair for pair in itertools.combinations(there, 2) if _unlike_size(*pair) < _ONE_SIZE]
        unlike = [pair for pair in pairs if pair[0].item.id != pair[1].item.id]
        if unlike:
            one, other = chance.choice(unlike)
            return gone, [], {one.placement.id: other.item, other.placement.id: one.item}
    return gone, [], {}


_TURNED_SHOWS = 0.15  # of its area that lies elsewhere: else nobody could tell, and it does not matter
_ONE_SIZE = 0.35  # so much longer or wider, and a thing goes into the other's place no more


def _shows_turned(one: Lying) -> bool:
    own = one.outline
    return bool(own.symmetric_difference(lying_turned(one).outline).area > _TURNED_SHOWS * own.area)


def _unlike_size(one: Lying, other: Lying) -> float:
    """Return by what share two things differ in length or width, whichever is more."""
    sizes = []
    for lying in (one, other):
        corners = shapely.get_coordinates(shapely.oriented_envelope(lying.outline))
        sizes.append(sorted(np.linalg.norm(np.diff(corners[:3], axis=0), axis=1)))
    return float(max(abs(a - b) / max(a, b) for a, b in zip(*sizes)))


def demo_call(
    project: Project, insert_id: str, seed: int, missing: tuple[str, ...], *, token: Token
) -> tuple[RollCall, bytes]:
    """Return what such a photo says of every place, and the photo as it would be kept. Raises as `demo_photo` does."""
    photo = demo_photo(project, insert_id, seed=seed, missing=missing, token=token)
    return called_apart(project, insert_id, photo, tr("the simulated photo"), token=token)
