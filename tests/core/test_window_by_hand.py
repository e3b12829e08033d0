"""Windows whose boundaries are known, so that what is read of them can be worked out by hand."""

import math
from dataclasses import replace
from datetime import date

import numpy as np
import pytest

from keencoat.core.errors import BadValueError
from keencoat.core.quantities.energy import areal_energy_j_mm2, minutes_per_dm2
from keencoat.core.quantities.estimate import Range
from keencoat.core.quantities.setting import BeamSource, Setting
from keencoat.core.quantities.slice import Slice
from keencoat.core.rating import Rating
from keencoat.core.window.choose import SettingChoice, choose
from keencoat.core.window.drift import DatedRun, watch
from keencoat.core.window.fit import DRAWS, FitStatus, WindowFit, just_as_told
from keencoat.core.window.map import map_window
from keencoat.core.window.model import (
    ModelPoints,
    RunOutcome,
    boundaries,
    harm_limits,
    observe,
    piece_sd,
    points_of,
    run_log_likelihood,
)
from keencoat.core.window.odds import odds_told
from keencoat.core.window.parameters import SIZE, P
from keencoat.core.window.peak import peak_pct, peak_words
from keencoat.core.window.plan import Budget, _minutes_of, _targets, next_cells
from keencoat.core.window.predict import SettingOdds, next_band, odds_of
from keencoat.core.window.priors import stated_prior
from keencoat.core.window.reach import Settings
from keencoat.core.window.recommend import RatedSetting, Verdict, _cost, _go_on, recommend
from keencoat.core.window.scatter import Scatter
from tests.core.conftest import make_machine

SHARP = math.log(30)
USUAL = Scatter()


