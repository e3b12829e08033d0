"""How a setting is picked, an opener offered and a lot's shift counted: small cases worked out by hand."""

import math
from dataclasses import replace

import numpy as np
import pytest

from keencoat.core.quantities.setting import Setting
from keencoat.core.quantities.slice import Slice
from keencoat.core.rating import Rating
from keencoat.core.window import openers as opening
from keencoat.core.window.choose import _could_be_mm_s, _pick, choose
from keencoat.core.window.fit import fit_window
from keencoat.core.window.model import Likelihood, observe
from keencoat.core.window.openers import Change
from keencoat.core.window.parameters import SIZE, P
from keencoat.core.window.reach import Middles
from keencoat.core.window.recommend import Verdict, recommend
from keencoat.core.window.scatter import Scatter
from tests.core.conftest import make_machine
from tests.core.test_window_by_hand import known, window

SURE, LIKELY, FAIR = [0.99] * 10, [0.99] * 9 + [0.5], [0.96] * 8 + [0.5] * 2


@pytest.mark.parametrize(("columns", "speeds", "picked", "sure"), [
    ([SURE, SURE, FAIR], [20, 50, 90], 1, True),        # the fastest that is sure, not the fastest
    ([SURE, [0.96] * 10, SURE], [20, 50, 50], 2, True),  # of two as fast the better one
    ([SURE, FAIR, FAIR], [15, 50, 200], 2, False),       # a sure one far slower than a likely one is no answer yet
    ([SURE, FAIR, FAIR], [60, 62, 80], 0, True),
    ([FAIR, [0.5] * 10, [0.2] * 10], [20, 50, 90], 0, False),
    ([LIKELY, [0.2] * 10], [20, 50], 0, False),         # held in nine worlds of ten, but 0.94 on average
])  # fmt: skip
def test_the_pick_among_few_settings(columns, speeds, picked, sure):
    assert _pick(np.array(columns).T, np.array(speeds, float), 0.95) == (picked, sure)


def test_a_setting_holds_if_it_does_in_88_worlds_of_100():
    for worlds, sure in ((87, False), (88, True)):
        clean = np.full((100, 1), 0.99)
        clean[worlds:] = 0.9
        assert _pick(clean, np.array([50.0]), 0.95) == (0, sure)


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
        return 0.521 if at.passes > 1 else 0.6 if at.machine.rated_w > 13 else 0.5

    monkeypatch.setattr(opening, "open_share", chance)
    found = opening.openers(known(window(0.4, 2.0)), Slice(make_machine(), 0.1))
    assert [(o.change, o.chance) for o in found] == [(Change.STRONGER_MACHINE, 0.6), (Change.PASSES, 0.521)]
    assert found[0].start is None
    assert found[1].start.passes in (2, 3, 4)


def test_a_lot_of_its_own_moves_by_eight_per_cent_at_one_sigma_and_another_machine_by_eighteen():
    """A cell exactly where enough is halfway: with its lot's effect at one sigma, ln energy falls short by that."""
    cell = observe(Setting(50, 100, 0.1), make_machine(), Rating.CLEAN)
    theta = np.zeros((1, SIZE + 3))
    theta[0, [P.STEEP_ENOUGH, P.STEEP_HARM]] = math.log(20)
    theta[0, P.ENOUGH], theta[0, P.WIDTH] = cell.ln_energy, 5.0
    for where, sd in (({"lot": 1}, 0.08), ({"machine": 1}, 0.18)):
        pair = (cell, replace(cell, piece=1, **where))
        ln = Likelihood(pair, Scatter(), 0.0)
        at_zero, shifted = float(ln(theta)[0]), theta.copy()
        shifted[0, SIZE + 2] = 1.0
        assert at_zero == pytest.approx(2 * math.log(0.5), abs=1e-6)
        assert float(ln(shifted)[0]) == pytest.approx(math.log(0.5) - math.log1p(math.exp(20 * sd)), abs=1e-6)


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
