"""Ways to cut a board: which sets of blanks one board, or one piece of the shelf, can give.

A set that lies within another is left out, and of equal blanks only the first ones are taken: both say nothing new.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import combinations

from cozy_burrow.core.foam.boards import box_spot, labelled_outline, measured_outline, serves
from cozy_burrow.core.foam.nesting import MOST_TOGETHER, Cluster, Nester
from cozy_burrow.core.foam.purchase import Wanted
from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.model.vessels import Board, Piece, Stores
from cozy_burrow.core.progress import Token


class Way(Frozen):
    """A set of blanks (bits of their numbers), the cluster that they lie in, what its numbers stand for, its spot."""

    __slots__ = ("bits", "cluster", "numbers", "spot")

    def __init__(self, bits: int, cluster: Cluster, numbers: list[int], spot: tuple[float, float, float]) -> None:
        self.bits, self.cluster, self.numbers, self.spot = bits, cluster, numbers, spot


class Supply:
    """A kind of board that can be bought, or one piece of the shelf, with the ways to cut it."""

    def __init__(self, board: Board, piece: Piece | None) -> None:
        self.board, self.piece = board, piece
        self.outline = labelled_outline(board) if piece is None else measured_outline(piece)
        self.ways: list[Way] = []


def by_foam(wanted: Sequence[Wanted], supplies: Sequence[Supply]) -> list[tuple[list[int], list[Supply]]]:
    """Return the blanks that may share a board, together with all that serve any of them."""
    groups: list[tuple[list[int], set[int]]] = []
    for n, one in enumerate(wanted):
        fitting = {i for i, supply in enumerate(supplies) if serves(supply.board, one.sheet)}
        together = ([n], fitting)
        apart = []
        for numbers, others in groups:
            if others & fitting:
                together = (numbers + together[0], others | together[1])
            else:
                apart.append((numbers, others))
        groups = [*apart, together]
    return [(sorted(numbers), [supplies[i] for i in sorted(fitting)]) for numbers, fitting in groups]


def find_ways(group: list[int], wanted: Sequence[Wanted], supplies: list[Supply], stores: Stores, token: Token) -> None:
    """Find for every supply the sets of blanks that it can give, largest first; a set within a set is left out."""
    sizes = [(one.outline.bounds[2] - one.outline.bounds[0], one.outline.bounds[3] - one.outline.bounds[1])
             for one in supplies]  # fmt: skip
    nests = {
        turn: Nester(
            [wanted[n].outline for n in group],
            cutting=stores.cutting,
            kerf_mm=stores.kerf_mm,
            may_turn=turn,
            largest_mm=(max(map(max, sizes)), max(map(min, sizes))),
        )
        for turn in {not one.board.grain for one in supplies}
    }
    areas = [wanted[n].outline.area for n in group]
    alike = alike_in(group, wanted)
    fits = [[serves(one.board, wanted[n].sheet) for n in group] for one in supplies]
    for count in range(min(MOST_TOGETHER, len(group)), 0, -1):
        for chosen in combinations(range(len(group)), count):
            if not _leading(chosen, alike):
                continue
            token.step(0.0)
            bits = sum(1 << group[n] for n in chosen)
            area = sum(areas[n] for n in chosen)
            for one, fit in zip(supplies, fits):
                known = any(bits & ~way.bits == 0 for way in one.ways)
                if known or area > one.outline.area or not all(fit[n] for n in chosen):
                    continue
                for cluster in nests[not one.board.grain].frontier(sum(1 << n for n in chosen)):
                    spot = _spot(one, cluster)
                    if spot is not None:
                        one.ways.append(Way(bits, cluster, group, spot))
                        break


def alike_in(group: list[int], wanted: Sequence[Wanted]) -> list[int]:
    """Return for each blank of a group the place of the first one with the same foam and outline."""
    firsts: list[int] = []
    for n, number in enumerate(group):
        same = (m for m in range(n) if firsts[m] == m and same_blank(wanted[group[m]], wanted[number]))
        firsts.append(next(same, n))
    return firsts


def same_blank(one: Wanted, other: Wanted) -> bool:
    return one.sheet == other.sheet and one.outline.equals_exact(other.outline, 1e-6)


def _leading(chosen: tuple[int, ...], alike: list[int]) -> bool:
    """Return whether of equal blanks the first ones are chosen: other choices are the same way to cut."""
    taken = set(chosen)
    return all(earlier in taken for n in chosen for earlier in range(n) if alike[earlier] == alike[n])


def _spot(supply: Supply, cluster: Cluster) -> tuple[float, float, float] | None:
    if supply.piece is None:
        board = supply.board
        if cluster.width_mm <= board.width_mm + 1e-6 and cluster.depth_mm <= board.depth_mm + 1e-6:
            return 0.0, 0.0, 0.0
        if not board.grain and cluster.depth_mm <= board.width_mm + 1e-6 and cluster.width_mm <= board.depth_mm + 1e-6:
            return cluster.depth_mm, 0.0, 90.0
        return None
    return box_spot(supply.outline, cluster.width_mm, cluster.depth_mm)
