"""How a setting is picked, an opener offered and a lot's shift counted: small cases worked out by hand."""

import math
from dataclasses import replace

import numpy as np
import pytest

from keencoat.core.quantities.setting import BeamSource, Setting
from keencoat.core.quantities.slice import Slice
from keencoat.core.rating import Rating
from keencoat.core.window import openers as opening
from keencoat.core.window.choose import _could_be_mm_s, _pick, choose, seen_near
from keencoat.core.window.fit import fit_window
from keencoat.core.window.model import Likelihood, observe, points_of
from keencoat.core.window.openers import Change
from keencoat.core.window.parameters import SIZE, P
from keencoat.core.window.predict import clean_and_harsh
from keencoat.core.window.priors import prior_for
from keencoat.core.window.reach import Middles, Settings
from keencoat.core.window.recommend import Verdict, _power_range, recommend
from keencoat.core.window.scatter import Scatter
from tests.core.conftest import make_machine
from tests.core.test_window_by_hand import known, window

AT = Slice(make_machine(), 0.1)
SURE, LIKELY, FAIR = [0.99] * 10, [0.99] * 9 + [0.5], [0.96] * 8 + [0.5] * 2


@pytest.mark.parametrize(
    ("columns", "speeds", "picked", "sure"),
    [
        ([SURE, SURE, FAIR], [20, 50, 90], 1, True),  # the faster one that is sure, not the fastest
        ([SURE, [0.96] * 10, SURE], [20, 50, 50], 2, True),  # of two as fast the better one
        ([SURE, FAIR, FAIR], [2, 50, 200], 2, False),  # a sure one far slower than a likely one is no answer yet
        ([SURE, FAIR, FAIR], [60, 62, 80], 0, True),
        ([FAIR, [0.5] * 10, [0.2] * 10], [20, 50, 90], 0, False),
        ([LIKELY, [0.2] * 10], [20, 50], 0, False),  # held in nine worlds of ten, but 0.94 on average
    ],
)
def test_the_pick_among_few_settings(columns, speeds, picked, sure):
    assert _pick(np.array(columns).T, of_speeds(*speeds), 0.95, np.zeros(len(speeds))) == (picked, sure)


def of_speeds(*speeds):
    return Settings(AT, np.array(speeds, float), np.full(len(speeds), 50.0))


def test_what_speed_is_worth_where_nothing_is_sure():
    """A mark of 0.3 dm² in lines of 0.1 mm burns for 50 minutes at 10 mm/s and for 25 at 20; with what a piece costs
    beside, 260 minutes, the slower one is worth 285/310 of its share: 0.827, where 0.9 is expected."""
    for lower, picked in ((0.83, 0), (0.825, 1)):
        clean = np.array([[lower] * 10, [0.9] * 10]).T
        quick_first = _pick(clean, of_speeds(20.0, 10.0), 0.95, np.zeros(2))
        assert quick_first == (picked, False)


def test_of_sure_settings_the_fastest_is_taken_and_of_two_as_fast_the_likelier():
    clean = np.array([[0.99] * 100, [1.0] * 92 + [0.875] * 8, [0.99] * 95 + [0.9] * 5]).T
    assert _pick(clean, of_speeds(100.0, 101.0, 101.0), 0.95, np.zeros(3)) == (2, True)


def test_a_setting_holds_if_it_does_in_90_worlds_of_100():
    for worlds, sure in ((89, False), (90, True)):
        clean = np.full((100, 1), 0.99)
        clean[worlds:] = 0.9
        assert _pick(clean, of_speeds(50.0), 0.95, np.zeros(1)) == (0, sure)


def test_what_was_seen_near_counts_where_nothing_is_sure():
    """0.922 and 0.962 are expected, for whose ratio of 1.0434 it takes 0.578 · 0.075 on the one, or −0.554 · 0.075 on
    the other. What is sure is so without."""
    clean = np.array([[0.97] * 8 + [0.73] * 2, [0.97] * 8 + [0.97 - 0.04] * 2]).T
    speeds = of_speeds(40.0, 40.0)
    assert [_pick(clean, speeds, 0.95, np.array([s, 0.0]))[0] for s in (0.57, 0.59)] == [1, 0]
    assert [_pick(clean, speeds, 0.95, np.array([0.0, s]))[0] for s in (-0.54, -0.57)] == [1, 0]
    assert _pick(np.array([SURE, FAIR]).T, of_speeds(20.0, 50.0), 0.95, np.array([-1.0, 1.0])) == (0, True)


