"""The main job: a kit into an insert, arranged, set to depth, with finger pulls and findings."""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path

from msgspec.structs import replace

from cozy_burrow.core.container.checks import checked_container
from cozy_burrow.core.errors import Cancelled, UnusableInput, quoted
from cozy_burrow.core.foam.layers import checked_sheet, layers_of
from cozy_burrow.core.ground.arranging import Arranged, arranged
from cozy_burrow.core.model.edits import free_id
from cozy_burrow.core.model.ranges import checked
from cozy_burrow.core.model.records import Container, ContainerKind, Insert, Project, Rules, Seat, Sheet
from cozy_burrow.core.progress import Deadline, Token
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import Unit, parse_length, parse_size
from cozy_burrow.jobs.kit_file import read_kit

INSERT_NAMES: dict[ContainerKind, str] = {"drawer": "drawer", "case": "case", "wall": "wall"}


_MOST_SHEETS = 20
# The contract gives a call ten seconds beside its search: what follows it, and three to start and to save.
_AFTERWARDS_S = 7.0
_MAKING_READY = 0.5  # of the time at most: the pockets of hundreds of sorts of things, and half is left to lay them
_AFTERWARDS = 1.2  # times what making ready took: pulls, order and findings go over the same things once more
_AT_MOST_LESS = 0.25  # of the time that the search may lose to them


class _MakingReady:
    """The token of what precedes the search: it leaves it half of the time, and notes how long it took."""

    def __init__(self, whole: Deadline) -> None:
        self._whole = whole
        self.took_s = 0.0

    def step(self, fraction: float) -> None:
        """Raise Cancelled once its share is used up."""
        self.took_s = self._whole.elapsed_s
        self._whole.step(fraction)
        if self.took_s >= _MAKING_READY * self._whole.seconds:
            raise Cancelled


class _Searching:
    """The token of the search: all of the time, but where a kit is so large that what follows would come too late."""

    def __init__(self, whole: Deadline, ready: _MakingReady) -> None:
        self._whole, self._ready = whole, ready

    def step(self, fraction: float) -> None:
        """Raise Cancelled once the time is used up."""
        self._whole.step(fraction)
        less_s = min(_AT_MOST_LESS * self._whole.seconds, max(0.0, _AFTERWARDS * self._ready.took_s - _AFTERWARDS_S))
        if self._whole.elapsed_s >= self._whole.seconds - less_s:
            raise Cancelled


def parse_foam(text: str) -> tuple[Sheet, ...]:
    """Return the sheets of `50/10` or `20/10,30/10`, top first. Raises UnusableInput."""
    sheets = []
    for part in text.split(",")[: _MOST_SHEETS + 1]:
        thickness, slash, pitch = part.partition("/")
        where = tr("--foam {part}", part=quoted(part))
        if not slash:
            raise UnusableInput(tr("this is no sheet"), where=where, remedy=tr("write SHEET/LAYER such as 50/10"))
        sheet = Sheet(
            thickness_mm=parse_length(thickness, where=where),
            pitch_mm=parse_length(pitch, where=where),
            name=part.strip(),
        )
        sheets.append(checked_sheet(sheet, where=where))
    if len(sheets) > _MOST_SHEETS:
        raise UnusableInput(
            tr("more than {most_sheets} sheets", most_sheets=_MOST_SHEETS), where="--foam", remedy=tr("name fewer")
        )
    return tuple(sheets)


def parse_container(text: str, *, kind: ContainerKind, corner_radius_mm: float) -> Container:
    """Return the container of `WxDxH`. Raises UnusableInput."""
    width, depth, height = parse_size(text, parts=3, where="--container")
    container = Container(
        kind=kind, width_mm=width, depth_mm=depth, height_mm=height, corner_radius_mm=corner_radius_mm
    )
    return checked_container(container, where="--container")


def make_rules(
    *,
    wall_mm: float | None,
    edge_mm: float | None,
    floor_layers: int | None,
    allowance_mm: float | None,
    seat: Seat | None,
    sheets: tuple[Sheet, ...],
) -> Rules:
    """Return the rules of a plan; what is None stays the program's own. Raises UnusableInput."""
    rules = Rules()
    for name, field, value in (
        ("--wall", "wall_mm", wall_mm),
        ("--edge", "edge_mm", edge_mm),
        ("--allowance", "allowance_mm", allowance_mm),
    ):
        if value is not None:
            checked(Rules, field, value, where=name)
    if floor_layers is not None and not 0 <= floor_layers < len(layers_of(sheets)):
        raise UnusableInput(
            tr("{floor_layers} of {count} layers", floor_layers=floor_layers, count=len(layers_of(sheets))),
            where="--floor",
            remedy=tr("leave at least one layer to cut"),
        )
    rules = replace(rules, wall_mm=wall_mm, floor_layers=floor_layers, allowance_mm=allowance_mm, seat=seat)
    return rules if edge_mm is None else replace(rules, edge_mm=edge_mm)


def plan_kit(
    kit: Path,
    container: Container,
    sheets: tuple[Sheet, ...],
    rules: Rules,
    *,
    with_pulls: bool,
    seconds: float,
    seed: int,
    steps: int | None = None,
    unit: Unit = "mm",
    heard: Callable[[str], None] = lambda _: None,
    token: Token | None = None,
    clock: Callable[[], float] = time.monotonic,
) -> tuple[Arranged, float]:
    """Return the arranged project of a kit file, and the seconds that it took. Raises UnusableInput.

    unit: of bare figures in the kit. heard: told what of the kit means nothing here.
    seconds, steps: bounds of the search; only what ends by its steps is the same on every machine.
    """
    deadline = Deadline(seconds, inner=token, clock=clock)
    read = read_kit(kit, unit=unit)
    for remark in read.remarks:
        heard(f"{kit.name}: {remark}")
    container = replace(container, name=INSERT_NAMES[container.kind])
    insert = Insert(
        id=free_id("insert", ()), name=INSERT_NAMES[container.kind], container_id=container.id, sheets=sheets
    )
    project = Project(
        title=kit.stem, units=unit, items=read.items, containers=(container,), inserts=(insert,), rules=rules
    )
    ready = _MakingReady(deadline)
    result = arranged(
        project,
        insert.id,
        seed=seed,
        token=_Searching(deadline, ready),
        with_pulls=with_pulls,
        steps=steps,
        until_all_lies=True,
        making_ready=ready,
    )
    return result, deadline.elapsed_s
