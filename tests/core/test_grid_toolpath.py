"""Grid and toolpath: layout by shapely, times against numeric integration and the closed form, G-code read back
by gcodeparser, SVG by svgelements, CSV by the csv module."""

import csv
import io
import math
from itertools import pairwise

import pytest
from gcodeparser import parse_gcode_lines
from hypothesis import event, given
from hypothesis import strategies as st
from svgelements import SVG, Rect

from keencoat.core.errors import BadValueError, DoesNotFitError, NotAllowedError
from keencoat.core.grid.design import SHAPES_BY_CELLS, design_blind, design_crossed
from keencoat.core.grid.formats import CellRating, read_rated_csv, write_cells_csv, write_svg
from keencoat.core.grid.layout import lay_out
from keencoat.core.piece.flat import FlatPiece, Shape
from keencoat.core.quantities.energy import areal_energy_j_mm2
from keencoat.core.quantities.setting import BeamSource, Setting, require_reachable
from keencoat.core.states import GRID_MOVES, GridState, move
from keencoat.core.toolpath.gcode import S_FULL, write_gcode
from keencoat.core.toolpath.raster import Task, grid_tasks, line_count, motion_extent, overscan_mm, raster_motions
from keencoat.core.toolpath.timing import burn_time_s, motions_time_s, move_time_s
from keencoat.core.window.fit import fit_window
from keencoat.core.window.model import Rating
from keencoat.core.window.predict import next_band
from keencoat.core.window.priors import PRIORS, prior_for
from tests.core.conftest import make_machine

FROST = prior_for("frost", BeamSource.BLUE)


def band():
    return next_band(fit_window((), FROST))


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
    cells=st.sampled_from(sorted(SHAPES_BY_CELLS)), width=st.floats(30, 200), height=st.floats(30, 200),
    disc=st.booleans(),
)  # fmt: skip
def test_cells_lie_apart_inside_the_coat_or_do_not_fit(cells, width, height, disc):
    machine = make_machine()
    piece = FlatPiece(Shape.DISC if disc else Shape.RECTANGLE, width, width if disc else height, 4)
    try:
        layout = lay_out(design_crossed(machine, band(), 0.1, cells=cells), piece)
    except DoesNotFitError:
        event("does not fit")
        assert width < 90 or height < 90
        return
    coated = piece.coated.buffer(1e-6)
    outlines = [c.outline for c in layout.cells]
    assert all(coated.contains(o) for o in outlines)
    assert all(a.distance(b) >= layout.gap_mm - 1e-6 for i, a in enumerate(outlines) for b in outlines[:i])


def test_given_sizes_are_kept_or_refused(machine):
    design = design_crossed(machine, band(), 0.1)
    with pytest.raises(DoesNotFitError) as caught:
        lay_out(design, FlatPiece(Shape.RECTANGLE, 60, 50, 4), cell_mm=20)
    assert caught.value.field == "cell_mm"
    assert lay_out(design, FlatPiece(Shape.RECTANGLE, 200, 150, 4), cell_mm=20).cell_mm == 20


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
    motions = tuple(raster_motions(0, 0, 100, 50, setting, machine))
    assert motions_time_s(motions, machine, (-5, 0)) == pytest.approx(611.2, rel=1e-4)


def drawn(machine, piece, cells=12):
    layout = lay_out(design_crossed(machine, band(), 0.1, cells=cells), piece)
    return layout, grid_tasks(layout, piece, machine, Setting(20, 60, 0.1))


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
    assert powers == {round(c.cell.setting.power_pct / 100 * S_FULL) for c in layout.cells}
    outlines = [c.outline.bounds for c in layout.cells]
    assert min(xs) == pytest.approx(min(b[0] for b in outlines) + 50, abs=2e-3)
    assert max(ys) == pytest.approx(max(b[3] for b in outlines) + 40, abs=0.1)


def test_head_room_and_time(machine, spare):
    layout, tasks = drawn(machine, spare)
    left, low, right, top = motion_extent(tasks)
    run_up = overscan_mm(max(t.setting.speed_mm_s for t in tasks[1:]), machine.accel_mm_s2)
    assert left == pytest.approx(min(c.outline.bounds[0] for c in layout.cells) + 50 - run_up, abs=4.5)
    assert 0 < low < top < spare.height_mm
    assert right - left < machine.bed_x_mm
    naive = sum(81.0 / t.setting.speed_mm_s / 0.1 for t in tasks[1:])
    assert naive < burn_time_s(tasks, machine) < 6 * naive
    with pytest.raises(DoesNotFitError, match="bed"):
        drawn(make_machine(bed_x_mm=40), spare)