def test_what_was_seen_near_a_setting_is_what_its_cells_came_out_as():
    """By hand: a clean cell 0.1 off in ln power is exp(−½) = 0.607 of one, 0.2 off in ln speed likewise;
    a clean one and a harsh one as far on the other side, cancel; a cell of another machine says nothing."""
    machine = make_machine()
    at = Slice(machine, 0.1)
    cell = observe(at.setting(40, 100), machine, Rating.CLEAN)

    def seen(*cells, power=40.0, speed=100.0, of=at):
        return seen_near(
            replace(known(window(0.4, 2.0)), observations=cells), Settings(of, np.array([speed]), np.array([power]))
        )[0]

    one, off = math.tanh(1), math.tanh(math.exp(-0.5))
    assert seen() == 0
    assert seen(cell) == pytest.approx(one)
    assert seen(cell, cell) == pytest.approx(math.tanh(2))
    for rating in (Rating.FAINT, Rating.HARSH):
        assert seen(replace(cell, rating=rating)) == pytest.approx(-one)
    assert seen(cell, power=40 * math.exp(0.1)) == pytest.approx(off)
    assert seen(cell, power=40 * math.exp(-0.2)) == pytest.approx(math.tanh(math.exp(-2)))
    assert seen(cell, speed=100 * math.exp(0.2)) == pytest.approx(off)
    assert seen(cell, of=replace(at, interval_mm=0.1 * math.exp(-0.1))) == pytest.approx(off)
    assert seen(cell, of=replace(at, film_share=math.exp(0.2))) == pytest.approx(off)
    assert seen(cell, of=replace(at, passes=2)) == pytest.approx(0, abs=1e-9)
    ten = observe(replace(at, passes=10).setting(40, 100), machine, Rating.CLEAN)
    tenth_more = math.tanh(math.exp(-((math.log(1.1) / 0.1) ** 2) / 2))
    assert seen(ten, of=replace(at, passes=11)) == pytest.approx(tenth_more)
    assert seen(replace(cell, machine=1)) == 0
    harsh = observe(at.setting(40 * math.exp(0.2), 100), machine, Rating.HARSH)
    assert seen(cell, harsh, power=40 * math.exp(0.1)) == pytest.approx(0)


