"""Roll calls on simulated photos: how many places are told rightly, wrongly, or not at all.

python benchmarks/roll_call.py [SEED COUNT] [--pictures DIR]: one line a wrong place, and a table at the end.
"""

from __future__ import annotations

import argparse
import random
import sys
from collections import Counter
from dataclasses import dataclass
from pathlib import Path

import shapely

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

from cozy_burrow.core.capture.photo.picture import open_picture
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.keep.marks import LEAST_MM, size_that_fits
from cozy_burrow.core.keep.roll_call import roll_call
from cozy_burrow.core.keep.turned import lying_turned
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.relief.field import Lying, lying_in
from cozy_burrow.core.relief.finish import Look
from cozy_burrow.demo.drawer import open_drawer
from cozy_burrow.demo.shipped import demo_project
from cozy_burrow.devices.simulated_drawer import DrawerCamera
from cozy_burrow.devices.simulated_scene import Light, Stand

_FOAMS = ((38, 38, 40), (58, 58, 60), (92, 92, 95), (40, 52, 74), (150, 148, 142))
_CONTRASTS = ((205, 120, 40), (215, 190, 60), (180, 50, 45), (60, 120, 190), (225, 225, 220))
_THINGS = ((28, 28, 30), (60, 60, 62), (150, 152, 156), (190, 192, 195), (150, 105, 60), (170, 40, 35), (40, 80, 140),
           (60, 110, 60), (205, 175, 60), (225, 222, 215))  # fmt: skip


@dataclass(frozen=True)
class Case:
    """One photo, what is true in it, and a photo with everything in its place or None."""

    ground: Ground
    photo: bytes
    full: bytes | None
    truth: dict[str, str]
    told: str


def case(seed: int, wide_px: int = 2600) -> Case:
    """Return a case by chance."""
    chance = random.Random(seed)
    plan = demo_project()
    ground = ground_of(plan, chance.choice([one for one in plan.inserts if one.placements]))
    keys = list(ground.pockets)
    count = min(len(keys), chance.randint(1, 8))
    picked = chance.sample(keys, count)
    truth = dict.fromkeys(keys, "filled")
    foam = chance.choice(_FOAMS)
    contrasting = chance.random() < 0.6
    look = Look(foam=foam, contrast=chance.choice(_CONTRASTS) if contrasting else foam, rim=(140, 120, 95), floor=foam)
    colours = {key: chance.choice(_THINGS) for key in keys} if chance.random() < 0.5 else {}
    things = {one.placement.id: one for one in lying_in(ground)}
    turned, instead = set[str](), dict[str, Item]()
    for key in picked:
        truth[key] = "empty"
        what = chance.random()
        if what < 0.2 and not _is_alike_turned(things[key]):
            truth[key] = "turned"
            turned.add(key)
        elif what > 0.8 and (other := _smaller(things, key, chance)) is not None:
            truth[key] = "other"
            instead[key] = other
    missing = [key for key in picked if truth[key] == "empty"]
    told = f"foam {foam} {'contrast' if contrasting else 'plain'}"
    taken = shapely.union_all([ground.taken_out(1), *(one.outline for one in lying_in(ground))])
    mark_mm = size_that_fits(ground.blank, taken) or LEAST_MM
    photo = DrawerCamera(
        open_drawer(ground, look, missing=missing, turned=turned, instead=instead, colours=colours, mark_mm=mark_mm),
        _stand(chance, ground, wide_px),
        _light(chance),
        seed,
    ).take_photo()
    full = None
    if chance.random() < 0.5:
        full = DrawerCamera(
            open_drawer(ground, look, colours=colours, mark_mm=mark_mm),
            _stand(chance, ground, wide_px),
            _light(chance),
            seed + 1,
        ).take_photo()
        told += " full"
    return Case(ground, photo, full, truth, told)


