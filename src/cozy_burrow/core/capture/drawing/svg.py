"""Outlines from an SVG drawing: what is filled or closed, in millimetres, as it is shown."""

from __future__ import annotations

import math
from io import BytesIO
from typing import Any

import numpy as np
import shapely
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.capture.drawing.areas import (
    MOST_BYTES,
    MOST_POINTS,
    Points,
    check_points,
    filled_by_rule,
    nested,
    separate_outlines,
)
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.tolerances import FLATTEN_MM
from cozy_burrow.core.tongue import tr

MM_PER_PX = 25.4 / 96  # CSS: 96 px to the inch
_MOST_ELEMENTS = 20_000
_DEFINITIONS = {"symbol", "clipPath", "mask", "marker", "pattern", "filter", "linearGradient", "radialGradient"}
_GONE = {"none", "transparent"}


def read_svg(data: bytes, *, where: str) -> tuple[list[Polygon], list[str]]:
    """Return the outlines of a drawing in mm (y down), largest first, and what was left out, in words.

    Raises UnusableInput for what is no SVG, XML that is cut off or builds itself up, or no closed shape.
    """
    data = _checked_xml(data, where)
    import svgelements

    try:
        drawing = svgelements.SVG.parse(BytesIO(data), reify=False, ppi=96.0)
        elements = list(_first(drawing.elements(), _MOST_ELEMENTS, where))
    except UnusableInput:
        raise
    except Exception as error:  # the reader raises whatever a malformed attribute leads to
        raise _unreadable(error, where) from error
    fills: list[BaseGeometry] = []
    strokes: list[BaseGeometry] = []
    left_out: dict[str, int] = {}
    points = 0
    for element in elements:
        reason = _why_left_out(element, svgelements)
        if reason:
            left_out[reason] = left_out.get(reason, 0) + 1
            continue
        if not isinstance(element, svgelements.Shape) or not _is_shown(element):
            continue
        filled, stroked = _paint(element, "fill"), _paint(element, "stroke")
        if not filled and not stroked:
            continue
        try:
            path = _as_path(element, svgelements)
        except Exception as error:  # a figure that is none shows only here
            raise _unreadable(error, where) from error
        loops = _loops(path, svgelements, closed_only=not filled)
        points += sum(len(loop) for loop in loops)
        if points > MOST_POINTS:
            raise UnusableInput(tr("the drawing is too large"), where=where, remedy=tr("save the outline alone"))
        check_points(loops, where=where)
        if filled:
            rule = str(element.values.get("fill-rule") or "nonzero").strip().lower()
            try:
                fills.append(filled_by_rule(loops, even_odd=rule == "evenodd"))
            except UnusableInput as error:
                raise error.at(where) from error
        else:
            strokes += [Polygon(loop) for loop in loops if len(loop) >= 3]
    area = shapely.union_all([*fills, nested(strokes)])
    return separate_outlines(area, where=where), [
        f"{count} {reason}" if count > 1 else reason for reason, count in left_out.items()
    ]


def _unreadable(error: Exception, where: str) -> UnusableInput:
    what = tr("the drawing cannot be read ({name})", name=type(error).__name__)
    return UnusableInput(what, where=where, remedy=tr("export it as plain SVG"))


def _as_path(element: Any, svg: Any) -> Any:
    """Return a shape as a path where it is drawn.

    Arcs become cubics first: the library turns a rectangle or leans a circle wrongly where it is left to it.
    """
    path = svg.Path(*element.segments(transformed=False))
    path.approximate_arcs_with_cubics()
    path *= element.transform
    return path.reify()


def _checked_xml(data: bytes, where: str) -> bytes:
    """Return the drawing with everything that only defines something put into <defs>, where nothing is shown."""
    from xml.etree.ElementTree import Element, tostring

    from defusedxml import DefusedXmlException
    from defusedxml.ElementTree import ParseError, fromstring

    if data[:2] == b"\x1f\x8b":
        data = _unzipped(data, where)
    if len(data) > MOST_BYTES:
        raise UnusableInput(tr("the file is larger than 24 MB"), where=where, remedy=tr("save the outline alone"))
    try:
        root = fromstring(data)
    except DefusedXmlException as error:
        raise UnusableInput(
            tr("the file defines entities, which this program does not unfold"),
            where=where,
            remedy=tr("export as plain SVG"),
        ) from error
    except (ParseError, ValueError, LookupError) as error:
        raise UnusableInput(
            tr("the file is not well-formed XML, perhaps it is cut off"), where=where, remedy=tr("export it again")
        ) from error
    if root.tag.rpartition("}")[2] != "svg":
        raise UnusableInput(tr("the file is no SVG drawing"), where=where, remedy=tr("export it as SVG"))
    depth, waiting = 0, [root]
    while waiting:
        waiting = [child for node in waiting for child in node]
        depth += 1
        if depth > 200:
            raise UnusableInput(
                tr("the drawing is nested too deep"), where=where, remedy=tr("ungroup and save it again")
            )
    _check_expansion(root, where)
    for parent in list(root.iter()):
        space, _, name = str(parent.tag).rpartition("}")
        if name == "defs":
            continue
        for index, child in enumerate(list(parent)):
            if str(child.tag).rpartition("}")[2] in _DEFINITIONS:
                shelf = Element(f"{space}}}defs" if space else "defs")
                shelf.append(child)
                parent[index] = shelf
    return bytes(tostring(root))


