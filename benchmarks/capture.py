"""Photo to outline over the whole range that is promised: how far traced and true outlines lie apart, and how long.

Twenty-four simulated photos: things 3 to 40 mm thick, from 45 to 90 cm, tilted up to 25 degrees, 9 and 12 megapixels,
mild bends of the lens, uneven light, black to nearly white things. The camera that takes them shares no geometry code
with the solver. Then twelve layouts from two places each: how far measured heights of edges are off, and whether what
is said of that holds. Prints tables; asserts nothing. Pictures of the worst go to build/capture/ with --pictures.
"""

from __future__ import annotations

import argparse
import itertools
import json
import math
import os
import statistics
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import shapely
from shapely import affinity
from shapely.geometry import Point, Polygon, box

from cozy_burrow.core.capture.photo.mat import mat_page, printed_boxes
from cozy_burrow.core.capture.photo.picture import open_picture
from cozy_burrow.core.capture.photo.several import measured_things
from cozy_burrow.core.capture.photo.trace import look_at, outlines
from cozy_burrow.devices.simulated_camera import PrintedPage, SimulatedCamera
from cozy_burrow.devices.simulated_scene import Body, Colour, Light, Stand, Subject

ROOT = Path(__file__).resolve().parent.parent

SHADES: dict[str, Colour] = {
    "black": (0.025, 0.025, 0.028),
    "dark": (0.07, 0.06, 0.06),
    "red": (0.45, 0.05, 0.04),
    "steel": (0.32, 0.32, 0.34),
    "wood": (0.45, 0.27, 0.12),
    "bright": (0.58, 0.57, 0.54),
    "nearly white": (0.70, 0.70, 0.68),
}


@dataclass(frozen=True)
class Shot:
    """One photo of the series."""

    number: int
    height_mm: float  # of the things
    body: Body
    stand_mm: float
    tilt_deg: float
    shades: tuple[str, ...]
    pixels: tuple[int, int]
    bend: tuple[float, float]

    @property
    def edge_mm(self) -> float:
        """Height of the edge that the camera sees."""
        return self.height_mm if self.body == "straight" else self.height_mm / 2


@dataclass(frozen=True)
class Result:
    """One thing of one photo."""

    shot: Shot
    name: str
    shade: str
    mean_mm: float
    p95_mm: float
    most_mm: float
    sure_mm: float


def spanner(length: float, shaft: float, head: float) -> Polygon:
    body = box(0, -shaft / 2, length, shaft / 2)
    heads = Point(0, 0).buffer(head / 2, quad_segs=24).union(Point(length, 0).buffer(0.42 * head, quad_segs=24))
    return body.union(heads).difference(box(-head, -0.2 * head, -2, 0.2 * head))


def driver(length: float) -> Polygon:
    return box(0, -10, 62, 10).buffer(-3).buffer(3).union(box(60, -3, length, 3))


def blob() -> Polygon:
    t = np.linspace(0, math.tau, 240, endpoint=False)
    far = 22 + 3.5 * np.sin(2 * t + 1) + 2.2 * np.sin(3 * t + 2) + 1.2 * np.cos(5 * t)
    return Polygon(np.column_stack([far * np.cos(t), far * np.sin(t)]))


SHAPES: dict[str, Polygon] = {
    "spanner": spanner(96, 12, 24),
    "driver": driver(112),
    "square": Polygon([(0, 0), (66, 0), (66, 16), (18, 16), (18, 52), (0, 52)]),
    "ring": Point(0, 0).buffer(20, quad_segs=32).difference(Point(0, 0).buffer(10, quad_segs=32)),
    "blob": blob(),
}
PLACES = {
    "spanner": (105, 62, 9),
    "driver": (105, 102, -4),
    "square": (140, 160, 25),
    "ring": (62, 150, 0),
    "blob": (75, 222, 40),
}
FEW = {"driver": (105, 80, -4), "square": (130, 150, 25), "blob": (85, 220, 40)}