def test_a_narrow_window_is_looked_for_where_a_cell_was_clean():
    """Ratings that no straight boundaries explain: the pick stays by the one clean cell, nearer than without it."""
    machine = make_machine()
    at = Slice(machine, 0.1)
    told = [(20, 100, "faint"), (30, 100, "clean"), (42, 100, "harsh"), (30, 200, "faint"), (45, 200, "harsh"),
            (20, 50, "harsh"), (60, 400, "faint"), (75, 400, "harsh")]  # fmt: skip
    cells = tuple(observe(at.setting(p, v), machine, Rating(r), piece=n // 4) for n, (p, v, r) in enumerate(told))
    fit = fit_window(cells, prior_for("frost", BeamSource.BLUE))
    choice = choose(fit, at)
    assert not choice.sure
    clean = clean_and_harsh(fit, points_of([choice.setting], machine))[0]
    # Power and speed are told to the digits that a controller takes.
    assert choice.held == pytest.approx((clean >= 0.95).mean(), abs=0.01)
    assert choice.clean == pytest.approx(clean.mean(), abs=0.002)
    assert abs(math.log(choice.setting.power_pct / 30)) < 0.12
    assert abs(math.log(choice.setting.speed_mm_s / 100)) < 0.25


def test_how_fast_it_could_be_is_the_middle_of_the_worlds_that_have_any():
    clean = np.array([[0.96, 0.96, 0.2], [0.96, 0.2, 0.96], [0.96, 0.2, 0.2], [0.1, 0.2, 0.3]])
    speeds = np.array([10.0, 40.0, 100.0])
    assert _could_be_mm_s(Middles(speeds, clean, clean), 0.95) == 40.0
    assert _could_be_mm_s(Middles(speeds, clean, clean[3:]), 0.95) == 0.0


def test_openers_are_worth_more_than_two_in_a_hundred_and_the_likeliest_first(monkeypatch):
    """The chance now is 0.5; other lines raise it by 0.019, more passes by 0.021, another machine by 0.1."""

    def chance(fit, at, wanted):
        if at.interval_mm != 0.1:
            return 0.519
        return 0.521 if at.passes > 1 else 0.6 if at.machine.rated_w == 24 else 0.5

    monkeypatch.setattr(opening, "open_share", chance)
    found = opening.openers(known(window(0.4, 2.0)), Slice(make_machine(), 0.1))
    assert [(o.change, o.chance) for o in found] == [(Change.STRONGER_MACHINE, 0.6), (Change.PASSES, 0.521)]
    assert found[0].start is None
    assert found[1].start.passes in (2, 3, 4)
    # Of 200 pieces one that comes out clean in a tenth more of them saves 20; what is worse saves none.
    assert replace(found[0], clean=0.9).saves(200, 0.8) == pytest.approx(20)
    assert replace(found[0], clean=0.7).saves(200, 0.8) == 0


def test_a_lot_of_its_own_moves_by_eight_per_cent_at_one_sigma_and_another_machine_by_eighteen():
    """A cell exactly where enough is halfway: with its lot's effect at one sigma, ln energy falls short by that."""
    cell = observe(Setting(50, 100, 0.1), make_machine(), Rating.CLEAN)
    theta = np.zeros((1, SIZE + 3))
    theta[0, [P.STEEP_ENOUGH, P.STEEP_HARM]] = math.log(20)
    theta[0, P.ENOUGH], theta[0, [P.WIDTH, P.CEILING]] = cell.ln_energy, 5.0
    for where, sd in (({"lot": 1}, 0.08), ({"machine": 1}, 0.18)):
        pair = (cell, replace(cell, piece=1, **where))
        ln = Likelihood(pair, Scatter(), 0.0)
        at_zero, shifted = float(ln(theta)[0]), theta.copy()
        shifted[0, SIZE + 2] = 1.0
        assert at_zero == pytest.approx(2 * math.log(0.5), abs=1e-6)
        assert float(ln(shifted)[0]) == pytest.approx(math.log(0.5) - math.log1p(math.exp(20 * sd)), abs=1e-6)


def test_the_powers_that_will_do_are_read_as_the_setting_was_chosen():
    """Half of the worlds have pieces that differ 4.5 times as much as guessed: read so, no power keeps 95 in 100."""
    at = Slice(make_machine(), 0.1)
    best = recommend(known(window(0.4, 1.0, FILM=1), window(0.4, 1.0, FILM=1) | {"SCATTER": 1.5}), at, ())
    low, high = best.power_range_pct
    assert 80 < low < best.point.setting.power_pct == high


def test_no_powers_will_do_where_the_settings_own_does_not():
    """Wide of the window, though others at that speed would do."""
    fit, at = known(window(0.4, 1.6, FILM=1)), Slice(make_machine(), 0.1)
    low, high = _power_range(fit, at, at.setting(60, 100), 0.95)
    assert low < 60 < high
    assert _power_range(fit, at, at.setting(0.95 * low, 100), 0.95) is None


def test_no_window_is_said_without_any_setting():
    machine = make_machine()
    cells = tuple(observe(Setting(100, 5, 0.1), machine, Rating.FAINT, piece=n) for n in range(3))
    shut = replace(known(window(2.0, 0.5)), observations=cells)
    said = recommend(shut, Slice(machine, 0.1), ())
    assert said.verdict is Verdict.NONE
    assert (said.point, said.power_range_pct, said.held, said.could_be_mm_s, said.others) == (None, None, 0.0, 0.0, ())
    assert said.open_share == 0.0


def test_the_middle_of_a_window_of_bent_watts_is_its_middle_in_delivered_power():
    """Watts rise with power^1.3: 1.3·ln(power) lies midway between both boundaries where the machine reaches it."""
    fit = known(window(0.4, 1.6, CURVE=0.3))
    setting = choose(fit, Slice(make_machine(), 0.1)).setting
    full = Slice(make_machine(), 0.1).full_j_mm2(setting.speed_mm_s)
    assert 0.4 < full * (setting.power_pct / 100) ** 1.3 < 1.6


def test_a_fit_is_the_same_for_a_seed():
    cells = tuple(observe(Setting(p, 100, 0.1), make_machine(), Rating.FAINT) for p in (20, 40))
    prior = known(window(0.4, 2.0)).prior
    assert np.array_equal(fit_window(cells, prior, 3).draws, fit_window.__wrapped__(cells, prior, 3).draws)
