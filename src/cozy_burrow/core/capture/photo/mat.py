"""What is printed on a page of the reference mat, and where: markers in the border, two scales, dots.

Page millimetres: origin at the top left corner of the page, x to the right, y down. The same description is
printed, looked for in a photo, and taken out of the picture again.

Marker   a black square with a pattern that a known library reads; its number tells paper, page and place
Band     the border with the markers; things lie in the field inside it
Dots     small and far enough apart that the field still looks white, and nowhere in step with anything else: where
         they are seen, in whatever light, there is paper
"""

from __future__ import annotations

import tomllib
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.assets.read import asset
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Record
from cozy_burrow.core.tongue import tr

MARKER_MM = 13.0
MARKER_CELLS = 7  # 5 x 5 cells of pattern and a black rim
BAND_FROM_MM = 7.0  # most printers leave 4 to 6 mm white
FIELD_FROM_MM = BAND_FROM_MM + MARKER_MM + 6.5  # marker, its white rim, the scale
_PITCH_MM = 22.0  # 9 mm of white between markers, so that their rims are never covered together
MOST_PAGES = 4
_BLOCK = 60  # numbers kept for a page: the 1000 patterns of the dictionary hold 4 papers of 4 pages
_SCALE_STEP_MM = 50.0
# How pitch, size and jitter were chosen: docs/decisions.md.
DOT_MM = 0.34
DOT_PITCH_MM = 1.4
_DOT_JITTER_MM = 0.25  # regular rows would be in step with rulers, knurls and screens
_DOT_SEED = 7
_DOTS_FROM_MM = 6.5
_OFF_MARKERS_MM, _OFF_WORDS_MM = 2.8, 0.7  # a marker's white rim is what it is found by
PAPERS = ("a4", "a3", "letter", "tabloid")

Box = tuple[float, float, float, float]


class Paper(Record, frozen=True, kw_only=True):
    """A sheet of paper in millimetres, upright; a roll is as long as is asked for and says 0 for its height."""

    width_mm: float
    height_mm: float

    @property
    def is_roll(self) -> bool:
        """Whether it is cut off a roll."""
        return self.height_mm == 0.0


@lru_cache(maxsize=1)
def papers() -> dict[str, Paper]:
    """Return the papers that the program knows, by name."""
    data = tomllib.loads(asset("papers.toml").read_text(encoding="utf-8"))
    return {name: Paper(**size) for name, size in data.items()}


class Marker(Record, frozen=True, kw_only=True):
    """One marker: its number in the dictionary and its top left corner on the page."""

    number: int
    x_mm: float
    y_mm: float

    @property
    def corners_mm(self) -> NDArray[np.float64]:
        """(4, 2) corners, clockwise from the top left one as the pattern is read."""
        x, y, s = self.x_mm, self.y_mm, MARKER_MM
        return np.array([[x, y], [x + s, y], [x + s, y + s], [x, y + s]])


class MatPage(Record, frozen=True, kw_only=True):
    """One page of the mat."""

    paper: str
    page: int
    width_mm: float
    height_mm: float
    markers: tuple[Marker, ...]
    scale_x_mm: float
    scale_y_mm: float

    @property
    def field_mm(self) -> Box:
        """The field (left, top, right, bottom) that carries nothing but dots."""
        return FIELD_FROM_MM, FIELD_FROM_MM, self.width_mm - FIELD_FROM_MM, self.height_mm - FIELD_FROM_MM

    @property
    def text_boxes_mm(self) -> tuple[Box, ...]:
        """Where words and figures stand: along the right and the bottom of the field."""
        low = self.height_mm - FIELD_FROM_MM
        right = self.width_mm - FIELD_FROM_MM
        return (FIELD_FROM_MM, low + 1.0, right, low + 5.0), (right + 1.0, FIELD_FROM_MM, right + 5.0, low)


def marker_number(*, paper: str, page: int, place: int) -> int:
    """Return the number of the marker at a place of a page (1 is the first page)."""
    return (PAPERS.index(paper) * MOST_PAGES + page - 1) * _BLOCK + place


