"""The arrangement beside a general nesting code on the same pieces and distances, taken in turn in one run.

The nesting code (spyrrow, a benchmark-only dependency) packs a strip of the bed's depth as short as it can, once with
the tidy angles and once turning freely. Ours does the same; then it must lay everything into 1.25 times the least
area that the other found. Prints a table and writes pictures to build/arrange; asserts nothing.
"""

from __future__ import annotations

import argparse
import os
import random
import sys
import time
from contextlib import suppress
from pathlib import Path

os.environ.setdefault("OMP_NUM_THREADS", "1")
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

import shapely
from shapely import affinity
from tests.core.arrange.shapes import random_shape

from benchmarks.kits import EVERYDAY, FOAM, KITS, many, side_for
from benchmarks.pictures import PULL, THING, Picture, sheet
from cozy_burrow.core.arrange.contacts import Body, shortfalls
from cozy_burrow.core.arrange.order import Spread, ordered
from cozy_burrow.core.arrange.pieces import Bed, Form, Piece
from cozy_burrow.core.arrange.search import Search
from cozy_burrow.core.arrange.squeeze import length_mm
from cozy_burrow.core.arrange.strip import shortened
from cozy_burrow.core.arrange.way import Way
from cozy_burrow.core.arrange.wishes import STYLES, Aims
from cozy_burrow.core.container.bay import Bay
from cozy_burrow.core.errors import Cancelled
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.ground.arranging import arranged
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.ground.judging import lying_in
from cozy_burrow.core.model.records import Container, Insert, Project, Rules
from cozy_burrow.core.progress import Deadline, Quiet
from cozy_burrow.core.pulls.forms import piece_for

WALL_MM, EDGE_MM = 10.0, 15.0
RULES = Rules(wall_mm=WALL_MM, edge_mm=EDGE_MM, allowance_mm=0.0)
MORE = 1.25
ASKEW_DEG = 10.0  # farther askew, and it was meant


def pieces_of(items: list, box: Container) -> list[Piece]:  # type: ignore[type-arg]
    """Return a piece for each copy in its roomiest form only: what both codes are given."""
    bay = Bay(container=box, sheets=FOAM)
    found = []
    for item, copy in [(one, copy) for one in items for copy in range(1, one.quantity + 1)]:
        piece = piece_for(item, copy, bay, RULES, with_pulls=True)
        first = piece.forms[0]
        form = Form(first.shape, first.wall_mm, first.tag, parts=first.parts)
        found.append(Piece(piece.key, [form], group=piece.group, angles_deg=piece.angles_deg))
    return found


def first_layout(pieces: list[Piece], bed: Bed, style: str, *, token: object = None) -> Search:
    """Return a search after its first layout."""
    search = Search(pieces, bed, Aims(bed.room), Way(STYLES[style], seed=1))  # type: ignore[index]
    search.first(token or Quiet())  # type: ignore[arg-type]
    return search


def shortest_of_ours(pieces: list[Piece], depth: float, seconds: float) -> tuple[float, list[Body]]:
    """Return the least length that ours finds in a strip, and the layout."""
    begin = time.monotonic()
    area = sum(piece.forms[0].shape.buffer(WALL_MM / 2).area for piece in pieces)
    length = max(area / depth / 0.55, max(piece.size[1] for piece in pieces))
    for _ in range(6):
        bed = Bed(shapely.box(0, 0, length, depth))
        search = first_layout(pieces, bed, "tight")
        if search.plan is not None and not search.plan.left and not search.hopeless:
            break
        length *= 1.3
    assert search.plan is not None
    by_form = {id(piece.forms[0]): piece for piece in pieces}
    bodies = search.plan.bodies()
    angles = [by_form[id(body.form)].angles_deg for body in bodies]
    left = seconds - (time.monotonic() - begin)
    best = shortened(bodies, angles, bed, seed=1, token=Deadline(left))
    assert shortfalls(best, bed) == (0.0, 0.0)
    return length_mm(best), best


