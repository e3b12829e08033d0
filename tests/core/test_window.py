"""The window: boundaries against statsmodels, honesty of doubt, what is recommended."""

import numpy as np
import pytest
import statsmodels.api as sm
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import minimize
from scipy.stats import kstest

from keencoat.core.quantities.setting import BeamSource, Setting
from keencoat.core.quantities.slice import Slice
from keencoat.core.rating import Rating
from keencoat.core.window.fit import FitStatus, fit_window
from keencoat.core.window.lessons import Kind
from keencoat.core.window.map import map_window
from keencoat.core.window.model import (
    Likelihood,
    ModelPoints,
    Observation,
    RunOutcome,
    boundaries,
    chances,
    observe,
    points_of,
)
from keencoat.core.window.openers import open_share
from keencoat.core.window.parameters import MEANING, SIZE, P
from keencoat.core.window.predict import next_band, shares
from keencoat.core.window.priors import (
    PRIORS,
    UNKNOWN,
    hint_from_lines,
    lesson_of_lines,
    prior_for,
    stated_prior,
    with_lessons,
)
from keencoat.core.window.recommend import RatedSetting, SettingSchool, Verdict, recommend
from keencoat.core.window.report import fit_report
from keencoat.core.window.scatter import Scatter
from tests.core.conftest import make_machine

BLUE, CO2 = BeamSource.BLUE, BeamSource.CO2
FAINT, CLEAN, HARSH = Rating.FAINT, Rating.CLEAN, Rating.HARSH
STILL = Scatter(0, 0, 0)


def vector(**values):
    """A parameter vector with the given ones set, no irradiance that harms, and the rest 0."""
    theta = np.zeros(SIZE)
    theta[P.CEILING] = 9.0
    for name, value in values.items():
        theta[P[name.upper()]] = value
    return theta


TRUTH = vector(enough=0.0, slope=0.5, width=1.2, wedge=-0.1, steep_enough=1.8, steep_harm=1.8)


def at(x, d):
    none = np.zeros_like(np.asarray(x, float))
    return ModelPoints(np.asarray(x, float), np.asarray(d, float), none, none, none, none, none)


def simulated(count, seed, theta=TRUTH, pieces=1, spread=0.0):
    rng = np.random.default_rng(seed)
    x, d = rng.uniform(-1, 2.5, count), rng.uniform(-1.5, 2, count)
    piece = np.arange(count) % pieces
    shift = spread * rng.standard_normal(pieces)[piece]
    p = chances(theta[None], at(x, d), shift[None])
    u = rng.random(count)
    ratings = np.where(u < p.faint[0], FAINT, np.where(u < p.faint[0] + p.clean[0], CLEAN, HARSH))
    return tuple(
        Observation(float(a), float(b), Rating(r), piece=int(k))
        for a, b, r, k in zip(x, d, ratings, piece, strict=True)
    )


def logit(rows, hit):
    design = sm.add_constant(np.array([[o.ln_energy, o.ln_dwell] for o in rows]))
    return sm.Logit(np.array([o.rating == hit for o in rows], float), design).fit(disp=0)


def test_the_likelihood_peaks_where_two_statsmodels_logits_do():
    cells = simulated(160, 5)
    likelihood = Likelihood(cells, STILL, 0.0)
    free = [P.ENOUGH, P.SLOPE, P.STEEP_ENOUGH, P.WIDTH, P.WEDGE, P.STEEP_HARM]

    def cost(values):
        theta = np.append(vector(), np.zeros(likelihood.effects))[None]
        theta[0, free] = values
        return -float(likelihood(theta)[0])

    a1, b1, c1, w, wedge, c2 = minimize(cost, TRUTH[free], method="BFGS", options={"gtol": 1e-6}).x
    const, slope_x, slope_d = logit(cells, HARSH).params
    assert [a1 + w, b1 + wedge, c2] == pytest.approx([-const / slope_x, -slope_d / slope_x, np.log(slope_x)], abs=2e-3)
    const, slope_x, slope_d = logit([o for o in cells if o.rating != HARSH], CLEAN).params
    assert [a1, b1, c1] == pytest.approx([-const / slope_x, -slope_d / slope_x, np.log(slope_x)], abs=2e-3)


