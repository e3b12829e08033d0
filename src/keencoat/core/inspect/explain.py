"""Why a piece failed: causes ranked by their chances, what speaks for each, one change, and one cheap test."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.special import xlogy

from keencoat.core.inspect.asking import TESTS, CheapTest
from keencoat.core.inspect.case import Case
from keencoat.core.inspect.causes import CAUSES, Cause
from keencoat.core.inspect.likelihood import Clue, clues_of, refined
from keencoat.core.inspect.remedy import Remedy

Floats = NDArray[np.float64]

_TOLD, _MOST_TOLD, _LEAST_CHANCE = 0.4, 4, 0.02
_SURE, _WEIGHED, _LEAST_BITS, _DEAR = 0.9, 8, 0.15, 0.35


@dataclass(frozen=True)
class Because:
    """A piece of evidence for (above 0) or against a cause: ln of what it does to its odds."""

    words: str
    ln_odds: float


@dataclass(frozen=True)
class Ranked:
    """A cause with its chance, what speaks for and against it, and what to change."""

    cause: Cause
    chance: float
    because: tuple[Because, ...]
    remedy: Remedy


@dataclass(frozen=True)
class Explained:
    """Causes, the likeliest first; the test that parts the first two best, None where it would tell too little."""

    ranked: tuple[Ranked, ...]
    ask: CheapTest | None


def chances_of(case: Case) -> tuple[list[Cause], list[Clue], Floats]:
    """The causes that can be, all evidence, and each cause's chance; they add up to 1."""
    causes = [cause for cause in CAUSES.values() if cause.can_be(case)]
    items = list(clues_of(case, causes))
    ln = np.log([cause.usual for cause in causes]) + sum(np.log(item.chance) for item in items)
    weights = np.exp(ln - ln.max())
    return causes, items, np.asarray(weights / weights.sum())


def explain(case: Case, most: int = 4) -> Explained:
    """Rank the causes of a failed piece; at most `most` of them, and none that is hardly possible but the first."""
    causes, items, chance = chances_of(case)
    order = [int(n) for n in np.argsort(-chance)[:most]]
    shown = [n for n in order if chance[n] >= _LEAST_CHANCE or n == order[0]]
    ranked = tuple(
        Ranked(
            causes[n],
            float(chance[n]),
            _because(items, chance, n),
            causes[n].remedy(case, refined(causes[n].shift, case)),
        )
        for n in shown
    )
    return Explained(ranked, _ask(case, causes, chance))


def _because(items: Sequence[Clue], chance: Floats, n: int) -> tuple[Because, ...]:
    """What moves the odds of cause `n` against all others, as likely as those are."""
    others = np.delete(chance, n)
    if not others.sum():
        others = np.ones_like(others)
    found = []
    for item in items:
        rest = float(np.average(np.delete(item.chance, n), weights=others))
        found.append(Because(item.words, math.log(float(item.chance[n]) / rest)))
    telling = sorted((b for b in found if abs(b.ln_odds) >= _TOLD), key=lambda b: -abs(b.ln_odds))
    return tuple(telling[:_MOST_TOLD])


def _ask(case: Case, causes: Sequence[Cause], chance: Floats) -> CheapTest | None:
    """Of the tests that part the first two causes, the one that tells most of the cause, in bits; a dear one must tell
    more. Where none parts those two, of all that part the first few."""
    order = np.argsort(-chance)[:_WEIGHED]
    if chance[order[0]] >= _SURE:
        return None
    belief = chance[order] / chance[order].sum()
    worth: dict[str, tuple[bool, float]] = {}
    for key, test in TESTS.items():
        answers = test.chances([causes[int(n)].key for n in order])
        bits = _bits(answers, belief)
        parts_two = _bits(answers[:, :2], belief[:2] / belief[:2].sum()) >= _LEAST_BITS
        if key not in case.answers and (parts_two or bits >= _LEAST_BITS):
            worth[key] = parts_two, bits / test.minutes**_DEAR
    best = max(worth, key=lambda key: worth[key], default=None)
    return TESTS[best] if best is not None else None


def _bits(answers: Floats, belief: Floats) -> float:
    """Mutual information of an answer and the cause (Shannon 1948), bits; answers of shape (answers, causes)."""

    def entropy(p: Floats) -> Floats:
        return np.asarray(-xlogy(p, p).sum(axis=0) / math.log(2))

    return float(entropy(answers @ belief) - entropy(answers) @ belief)
