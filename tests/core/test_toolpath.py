"""Programs of moves: times against integration and the closed form, tones by a screen of 4 × 4, streaming."""

import math
import tracemalloc

import numpy as np
import pytest
from gcodeparser import parse_gcode_lines
from hypothesis import given
from hypothesis import strategies as st

from keencoat.core.geometry.transform import offset
from keencoat.core.quantities.energy import areal_energy_j_mm2
from keencoat.core.quantities.setting import Setting
from keencoat.core.toolpath.dots import DotRaster
from keencoat.core.toolpath.gcode import S_FULL, gcode_lines, write_gcode
from keencoat.core.toolpath.program import Item, Part, Task, energy_on_piece_j, extent_of, joined, moves_of
from keencoat.core.toolpath.raster import dot_row_moves, line_count, overscan_mm, raster_moves, stroke_moves
from keencoat.core.toolpath.timing import burn_time_s, move_time_s, moves_time_s
from tests.core.conftest import make_machine

PATCH = Item(Part.CELL, "A1")


@pytest.mark.parametrize(("given_", "seconds"), [((100, 100, 1000), 1.1), ((5, 200, 1000), 0.141421)])
def test_move_time_closed_form(given_, seconds):
    assert move_time_s(*given_) == pytest.approx(seconds, rel=1e-5)


@given(distance=st.floats(0.5, 200), speed=st.floats(10, 400), accel=st.floats(500, 8000))
def test_move_time_against_step_by_step_integration(distance, speed, accel):
    at, v, elapsed, step = 0.0, 0.0, 0.0, move_time_s(distance, speed, accel) / 4000
    while at < distance and elapsed < 60:
        braking = v * v / (2 * accel)
        v = max(accel * step / 2, v - accel * step) if distance - at <= braking else min(speed, v + accel * step)
        at += v * step
        elapsed += step
    assert elapsed == pytest.approx(move_time_s(distance, speed, accel), rel=0.02)


def test_raster_time_worked_example():
    """100×50 mm, 0.1 mm, 100 mm/s, 1000 mm/s², overscan 5 mm: 501 lines, 611.2 s with steps between lines."""
    machine = make_machine(accel_mm_s2=1000, max_speed_mm_s=100)
    setting = Setting(50, 100, 0.1)
    assert line_count(50, 0.1) == 501
    assert overscan_mm(100, 1000) == 5
    moves = raster_moves(0, 0, 100, 50, setting, machine)
    assert moves_time_s(moves, machine, (-5, 0)) == pytest.approx(611.2, rel=1e-4)


@given(power=st.floats(0.01, 100).map(lambda p: round(p, 4)))
def test_power_words_keep_the_figures_of_the_cell(power):
    """1.23 % is S 12.3, not 12: the words carry what a cell states, down to 0.0001 %."""
    setting = Setting(power, 100, 0.1)
    task = Task(PATCH, setting, raster_moves(0, 0, 1, 1, setting, make_machine()))
    lines = list(parse_gcode_lines(write_gcode([task], make_machine(), "t")))
    words = {line.params["S"] for line in lines if line.command_str == "G1" and line.params["S"]}
    assert {round(s / S_FULL * 100, 6) for s in words} == {power}
    assert {line.params["F"] for line in lines if "F" in line.params} == {6000}, "100 mm/s, in mm/min"


def test_raster_alternates_and_repeats_passes(machine):
    moves = raster_moves(0, 0, 10, 1, Setting(50, 100, 0.5, passes=2), machine)
    assert moves.x_mm[moves.power_pct > 0].tolist() == [10, 0, 10] * 2
    assert moves.y_mm[moves.power_pct > 0].tolist() == [0, 0.5, 1] * 2
    # Out of rest to rest: the run-up of 5 mm on both sides of 10 mm, three lines, two passes.
    assert moves.stops.sum() == 12
    assert moves.speed_mm_s[moves.rapid].tolist() == [machine.max_speed_mm_s] * 6


@given(grey=st.floats(1, 99), lines=st.integers(20, 60))
def test_grey_is_lit_as_much_as_it_says(grey, lines):
    """Mean tone of a Bayer 4 × 4 screen: within a level (1/16) of what is asked."""
    machine = make_machine()
    side = lines * 0.1
    moves = raster_moves(0, 0, side, side, Setting(50, 100, 0.1), machine, grey)
    length = np.abs(np.diff(moves.x_mm, prepend=0))
    lit = length[moves.power_pct > 0].sum()
    assert lit / (side * (lines + 1)) == pytest.approx(grey / 100, abs=1 / 16 + 0.02)


@pytest.mark.parametrize("dots", range(17))
def test_each_sixteenth_of_grey_lights_one_dot_more_of_four_by_four(machine, dots):
    """Bayer 1973: a screen of 4 × 4 has 17 tones; a cell of its own size shows each once, and again beside it."""
    for left in (0, 0.4):
        moves = raster_moves(
            0, 0, left + 0.4, 0.3, Setting(50, 100, 0.1), machine, max(0.1, min(99.9, dots / 16 * 100))
        )
        lit = np.abs(np.diff(moves.x_mm, prepend=0))[moves.power_pct > 0].sum()
        assert lit / 0.1 == pytest.approx(dots * (1 + left / 0.4))


