"""Throw damaged files at everything that opens one: each must end in a result or in one sentence, and soon.

Seeds are drawn here (SVG, DXF, photos, scans, kit tables, project files), then bytes are flipped, cut, doubled,
swapped, numbers blown up, pieces of one put into another. Prints counts; ends with 1 where anything else happened.
"""

from __future__ import annotations

import argparse
import io
import random
import re
import resource
import sys
import tempfile
import time
import traceback
from collections import Counter
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

from cozy_burrow.assets.read import asset
from cozy_burrow.core.errors import UnusableInput

SLOW_SECONDS = 10.0  # of work
HANG_SECONDS = 120.0  # by the clock, whatever else the machine does
_WILD = (b"1e308", b"-1", b"NaN", b"0", b"99999999999", b"", b"&#0;", b"%s", b"\x00", b"1e-320", b"\xff\xfe")


def svg_seeds() -> list[bytes]:
    """Drawings with everything that a reader has a branch for."""
    shipped = [path.read_bytes() for path in sorted(asset("demo", "outlines").glob("*.svg"))]
    rich = b"""<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="80mm"
 height="60mm" viewBox="0 0 80 60"><style>.a{fill:red}.b{display:none}</style><defs><path id="p" d="M0 0 h9 v9z"/>
 <clipPath id="c"><rect width="5" height="5"/></clipPath></defs><g transform="translate(9,9) rotate(20) scale(1.5)">
 <use xlink:href="#p" x="4"/><rect class="a" x="1" y="1" width="20" height="9" rx="2"/><circle class="b" r="3"/>
 <path fill-rule="evenodd" d="M10 10 C 20 0 30 20 40 10 S 50 30 20 30 Q 5 25 10 10 Z M15 14 a3 3 0 1 1 .1 0z"/>
 <polygon points="1,2 30,4 9,22"/><ellipse cx="30" cy="30" rx="9" ry="4" clip-path="url(#c)"/><text>a</text></g>
</svg>"""
    return [*shipped, rich]


def dxf_seeds() -> list[bytes]:
    """Drawings with arcs, splines, blocks, hatches and units."""
    import ezdxf

    made = []
    for units in (4, 0, 1):
        document = ezdxf.new("R2010")
        document.header["$INSUNITS"] = units
        space = document.modelspace()
        space.add_lwpolyline([(0, 0, 0.3), (40, 0, 0), (40, 20, -0.5), (0, 20, 0)], format="xyb", close=True)
        space.add_circle((60, 10), 8)
        space.add_ellipse((90, 10), (12, 2), 0.4)
        space.add_spline([(0, 40), (20, 50), (40, 38), (0, 40)])
        block = document.blocks.new("tool")
        block.add_line((0, 0), (10, 0))
        block.add_arc((0, 5), 5, 90, 270)
        block.add_lwpolyline([(10, 0), (10, 10), (0, 10)])
        space.add_blockref("tool", (100, 50), dxfattribs={"xscale": 2, "rotation": 30})
        hatch = space.add_hatch()
        hatch.paths.add_polyline_path([(0, 60), (30, 60), (30, 80)], is_closed=True)
        stream = io.StringIO()
        document.write(stream)
        made.append(stream.getvalue().encode())
    return made


def photo_seeds() -> list[bytes]:
    """Small photos of a mat with a thing on it, as JPEG, PNG and TIFF."""
    from PIL import Image
    from shapely.geometry import box

    from cozy_burrow.core.capture.photo.mat import mat_page, printed_boxes
    from cozy_burrow.devices.simulated_camera import PrintedPage, SimulatedCamera
    from cozy_burrow.devices.simulated_scene import Stand, Subject

    page = mat_page("a4")
    stand = Stand(aim_mm=(105, 148), height_mm=420.0, tilt_deg=6.0, width_px=660, height_px=880)
    printed = PrintedPage(page.width_mm, page.height_mm, tuple(printed_boxes(page)))
    jpeg = SimulatedCamera(
        printed, (Subject(box(70, 120, 130, 150), 8.0, "straight", (0.3, 0.05, 0.05)),), stand
    ).take_photo()
    made = [jpeg]
    for kind in ("PNG", "TIFF"):
        stream = io.BytesIO()
        Image.open(io.BytesIO(jpeg)).save(stream, kind, dpi=(100, 100))
        made.append(stream.getvalue())
    return made


def mutated(seed: bytes, others: list[bytes], chance: random.Random) -> bytes:
    """Return a damaged copy."""
    data = bytearray(seed)
    for _ in range(chance.choice((1, 1, 2, 4, 12))):
        if not data:
            break
        at = chance.randrange(len(data))
        match chance.randrange(7):
            case 0:
                data[at] = chance.randrange(256)
            case 1:
                del data[at:]
            case 2:
                del data[at : at + chance.choice((1, 8, 200, 4000))]
            case 3:
                data[at:at] = data[at : at + chance.choice((4, 64, 3000))]
            case 4:
                other = chance.choice(others)
                start = chance.randrange(max(1, len(other)))
                data[at:at] = other[start : start + chance.choice((8, 100, 2000))]
            case 5:
                numbers = [one.span() for one in re.finditer(rb"-?\d+\.?\d*", bytes(data[at : at + 400]))]
                if numbers:
                    start, end = chance.choice(numbers)
                    data[at + start : at + end] = chance.choice(_WILD)
            case _:
                data[at : at + 4] = chance.choice(_WILD)
    return bytes(data)


