"""The planner on families of laws that nothing here was built for. KEENCOAT_ANIMALS says how many of each, seeds from
KEENCOAT_FIRST on, and with KEENCOAT_PHOTOS=1 what a photo measures beside each rating; run with -s to see the
figures."""

import os

import numpy as np
import pytest

from keencoat.core.window.recommend import Verdict
from tests.bench.worlds import Came, Told, find_setting, in_parallel, row_of
from tests.otherworld.zoo import FAMILIES, LEFT_OUT, USUAL_KINDS, WANTED, WindowKind, draw_animal

ANIMALS = int(os.environ.get("KEENCOAT_ANIMALS", "40"))
FIRST = int(os.environ.get("KEENCOAT_FIRST", "0"))


PHOTOS = os.environ.get("KEENCOAT_PHOTOS", "") == "1"


def come(asked: tuple[str, int, WindowKind]) -> Came:
    return find_setting(draw_animal(*asked), Told(measured=8, photos=PHOTOS))


def usual(family: str, seeds: range) -> list[tuple[str, int, WindowKind]]:
    return [(family, seed, USUAL_KINDS[seed % len(USUAL_KINDS)]) for seed in seeds]


@pytest.mark.parametrize(
    "family",
    [
        "popping",
        "shielded",
        *(pytest.param(f, marks=pytest.mark.bench) for f in (*FAMILIES, "blow_off") if f != "popping"),
    ],
)
def test_an_animal_of_each_family_has_what_it_is_called(family):
    """A window where it has one, none where not; narrow or at the machine's edge where that is asked."""
    wide, narrow, cut, empty, shut = (draw_animal(family, 7, kind) for kind in WindowKind)
    m = cut.machine
    assert min(wide.best_share, narrow.best_share, cut.best_share) >= WANTED > 0.5 > empty.best_share
    assert 0.4 < shut.best_share < WANTED
    assert narrow.width_ln < 0.35
    assert cut.fastest_mm_s < 3 * m.min_speed_mm_s or cut.slowest_mm_s > m.max_speed_mm_s / 3
    assert wide.machine.min_speed_mm_s <= wide.fastest_mm_s <= wide.machine.max_speed_mm_s
    assert draw_animal(family, 7).fastest_mm_s == wide.fastest_mm_s


def test_the_planner_on_one_of_each_family():
    row = row_of([come((family, 1, WindowKind.OPEN)) for family in FAMILIES])
    assert row["mean yield"] > 0.7
    assert row["pieces"] <= 3.5
    assert row["false none"] <= 2
    empty = [come((family, 1, WindowKind.EMPTY)) for family in FAMILIES]
    assert sum(c.word is Verdict.NONE for c in empty) >= len(empty) - 1
    assert not any(c.word is Verdict.SURE for c in empty)


@pytest.mark.bench
def test_the_planner_on_the_zoo():
    seeds = range(FIRST, FIRST + ANIMALS)
    families = LEFT_OUT if os.environ.get("KEENCOAT_LEFT_OUT") else FAMILIES
    asked = [a for family in families for a in usual(family, seeds)]
    came = in_parallel(come, asked)
    for family in families:
        mine = [c for c, (of, _, _) in zip(came, asked, strict=True) if of == family]
        print(f"\n{family}: {row_of(mine)}")
        for low, high in ((0, 0.5), (0.5, 0.8), (0.8, 0.9), (0.9, 1.01)):
            said = [c for c in mine if c.share is not None and low <= c.held < high]
            if said:
                held = np.mean([(c.share or 0) >= WANTED for c in said])
                print(f"  said {low}–{min(high, 1)} on {len(said)}: held {held:.2f}")
    for kind in WindowKind:
        mine = [c for c, (_, _, of) in zip(came, asked, strict=True) if of is kind]
        if mine:
            print(f"\n{kind}: {row_of(mine)}")
    shut = [(family, seed, WindowKind.EMPTY) for family in families for seed in seeds[: max(1, ANIMALS // 4)]]
    none = in_parallel(come, shut)
    called = sum(c.share is None for c in none)
    print(f"\nempty: {called} of {len(none)} called, {sum(c.word == 'sure' for c in none)} taken for sure")
    whole = row_of(came)
    print(f"\nall: {whole}")
    assert whole["mean yield"] >= 0.9
    assert called >= 0.9 * len(none)
