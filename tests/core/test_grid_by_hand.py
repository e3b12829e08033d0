"""Worked examples of grids, each figure by hand from the rule that the docstring of its function states."""

import math
from dataclasses import replace

import numpy as np
import pytest

from keencoat.core.errors import BadValueError, DoesNotFitError
from keencoat.core.findings import Severity
from keencoat.core.grid.burning import BurnPlan, grid_tasks
from keencoat.core.grid.design import (
    PlannedCell,
    Steps,
    cover_findings,
    design_blind,
    design_crossed,
    design_listed,
    design_wedge,
    powers_in_reach,
    speeds_in_reach,
)
from keencoat.core.grid.factors import Factor, design_factors, focus_reach_mm
from keencoat.core.grid.formats.document import read_grid
from keencoat.core.grid.formats.table import CellRating
from keencoat.core.grid.layout import CORNER_MM, STROKE_MM, TICK_MM, PlacedCell, restore_layout, usual_cell_mm
from keencoat.core.grid.making_room import CellSize, fit_grid, grid_area
from keencoat.core.grid.order import burn_order
from keencoat.core.grid.strokes import TICK_WIDTH_MM, frame_strokes, sample_strokes, ticks
from keencoat.core.piece.flat import FlatPiece, Shape
from keencoat.core.piece.round import RoundPiece
from keencoat.core.quantities.energy import areal_energy_j_mm2
from keencoat.core.quantities.setting import BeamSource, Setting
from keencoat.core.quantities.slice import Slice
from keencoat.core.toolpath.letters import text_strokes
from keencoat.core.toolpath.program import extent_of
from keencoat.core.window.band import EnergyBand
from tests.core.conftest import make_machine

BAND = EnergyBand(0.0, 0.0, math.log(4), 0.0)
"""From 1 to 4 J/mm², whatever the dwell."""


def test_each_factor_steps_as_a_hand_would():
    grid = design_factors(Slice(make_machine(), 0.1), BAND, (Factor.GREY, Factor.INTERVAL), 12, 1)
    assert (grid.rows, grid.columns) == (3, 4)
    assert [c.grey_pct for c in grid.cells] == [25, 50, 75, 100] * 3
    assert [c.setting.interval_mm for c in grid.cells[::4]] == [0.16, 0.1, 0.062]
    assert [(c.row, c.column) for c in grid.cells[:6]] == [(0, 0), (0, 1), (0, 2), (0, 3), (1, 0), (1, 1)]
    grid = design_factors(Slice(make_machine(), 0.1), BAND, (Factor.COATS, Factor.PASSES), 12, 3)
    assert [c.setting.passes for c in grid.cells] == [1, 2, 3, 4] * 3
    assert [c.coats for c in grid.cells[::4]] == [2, 3, 4]
    grid = design_factors(Slice(make_machine(), 0.1), BAND, (Factor.COATS, Factor.PASSES), 12, 1)
    assert [c.coats for c in grid.cells[::4]] == [1, 2, 3]
    grid = design_factors(Slice(make_machine(), 0.1), BAND, (Factor.FOCUS, Factor.POWER), 12, 1)
    assert [c.focus_mm for c in grid.cells[::4]] == [-7, 0, 7]
    grid = design_factors(Slice(make_machine(), 0.1), BAND, (Factor.COATS, Factor.INTERVAL, Factor.POWER), 36, 2)
    assert (grid.rows, grid.columns) == (9, 4)
    assert [c.coats for c in grid.cells[::12]] == [1, 2, 3]


@pytest.mark.parametrize(("cells", "shape"), [(12, (2, 2, 3)), (16, (2, 2, 4)), (24, (2, 3, 4)), (36, (3, 3, 4))])
def test_three_factors_lie_in_bands_rows_and_columns(cells, shape):
    grid = design_factors(Slice(make_machine(), 0.1), BAND, (Factor.COATS, Factor.INTERVAL, Factor.GREY), cells, 2)
    bands, rows, columns = shape
    assert (grid.rows, grid.columns, len(grid.cells)) == (bands * rows, columns, cells)
    assert len({c.coats for c in grid.cells}) == bands
    assert len({c.setting.interval_mm for c in grid.cells}) == rows
    assert len({c.grey_pct for c in grid.cells}) == columns


