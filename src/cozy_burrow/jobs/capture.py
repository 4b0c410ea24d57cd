"""From a picture to drafts on the retouch bench: a photo on the mat, a scan, a sheet with pen lines."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path
from typing import Literal

import numpy as np
from msgspec.structs import replace as with_fields
from numpy.typing import NDArray

from cozy_burrow.core.capture.paper.pen import Pen, traced_on_mat, traced_on_scan
from cozy_burrow.core.capture.paper.scan import glass_of, scanned_things
from cozy_burrow.core.capture.photo.flat import rectified
from cozy_burrow.core.capture.photo.picture import Picture, open_picture
from cozy_burrow.core.capture.photo.trace import PhotoTrace, Traced, outlines
from cozy_burrow.core.capture.retouch.another import with_photo
from cozy_burrow.core.capture.retouch.draft import USUAL_THICKNESS_MM, Table, plain_draft, table_of
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import checked_outline
from cozy_burrow.core.model.records import Item, Photo, Point, Record, Way
from cozy_burrow.core.progress import Quiet, Token
from cozy_burrow.core.relief.photo import cut_out
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.mat import printed_stretch
from cozy_burrow.jobs.trace import BENT_MM, look_at_photo
from cozy_burrow.storage.whole_file import read_whole

Printed = tuple[float | None, float | None]
_SHOWN_CELL_MM = 0.15


@dataclass(frozen=True)
class Backdrop:
    """The picture under the outlines. pixels: (rows, columns, 3); cells of cell_mm, the first at origin_mm."""

    pixels: NDArray[np.uint8]
    origin_mm: Point
    cell_mm: float


class Recipe(Record, frozen=True, kw_only=True):
    """How a picture is read: everything but its bytes. The same bytes read by the same recipe give the same drafts."""

    way: Literal["photo", "scan", "tracing"]
    source: str
    thickness_mm: float = 10.0
    printed_mm: Printed = (None, None)
    dpi: float | None = None
    pen: Pen | None = None
    on_mat: bool = False


@dataclass(frozen=True)
class Capture:
    """A picture understood, ready for the bench. trace: None for scans and traced sheets, which have no parallax.

    recipe, data: how it was read and from which bytes, for reading it again after the program was killed. cutouts: what
    each thing looks like, by the number that its draft says it was seen as, in mat millimetres.
    """

    table: Table
    backdrop: Backdrop
    trace: PhotoTrace | None
    told: str
    recipe: Recipe | None = None
    data: bytes = b""
    cutouts: tuple[Photo | None, ...] = ()


def captured(data: bytes, recipe: Recipe, *, token: Token | None = None) -> Capture:
    """Return what a picture gives when it is read by a recipe. Raises UnusableInput, Cancelled."""
    source, printed_mm = recipe.source, recipe.printed_mm
    match recipe.way:
        case "photo":
            found = capture_photo(
                data, source=source, thickness_mm=recipe.thickness_mm, printed_mm=printed_mm, token=token
            )
        case "scan":
            found = capture_scan(data, source=source, dpi=recipe.dpi, token=token)
        case "tracing":
            found = capture_tracing(
                data,
                recipe.pen or Pen(),
                source=source,
                dpi=recipe.dpi,
                on_mat=recipe.on_mat,
                printed_mm=printed_mm,
                token=token,
            )
    return replace(found, recipe=recipe, data=data)


def capture_photo(
    data: bytes,
    *,
    source: str,
    thickness_mm: float = 10.0,
    printed_mm: Printed = (None, None),
    token: Token | None = None,
) -> Capture:
    """Return the drafts of the things in a photo on the mat. Raises UnusableInput, Cancelled."""
    token = token or Quiet()
    picture = open_picture(data, where=source)
    trace = look_at_photo(picture, where=source, printed_mm=printed_mm, token=token)
    table = table_of(trace, source=source, thickness_mm=thickness_mm)
    pixels, origin = rectified(picture.pixels, trace.sight, trace.view, cell_mm=_SHOWN_CELL_MM)
    camera = trace.sight.camera
    left_out = (
        tr(" {count} left out: {left_out}.", count=len(trace.left_out), left_out=trace.left_out[0])
        if trace.left_out
        else ""
    )
    bent = (
        tr(" The page lies up to {bent:.1f} mm off flat; that is taken out.", bent=trace.bent_mm)
        if trace.bent_mm > BENT_MM
        else ""
    )
    told = tr(
        "{paper} mat, {markers} marks fit to {residual:.2f} mm. Camera {height:.0f} mm up, "
        "tilted {tilt:.0f}°.{bent}{left_out}",
        paper=trace.sight.paper.capitalize(),
        markers=trace.sight.markers,
        residual=trace.sight.residual_mm,
        height=camera.height_mm,
        tilt=camera.tilt_deg,
        bent=bent,
        left_out=left_out,
    )
    cutouts = tuple(cut_out(thing.shape, pixels, origin, _SHOWN_CELL_MM) for thing in trace.things)
    backdrop = Backdrop(pixels, origin, _SHOWN_CELL_MM)
    return Capture(table=table, backdrop=backdrop, trace=trace, told=told, cutouts=cutouts)


def outlines_in(data: bytes, source: str, *, token: Token | None = None) -> tuple[Item, ...]:
    """Return the items that a photo on the mat shows, by their outlines alone. Raises UnusableInput, Cancelled."""
    trace = look_at_photo(open_picture(data, where=source), where=source, token=token or Quiet())
    return tuple(draft.item for draft in table_of(trace, source=source, thickness_mm=USUAL_THICKNESS_MM).drafts)


def capture_scan(data: bytes, *, source: str, dpi: float | None = None, token: Token | None = None) -> Capture:
    """Return the drafts of the things in a flatbed scan. Raises UnusableInput."""
    picture = open_picture(data, where=source)
    glass = glass_of(picture, dpi=dpi, where=source)
    found = scanned_things(picture, where=source, dpi=dpi, token=token)
    plain = _plain(
        found,
        picture,
        1 / glass.px_per_mm,
        "scan",
        source,
        tr("Scan, {px_per:.0f} dpi.", px_per=glass.px_per_mm * 25.4),
    )
    drafts = tuple(with_fields(one, seen=number) for number, one in enumerate(plain.table.drafts))
    cutouts = tuple(cut_out(one.shape, picture.pixels, (0.0, 0.0), 1 / glass.px_per_mm) for one in found)
    return replace(plain, table=with_fields(plain.table, drafts=drafts), cutouts=cutouts)


def capture_tracing(
    data: bytes,
    pen: Pen,
    *,
    source: str,
    dpi: float | None = None,
    on_mat: bool = False,
    printed_mm: Printed = (None, None),
    token: Token | None = None,
) -> Capture:
    """Return the drafts of the pen lines on a scanned sheet, or on the mat in a photo of it. Raises UnusableInput."""
    picture = open_picture(data, where=source)
    told = tr("Pen {tip:g} mm, {outside:.2f} mm taken off all round.", tip=pen.tip_mm, outside=pen.outside_mm)
    if not on_mat:
        glass = glass_of(picture, dpi=dpi, where=source)
        found = traced_on_scan(picture, pen, where=source, dpi=dpi, token=token)
        return _plain(found, picture, 1 / glass.px_per_mm, "tracing", source, told)

    def stretch(paper: str) -> tuple[float, float]:
        return printed_stretch(paper, across_mm=printed_mm[0], down_mm=printed_mm[1])

    found, sight = traced_on_mat(picture, pen, where=source, stretch=stretch, token=token)
    pixels, origin = rectified(picture.pixels, sight, cell_mm=_SHOWN_CELL_MM)
    return Capture(
        table=_table(found, "tracing", source),
        backdrop=Backdrop(pixels, origin, _SHOWN_CELL_MM),
        trace=None,
        told=told,
    )


def with_another_photo(
    table: Table,
    trace: PhotoTrace,
    data: bytes,
    source: str,
    printed_mm: Printed = (None, None),
    *,
    token: Token | None = None,
) -> Table:
    """Return drafts of a photo with what another photo of the same layout tells: thicknesses, what was hidden.

    Raises UnusableInput, Cancelled.
    """
    picture = open_picture(data, where=source)
    return with_photo(
        table, trace, look_at_photo(picture, where=source, printed_mm=printed_mm, token=token), source=source
    )


def side_outline(
    data: bytes, source: str, edge_mm: float, printed_mm: Printed = (None, None), *, token: Token | None = None
) -> Traced:
    """Return the largest thing of a photo: a thing on its side, its edge at a height. Raises UnusableInput."""
    picture = open_picture(data, where=source)
    trace = look_at_photo(picture, where=source, printed_mm=printed_mm, token=token)
    return max(
        outlines(trace, height_mm=edge_mm, sides="straight", where=source), key=lambda one: float(one.shape.area)
    )


def read_picture(path: Path) -> bytes:
    """Return a picture file's bytes. Raises UnusableInput."""
    return read_whole(path)


def _plain(found: list[Traced], picture: Picture, cell_mm: float, way: Way, source: str, told: str) -> Capture:
    return Capture(
        table=_table(found, way, source),
        backdrop=Backdrop(picture.pixels, (0.0, 0.0), cell_mm),
        trace=None,
        told=told,
    )


def _table(found: list[Traced], way: Way, source: str) -> Table:
    drafts = []
    for number, one in enumerate(found, start=1):
        outline = checked_outline(one.shape, where=source)
        drafts.append(
            plain_draft(outline, name=tr("item {number}", number=number), way=way, source=source, sure_mm=one.sure_mm)
        )
    if not drafts:
        raise UnusableInput(tr("nothing is seen"), where=source, remedy=tr("take the picture again"))
    return Table(drafts=tuple(drafts))