def _unzipped(data: bytes, where: str) -> bytes:
    """Return the drawing inside a gzip file, no more of it than may be read."""
    import zlib

    reader = zlib.decompressobj(wbits=31)
    try:
        plain = reader.decompress(data, MOST_BYTES + 1)
    except zlib.error as error:
        raise UnusableInput(tr("the packed drawing is damaged"), where=where, remedy=tr("export it again")) from error
    if not reader.eof and len(plain) <= MOST_BYTES:
        raise UnusableInput(tr("the packed drawing is cut off"), where=where, remedy=tr("export it again"))
    return plain


def _check_expansion(root: Any, where: str) -> None:
    """Raise UnusableInput where repeated parts would unfold to too many, or name themselves."""
    named = {node.get("id"): node for node in root.iter() if node.get("id")}
    sizes: dict[int, int] = {}
    busy: set[int] = set()

    def size(node: Any) -> int:
        key = id(node)
        if key in busy:
            raise UnusableInput(tr("a part repeats itself"), where=where, remedy=tr("export it again without clones"))
        if key not in sizes:
            busy.add(key)
            total = 1 + sum(size(child) for child in node)
            if str(node.tag).rpartition("}")[2] == "use":
                target = node.get("href") or node.get("{http://www.w3.org/1999/xlink}href") or ""
                other = named.get(target.lstrip("#"))
                if target.startswith("#") and other is not None:
                    total += size(other)
            busy.discard(key)
            sizes[key] = min(total, 10 * _MOST_ELEMENTS)
        return sizes[key]

    if size(root) > _MOST_ELEMENTS:
        raise UnusableInput(
            tr("the drawing holds more than {most_elements} parts", most_elements=_MOST_ELEMENTS),
            where=where,
            remedy=tr("save the outline alone"),
        )


def _first(elements: Any, most: int, where: str) -> Any:
    for count, element in enumerate(elements):
        if count >= most:
            raise UnusableInput(
                tr("the drawing holds more than {most} parts", most=most),
                where=where,
                remedy=tr("save the outline alone"),
            )
        yield element


def _why_left_out(element: Any, svg: Any) -> str:
    if isinstance(element, svg.Text):
        return "text"
    if isinstance(element, svg.Image):
        return "picture"
    if isinstance(element, svg.Shape):
        for name, word in (
            ("clip-path", tr("clipped part")),
            ("mask", tr("masked part")),
            ("filter", tr("filtered part")),
        ):
            value = element.values.get(name)
            if value and str(value).strip().lower() != "none":
                return word
    return ""


def _is_shown(element: Any) -> bool:
    values = element.values
    if str(values.get("display") or "").strip() == "none":
        return False
    if str(values.get("visibility") or "").strip() in {"hidden", "collapse"}:
        return False
    return _number(values.get("opacity"), 1.0) > 0


def _paint(element: Any, name: str) -> bool:
    written = element.values.get(name)
    if isinstance(written, str) and written.strip().lower().startswith("url("):
        return True
    if isinstance(written, str) and written.strip().lower() in _GONE:
        return False
    if _number(element.values.get(f"{name}-opacity"), 1.0) <= 0:
        return False
    colour = getattr(element, name)
    if colour is None or colour.value is None:
        # A shape that names no fill is painted black; one that names no stroke has none.
        return name == "fill" and written is None
    return bool(colour.alpha != 0)


def _number(text: object, otherwise: float) -> float:
    if text is None:
        return otherwise
    try:
        written = str(text).strip()
        value = float(written.rstrip("%")) / (100.0 if written.endswith("%") else 1.0)
    except ValueError:
        return otherwise
    return value if math.isfinite(value) else otherwise


def _loops(path: Any, svg: Any, *, closed_only: bool) -> list[Points]:
    """Return the loops of a path in mm; fills close open ones, strokes count only where they close."""
    loops = []
    for part in path.as_subpaths():
        points: list[Points] = []
        closed = False
        for segment in part:
            if isinstance(segment, svg.Move):
                continue
            closed = closed or isinstance(segment, svg.Close)
            if segment.start is None or segment.end is None:
                continue
            points.append(_flat(segment, svg))
        if not points:
            continue
        loop = np.concatenate(points)
        gap = float(np.hypot(*(loop[0] - loop[-1])))
        if closed_only and not closed and gap > 0.05:
            continue
        kept = np.concatenate([[True], np.hypot(*np.diff(loop, axis=0).T) > 1e-9])
        loop = loop[kept]
        if len(loop) > 1 and np.hypot(*(loop[0] - loop[-1])) <= 1e-9:
            loop = loop[:-1]
        if len(loop) >= 3:
            loops.append(loop)
    return loops


def _flat(segment: Any, svg: Any) -> Points:
    """Return points along one segment in mm, chords within FLATTEN_MM of the curve."""
    start, end = segment.start, segment.end
    if isinstance(segment, svg.Line | svg.Close):
        return np.array([[start.x, start.y], [end.x, end.y]]) * MM_PER_PX
    corners = np.array([[p.x, p.y] for p in (start, *_controls(segment, svg), end)]) * MM_PER_PX
    reach = float(np.hypot(*np.diff(corners, axis=0).T).sum())
    if not math.isfinite(reach):
        return corners
    # The sagitta of a chord over the length s of a bend of radius r is s²/8r, and r is of the reach's order.
    count = int(min(600, max(8, 1.5 * math.sqrt(reach / (8 * FLATTEN_MM)) + 4)))
    return np.asarray(segment.npoint(np.linspace(0.0, 1.0, count)), dtype=float) * MM_PER_PX


def _controls(segment: Any, svg: Any) -> list[Any]:
    if isinstance(segment, svg.CubicBezier):
        return [segment.control1, segment.control2]
    if isinstance(segment, svg.QuadraticBezier):
        return [segment.control]
    return [segment.point(share) for share in (0.125, 0.25, 0.375, 0.5, 0.625, 0.75, 0.875)]
