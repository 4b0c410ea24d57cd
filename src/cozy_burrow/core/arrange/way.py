"""One way to go about a search: what counts, from which corner, and how much chance has a say."""

from __future__ import annotations

from collections.abc import Mapping

from cozy_burrow.core.arrange.order import Spread
from cozy_burrow.core.arrange.wishes import WishName
from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.model.records import Point


class Way(Frozen):
    """One way to go about it: weights of the wishes, the corner filled first, the direction liked, and the seed."""

    __slots__ = ("corner", "lanes", "lengthways", "name", "noise", "seed", "weights")

    def __init__(
        self,
        weights: Mapping[WishName, float],
        *,
        seed: int,
        corner: Point = (-1.0, 1.0),
        lengthways: float = 0.0,
        noise: float = 0.0,
        lanes: bool = False,
        name: str = "",
    ) -> None:
        """noise: how much chance has a say where each piece lies in the first layout, against wishes of about 1.

        lanes: everything lies in lanes wherever that goes.
        """
        self.weights, self.seed, self.corner, self.lengthways, self.name = weights, seed, corner, lengthways, name
        self.noise, self.lanes = noise, lanes

    @property
    def is_tight(self) -> bool:
        """Whether room counts for more than everything else together."""
        return self.weights.get("room", 0.0) > 0.5 * sum(self.weights.values())

    @property
    def is_carried(self) -> bool:
        """Whether balance counts for more than anything else."""
        return self.weights.get("balance", 0.0) > max(
            (weight for name, weight in self.weights.items() if name != "balance"), default=0.0
        )

    @property
    def spread(self) -> Spread:
        """What becomes of room that is left: kept in one piece, given to the gaps, or spread all over."""
        if self.is_tight:
            return "no"
        return "all" if self.is_carried else "gaps"
