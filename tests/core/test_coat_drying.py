"""Drying: air against CoolProp and ISO 3270 air, times against common practice, hands against exact optima."""

import math
from datetime import UTC, datetime, timedelta
from itertools import pairwise

import numpy as np
import pytest
from CoolProp import CoolProp
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import LinearConstraint, milp

from keencoat.core.coat.catalogue import COATS
from keencoat.core.coat.drying import (
    PRIOR_SD_LN,
    RECORD_SD_LN,
    REFERENCE_AIR,
    AirSpell,
    DryRecord,
    Heat,
    correct,
    dry_at,
    drying_factor,
    film_factor,
    solvent_vapour_kpa,
    span_for,
)
from keencoat.core.coat.hands import Load, plan_hands
from keencoat.core.coat.recipes import Carrier
from keencoat.core.coat.room import Air, air_findings
from keencoat.core.coat.schedule import Course, Stamp, check_stamp, coat_steps, drying_at, groups_at
from keencoat.core.errors import BadValueError, NotAllowedError

NOON = datetime(2026, 5, 4, 12, tzinfo=UTC)
UNKNOWN = correct([])


def course(key="tempera_brushed", coats=2, spells=(), **changes):
    coat = COATS[key]
    return Course(coat, coats, coat.dry_um_per_coat.value, spells, UNKNOWN, **changes)


@pytest.mark.parametrize(
    ("temperature", "humidity", "dew", "wet_bulb"),
    [
        (25, 50, 13.86, 17.89),
        (23, 50, 12.03, 16.25),
        (20, 85, 17.40, 18.28),
        (30, 80, 26.17, 27.09),
        (10, 60, 2.60, 6.48),
    ],
)
def test_air_against_coolprop_and_tables(temperature, humidity, dew, wet_bulb):
    """Worked values by psychrolib (ASHRAE 2017), and CoolProp's humid air, which is another formulation."""
    air = Air(temperature, humidity)
    assert air.dew_point_c == pytest.approx(dew, abs=0.01)
    assert air.wet_bulb_c == pytest.approx(wet_bulb, abs=0.01)
    state = ("T", temperature + 273.15, "P", 101325, "R", humidity / 100)
    assert air.dew_point_c == pytest.approx(CoolProp.HAPropsSI("D", *state) - 273.15, abs=0.05)
    assert air.wet_bulb_c == pytest.approx(CoolProp.HAPropsSI("B", *state) - 273.15, abs=0.08)
    assert air.vapour_kpa == pytest.approx(CoolProp.HAPropsSI("P_w", *state) / 1000, rel=0.01)


@pytest.mark.parametrize(
    ("temperature", "humidity", "factor"),
    [(15, 50, 1.27), (15, 80, 3.35), (20, 70, 1.90), (20, 85, 3.92), (25, 40, 0.77), (30, 30, 0.56)],
)
def test_water_dries_by_wet_bulb_depression(temperature, humidity, factor):
    """Against 23 °C and 50 %, the air that ISO 3270 tests paint in (from memory)."""
    found = drying_factor(Carrier.WATER, Air(temperature, humidity), reference=Air(23, 50))
    assert found == pytest.approx(factor, abs=0.006)


@pytest.mark.parametrize(("carrier", "fluid"), [(Carrier.SOLVENT, "Toluene"), (Carrier.ALCOHOL, None)])
def test_solvent_vapour_against_equations_of_state(carrier, fluid):
    """Toluene: CoolProp. 2-propanol: 4.4 kPa at 20 °C, boils at 82.3 °C (CRC, from memory)."""
    if fluid:
        for celsius in (5, 20, 35, 50):
            reference = CoolProp.PropsSI("P", "T", celsius + 273.15, "Q", 0, fluid) / 1000
            assert solvent_vapour_kpa(carrier, celsius) == pytest.approx(reference, rel=0.03)
    else:
        assert solvent_vapour_kpa(carrier, 20) == pytest.approx(4.4, rel=0.05)
        assert solvent_vapour_kpa(carrier, 82.3) == pytest.approx(101.3, rel=0.02)


def test_times_lie_in_the_ranges_of_common_practice():
    """Common practice, no source: at 20 °C and 50 % inside the range that makers give, at 60 % longer for water."""
    for coat in COATS.values():
        for last in (False, True):
            span = coat.before_burn_min.value if last else coat.between_min.value
            here = span_for(coat, last, coat.dry_um_per_coat.value, UNKNOWN)
            usual = here.plan * drying_factor(coat.carrier, Air(20, 50))
            damp = here.plan * drying_factor(coat.carrier, Air(20, 60))
            assert span.low - 1e-9 <= usual <= span.high + 1e-9
            if coat.carrier is Carrier.WATER and span.plan:
                assert damp > usual
            else:
                assert damp == pytest.approx(usual)
    # A heat gun brings sprayed tempera to chalky in minutes; solvents take no heat gun.
    minutes = COATS["tempera_sprayed"].before_burn_min.value.plan
    assert 1 < minutes * drying_factor(Carrier.WATER, Air(20, 50), Heat.HAIRDRYER) < 6