def test_with_much_data_the_posterior_is_as_wide_as_statsmodels_says():
    cells = simulated(400, 6)
    fit = fit_window(cells, UNKNOWN)
    model = logit(cells, HARSH)
    const, slope_x, _ = model.params
    # Delta method for the boundary at 1 ms dwell, −c/x.
    slope = np.array([-1 / slope_x, const / slope_x**2, 0.0])
    wanted_sd = float(np.sqrt(slope @ model.cov_params() @ slope))
    harm = fit.draws[:, P.ENOUGH] + fit.draws[:, P.WIDTH]
    # The one piece's own shift is the prior's and cannot be told from the boundary.
    own_sd = float(np.hypot(wanted_sd, 0.08))
    assert harm.mean() == pytest.approx(-const / slope_x, abs=3 * own_sd)
    assert 0.4 * wanted_sd < harm.std() < 3 * own_sd


def test_without_cells_the_posterior_is_the_prior():
    prior = prior_for("frost", BLUE)
    fit = fit_window((), prior)
    assert fit.status is FitStatus.PRIOR_ONLY
    for place in P:
        assert kstest((fit.draws[:, place] - prior.mean[place]) / prior.sd[place], "norm").pvalue > 0.01
    assert set(MEANING) == set(P)


def test_a_grid_sharpens_where_it_was_burned_and_stays_honest_elsewhere():
    prior = prior_for("frost", BLUE)
    near = tuple(c for c in simulated(60, 8) if abs(c.ln_dwell) < 0.5)[:16]
    before, after = fit_window((), prior), fit_window(near, prior)
    assert after.status is FitStatus.GOOD

    def doubt(fit, ln_dwell):
        return boundaries(fit.draws, at([0.0], [ln_dwell]))[0].std()

    assert doubt(after, 0.0) < 0.5 * doubt(before, 0.0)
    assert doubt(after, 3.0) > 1.6 * doubt(after, 0.0)


def coverage(trials, first_seed=0, cells=13, pieces=3):
    """How often a 90 % range holds the truth on data drawn from the model: of the boundary at 1 ms, and of the share
    of clean pieces at a setting in the middle."""
    prior = prior_for("frost", BLUE)
    rng = np.random.default_rng(first_seed)
    held = []
    for trial in range(trials):
        truth = prior.mean + prior.sd * rng.standard_normal(SIZE)
        sd = float(np.hypot(truth[P.FILM] * prior.scatter.coat_cv, 0.0424) * np.exp(truth[P.SCATTER]))
        fit = fit_window(simulated(cells, first_seed + 100 + trial, truth, pieces, sd), prior)
        low, high = np.quantile(fit.draws[:, P.ENOUGH], [0.05, 0.95])
        held.append(low <= truth[P.ENOUGH] <= high)
    return float(np.mean(held))


def test_ninety_per_cent_ranges_hold_the_truth_about_nine_times_in_ten():
    assert 0.8 <= coverage(60) <= 0.98


@pytest.mark.bench
def test_coverage_over_many_draws_of_the_model():
    share = coverage(400, 7)
    print(f"90 % ranges hold the truth in {100 * share:.1f} % of 400 draws")
    assert 0.85 <= share <= 0.95


def test_one_contradicting_cell_does_not_break_the_fit():
    prior = prior_for("frost", BLUE)
    cells = simulated(24, 3)
    odd = Observation(2.4, 0.0, FAINT)
    plain, shaken = fit_window(cells, prior), fit_window((*cells, odd), prior)
    assert abs(plain.draws[:, P.ENOUGH].mean() - shaken.draws[:, P.ENOUGH].mean()) < 0.25


