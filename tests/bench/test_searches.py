"""Whole searches as outsiders ask for them (a coat of 15 % told, up to six pieces), ours beside the rival's, on every
set of hidden materials: what holds, what it cost, and whether odds are what they say.

KEENCOAT_MATERIALS says how many of each set, KEENCOAT_FIRST by how much seeds are moved on. Run with -m bench -s."""

import os
from collections.abc import Callable, Sequence
from functools import partial
from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest

from tests.bench.diagram import draw_reliability
from tests.bench.worlds import AS_OUTSIDERS, WANTED, Came, Told, World, find_setting, in_parallel, rival_finds, row_of
from tests.otherworld import burns, burns3, burns4
from tests.otherworld.zoo import FAMILIES, LEFT_OUT, USUAL_KINDS, WindowKind, draw_animal

MATERIALS = int(os.environ.get("KEENCOAT_MATERIALS", "2"))
FIRST = int(os.environ.get("KEENCOAT_FIRST", "0"))

Drawn = Callable[[], World]


def animals(families: Sequence[str], kinds: Sequence[WindowKind]) -> list[Drawn]:
    each = max(1, MATERIALS // len(families))
    return [
        partial(draw_animal, family, 31_000 + FIRST + k, kinds[k % len(kinds)])
        for family in families
        for k in range(each)
    ]


def others(draw: Callable[[int], World], seeds: range) -> list[Drawn]:
    return [partial(draw, seeds[FIRST + k]) for k in range(MATERIALS)]


OPEN = {
    "left out": animals(LEFT_OUT, USUAL_KINDS),
    "narrow, left out": animals(LEFT_OUT, [WindowKind.NARROW]),
    "the six": animals(FAMILIES, USUAL_KINDS),
    "second world": others(burns.draw_world, burns.REPORTING),
    "third world": others(burns3.draw_world3, burns3.REPORTING),
    "fourth world": others(burns4.draw_world4, burns4.REPORTING),
}
EMPTY = {
    "zoo": animals((*LEFT_OUT, *FAMILIES), [WindowKind.EMPTY]),
    "third world": others(burns3.draw_empty3, burns3.REPORTING),
    "fourth world": others(burns4.draw_empty4, burns4.REPORTING),
}
TOLD = {
    "not told": Told(AS_OUTSIDERS.budget, 0.12),
    "told": AS_OUTSIDERS,
    "measured": Told(AS_OUTSIDERS.budget, None, 8),
}
_DIAGRAMS = Path(__file__).parents[2] / "docs" / "diagrams"
_BINS = (0, 0.3, 0.5, 0.7, 0.9, 1.01)


def ours(drawn: Drawn, told: Told) -> Came:
    return find_setting(drawn(), told)


def theirs(drawn: Drawn) -> Came:
    return rival_finds(drawn())


def reliability(came: Sequence[Came]) -> list[tuple[float, float, int]]:
    """In each bin of claimed odds: what was claimed in the mean, what held, of how many."""
    rows = []
    for low, high in pairwise(_BINS):
        said = [c for c in came if c.share is not None and low <= c.held < high]
        if said:
            held = sum((c.share or 0) >= WANTED for c in said) / len(said)
            rows.append((float(np.mean([c.held for c in said])), held, len(said)))
    return rows


def calibration_error(rows: Sequence[tuple[float, float, int]]) -> float:
    """How far claims are from what held, each bin by its answers (expected calibration error; Naeini, Cooper &
    Hauskrecht 2015, from memory)."""
    return sum(n * abs(claimed - held) for claimed, held, n in rows) / sum(n for *_, n in rows)


def test_the_errors_of_claims_are_counted_by_answers():
    """Ten claims of 0.95 of which nine hold and ten of 0.4 of which eight do: 0.05/2 + 0.4/2."""
    came = [
        Came("sure", share, 1.0, 24, held, 30.0)
        for held, good in ((0.95, 9), (0.4, 8))
        for share in [0.96] * good + [0.9] * (10 - good)
    ]
    assert calibration_error(reliability(came)) == pytest.approx(0.225)


def words_of(came: Sequence[Came]) -> str:
    rows = reliability(came)
    bins = (f"{claimed:.2f} → {held:.2f} ({n})" for claimed, held, n in rows)
    return f"{'  '.join(bins)}  error {calibration_error(rows):.3f}"


@pytest.mark.bench
@pytest.mark.parametrize("of", OPEN)
def test_searches(of):
    came = in_parallel(partial(ours, told=AS_OUTSIDERS), OPEN[of])
    print(f"\nours, {of}: {row_of(came)}\n    {words_of(came)}")
    assert row_of(came)["mean yield"] > 0.8
    print(f"rival, {of}: {row_of(in_parallel(theirs, OPEN[of]))}")


@pytest.mark.bench
@pytest.mark.parametrize("of", ["left out", "second world", "third world", "fourth world"])
def test_odds_are_what_they_say(of):
    """With KEENCOAT_KEEP=1 the diagram in docs is drawn anew."""
    came = {told: in_parallel(partial(ours, told=TOLD[told]), OPEN[of]) for told in TOLD}
    every = [one for some in came.values() for one in some]
    print(f"\n{of}", *(f"{told}: {words_of(some)}" for told, some in came.items()), words_of(every), sep="\n    ")
    if os.environ.get("KEENCOAT_KEEP"):
        name = f"odds-{of.replace(' ', '-')}.svg"
        draw_reliability(of, {told: reliability(some) for told, some in came.items()}, _DIAGRAMS / name)
    assert calibration_error(reliability(every)) <= 0.1


@pytest.mark.bench
@pytest.mark.parametrize("of", EMPTY)
def test_empty_ones_are_called(of):
    for who, come in (("ours", partial(ours, told=AS_OUTSIDERS)), ("rival", theirs)):
        came = in_parallel(come, EMPTY[of])
        called = sum(c.share is None for c in came)
        print(f"\n{who}, empty, {of}: {called} of {len(came)} called, {np.mean([c.pieces for c in came]):.1f} pieces")
    assert called >= 0.5 * len(came)
