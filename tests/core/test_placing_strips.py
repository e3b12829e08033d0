"""Art on a round wall under a fixed head, strip by strip: strips meet at one line and leave nothing out; where the beam
falls straight down is worked out anew by laying each end back on the wall."""

import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import LineString, Point, box

from keencoat.core.errors import BadValueError
from keencoat.core.placing.fixed_head import turns_for
from keencoat.core.placing.strips import Strip, StripProgram
from keencoat.core.quantities.setting import Setting
from keencoat.core.toolpath import DotRaster, Item, Moves, Part, Polylines
from tests.core.conftest import make_machine

MACHINE = make_machine(max_speed_mm_s=200, accel_mm_s2=2000)
SETTING = Setting(40, 50, 0.5)
ITEM = Item(Part.ARTWORK)
RADIUS = 22.0
FACE = (2 * math.pi * RADIUS, 80.0)


def patch(left, low, wide, high):
    dots = np.ones((round(high / 0.5), round(wide / 0.5)), dtype=bool)
    return DotRaster(dots, left, low, 0.5, SETTING, MACHINE, ITEM)


def lit(program, across):
    """Ends of lit moves laid back on the wall: mm round it from the ridge, and up it; shape (moves, 2, 2)."""
    found, at = [], None
    for task in program:
        m = task.moves
        for x, y, power in zip(m.x_mm, m.y_mm, m.power_pct, strict=True):
            beside, along = (y, FACE[1] - x) if across else (x, y)
            here = (RADIUS * math.asin(max(-1.0, min(1.0, beside / RADIUS))), along)
            if power > 0:
                found.append((at, here))
            at = here
    return np.array(found)


def strips(width_mm, widest_mm, across):
    turns = turns_for(width_mm, widest_mm, RADIUS)
    middles = [math.radians(a) * RADIUS for a in turns.at_deg]
    return [Strip(RADIUS, m, turns.strip_mm, FACE, across, 1.0) for m in middles]


@pytest.mark.parametrize("across", [False, True])
def test_strips_of_a_fill_meet_at_one_line_and_leave_nothing_out(across):
    width, height = 60.0, 12.0
    x0, y0 = (FACE[0] - width) / 2, 30.0
    fill = patch(x0, y0, width, height) if not across else patch(FACE[1] - y0 - height, x0, height, width)
    ends, whole = [], 0.0
    parts = strips(width, 25.0, across)
    assert len(parts) == 3
    for part in parts:
        seen = lit(StripProgram(fill, part), across)
        half = part.width_mm / 2
        assert np.abs(seen[..., 0]).max() <= half + 1e-6
        ends.append((part.middle_mm + seen[..., 0].min(), part.middle_mm + seen[..., 0].max()))
        whole += float(np.hypot(*(seen[:, 1] - seen[:, 0]).T).sum())
        assert seen[..., 1].min() == pytest.approx(y0, abs=0.51)
        assert seen[..., 1].max() == pytest.approx(y0 + height, abs=0.51)
    assert ends[0][0] == pytest.approx(-width / 2, abs=0.51)
    assert ends[-1][1] == pytest.approx(width / 2, abs=0.51)
    if not across:
        # Rows run round the wall: each ends where its neighbour begins.
        assert ends[0][1] == pytest.approx(ends[1][0], abs=1e-6)
        assert ends[1][1] == pytest.approx(ends[2][0], abs=1e-6)
    assert whole == pytest.approx(fill.lit_mm, rel=1e-6 if not across else 0.02)


@given(st.floats(-20, 20), st.floats(-20, 20), st.floats(0, 80), st.floats(0, 80), st.floats(5, 40))
@settings(max_examples=60)
def test_what_lies_in_a_strip_is_burned_where_it_was_drawn(x0, x1, y0, y1, width):
    """Shapely's way of clipping a segment is the judge."""
    line = LineString([(x0, y0), (x1, y1)])
    inside = line.intersection(box(-width / 2, -1, width / 2, 81))
    ends = tuple((x + FACE[0] / 2, y) for x, y in line.coords)
    seen = lit(
        StripProgram(Polylines((ends,), SETTING, MACHINE, ITEM), Strip(RADIUS, 0.0, width, FACE, False, 1)), False
    )
    length = float(np.hypot(*(seen[:, 1] - seen[:, 0]).T).sum()) if len(seen) else 0.0
    assert length == pytest.approx(inside.length, abs=1e-4)
    for end in seen.reshape(-1, 2):
        assert line.distance(Point(*end)) < 1e-4


def test_a_long_line_is_parted_so_that_it_follows_the_wall():
    ends = ((FACE[0] / 2 - 18, 10.0), (FACE[0] / 2 + 18, 60.0))
    program = StripProgram(Polylines((ends,), SETTING, MACHINE, ITEM), Strip(RADIUS, 0.0, 40.0, FACE, False, 1.0))
    moves = next(task.moves for task in program)
    at = np.column_stack([moves.x_mm, moves.y_mm])
    strayed = 0.0
    for a, b in pairwise(at):
        middle = (a + b) / 2
        meant_round = (RADIUS * math.asin(a[0] / RADIUS) + RADIUS * math.asin(b[0] / RADIUS)) / 2
        strayed = max(strayed, abs(middle[0] - RADIUS * math.sin(meant_round / RADIUS)))
    assert strayed < 0.03
    assert (moves.stops.sum(), moves.stops[-1]) == (2, True)
    assert set(moves.power_pct) == {0.0, 40.0}


def test_beyond_a_strip_the_head_runs_on_dark_and_no_further_than_its_run_up():
    fill = patch((FACE[0] - 60) / 2, 30.0, 60.0, 2.0)
    strip = Strip(RADIUS, 0.0, 20.0, FACE, False, 1.5)
    moves = [task.moves for task in StripProgram(fill, strip)]
    x = np.concatenate([m.x_mm for m in moves])
    power = np.concatenate([m.power_pct for m in moves])
    side = RADIUS * math.sin(10 / RADIUS)
    assert np.abs(x).max() == pytest.approx(side + 1.5)
    assert np.abs(x[power > 0]).max() == pytest.approx(side)
    assert next(iter(StripProgram(fill, strip).for_time())).moves.x_mm == pytest.approx(moves[0].x_mm)


@pytest.mark.parametrize("width", [0.0, math.pi * RADIUS, math.nan])
def test_strips_that_no_beam_reaches(width):
    with pytest.raises(BadValueError) as refused:
        Strip(RADIUS, 0.0, width, FACE, False, 1.0)
    assert refused.value.field == "width_mm"


def test_only_moves_that_go_nowhere_are_left_out():
    """A first move to where the head stands is one; a way round that ends there is none."""
    (strip,) = strips(10, 25.0, False)
    x, y = FACE[0] / 2, 40.0
    there = np.array([x, x + 4, x])
    on = np.ones(3)
    way = Moves(there, np.array([y, y + 2, y]), 50 * on, 40 * on, on > 0, on < 0)
    from_there, from_beside = strip.moves(way, (x, y)), strip.moves(way, (x - 3, y))
    assert from_there.x_mm[0] > 1
    assert from_beside.x_mm.tolist()[-len(from_there) :] == from_there.x_mm.tolist()
    assert 0 < len(from_beside) - len(from_there) < 3