def test_speeds_along_a_row_span_the_band_at_its_power():
    """1 to 4 J/mm² at p of 12 W, 0.1 mm, in three steps of ln speed: from 1.2·p to 0.3·p mm/s, p in per cent."""
    grid = design_factors(Slice(make_machine(), 0.1), BAND, (Factor.SPEED, Factor.PASSES), 12, 1)
    for row in range(3):
        cells = grid.cells[4 * row : 4 * row + 4]
        (power,) = {c.setting.power_pct for c in cells}
        (passes,) = {c.setting.passes for c in cells}
        speeds = [c.setting.speed_mm_s for c in cells]
        top, low = min(1.2 * power * passes, 250), 0.3 * power * passes
        assert speeds == pytest.approx([top * (low / top) ** (n / 3) for n in range(4)], rel=0.03)


@pytest.mark.parametrize(("source", "spot_mm", "reach_mm"), [
    # 2·π·0.05²/(5·450e-6) = 6.981; 2·π·0.15²/(5·450e-6) = 62.8, no head goes so far; 2·π·0.05²/(5·10.6e-3) = 0.296.
    (BeamSource.BLUE, 0.1, 6.981), (BeamSource.BLUE, 0.3, 10), (BeamSource.CO2, 0.1, 1),
])  # fmt: skip
def test_a_focus_ladder_goes_two_rayleigh_lengths(source, spot_mm, reach_mm):
    assert focus_reach_mm(make_machine(source=source, spot_mm=spot_mm)) == pytest.approx(reach_mm, abs=1e-3)


def test_powers_are_even_in_ln_energy_over_what_machine_and_band_share():
    """12 W, 100 mm/s, 0.1 mm: 1.2 J/mm² at full power; the band begins at 1. 20 mm/s: 1 to 4 of 6 J/mm²."""
    machine = make_machine()
    assert [s.power_pct for s in powers_in_reach(Slice(machine, 0.1), BAND, 20, 4)] == pytest.approx(
        [100 / 6 * 4 ** (7 / 8 * n / 3) for n in range(4)], abs=0.06
    )
    assert [s.power_pct for s in powers_in_reach(Slice(machine, 0.1), BAND, 20, 4, shifted=1)] == pytest.approx(
        [100 / 6 * 4 ** (1 / 8 + 7 / 8 * n / 3) for n in range(4)], abs=0.06
    )
    short = [s.power_pct for s in powers_in_reach(Slice(machine, 0.1), BAND, 100, 3)]
    assert short == pytest.approx([100 / 1.2 * 1.2 ** (5 / 6 * n / 2) for n in range(3)], abs=0.06)
    # Two passes at half the watts reach the same.
    twice = powers_in_reach(Slice(make_machine(rated_w=6), 0.1, 2), BAND, 100, 3)
    assert [s.power_pct for s in twice] == short
    # Out of reach, all powers that there are: 2 to 100 %.
    far = [s.power_pct for s in powers_in_reach(Slice(machine, 0.1), BAND, 250, 2)]
    assert far == pytest.approx([2, 2 * 50**0.75], abs=0.06)


def test_a_crossed_grid_spans_the_speeds_at_which_the_band_is_in_reach():
    grid = design_crossed(Slice(make_machine(), 0.1), BAND, cells=12)
    speeds = sorted({c.setting.speed_mm_s for c in grid.cells}, reverse=True)
    energies = [areal_energy_j_mm2(c.setting, make_machine()) for c in grid.cells]
    assert (grid.rows, grid.columns) == (3, 4)
    assert [c.setting.speed_mm_s for c in grid.cells[::4]] == speeds
    assert 0.95 < min(energies) < 1.1
    assert 3 < max(energies) < 4.1


def test_the_blind_rectangle_spans_the_machines_reach_in_nine_steps():
    machine = make_machine(min_power_pct=4, min_speed_mm_s=10, max_speed_mm_s=250)
    grid = design_blind(Slice(machine, 0.1, 2))
    assert (grid.rows, grid.columns, len(grid.cells)) == (9, 9, 81)
    assert [c.setting.power_pct for c in grid.cells[:9]] == [4, 16, 28, 40, 52, 64, 76, 88, 100]
    assert [c.setting.speed_mm_s for c in grid.cells[::9]] == [10, 40, 70, 100, 130, 160, 190, 220, 250]
    assert {c.setting.passes for c in grid.cells} == {2}
    assert [c.code for c in grid.cells[8:10]] == ["A9", "B1"]
    assert [f.code for f in grid.findings] == ["blind-grid"]
    assert grid.findings[0].message.startswith("81 cells")


