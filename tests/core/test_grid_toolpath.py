"""Grid and toolpath: layout by shapely, times against numeric integration and the closed form, G-code read back by
gcodeparser."""

import math
import tracemalloc
from itertools import combinations, pairwise

import numpy as np
import pytest
from gcodeparser import parse_gcode_lines
from hypothesis import event, given
from hypothesis import strategies as st
from shapely.geometry import box

from keencoat.core.errors import BadValueError, DoesNotFitError, NotAllowedError
from keencoat.core.grid.burning import BurnPlan, grid_tasks
from keencoat.core.grid.design import SHAPES_BY_CELLS, design_blind, design_crossed
from keencoat.core.grid.factors import Factor, counts_for, design_factors
from keencoat.core.grid.layout import USUAL_GAP_MM, usual_cell_mm
from keencoat.core.grid.making_room import BAND_DEG, CellSize, fit_grid
from keencoat.core.grid.order import burn_order
from keencoat.core.piece.flat import FlatPiece, Shape
from keencoat.core.piece.round import RoundPiece
from keencoat.core.quantities.energy import areal_energy_j_mm2
from keencoat.core.quantities.setting import BeamSource, Setting, require_reachable
from keencoat.core.states import GRID_MOVES, GridState, move
from keencoat.core.toolpath.gcode import S_FULL, gcode_lines, write_gcode
from keencoat.core.toolpath.program import Item, Part, Task, energy_on_piece_j, extent_of, joined, moves_of
from keencoat.core.toolpath.raster import dot_row_moves, line_count, overscan_mm, raster_moves, stroke_moves
from keencoat.core.toolpath.timing import burn_time_s, move_time_s, moves_time_s
from keencoat.core.window.fit import fit_window
from keencoat.core.window.predict import next_band
from keencoat.core.window.priors import PRIORS, prior_for
from tests.core.conftest import make_machine

FROST = prior_for("frost", BeamSource.BLUE)

PATCH = Item(Part.CELL, "A1")


def band():
    return next_band(fit_window((), FROST))


def fitted_on(piece, cells, size=None, machine=None):
    machine = machine or make_machine()
    size = size or CellSize(usual_cell_mm(machine, 0.1), USUAL_GAP_MM)
    return fit_grid(lambda n: design_crossed(machine, band(), 0.1, cells=n), cells, counts_for(2), size, piece)


@pytest.mark.parametrize("cells", SHAPES_BY_CELLS)
def test_crossed_grid_is_even_in_log_energy_and_in_reach(cells, machine):
    design = design_crossed(machine, band(), 0.1, cells=cells)
    assert len({c.code for c in design.cells}) == len(design.cells) == cells
    for row in range(design.rows):
        of_row = [c.setting for c in design.cells if c.row == row]
        logs = [math.log(areal_energy_j_mm2(require_reachable(s, machine), machine)) for s in of_row]
        steps = [b - a for a, b in pairwise(logs)]
        assert min(steps) > 0
        assert max(steps) == pytest.approx(min(steps), rel=0.05)
    assert len({c.setting.speed_mm_s for c in design.cells}) == design.rows


@given(
    watts=st.floats(4, 80), top=st.floats(60, 1000), interval=st.floats(0.04, 0.2),
    key=st.sampled_from(sorted(PRIORS)),
)  # fmt: skip
def test_any_machine_gets_a_grid_in_reach_or_a_clear_no(watts, top, interval, key):
    machine = make_machine(source=key[1], rated_w=watts, max_speed_mm_s=top)
    try:
        cells = design_crossed(machine, next_band(fit_window((), PRIORS[key])), interval).cells
    except BadValueError as error:
        cells, refusal = (), error
    assert cells or "cannot reach" in refusal.message
    for cell in cells:
        require_reachable(cell.setting, machine)


def test_a_weak_machine_is_told(machine):
    weak = make_machine(rated_w=0.2, min_speed_mm_s=50)
    with pytest.raises(BadValueError, match="cannot reach"):
        design_crossed(weak, band(), 0.1)
    with pytest.raises(BadValueError, match="does not divide"):
        design_crossed(machine, band(), 0.1, cells=11)


