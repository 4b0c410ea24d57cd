"""The stages of the work, in their order: what each is called, what it asks, what stands beside its scene."""

from __future__ import annotations

from typing import Literal, NamedTuple

from cozy_burrow.core.tongue import tr

Stage = Literal["gather", "measure", "lay-out", "sink", "grip", "cut", "keep"]


class About(NamedTuple):
    """What is said of a stage. panel: what stands left of its scene."""

    title: str
    question: str
    panel: str


ABOUT: dict[Stage, About] = {
    "gather": About(tr("Gather"), tr("What goes in, and what shape is it?"), tr("Ways to gather an item")),
    "measure": About(tr("Measure"), tr("What is the inside like, and which foam fills it?"), tr("Pages of Measure")),
    "lay-out": About(tr("Lay out"), tr("Where does everything lie?"), tr("Items and wishes")),
    "sink": About(tr("Sink"), tr("How deep does each item go?"), tr("Seat and layers")),
    "grip": About(tr("Grip"), tr("How does each item come out again?"), tr("Finger pulls")),
    "cut": About(tr("Cut"), tr("What is cut, in which order, how deep?"), tr("Cuts")),
    "keep": About(tr("Keep"), tr("Is everything home? What if something changes?"), tr("Pages of Keep")),
}
STAGES: tuple[Stage, ...] = tuple(ABOUT)