def _is_alike_turned(one: Lying) -> bool:
    """Whether nobody could see that a thing lies end for end."""
    there, turned = one.outline, lying_turned(one).outline
    return there.intersection(turned).area > 0.96 * there.area and len(one.item.zones) == 1


def _smaller(things: dict[str, Lying], key: str, chance: random.Random) -> Item | None:
    """Return a thing that finds room in the place of another, and is another one; None where there is none."""
    room = things[key].outline.area
    found = [
        one.item
        for one in things.values()
        if 0.25 * room < one.outline.area < 0.7 * room and one.item.name != things[key].item.name
    ]
    return chance.choice(found) if found else None


def _stand(chance: random.Random, ground: Ground, wide_px: int) -> Stand:
    left, back, right, front = ground.extent
    across = max(right - left, (front - back) * 4 / 3)
    return Stand(
        aim_mm=((left + right) / 2 + chance.uniform(-15, 15), (back + front) / 2 + chance.uniform(-15, 15)),
        height_mm=across * chance.uniform(1.05, 1.4),
        tilt_deg=chance.uniform(0, 35),
        towards_deg=chance.uniform(-180, 180),
        roll_deg=chance.choice((0.0, 180.0)) + chance.uniform(-12, 12),
        width_px=wide_px,
        height_px=wide_px * 3 // 4,
        blur_px=chance.uniform(0.6, 1.4),
        noise=chance.uniform(0.004, 0.015),
        bend=(chance.uniform(-0.03, 0.03), 0.0),
    )


def _light(chance: random.Random) -> Light:
    steep = chance.uniform(0.15, 0.8)
    across = chance.uniform(-1, 1)
    return Light(
        ambient=chance.uniform(0.35, 0.8),
        slope=(steep * across, steep * chance.choice((-1, 1)) * (1 - abs(across))),
        fade=(chance.uniform(-0.5, 0.5), chance.uniform(-0.5, 0.5)),
        tint=(1.0, chance.uniform(0.9, 1.0), chance.uniform(0.75, 1.05)),
        softness=chance.uniform(0.03, 0.2),
    )


def main() -> int:
    """Run some seeds and print what came out."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("seed", nargs="?", type=int, default=1)
    parser.add_argument("count", nargs="?", type=int, default=20)
    parser.add_argument("--pictures", type=Path)
    wanted = parser.parse_args()
    table: Counter[tuple[str, str, str]] = Counter()
    refused = 0
    for seed in range(wanted.seed, wanted.seed + wanted.count):
        one = case(seed)
        if wanted.pictures is not None:
            wanted.pictures.mkdir(parents=True, exist_ok=True)
            (wanted.pictures / f"{seed}.jpg").write_bytes(one.photo)
        try:
            full = open_picture(one.full, where="full") if one.full is not None else None
            said = roll_call(one.ground, open_picture(one.photo, where="photo"), where="photo", full=full)
        except UnusableInput as error:
            refused += 1
            print(f"{seed}: {error.sentence()} ({one.told})", flush=True)
            continue
        kind = "with full" if one.full is not None else one.told.split(")")[1].strip()
        for place in said.places:
            true = one.truth[place.key]
            table[kind, true, place.state] += 1
            if place.state != true:
                name = next(p.item.name for key, p in one.ground.pockets.items() if key == place.key)
                print(f"{seed}: {name} is {true}, said {place.state} {place.odds:+.2f} of {place.seen} ({one.told})")
    total = sum(table.values())
    for key, number in sorted(table.items()):
        print(f"{' / '.join(key):40} {number}")
    wrong = sum(n for (_, true, said), n in table.items() if said not in {true, "unsure"})
    unsure = sum(n for (_, _, said), n in table.items() if said == "unsure")
    print(f"{total} places, {wrong} wrong ({wrong / max(1, total):.2%}), {unsure} unsure, {refused} photos refused")
    return 0


if __name__ == "__main__":
    sys.exit(main())