def test_blind_rectangle_is_the_usual_one(machine):
    """Common practice, no source: 60–100 % in 5 % steps × 6000–10 000 mm/min in 500 steps, 81 cells."""
    design = design_blind(machine, 0.1)
    assert len(design.cells) == 81
    assert {c.setting.power_pct for c in design.cells} == set(range(60, 101, 5))
    assert max(c.setting.speed_mm_s for c in design.cells) == pytest.approx(10_000 / 60)


@given(
    cells=st.sampled_from(sorted(SHAPES_BY_CELLS)), width=st.floats(20, 200), height=st.floats(20, 200),
    disc=st.booleans(),
)  # fmt: skip
def test_cells_lie_apart_inside_the_coat_or_do_not_fit(cells, width, height, disc):
    piece = FlatPiece(Shape.DISC if disc else Shape.RECTANGLE, width, width if disc else height, 4)
    try:
        fitted = fitted_on(piece, cells)
    except DoesNotFitError:
        event("does not fit")
        assert min(width, height) < 60
        return
    event(", ".join(f.code for f in fitted.findings) or "as wished")
    coated = piece.coated.buffer(1e-6)
    codes = [c.cell.code for sheet in fitted.sheets for c in sheet.cells]
    assert len(set(codes)) == len(codes) == len(fitted.design.cells)
    for sheet in fitted.sheets:
        burned = [c.outline for c in sheet.cells] + [box(*c.sample) for c in sheet.cells]
        assert coated.contains(box(*sheet.extent()))
        assert all(box(*sheet.extent()).contains(o) for o in burned)
        patches = [c.outline for c in sheet.cells]
        assert all(a.distance(b) >= sheet.gap_mm - 1e-6 for i, a in enumerate(patches) for b in patches[:i])
        assert all(not a.intersects(b) for i, a in enumerate(burned) for b in burned[:i])


@pytest.mark.parametrize(
    ("width", "codes"),
    [
        (110, []),
        (54, ["fewer-cells"]),
        (38, ["fewer-cells", "smaller-cells"]),
        (32, ["fewer-cells", "smaller-cells", "second-spare"]),
    ],
)
def test_what_gives_way_when_it_does_not_fit_in_that_order(width, codes):
    fitted = fitted_on(FlatPiece(Shape.RECTANGLE, width, width, 4), 16)
    assert [f.code for f in fitted.findings] == codes
    assert len(fitted.sheets) == (2 if "second-spare" in codes else 1)


def test_given_sizes_are_kept_or_refused(machine):
    with pytest.raises(DoesNotFitError) as caught:
        fitted_on(FlatPiece(Shape.RECTANGLE, 60, 50, 4), 12, CellSize(20, 3, fixed=True))
    assert caught.value.field == "cell_mm"
    kept = fitted_on(FlatPiece(Shape.RECTANGLE, 200, 150, 4), 12, CellSize(20, 3, fixed=True))
    assert kept.sheets[0].cell_mm == 20


def test_a_band_round_a_jar_stays_where_one_photo_sees_it():
    jar = RoundPiece(70, 60, 120, 3)
    fitted = fitted_on(jar, 16)
    left, _, right, _ = fitted.sheets[0].extent()
    assert right - left <= math.radians(BAND_DEG) * 30
    assert "grid-unrolled" in {f.code for f in fitted.findings}


@pytest.mark.parametrize("factors", [*combinations(Factor, 2), *combinations(Factor, 3)])
def test_any_two_or_three_factors_make_a_grid_that_varies_just_those(machine, factors):
    cells = 16
    design = design_factors(machine, band(), (0.1, 1), factors, cells, coats=2)
    assert len({c.code for c in design.cells}) == len(design.cells) == cells
    for cell in design.cells:
        require_reachable(cell.setting, machine)
    values = {
        Factor.POWER: {c.setting.power_pct for c in design.cells},
        Factor.SPEED: {c.setting.speed_mm_s for c in design.cells},
        Factor.INTERVAL: {c.setting.interval_mm for c in design.cells},
        Factor.PASSES: {c.setting.passes for c in design.cells},
        Factor.GREY: {c.grey_pct for c in design.cells},
        Factor.FOCUS: {c.focus_mm for c in design.cells},
        Factor.COATS: {c.coats for c in design.cells},
    }
    varied = {factor for factor, seen in values.items() if len(seen) > 1}
    assert varied == set(factors)
    # Coats go on in bands: rows that share a count lie together.
    if Factor.COATS in factors and len(factors) == 3:
        counts = [next(c.coats for c in design.cells if c.row == row) for row in range(design.rows)]
        assert counts == sorted(counts)