def page_of_marker(number: int) -> tuple[str, int] | None:
    """Return paper and page of a marker's number, None for one that is on no page."""
    block, place = divmod(number, _BLOCK)
    if block >= len(PAPERS) * MOST_PAGES:
        return None
    paper, page = PAPERS[block // MOST_PAGES], block % MOST_PAGES + 1
    return (paper, page) if place < len(mat_page(paper, page).markers) else None


def paper_size(paper: str) -> Paper:
    """Return a paper's size; raises UnusableInput for a name that is not known."""
    if paper not in PAPERS:
        raise UnusableInput(
            tr("there is no paper ‘{paper}’", paper=paper),
            where="--paper",
            remedy=tr("give one of {list}", list=", ".join(PAPERS)),
        )
    return papers()[paper]


@lru_cache(maxsize=16)
def mat_page(paper: str, page: int = 1) -> MatPage:
    """Return what is on a page of the mat. Raises UnusableInput for an unknown paper or page."""
    size = paper_size(paper)
    if not 1 <= page <= MOST_PAGES:
        raise UnusableInput(
            tr("a mat has no page {page}", page=page),
            where="--pages",
            remedy=tr("give 1 to {most_pages}", most_pages=MOST_PAGES),
        )
    across, down = size.width_mm - MARKER_MM - 2 * BAND_FROM_MM, size.height_mm - MARKER_MM - 2 * BAND_FROM_MM
    columns, rows = int(across // _PITCH_MM), int(down // _PITCH_MM)
    xs = [BAND_FROM_MM + across * k / columns for k in range(columns + 1)]
    ys = [BAND_FROM_MM + down * k / rows for k in range(rows + 1)]
    places = [(x, ys[0]) for x in xs] + [(xs[-1], y) for y in ys[1:]]
    places += [(x, ys[-1]) for x in reversed(xs[:-1])] + [(xs[0], y) for y in reversed(ys[1:-1])]
    return MatPage(
        paper=paper,
        page=page,
        width_mm=size.width_mm,
        height_mm=size.height_mm,
        markers=tuple(
            Marker(number=marker_number(paper=paper, page=page, place=place), x_mm=round(x, 3), y_mm=round(y, 3))
            for place, (x, y) in enumerate(places)
        ),
        scale_x_mm=(size.width_mm - 2 * FIELD_FROM_MM) // _SCALE_STEP_MM * _SCALE_STEP_MM,
        scale_y_mm=(size.height_mm - 2 * FIELD_FROM_MM) // _SCALE_STEP_MM * _SCALE_STEP_MM,
    )


@lru_cache(maxsize=1)
def _dictionary() -> object:
    import cv2

    return cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_5X5_1000)


def marker_cells(number: int) -> NDArray[np.bool_]:
    """Return the (7, 7) cells of a marker, true where black."""
    picture = _dictionary().generateImageMarker(number, MARKER_CELLS, borderBits=1)  # type: ignore[attr-defined]
    return np.asarray(picture) < 128


def scale_ticks(page: MatPage) -> list[Box]:
    """Return the ticks of both scales: a millimetre apart, longer at 5, 10 and 50, their middles on the figure."""
    ticks: list[Box] = []
    half = 0.1
    start, base = FIELD_FROM_MM, FIELD_FROM_MM - 1.0
    for length, along_x in ((page.scale_x_mm, True), (page.scale_y_mm, False)):
        for mm in range(int(length) + 1):
            reach = 4.0 if mm % 50 == 0 else 2.6 if mm % 10 == 0 else 1.8 if mm % 5 == 0 else 1.1
            at = start + mm
            box = (at - half, base - reach, at + half, base)
            ticks.append(box if along_x else (box[1], box[0], box[3], box[2]))
    return ticks


def dot_boxes(page: MatPage) -> list[Box]:
    """Return the dots: squares on a grid over the page, each shifted by chance, the same on every print.

    They keep off markers, scales and words, and off the rim that printers leave white.
    """
    columns, rows = (int((size - 2 * _DOTS_FROM_MM) / DOT_PITCH_MM) for size in (page.width_mm, page.height_mm))
    chance = np.random.default_rng(_DOT_SEED)
    shift = chance.uniform(-_DOT_JITTER_MM, _DOT_JITTER_MM, (rows, columns, 2))
    x = (page.width_mm - (columns - 1) * DOT_PITCH_MM) / 2 + np.arange(columns) * DOT_PITCH_MM + shift[..., 0]
    y = (page.height_mm - (rows - 1) * DOT_PITCH_MM) / 2 + np.arange(rows)[:, None] * DOT_PITCH_MM + shift[..., 1]
    free = np.ones(x.shape, dtype=bool)
    for left, top, right, low in _reserved(page):
        free &= (x < left) | (x > right) | (y < top) | (y > low)
    half = DOT_MM / 2
    corners = np.round(np.stack([x - half, y - half, x + half, y + half], axis=-1)[free], 3)
    return [(a, b, c, d) for a, b, c, d in corners.tolist()]


def _reserved(page: MatPage) -> list[Box]:
    """Return what the middles of dots keep off."""
    markers = [
        _grown((one.x_mm, one.y_mm, one.x_mm + MARKER_MM, one.y_mm + MARKER_MM), _OFF_MARKERS_MM)
        for one in page.markers
    ]
    ticks = np.array(scale_ticks(page)).reshape(-1, 4)
    along_x = (ticks[:, 2] - ticks[:, 0]) < 1.0
    strips = []
    for chosen in (ticks[along_x], ticks[~along_x]):
        if len(chosen):
            (left, top), (right, low) = chosen[:, :2].min(axis=0), chosen[:, 2:].max(axis=0)
            strips.append((float(left), float(top), float(right), float(low)))
    return markers + [_grown(one, _OFF_WORDS_MM) for one in (*strips, *page.text_boxes_mm)]


def _grown(box: Box, by_mm: float) -> Box:
    left, top, right, low = box
    return left - by_mm, top - by_mm, right + by_mm, low + by_mm


def printed_boxes(page: MatPage) -> list[Box]:
    """Return everything that is printed besides words: dots, marker cells, ticks."""
    return black_boxes(page) + dot_boxes(page)


def black_boxes(page: MatPage) -> list[Box]:
    """Return what is printed round the field besides words: marker cells (runs of a row joined) and ticks."""
    boxes: list[Box] = []
    cell = MARKER_MM / MARKER_CELLS
    for marker in page.markers:
        for row, cells in enumerate(marker_cells(marker.number)):
            edges = np.flatnonzero(np.diff(np.concatenate([[0], cells.astype(np.int8), [0]])))
            for first, last in zip(edges[::2], edges[1::2]):
                boxes.append(
                    (
                        marker.x_mm + float(first) * cell,
                        marker.y_mm + row * cell,
                        marker.x_mm + float(last) * cell,
                        marker.y_mm + (row + 1) * cell,
                    )
                )
    return boxes + scale_ticks(page)