def moved(extra, place, base=None):
    prior = prior_for("frost", BLUE)
    cells = base if base is not None else simulated(10, 21)
    value = [fit.draws[:, place].mean() for fit in (fit_window(cells, prior), fit_window((*cells, *extra), prior))]
    return value[1] - value[0]


def cell(x, rating, *defects, **more):
    return Observation(x, 0.0, rating, defects=frozenset(defects), **more)


def test_each_defect_pulls_on_its_own_boundary():
    faint_high = [cell(0.9, FAINT, "coat_left", piece=n) for n in (5, 6, 7)]
    streaked = [cell(0.9, FAINT, "streaks", piece=n) for n in (5, 6, 7)]
    striped = [cell(0.9, FAINT, "stripes", piece=n) for n in (5, 6, 7)]
    assert moved(faint_high, P.ENOUGH) > 0.15
    assert abs(moved(streaked, P.ENOUGH)) < 0.5 * moved(faint_high, P.ENOUGH)
    assert moved(striped, P.ENOUGH) < 0.5 * moved(faint_high, P.ENOUGH)
    # Chips with coat left under them: both at once, so the window is shut there.
    shut = [cell(0.6, HARSH, "chips", "coat_left", piece=n) for n in (5, 6, 7)]
    chipped = [cell(0.6, HARSH, "chips", piece=n) for n in (5, 6, 7)]
    assert moved(shut, P.WIDTH, ()) < moved(chipped, P.WIDTH, ()) - 0.1


def test_a_photos_figures_sharpen_the_fit_and_are_not_needed():
    prior = prior_for("frost", BLUE)
    rated = simulated(10, 4)
    measured = tuple(
        Observation(o.ln_energy, o.ln_dwell, o.rating, to_enough=o.ln_energy - 0.5 * o.ln_dwell) for o in rated
    )
    by_eye, by_photo = (fit_window(cells, prior).draws[:, P.ENOUGH].std() for cells in (rated, measured))
    assert by_photo < 0.75 * by_eye


def test_pieces_share_a_shift_and_another_machine_adds_doubt():
    prior = prior_for("frost", BLUE)
    cells = simulated(24, 9)
    apart = tuple(Observation(o.ln_energy, o.ln_dwell, o.rating, piece=n % 6) for n, o in enumerate(cells))
    elsewhere = tuple(Observation(o.ln_energy, o.ln_dwell, o.rating, machine=2) for o in cells)
    one, many, other = (fit_window(c, prior).draws[:, P.ENOUGH].std() for c in (cells, apart, elsewhere))
    assert many < one < other
    shifted = tuple(
        Observation(o.ln_energy + 0.3 * (n % 2), o.ln_dwell, o.rating, piece=n % 2)
        for n, o in enumerate(simulated(60, 2))
    )
    shifts = fit_window(shifted, prior).piece_shifts
    assert shifts[1] - shifts[0] > 0.1


def test_a_run_of_whole_pieces_moves_the_window():
    prior = prior_for("frost", BLUE)
    cells = simulated(16, 31)
    where = cell(0.5, CLEAN)
    fits = [fit_window(cells, prior, runs=(RunOutcome(where, *counts),)) for counts in ((9, 3, 0), (0, 12, 0))]
    failed, fine = (fit.draws[:, P.ENOUGH].mean() for fit in fits)
    assert failed > fine + 0.1
    assert RunOutcome(where, 0, 12, 0).weight < 1 == RunOutcome(where, 0, 1, 0).weight


def test_what_is_told_beforehand_moves_the_prior_the_right_way():
    plain = stated_prior("frost", BLUE, "soda_lime_glass", 1.0, Scatter())
    thick = stated_prior("frost", BLUE, "soda_lime_glass", 1.5, Scatter())
    vague = stated_prior("frost", BLUE, None, None, Scatter())
    nothing = stated_prior(None, BLUE, None, None, Scatter())
    assert thick.centre_j_mm2 > plain.centre_j_mm2
    assert plain.centre_sd_ln < vague.centre_sd_ln < nothing.centre_sd_ln
    hint = hint_from_lines(1.879971, 0.05, 100)
    # Liu's scanned line of CHECKS: at the threshold its peak fluence is the threshold fluence, 0.3 J/mm².
    assert np.exp(hint.ln_energy) == pytest.approx(0.3, rel=1e-6)