def shortest_of_other(pieces: list[Piece], depth: float, seconds: int, *, free: bool) -> tuple[float, list]:  # type: ignore[type-arg]
    """Return the least length that the nesting code finds, and its shapes. It keeps the distance to the strip's sides
    too, so it is given a strip that is so much deeper, and that much is taken off its length."""
    import spyrrow

    rings = [list(max(shapely.get_parts(p.forms[0].shape), key=lambda g: g.area).exterior.coords) for p in pieces]
    items = [
        spyrrow.Item(str(n), [tuple(point) for point in ring], 1, None if free else list(piece.angles_deg))
        for n, (ring, piece) in enumerate(zip(rings, pieces))
    ]
    instance = spyrrow.StripPackingInstance("strip", depth + 2 * WALL_MM, items)
    config = spyrrow.StripPackingConfig(
        early_termination=False, total_computation_time=seconds, num_workers=1, seed=1, min_items_separation=WALL_MM
    )
    found = instance.solve(config)
    shapes = []
    for one in found.placed_items:
        turned = affinity.rotate(shapely.Polygon(rings[int(one.id)]), one.rotation, origin=(0, 0))
        shapes.append(affinity.translate(turned, one.translation[0] - WALL_MM, one.translation[1] - WALL_MM))
    return found.width - 2 * WALL_MM, shapes


def compared(seconds: int, folder: Path) -> None:
    """Print the table of all twelve kits."""
    head = f"{'kit':16} {'things':>6} {'other':>7} {'free':>7} {'ours':>7} {'more':>7}   into 1.25 x the least area"
    print(head)
    for name, (make, box) in {**KITS, **EVERYDAY}.items():
        pieces = pieces_of(make(), box)
        depth = box.depth_mm - 2 * EDGE_MM
        other, _ = shortest_of_other(pieces, depth, seconds, free=False)
        free, shapes = shortest_of_other(pieces, depth, seconds, free=True)
        ours, bodies = shortest_of_ours(pieces, depth, seconds)
        least = min(other, free)
        bed = Bed(shapely.box(0, 0, MORE * least, depth))
        begin = time.monotonic()
        search = Search(pieces, bed, Aims(bed.room), Way(STYLES["tidy"], seed=1))
        with suppress(Cancelled):
            search.first(Deadline(seconds))
        took = time.monotonic() - begin
        layout = search.layout()
        said = f"{len(layout.spots)} of {len(pieces)} laid in {took:.1f} s"
        more = ours / least - 1
        print(f"{name:16} {len(pieces):6} {other:7.1f} {free:7.1f} {ours:7.1f} {more:+7.1%}   {said}", flush=True)
        other_shapes = [(shape, THING) for shape in shapes]
        pictures: list[Picture] = [(f"{name}: other, {free:.0f} mm", shapely.box(0, 0, free, depth), other_shapes)]
        our_shapes = [(body.shape, THING) for body in bodies]
        pictures.append((f"ours, {ours:.0f} mm", shapely.box(0, 0, ours, depth), our_shapes))
        sheet(pictures, folder / f"tight-{name.replace(' ', '-')}.png")


def grows() -> None:
    """Print how long the first layout takes for more and more things."""
    print("\nthings   first layout   a thing   against ten")
    least: float | None = None
    for count in (10, 20, 30, 60, 100, 150, 200):
        side = side_for(count)
        box = Container(width_mm=1.5 * side, depth_mm=side)
        pieces = pieces_of(many(count), box)
        bed = Bed(shapely.box(0, 0, 1.5 * side, side))
        begin = time.monotonic()
        search = first_layout(pieces, bed, "tidy")
        took = time.monotonic() - begin
        left = len(search.layout().left_over)
        least = least or took / count
        more = f"  ({left} left over)" if left else ""
        print(
            f"{count:6} {took:12.2f} s {1000 * took / count:7.1f} ms {took / count / least:10.2f} x{more}", flush=True
        )


def kept(seconds: int, picture: Path) -> None:
    """Lay every kit into its own container as the program does it for a fitter, and write what came of it."""
    print(f"\n{'kit':16} {'laid':>9} {'score':>6}  wishes")
    pictures: list[Picture] = []
    for name, (make, box) in {**KITS, **EVERYDAY}.items():
        items = tuple(make())
        insert = Insert(id="insert-1", name=name, sheets=FOAM)
        project = Project(items=items, containers=(box,), inserts=(insert,), rules=RULES)
        result = arranged(project, "insert-1", seed=1, token=Deadline(seconds))
        ground = ground_of(result.project, result.project.inserts[0])
        assert result.scores is not None
        wishes = "  ".join(
            f"{wish.name} {'-' if wish.score is None else f'{wish.score:.2f}'}" for wish in result.scores.wishes
        )
        laid = f"{len(ground.pockets)} of {sum(item.quantity for item in items)}"
        bad = [one.code for one in findings_of(result.project) if one.severity == "stop"]
        print(f"{name:16} {laid:>9} {result.scores.total:6.1f}  {wishes}  {bad or ''}", flush=True)
        shapes = [(pull.area, PULL) for pull in ground.pulls]
        shapes += [(pocket.surface, THING) for pocket in ground.pockets.values()]
        pictures.append((f"{name}: {laid}, {result.scores.total:.0f} of 100", ground.blank, shapes))
    sheet(pictures, picture, scale=0.55)


