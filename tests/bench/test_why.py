"""Whether the right cause comes first on faulty pieces of known cause, and whether what it says mends them: on the
practice plant and on a second world that shares neither code nor law with it. Run with -s to see the figures."""

import os
from dataclasses import dataclass, replace
from functools import partial
from multiprocessing import Pool

import numpy as np
import pytest

from keencoat.bench.faulty import Fault
from keencoat.core.inspect import Case, Explained, explain
from tests.bench.faultycases import PROCESSES, Told, burn, tell
from tests.bench.otherfaults import tell_other
from tests.bench.washedshots import shot_of_piece, shot_of_washed, signs_of_shot
from tests.otherworld import faultypieces as fp

PLANT_REPORTING, PLANT_EVERY_RUN = range(1056, 1062), 1090
OTHER_REPORTING, OTHER_EVERY_RUN = 9000, 8800
"""Seeds whose figures are reported, none of them looked at while building, and those of a few pieces in every run."""
PHOTOS = os.environ.get("KEENCOAT_PHOTOS", "") == "1"
"""Whether each piece is photographed too."""
ASKED = ("at once", "one test", "two tests", "three tests")


@dataclass(frozen=True)
class Found:
    """By how many tests were asked for at most: the causes by rank, the chance of the first, and whether its remedy
    mended it; whether a piece of the same luck comes out where nothing is wrong, which no remedy can better."""

    cause: str
    ranks: tuple[tuple[str, ...], ...]
    chances: tuple[float, ...]
    mended: tuple[bool, ...]
    sound: bool
    tests: int


def explained(told, seed: int, tests: int) -> Found:
    case: Case = told.case
    rng = np.random.default_rng([seed, 9, *map(ord, told.cause + told.case.burned.process.key)])
    steps: list[Explained] = [explain(case)]
    for _ in range(tests):
        if steps[-1].ask is not None:
            case = told.answered(case, steps[-1].ask.key, rng)
        steps.append(explain(case))
    changes = [(step.ranked[0].remedy.action, step.ranked[0].remedy.setting) for step in steps]
    # Mostly a test changes nothing about what is to be done.
    mended = {change: told.is_mended(*change) for change in set(changes)}
    return Found(
        told.cause,
        tuple(tuple(r.cause.key for r in step.ranked) for step in steps),
        tuple(step.ranked[0].chance for step in steps),
        tuple(mended[change] for change in changes),
        told.comes_out(None),
        len(case.answers),
    )


def on_plant(wish: tuple[str, Fault, int], tests: int) -> Found | None:
    told = tell(*wish)
    return told and explained(photographed(told) if PHOTOS else told, wish[2], tests)


def on_other(wish: tuple[str, str, int, int], tests: int) -> Found | None:
    told = tell_other(*wish)
    return told and explained(photographed(told) if PHOTOS else told, wish[2], tests)


def photographed(told):
    """The same piece, with what its photo shows beside what was ticked."""
    if isinstance(told, Told):
        piece, _ = burn(told.place, told.place.setting, told.faulty, told.drawn, told.seed)
        rng = np.random.default_rng([told.seed, 19])
        shot = shot_of_piece(piece, told.place.hidden.bench.material.look, told.seed, rng)
    else:
        shot = shot_of_washed(told.side, fp.wash(told.side.world, told.side.setting, told.cause, told.seed), told.seed)
    case = told.case
    shown = signs_of_shot(shot, case.burned.process.key) or set()
    return replace(told, case=replace(case, signs={sign: v or sign in shown for sign, v in case.signs.items()}))


def figures(name: str, found: list[Found | None]) -> dict[str, float]:
    kept = [f for f in found if f is not None]
    row: dict[str, float] = {"cases": len(kept), "causes": len({f.cause for f in kept})}
    for n, asked in enumerate(ASKED[: len(kept[0].ranks)]):
        row[f"first, {asked}"] = round(float(np.mean([f.cause == f.ranks[n][0] for f in kept])), 3)
        row[f"two, {asked}"] = round(float(np.mean([f.cause in f.ranks[n][:2] for f in kept])), 3)
        hit = np.array([f.cause == f.ranks[n][0] for f in kept])
        row[f"Brier, {asked}"] = round(float(np.mean((np.array([f.chances[n] for f in kept]) - hit) ** 2)), 3)
        for low, high in ((0.0, 0.5), (0.5, 0.8), (0.8, 1.01)):
            here = [low <= f.chances[n] < high for f in kept]
            if any(here):
                said = np.mean([f.chances[n] for f, h in zip(kept, here, strict=True) if h])
                row[f"said {said:.2f}, {asked}"] = round(float(hit[here].mean()), 2)
        row[f"mended, {asked}"] = round(float(np.mean([f.mended[n] for f in kept])), 3)
    row["tests"] = round(float(np.mean([f.tests for f in kept])), 2)
    row["sound"] = round(float(np.mean([f.sound for f in kept])), 3)
    print("\n", name, row)
    return row


def plant(seeds) -> list[tuple[str, Fault, int]]:
    return [(process, fault, seed) for process in PROCESSES for seed in seeds for fault in Fault]


def other(seeds, first: int) -> list[tuple[str, str, int, int]]:
    return [(process, cause, seed, first) for process in PROCESSES for seed in seeds for cause in fp.FAULTS]


@pytest.mark.bench
def test_the_right_cause_comes_first_and_its_remedy_mends():
    with Pool() as pool:
        for name, one, wishes in (
            ("practice plant", on_plant, plant(PLANT_REPORTING)),
            ("second world", on_other, other(range(6), OTHER_REPORTING)),
        ):
            figures(name, pool.map(partial(one, tests=len(ASKED) - 1), wishes, chunksize=10))


def test_most_causes_are_found_on_a_few_pieces_of_both():
    here = [w for w in plant([PLANT_EVERY_RUN]) if w[0] == "reveal"]
    there = [w for w in other([90], OTHER_EVERY_RUN) if w[0] == "back_engrave"]
    for row in (
        figures("practice plant, few", [on_plant(w, tests=1) for w in here]),
        figures("second world, few", [on_other(w, tests=1) for w in there]),
    ):
        assert row["causes"] >= 14
        assert row["two, one test"] >= 0.7
        assert row["mended, one test"] >= 0.7