@given(
    temperature=st.floats(8, 35),
    humidity=st.floats(20, 90),
    more=st.floats(0.5, 8),
    carrier=st.sampled_from([Carrier.WATER, Carrier.ALCOHOL, Carrier.SOLVENT]),
)
def test_damp_and_cold_take_longer_and_heat_shortens(temperature, humidity, more, carrier):
    here = drying_factor(carrier, Air(temperature, humidity))
    assert drying_factor(carrier, Air(temperature, min(100, humidity + more))) >= here - 1e-9
    assert drying_factor(carrier, Air(temperature + more, humidity)) < here
    for heat in (Heat.WARM_PLATE, Heat.HAIRDRYER):
        assert drying_factor(carrier, Air(temperature, humidity), heat) <= here * 1.001
    assert film_factor(carrier, 40, 20) >= 2


@given(minutes=st.floats(1, 2000), hours=st.lists(st.floats(-5, 60), max_size=6), seed=st.integers(0, 99))
def test_drying_adds_up_through_changing_air(minutes, hours, seed):
    """Against a step-by-step sum of dt/factor over the same air."""
    rng = np.random.default_rng(seed)
    spells = [
        AirSpell(NOON + timedelta(hours=h), Air(float(rng.uniform(12, 26)), float(rng.uniform(35, 80)))) for h in hours
    ]
    done = dry_at(NOON, minutes, Carrier.WATER, Heat.NONE, spells)
    edges = sorted({NOON, done, *(s.since for s in spells if NOON < s.since < done)})
    total = 0.0
    for start, end in pairwise(edges):
        middle = start + (end - start) / 2
        before = [s for s in sorted(spells, key=lambda s: s.since) if s.since <= middle]
        air = before[-1].air if before else REFERENCE_AIR
        total += (end - start).total_seconds() / 60 / drying_factor(Carrier.WATER, air)
    assert total == pytest.approx(minutes, rel=1e-4, abs=0.01)


@given(ratios=st.lists(st.floats(0.4, 2.5), min_size=1, max_size=8))
def test_correction_against_the_conjugate_normal(ratios):
    """With “dry” records only, ln of the factor has a normal prior and likelihood: the textbook posterior."""
    found = correct([DryRecord(30 * r, 30, dry=True) for r in ratios])
    precision = 1 / PRIOR_SD_LN**2 + len(ratios) / RECORD_SD_LN**2
    mean = sum(math.log(r) for r in ratios) / RECORD_SD_LN**2 / precision
    assert math.log(found.factor) == pytest.approx(mean, abs=2e-3)
    assert found.low < found.factor < found.high
    wet = correct([DryRecord(30 * r, 30, dry=True) for r in ratios] + [DryRecord(90, 30, dry=False)])
    assert wet.factor > found.factor


def test_dew_and_damp_are_told():
    codes = {f.code for f in air_findings(Air(18, 85))}
    assert codes == {"dew", "damp"}
    assert air_findings(Air(20, 50)) == []
    assert [f.code for f in air_findings(Air(20, 50), surface_c=10)] == ["dew"]
    # Dew point 9.27 °C: three kelvins above it, and no less; a piece may be as cold as −20 °C or as warm as 80.
    assert air_findings(Air(20, 50), surface_c=12.3) == []
    assert [f.code for f in air_findings(Air(20, 50), surface_c=12.2)] == ["dew"]
    assert air_findings(Air(20, 50), surface_c=80) == []
    assert "dew" in [f.code for f in air_findings(Air(20, 50), surface_c=-20)]
    for surface_c in (-20.1, 80.1):
        with pytest.raises(BadValueError):
            air_findings(Air(20, 50), surface_c=surface_c)
    assert "cold" in {f.code for f in air_findings(Air(6, 40))}


