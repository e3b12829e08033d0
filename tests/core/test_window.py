"""The window: logistic parts against statsmodels, reported settings (common practice, no source), honesty of doubt."""

import numpy as np
import pytest
import statsmodels.api as sm
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import kstest

from keencoat.core.quantities.setting import BeamSource, Setting
from keencoat.core.window.fit import FitStatus, fit_window
from keencoat.core.window.model import Observation, Rating, chances, observe
from keencoat.core.window.predict import Scatter, next_band, read_point, shares
from keencoat.core.window.priors import PRIORS, WindowPrior, prior_for
from keencoat.core.window.recommend import RatedSetting, Verdict, map_window, recommend
from tests.core.conftest import make_machine

BLUE, CO2 = BeamSource.BLUE, BeamSource.CO2
FAINT, CLEAN, HARSH = Rating.FAINT, Rating.CLEAN, Rating.HARSH


class FlatPrior(WindowPrior):
    """So wide that only the data speak."""

    @property
    def cov(self):
        return np.eye(6) * 1e6


def simulated(count, seed, theta=(0.0, 0.5, 1.8, 1.2, 0.4, 1.8)):
    rng = np.random.default_rng(seed)
    x, d = rng.uniform(-1, 2.5, count), rng.uniform(-1.5, 2, count)
    p = chances(np.array([theta]), x, d)
    u = rng.random(count)
    ratings = np.where(u < p.faint[0], FAINT, np.where(u < p.faint[0] + p.clean[0], CLEAN, HARSH))
    return tuple(Observation(float(a), float(b), Rating(r)) for a, b, r in zip(x, d, ratings, strict=True))


def test_with_flat_priors_both_boundaries_are_statsmodels_logits():
    cells = simulated(160, 5)
    flat = FlatPrior(1, 1, 1, 0, "own-estimate", lapse=0.0)
    mode = fit_window(cells, flat).mode

    def logit(rows, hit):
        design = sm.add_constant(np.array([[o.ln_energy, o.ln_dwell] for o in rows]))
        return sm.Logit(np.array([o.rating == hit for o in rows], float), design).fit(disp=0).params

    const, slope_x, slope_d = logit(cells, HARSH)
    assert mode[3:] == pytest.approx([-const / slope_x, -slope_d / slope_x, np.log(slope_x)], abs=2e-3)
    const, slope_x, slope_d = logit([o for o in cells if o.rating != HARSH], CLEAN)
    assert mode[:3] == pytest.approx([-const / slope_x, -slope_d / slope_x, np.log(slope_x)], abs=2e-3)


REPORTED = [  # process, beam, watts, per cent, mm/s, interval mm, spot mm
    ("frost", BLUE, 20, 75, 125.0, 0.1, 0.1),
    ("frost", BLUE, 30, 90, 7000 / 60, 0.082, 0.1),
    ("frost", BLUE, 33, 100, 10_000 / 60, 0.1, 0.1),
    ("frost", BLUE, 20, 60, 30 * 25.4 / 60, 25.4 / 253, 0.1),
    ("frost", BLUE, 5, 90, 500 / 60, 0.1, 0.1),
    ("fuse", BLUE, 5.5, 85, 20.0, 0.085, 0.1),
    ("reveal", BLUE, 4.5, 9, 20.0, 25.4 / 600, 0.1),
    ("reveal", CO2, 80, 13, 400.0, 25.4 / 282, 0.2),
]


@pytest.mark.parametrize("case", REPORTED)
def test_reported_settings_are_likelier_clean_than_either_fault(case):
    """Common practice, no source; spot sizes assumed."""
    process, source, watts, power, speed, interval, spot = case
    machine = make_machine(source=source, rated_w=watts, spot_mm=spot, max_speed_mm_s=500)
    fit = fit_window((), prior_for(process, source))
    reading = read_point(fit, Setting(power, speed, interval), machine, 0.0)
    assert reading.clean.mid > max(reading.faint, reading.harsh)


def test_without_cells_the_posterior_is_the_prior():
    prior = prior_for("frost", BLUE)
    fit = fit_window((), prior)
    assert fit.status is FitStatus.PRIOR_ONLY
    for i in (0, 1, 3, 4):
        assert kstest((fit.draws[:, i] - prior.mean[i]) / np.sqrt(prior.cov[i, i]), "norm").pvalue > 0.01


def test_a_grid_sharpens_where_it_was_burned_and_stays_honest_elsewhere():
    prior = prior_for("frost", BLUE)
    near = [c for c in simulated(60, 8) if abs(c.ln_dwell) < 0.5][:16]
    before, after = fit_window((), prior), fit_window(tuple(near), prior)
    assert after.status is FitStatus.GOOD

    def doubt(fit, ln_dwell):
        return (fit.draws[:, 0] + fit.draws[:, 1] * ln_dwell).std()

    assert doubt(after, 0.0) < 0.4 * doubt(before, 0.0)
    assert doubt(after, 3.0) > 2 * doubt(after, 0.0)


