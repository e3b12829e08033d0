"""The planner on families of laws that nothing here was built for. KEENCOAT_ANIMALS says how many of each, seeds from
KEENCOAT_FIRST on; run with -s to see the figures."""

import os
from functools import partial

import numpy as np
import pytest

from tests.bench.worlds import Came, find_setting, in_parallel, row_of
from tests.otherworld.zoo import FAMILIES, WANTED, draw_animal

ANIMALS = int(os.environ.get("KEENCOAT_ANIMALS", "30"))
FIRST = int(os.environ.get("KEENCOAT_FIRST", "0"))
NARROW_LN = 0.35


def come(seed: int, family: str, empty: bool = False) -> Came:
    return find_setting(draw_animal(family, seed, empty), 8)


@pytest.mark.parametrize("family", FAMILIES)
def test_an_animal_of_each_family_has_what_it_is_called(family):
    """A window where it has one, none where not; laws fall and rise with energy as they should."""
    animal, empty = draw_animal(family, 2), draw_animal(family, 2, empty=True)
    assert animal.best_share >= WANTED
    assert empty.best_share < 0.5
    assert animal.machine.min_speed_mm_s <= animal.fastest_mm_s <= animal.machine.max_speed_mm_s
    assert draw_animal(family, 2).fastest_mm_s == animal.fastest_mm_s


def test_the_planner_on_one_of_each_family():
    row = row_of([come(seed=1, family=family) for family in FAMILIES])
    assert row["mean yield"] > 0.7
    assert row["cells"] <= 20
    assert row["false none"] <= 2
    assert come(1, "popping", empty=True).share is None


@pytest.mark.bench
def test_the_planner_on_the_zoo():
    seeds = range(FIRST, FIRST + ANIMALS)
    yields = []
    for family in FAMILIES:
        came = in_parallel(partial(come, family=family), seeds)
        slim = [c for c, s in zip(came, seeds, strict=True) if draw_animal(family, s).width_ln < NARROW_LN]
        none = in_parallel(partial(come, family=family, empty=True), seeds[: max(1, ANIMALS // 3)])
        called = sum(c.share is None or (c.word != "sure") for c in none)
        row = row_of(came)
        yields.append(row["yield ≥ 95 %"])
        print(f"\n{family}: {row}")
        print("  narrow:", row_of(slim) if slim else "none of them")
        print(f"  empties: {called} of {len(none)} not taken for sure, {sum(c.share is None for c in none)} called")
        for low, high in ((0, 0.5), (0.5, 0.8), (0.8, 0.9), (0.9, 1.01)):
            said = [c for c in came if c.share is not None and low <= c.held < high]
            if said:
                held = np.mean([(c.share or 0) >= WANTED for c in said])
                print(f"  said {low}–{min(high, 1)} on {len(said)}: held {held:.2f}")
    assert min(yields) > 0.3
