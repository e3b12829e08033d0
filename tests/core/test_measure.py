"""A machine's own spot, threshold and focus, against Liu's worked example and ISO 11146-1; and drift."""

from datetime import date

import numpy as np
import pytest
import statsmodels.api as sm
from hypothesis import given
from hypothesis import strategies as st

from keencoat.core.errors import BadValueError
from keencoat.core.quantities.setting import BeamSource
from keencoat.core.window.drift import DatedRun, watch
from keencoat.core.window.fit import fit_window
from keencoat.core.window.focus_ladder import MeasuredHeight, read_ladder
from keencoat.core.window.line_test import MeasuredLine, read_lines
from keencoat.core.window.model import Observation, Rating, RunOutcome
from keencoat.core.window.priors import prior_for

# Liu, Opt. Lett. 7:196 (1982), worked through with w₀ 50 µm, F_th 0.8 J/cm² (from memory of the relation).
ENERGIES_UJ = (40, 60, 90, 135, 200, 300)
DIAMETERS_UM = (34.8, 56.9, 72.5, 85.4, 96.2, 106.2)
# The scanned line: w 50 µm, 100 mm/s, F_th 0.3 J/mm²; watts and widths.
WATTS = (2, 3, 4, 5, 7, 10)
WIDTHS_UM = (17.59, 48.34, 61.44, 69.94, 81.08, 91.41)


def lines(powers, widths):
    return [MeasuredLine(float(p), float(w)) for p, w in zip(powers, widths, strict=True)]


def test_liu_by_the_worked_example():
    result = read_lines(lines(ENERGIES_UJ, DIAMETERS_UM))
    assert result.radius_um.mid == pytest.approx(49.99, abs=0.02)
    # E_th = F_th·πw²/2: 0.8 J/cm² over a radius of 50 µm is 31.416 µJ.
    assert result.threshold_pct.mid == pytest.approx(0.7999 * np.pi * 0.004999**2 / 2 * 1e6, rel=2e-3)
    assert result.r2 > 0.9999
    assert result.findings == ()
    assert result.radius_um.low < 50 < result.radius_um.high


def test_a_scanned_line_and_its_ranges_against_statsmodels():
    result = read_lines(lines(WATTS, WIDTHS_UM))
    assert result.threshold_pct.mid == pytest.approx(1.879971, rel=1e-3)
    assert result.spot_mm == pytest.approx(0.1, rel=1e-3)
    noisy = np.array(WIDTHS_UM) * (1 + np.array([0.03, -0.02, 0.01, 0.02, -0.03, 0.01]))
    result = read_lines(lines(WATTS, noisy))
    model = sm.OLS(noisy**2, sm.add_constant(np.log(WATTS))).fit()
    low, high = model.conf_int(0.1)[1]
    assert [result.radius_um.low, result.radius_um.high] == pytest.approx(np.sqrt([low / 2, high / 2]))
    # Fieller's ends are the powers whose predicted mean width² may just be zero.
    for end in (result.threshold_pct.low, result.threshold_pct.high):
        lower, upper = model.get_prediction([[1, np.log(end)]]).conf_int(alpha=0.1)[0]
        assert min(abs(lower), abs(upper)) < 1e-6 * max(abs(lower), abs(upper))


def test_lines_that_do_not_lie_straight_are_said():
    bent = np.sqrt(np.array(WIDTHS_UM) ** 2 * np.linspace(1, 2.2, 6) ** 2)
    assert [f.code for f in read_lines(lines(WATTS, bent)).findings] == ["lines-bent"]
    loose = np.array([20.0, 75, 40, 95, 60, 90])
    assert "lines-loose" in [f.code for f in read_lines(lines(WATTS, loose)).findings]
    near = read_lines(lines((10, 11, 12, 13, 14), (30, 40, 48, 54.5, 60)))
    assert "lines-narrow" in [f.code for f in near.findings]
    for bad in (lines((1, 2, 3), (10, 20, 30)), lines(WATTS, WIDTHS_UM[::-1])):
        with pytest.raises(BadValueError, match="line"):
            read_lines(bad)