def test_ninety_per_cent_ranges_hold_the_truth_about_nine_times_in_ten():
    prior = prior_for("frost", BLUE)
    rng = np.random.default_rng(0)
    held = 0
    for trial in range(60):
        truth = rng.multivariate_normal(prior.mean, prior.cov)
        fit = fit_window(simulated(12, 100 + trial, tuple(truth)), prior)
        low, high = np.quantile(fit.draws[:, 0], [0.05, 0.95])
        held += low <= truth[0] <= high
    assert 0.8 <= held / 60 <= 0.98


def test_one_contradicting_cell_does_not_break_the_fit():
    prior = prior_for("frost", BLUE)
    cells = simulated(24, 3)
    odd = Observation(2.4, 0.0, FAINT)
    plain, shaken = fit_window(cells, prior), fit_window((*cells, odd), prior)
    assert abs(plain.draws[:, 0].mean() - shaken.draws[:, 0].mean()) < 0.25


@given(x=st.floats(-4, 5), d=st.floats(-4, 5), ln_sd=st.floats(0, 0.6), key=st.sampled_from(sorted(PRIORS)))
def test_shares_add_up_and_stay_shares(x, d, ln_sd, key):
    share = shares(fit_window((), PRIORS[key]), np.array([x]), np.array([d]), ln_sd)
    total = sum(share.values())
    assert total == pytest.approx(np.ones_like(total))
    assert all((s >= -1e-12).all() for s in share.values())


def burn(machine, settings, enough=0.0, too_much=1.3):
    def rate(setting):
        o = observe(setting, machine, CLEAN)
        if o.ln_energy > too_much + 0.4 * o.ln_dwell:
            return HARSH
        return CLEAN if o.ln_energy > enough + 0.5 * o.ln_dwell else FAINT

    return [RatedSetting(f"A{i}", s, rate(s)) for i, s in enumerate(settings, 1)]


def judged(machine, rated, wanted=0.95, scatter=None, pieces=2):
    fit = fit_window(tuple(observe(r.setting, machine, r.rating) for r in rated), prior_for("frost", BLUE))
    ln_sd = (scatter or Scatter()).ln_sd(pieces)
    return fit, recommend(fit, map_window(fit, machine, 0.1, 1, ln_sd), machine, rated, ln_sd, wanted)


def lattice(powers, speeds):
    return [Setting(p, v, 0.1) for v in speeds for p in powers]


def test_recommendation_is_safe_and_says_why_not_the_fastest_clean_cell(machine):
    rated = burn(machine, lattice((10, 16, 25, 40, 60, 80, 100), (15, 30, 60, 100, 120)))
    _, answer = judged(machine, rated, wanted=0.9)
    assert answer.verdict is Verdict.SURE
    assert answer.point.clean.mid >= 0.89
    assert answer.point.margin_to_faint_pct.mid > 10
    fastest = max((r for r in rated if r.rating is CLEAN), key=lambda r: r.setting.speed_mm_s)
    assert answer.fastest_clean_code == fastest.code
    assert answer.fastest_clean.clean.mid < answer.point.clean.mid
    assert fastest.code in answer.why_not_faster


def test_more_scatter_means_slower(machine):
    rated = burn(machine, lattice((10, 16, 25, 40, 60, 80, 100), (15, 30, 60, 100, 120)))
    _, tidy = judged(machine, rated, 0.9, Scatter(0.02, 0.01, 0.01))
    _, untidy = judged(machine, rated, 0.9, Scatter(0.2, 0.04, 0.05))
    assert tidy.point.setting.speed_mm_s > untidy.point.setting.speed_mm_s


@pytest.mark.parametrize(
    ("enough", "too_much", "says"),
    [(9, 12, "Go up in energy"), (-12, -9, "Go down"), (0.6, 0.5, "no clean cell between")],
)
def test_no_clean_cell_says_what_to_try(machine, enough, too_much, says):
    rated = burn(machine, lattice((20, 40, 60, 80), (20, 40, 80)), enough, too_much)
    fit, answer = judged(machine, rated)
    assert answer.verdict is Verdict.NONE
    assert answer.point is None
    assert says in answer.advice
    band = next_band(fit)
    assert band.low_j_mm2(1) < band.high_j_mm2(1)


def test_next_band_moves_towards_the_answer(machine):
    rated = burn(machine, lattice((20, 40, 60, 80), (20, 40, 80)), 9, 12)
    fit, _ = judged(machine, rated)
    assert next_band(fit).low_j_mm2(2) > 2 * next_band(fit_window((), prior_for("frost", BLUE))).low_j_mm2(2)