def test_a_line_test_draws_the_boundary_as_a_joint_gaussian_is_conditioned():
    """Boundary, slope and bend are Gaussian beforehand; the line saw their sum at its dwell, ± 0.4, on another day."""
    plain = stated_prior("frost", BLUE, "soda_lime_glass", 1.0, Scatter())
    hint = hint_from_lines(0.9, 0.04, 25)
    assert hint.ln_dwell == pytest.approx(np.log(80 / 25))
    here = Kind("white", "soda_lime_glass", "10 W")
    rows, seen = [P.ENOUGH, P.SLOPE, P.BEND], np.array([1, hint.ln_dwell, hint.ln_dwell**2])
    covariance = np.diag(plain.sd[rows] ** 2)
    day = np.diag([0.08**2 + 0.05**2, *(0.04 * plain.sd[rows[1:]] ** 2)])
    gain = (covariance - day) @ seen / (seen @ covariance @ seen + 0.4**2)
    mean, root = with_lessons(plain, here, (lesson_of_lines(here, hint),)).gaussian
    assert mean[rows] == pytest.approx(plain.mean[rows] + gain * (hint.ln_energy - seen @ plain.mean[rows]))
    left = covariance - np.outer(gain, (covariance - day) @ seen)
    assert (root @ root.T)[P.ENOUGH, P.ENOUGH] == pytest.approx(left[0, 0], rel=1e-6)


@settings(max_examples=40)
@given(x=st.floats(-4, 5), d=st.floats(-4, 5), key=st.sampled_from(sorted(PRIORS)))
def test_shares_add_up_and_stay_shares(x, d, key):
    share = shares(fit_window((), PRIORS[key]), at([x], [d]))
    total = sum(share.values())
    assert total == pytest.approx(np.ones_like(total))
    assert all((s >= -1e-12).all() for s in share.values())


def burn(machine, settings_, enough=0.0, too_much=1.3):
    def rate(setting):
        p = points_of([setting], machine)
        x, d = float(p.ln_energy[0]), float(p.ln_dwell[0])
        if x > too_much + 0.4 * d:
            return HARSH
        return CLEAN if x > enough + 0.5 * d else FAINT

    return [RatedSetting(f"A{i}", s, rate(s)) for i, s in enumerate(settings_, 1)]


def judged(machine, rated, wanted=0.95, scatter=None):
    prior = stated_prior("frost", BLUE, "soda_lime_glass", 1.0, scatter or Scatter())
    seen = tuple(observe(r.setting, machine, r.rating, n % 5) for n, r in enumerate(rated))
    fit = fit_window(seen, prior)
    return fit, recommend(fit, Slice(machine, 0.1), tuple(rated), wanted)


def lattice(powers, speeds):
    return [Setting(p, v, 0.1) for v in speeds for p in powers]


FULL = ((10, 16, 25, 40, 60, 80, 100), (15, 30, 60, 100, 120))


def test_recommendation_is_safe_and_sets_the_other_schools_beside_it(machine):
    rated = burn(machine, lattice(*FULL))
    _, best = judged(machine, rated, scatter=Scatter(measured_pieces=5))
    assert best.verdict is Verdict.SURE
    assert best.point.clean.mid >= 0.95
    low, high = best.power_range_pct
    assert low <= best.point.setting.power_pct <= high
    others = {o.school: o for o in best.others}
    assert set(others) == set(SettingSchool)
    fastest = others[SettingSchool.FASTEST_CELL]
    clean = [r for r in rated if r.rating is CLEAN]
    assert fastest.code == max(clean, key=lambda r: (r.setting.speed_mm_s, -r.setting.power_pct)).code
    assert fastest.point.clean.mid < best.point.clean.mid
    assert "lost" in fastest.words
    assert others[SettingSchool.FORGIVING].point.setting.speed_mm_s <= best.point.setting.speed_mm_s
    assert others[SettingSchool.COOLER_PASSES].point.setting.passes == 2


