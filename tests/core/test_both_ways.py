"""Lines to and fro: play and delay by hand and against NumPy's polyfit; the stripes as a head would burn them."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from keencoat.bench.bed import lit_ends
from keencoat.core.errors import BadValueError
from keencoat.core.quantities.setting import Setting
from keencoat.core.toolpath import MeasuredOffset, gcode_lines, read_both_ways, stripe_test
from tests.core.conftest import make_machine

MACHINE = make_machine(max_speed_mm_s=300, min_power_pct=5)


def test_a_beam_that_is_one_millisecond_late():
    """100 mm/s for 1 ms is 0.1 mm further on in each direction: 0.2 mm apart; play adds 0.05 mm at any speed."""
    told = read_both_ways([MeasuredOffset(100, 0.25), MeasuredOffset(200, 0.45), MeasuredOffset(50, 0.15)])
    assert told.play_mm.mid == pytest.approx(0.05)
    assert told.delay_ms.mid == pytest.approx(1.0)
    assert told.offset_mm(150) == pytest.approx(0.35)
    assert told.play_mm.low < 0.05 < told.play_mm.high


@given(st.floats(-0.3, 0.3), st.floats(-2, 2), st.integers(0, 1000))
def test_play_and_delay_as_numpy_fits_a_line(play, delay, seed):
    rng = np.random.default_rng(seed)
    speeds = np.array([40.0, 80.0, 120.0, 160.0])
    seen = play + 2 * delay * speeds / 1000 + rng.normal(0, 0.03, 4)
    told = read_both_ways([MeasuredOffset(float(v), float(o)) for v, o in zip(speeds, seen, strict=True)])
    slope, start = np.polyfit(speeds, seen, 1)
    assert told.play_mm.mid == pytest.approx(start, abs=1e-9)
    assert told.delay_ms.mid == pytest.approx(500 * slope, abs=1e-9)


def test_ranges_hold_nine_times_in_ten():
    rng = np.random.default_rng(4)
    speeds = np.array([40.0, 60.0, 80.0, 100.0, 120.0, 140.0])
    held = 0
    for _ in range(400):
        seen = 0.1 + 2 * 0.8 * speeds / 1000 + rng.normal(0, 0.05, 6)
        told = read_both_ways([MeasuredOffset(float(v), float(o)) for v, o in zip(speeds, seen, strict=True)])
        held += told.delay_ms.low <= 0.8 <= told.delay_ms.high
    assert 0.78 < held / 400 < 0.96
    exact = read_both_ways([MeasuredOffset(50, 0.1), MeasuredOffset(100, 0.2)])
    # A loupe's own 0.02 mm remains: over 50 mm/s, root two of it, nine times in ten.
    assert exact.delay_ms.high - exact.delay_ms.mid == pytest.approx(1.6449 * 0.02 * 2**0.5 / (2 * 50 / 1000), rel=1e-6)


@pytest.mark.parametrize("offsets", [[], [(100, 0.2)], [(100, 0.2), (100, 0.3)]])
def test_one_speed_is_too_few(offsets):
    with pytest.raises(BadValueError, match="One speed"):
        read_both_ways([MeasuredOffset(*o) for o in offsets])


@pytest.mark.parametrize(("speed", "offset"), [(0, 0.1), (30_000, 0.1), (50, 6), (50, float("nan"))])
def test_offsets_are_of_a_size_that_things_have(speed, offset):
    with pytest.raises(BadValueError):
        MeasuredOffset(speed, offset)


def test_bars_of_stripes_both_ways_by_rising_speed():
    tasks = stripe_test(Setting(40, 100, 0.1), MACHINE)
    bars = list(dict.fromkeys((t.setting.speed_mm_s, round(t.setting.power_pct, 6)) for t in tasks))
    assert bars == [(50, 20), (100, 40), (150, 60)]
    ends = lit_ends(line for _, line in gcode_lines(tasks, MACHINE, "stripes"))
    x, y = ends[..., 0], ends[..., 1]
    assert (x.min(), x.max()) == pytest.approx((0, 19))
    assert (y.min(), y.max()) == pytest.approx((0, 12 + 11 * 0.25))
    assert len(np.unique(y)) == 36
    went = x[:, 1] - x[:, 0]
    assert np.abs(went) == pytest.approx(np.ones(len(went)))
    # Every second line goes back.
    assert [np.sign(went[y[:, 0] == line]).mean() for line in np.unique(y)] == [1, -1] * 18


def test_what_a_machine_cannot_reach_is_left_out():
    assert {t.setting.speed_mm_s for t in stripe_test(Setting(80, 100, 0.1), MACHINE)} == {50, 100}
    assert {t.setting.speed_mm_s for t in stripe_test(Setting(40, 250, 0.1), MACHINE)} == {125, 250, 300}
    with pytest.raises(BadValueError, match="none of these"):
        stripe_test(Setting(0.5, 100, 0.1), MACHINE)
