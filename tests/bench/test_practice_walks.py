"""How many rounds a practice takes until locking comes first, and what the setting of that moment is worth: the plant
of each scenario, burned and rated as by an eye, without a browser."""

from dataclasses import dataclass, replace

import numpy as np
import pytest

from keencoat.bench.hidden import Hidden, Kind
from keencoat.bench.plant.many import Bench, draw_pieces
from keencoat.bench.plant.materials import MATERIALS
from keencoat.bench.scenarios import MACHINES, SCENARIOS
from keencoat.core.quantities.slice import Slice
from keencoat.core.window.door import CoatTold, Question, RatedCell, fit_told
from keencoat.core.window.plan import USUAL_BUDGET, cells_that_pay
from keencoat.core.window.price import patch_minutes
from keencoat.core.window.recommend import RatedSetting, recommend
from keencoat.core.window.scatter import Scatter
from keencoat.core.window.worth import Batch
from tests.bench.planners import machine_of, rate

_LIGHT_COMES_THROUGH = ("cloche", "sign")
_MOST_ROUNDS, _BLUE_NM = 5, 445.0


@dataclass(frozen=True)
class Walk:
    """Rounds until locking came first, the true share of clean pieces at that setting (0: it never came), and minutes
    that patches of the usual fill burned."""

    rounds: int
    share: float
    minutes: float


def case_of(key: str, seed: int) -> Hidden:
    """A practice as it is: its own material on its machine."""
    scenario = SCENARIOS[key]
    machine = {name: float(v) for name, v in MACHINES[scenario.machine].items() if name not in ("name", "source")}
    material = replace(MATERIALS[scenario.process], spot_mm=machine["spot_mm"])
    bench = Bench(material, machine["rated_w"], _BLUE_NM, machine["accel_mm_s2"], scenario.thickness_mm)
    reach = machine["min_speed_mm_s"], machine["max_speed_mm_s"], machine["min_power_pct"]
    return Hidden(seed, Kind.OPEN, scenario.process, bench, *reach, scenario.interval_mm, 1, 1)


def walk(key: str, seed: int) -> Walk:
    """Burn rounds of the planner's cells until the page would put locking first; three coats are photographed where
    light comes through the piece."""
    scenario, case = SCENARIOS[key], case_of(key, seed)
    material, at = case.bench.material, Slice(machine_of(case), case.interval_mm)
    rng = np.random.default_rng([seed, 77])
    told = CoatTold(scenario.coat)
    if key in _LIGHT_COMES_THROUGH:
        seen = Scatter().with_coats(float(material.film_cv * np.sqrt(rng.chisquare(2) / 2)), 3)
        told = replace(told, thickness_cv=seen.coat_cv, thickness_pieces=3)
    question = Question(at, scenario.process, scenario.substrate, told, USUAL_BUDGET)
    minutes = 0.0
    for number in range(1, _MOST_ROUNDS + 1):
        fit, _ = fit_told(question)
        cells = cells_that_pay(fit, at, USUAL_BUDGET.round_size)
        minutes += sum(map(patch_minutes, cells))
        piece = draw_pieces(material, 1, rng)
        burned = tuple(RatedCell(number, c, rate(case, c, piece, rng)) for c in cells)
        question = replace(question, history=question.history + burned)
        shown = tuple(RatedSetting(str(n), c.setting, c.rating) for n, c in enumerate(question.history))
        best = recommend(fit_told(question)[0], at, shown, batch=Batch(12))
        if best.lock_now and best.point:
            setting = best.point.setting
            batch = draw_pieces(material, 400, np.random.default_rng([seed, 123]))
            share = case.share(setting.power_pct, setting.speed_mm_s, setting.interval_mm, setting.passes, batch)
            return Walk(number, share, minutes)
    return Walk(_MOST_ROUNDS, 0.0, minutes)


@pytest.mark.bench
@pytest.mark.parametrize("key", ["cloche", "sign", "marker", "herb"])
def test_practice_ends_in_three_rounds_and_mostly_clean(key):
    walks = [walk(key, seed) for seed in range(24)]
    rounds, shares = [w.rounds for w in walks], [w.share for w in walks]
    minutes = np.median([w.minutes for w in walks])
    print(f"\n{key}: rounds {rounds}, at 95 % {sum(s >= 0.95 for s in shares)} of 24, mean {np.mean(shares):.3f}")
    print(f"minutes {minutes:.0f}")
    assert sum(r <= 3 for r in rounds) >= 22
    assert np.mean(shares) > 0.9
