"""From photo files to outline files: the mat found, parallax taken out, one drawing a thing.

Several photos of one layout give the height of each edge as well.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

import shapely

from cozy_burrow.core.capture.photo.picture import Picture, open_picture
from cozy_burrow.core.capture.photo.several import Measured, measured_things
from cozy_burrow.core.capture.photo.sides import Sides
from cozy_burrow.core.capture.photo.trace import PhotoTrace, Traced, look_at, outlines
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import checked_outline, outline_of, polygon_of
from cozy_burrow.core.model.records import Outline, Point, Record
from cozy_burrow.core.progress import Token
from cozy_burrow.core.tongue import tr
from cozy_burrow.export.outline_svg import outline_svg
from cozy_burrow.jobs.files import write_all
from cozy_burrow.jobs.mat import printed_stretch
from cozy_burrow.storage.whole_file import read_whole

MOST_PHOTOS = 8
BENT_MM = 0.15  # off flat by more than this, the page is worth a word


class HighPart(Record, frozen=True, kw_only=True):
    """A part of a thing and how high its edge was measured to be."""

    outline: Outline
    edge_mm: float
    sigma_mm: float


class TracedFile(Record, frozen=True, kw_only=True):
    """One thing's outline in page millimetres, the file that it went to, and how sure it is.

    trust: the share of its rim that the picture supports; edge_mm, sigma_mm: the height of its edge, where several
    photos told it, and sides: how its walls stand below it; parts: where heights differ.
    """

    file: str
    outline: Outline
    sure_mm: float
    trust: float = 1.0
    edge_mm: float | None = None
    sigma_mm: float | None = None
    sides: Sides = "round"
    parts: tuple[HighPart, ...] = ()


class TraceResult(Record, frozen=True, kw_only=True):
    """What a photo gave."""

    items: tuple[TracedFile, ...]
    paper: str
    residual_mm: float
    height_mm: float
    tilt_deg: float
    remarks: tuple[str, ...]
    bent_mm: float = 0.0


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
    photos: Sequence[Path],
    folder: Path,
    *,
    edge_mm: float = 0.0,
    sides: Sides | None = None,
    printed_mm: tuple[float | None, float | None] = (None, None),
) -> TraceResult:
    """Trace every thing of one layout's photos into a folder, one SVG each. Raises UnusableInput, nothing written.

    edge_mm: height of the edges; of several photos it is only what is taken where they can't tell. sides: how all walls
    stand; None: several photos tell of each thing, one can't: round.
    """
    if not 0.0 <= edge_mm <= 500.0:
        raise UnusableInput(
            tr("an edge {edge:g} mm above the mat is no thickness of a tool", edge=edge_mm),
            where="--thickness",
            remedy=tr("give the height of the edge that the camera sees, 0 to 500 mm"),
        )
    if len(photos) > MOST_PHOTOS:
        raise UnusableInput(
            tr("{count} photos are more than help", count=len(photos)),
            where=photos[MOST_PHOTOS].name,
            remedy=tr("give at most {most_photos} of one layout", most_photos=MOST_PHOTOS),
        )
    traces = [read_photo(photo, printed_mm=printed_mm)[1] for photo in photos]
    first = photos[0].name
    if len(traces) == 1:
        walls: Sides = sides or "round"
        found = [Measured(one, None) for one in outlines(traces[0], height_mm=edge_mm, sides=walls, where=first)]
    else:
        found = measured_things(traces, guess_mm=edge_mm, sides=sides, where=first)
    items = tuple(_traced_file(number, one, first) for number, one in enumerate(found, start=1))
    write_all(folder, {one.file: outline_svg(one.outline).encode() for one in items})
    sight = traces[0].sight
    return TraceResult(
        items=items,
        paper=sight.paper,
        residual_mm=sight.residual_mm,
        height_mm=sight.camera.height_mm,
        tilt_deg=sight.camera.tilt_deg,
        bent_mm=max(trace.bent_mm for trace in traces),
        remarks=tuple(dict.fromkeys(remark for trace in traces for remark in trace.left_out)),
    )


def _traced_file(number: int, one: Measured, where: str) -> TracedFile:
    return TracedFile(
        file=f"item-{number}.svg",
        outline=_outline(one.traced, where),
        sure_mm=one.traced.sure_mm,
        trust=one.traced.trust,
        edge_mm=None if one.height is None else one.height.edge_mm,
        sigma_mm=None if one.height is None else one.height.sigma_mm,
        sides=one.sides,
        parts=tuple(
            HighPart(outline=outline_of(part.shape), edge_mm=part.height.edge_mm, sigma_mm=part.height.sigma_mm)
            for part in one.parts
        ),
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
                "trust": one.trust,
                **_heights(one, ring),
            }
        )
    return {
        "items": items,
        "mat": {"paper": result.paper, "residual_mm": round(result.residual_mm, 4)},
        "camera": {"height_mm": round(result.height_mm, 2), "tilt_deg": round(result.tilt_deg, 3)},
    }


def _heights(one: TracedFile, ring: Callable[[tuple[Point, ...]], list[list[float]]]) -> dict[str, Any]:
    """Return what `trace --json` says of heights: nothing where one photo can't tell."""
    if one.edge_mm is None or one.sigma_mm is None:
        return {}
    told: dict[str, Any] = {
        "thickness_mm": round(one.edge_mm, 3),
        "thickness_sigma_mm": round(one.sigma_mm, 3),
        "sides": one.sides,
    }
    if one.parts:
        told["parts"] = [
            {
                "outline_mm": ring(part.outline.outer),
                "thickness_mm": round(part.edge_mm, 3),
                "thickness_sigma_mm": round(part.sigma_mm, 3),
            }
            for part in one.parts
        ]
    return told
