"""A machine's own spot, threshold and focus, against Liu's worked example and ISO 11146-1; scatter; and drift."""

from dataclasses import replace
from datetime import date

import numpy as np
import pytest
import statsmodels.api as sm
from scipy.integrate import quad
from scipy.optimize import brentq
from scipy.special import expit
from scipy.stats import norm

from keencoat.core.errors import BadValueError
from keencoat.core.quantities.setting import BeamSource
from keencoat.core.rating import Rating
from keencoat.core.window.drift import DatedRun, watch
from keencoat.core.window.fit import FitStatus, WindowFit, fit_window
from keencoat.core.window.focus_ladder import MeasuredHeight, line_width_um, read_ladder
from keencoat.core.window.model import Observation, RunOutcome
from keencoat.core.window.parameters import SIZE, P
from keencoat.core.window.priors import prior_for
from keencoat.core.window.scatter import MeasuredCoat, Scatter, basis_of, basis_words, coat_scatter, settled_words
from keencoat.core.window.spot_lines import MeasuredLine, _bent, read_lines

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


def burned_width_um(height_mm, z0_mm, waist_mm, rayleigh_mm, times):
    """Width of a line by integrating a Gaussian beam's passage numerically: where its fluence exceeds the threshold
    that the same beam in focus passes `times` over. Shares no formula with the fit."""

    def fluence(y_mm, waist):
        return quad(lambda x: 2 / (np.pi * waist**2) * np.exp(-2 * (x**2 + y_mm**2) / waist**2), -6 * waist, 6 * waist)[
            0
        ]

    waist = waist_mm * np.sqrt(1 + ((height_mm - z0_mm) / rayleigh_mm) ** 2)
    threshold = fluence(0.0, waist_mm) / times
    if fluence(0.0, waist) <= threshold:
        return 0.0
    return 2000 * brentq(lambda y: fluence(y, waist) - threshold, 0, 5 * waist)


HEIGHTS = np.arange(-3, 3.5, 1.0)


def ladder(widths, heights=HEIGHTS):
    return [MeasuredHeight(float(z), float(w)) for z, w in zip(heights, widths, strict=True)]


@pytest.mark.parametrize("times", [1.45, 1.6, 2.2, 3.5, 8])
@pytest.mark.parametrize(("z0", "waist_um", "rayleigh"), [(0.0, 45, 2.0), (-1.2, 30, 3.0), (0.7, 70, 4.0)])
def test_a_ladder_finds_the_focus_at_any_power(times, z0, waist_um, rayleigh):
    """Liu's law with the caustic of ISO 11146-1, integrated numerically: near the threshold the line is widest in
    focus, and a parabola would turn the wrong way."""
    widths = [burned_width_um(z, z0, waist_um / 1000, rayleigh, times) for z in HEIGHTS]
    result = read_ladder(ladder(widths))
    assert result.height_mm.mid == pytest.approx(z0, abs=0.02)
    assert result.waist_um == pytest.approx(waist_um, rel=0.02)
    assert result.times_threshold == pytest.approx(times, rel=0.03)
    assert result.width_um == pytest.approx(waist_um * np.sqrt(2 * np.log(times)), rel=0.01)
    assert [f.code for f in result.findings] == (["focus-faint"] if times < 2 else [])
    if times < 2:
        assert "three to four times" in result.findings[0].fix
        assert widths[int(np.argmin(np.abs(HEIGHTS - z0)))] == max(widths)


def test_ladder_and_line_test_agree_on_the_spot():
    """The same beam, 100 mm/s, threshold 1.88 W: widths at rising power in focus, and at rising height at 6.58 W."""
    told = read_ladder(ladder([burned_width_um(z, 0.4, 0.05, 2.5, 3.5) for z in HEIGHTS]))
    assert 2 * told.waist_um / 1000 == pytest.approx(read_lines(lines(WATTS, WIDTHS_UM)).spot_mm, rel=0.02)


@pytest.mark.parametrize("times", [2.5, 4])
def test_the_range_of_a_ladders_height_holds_the_truth(times):
    rng = np.random.default_rng(int(10 * times))
    held = 0
    for _ in range(40):
        z0 = rng.uniform(-1, 1)
        clean = line_width_um(np.arange(-3, 3.1, 0.75), z0, rng.uniform(30, 70), rng.uniform(1.5, 3), times)
        noisy = np.maximum(0, clean + rng.normal(0, 2, len(clean)) * (clean > 0))
        told = read_ladder(ladder(noisy, np.arange(-3, 3.1, 0.75))).height_mm
        held += told.low <= z0 <= told.high
    assert held >= 0.8 * 40