def known(*kinds, scatter=USUAL):
    """A fit whose draws are of these kinds in equal parts: no doubt but which of them it is."""
    rows = np.zeros((len(kinds), SIZE))
    for row, kind in zip(rows, kinds, strict=True):
        row[[P.STEEP_ENOUGH, P.STEEP_HARM]] = SHARP
        row[P.SHARED], row[P.CEILING] = 1.0, 9.0
        for name, value in kind.items():
            row[P[name]] = value
    draws = np.repeat(rows, DRAWS // len(kinds), axis=0)
    prior = stated_prior("frost", BeamSource.BLUE, "soda_lime_glass", 1.0, scatter)
    return WindowFit(draws, {}, FitStatus.GOOD, "", (), prior, 0.0)


def window(enough_j, harm_j, **more):
    return {"ENOUGH": math.log(enough_j), "WIDTH": math.log(harm_j / enough_j)} | more


def test_boundaries_add_up_as_the_formula_says():
    fit = known(
        {
            "ENOUGH": 0.3,
            "SLOPE": 0.5,
            "WIDTH": 1.2,
            "WEDGE": 0.2,
            "BEND": 0.05,
            "CURVE": 0.25,
            "OVERLAP": 0.4,
            "OVERLAP_GAP": 0.1,
            "SPARSE": 0.6,
            "PASSES": 0.7,
            "PASSES_GAP": 0.15,
            "FILM": 0.9,
            "PATCH": -0.2,
        }
    )
    wide, close = -0.5, 0.5
    two = np.ones(2)
    at = ModelPoints(0 * two, 2 * two, np.array([wide, close]), 0.7 * two, -0.3 * two, 0.2 * two, -1 * two)
    enough, harm = boundaries(fit.draws, at)
    # .3 + .5·2 + .05·4 + .4·o + .7·.7 + .9·.2 + .2·1 + .25·.3, with o = ∓.5
    assert enough[0] == pytest.approx([2.245, 2.645])
    # 1.2 + .2·2 + .1·o + .6·min(o, 0) + .15·.7
    assert (harm - enough)[0] == pytest.approx([1.355, 1.755])


def test_a_peak_of_irradiance_harms_alike_at_every_speed_interval_and_number_of_passes():
    machine = make_machine()
    fit = known({"ENOUGH": 0.3, "SLOPE": 0.5, "WIDTH": 1.2, "CEILING": -2.0, "FILM": 0.9, "PATCH": -0.2})
    burned = [
        Setting(power, speed, interval, passes)
        for power, speed, interval, passes in ((80.0, 300.0, 0.1, 1), (80.0, 40.0, 0.07, 2), (40.0, 300.0, 0.1, 1))
    ]
    at = points_of(burned, machine)
    # ln(1.5·e⁻²) J/mm² in a millisecond, lines a spot apart, one pass: W over the spot's square, in thousands.
    limit_w = 1000 * math.exp(0.3 + 1.2 - 2.0) * machine.spot_mm**2
    beyond = at.ln_energy - boundaries(fit.draws, at)[1][0]
    assert np.exp(beyond[:2]) == pytest.approx([0.8 * machine.rated_w / limit_w] * 2)
    assert np.exp(beyond[2]) == pytest.approx(0.4 * machine.rated_w / limit_w)
    thick = replace(at, ln_film=np.full(3, 0.2), ln_patch=np.full(3, 0.5))
    assert boundaries(fit.draws, thick)[1][0] - boundaries(fit.draws, at)[1][0] == pytest.approx(0.9 * 0.2 - 0.2 * 0.5)
    slow = points_of([Setting(80.0, 1.0, 0.1)], machine)
    assert boundaries(fit.draws, slow)[1][0] == pytest.approx(0.3 + 1.2 + 0.5 * slow.ln_dwell)


@pytest.mark.parametrize("spot", [0.05, 0.1, 0.17])
def test_what_is_believed_of_irradiance_is_tied_to_watts_whatever_the_spot(spot):
    """Nobody reports a spot: the power that is believed to harm at any speed may not turn with it."""
    machine = make_machine(spot_mm=spot)
    prior = stated_prior("frost", BeamSource.BLUE, "soda_lime_glass", 1.0, USUAL, spot)
    limit = harm_limits(prior.mean[None, :], points_of([Setting(100, 60, 0.1)], machine))[1][0, 0]
    # ln J/mm²: 1.85 · e^(1.25/2), and a ceiling of 1.2, at 1/0.6 ms and lines a spot of 0.1 mm apart.
    assert limit == pytest.approx(math.log(1.85 / 0.6) + 1.25 / 2 + 1.2)


def test_the_power_that_harms_at_any_speed_is_told_where_cells_show_it():
    machine = replace(make_machine(), min_power_pct=10.0)
    at = Slice(machine, 0.07)

    def told(*ceilings, seen=True, energy_first=0, **more):
        kinds = [{"ENOUGH": 0.3, "SLOPE": 0.5, "WIDTH": 1.2, "CEILING": c} | more for c in ceilings]
        for kind in kinds[:energy_first]:
            kind |= {"WIDTH": kind["WIDTH"] - 3.2, "CEILING": kind["CEILING"] + 3.2}
        fit = known(*kinds)
        cells = (observe(Setting(60, 100, 0.07), machine, Rating.CLEAN),) if seen else ()
        return peak_pct(replace(fit, observations=cells), at)

    # Full power is this far, in ln, over the limit of a ceiling of nought: W over the spot's square, in thousands.
    over = math.log(machine.rated_w / (1000 * machine.spot_mm**2)) - 0.3 - 1.2
    half = over + math.log(0.5)
    found = told(half, CURVE=0.25)
    assert found.mid == pytest.approx(100 * 0.5 ** (1 / 1.25))
    assert "57 % power (57 to 57 %)" in peak_words(found)
    apart = told(half - 0.2, half, half, half + 0.2)
    assert (apart.low, apart.mid, apart.high) == pytest.approx((40.9, 50.0, 61.1), abs=0.1)
    even = told(*np.linspace(half - 0.2, half + 0.2, DRAWS))  # nine tenths of them lie within ± 0.18
    assert (even.low, even.high) == pytest.approx((50 * math.exp(-0.18), 50 * math.exp(0.18)))
    assert told(half, seen=False) is None
    assert told(half - 0.25, half, half, half + 0.25) is None  # known within a factor of 1.65 only
    assert told(over + 0.01) is None  # beyond full power
    assert told(over + math.log(0.09)) is None  # under what the laser does at all
    # In nine worlds of ten irradiance must harm first, at full speed at least.
    assert told(*[half] * 10, energy_first=1) is not None
    assert told(*[half] * 10, energy_first=2) is None


def test_a_band_follows_both_slopes_and_is_never_too_thin():
    fit = known({"ENOUGH": 0.3, "SLOPE": 0.5, "WIDTH": 1.2, "WEDGE": 0.2})
    for around in (0.0, 1.0):
        band = next_band(fit, around)
        assert [math.log(band.low_j_mm2(math.exp(d))) for d in (0, 2)] == pytest.approx([0.3, 1.3])
        assert [math.log(band.high_j_mm2(math.exp(d))) for d in (0, 2)] == pytest.approx([1.5, 2.9])
    thin = next_band(known({"ENOUGH": 0.3, "WIDTH": 0.1}))
    assert math.log(thin.high_j_mm2(1)) == pytest.approx(math.log(1.5) + 0.3)


@pytest.mark.parametrize(("power", "to_faint", "to_harsh", "beyond"), [
    # 12 W over 100 mm/s · 0.1 mm: 1.2 J/mm² at full power; enough is 0.8, too much 1.6 (133 %).
    (100, 100 / 3, 100 / 3, True), (50, -100 / 3, 500 / 3, True), (80, 100 / 6, 200 / 3, True),
])  # fmt: skip
def test_margins_are_per_cent_of_the_settings_own_energy(power, to_faint, to_harsh, beyond):
    read = odds_of(known(window(0.8, 1.6)), Setting(power, 100, 0.1), make_machine())
    assert read.energy_j_mm2 == pytest.approx(1.2 * power / 100)
    assert read.dwell_ms == pytest.approx(1)
    assert read.margin_to_faint_pct.mid == pytest.approx(to_faint)
    assert read.margin_to_harsh_pct.mid == pytest.approx(to_harsh)
    assert read.harsh_beyond_machine is beyond
    assert odds_of(known(window(0.5, 1.0)), Setting(50, 100, 0.1), make_machine()).harsh_beyond_machine is False


def test_what_is_far_inside_is_clean_and_far_outside_is_not():
    fit = known(window(0.3, 1.2))
    shares = [odds_of(fit, Setting(p, 100, 0.1), make_machine()) for p in (10, 50, 100)]
    assert [round(s.clean.mid, 2) for s in shares] == [0, 1, 0.5]
    assert [round(s.faint, 2) for s in shares] == [1, 0, 0]
    assert [round(s.harsh, 2) for s in shares] == [0, 0, 0.5]


def test_pieces_differ_by_coat_power_and_focus_together():
    """√((0.9·0.12)² + 0.03² + 0.04²) = 0.1191, times e^0.5 where they differ more than that explains."""
    fit = known({"FILM": 0.9}, {"FILM": 0.9, "SCATTER": 0.5})
    sd = piece_sd(fit.draws, Scatter(0.12, 0.03, 0.04))
    assert sd[[0, -1]] == pytest.approx([0.11906, 0.11906 * math.exp(0.5)], abs=1e-4)
    # Nobody's pieces are all alike, whatever is told.
    assert piece_sd(fit.draws, Scatter(0.0, 0.0, 0.0))[0] == pytest.approx(0.03)


def test_a_window_that_may_be_shut_is_open_in_as_many_worlds():
    fit = known(window(0.4, 2.0), window(0.8, 0.3))
    found = choose(fit, Slice(make_machine(), 0.1))
    assert found.open_share == pytest.approx(0.5)
    assert found.held == pytest.approx(0.5)
    assert not found.sure
    alone = choose(known(window(0.4, 2.0)), Slice(make_machine(), 0.1))
    assert (alone.open_share, alone.held, alone.likely) == (1, 1, True)
    # At full power 12 W over v · 0.1 mm must stay over 0.4 J/mm² for most pieces: below 300 mm/s, the machine's 250.
    assert alone.setting.speed_mm_s > 150


def test_a_setting_that_waits_for_the_scatter_alone_is_settled():
    """Pieces that may differ e^1.2 = 3.3 times as much as guessed (0.12): half of the worlds lose more than one in
    twenty anywhere in a window of ln 2.25 = 0.81, though none would were the guess right."""
    at = Slice(make_machine(), 0.1)
    wild = known(window(0.4, 0.9, FILM=1), window(0.4, 0.9, FILM=1) | {"SCATTER": 1.2})
    found = choose(wild, at)
    assert (found.sure, found.likely) == (False, True)
    assert found.held == pytest.approx(0.5)
    measured = replace(wild, prior=replace(wild.prior, scatter=replace(wild.prior.scatter, measured_pieces=8)))
    assert choose(measured, at).likely
    assert not choose(known(window(0.4, 0.5, FILM=1), window(0.4, 0.5, FILM=1) | {"SCATTER": 1.2}), at).likely
    # Read as guessed, pieces differ by √((1·0.12)² + 0.03² + 0.03²) in every draw.
    assert piece_sd(just_as_told(wild).draws, USUAL) == pytest.approx(0.12728, abs=1e-5)


@pytest.mark.parametrize(("wide", "sure", "likely"), [(19, True, True), (17, False, True), (15, False, False)])
def test_nine_worlds_in_ten_are_sure_and_four_in_five_likely(wide, sure, likely):
    """Of twenty worlds most have a wide window; in the others, ln 1.57 = 0.45 wide, at best ± 0.225 in 0.127 or 92 in
    100 pieces come out clean."""
    worlds = [window(0.4, 4.0, FILM=1)] * wide + [window(0.4, 0.63, FILM=1)] * (20 - wide)
    found = choose(known(*worlds, scatter=replace(USUAL, measured_pieces=8)), Slice(make_machine(), 0.1))
    assert (found.sure, found.likely) == (sure, likely)
    assert found.held == pytest.approx(wide / 20)


def test_the_map_draws_boundaries_in_power_over_speed():
    """0.6 J/mm² at 0.1 mm and 12 W: 0.5 % of power for each mm/s; too much at four times that."""
    drawn = map_window(known(window(0.6, 2.4)), Slice(make_machine(), 0.1))
    speeds = np.array(drawn.speeds_mm_s)
    np.testing.assert_allclose(drawn.enough.mid_pct, 0.5 * speeds, rtol=1e-9)
    np.testing.assert_allclose(drawn.too_much.mid_pct, 2.0 * speeds, rtol=1e-9)
    assert drawn.enough.low_pct == pytest.approx(drawn.enough.high_pct)
    row = np.array(drawn.powers_pct).searchsorted(60)
    inside = (0.5 * speeds * 1.6 < drawn.powers_pct[row]) & (2.0 * speeds / 1.6 > drawn.powers_pct[row])
    assert inside.any()
    assert (drawn.clean[row][inside] > 0.95).all()
    assert (drawn.harsh[row][2.0 * speeds * 1.6 < drawn.powers_pct[row]] > 0.95).all()


@pytest.mark.parametrize("cells", [1, 3])
def test_the_next_cells_lie_where_the_worlds_disagree(cells):
    """Enough is 0.4 J/mm² in one world and 1.6 in the other: what lies between tells which it is."""
    fit = known(window(0.4, 4.0), window(1.6, 4.0), scatter=Scatter(0.02, 0.01, 0.01))
    machine = replace(make_machine(), rated_w=40.0)
    chosen = next_cells(fit, Slice(machine, 0.1), cells)
    assert len(set(chosen)) == cells
    assert [s.speed_mm_s for s in chosen] == sorted((s.speed_mm_s for s in chosen), reverse=True)
    between = [0.4 < areal_energy_j_mm2(s, machine) < 1.6 for s in chosen]
    assert any(between)
    assert cells > 1 or all(between)


def test_a_cell_costs_its_burning_and_to_be_rated():
    """A patch of 20 mm in lines of 0.1 mm is 4 m of line: 66.7 minutes at 1 mm/s, 6.7 at 10; five to be rated."""
    cells = Settings(Slice(make_machine(), 0.1), np.array([1.0, 10.0, 100.0]), np.full(3, 50.0))
    assert _minutes_of(cells) == pytest.approx([71.67, 11.67, 5.67], abs=0.01)


def test_of_cells_that_tell_alike_the_quick_ones_are_burned():
    """What tells these worlds apart does so at any speed; at the machine's slowest a patch burns for over two hours."""
    fit = known(window(0.4, 4.0), window(1.6, 4.0), scatter=Scatter(0.02, 0.01, 0.01))
    machine = replace(make_machine(), min_speed_mm_s=0.5)
    minutes = [0.04 * minutes_per_dm2(s) for s in next_cells(fit, Slice(machine, 0.1), 4)]
    assert max(minutes) < 1.2


@pytest.mark.parametrize(("cells", "rounds", "size"), [(60, 5, 12), (11, 5, 11), (20, 0, 0), (0, 3, 0)])
def test_a_round_has_twelve_cells_at_most(cells, rounds, size):
    assert Budget(cells, rounds).round_size == size


@pytest.mark.parametrize(("cells", "rounds"), [(-1, 2), (10_001, 2), (5, -1), (5, 1001)])
def test_a_budget_is_not_made_of_anything(cells, rounds):
    with pytest.raises(BadValueError):
        Budget(cells, rounds)


def test_targets_lie_at_more_than_one_speed_where_something_holds_and_at_the_best_where_nothing_does():
    at = Slice(make_machine(), 0.1)
    two = _targets(known(window(0.4, 2.0), window(0.5, 1.2)), at, 0.95, np.random.default_rng(1))
    assert len(set(two.matters[:-1].round(9))) == 2
    matters = _targets(known(window(0.8, 0.3)), at, 0.95, np.random.default_rng(1)).matters
    assert len(set(matters[:-1].round(9))) == 1
    assert matters[:-1].sum() == pytest.approx(1)


def test_counted_pieces_say_what_their_shares_say():
    """ln(0.98·share + 0.02/3) a piece, each counted 1/(1 + 0.05·(n − 1)) of its own."""
    fit = known(window(0.3, 4.0))
    cell = observe(Setting(80, 100, 0.1), make_machine(), Rating.CLEAN)
    counted = run_log_likelihood(fit.draws, (RunOutcome(cell, 1, 10, 0),), USUAL)
    expected = (10 * math.log(0.98 + 0.02 / 3) + math.log(0.02 / 3)) / (1 + 0.05 * 10)
    assert counted == pytest.approx([expected] * len(fit.draws), abs=0.02)


def test_a_run_of_no_pieces_moves_nobody():
    """Two normals about no shift, 0.05 and 0.25 wide, the wide one believed 0.4 beforehand: it stays so, and the shift
    within ±1.645 · 0.05."""
    cell = observe(Setting(80, 100, 0.1), make_machine(), Rating.CLEAN)
    run = DatedRun(date(2026, 3, 1), "L1", "Blue", RunOutcome(cell, 0, 0, 0))
    drift = watch(known(window(0.3, 4.0)), [run], date(2026, 2, 1), "L1", "Blue")
    assert drift.moved == pytest.approx(0.4, abs=0.002)
    assert math.log1p(drift.energy_pct.high / 100) == pytest.approx(1.645 * 0.05, abs=0.02)
    assert drift.findings == ()


@pytest.mark.parametrize(
    ("sure", "could_be", "says"),
    [(False, 90.0, "Not sure yet"), (True, 90.0, "Good enough to lock"), (True, 60.0, "Not sure yet")],
)
def test_only_a_sure_setting_that_may_be_slow_is_called_good_enough(sure, could_be, says):
    choice = SettingChoice(Setting(50, 60, 0.1), 0.97, 0.9, sure, sure, 1.0, could_be)
    rated = (RatedSetting("A1", Setting(50, 60, 0.1), Rating.CLEAN),)
    assert _go_on(Verdict.NOT_SURE, choice, "60 in 100", rated, make_machine(), None).startswith(says)


@pytest.mark.parametrize(("pieces", "lock_now"), [(1, False), (2, True)])
def test_a_sure_setting_that_may_be_slow_comes_before_more_cells_after_two_pieces(pieces, lock_now):
    """Twelve of twenty worlds clear from 0.4 J/mm² on, the others from 0.6: a setting for all is two thirds as fast as
    most allow."""
    machine = make_machine()
    cells = [observe(Setting(80, 60, 0.1), machine, Rating.CLEAN, n) for n in range(pieces)]
    fit = known(*[window(0.4, 6.0)] * 12, *[window(0.6, 6.0)] * 8, scatter=replace(USUAL, measured_pieces=8))
    best = recommend(replace(fit, observations=tuple(cells)), Slice(machine, 0.1), ())
    assert best.point.setting.speed_mm_s < 0.75 * best.could_be_mm_s
    assert best.verdict is Verdict.NOT_SURE
    assert best.advice.startswith("Good enough to lock")
    assert best.lock_now is lock_now
    # Odds are told as those of an answer where it may be locked.
    assert best.held == odds_told(choose(fit, Slice(machine, 0.1)).held, pieces, is_answer=lock_now)


@pytest.mark.parametrize(
    ("theirs_min", "says"),
    [(2.0, "150 % quicker"), (4.85, "3 % quicker"), (4.95, "as quick"), (5.05, "as quick"), (5.15, "3 % slower"),
     (7.4, "48 % slower"), (7.5, "1.5 times as slow"),
     (10.0, "2 times as slow")],
)  # fmt: skip
def test_what_another_setting_costs_in_time_and_pieces(theirs_min, says):
    def odds(minutes, clean):
        whole = Range(clean, clean, clean)
        return SettingOdds(Setting(50, 60, 0.1), 2.0, 1.0, minutes, whole, 0.0, 0.0, whole, whole, False)

    told = _cost(odds(5.0, 0.97), odds(theirs_min, 0.9))
    assert told == f"{says}; about 10 in 100 pieces lost, against 3 here"