def test_svg_read_back_true_to_scale(machine, spare):
    layout, _ = drawn(machine, spare)
    svg = SVG.parse(io.StringIO(write_svg(layout, spare, machine, "a <b> & c")), ppi=25.4)
    rects = {e.id: e for e in svg.elements() if isinstance(e, Rect)}
    assert rects["piece"].width == pytest.approx(spare.width_mm, rel=1e-5)
    assert rects["piece"].height == pytest.approx(spare.height_mm, rel=1e-5)
    for placed in layout.cells:
        rect = rects[f"cell-{placed.cell.code}"]
        assert rect.width == pytest.approx(placed.side_mm, abs=1e-3)
        assert rect.x + rect.width / 2 == pytest.approx(placed.x_mm + 50, abs=1e-3)
        assert float(rect.values["data-power-pct"]) == placed.cell.setting.power_pct


def test_csv_there_and_back(machine, spare):
    layout, _ = drawn(machine, spare)
    ratings = {"A1": CellRating("A1", Rating.FAINT, ("coat_left",), True), "B2": CellRating("B2", Rating.CLEAN)}
    text = write_cells_csv(layout, machine, ratings)
    assert len(list(csv.DictReader(io.StringIO(text)))) == 12
    assert {r.code: r for r in read_rated_csv(text.encode(), layout)} == ratings


def _edit(rows, cell, **changes):
    return [r | changes if r["code"] == cell else r for r in rows]


@pytest.mark.parametrize(
    ("spoil", "says"),
    [
        (lambda rows: [{k: v for k, v in r.items() if k != "rating"} for r in rows], "no column “rating”"),
        (lambda rows: [*rows, rows[0]], "second time"),
        (lambda rows: _edit(rows, "A2", code="Z9"), "no cell “Z9”"),
        (lambda rows: _edit(rows, "A2", rating="lovely"), "no rating"),
        (lambda rows: _edit(rows, "A2", defects="warts"), "no defect"),
        (lambda rows: _edit(rows, "A1", speed_mm_s=str(60 * float(rows[0]["speed_mm_s"]))), "mm/min"),
        (lambda rows: _edit(rows, "A1", power_pct="much"), "“much”"),
        (lambda rows: _edit(rows, "A1", heard_snapping="loud"), "yes or no"),
        (lambda rows: [r | {"rating": ""} for r in rows], "No cell in this file has a rating"),
    ],
)
def test_spoiled_csv_says_where(machine, spare, spoil, says):
    layout, _ = drawn(machine, spare)
    text = write_cells_csv(layout, machine, {"A1": CellRating("A1", Rating.CLEAN)})
    rows = spoil(list(csv.DictReader(io.StringIO(text))))
    out = io.StringIO()
    writer = csv.DictWriter(out, rows[0].keys())
    writer.writeheader()
    writer.writerows(rows)
    with pytest.raises(BadValueError, match=says) as caught:
        read_rated_csv(out.getvalue().encode(), layout)
    assert caught.value.field == "file"


@given(junk=st.binary(max_size=2000))
def test_junk_is_refused_not_crashed_on(junk):
    layout, _ = drawn(make_machine(), FlatPiece(Shape.RECTANGLE, 100, 80, 4))
    with pytest.raises(BadValueError):
        read_rated_csv(junk, layout)


def test_ten_megabytes_are_refused_unread(machine, spare):
    with pytest.raises(BadValueError, match="larger than"):
        read_rated_csv(b"a" * 10_000_000, drawn(machine, spare)[0])


def test_states_move_by_the_table_only():
    assert move(GRID_MOVES, GridState.DRAWN, GridState.BURNED) is GridState.BURNED
    with pytest.raises(NotAllowedError, match="Allowed: burned"):
        move(GRID_MOVES, GridState.DRAWN, GridState.RATED)


def test_raster_alternates_and_repeats_passes(machine):
    motions = list(raster_motions(0, 0, 10, 1, Setting(50, 100, 0.5, passes=2), machine))
    lit = [m for m in motions if m.power_pct]
    assert [m.x_mm for m in lit] == [10, 0, 10] * 2
    assert burn_time_s([Task("t", Setting(50, 100, 0.5), tuple(motions))], machine) > 0
