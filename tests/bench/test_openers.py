"""What is said to open a shut window, tried on worlds where each change can be tried: the zoo, and the second world.
KEENCOAT_ANIMALS says how many of each family, seeds from KEENCOAT_FIRST on; run with -s to see the figures."""

import os
from dataclasses import dataclass, replace
from multiprocessing import Pool

import numpy as np
import pytest

from keencoat.core.quantities.setting import Setting
from keencoat.core.quantities.slice import Slice
from keencoat.core.window.door import fit_told
from keencoat.core.window.openers import Change, Opener, openers
from tests.bench.worlds import WANTED, Told, World, ask_to_the_end
from tests.otherworld.burns import BUILDING, draw_world
from tests.otherworld.zoo import FAMILIES, WindowKind, draw_animal

ANIMALS = int(os.environ.get("KEENCOAT_ANIMALS", "12"))
FIRST = int(os.environ.get("KEENCOAT_FIRST", "0"))
SPEEDS, POWERS, PIECES = 14, 40, 300


@dataclass(frozen=True)
class Tried:
    """A shut material: what can be opened at all, and what was said, each with its chance and whether it does open."""

    can: frozenset[Change]
    said: tuple[tuple[Change, float, bool], ...]


def best_share(world: World, at: Slice, evener: bool = False) -> float:
    """The largest true share of clean pieces that any setting of the slice has."""
    pieces = world.pieces(PIECES, np.random.default_rng([world.seed, 5]))
    if evener:
        pieces[:, 0] *= 0.5
    m, there = at.machine, replace(world, machine=at.machine)
    return max(
        there.share(Setting(float(p), float(v), at.interval_mm, at.passes), pieces)
        for v in np.geomspace(m.min_speed_mm_s, m.max_speed_mm_s, SPEEDS)
        for p in np.geomspace(m.min_power_pct, 100, POWERS)
    )


def menu(at: Slice) -> list[tuple[Change, Slice]]:
    """What can be changed."""
    machine, lines = at.machine, (0.5, 0.7, 1.4, 2.0)
    return [
        *((Change.INTERVAL, replace(at, interval_mm=float(f"{at.interval_mm * f:.2g}"))) for f in lines),
        *((Change.PASSES, replace(at, passes=n)) for n in (2, 3, 4)),
        (Change.EVENER_COAT, at),
        (Change.WEAKER_MACHINE, replace(at, machine=replace(machine, rated_w=machine.rated_w / 2))),
        (Change.STRONGER_MACHINE, replace(at, machine=replace(machine, rated_w=machine.rated_w * 2))),
    ]


def said_of(world: World) -> tuple[Opener, ...]:
    """What the planner proposes once its cells are burned."""
    question, _ = ask_to_the_end(world, Told(measured=8))
    return tuple(openers(fit_told(question)[0], question.at, WANTED))


def try_on(world: World) -> Tried:
    """Whether each proposal opens the window: at the lines or passes it names, on the machine or coat it names."""
    at = Slice(world.machine, world.interval_mm)
    shares = [(change, there, best_share(world, there, change is Change.EVENER_COAT)) for change, there in menu(at)]
    said = []
    for opener in said_of(world):
        start = opener.start
        opens = any(
            share >= WANTED
            for change, there, share in shares
            if change is opener.change
            and (start is None or (there.interval_mm, there.passes) == (start.interval_mm, start.passes))
        )
        said.append((opener.change, opener.chance, opens))
    return Tried(frozenset(change for change, _, share in shares if share >= WANTED), tuple(said))


def try_animal(asked: tuple[str, int]) -> Tried:
    return try_on(draw_animal(*asked, WindowKind.SHUT))


def try_world(seed: int) -> Tried:
    """One of the second world, its gap made less until its window is shut."""
    world = draw_world(seed)
    rng = np.random.default_rng([seed, 31])
    for _ in range(40):
        world = replace(world, gap_ln=world.gap_ln - rng.uniform(0.02, 0.06))
        if best_share(world, Slice(world.machine, world.interval_mm)) < 0.92:
            break
    return try_on(world)


def figures(name: str, tried: list[Tried]) -> tuple[float, float]:
    """Of what can be opened: the share where the first proposal does, and where one of all does."""
    can = [t for t in tried if t.can]
    first = sum(bool(t.said) and t.said[0][2] for t in can) / len(can)
    some = sum(any(opens for _, _, opens in t.said) for t in can) / len(can)
    print(
        f"\n{name}: {len(can)} of {len(tried)} can be opened; first proposal opens {first:.2f}, one of all {some:.2f}"
    )
    for change in Change:
        mine = [(chance, opens) for t in tried for what, chance, opens in t.said if what is change]
        could = sum(change in t.can for t in tried)
        if mine:
            chance, opens = np.mean(mine, axis=0)
            print(f"  {change}: could {could}; proposed {len(mine)}, said {chance:.2f}, opened {opens:.2f}")
    return first, some


def test_most_shut_windows_that_can_be_opened_are():
    tried = [try_animal((family, 1)) for family in ("starving", "kinetic", "threads")]
    assert figures("one of three", tried)[1] >= 0.6


@pytest.mark.bench
def test_openers_on_the_zoo_and_the_second_world():
    with Pool(os.cpu_count()) as pool:
        for family in FAMILIES:
            tried = pool.map(try_animal, [(family, seed) for seed in range(FIRST, FIRST + ANIMALS)], chunksize=1)
            figures(family, tried)
        second = pool.map(try_world, BUILDING[FIRST : FIRST + 2 * ANIMALS], chunksize=1)
    assert figures("second world", second)[1] >= 0.8