def test_a_blind_rectangle_is_drawn_as_typed():
    """As some do it: 60 to 100 % by 5 against 6000 to 10 000 mm/min by 500. Common practice, no source."""
    at = Slice(make_machine(), 0.1)
    grid = design_blind(at, Steps(60, 100, 9), Steps(100, 500 / 3, 9))
    assert [c.setting.power_pct for c in grid.cells[:9]] == [60, 65, 70, 75, 80, 85, 90, 95, 100]
    assert [round(60 * c.setting.speed_mm_s, -2) for c in grid.cells[::9]] == list(range(6000, 10001, 500))
    few = design_blind(at, Steps(20, 100, 2), Steps(50, 100, 3))
    assert (few.rows, few.columns, [c.setting.speed_mm_s for c in few.cells[::2]]) == (3, 2, [50, 75, 100])


@pytest.mark.parametrize(
    ("powers", "speeds", "field"),
    [
        (Steps(1, 100), Steps(10, 100), "power_from"),
        (Steps(10, 101), Steps(10, 100), "power_to"),
        (Steps(10, 100, 17), Steps(10, 100), "power_steps"),
        (Steps(10, 100, 1), Steps(10, 100), "power_steps"),
        (Steps(80, 60), Steps(10, 100), "power_to"),
        (Steps(10, 100), Steps(1, 100), "speed_from"),
        (Steps(10, 100), Steps(10, 251), "speed_to"),
        (Steps(10, 100), Steps(100, 100), "speed_to"),
        (Steps(10, math.nan), Steps(10, 100), "power_to"),
    ],
)
def test_a_blind_rectangle_out_of_reach_is_refused_beside_its_field(powers, speeds, field):
    machine = make_machine(min_power_pct=2, min_speed_mm_s=5, max_speed_mm_s=250)
    with pytest.raises(BadValueError) as refusal:
        design_blind(Slice(machine, 0.1), powers, speeds)
    assert refusal.value.field == field


@pytest.mark.parametrize(("count", "wide", "shape"), [
    (1, 1, (1, 1)), (2, 1, (1, 2)), (3, 2.6, (1, 3)), (4, 1, (2, 2)), (5, 1, (2, 3)), (12, 1, (3, 4)),
    (12, 2.6, (2, 6)), (12, 0.5, (4, 3)), (2, 0.3, (2, 1)),
])  # fmt: skip
def test_listed_settings_lie_in_rows_as_the_face_is_wide(count, wide, shape):
    """A cell with its strokes is 1.4 times as high as wide: twelve on a square in √(12 · 1.4) = 4.1 columns."""
    settings = [Setting(10 + n, 50, 0.1) for n in range(count)]
    grid = design_listed(settings, wide)
    assert (grid.rows, grid.columns) == shape
    assert [c.setting for c in grid.cells] == settings
    assert [(c.row, c.column) for c in grid.cells] == [divmod(n, shape[1]) for n in range(count)]


@pytest.mark.parametrize(("spot_mm", "interval_mm", "side_mm"), [
    (0.05, 0.05, 5.0), (0.1, 0.1, 6.0), (0.13, 0.05, 7.8), (0.05, 0.15, 9.0), (0.1, 0.3, 10.0),
])  # fmt: skip
def test_a_patch_is_sixty_lines_or_spots_wide(spot_mm, interval_mm, side_mm):
    assert usual_cell_mm(make_machine(spot_mm=spot_mm), interval_mm) == side_mm


def test_sizes_shrink_in_eight_steps_to_the_least():
    sizes = CellSize(8, 3).smaller()
    assert [s.cell_mm for s in sizes] == [7.5, 7, 6.5, 6, 5.5, 5, 4.5, 4]
    assert [s.gap_mm for s in sizes] == [2.81, 2.62, 2.44, 2.25, 2.06, 1.88, 1.69, 1.5]
    assert [s.gap_mm for s in CellSize(8, 1).smaller()] == [1] * 8
    assert CellSize(8, 3, fixed=True).smaller() == CellSize(4, 3).smaller() == []


def test_a_round_piece_takes_what_one_photo_shows():
    """A cylinder of 60 mm: 100° of its round are 30 mm · 100 · π/180 = 52.4 mm; its height less twice the margin. One
    of 8 mm unrolls to 25.1 mm, less the margins it is 19.1 of which a photo shows 7.0. A tapered one counts by its
    narrow end, along its slant: √(80² + 10²) = 80.6 mm."""
    for piece, size in (
        (RoundPiece(60, 60, 90, 3, 4), (52.36, 82)),
        (RoundPiece(8, 8, 90, 1, 3), (6.98, 84)),
        (RoundPiece(70, 50, 80, 3, 5), (43.63, 70.62)),
    ):
        left, low, right, top = grid_area(piece).bounds
        assert (right - left, top - low) == pytest.approx(size, abs=0.01)
        assert left == -right
        assert low == -top