def test_groups_follow_their_stamps():
    stamps = [
        Stamp(1, 1, 8, NOON),
        Stamp(1, 9, 12, NOON + timedelta(minutes=10)),
        Stamp(2, 1, 4, NOON + timedelta(minutes=25)),
    ]
    groups = groups_at(course(), 14, stamps, NOON + timedelta(minutes=31))
    assert [(g.first, g.last, g.coats_on, g.ready) for g in groups] == [
        (1, 4, 2, False),
        (5, 8, 1, True),
        (9, 12, 1, True),
        (13, 14, 0, True),
    ]
    drying = drying_at(course(), 14, stamps, NOON + timedelta(minutes=31))
    assert (drying.lead.first, drying.all_on, drying.burnable_pieces) == (5, False, 0)
    check_stamp(groups, 2, 5, 12)
    with pytest.raises(NotAllowedError, match="pieces 13 to 14"):
        check_stamp(groups, 2, 5, 14)
    with pytest.raises(NotAllowedError, match="All 2 coats"):
        check_stamp(groups, 3, 1, 4)
    with pytest.raises(BadValueError):
        check_stamp(groups, 1, 13, 20)
    seen = [Stamp(1, 1, 14, NOON, seen_dry_at=NOON + timedelta(minutes=5))]
    assert groups_at(course(), 14, seen, NOON + timedelta(minutes=6))[0].ready
    assert [s.direction_deg for s in coat_steps(course(coats=3))] == [0, 90, 0]
    assert coat_steps(course("white_spray", 1, last_wait_min=150))[0].wait_min == 150


@given(data=st.data())
def test_groups_cover_all_pieces_once(data):
    stamps = []
    for number in (1, 2):
        for _ in range(data.draw(st.integers(0, 3))):
            first = data.draw(st.integers(1, 20))
            stamps.append(Stamp(number, first, data.draw(st.integers(first, 20)), NOON))
    groups = groups_at(course(), 20, stamps, NOON)
    assert [p for g in groups for p in range(g.first, g.last + 1)] == list(range(1, 21))


def best_makespan(loads):
    """The exact optimum of one pair of hands, by scipy's mixed-integer solver (HiGHS)."""
    tasks = [(i, c) for i, load in enumerate(loads) for c in range(load.coats_left)]
    pairs = [(a, b) for a in range(len(tasks)) for b in range(a + 1, len(tasks)) if tasks[a][0] != tasks[b][0]]
    size, end, big = len(tasks) + 1 + len(pairs), len(tasks), 10_000.0
    rows, low = [], []

    def at_least(terms, bound):
        row = np.zeros(size)
        for index, value in terms:
            row[index] += value
        rows.append(row)
        low.append(bound)

    for n, (i, c) in enumerate(tasks):
        load = loads[i]
        if c == 0:
            at_least([(n, 1)], load.ready_min)
        else:
            at_least([(n, 1), (n - 1, -1)], load.hands_min + load.between_min)
        if c == load.coats_left - 1:
            at_least([(end, 1), (n, -1)], load.hands_min + load.last_min)
    for k, (a, b) in enumerate(pairs):
        switch = len(tasks) + 1 + k
        at_least([(b, 1), (a, -1), (switch, big)], loads[tasks[a][0]].hands_min)
        at_least([(a, 1), (b, -1), (switch, -big)], loads[tasks[b][0]].hands_min - big)
    cost = np.zeros(size)
    cost[end] = 1
    integrality = np.array([0] * (len(tasks) + 1) + [1] * len(pairs))
    bounds_high = np.array([big] * (len(tasks) + 1) + [1] * len(pairs))
    from_zero = LinearConstraint(np.array(rows), np.array(low), np.inf)
    found = milp(cost, constraints=from_zero, integrality=integrality, bounds=(np.zeros(size), bounds_high))
    return found.fun


@pytest.mark.parametrize("seed", range(8))
def test_hands_against_the_exact_optimum(seed):
    rng = np.random.default_rng(seed)
    loads = [
        Load(
            f"j{n}",
            1,
            1,
            0,
            int(rng.integers(1, 4)),
            float(rng.uniform(0, 20)),
            float(rng.uniform(3, 12)),
            float(rng.uniform(5, 40)),
            float(rng.uniform(10, 60)),
        )
        for n in range(3)
    ]
    assert plan_hands(loads).done_min <= 1.12 * best_makespan(loads)


@given(data=st.data())
def test_one_pair_of_hands_and_nothing_coated_wet(data):
    loads = [
        Load(
            f"j{n}",
            1,
            data.draw(st.integers(1, 9)),
            0,
            data.draw(st.integers(0, 4)),
            data.draw(st.floats(0, 60)),
            data.draw(st.floats(0.2, 10)),
            data.draw(st.floats(0, 60)),
            data.draw(st.floats(0, 90)),
            data.draw(st.floats(0, 8)),
        )
        for n in range(data.draw(st.integers(1, 4)))
    ]
    plan = plan_hands(loads)
    assert all(b.start_min >= a.end_min - 1e-6 for a, b in pairwise(plan.turns))
    for load in loads:
        mine = [t for t in plan.turns if t.key == load.key]
        for piece in range(load.first, load.last + 1):
            own = [t for t in mine if t.first <= piece <= t.last]
            assert [t.number for t in own] == list(range(1, load.coats_left + 1))
        assert all(t.start_min >= load.ready_min - 1e-6 for t in mine)
    assert plan.done_min >= max((t.end_min for t in plan.turns), default=0)