def test_energy_of_a_patch_worked_example(machine):
    """6 × 6 mm at 1.2 J/mm² (CP: 20 W, 75 %, 7500 mm/min, 0.1 mm gives 1.2 J/mm²): 61 lines of 6 mm at 0.12 J/mm."""
    twenty = make_machine(rated_w=20.0)
    setting = Setting(75, 125, 0.1)
    assert areal_energy_j_mm2(setting, twenty) == pytest.approx(1.2)
    task = Task(PATCH, setting, raster_moves(0, 0, 6, 6, setting, twenty))
    assert energy_on_piece_j([task], twenty) == pytest.approx(61 * 6 * 0.12)


def test_a_row_of_dots_is_lit_where_it_is_told_from_either_side(machine):
    lit = np.array([True, True, False, True])
    for line, xs in ((0, [(0, 4), (6, 8)]), (1, [(8, 6), (4, 0)])):
        moves = dot_row_moves(lit, line, 0, 3, 8, Setting(40, 50, 2), machine)
        starts = np.concatenate([[np.nan], moves.x_mm[:-1]])
        burned = [(a, b) for a, b, p in zip(starts, moves.x_mm, moves.power_pct, strict=True) if p]
        assert burned == xs
        assert set(moves.power_pct) == {0, 40}
        run_up = overscan_mm(50, machine.accel_mm_s2)
        assert (moves.x_mm.min(), moves.x_mm.max()) == pytest.approx((-run_up, 8 + run_up))
    full = raster_moves(0, 3, 8, 0, Setting(40, 50, 2), machine)
    row = dot_row_moves(np.ones(4, dtype=bool), 0, 0, 3, 8, Setting(40, 50, 2), machine)
    for name in ("x_mm", "y_mm", "speed_mm_s", "power_pct", "stops", "rapid"):
        np.testing.assert_array_equal(getattr(full, name), getattr(row, name))


def test_strokes_are_begun_dark_and_rest_at_corners(machine):
    moves = stroke_moves([((0, 0), (3, 0), (3, 4)), ((9, 9), (9, 8))], Setting(30, 20, 0.1), machine)
    moves = moves.through(offset(1, 2))
    assert moves.x_mm.tolist() == [1, 4, 4, 10, 10]
    assert moves.y_mm.tolist() == [2, 2, 6, 11, 10]
    assert moves.power_pct.tolist() == [0, 30, 30, 0, 30]
    assert moves.rapid.tolist() == [True, False, False, True, False]
    assert moves.stops.all()
    assert len(stroke_moves([], Setting(30, 20, 0.1), machine)) == 0
    assert len(joined([])) == 0


@given(st.lists(st.tuples(st.floats(0, 50), st.floats(0, 50), st.booleans()), min_size=1, max_size=30))
def test_time_of_moves_is_that_of_its_runs_from_rest_to_rest(rows):
    """Against the sum over runs by `move_time_s`; what comes after the last stop is not counted."""
    machine = make_machine()
    x, y, stops = (np.array(c) for c in zip(*rows, strict=True))
    moves = moves_of(x.astype(float), y.astype(float), 80.0, 10.0, stops, np.zeros(len(rows), dtype=bool))
    wanted, run, at = 0.0, 0.0, (5.0, 5.0)
    for to_x, to_y, stop in rows:
        run += math.dist(at, (to_x, to_y))
        at = (to_x, to_y)
        if stop:
            wanted, run = wanted + move_time_s(run, 80, machine.accel_mm_s2), 0.0
    assert moves_time_s(moves, machine, (5, 5)) == pytest.approx(wanted, abs=1e-9)


def photo_tile(machine, rows):
    """Rows of 1430 dots of a photo at 0.07 mm."""
    dots = np.random.default_rng(4).random((rows, 1430)) < 0.4
    return DotRaster(dots, 10, 10, 0.07, Setting(60, 200, 0.07), machine, Item(Part.ARTWORK, "1"))


def test_a_photo_of_two_million_dots_goes_through_without_lying_in_memory(machine):
    tile, strip = photo_tile(machine, 1430), photo_tile(machine, 50)
    tracemalloc.start()
    left, low, right, top = extent_of(tile)
    energy, seconds = energy_on_piece_j(tile, machine), burn_time_s(tile, machine)
    lines = sum(1 for _ in gcode_lines(strip, machine, "fern"))
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    assert peak < 20e6
    side = 0.07 * 1430
    run_up = overscan_mm(200, machine.accel_mm_s2)
    assert (left, low, right, top) == pytest.approx((10 - run_up, 10, 10 + side + run_up, 10 + side - 0.07))
    assert energy == pytest.approx(machine.rated_w * 0.6 * tile.lit_mm / 200)
    assert tile.lit_mm == pytest.approx(0.4 * side * 1430, rel=0.01)
    assert seconds > 1430 * side / 200
    assert lines / strip.dots.size == pytest.approx(2 * 0.4 * 0.6, rel=0.02), (
        "a line for every turn from lit to dark and back"
    )
