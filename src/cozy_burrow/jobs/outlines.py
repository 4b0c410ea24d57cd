"""Turn drawings into clean closed outlines: SVG and DXF files in, one SVG an outline out."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from shapely.geometry import Polygon

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import checked_outline, polygon_of
from cozy_burrow.core.model.records import Outline, Record, Way
from cozy_burrow.core.tongue import tr
from cozy_burrow.export.outline_svg import outline_svg
from cozy_burrow.jobs.drawings import READER
from cozy_burrow.jobs.files import write_all
from cozy_burrow.storage.whole_file import read_whole


class Found(Record, frozen=True, kw_only=True):
    """One outline that was found and the file it was written to."""

    source: str
    file: str
    width_mm: float
    height_mm: float
    area_mm2: float
    holes: int


class Skipped(Record, frozen=True, kw_only=True):
    """A file, or a part of one, that was left out, and why."""

    source: str
    why: str


class OutlinesResult(Record, frozen=True, kw_only=True):
    """Everything found and everything left out."""

    outlines: tuple[Found, ...]
    skipped: tuple[Skipped, ...]


def read_drawing(path: Path) -> tuple[list[Polygon], list[str], Way]:
    """Return the outlines of a drawing file, remarks, and the way it came in. Raises UnusableInput."""
    where = path.name
    match path.suffix.lower():
        case ".svg" | ".svgz":
            polygons, remarks = READER.read("svg", read_whole(path), where=where)
            return polygons, remarks, "svg"
        case ".dxf":
            polygons, remarks = READER.read("dxf", read_whole(path), where=where)
            return polygons, remarks, "dxf"
        case _:
            raise UnusableInput(
                tr("the file is neither SVG nor DXF"), where=where, remedy=tr("give a .svg or .dxf file")
            )


def read_one_outline(path: Path) -> tuple[Outline, Way]:
    """Return the largest outline of a drawing file. Raises UnusableInput where there is none."""
    polygons, _, way = read_drawing(path)
    return checked_outline(polygons[0], where=path.name), way


def write_outlines(files: Sequence[Path], folder: Path) -> OutlinesResult:
    """Write every outline of every file into a folder. Raises UnusableInput, nothing written, where none is usable."""
    found: list[Found] = []
    skipped: list[Skipped] = []
    texts: dict[str, bytes] = {}
    for path in files:
        try:
            polygons, remarks, _ = read_drawing(path)
            outlines = [checked_outline(polygon, where=path.name) for polygon in polygons]
        except UnusableInput as error:
            skipped.append(Skipped(source=str(path), why=error.sentence()))
            continue
        skipped += [Skipped(source=str(path), why=tr("left out: {remark}", remark=remark)) for remark in remarks]
        for outline in outlines:
            name = _free_name(path.stem, texts)
            polygon = polygon_of(outline)
            left, top, right, bottom = polygon.bounds
            texts[name] = outline_svg(outline).encode()
            found.append(
                Found(
                    source=str(path),
                    file=name,
                    width_mm=round(right - left, 4),
                    height_mm=round(bottom - top, 4),
                    area_mm2=round(polygon.area, 4),
                    holes=len(outline.holes),
                )
            )
    if not found:
        why = skipped[0].why if skipped else tr("no file was given")
        raise UnusableInput(
            tr("no outline could be used: {why}", why=why), remedy=tr("see that the drawing holds a closed shape")
        )
    write_all(folder, texts)
    return OutlinesResult(outlines=tuple(found), skipped=tuple(skipped))


def _free_name(stem: str, taken: dict[str, bytes]) -> str:
    name, number = f"{stem}.svg", 2
    while name.lower() in {one.lower() for one in taken}:
        name, number = f"{stem}-{number}.svg", number + 1
    return name
