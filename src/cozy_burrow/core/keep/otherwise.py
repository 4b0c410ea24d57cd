"""Whether what lies in a place is what should, and as it should: end for end, or something else."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.keep.edges import Edges, EdgesSeen
from cozy_burrow.core.keep.empty_look import Mask
from cozy_burrow.core.keep.looked import Looked
from cozy_burrow.core.keep.odds import MOST_ODDS, Weighed, likely_of_colour, likely_the_very, likely_thing
from cozy_burrow.core.keep.place import FEWEST_CELLS, Place, cells_of, said
from cozy_burrow.core.keep.rays import Hits
from cozy_burrow.core.keep.supposed import in_thought
from cozy_burrow.core.keep.turned import end_for_end, lying_turned
from cozy_burrow.core.relief.grid import Grid, Window
from cozy_burrow.core.tongue import tr

_FEWEST_MM2 = 40.0
# Odds, as photos of simulated drawers part them: what lies as it should has 0.7 at most (of 800, three above nought),
# turned things 1.2 and more, but for one in ten, also where the half that they leave bare is too dark to look so; 1.4
# at most where the light of other things has 3.7 and more.
_TURNED, _TURNED_LOOK, _BARE_ODDS, _THERE_ODDS = 1.2, 1.5, -0.5, 1.0
_TURNED_PERHAPS = 0.5
# Of the balance of edges end for end: empty places had nought at most, five of seven turned things 0.34 and more.
_TURNED_EDGES = 0.3
_UNLIKE = 2.0
# Shares of a place that look clearly empty, and clearly like a thing, smoothed over more than splinters and glints.
_PIECE_MM, _CLEARLY = 1.2, 0.8
_MOST_BARE, _LEAST_THERE = 0.15, 0.2
# With edges that don't speak against its own thing, or speak for it clearly, more may look bare: shade on dark things.
_EDGES_AGAINST, _MOST_BARE_BY_EDGES = -0.12, 0.25
_EDGES_FOR, _OUTLINE_SEEN, _LEAST_OF_BOTH = 0.35, 0.15, 0.3
# Much bare, much not, its outline not clear, and not an empty pocket by its edges either: something else.
_MUCH_BARE, _MUCH_THERE, _OUTLINE_NOT, _POCKET_NOT = 0.45, 0.25, 0.12, -0.6
# One piece of a place surely empty, another surely not: shares that no place with its own thing in it has both of.
_SURELY, _LEAST_SURELY, _TURNED_AT_ALL = 2.2, 0.25, 0.8
# Smaller pieces do where they are large in themselves: of things as large as a hand, none in its place had both.
_LARGE_SHARE, _LARGE_MM2 = 0.12, 800.0
# Or so much clearly empty and so much clearly not: of some 1,000 places with their own thing in them one was seen to
# have both, and its outline was clear.
_BOTH = 0.4
# A black thing in shade had 0.35, and neither its own edges nor those of its pocket were seen; of 442 empty places that
# were called so one had less than half, and empty pockets of plain dark foam, whose rim and bottom are clear.
_LEAST_BARE = 0.5
_TRACE, _TRACE_MM2, _TRACED = 0.06, 60.0, 1.2  # of a thing, in a place that looks empty


def looked_at_turned(
    ground: Ground, now: Looked, then: Looked | None, said_by: Weighed, place: Place
) -> tuple[Place, float]:
    """Return what is said of a place, looked at whether its thing lies in it end for end, and the odds of that.

    Odds are nought where its outline is the same both ways.
    """
    if place.seen < FEWEST_CELLS:
        return place, 0.0
    own = next(one for one in now.lying if one.placement.id == place.key)
    thought = in_thought(ground, now, own, lying_turned(own))
    grid, window, other, is_other, is_own = (
        thought.grid, thought.window, thought.hits, thought.is_other, thought.is_own,
    )  # fmt: skip
    told, there = now.look.told[window], said_by.odds[window].copy()
    only_own, only_other, either = is_own & ~is_other & told, is_other & ~is_own & told, is_own & is_other & told
    shown = either & (there > _THERE_ODDS)
    if int(shown.sum()) >= FEWEST_CELLS:  # what it covers either way shows its colour
        look = now.look.part(window)
        like = likely_of_colour(look, shown, only_other) - said_by.empty[window][only_other]
        there[only_other] = np.clip(np.maximum(there[only_other], like - math.log(2)), -MOST_ODDS, MOST_ODDS)
    count = int(only_own.sum() + only_other.sum())
    # What only the one covers looks empty, what only the other covers does not.
    speaks = float(there[only_other].sum() - there[only_own].sum()) / max(1, count)
    enough = count / grid.px_per_mm**2 > _FEWEST_MM2
    is_bare, is_there = _half(there[only_own]) < _BARE_ODDS, _half(there[only_other]) > _THERE_ODDS
    is_there &= _half(there[either]) > 0
    if enough and speaks > _TURNED and is_there and (is_bare or place.state != "empty"):
        return said(place, "turned", tr("its outline lies the other way round")), speaks
    if enough and speaks > _TURNED_PERHAPS and is_there and place.state != "empty":
        return said(place, "unsure", tr("it may lie the other way round")), speaks
    if enough and place.state == "empty":  # as dark as the shade of its pocket; but its outline is there
        edges = Edges(now.look.part(window), other, now.empty.part(window)).of(is_other & told)
        if edges.balance > _TURNED_EDGES:
            return said(place, "turned", tr("its outline lies the other way round")), speaks
        if edges.balance > _TURNED_EDGES / 2:
            return said(place, "unsure", tr("it may lie the other way round")), speaks
    if then is not None and place.state == "filled":
        middle = end_for_end(own)[1]
        looks = _looks_turned(now, then, window, grid, other, either, middle)
        if looks > _TURNED_LOOK:
            return said(place, "unsure", tr("it looks as in the other photo, the other way round")), speaks
    return place, speaks if enough else 0.0


def _looks_turned(
    now: Looked, then: Looked, window: Window, grid: Grid, other: Hits, cells: Mask, middle: tuple[float, float]
) -> float:
    """Return how much likelier the light of a thing is of it end for end than of it as it should lie, in the mean."""
    rows, columns = window
    look = now.look.part(window)
    own = now.full.part(window)
    straight, known = likely_the_very(look, then, own)
    # The same place of the thing, were it not turned: on the other side of its middle.
    whole = now.grid
    half_column = (middle[0] - whole.left_mm) * whole.px_per_mm - 0.5
    half_row = (middle[1] - whole.top_mm) * whole.px_per_mm - 0.5
    back = Hits(
        own.owner,
        other.height_mm,
        other.side,
        np.asarray(2 * half_column - (other.column + columns.start), dtype=np.float32),
        np.asarray(2 * half_row - (other.row + rows.start), dtype=np.float32),
    )
    turned, known_turned = likely_the_very(look, then, back)
    both = cells & known & known_turned
    if both.sum() / grid.px_per_mm**2 < _FEWEST_MM2:
        return 0.0
    # A round shiny thing looks a little different in every light: only what is like no thing of its place is turned.
    unlike = likely_thing(look, both) - straight[both]
    if float(np.clip(unlike, -MOST_ODDS, MOST_ODDS).mean()) < _UNLIKE / 2:
        return 0.0
    return float(np.clip(turned - straight, -MOST_ODDS, MOST_ODDS)[both].mean())


def looked_at_other(
    now: Looked,
    odds: NDArray[np.float64],
    very: tuple[NDArray[np.float64], Mask] | None,
    place: Place,
    turned_odds: float,
) -> Place:
    """Return what is said of a place, looked at whether what lies there is what should.

    turned_odds: of its own thing end for end, as `looked_at_turned` has them.
    """
    if place.state == "turned" or place.seen < FEWEST_CELLS:
        return place
    cells = cells_of(now, place.key)
    if very is not None:
        likely, known = very
        both = cells & known
        if both.sum() > FEWEST_CELLS:
            less = likely_thing(now.look, both) - likely[both]
            if float(np.clip(less, -MOST_ODDS, MOST_ODDS).mean()) > _UNLIKE and place.state == "filled":
                return said(place, "other", tr("it does not look as in the photo with everything in its place"))
    # A smaller thing leaves a part of the place empty, in one piece.
    smooth = _smooth(now, odds, cells)
    bare, there = _bare(smooth, cells), _there(smooth, cells)
    edges = now.edges.of(cells)
    if place.state == "filled" and _is_its_own(edges, bare, there):
        return place
    if bare > _MOST_BARE and there > _LEAST_THERE:
        why = tr("something lies there, and {share:.0%} of the place is empty", share=bare)
        surely = _surely(now, smooth, cells)
        share = min(surely) / max(1, int(cells.sum()))
        is_large = share > _LARGE_SHARE and min(surely) / now.grid.px_per_mm**2 > _LARGE_MM2
        are_both = min(bare, there) > _BOTH and not _is_outline(edges)
        is_much = bare > _MUCH_BARE and there > _MUCH_THERE
        is_no_edge = edges.thing < _OUTLINE_NOT and edges.balance > _POCKET_NOT
        is_another = share > _LEAST_SURELY or is_large or are_both or (is_much and is_no_edge)
        is_another &= turned_odds < _TURNED_AT_ALL
        return said(place, "other" if is_another else "unsure", why)
    trace = float((smooth[cells] > _TRACED).mean())
    if place.state == "empty" and trace > _TRACE and trace * cells.sum() / now.grid.px_per_mm**2 > _TRACE_MM2:
        return said(place, "unsure", tr("it looks empty, but for {share:.0%} of it", share=trace))
    if place.state == "empty" and bare < _LEAST_BARE and edges.pocket < 0:
        return said(place, "unsure", tr("only {share:.0%} of it clearly looks empty", share=bare))
    return place


@dataclass(frozen=True)
class SharesSeen:
    """Which share of a place clearly looks bare, which clearly not; surely: in one large piece each, beyond doubt."""

    bare: float
    there: float
    surely: bool


def shares_of(now: Looked, odds: NDArray[np.float64], key: str) -> SharesSeen:
    """Return how much of a place looks bare and how much does not."""
    cells = cells_of(now, key)
    if not cells.any():
        return SharesSeen(0.0, 0.0, False)
    smooth = _smooth(now, odds, cells)
    surely = min(_surely(now, smooth, cells)) / int(cells.sum()) > _LEAST_SURELY
    return SharesSeen(_bare(smooth, cells), _there(smooth, cells), surely)


def _smooth(now: Looked, odds: NDArray[np.float64], cells: Mask) -> NDArray[np.float32]:
    """Return the odds of some cells, without splinters and glints."""
    import cv2

    within = np.where(cells, odds, 0.0).astype(np.float32)
    return np.asarray(cv2.GaussianBlur(within, (0, 0), _PIECE_MM * now.grid.px_per_mm), dtype=np.float32)


def _bare(smooth: NDArray[np.float32], cells: Mask) -> float:
    return float((smooth[cells] < -_CLEARLY).mean())


def _there(smooth: NDArray[np.float32], cells: Mask) -> float:
    return float((smooth[cells] > _CLEARLY).mean())


def _surely(now: Looked, smooth: NDArray[np.float32], cells: Mask) -> tuple[int, int]:
    """Return the cells of the largest piece that is surely bare, and of the largest that surely is not."""
    bare = cells & now.shine.may_be_lit & (smooth < -_SURELY)  # what would be dark anyway says little
    return _largest(bare), _largest(cells & (smooth > _SURELY))


def _is_its_own(edges: EdgesSeen, bare: float, there: float) -> bool:
    """Return whether edges say that what looks bare in a filled place is shade, or a part of the foam's colour."""
    if _is_outline(edges):
        return min(bare, there) < _LEAST_OF_BOTH
    return edges.balance > _EDGES_AGAINST and bare < _MOST_BARE_BY_EDGES


def _is_outline(edges: EdgesSeen) -> bool:
    """Return whether a place's own thing is seen by its outline."""
    return edges.balance > _EDGES_FOR and edges.thing > _OUTLINE_SEEN


def _largest(cells: Mask) -> int:
    """Return how many cells the largest connected piece has."""
    import cv2

    count, _, told, _ = cv2.connectedComponentsWithStats(cells.astype(np.uint8))
    return int(told[1:, cv2.CC_STAT_AREA].max()) if count > 1 else 0


def _half(values: NDArray[np.float64]) -> float:
    return float(np.median(values)) if len(values) else 0.0
