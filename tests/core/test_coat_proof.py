"""Dark enough, better than another, safe to spray: against worked examples, published intervals and handbook tables."""

import math

import chemicals
import numpy as np
import pytest
import scipy.stats
import statsmodels.api as sm
from CoolProp import CoolProp
from hypothesis import given
from hypothesis import strategies as st
from statsmodels.stats.proportion import proportion_confint

from keencoat.core.coat.experiment import Arm, ArmCount, judge_arms, plan_experiment, wilson
from keencoat.core.coat.opacity import HoldUp, coats_needed, density_of, density_of_film, transmitted
from keencoat.core.coat.vapour import CAN_SOLVENTS, ISOPROPANOL, PROPELLANTS
from keencoat.core.errors import BadValueError


def test_beer_lambert_worked_example():
    """A layer of 50 /mm and 30 µm: OD 0.651, 22.3 % comes through (Beer–Lambert by hand)."""
    density = density_of_film(50, 30)
    assert density == pytest.approx(0.6514, abs=1e-4)
    assert transmitted(density) == pytest.approx(0.2231, abs=1e-4)


@given(per_coat=st.floats(0.15, 0.9), coats=st.integers(1, 4), bare=st.floats(10, 1e5), wanted=st.floats(0.3, 3))
def test_coats_needed_follow_from_a_perfect_test(per_coat, coats, bare, wanted):
    test = HoldUp(coats, bare, bare * 10 ** (-per_coat * coats))
    assert density_of(test).mid == pytest.approx(per_coat * coats)
    needed = coats_needed([test], 0.5, wanted)
    assert needed.per_coat.mid == pytest.approx(per_coat)
    assert needed.plan * per_coat >= wanted - 1e-6 > (needed.plan - 1) * per_coat - 2e-6
    assert needed.low <= needed.plan <= needed.high
    assert needed.source == "own-record"
    more = coats_needed([test, test, test], 0.5, wanted)
    assert more.per_coat.high - more.per_coat.low < needed.per_coat.high - needed.per_coat.low


def test_a_slope_through_the_origin_against_least_squares():
    """statsmodels' weighted least squares on the same readings: variance n·(0.2·D̄)² + 2·(0.04/ln 10)²."""
    tests = [HoldUp(1, 800, 260), HoldUp(2, 800, 92), HoldUp(3, 810, 24)]
    coats = np.array([1.0, 2.0, 3.0])
    density = np.log10([800 / 260, 800 / 92, 810 / 24])
    weights = 1 / (coats * (0.2 * density.sum() / 6) ** 2 + 2 * (0.04 / np.log(10)) ** 2)
    model = sm.WLS(density, coats, weights=weights).fit()
    needed = coats_needed(tests, 0.4)
    assert needed.per_coat.mid == pytest.approx(model.params[0])
    # Three tests' worth of belief in the assumed scatter beside the two degrees of the data.
    scale2 = (3 + model.ssr) / 5
    half = scipy.stats.t.ppf(0.95, 5) * np.sqrt(model.normalized_cov_params[0, 0] * scale2)
    assert needed.per_coat.high - needed.per_coat.mid == pytest.approx(half)
    guess = coats_needed([], 0.4)
    assert guess.low < guess.plan < guess.high


def test_light_that_never_came_through_the_piece_is_taken_off_both_readings():
    """By hand: log10((800 − 20)/(98 − 20)) = 1."""
    density = density_of(HoldUp(2, 800, 98, 20))
    assert density.mid == pytest.approx(1.0)
    assert density.high - density.mid == pytest.approx(1.645 * math.sqrt(2) * 0.04 / math.log(10))
    assert density.mid - density.low == pytest.approx(density.high - density.mid)


@pytest.mark.parametrize("coat_cv", [0.0, 0.1, 0.2, 0.3])
@pytest.mark.parametrize("counts", [(1,), (2,), (1, 2), (1, 1, 2, 3)])
def test_the_range_of_a_coats_density_holds_the_truth(coat_cv, counts):
    """Coats that differ and readings that err, drawn 600 times: nine in ten where coats differ by up to a fifth."""
    rng = np.random.default_rng(int(100 * coat_cv) + sum(counts))
    held = 0
    for _ in range(600):
        tests = []
        for n in counts:
            density = np.maximum(0.05, rng.normal(0.5, 0.5 * coat_cv, n)).sum()
            bare, coated = 800 * np.exp(rng.normal(0, 0.04, 2))
            tests.append(HoldUp(n, bare, min(coated * 10**-density, 0.99 * bare)))
        per_coat = coats_needed(tests, 0.5).per_coat
        held += per_coat.low <= 0.5 <= per_coat.high
    assert held / 600 > (0.88 if coat_cv <= 0.2 else 0.82)


