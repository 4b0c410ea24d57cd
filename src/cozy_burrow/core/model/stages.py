"""The stages of the work, in their order: what each is called, what it asks, what stands beside its scene."""

from __future__ import annotations

from typing import Literal, NamedTuple

Stage = Literal["gather", "measure", "lay-out", "sink", "grip", "cut"]


class About(NamedTuple):
    """What is said of a stage. panel: what stands left of its scene."""

    title: str
    question: str
    panel: str


ABOUT: dict[Stage, About] = {
    "gather": About("Gather", "What goes in, and what shape is it?", "Ways to gather an item"),
    "measure": About("Measure", "What is the inside like, and which foam fills it?", "Pages of Measure"),
    "lay-out": About("Lay out", "Where does everything lie?", "Items and wishes"),
    "sink": About("Sink", "How deep does each item go?", "Seat and layers"),
    "grip": About("Grip", "How does each item come out again?", "Finger pulls"),
    "cut": About("Cut", "What is cut, in which order, how deep?", "Cuts"),
}
STAGES: tuple[Stage, ...] = tuple(ABOUT)