def readers(folder: Path) -> dict[str, tuple[Callable[[], list[bytes]], Callable[[bytes], object]]]:
    """Return for each kind its seeds and what opens it, as the program does."""
    from cozy_burrow.core.capture.paper.pen import Pen
    from cozy_burrow.jobs.capture import capture_photo, capture_scan, capture_tracing
    from cozy_burrow.jobs.drawings import READER
    from cozy_burrow.jobs.kit_file import read_kit
    from cozy_burrow.storage.project_file import load
    from cozy_burrow.storage.stores_file import stores_from_bytes

    def through(name: str, open_: Callable[[Path], object]) -> Callable[[bytes], object]:
        def run(data: bytes) -> object:
            path = folder / name
            path.write_bytes(data)
            return open_(path)

        return run

    return {
        "svg": (svg_seeds, lambda data: READER.read("svg", data, where="a.svg")),
        "dxf": (dxf_seeds, lambda data: READER.read("dxf", data, where="a.dxf")),
        "photo": (photo_seeds, lambda data: capture_photo(data, source="a.jpg")),
        "scan": (photo_seeds, lambda data: capture_scan(data, source="a.png", dpi=100)),
        "sheet": (photo_seeds, lambda data: capture_tracing(data, Pen(), source="a.png", dpi=100)),
        "kit": (lambda: [asset("demo", "kit.csv").read_bytes()], through("kit.csv", read_kit)),
        "stores": (
            lambda: [asset("demo", "stores.json").read_bytes()],
            lambda data: stores_from_bytes(data, where="stores.json"),
        ),
        "project": (lambda: [asset("demo", "demo.burrow").read_bytes()], through("a.burrow", load)),
    }


def worked() -> float:
    """Return the seconds that this process and its ended children have been at work."""
    used = [resource.getrusage(who) for who in (resource.RUSAGE_SELF, resource.RUSAGE_CHILDREN)]
    return sum(one.ru_utime + one.ru_stime for one in used)


def peak_mb() -> float:
    """Return the most memory that this process, or one of its ended children, has had so far."""
    return max(resource.getrusage(who).ru_maxrss for who in (resource.RUSAGE_SELF, resource.RUSAGE_CHILDREN)) / 1024


def run(kind: str, count: int, seed: int) -> tuple[str, Counter[str], float, float, list[str]]:
    """Throw damaged files at one reader; return what came of them, the slowest, the memory of this process so far."""
    chance = random.Random(seed)
    outcome: Counter[str] = Counter()
    bad: list[str] = []
    slowest = 0.0
    with tempfile.TemporaryDirectory() as name:
        seeds_of, open_ = readers(Path(name))[kind]
        seeds = seeds_of()
        for _ in range(count):
            data = mutated(chance.choice(seeds), seeds, chance)
            begin, begun = time.monotonic(), worked()
            try:
                open_(data)
                outcome["used"] += 1
            except UnusableInput as error:
                sentence = error.sentence()
                outcome["refused"] += 1
                if "\n" in sentence or "Traceback" in sentence or not sentence:
                    bad.append(f"no sentence: {sentence!r}")
            except Exception:
                outcome["TRACEBACK"] += 1
                bad.append(traceback.format_exc(limit=-4))
                Path("build").mkdir(exist_ok=True)
                (Path("build") / f"fuzz-{kind}-{seed}-{len(bad)}").write_bytes(data)
            took, at_work = time.monotonic() - begin, worked() - begun
            slowest = max(slowest, took)
            # A drawing is read in a process of its own, whose work is not known before it ends: there the clock counts.
            if (took if kind in {"svg", "dxf"} else at_work) > SLOW_SECONDS or took > HANG_SECONDS:
                outcome["SLOW"] += 1
                Path("build").mkdir(exist_ok=True)
                (Path("build") / f"slow-{kind}-{seed}-{len(bad)}").write_bytes(data)
                bad.append(f"{kind}: {took:.1f} s, {at_work:.1f} at work")
    return kind, outcome, slowest, peak_mb(), bad


def main() -> int:
    """Run as many as are asked for."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--count", type=int, default=20_000, help="files in all")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--kinds", nargs="*", help="only these")
    wanted = parser.parse_args()
    shares = {
        "svg": 0.34,
        "dxf": 0.26,
        "photo": 0.1,
        "scan": 0.06,
        "sheet": 0.06,
        "kit": 0.08,
        "project": 0.07,
        "stores": 0.03,
    }
    shares = {kind: share for kind, share in shares.items() if not wanted.kinds or kind in wanted.kinds}
    whole = sum(shares.values())
    jobs = [
        (kind, -(-round(wanted.count * share / whole) // 4), wanted.seed * 1000 + part)
        for kind, share in shares.items()
        for part in range(4)
    ]
    total: dict[str, Counter[str]] = {kind: Counter() for kind in shares}
    slowest: dict[str, float] = dict.fromkeys(shares, 0.0)
    trouble: list[str] = []
    with ProcessPoolExecutor(max_workers=2) as pool:
        most_mb = 0.0
        for kind, outcome, took, used_mb, bad in pool.map(run, *zip(*jobs)):
            most_mb = max(most_mb, used_mb)
            total[kind] += outcome
            slowest[kind] = max(slowest[kind], took)
            trouble += bad
    for kind, outcome in total.items():
        figures = ", ".join(f"{name} {count}" for name, count in sorted(outcome.items()))
        print(f"{kind:<8} {figures}; slowest {slowest[kind]:.2f} s by the clock")
    print(f"most memory of a process: {most_mb:.0f} MB")
    print(f"{sum(sum(one.values()) for one in total.values())} files, {len(trouble)} in trouble")
    for one in trouble[:12]:
        print(one)
    return 1 if trouble else 0


if __name__ == "__main__":
    sys.exit(main())
