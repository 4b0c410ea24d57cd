"""From a photo file to outline files: the mat found, parallax taken out, one drawing a thing."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import shapely

from cozy_burrow.core.capture.photo.picture import Picture, open_picture
from cozy_burrow.core.capture.photo.sides import Sides
from cozy_burrow.core.capture.photo.trace import PhotoTrace, Traced, look_at, outlines
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import checked_outline, polygon_of
from cozy_burrow.core.model.records import Outline, Record
from cozy_burrow.core.progress import Token
from cozy_burrow.core.tongue import tr
from cozy_burrow.export.outline_svg import outline_svg
from cozy_burrow.jobs.files import write_all
from cozy_burrow.jobs.mat import printed_stretch
from cozy_burrow.storage.whole_file import read_whole


class TracedFile(Record, frozen=True, kw_only=True):
    """One thing's outline in page millimetres, the file that it went to, and how sure it is."""

    file: str
    outline: Outline
    sure_mm: float


class TraceResult(Record, frozen=True, kw_only=True):
    """What a photo gave."""

    items: tuple[TracedFile, ...]
    paper: str
    residual_mm: float
    height_mm: float
    tilt_deg: float
    remarks: tuple[str, ...]


def read_photo(
    path: Path, *, printed_mm: tuple[float | None, float | None] = (None, None), token: Token | None = None
) -> tuple[Picture, PhotoTrace]:
    """Return a photo's pixels and the things it shows. Raises UnusableInput for no photo, no mat, one not to trust."""
    picture = open_picture(read_whole(path), where=path.name)
    return picture, look_at_photo(picture, where=path.name, printed_mm=printed_mm, token=token)


def look_at_photo(
    picture: Picture,
    *,
    where: str,
    printed_mm: tuple[float | None, float | None] = (None, None),
    token: Token | None = None,
) -> PhotoTrace:
    """Return the things that a photo shows, the printer's stretch taken into account."""

    def stretch(paper: str) -> tuple[float, float]:
        return printed_stretch(paper, across_mm=printed_mm[0], down_mm=printed_mm[1])

    return look_at(picture, where=where, stretch=stretch, token=token)


def write_traces(
    photo: Path,
    folder: Path,
    *,
    edge_mm: float = 0.0,
    sides: Sides = "round",
    printed_mm: tuple[float | None, float | None] = (None, None),
) -> TraceResult:
    """Trace every thing of a photo into a folder, one SVG each. Raises UnusableInput, nothing written."""
    if not 0.0 <= edge_mm <= 500.0:
        raise UnusableInput(
            tr("an edge {edge:g} mm above the mat is no thickness of a tool", edge=edge_mm),
            where="--thickness",
            remedy=tr("give the height of the edge that the camera sees, 0 to 500 mm"),
        )
    _, trace = read_photo(photo, printed_mm=printed_mm)
    found = outlines(trace, height_mm=edge_mm, sides=sides, where=photo.name)
    items = tuple(
        TracedFile(file=f"item-{n}.svg", outline=_outline(one, photo.name), sure_mm=one.sure_mm)
        for n, one in enumerate(found, start=1)
    )
    write_all(folder, {one.file: outline_svg(one.outline).encode() for one in items})
    sight = trace.sight
    return TraceResult(
        items=items,
        paper=sight.paper,
        residual_mm=sight.residual_mm,
        height_mm=sight.camera.height_mm,
        tilt_deg=sight.camera.tilt_deg,
        remarks=trace.left_out,
    )


def _outline(traced: Traced, where: str) -> Outline:
    return checked_outline(shapely.simplify(traced.shape, 0.005), where=where)


def as_json(result: TraceResult) -> dict[str, Any]:
    """Return the object that `trace --json` prints."""

    def ring(points: tuple[tuple[float, float], ...]) -> list[list[float]]:
        return [[round(x, 4), round(y, 4)] for x, y in points]

    items = []
    for one in result.items:
        polygon = polygon_of(one.outline)
        left, top, right, bottom = polygon.bounds
        items.append(
            {
                "file": one.file,
                "outline_mm": ring(one.outline.outer),
                "holes_mm": [ring(hole) for hole in one.outline.holes],
                "width_mm": round(right - left, 4),
                "height_mm": round(bottom - top, 4),
                "area_mm2": round(polygon.area, 4),
            }
        )
    return {
        "items": items,
        "mat": {"paper": result.paper, "residual_mm": round(result.residual_mm, 4)},
        "camera": {"height_mm": round(result.height_mm, 2), "tilt_deg": round(result.tilt_deg, 3)},
    }