def series() -> list[Shot]:
    """Return the twenty-four photos."""
    shots = []
    names = list(SHADES)
    pairs = list(itertools.product((3.0, 10.0, 20.0, 40.0), (0.0, 8.0, 16.0, 25.0)))
    pairs += [
        (14.0, 0.0),
        (14.0, 12.0),
        (14.0, 25.0),
        (30.0, 5.0),
        (30.0, 20.0),
        (30.0, 25.0),
        (6.0, 25.0),
        (40.0, 25.0),
    ]
    for number, (height, tilt) in enumerate(pairs):
        shots.append(
            Shot(
                number=number,
                height_mm=height,
                body=("straight", "edged")[number % 2],
                stand_mm=(450.0, 600.0, 750.0, 900.0)[(number + number // 4) % 4],
                tilt_deg=tilt,
                shades=tuple(names[(number * 3 + k) % len(names)] for k in range(5)),
                pixels=((4000, 3000), (3464, 2598))[number % 2],
                bend=((0.0, 0.0), (0.02, 0.0), (-0.02, 0.005))[number % 3],
            )
        )
    return shots


def camera_of(shot: Shot, *, aside: bool = False) -> tuple[SimulatedCamera, list[tuple[str, str, Subject]]]:
    """Return the camera over a scene, and name, shade and body of each thing. aside: from the other side."""
    page = mat_page("a4")
    places = FEW if shot.height_mm >= 25 else PLACES
    things = []
    for (name, (x, y, angle)), shade in zip(places.items(), shot.shades):
        shape = affinity.rotate(SHAPES[name], angle, origin="centroid")
        middle = shape.envelope.centroid
        placed = affinity.translate(shape, x - middle.x, y - middle.y)
        things.append((name, shade, Subject(placed, shot.height_mm, shot.body, SHADES[shade], 0.03)))
    stand = Stand(
        aim_mm=(page.width_mm / 2, page.height_mm / 2),
        height_mm=shot.stand_mm,
        tilt_deg=shot.tilt_deg,
        towards_deg=37.0 * shot.number + (165.0 if aside else 0.0),
        roll_deg=90.0 + 5 * (shot.number % 3),
        width_px=shot.pixels[0],
        height_px=shot.pixels[1],
        focal_35_mm=26.0,
        bend=shot.bend,
        noise=0.01,
        names_lens=shot.number % 4 != 3,
    )
    slope = 0.5 * np.array([math.cos(shot.number), math.sin(shot.number)])
    light = Light(slope=(float(slope[0]), float(slope[1])), fade=(0.4, -0.3))
    printed = PrintedPage(page.width_mm, page.height_mm, tuple(printed_boxes(page)))
    seed = shot.number + (100 if aside else 0)
    return SimulatedCamera(printed, tuple(one for _, _, one in things), stand, light, seed=seed), things


def pair(shot: Shot) -> list[tuple[float, float, float]]:
    """Return of each thing seen from two places how high its edge is, was measured to be, and how sure that is said."""
    import cv2

    cv2.setNumThreads(1)
    traces = []
    for aside in (False, True):
        camera, things = camera_of(shot, aside=aside)
        traces.append(look_at(open_picture(camera.take_photo(), where="photo"), where="photo"))
    sides = "straight" if shot.body == "straight" else "round"
    found = measured_things(traces, guess_mm=5.0, sides=sides, where="photo")
    told = []
    for _, _, subject in things:
        best = max(found, key=lambda one: one.traced.shape.intersection(subject.shape).area)
        if best.height is not None:
            told.append((shot.edge_mm, best.height.edge_mm, best.height.sigma_mm))
    return told


def heights() -> None:
    """Print how far heights measured from two photos are off."""
    shots = [
        Shot(
            number=40 + k,
            height_mm=(3.0, 8.0, 16.0, 30.0)[k % 4],
            body=("straight", "edged")[k // 4 % 2],
            stand_mm=(500.0, 620.0, 760.0)[k % 3],
            tilt_deg=(7.0, 9.0, 12.0)[k // 4],
            shades=tuple(list(SHADES)[(k + n) % len(SHADES)] for n in range(5)),
            pixels=((4000, 3000), (3464, 2598))[k % 2],
            bend=((0.0, 0.0), (0.02, 0.0), (-0.02, 0.005))[k % 3],
        )
        for k in range(12)
    ]
    with ProcessPoolExecutor(max_workers=2) as pool:
        told = [one for some in pool.map(pair, shots) for one in some]
    off = np.array([abs(found - true) for true, found, _ in told])
    share = off / np.array([sigma for *_, sigma in told])
    print(
        f"\nHeights from two photos, {len(off)} things: median error {np.median(off):.2f} mm (promised: 0.4), within "
        f"1 mm {100 * np.mean(off < 1):.0f} % (promised: 90); within what is said "
        f"{100 * np.mean(share < 1):.0f} % (68), within twice that {100 * np.mean(share < 2):.0f} % (95)"
    )


def apart(found: Polygon, true: Polygon) -> np.ndarray:
    """Return distances in mm between two outlines, both ways, every 0.3 mm."""
    far = []
    for one, other in ((found, true), (true, found)):
        points = shapely.points(shapely.get_coordinates(shapely.segmentize(one, 0.3)))
        far.append(shapely.distance(points, other.boundary))
    return np.concatenate(far)


def measured(shot: Shot, folder: str | None) -> tuple[list[Result], int, list[str]]:
    """Return the results of one photo, how many things were invented, and which were missed."""
    import cv2

    cv2.setNumThreads(1)
    camera, things = camera_of(shot)
    data = camera.take_photo()
    if folder:
        (Path(folder) / f"shot-{shot.number:02}.jpg").write_bytes(data)
    trace = look_at(open_picture(data, where="photo"), where="photo")
    found = outlines(
        trace, height_mm=shot.edge_mm, sides="straight" if shot.body == "straight" else "round", where="photo"
    )
    results, missed, used = [], [], set()
    for name, shade, subject in things:
        best = max(range(len(found)), key=lambda n: found[n].shape.intersection(subject.shape).area)
        common = found[best].shape.intersection(subject.shape).area
        if common < 0.5 * subject.shape.area or best in used:
            missed.append(f"{name} ({shade}) in photo {shot.number}")
            continue
        used.add(best)
        far = apart(found[best].shape, subject.shape)
        results.append(
            Result(
                shot=shot,
                name=name,
                shade=shade,
                mean_mm=float(far.mean()),
                p95_mm=float(np.percentile(far, 95)),
                most_mm=float(far.max()),
                sure_mm=found[best].sure_mm,
            )
        )
    return results, len(found) - len(used), missed


def table(title: str, results: list[Result], key: object) -> None:
    """Print mean, 95th percentile and largest distance by something."""
    print(f"\n{title:<16}{'things':>7}{'mean, median':>14}{'95 %, worst':>13}{'largest':>9}   mm")
    groups = sorted({key(one) for one in results})  # type: ignore[operator]
    for group in groups:
        some = [one for one in results if key(one) == group]  # type: ignore[operator]
        print(
            f"{group!s:<16}{len(some):>7}{statistics.median(one.mean_mm for one in some):>14.3f}"
            f"{max(one.p95_mm for one in some):>13.3f}{max(one.most_mm for one in some):>9.2f}"
        )


TIMED = """
import sys, time, json
begin = time.perf_counter()
import cv2; cv2.setNumThreads(1)
from pathlib import Path
from cozy_burrow.core.capture.photo.picture import open_picture
from cozy_burrow.core.capture.photo.several import measured_things
from cozy_burrow.core.capture.photo.trace import look_at, outlines
loaded = time.perf_counter()
picture = open_picture(Path(sys.argv[1]).read_bytes(), where="photo")
opened = time.perf_counter()
trace = look_at(picture, where="photo")
found = outlines(trace, height_mm=10.0, sides="straight", where="photo")
done = time.perf_counter()
peak = next(int(line.split()[1]) / 1024 for line in open("/proc/self/status") if line.startswith("VmHWM"))
print(json.dumps([loaded - begin, opened - loaded, done - opened, len(found), peak]))
"""


def time_and_memory() -> None:
    """Print how long a 12 megapixel photo with five things takes on one core, beside opening the file alone."""
    shot = next(one for one in series() if one.height_mm == 10.0 and one.pixels[0] == 4000)
    camera, _ = camera_of(shot)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "photo.jpg"
        path.write_bytes(camera.take_photo())
        env = os.environ | {"OMP_NUM_THREADS": "1", "OPENBLAS_NUM_THREADS": "1"}
        runs = [
            json.loads(
                subprocess.run(
                    [sys.executable, "-c", TIMED, str(path)], capture_output=True, text=True, env=env, check=True
                ).stdout
            )
            for _ in range(5)
        ]
    imports, opening, work, count, memory = (statistics.median(run[k] for run in runs) for k in range(5))
    print(
        f"\n12 megapixels, {count:.0f} things, one core: opening {opening:.2f} s, tracing {work:.2f} s "
        f"({work / opening:.1f} times opening), imports {imports:.2f} s; {memory:.0f} MB at most"
    )


def parallax() -> None:
    """Print how much larger outlines are where the thickness is not given, beside the closed form."""
    shot = Shot(99, 30.0, "edged", 600.0, 10.0, ("red", "black", "steel"), (4000, 3000), (0.0, 0.0))
    camera, _ = camera_of(shot)
    trace = look_at(open_picture(camera.take_photo(), where="photo"), where="photo")
    with_, without = (outlines(trace, height_mm=height, sides="round", where="photo") for height in (shot.edge_mm, 0.0))
    due = shot.stand_mm / (shot.stand_mm - shot.edge_mm) - 1
    seen = [math.sqrt(b.shape.area / a.shape.area) - 1 for a, b in zip(with_, without)]
    eye = trace.sight.camera.eye_mm
    print(
        f"\nParallax of an edge 15 mm up seen from 600 mm: closed form {due:.4f}, taken out {statistics.mean(seen):.4f}"
    )
    far = [math.dist(one.shape.centroid.coords[0], eye[:2]) for one in without]
    print(
        "shift of the middles, mm (closed form, measured): "
        + ", ".join(
            f"{f * (1 - (600 - 15) / 600):.2f} {math.dist(a.shape.centroid.coords[0], b.shape.centroid.coords[0]):.2f}"
            for f, a, b in zip(far, with_, without)
        )
    )


def main() -> int:
    """Run the series."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--pictures", action="store_true", help="keep the photos in build/capture/")
    parser.add_argument("--only", type=int, nargs="*", help="numbers of photos")
    wanted = parser.parse_args()
    folder = str(ROOT / "build" / "capture") if wanted.pictures else None
    if folder:
        Path(folder).mkdir(parents=True, exist_ok=True)
    shots = [one for one in series() if not wanted.only or one.number in wanted.only]
    begin = time.perf_counter()
    with ProcessPoolExecutor(max_workers=2) as pool:
        answers = list(pool.map(measured, shots, [folder] * len(shots)))
    results = [one for found, _, _ in answers for one in found]
    missed = [name for _, _, names in answers for name in names]
    print(
        f"{len(shots)} photos, {len(results)} things traced, {len(missed)} missed, "
        f"{sum(n for _, n, _ in answers)} invented, in {time.perf_counter() - begin:.0f} s with rendering"
    )
    for name in missed:
        print("missed:", name)
    print(
        f"mean distance, median over things: {statistics.median(one.mean_mm for one in results):.3f} mm "
        "(promised: 0.20)"
    )
    print(f"95th percentile, worst thing: {max(one.p95_mm for one in results):.3f} mm (promised: 1.0)")
    within = sum(one.p95_mm <= 1.0 for one in results)
    print(f"95th percentile at most 1.0 mm: {within} of {len(results)} things")
    table("thickness", results, lambda one: one.shot.height_mm)
    table("tilt, degrees", results, lambda one: one.shot.tilt_deg)
    table("shade", results, lambda one: one.shade)
    table("from, mm", results, lambda one: one.shot.stand_mm)
    print("\nworst:")
    for one in sorted(results, key=lambda one: -one.p95_mm)[:6]:
        shot = one.shot
        print(
            f"  {one.name}, {one.shade}, {shot.height_mm:.0f} mm thick ({shot.body}), from {shot.stand_mm:.0f} mm, "
            f"{shot.tilt_deg:.0f} degrees, photo {shot.number}: mean {one.mean_mm:.2f}, 95 % {one.p95_mm:.2f}, "
            f"largest {one.most_mm:.2f}; said ± {one.sure_mm:.2f}"
        )
    if not wanted.only:
        heights()
        parallax()
        time_and_memory()
    return 0


if __name__ == "__main__":
    sys.exit(main())