def test_factors_that_cannot_be_are_told(machine):
    for factors in [(Factor.POWER,), (Factor.POWER, Factor.POWER), tuple(Factor)[:4]]:
        with pytest.raises(BadValueError, match="two or three"):
            design_factors(machine, band(), (0.1, 1), factors, 12, 2)
    with pytest.raises(BadValueError, match="do not divide"):
        design_factors(machine, band(), (0.1, 1), (Factor.POWER, Factor.SPEED, Factor.PASSES), 9, 2)


def test_hot_neighbours_are_kept_apart_in_time(machine, spare):
    sheet = fitted_on(spare, 16).sheets[0]
    energy = [areal_energy_j_mm2(c.cell.setting, machine) for c in sheet.cells]
    order = burn_order(sheet.cells, energy)
    assert sorted(order) == list(range(16))
    pitch = sheet.cell_mm + sheet.gap_mm

    def nearest(sequence):
        at = [(sheet.cells[i].x_mm, sheet.cells[i].y_mm) for i in sequence]
        return [math.dist(a, b) for a, b in pairwise(at)]

    assert sum(d < 1.01 * pitch for d in nearest(order)) <= 1
    assert sum(d < 1.01 * pitch for d in nearest(range(16))) == 12


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


def drawn(machine, piece, cells=12, **plan):
    layout = fitted_on(piece, cells, machine=machine).sheets[0]
    return layout, grid_tasks(layout, piece, machine, BurnPlan(Setting(20, 60, 0.1), **plan))


def test_gcode_read_back_by_an_independent_parser(machine, spare):
    layout, tasks = drawn(machine, spare)
    lines = list(parse_gcode_lines(write_gcode(tasks, machine, "beds (north)")))
    words = [line.command_str for line in lines]
    assert words[:4] == ["G21", "G90", "G94", "M4"]
    assert words[-3:] == ["M5", "G0", "M2"]
    x = y = lit = 0.0
    powers, xs, ys = set(), [], []
    for line in lines:
        if line.command_str not in ("G0", "G1"):
            continue
        to_x, to_y, s = line.params.get("X", x), line.params.get("Y", y), line.params.get("S", 0)
        if line.command_str == "G1" and s and to_y == y and abs(to_x - x) == pytest.approx(layout.cell_mm, abs=2e-3):
            lit += abs(to_x - x)
            powers.add(s)
            xs += [x, to_x]
            ys.append(y)
        x, y = to_x, to_y
    lines_each = line_count(layout.cell_mm, 0.1)
    assert lit == pytest.approx(lines_each * layout.cell_mm * len(layout.cells), rel=1e-3)
    assert powers == {round(c.cell.setting.power_pct / 100 * S_FULL, 3) for c in layout.cells}
    outlines = [c.outline.bounds for c in layout.cells]
    assert min(xs) == pytest.approx(min(b[0] for b in outlines) + 50, abs=2e-3)
    assert max(ys) == pytest.approx(max(b[3] for b in outlines) + 40, abs=0.1)


@given(power=st.floats(0.01, 100).map(lambda p: round(p, 4)))
def test_power_words_keep_the_figures_of_the_cell(power):
    """1.23 % is S 12.3, not 12: the words carry what a cell states, down to 0.0001 %."""
    setting = Setting(power, 100, 0.1)
    task = Task(PATCH, setting, raster_moves(0, 0, 1, 1, setting, make_machine()))
    lines = list(parse_gcode_lines(write_gcode([task], make_machine(), "t")))
    words = {line.params["S"] for line in lines if line.command_str == "G1" and line.params["S"]}
    assert {round(s / S_FULL * 100, 6) for s in words} == {power}


def test_the_beam_is_off_and_its_power_zero_wherever_the_program_stands(machine, spare):
    _, tasks = drawn(machine, spare, wait_s=5)
    beam, power, stands = "M5", 0.0, 0
    for line in parse_gcode_lines(write_gcode(tasks, machine, "waits")):
        beam = line.command_str if line.command_str in ("M3", "M4", "M5") else beam
        power = line.params.get("S", power)
        if line.command_str in ("M0", "G4", "M2"):
            stands += 1
            assert (beam, power) == ("M5", 0)
    assert stands == 13
    assert "dynamic power" in write_gcode(tasks, machine, "waits")