def test_a_grid_goes_onto_two_spares_by_rows_or_by_columns_whichever_fits():
    size = CellSize(8, 3, fixed=True)

    def on(width, height):
        piece = FlatPiece(Shape.RECTANGLE, width, height, 4)
        return fit_grid(lambda n: design_crossed(Slice(make_machine(), 0.1), BAND, cells=n), 12, (), size, piece)

    assert len(on(70, 70).sheets) == 1
    by_rows, by_columns = on(70, 50), on(50, 70)
    assert [s.cells[0].cell.code for s in by_rows.sheets] == ["A1", "C1"]
    assert [s.cells[0].cell.code for s in by_columns.sheets] == ["A1", "A3"]
    assert [f.code for f in by_rows.findings] == ["second-spare"]
    with pytest.raises(DoesNotFitError, match="3 × 4 cells"):
        on(40, 40)


def test_patches_shrink_before_a_cell_is_left_out_and_no_further_than_is_enough():
    """A plate of 140 × 60 has room for twelve patches of 14 mm, and for four of 20."""
    piece = FlatPiece(Shape.RECTANGLE, 140, 60, 4)

    def make(n):
        return design_listed([Setting(10 + k, 50, 0.1) for k in range(n)], 140 / 60)

    for enough_mm, cells in ((6.0, 12), (15.0, 4)):
        fitted = fit_grid(make, 12, tuple(range(3, 12)), CellSize(20, 3, enough_mm=enough_mm), piece)
        assert (len(fitted.sheets), len(fitted.design.cells)) == (1, cells)
        assert fitted.sheets[0].cell_mm >= min(20, enough_mm)


@pytest.mark.parametrize("axis", ["bed_x_mm", "bed_y_mm"])
def test_the_bed_must_hold_the_run_ups_to_the_tenth(axis):
    piece = FlatPiece(Shape.RECTANGLE, 100, 80, 4)
    grid = fit_grid(lambda n: design_crossed(Slice(make_machine(), 0.1), BAND, cells=n), 12, (), CellSize(6, 3), piece)
    plan = BurnPlan(Setting(20, 60, 0.1))
    left, low, right, top = extent_of(grid_tasks(grid.sheets[0], piece, make_machine(), plan))
    room = right - left if axis == "bed_x_mm" else top - low
    assert grid_tasks(grid.sheets[0], piece, make_machine(**{axis: room + 0.05}), plan)
    with pytest.raises(DoesNotFitError, match="run-ups"):
        grid_tasks(grid.sheets[0], piece, make_machine(**{axis: room - 0.05}), plan)


def placed_at(*xs):
    return [PlacedCell(PlannedCell(0, n, Setting(50, 50, 0.1)), x, 0.0, 0.2) for n, x in enumerate(xs)]


def test_the_next_cell_is_the_one_that_gets_least_warmth_over_distance_squared():
    """After P at 0 and Q at 1.6: X at −0.5 gets ½/0.5² + 1/2.1² = 2.23, Y at 0.8 gets 1.5/0.8² = 2.34: X, then Y.
    With the cube it were 4.1 and 2.9, and Y first."""
    assert burn_order(placed_at(0.0, 1.6, -0.5, 0.8), [1.0, 1.001, 5, 5]) == [0, 1, 2, 3]
    # Twice the energy in Q warms Y more than X still: ½/0.25 + 2/4.41 = 2.45 against 2.5/0.64 = 3.9.
    assert burn_order(placed_at(0.0, 1.6, -0.5, 0.8), [1.0, 2.0, 5, 5]) == [0, 1, 2, 3]
    # What was burned last is warmest: after P and S at 11, R beside P (½/1²) goes before Q beside S (1/1²).
    assert burn_order(placed_at(0.0, 10.0, -1.0, 11.0), [1.0, 1.001, 1.002, 1.002]) == [0, 3, 2, 1]
    assert burn_order([], []) == []