def in_order(picture: Path, steps: int) -> None:
    """Lay every kit, those of everyday too, and print what an eye sees first: lines, gaps, what lies askew."""
    print(
        f"\n{'kit':16} {'laid':>10} {'on a line':>9} {'even gaps':>9} {'askew':>6} {'score':>6} {'took':>7}  must fix"
    )
    pictures: list[Picture] = []
    for name, (make, box) in {**KITS, **EVERYDAY}.items():
        items = tuple(make())
        insert = Insert(id="insert-1", name=name, sheets=FOAM)
        project = Project(items=items, containers=(box,), inserts=(insert,), rules=RULES)
        begin = time.process_time()
        result = arranged(project, "insert-1", seed=1, token=Quiet(), steps=steps)
        took = time.process_time() - begin
        assert result.scores is not None
        ground = ground_of(result.project, result.project.inserts[0])
        axes = [one.axis_deg for one in lying_in(ground, {}) if one.axis_deg is not None]
        off = [abs((axis + 45.0) % 90.0 - 45.0) for axis in axes]
        askew = sum(0.5 < one < ASKEW_DEG for one in off)
        bad = [one.code for one in findings_of(result.project) if one.severity == "stop" and one.code != "UNPLACED"]
        lines, gaps = result.scores.of("lines").figure, result.scores.of("gaps").figure
        laid = f"{len(ground.pockets)} of {sum(item.quantity for item in items)}"
        row = f"{name:16} {laid:>10} {lines:9.0%} {gaps:9.0%} {askew:6} {result.scores.total:6.1f} {took:6.1f}s"
        print(f"{row}  {bad or ''}", flush=True)
        shapes = [(pull.area, PULL) for pull in ground.pulls]
        shapes += [(pocket.surface, THING) for pocket in ground.pockets.values()]
        pictures.append((f"{name}: {laid}, {result.scores.total:.0f} of 100", ground.blank, shapes))
    sheet(pictures, picture, scale=0.6)


def rules_hold(count: int, seed: int) -> None:
    """Put kits by chance in order, and count where a rule was broken that held before."""
    broken = changed = 0
    for number in range(count):
        chance = random.Random(seed + number)
        area = shapely.box(0, 0, chance.uniform(150, 500), chance.uniform(120, 400))
        if number % 3 == 0:
            _, _, right, bottom = area.bounds
            area = area.difference(shapely.Point(right, bottom).buffer(min(right, bottom) / 3))
        bed = Bed(area, [(shapely.Point(60, 60).buffer(9), 6.0)] if number % 2 else [])
        bodies: list[Body] = []
        for _ in range(120):
            form = Form(random_shape(chance), chance.choice((2.0, 6.0, 10.0, 14.0)))
            x, y = (chance.uniform(0, side) for side in area.bounds[2:])
            body = Body(form, x, y, chance.choice((0, 90, 180, 270, chance.uniform(0, 360))))
            if len(bodies) < 14 and shortfalls([*bodies, body], bed) == (0.0, 0.0):
                bodies.append(body)
        spread: Spread = chance.choice(("no", "gaps", "all"))
        now = ordered(bodies, bed, spread=spread)
        broken += shortfalls(now, bed) != (0.0, 0.0) or len(now) != len(bodies)
        changed += any(one is not other for one, other in zip(now, bodies))
    print(f"{count} kits by chance put in order: {changed} changed, {broken} with a rule broken", flush=True)


def main() -> None:
    """Take both."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--seconds", type=int, default=30)
    parser.add_argument("--only", choices=("compared", "grows", "kept", "order", "rules"))
    parser.add_argument("--steps", type=int, default=24, help="of a search, for --only order")
    parser.add_argument("--count", type=int, default=2000, help="kits, for --only rules")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--docs", action="store_true", help="write the picture of the kits into docs/")
    asked = parser.parse_args()
    folder = ROOT / "build" / "arrange"
    folder.mkdir(parents=True, exist_ok=True)
    if asked.only in {None, "grows"}:
        grows()
    if asked.only in {None, "kept"}:
        kept(20, folder / "tidy.png")
    if asked.only in {None, "order"}:
        in_order(ROOT / "docs" / "arrangement.png" if asked.docs else folder / "order.png", asked.steps)
    if asked.only in {None, "rules"}:
        rules_hold(asked.count, asked.seed)
    if asked.only in {None, "compared"}:
        compared(asked.seconds, folder)


if __name__ == "__main__":
    main()