def test_a_ladder_says_where_it_cannot_tell():
    shallow = [90 + w for w in (3, -2, 2, -3, 3, -2, 3)]
    assert "focus-vague" in [f.code for f in read_ladder(ladder(shallow)).findings]
    outside = read_ladder(ladder([burned_width_um(z, -5, 0.04, 3, 4) for z in HEIGHTS]))
    assert [f.code for f in outside.findings] == ["focus-outside"]
    with pytest.raises(BadValueError, match="too few"):
        read_ladder([MeasuredHeight(0, 10), MeasuredHeight(1, 11)])
    with pytest.raises(BadValueError, match="left a mark"):
        read_ladder(ladder([0, 0, 40, 50, 40, 0, 0]))
    few = read_ladder(ladder([0, 30, 60, 66, 58, 0, 0])).height_mm
    assert few.high - few.low > 2


@pytest.mark.parametrize(
    ("cvs", "films", "scatter"),
    [
        ((0.06, 0.08), (1.0, 1.4), 0.0707),
        ((0.1, 0.1, 0.1), (1.0, 1.0, 1.0), 0.1),
        ((0.0, 0.0, 0.0), (0.9, 1.0, 1.1), 0.1004),
        ((0.1, 0.1, 0.1), (0.9, 1.0, 1.1), 0.1417),
        ((0.1, 0.1, 0.1), (0.9, None, 1.1), 0.1),
    ],
)
def test_a_coats_scatter_lies_within_and_between_pieces(cvs, films, scatter):
    """By hand: root mean square within; from three films on, the standard deviation of their logs (n − 1) beside it."""
    told = coat_scatter([MeasuredCoat(c, f) for c, f in zip(cvs, films, strict=True)])
    assert told == pytest.approx(scatter, abs=2e-4)


def test_what_is_behind_the_scatter_is_said_and_widens_it():
    guess, two, eight = Scatter(0.12), Scatter(0.12, measured_pieces=2), Scatter(0.12, measured_pieces=8)
    # A guess (0.6) and what shops have (0.4): √(1/(1/0.36 + 1/0.16)) is 0.333; the model's doubt is 0.3.
    assert guess.doubt_ln == two.doubt_ln == pytest.approx(0.4481, abs=1e-4)
    # ln(0.10/0.12) = −0.1823, taken by 6.25 of 9.03.
    assert guess.guess_off_ln == pytest.approx(-0.1262, abs=1e-4)
    # sd of ln s over n pieces is 1/√(2(n − 1)), 0.267 for eight; with the guess's 0.6 0.244; the model's doubt is 0.3.
    assert eight.doubt_ln == pytest.approx(0.3867, abs=1e-4)
    assert [basis_of(guess, 7), basis_of(guess, 8), basis_of(eight, 0)] == ["guess", "run", "coats"]
    assert "12 % of coat scatter is a guess: photograph 3 coats, or count a run of 8" in basis_words(guess, 0)
    opaque = replace(guess, photos_tell=False)
    assert "is a guess: count a run of 8 pieces, as no photo tells" in basis_words(opaque, 0)
    assert settled_words(guess, 7, "9 in 10") == (
        "It likely holds if your pieces differ as you guess; not knowing that, the odds are 9 in 10. More cells "
        "tell little. Photograph 3 coats, or lock it and count the run."
    )
    assert settled_words(opaque, 7, "9 in 10").endswith("9 in 10. More cells tell little. Lock it and count the run.")
    for scatter, run in ((eight, 0), (guess, 8)):
        told = settled_words(scatter, run, "9 in 10", "Four cells hardly pay.")
        assert told == "It likely holds: the odds are 9 in 10. Four cells hardly pay. Lock it and count the run."
    assert "by 8 measured coats and your guess" in basis_words(eight, 0)
    assert "learned from 9 pieces" in basis_words(guess, 9)
    prior = prior_for("frost", BeamSource.BLUE)
    assert (prior.mean[P.SCATTER], prior.sd[P.SCATTER]) == (guess.guess_off_ln, guess.doubt_ln)
    assert replace(prior, scatter=eight).sd[P.SCATTER] == eight.doubt_ln


@pytest.mark.parametrize(
    ("guess", "cv", "pieces", "taken"),
    [(0.12, 0.12, 3, 0.12), (0.12, 0.24, 3, 0.18065), (0.12, 0.24, 8, 0.21398), (0.12, 0.24, 1, 0.16040),
     (0.12, 0.24, 2, 0.16040), (0.12, 0.0, 3, 0.02769), (0.0, 0.12, 3, 0.04333)],
)  # fmt: skip
def test_a_guess_is_drawn_to_what_coats_showed(guess, cv, pieces, taken):
    """By hand: ln 0.24/0.12 times 2(n − 1) over 2(n − 1) + 1/0.36; no coat is taken to vary by less than 1 %."""
    scatter = Scatter(guess, 0.02, 0.04, photos_tell=False).with_coats(cv, pieces)
    assert scatter == replace(scatter, power_cv=0.02, focus_cv=0.04, measured_pieces=pieces, photos_tell=False)
    assert scatter.coat_cv == pytest.approx(taken, abs=2e-5)