def test_the_frame_is_loops_a_line_apart_with_a_filled_corner_and_ticks():
    piece = FlatPiece(Shape.RECTANGLE, 100, 80, 4)
    grid = fit_grid(lambda n: design_crossed(Slice(make_machine(), 0.1), BAND, cells=n), 12, (), CellSize(6, 3), piece)
    frame = grid.sheets[0].frame
    strokes = frame_strokes(frame, 0.2)
    loops = [s for s in strokes if len(s) == 5]
    assert len(loops) == round(STROKE_MM / 0.2) + 1
    assert [round(loop[0][0] - frame.left_mm, 6) for loop in loops] == [0, 0.2, 0.4, 0.6, 0.8]
    for loop in loops:
        assert loop[0] == loop[-1]
        assert loop[0][0] - frame.left_mm == pytest.approx(frame.right_mm - loop[1][0])
        assert loop[0][1] - frame.low_mm == pytest.approx(frame.top_mm - loop[2][1])
    left, low, right, top = frame.corner
    assert (right - left, top - low) == (CORNER_MM, CORNER_MM)
    fill = [s for s in strokes if len(s) == 2 and s[0][0] == left + STROKE_MM]
    assert len(fill) == math.floor((CORNER_MM - STROKE_MM) / 0.2 + 1e-9) + 1
    assert [round(s[0][1], 6) for s in fill[:2]] == [round(low, 6), round(low + 0.2, 6)]
    assert all(s[1][0] == right for s in fill)
    at = ticks(frame)
    assert len(at) == 3 + 4
    assert {x for x, _, along_x in at if along_x} == {frame.right_mm - STROKE_MM}
    assert {y for _, y, along_x in at if not along_x} == {frame.low_mm + STROKE_MM}
    rest = [s for s in strokes if len(s) == 2 and s not in fill]
    assert len(rest) == len(at) * (math.floor(TICK_WIDTH_MM / 0.2 + 1e-9) + 1)
    offs = sorted({round(s[0][1] - y, 6) for s in rest for x, y, along_x in at if along_x and s[0][0] == x - TICK_MM})
    assert [off for off in offs if abs(off) < 1] == [-0.25, -0.05, 0.15]
    for stroke in rest:
        (x0, y0), (x1, y1) = stroke
        assert max(abs(x1 - x0), abs(y1 - y0)) == pytest.approx(TICK_MM)
        assert any(abs((y0 - y) if along_x else (x0 - x)) <= TICK_WIDTH_MM / 2 + 1e-9 for x, y, along_x in at)


def test_codes_stand_left_of_their_rows_and_above_their_columns():
    """Patches of 6 mm: a row's letter, 3 mm high, begins 4.5 mm left of them and 1.5 mm below their middle; a column's
    figure stands 1.5 mm above them, its ink's middle over theirs. Without a frame the codes are the grid's ends."""
    piece = FlatPiece(Shape.RECTANGLE, 100, 80, 4)
    grid = fit_grid(lambda n: design_crossed(Slice(make_machine(), 0.1), BAND, cells=n), 12, (), CellSize(6, 3), piece)
    (sheet,) = grid.sheets
    xs, ys = sorted({c.x_mm for c in sheet.cells}), sorted({c.y_mm for c in sheet.cells}, reverse=True)
    by_text = {label.text: label for label in sheet.labels}
    for letter, y in zip("ABC", ys, strict=True):
        assert (by_text[letter].x_mm, by_text[letter].y_mm) == pytest.approx((xs[0] - 3 - 4.5, y - 1.5))
    for figure, x in zip("1234", xs, strict=True):
        ink = [point[0] for stroke in text_strokes(figure, by_text[figure].x_mm, 0, 3) for point in stroke]
        assert (min(ink) + max(ink)) / 2 == pytest.approx(x, abs=1e-3)
        assert by_text[figure].y_mm == pytest.approx(ys[0] + 3 + 1.5)
    bare = restore_layout(sheet.cells, 6, 3, framed=False).extent()
    assert bare == pytest.approx((xs[0] - 7.5, ys[-1] - 3, xs[-1] + 3, ys[0] + 7.5))


