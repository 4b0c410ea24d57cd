"""The raster never says yes wrongly: every shift that it frees is free in truth, whatever the shapes."""

from __future__ import annotations

import unittest
from unittest.mock import patch

import numpy as np
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from cozy_burrow.core.arrange import raster
from cozy_burrow.core.arrange.pieces import Bed, Form
from cozy_burrow.core.arrange.raster import Grid
from cozy_burrow.core.geometry.placing import placed

L_SHAPE = shapely.union(shapely.box(-20, -15, 20, -5), shapely.box(-20, -15, -10, 15))


class Raster(unittest.TestCase):
    @settings(derandomize=True, deadline=None, max_examples=15)
    @given(st.floats(0, 359), st.floats(0.8, 3.0), st.floats(2, 14))
    def test_every_free_shift_is_free(self, angle: float, cell: float, wall: float) -> None:
        bed = Bed(shapely.box(0, 0, 140, 100), [(shapely.Point(70, 50).buffer(12), wall)])
        form = Form(L_SHAPE, wall)
        grid = Grid(bed, cell_mm=cell)
        free = grid.free_shifts(form, angle, grid.taken_spectrum())
        if free is None:
            return
        rows, columns = np.nonzero(free)
        for index in np.linspace(0, len(rows) - 1, 12).astype(int):
            x, y = grid.position(form, angle, int(rows[index]), int(columns[index]))
            shape = placed(form.shape, x_mm=x, y_mm=y, angle_deg=angle)
            self.assertTrue(bed.area.covers(shape))
            self.assertGreaterEqual(shape.distance(bed.fixed[0][0]), wall - 1e-6)

    def test_it_loses_less_than_three_cells(self) -> None:
        bed = Bed(shapely.box(0, 0, 100, 60))
        form = Form(shapely.box(-20, -10, 20, 10), 8.0)
        grid = Grid(bed, cell_mm=1.0)
        free = grid.free_shifts(form, 0.0, grid.taken_spectrum())
        assert free is not None
        rows, columns = np.nonzero(free)
        positions = [grid.position(form, 0.0, int(row), int(column)) for row, column in zip(rows, columns)]
        self.assertLess(min(x for x, _ in positions), 20 + 3)
        self.assertGreater(max(x for x, _ in positions), 80 - 3)
        self.assertLess(min(y for _, y in positions), 10 + 3)

    def test_what_is_laid_is_taken_until_it_is_cleared(self) -> None:
        grid = Grid(Bed(shapely.box(0, 0, 60, 40)), cell_mm=1.0)
        form = Form(shapely.box(-25, -15, 25, 15), 8.0)
        free = grid.free_shifts(form, 0.0, grid.taken_spectrum())
        assert free is not None
        row, column = (int(axis[0]) for axis in np.nonzero(free))
        grid.lay(form, 0.0, row, column)
        self.assertIsNone(grid.free_shifts(form, 0.0, grid.taken_spectrum()))
        grid.clear()
        self.assertIsNotNone(grid.free_shifts(form, 0.0, grid.taken_spectrum()))

    def test_the_grids_of_all_beds_keep_only_so_much_together(self) -> None:
        """A search over several inserts has a bed for each: each with a bound of its own took sixty megabytes."""
        most = 0.4
        form = Form(shapely.box(-20, -10, 20, 10), 8.0)
        beds = [Bed(shapely.box(0, 0, 100 + 10 * n, 60)) for n in range(4)]
        with patch.object(raster, "MOST_SHARED_MB", most), patch.object(raster, "_room", raster._Room()):
            answers = []
            for _ in range(2):
                for bed in beds:
                    grid = Grid(bed, cell_mm=1.0)
                    for angle in range(0, 360, 20):
                        answers.append(grid.free_shifts(form, float(angle), grid.taken_spectrum()))
                kept = [sum(one.nbytes for one in raster._shared_by(bed, 1.0).kept.values()) / 1e6 for bed in beds]
                self.assertLessEqual(sum(kept), most)
                self.assertGreater(kept[-1], most / 2, "what came last stays")
            for first, again in zip(answers[: len(answers) // 2], answers[len(answers) // 2 :]):
                np.testing.assert_array_equal(first, again)  # of what made room, nothing is missing

    def test_contact_is_larger_in_a_corner_than_in_the_open(self) -> None:
        grid = Grid(Bed(shapely.box(0, 0, 100, 80)), cell_mm=1.0)
        form = Form(shapely.box(-8, -8, 8, 8), 2.0)
        free = grid.free_shifts(form, 0.0, grid.taken_spectrum())
        assert free is not None
        contact = grid.contact(form, 0.0, grid.solid_spectrum())[: free.shape[0], : free.shape[1]]
        rows, columns = np.nonzero(free)
        corner = contact[rows.min(), columns.min()]
        middle = contact[(rows.min() + rows.max()) // 2, (columns.min() + columns.max()) // 2]
        self.assertGreater(corner, middle + 0.2)

    def test_a_form_larger_than_the_bed_lies_nowhere(self) -> None:
        grid = Grid(Bed(shapely.box(0, 0, 60, 40)), cell_mm=1.0)
        self.assertIsNone(grid.free_shifts(Form(shapely.box(0, 0, 300, 5), 2.0), 0.0, grid.taken_spectrum()))
        self.assertIsNone(grid.free_shifts(Form(shapely.box(0, 0, 62, 5), 2.0), 0.0, grid.taken_spectrum()))

    def test_a_form_of_ten_metres_is_refused_before_it_is_drawn(self) -> None:
        """A finger pull dragged far off its thing made one: its cells took minutes and three gigabytes."""
        grid = Grid(Bed(shapely.box(0, 0, 60, 40)), cell_mm=1.0)
        far = shapely.union(shapely.box(0, 0, 10, 10), shapely.Point(9000, 9000).buffer(20))
        with patch.object(Grid, "_make_stamp", side_effect=AssertionError("drawn")):
            self.assertIsNone(grid.free_shifts(Form(far, 2.0), 30.0, grid.taken_spectrum()))

    def test_a_bed_of_ten_metres_has_larger_cells(self) -> None:
        grid = Grid(Bed(shapely.box(0, 0, 9000, 9000)), cell_mm=1.2)
        self.assertLess(grid.shape[0] * grid.shape[1], 1_200_000)
        free = grid.free_shifts(Form(shapely.box(0, 0, 500, 300), 12.0), 0.0, grid.taken_spectrum())
        self.assertIsNotNone(free)

    def test_what_is_fixed_takes_the_same_cells_by_its_window_as_on_the_whole_grid(self) -> None:
        disc, square = shapely.Point(70, 50).buffer(12), shapely.box(-30, 60, 20, 130)  # the second lies half outside
        grid = Grid(Bed(shapely.box(0, 0, 140, 100), [(disc, 8.0), (square, 3.0)]), cell_mm=1.3)
        half = grid.cell_mm * 0.5**0.5
        whole = grid._cover(disc.buffer(4.0 + half)) | grid._cover(square.buffer(1.5 + half))
        np.testing.assert_array_equal(grid.taken, whole)