def test_head_room_and_time(machine, spare):
    layout, tasks = drawn(machine, spare)
    left, low, right, top = extent_of(tasks)
    run_up = overscan_mm(max(t.setting.speed_mm_s for t in tasks[1:]), machine.accel_mm_s2)
    assert left == pytest.approx(min(c.outline.bounds[0] for c in layout.cells) + 50 - run_up, abs=7)
    assert 0 < low < top < spare.height_mm
    assert right - left < machine.bed_x_mm
    naive = sum(layout.cell_mm**2 / t.setting.speed_mm_s / 0.1 for t in tasks[1:])
    assert naive < burn_time_s(tasks, machine) < 6 * naive
    with pytest.raises(DoesNotFitError, match="bed"):
        drawn(make_machine(bed_x_mm=40), spare)


def test_states_move_by_the_table_only():
    assert move(GRID_MOVES, GridState.DRAWN, GridState.BURNED) is GridState.BURNED
    with pytest.raises(NotAllowedError, match="Allowed: burned"):
        move(GRID_MOVES, GridState.DRAWN, GridState.RATED)


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


def test_waits_heights_and_mirroring_reach_the_file(machine, spare):
    design = design_factors(machine, band(), (0.1, 1), (Factor.FOCUS, Factor.POWER), 12, 1)
    size = CellSize(6, 3)
    layout = fit_grid(lambda _: design, 12, (), size, spare).sheets[0]
    plain = grid_tasks(layout, spare, machine, BurnPlan(Setting(20, 60, 0.1)))
    waiting = grid_tasks(layout, spare, machine, BurnPlan(Setting(20, 60, 0.1), wait_s=7))
    assert burn_time_s(waiting, machine) == pytest.approx(burn_time_s(plain, machine) + 12 * 7)
    text = write_gcode(waiting, machine, "steps")
    assert text.count("\nG4 P7\n") == 12
    assert "mirrored" not in text
    assert "mirrored" in write_gcode(waiting, machine, "steps", mirrored=True)
    heights = {c.cell.focus_mm for c in layout.cells}
    assert text.count("\nM0\n") == len(heights - {0.0}) + (1 if 0.0 in heights else 0)
    turned = grid_tasks(layout, spare, machine, BurnPlan(Setting(20, 60, 0.1), mirrored=True))
    np.testing.assert_allclose(turned[1].moves.x_mm, spare.width_mm - plain[1].moves.x_mm)
    assert energy_on_piece_j(turned, machine) == pytest.approx(energy_on_piece_j(plain, machine))


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
    moves = stroke_moves([((0, 0), (3, 0), (3, 4)), ((9, 9), (9, 8))], Setting(30, 20, 0.1), machine, (1, 2))
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


class PhotoTile:
    """Rows of 1430 dots of a photo at 0.07 mm, made anew each time they are gone through."""

    setting, dots = Setting(60, 200, 0.07), 1430

    def __init__(self, machine, rows):
        self.machine, self.rows = machine, rows

    def __iter__(self):
        rng = np.random.default_rng(4)
        for n in range(self.rows):
            lit = rng.random(self.dots) < 0.4
            row = dot_row_moves(lit, n, 10, 10 + 0.07 * n, 0.07 * self.dots, self.setting, self.machine)
            yield Task(Item(Part.ARTWORK, "1"), self.setting, row)


def test_a_photo_of_two_million_dots_goes_through_without_lying_in_memory(machine):
    tile, strip = PhotoTile(machine, 1430), PhotoTile(machine, 50)
    tracemalloc.start()
    left, low, right, top = extent_of(tile)
    energy, seconds = energy_on_piece_j(tile, machine), burn_time_s(tile, machine)
    lines = sum(1 for _ in gcode_lines(strip, machine, "fern"))
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    assert peak < 20e6
    side = 0.07 * tile.dots
    run_up = overscan_mm(200, machine.accel_mm_s2)
    assert (left, low, right, top) == pytest.approx((10 - run_up, 10, 10 + side + run_up, 10 + side - 0.07))
    assert energy == pytest.approx(0.4 * machine.rated_w * 0.6 * side / 200 * tile.dots, rel=0.01)
    assert seconds > tile.dots * side / 200
    assert lines / (strip.rows * strip.dots) == pytest.approx(2 * 0.4 * 0.6, rel=0.02), (
        "a line for every turn from lit to dark and back"
    )
