"""Ways to cut a board: which sets of blanks one board, or one piece of the shelf, can give.

A set that lies within another is left out, and of equal blanks only the first ones are taken: both say nothing new.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import combinations

from cozy_burrow.core.foam.boards import box_spot, labelled_outline, measured_outline, serves
from cozy_burrow.core.foam.nesting import FEW_TOGETHER, MANY, MOST_TOGETHER, Cluster, Nester
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
    """Find for every supply the sets of blanks that it can give; a set within a set is left out."""
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
    alike = alike_in(group, wanted)
    fits = [[serves(one.board, wanted[n].sheet) for n in group] for one in supplies]
    # Upwards, since a set goes on a board only where every smaller part of it does.
    going: list[dict[tuple[int, ...], Way]] = [{} for _ in supplies]
    most = most_together(len(group))
    for count in range(1, most + 1):
        for chosen in combinations(range(len(group)), count):
            if not _leading(chosen, alike):
                continue
            token.step(count / (most + 1))
            bits = sum(1 << group[n] for n in chosen)
            for one, fit, known in zip(supplies, fits, going):
                if not all(fit[n] for n in chosen) or not _parts_go(chosen, alike, known):
                    continue
                for cluster in nests[not one.board.grain].frontier(sum(1 << n for n in chosen)):
                    spot = _spot(one, cluster)
                    if spot is not None:
                        known[chosen] = Way(bits, cluster, group, spot)
                        break
    for one, fit, known in zip(supplies, fits, going):
        if len(group) > most and one.piece is None:
            one.ways += _rows(group, [n for n in range(len(group)) if fit[n]], one, nests[not one.board.grain])
        found = sorted(known.values(), key=lambda way: -way.bits.bit_count())
        for way in found:
            if not any(way.bits & ~other.bits == 0 for other in one.ways):
                one.ways.append(way)


def most_together(count: int) -> int:
    """Return how many of so many blanks are tried on one board in every way."""
    return min(count, MOST_TOGETHER if count <= MANY else FEW_TOGETHER)


def _rows(group: list[int], waiting: list[int], supply: Supply, nest: Nester) -> list[Way]:
    """Return plain ways that take many blanks each, until all are taken that go on the board."""
    found = []
    while waiting:
        cluster = nest.rows(waiting, supply.board.width_mm, supply.board.depth_mm)
        if cluster is None:
            break
        taken = {n for n, _ in cluster.laid}
        found.append(Way(sum(1 << group[n] for n in taken), cluster, group, (0.0, 0.0, 0.0)))
        waiting = [n for n in waiting if n not in taken]
    return found


def _parts_go(chosen: tuple[int, ...], alike: list[int], known: dict[tuple[int, ...], Way]) -> bool:
    """Return whether every set with one blank less is known to go; equal blanks stand for each other."""
    if len(chosen) == 1:
        return True
    return all(_canon(chosen[:n] + chosen[n + 1 :], alike) in known for n in range(len(chosen)))


def _canon(chosen: tuple[int, ...], alike: list[int]) -> tuple[int, ...]:
    """Return the same set with the first ones of equal blanks."""
    used: dict[int, int] = {}
    found = []
    for n in chosen:
        kind = alike[n]
        rank = used[kind] = used.get(kind, -1) + 1
        found.append([m for m in range(len(alike)) if alike[m] == kind][rank])
    return tuple(sorted(found))


def alike_in(group: list[int], wanted: Sequence[Wanted]) -> list[int]:
    """Return for each blank of a group the place of the first one with the same foam and outline."""
    firsts: list[int] = []
    for n, number in enumerate(group):
        same = (m for m in range(n) if firsts[m] == m and same_blank(wanted[group[m]], wanted[number]))
        firsts.append(next(same, n))
    return firsts


def same_blank(one: Wanted, other: Wanted) -> bool:
    """Return whether two blanks are alike in foam and outline."""
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