@pytest.mark.parametrize(
    ("bare", "coated", "field"), [(0, 1, "bare"), (100, 0, "coated"), (100, 120, "coated"), (math.nan, 3, "bare")]
)
def test_readings_that_cannot_be(bare, coated, field):
    with pytest.raises(BadValueError) as caught:
        HoldUp(2, bare, coated)
    assert caught.value.field == field


@pytest.mark.parametrize("vapour", [ISOPROPANOL, *CAN_SOLVENTS, *PROPELLANTS], ids=lambda v: v.name.replace(" ", "-"))
def test_flash_points_and_limits_against_handbook_tables(vapour):
    """chemicals: tables of IEC 60079-20-1 (2010). Densities of the liquids at 20 °C: CoolProp, where it has them."""
    method = "IEC 60079-20-1 (2010)"
    cas = chemicals.CAS_from_any(
        {"methyl ethyl ketone": "2-butanone", "xylene": "p-xylene"}.get(vapour.name, vapour.name)
    )
    if vapour not in PROPELLANTS:
        flash_k = chemicals.T_flash(cas, method=method)
        assert vapour.flash_c + 273.15 == pytest.approx(flash_k, abs=0.01)
    if fluid := {
        "methyl ethyl ketone": "",
        "xylene": "p-Xylene",
        "dimethyl ether": "DimethylEther",
        "isopropanol": "",
        "butane": "n-Butane",
        "hexane": "n-Hexane",
        "ethyl acetate": "",
        "butyl acetate": "",
    }.get(vapour.name, vapour.name):
        density = CoolProp.PropsSI("D", "T", 293.15, "Q", 0, fluid) / 1000
        assert vapour.density_g_ml == pytest.approx(density, rel=0.005)
    assert vapour.lower_pct / 100 == pytest.approx(chemicals.LFL(CASRN=cas, method=method))
    assert vapour.upper_pct / 100 == pytest.approx(chemicals.UFL(CASRN=cas, method=method))
    assert vapour.molar_g == pytest.approx(chemicals.MW(cas), abs=0.1)


@given(successes=st.integers(0, 40), more=st.integers(1, 40))
def test_wilson_against_statsmodels(successes, more):
    """Wilson 1927, as in statsmodels."""
    low, high = wilson(successes, successes + more)
    assert (low, high) == pytest.approx(proportion_confint(successes, successes + more, 0.10, "wilson"), abs=1e-9)
    assert wilson(18, 20, 0.95) == pytest.approx((0.6990, 0.9721), abs=1e-4)
    assert wilson(0, 0) == (0.0, 1.0)


def test_best_arm_against_monte_carlo():
    """Chances to be best from a million draws of the same Beta posteriors, single cells a piece."""
    counts = [ArmCount(12, 12, 9), ArmCount(12, 12, 7), ArmCount(12, 12, 3)]
    rng = np.random.default_rng(1)
    draws = np.stack([rng.beta(1 + c.clean, 1 + c.cells - c.clean, 1_000_000) for c in counts])
    sampled = np.bincount(draws.argmax(axis=0), minlength=3) / draws.shape[1]
    found = judge_arms(counts)
    assert [v.best for v in found] == pytest.approx(sampled, abs=3e-3)
    # Cells of one piece say less than cells of many.
    alike = judge_arms([ArmCount(1, 12, 9), ArmCount(1, 12, 7), ArmCount(1, 12, 3)])
    assert alike[0].high - alike[0].low > found[0].high - found[0].low
    assert judge_arms([ArmCount(0, 0, 0), ArmCount(1, 4, 4)])[0].low == 0.0


@given(count=st.integers(2, 6), replicates=st.integers(1, 4), seed=st.integers(0, 50))
def test_every_arm_gets_its_pieces(count, replicates, seed):
    arms = [Arm("tempera_brushed", "foam_brush", n) for n in range(1, count + 1)]
    plan = plan_experiment(arms, replicates, seed)
    assert [a.piece for a in plan] == list(range(1, count * replicates + 1))
    assert np.bincount([a.arm for a in plan]).tolist() == [replicates] * count
    for block in range(replicates):
        assert len({a.arm for a in plan[block * count : (block + 1) * count]}) == count
    with pytest.raises(BadValueError, match="twice"):
        plan_experiment([arms[0], arms[0]], 1, 1)
