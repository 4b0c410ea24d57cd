"""Kinds of finger pulls, each declared once: how it lies, what it takes out, when it is chosen, what it is called.

Whatever handles pulls asks their kind; what a kind does that no other does stands beside that computation, in a table
by kind (`pulls/by_kind`, `ground/grips`).
"""

from __future__ import annotations

from typing import Literal

from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.model.records import FingerPull
from cozy_burrow.core.tongue import tr

# Discs about its points, or a band from its first point to its second.
Shape = Literal["discs", "round band", "flat band"]


class PullKind(Frozen):
    """One kind. `name` is what project files say.

    called: in words. points: that place it. shared: lies in the plan and may serve several, else it lies in the
    coordinates of its one thing and goes with it. opens: makes room beside the thing. deeper: layers that it goes below
    its thing's floor. cuts: whether foam is taken out. cost: beside other kinds, when the program looks for a place
    beside a thing; None: it does not do so with this kind. size: the rule that says how wide it then is. widens: it
    grows where fingers must reach far down. narrows: what it costs more when it is as narrow as a notch, for want of
    room; None: it never is. out: share of its radius by which its middle lies off the pocket's edge.
    alone: what layouts call one of its areas. melted: a hot pin makes it, where there is one.
    """

    __slots__ = (
        "alone", "called", "cost", "cuts", "deeper", "melted", "name", "narrows", "opens", "out", "points", "shape",
        "shared", "size", "widens",
    )  # fmt: skip

    def __init__(
        self,
        name: str,
        called: str,
        *,
        points: int = 2,
        shape: Shape = "discs",
        shared: bool = False,
        opens: bool = True,
        deeper: int = 0,
        cuts: bool = True,
        cost: float | None = None,
        widens: bool = False,
        melted: bool = False,
        narrows: float | None = None,
        out: float = 0.0,
        size: str = "",
        alone: str = "",
    ) -> None:
        self.name, self.called, self.points, self.shape, self.shared = name, called, points, shape, shared
        self.opens, self.deeper, self.cuts, self.cost = opens, deeper, cuts, cost
        self.narrows, self.melted = narrows, melted
        self.widens, self.out, self.size, self.alone = widens, out, size, alone or name

    @property
    def both_sides(self) -> bool:
        """Whether a hand takes hold on both sides of the thing."""
        return self.shape == "discs" and self.points == 2

    @property
    def is_band(self) -> bool:
        """Whether it runs from its first point to its second."""
        return self.shape != "discs"


PULL_KINDS: dict[str, PullKind] = {}  # in the order in which they are offered


def pull_kind(kind: PullKind) -> PullKind:
    """Make a kind known. Raises ValueError for a name that is taken, or a kind to choose that says no size."""
    if kind.name in PULL_KINDS or (kind.cost is not None and not kind.size):
        raise ValueError(kind.name)
    PULL_KINDS[kind.name] = kind
    return kind


def kind_of_pull(pull: FingerPull) -> PullKind:
    """Return the kind of a pull."""
    return PULL_KINDS[pull.kind]


_NOTCH_OUT = 0.404  # of its radius: so far outside the edge a circle's middle lies with three quarters of it beyond

# Costs: two circles are the surest hold, a notch wants a hot iron, one side tilts the thing, a narrow circle lets no
# more than a fingertip in.
CIRCLE_PAIR = pull_kind(
    PullKind("circle_pair", tr("pair of circles"), cost=0.0, widens=True, narrows=0.5, size="circle_mm", alone="circle")
)
NOTCH_PAIR = pull_kind(
    PullKind(
        "notch_pair",
        tr("pair of melted notches"),
        cost=0.25,
        out=_NOTCH_OUT,
        size="notch_mm",
        alone="notch",
        melted=True,
    )
)
CIRCLE = pull_kind(
    PullKind("circle", tr("single circle"), points=1, cost=0.6, widens=True, narrows=0.3, size="circle_mm")
)
NOTCH = pull_kind(
    PullKind("notch", tr("single notch"), points=1, cost=0.8, out=_NOTCH_OUT, size="notch_mm", melted=True)
)
TRENCH = pull_kind(PullKind("trench", tr("trench"), shape="round band", shared=True, size="trench_mm"))
PRESS = pull_kind(PullKind("press", tr("press point"), shape="flat band", opens=False, deeper=1))
RIBBON = pull_kind(PullKind("ribbon", tr("ribbon under it"), shape="flat band", opens=False, cuts=False))