def test_more_scatter_means_slower(machine):
    rated = burn(machine, lattice(*FULL))
    _, tidy = judged(machine, rated, scatter=Scatter(0.02, 0.01, 0.01))
    _, untidy = judged(machine, rated, scatter=Scatter(0.25, 0.04, 0.05))
    assert tidy.point.setting.speed_mm_s > untidy.point.setting.speed_mm_s


def test_a_fit_is_told_as_text():
    """A line a parameter, its figures those of prior and draws; and what it rests on."""
    machine = make_machine()
    seen = tuple(observe(Setting(p, 50, 0.1), machine, r) for p, r in ((20, FAINT), (50, CLEAN), (90, HARSH)))
    fit = fit_window(seen, prior_for("frost", BLUE))
    text = fit_report(fit)
    assert "3 cells on 1 pieces" in text
    assert fit.prior.source in text
    rows = {row[0]: row[1:] for row in (line.split() for line in text.splitlines()[5:])}
    assert set(rows) == {p.name.lower() for p in P}
    for p in P:
        before, _, before_sd, after, _, after_sd, low, high = rows[p.name.lower()][:8]
        figures = [fit.prior.mean[p], fit.prior.sd[p], fit.draws[:, p].mean(), fit.draws[:, p].std()]
        assert [float(x) for x in (before, before_sd, after, after_sd)] == pytest.approx(figures, abs=0.006)
        ends = np.quantile(fit.draws[:, p], [0.05, 0.95])
        assert [float(low), float(high)] == pytest.approx(ends, abs=0.006)


@pytest.mark.parametrize(
    ("least_pct", "enough", "too_much", "says", "opens"),
    [
        (2, 9, 12, "Go up in energy", {"stronger_machine", "passes", "interval"}),
        (30, -3.2, -2.2, "Go down", {"weaker_machine"}),
        (2, 0.9, 0.0, "hardly a clean setting", {"passes", "interval"}),
    ],
)
def test_no_clean_setting_is_an_answer_with_what_may_open_it(least_pct, enough, too_much, says, opens):
    machine = make_machine(min_power_pct=least_pct)
    powers = [p for p in (2, 5, 10, 16, 25, 30, 40, 60, 80, 100) if p >= least_pct]
    rated = burn(machine, lattice(powers, (5, 10, 20, 40, 100, 250)), enough, too_much)
    fit, answer = judged(machine, rated)
    assert answer.verdict is Verdict.NONE
    assert answer.point is None
    assert says in answer.advice
    assert opens <= {o.change for o in answer.openers}
    now = open_share(fit, Slice(machine, 0.1))
    assert all(now + 0.02 < o.chance <= 1 for o in answer.openers)
    assert [o.chance for o in answer.openers] == sorted((o.chance for o in answer.openers), reverse=True)
    band = next_band(fit)
    assert band.low_j_mm2(1) < band.high_j_mm2(1)


def test_the_maps_slices_follow_lines_passes_and_film(machine):
    fit, _ = judged(machine, burn(machine, lattice(*FULL)))
    plain, thick = map_window(fit, Slice(machine, 0.1)), map_window(fit, Slice(machine, 0.1, film_share=1.5))
    middle = len(plain.speeds_mm_s) // 2
    assert thick.enough.mid_pct[middle] > plain.enough.mid_pct[middle]
    closer = map_window(fit, Slice(machine, 0.05))
    assert closer.enough.mid_pct[middle] < plain.enough.mid_pct[middle]
    assert ((plain.clean >= 0) & (plain.clean + plain.harsh <= 1 + 1e-9)).all()
