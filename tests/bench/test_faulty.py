"""Faults are what they are called: what each does to the lines of a fill, by hand."""

import math

import pytest

from keencoat.bench.faulty import Fault, Faulty
from keencoat.bench.plant.exposure import Hatch

LINES = [(round(5 + 0.1 * n, 4), *((10.0, 30.0) if n % 2 == 0 else (30.0, 10.0))) for n in range(101)]
PLAN = Hatch(0.5, 100.0, 0.0, 3.0, 43.0, [LINES])


def did(fault: Fault, size: float = 1.0, way: float = 0.0, after: float = 0.0) -> Hatch:
    return Faulty(fault, size, way, after).hatch(PLAN)


@pytest.mark.parametrize(
    ("fault", "size"), [(Fault.WIDE_LINES, 2.3), (Fault.CLOSE_LINES, 0.5), (Fault.CLOSE_LINES, 0.63)]
)
def test_lines_lie_so_far_apart_over_the_same_height_and_take_as_much_time(fault, size):
    runs = did(fault, size).passes[0]
    heights = [at for at, _, _ in runs]
    assert heights == pytest.approx([5 + 0.1 * size * n for n in range(len(runs))])
    assert heights[-1] > 15 - 0.1 * size - 1e-9
    assert did(fault, size).end_s - 3 == pytest.approx(40 * len(runs) / 101)
    assert all({a, b} == {10.0, 30.0} for _, a, b in runs)


def test_where_nothing_was_drawn_closer_lines_draw_nothing():
    gap = [run for run in LINES if not 8.05 < run[0] < 12.05]
    close = Faulty(Fault.CLOSE_LINES, 0.5).hatch(Hatch(0.5, 100.0, 0.0, 0.0, 40.0, [gap]))
    assert not [at for at, _, _ in close.passes[0] if 8.06 < at < 12.04]
    assert len(close.passes[0]) == pytest.approx(2 * len(gap), abs=3)


def test_speed_and_passes_change_the_time_and_not_the_lines():
    assert (did(Fault.FAST, 2.0).end_s, did(Fault.SLOW, 0.5).end_s, did(Fault.EXTRA_PASS).end_s) == (23, 83, 83)
    assert (did(Fault.FAST, 2.0).speed_mm_s, did(Fault.EXTRA_PASS).speed_mm_s) == (200, 100)
    assert did(Fault.FAST, 2.0).passes == PLAN.passes
    assert did(Fault.EXTRA_PASS).passes == [LINES, LINES]


def test_what_moves_moves_the_lines_it_should():
    up, right = math.pi / 2, 0.0
    assert did(Fault.OFF, 2.0, up).passes[0][7] == pytest.approx((7.7, 30.0, 10.0))
    moved = did(Fault.MOVED, 2.0, right, 0.5).passes[0]
    assert [run == pytest.approx(was) for run, was in zip(moved, LINES, strict=True)].count(True) == 51
    assert moved[100] == pytest.approx((15.0, 12.0, 32.0))
    assert did(Fault.BACKLASH, 0.4).passes[0][:2] == [(5.0, 10.0, 30.0), (5.1, 30.4, 10.4)]
    assert did(Fault.STRETCHED, 1.1).passes[0][0] == pytest.approx((5.0, 9.0, 31.0))
    assert [Faulty(Fault.ASKEW, 3.0, way).turned_deg for way in (0.1, 3.0)] == [3.0, -3.0]