@given(z0=st.floats(-1.5, 1.5), waist=st.floats(20, 80), rayleigh=st.floats(1, 5))
def test_a_ladder_finds_the_waist_of_a_gaussian_beam(z0, waist, rayleigh):
    """w² = w₀²·(1 + ((z − z₀)/z_R)²), ISO 11146-1."""
    heights = np.arange(-3, 3.5, 1.0)
    widths = 2 * waist * np.sqrt(1 + ((heights - z0) / rayleigh) ** 2)
    result = read_ladder([MeasuredHeight(float(z), float(w)) for z, w in zip(heights, widths, strict=True)])
    assert result.height_mm.mid == pytest.approx(z0, abs=1e-5)
    assert result.width_um == pytest.approx(2 * waist, rel=1e-4)
    assert result.findings == ()


def test_a_ladder_says_how_sure_it_is_and_where_it_cannot_tell():
    heights = np.arange(-3, 3.5, 1.0)
    widths = 90 * np.sqrt(1 + (heights / 3) ** 2) * (1 + 0.05 * np.array([1, -1, 1, -1, 1, -1, 1]))
    result = read_ladder([MeasuredHeight(float(z), float(w)) for z, w in zip(heights, widths, strict=True)])
    assert result.height_mm.low < 0 < result.height_mm.high
    shallow = [MeasuredHeight(float(z), 90 + w) for z, w in zip(heights, (3, -2, 2, -3, 3, -2, 3), strict=True)]
    assert [f.code for f in read_ladder(shallow).findings] == ["focus-vague"]
    outside = [MeasuredHeight(float(z), float(50 + (z + 5) ** 2)) for z in heights]
    assert [f.code for f in read_ladder(outside).findings] == ["focus-outside"]
    with pytest.raises(BadValueError, match="no narrowest"):
        read_ladder([MeasuredHeight(float(z), float(100 - z**2)) for z in heights])
    with pytest.raises(BadValueError, match="too few"):
        read_ladder([MeasuredHeight(0, 10), MeasuredHeight(1, 11)])


def fitted():
    seen = []
    for n, x in enumerate(np.linspace(-0.6, 2.2, 30)):
        rating = Rating.FAINT if x < 0.2 else Rating.CLEAN if x < 1.2 else Rating.HARSH
        seen.append(Observation(float(x), 0.0, rating, piece=n % 5))
    return fit_window(tuple(seen), prior_for("frost", BeamSource.BLUE))


def run(faint, clean, harsh, on=date(2026, 3, 1), lot="L1", machine="Blue"):
    return DatedRun(on, lot, machine, RunOutcome(Observation(0.7, 0.0, Rating.CLEAN), faint, clean, harsh))


LOCKED = (date(2026, 2, 20), "L1", "Blue")


@pytest.mark.parametrize(
    ("what", "code"),
    [
        ({}, "drift-machine"),
        ({"lot": "L2"}, "drift-lot"),
        ({"machine": "Tube"}, "drift-machine"),
        ({"on": date(2026, 8, 1)}, "drift-season"),
    ],
)
def test_drift_is_told_with_its_direction_size_and_check(what, code):
    fit = fitted()
    faint, harsh = watch(fit, [run(10, 2, 0, **what)], *LOCKED), watch(fit, [run(0, 2, 10, **what)], *LOCKED)
    assert faint.energy_pct.low > 0 > harsh.energy_pct.high
    assert [f.code for f in faint.findings] == [code] == [f.code for f in harsh.findings]
    assert "more energy" in faint.findings[0].message
    assert faint.findings[0].fix


def test_a_run_as_expected_says_nothing():
    fine = watch(fitted(), [run(0, 2, 10, on=date(2026, 1, 1)), run(0, 12, 0)], *LOCKED)
    assert fine.findings == ()
    assert fine.energy_pct.low < 0 < fine.energy_pct.high
    assert fine.expected_clean > 0.9 < fine.seen_clean
    assert watch(fitted(), [], *LOCKED) is None