def test_a_sample_is_three_lines_up_three_across_and_the_code():
    """A patch of 10 mm in the middle with a sample of 2 mm under it: from y −5.8 to −7.8."""
    placed = PlacedCell(PlannedCell(0, 0, Setting(50, 50, 0.1)), 0.0, 0.0, 10.0, 2.0)
    assert placed.sample == (-5, -7.8, 5, -5.8)
    strokes = sample_strokes(placed)
    up = strokes[:3]
    assert [round(s[0][0], 6) for s in up] == [-4.8, -3.8, -2.8]
    assert {(round(s[0][1], 6), round(s[1][1], 6)) for s in up} == {(-7.8, -5.8)}
    across = strokes[3:6]
    assert [round(s[0][1], 6) for s in across] == [-7.64, -6.8, -5.96]
    assert {(round(s[0][0], 6), round(s[1][0], 6)) for s in across} == {(-1.8, 0.8)}
    code = [p for s in strokes[6:] for p in s]
    assert min(x for x, _ in code) == pytest.approx(1.6)
    assert max(x for x, _ in code) <= 5
    assert sum(y for y in (min(y for _, y in code), max(y for _, y in code))) / 2 == pytest.approx(-6.8)
    assert sample_strokes(PlacedCell(placed.cell, 0.0, 0.0, 10.0)) == []


def test_a_cell_that_nobody_heard_did_not_snap():
    assert CellRating("A1", None) == CellRating("A1", None, (), False, None)


def test_a_list_of_cells_may_leave_out_what_is_usual():
    """Interval of the job, one pass, no coats told, in focus, full black; a patch of 6 mm without a sample."""
    table = b"code,power_pct,speed_mm_s,x_mm,y_mm\nA1,20,100,0,0\nB2,30,100,10,-10\n"
    grid = read_grid(table, 0.12, framed=False)
    assert [(c.x_mm, c.y_mm, c.side_mm, c.sample_mm) for c in grid.layout.cells] == [(0, 0, 6, 0), (10, -10, 6, 0)]
    (first, _) = (c.cell for c in grid.layout.cells)
    assert (first.setting, first.coats, first.focus_mm, first.grey_pct) == (Setting(20, 100, 0.12), None, 0, 100)
    most = b"code,power_pct,speed_mm_s,x_mm,y_mm,coats,side_mm\nA1,20,100,0,0,20,0.5\nA2,20,100,9,0,3,0.5\n"
    (only, _) = read_grid(most, 0.12, framed=False).layout.cells
    assert (only.cell.coats, only.side_mm) == (20, 0.5)
    for right, wrong in ((b",20,0.5", b",21,0.5"), (b",20,0.5", b",-1,0.5"), (b"0.5", b"0.4"), (b"0.5", b"101")):
        with pytest.raises(BadValueError):
            read_grid(most.replace(right, wrong), 0.12, framed=False)


def test_what_a_machine_reaches_is_told_in_per_cent():
    assert cover_findings(0.4) == ()
    (short,) = cover_findings(0.34)
    assert (short.severity, short.figures) == (Severity.WARN, {"cover_pct": pytest.approx(34)})
    assert "only 34 %" in short.message
    assert [f.severity for share in (0.3, 0.29) for f in cover_findings(share)] == [Severity.WARN, Severity.STOP]


def test_a_wedge_is_eighths_of_its_dots_in_two_rows():
    wedge = design_wedge(Setting(20, 100, 0.12))
    assert [c.grey_pct for c in wedge.cells] == [12.5, 25, 37.5, 50, 62.5, 75, 87.5, 100]
    assert [c.code for c in wedge.cells] == ["A1", "A2", "A3", "A4", "B1", "B2", "B3", "B4"]
    assert [c.plain for c in wedge.cells] == [False] * 7 + [True]
    assert not replace(wedge.cells[-1], coats=2).plain
    assert not replace(wedge.cells[-1], focus_mm=1).plain


def test_the_share_of_a_band_that_a_machine_covers_follows_the_dwell():
    """Enough grows with the root of the dwell here: what full power and the least power leave of it, speed by speed."""
    machine = make_machine(rated_w=6, min_power_pct=40, min_speed_mm_s=10, max_speed_mm_s=200)
    band = EnergyBand(0.0, 0.5, math.log(4), 0.4)
    shares = []
    for speed in np.geomspace(10, 200, 120):
        dwell_ms = 1000 * machine.spot_mm / speed
        enough, harm = dwell_ms**0.5, 4 * dwell_ms**0.4
        full = machine.rated_w / (speed * 0.1)
        low, high = max(enough, 0.4 * full), min(harm, full)
        shares.append(math.log(high / low) / math.log(harm / enough))
    speeds, best = speeds_in_reach(Slice(machine, 0.1), band, 4)
    assert best == pytest.approx(max(shares))
    assert 0.4 < best < 0.9
    good = np.geomspace(10, 200, 120)[np.array(shares) >= 0.4]
    assert speeds[0] == pytest.approx(good.max(), rel=0.01)
    assert speeds == sorted(speeds, reverse=True)
