"""Grids and their files: layout by shapely, G-code read back by gcodeparser."""

import math
from itertools import combinations, pairwise

import numpy as np
import pytest
from gcodeparser import parse_gcode_lines
from hypothesis import event, given
from hypothesis import strategies as st
from shapely.geometry import box

from keencoat.core.errors import BadValueError, DoesNotFitError, NotAllowedError
from keencoat.core.grid.burning import BurnPlan, grid_tasks
from keencoat.core.grid.design import SHAPES_BY_CELLS, design_crossed
from keencoat.core.grid.factors import Factor, counts_for, design_factors
from keencoat.core.grid.layout import USUAL_GAP_MM, usual_cell_mm
from keencoat.core.grid.making_room import BAND_DEG, CellSize, fit_grid
from keencoat.core.grid.order import burn_order
from keencoat.core.piece.flat import FlatPiece, Shape
from keencoat.core.piece.round import RoundPiece
from keencoat.core.quantities.energy import areal_energy_j_mm2
from keencoat.core.quantities.setting import BeamSource, Setting, require_reachable
from keencoat.core.quantities.slice import Slice
from keencoat.core.states import GRID_MOVES, GridState, move
from keencoat.core.toolpath.gcode import S_FULL, write_gcode
from keencoat.core.toolpath.program import energy_on_piece_j, extent_of
from keencoat.core.toolpath.raster import line_count, overscan_mm
from keencoat.core.toolpath.timing import burn_time_s
from keencoat.core.window.fit import fit_window
from keencoat.core.window.predict import next_band
from keencoat.core.window.priors import PRIORS, prior_for
from tests.core.conftest import make_machine

FROST = prior_for("frost", BeamSource.BLUE)


def band():
    return next_band(fit_window((), FROST))


def fitted_on(piece, cells, size=None, machine=None):
    machine = machine or make_machine()
    size = size or CellSize(usual_cell_mm(machine, 0.1), USUAL_GAP_MM)
    return fit_grid(lambda n: design_crossed(Slice(machine, 0.1), band(), cells=n), cells, counts_for(2), size, piece)


@pytest.mark.parametrize("cells", SHAPES_BY_CELLS)
def test_crossed_grid_is_even_in_log_energy_and_in_reach(cells, machine):
    design = design_crossed(Slice(machine, 0.1), band(), cells=cells)
    assert len({c.code for c in design.cells}) == len(design.cells) == cells
    for row in range(design.rows):
        of_row = [c.setting for c in design.cells if c.row == row]
        logs = [math.log(areal_energy_j_mm2(require_reachable(s, machine), machine)) for s in of_row]
        steps = [b - a for a, b in pairwise(logs)]
        assert min(steps) > 0
        assert max(steps) == pytest.approx(min(steps), rel=0.05)
    assert len({c.setting.speed_mm_s for c in design.cells}) == design.rows


@given(
    watts=st.floats(4, 80),
    top=st.floats(60, 1000),
    interval=st.floats(0.04, 0.2),
    key=st.sampled_from(sorted(PRIORS)),
)
def test_any_machine_gets_a_grid_in_reach_or_a_clear_no(watts, top, interval, key):
    machine = make_machine(source=key[1], rated_w=watts, max_speed_mm_s=top)
    try:
        cells = design_crossed(Slice(machine, interval), next_band(fit_window((), PRIORS[key]))).cells
    except BadValueError as error:
        cells, refusal = (), error
    assert cells or "cannot reach" in refusal.message
    for cell in cells:
        require_reachable(cell.setting, machine)


def test_a_weak_machine_is_told(machine):
    weak = make_machine(rated_w=0.2, min_speed_mm_s=50)
    with pytest.raises(BadValueError, match="cannot reach"):
        design_crossed(Slice(weak, 0.1), band())
    with pytest.raises(BadValueError, match="does not divide"):
        design_crossed(Slice(machine, 0.1), band(), cells=11)


@given(
    cells=st.sampled_from(sorted(SHAPES_BY_CELLS)),
    width=st.floats(20, 200),
    height=st.floats(20, 200),
    disc=st.booleans(),
)
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
    design = design_factors(Slice(machine, 0.1), band(), factors, cells, coats=2)
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
            design_factors(Slice(machine, 0.1), band(), factors, 12, 2)
    with pytest.raises(BadValueError, match="do not divide"):
        design_factors(Slice(machine, 0.1), band(), (Factor.POWER, Factor.SPEED, Factor.PASSES), 9, 2)


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


def test_waits_heights_and_mirroring_reach_the_file(machine, spare):
    design = design_factors(Slice(machine, 0.1), band(), (Factor.FOCUS, Factor.POWER), 12, 1)
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