def test_a_guess_with_three_coats_comes_nearer_than_either():
    """400 shops whose guesses are off as guesses are, three coats each: the root mean square error of ln."""
    rng = np.random.default_rng(8)
    true = 0.1 * np.exp(rng.normal(0, 0.6, 400))
    seen = [float(np.std(t * rng.standard_normal(3), ddof=1)) for t in true]
    taken = [Scatter(0.1).with_coats(s, 3).coat_cv for s in seen]

    def error(cvs):
        return float(np.sqrt(np.mean(np.log(np.asarray(cvs) / true) ** 2)))

    assert error(taken) < 0.85 * min(error(seen), error(np.full(400, 0.1)))


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


def known(margin_ln, steep=30.0, spread=0.06):
    """A fit that knows: just enough lies `margin_ln` below the setting of `run`, too much a factor of e above it."""
    theta = np.zeros((40, SIZE))
    theta[:, P.ENOUGH], theta[:, P.WIDTH] = 0.7 - margin_ln, 1 + margin_ln
    theta[:, P.CEILING] = 9.0
    theta[:, [P.STEEP_ENOUGH, P.STEEP_HARM]] = np.log(steep)
    prior = replace(prior_for("frost", BeamSource.BLUE), scatter=Scatter(0, spread, 0))
    return WindowFit(theta, {}, FitStatus.GOOD, "", (), prior, 0.0)


def counts_at(shift_ln, margin_ln, pieces, rng, spread=0.06):
    """A run where enough is a hard step (no logistic) and pieces differ by a normal law: another law than the fit's."""
    return int((rng.normal(0, spread, pieces) + shift_ln > margin_ln).sum())


@pytest.mark.parametrize("way", ["faint", "harsh"])
def test_twelve_bad_of_forty_are_told_where_98_in_100_are_expected(way):
    """Expected 98 %: twelve of forty have odds of 10⁻¹³ by chance (binomial); what is left is doubt of the scatter."""
    fit = fitted()
    told = watch(fit, [run(12, 28, 0) if way == "faint" else run(0, 28, 12)], *LOCKED)
    assert told.expected_clean > 0.9
    assert told.moved > 0.8
    assert told.findings
    assert (told.energy_pct.low > 0) is (way == "faint")


def test_calm_runs_are_left_alone_and_a_shift_is_read_to_its_size():
    """Forty pieces at a margin of 0.125 (98 % clean) a run, by a step law of its own: at most one in twenty told; with
    all wanting 18 % more energy, nine in ten told, half of the readings within 8 points, the middle within 4."""
    rng = np.random.default_rng(5)
    fit, calm, moved, read = known(0.125), 0, 0, []
    for _ in range(60):
        faint = counts_at(0.0, 0.125, 40, rng)
        calm += bool(watch(fit, [run(faint, 40 - faint, 0)], *LOCKED).findings)
        faint = counts_at(0.167, 0.125, 40, rng)
        told = watch(fit, [run(faint, 40 - faint, 0)], *LOCKED)
        moved += bool(told.findings)
        read.append(told.energy_pct.mid)
    assert calm <= 3
    assert moved >= 54
    true_pct = 100 * np.expm1(0.167)
    assert np.median(read) == pytest.approx(true_pct, abs=4)
    assert np.mean(np.abs(np.array(read) - true_pct) <= 8) >= 0.5


@pytest.mark.parametrize("shift_ln", [0.1, 0.16, 0.25, -0.95])
def test_a_shift_is_read_back_where_everything_is_known(shift_ln):
    """Counts as a normal law through two logistic edges says, integrated by scipy's quad: the middle is that shift."""
    fit = known(0.125)

    def over(edge):
        return quad(lambda z: norm.pdf(z) * expit(30 * (edge - shift_ln - 0.06 * z)), -8, 8)[0]

    enough, too_much = over(0.125), over(-1.0)
    counts = [round(2000 * share) for share in (1 - enough, enough - too_much, too_much)]
    told = watch(fit, [run(*counts)], *LOCKED)
    assert told.energy_pct.mid == pytest.approx(100 * np.expm1(shift_ln), abs=2.0)


def test_a_run_as_expected_says_nothing():
    fine = watch(fitted(), [run(0, 2, 10, on=date(2026, 1, 1)), run(0, 12, 0)], *LOCKED)
    assert fine.findings == ()
    assert fine.energy_pct.low < 0 < fine.energy_pct.high
    assert fine.expected_clean > 0.9 < fine.seen_clean
    assert watch(fitted(), [], *LOCKED) is None


def test_a_bent_line_is_called_bent_where_statsmodels_f_test_says_so():
    rng, called = np.random.default_rng(8), 0
    for _ in range(300):
        x = np.sort(rng.uniform(0, 2, rng.integers(5, 9)))
        y = 3 * x + rng.uniform(0, 0.6) * x**2 + rng.normal(0, 0.1, len(x))
        straight, curved = (sm.OLS(y, np.vander(x, degree + 1)).fit() for degree in (1, 2))
        bent = curved.compare_f_test(straight)[1] < 0.02
        assert _bent(x, y) == bent
        called += bent
    assert 30 < called < 270
