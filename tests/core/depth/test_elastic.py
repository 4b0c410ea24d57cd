"""The floor as springs, against the closed forms of a rigid block on a bed of them."""

from __future__ import annotations

import math
import unittest

from msgspec.structs import replace
from shapely.geometry import box as rectangle

from cozy_burrow.core.depth.elastic import Sunk, sunk
from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.depth.seat import Seating
from cozy_burrow.core.geometry.rings import as_multi
from cozy_burrow.core.model.records import Item, Sheet
from tests.core.depth.floors import TRUE_EDGES_MM, layers_at, thing

LAYERS = layers_at(10.0, 30.0)  # one layer out, 20 mm of foam under it
STIFF = 40.0 / 0.25 / 1000.0 / 20.0  # N/mm³: 40 kPa at a quarter, 20 mm thick


def lying(item: Item, mass_g: float, area: object = None, sheet: Sheet | None = None) -> Sunk:
    """Return how an item lies in a pocket one layer deep."""
    seating = Seating(datum_mm=10.0, zone_layers=(1,) * len(item.zones), proud_mm=0.0, bottom_mm=10.0)
    pocket = Pocket("", item, seating, (as_multi(area or rectangle(-200, -200, 200, 200)),))  # type: ignore[arg-type]
    return sunk(pocket, LAYERS, (sheet or Sheet(),), TRUE_EDGES_MM, mass_g)


class Springs(unittest.TestCase):
    def test_a_block_sinks_by_its_weight_over_area_and_spring(self) -> None:
        block = thing(((-50, -20, 50, 20), 0, 30))
        found = lying(block, 2000.0)
        self.assertAlmostEqual(found.deeper_mm, 2000 * 9.81e-3 / (100 * 40 * STIFF), places=5)
        self.assertLess(found.tilt_deg, 1e-6)
        self.assertAlmostEqual(found.worst_kpa, 2000 * 9.81e-3 / (100 * 40) * 1000, places=3)

    def test_twice_the_foam_gives_twice_and_denser_foam_less(self) -> None:
        block = thing(((-50, -20, 50, 20), 0, 30))
        plain = lying(block, 2000.0).deeper_mm
        denser = lying(block, 2000.0, sheet=Sheet(density_kg_m3=60.0)).deeper_mm
        self.assertAlmostEqual(plain / denser, 2**1.5, places=4)

    def test_weight_off_the_middle_tilts_it_by_moment_over_spring_and_inertia(self) -> None:
        # A low plate with a heavy end: level floor under all of it, balance point 10 mm off its middle.
        plate = thing(((-50, -20, 50, 20), 0, 10), ((20, -20, 50, 20), 10, 60))
        volumes = 100 * 40 * 10, 30 * 40 * 50
        off = volumes[1] * 35 / sum(volumes)
        found = lying(replace(plate, zones=plate.zones[:1]), 1000.0)
        self.assertLess(found.tilt_deg, 1e-6)
        tilted = lying(plate, 1000.0)
        inertia = 40 * 100**3 / 12
        # All of it stays pressed as long as the balance point lies in the middle third.
        if off < 100 / 6:
            slope = 1000 * 9.81e-3 * off / (STIFF * inertia)
            self.assertAlmostEqual(tilted.tilt_deg, math.degrees(math.atan(slope)), delta=0.01)
        else:
            # Past it one end lifts: pressed over three times the distance to the near edge, as a wedge.
            width = 3 * (50 - off)
            slope = 2 * 1000 * 9.81e-3 / (width * 40 * STIFF) / width
            self.assertAlmostEqual(tilted.tilt_deg, math.degrees(math.atan(slope)), delta=0.03)

    def test_springs_push_and_do_not_pull(self) -> None:
        # Floor under little more than the half: the wedge is short, and nothing holds the other end down.
        block = thing(((-50, -20, 50, 20), 0, 30))
        found = lying(block, 3000.0, rectangle(-200, -200, -8, 200))
        self.assertGreater(found.tilt_deg, 0.5)
        self.assertGreater(found.worst_kpa, 3000 * 9.81e-3 / (42 * 40) * 1000)


if __name__ == "__main__":
    unittest.main()
