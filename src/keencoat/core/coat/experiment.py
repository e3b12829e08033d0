"""Comparing coats: which paint, how thick, put on how, on spares that all carry the same small grid.

Cells of one piece share its coat, so they are no independent trials: their number is cut down by the usual design
effect 1 + (m − 1)ρ for m cells a piece (Kish 1965), with ρ as our own estimate. Intervals: Wilson 1927.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import betainc, betaln, ndtri

from keencoat.core.errors import BadValueError, require_within

WITHIN_PIECE = 0.10
"""ρ: how alike cells of one piece are beyond their settings. Own estimate."""

_MOST_ARMS = 12


@dataclass(frozen=True)
class Arm:
    """One way to coat: coat, tool, number of coats."""

    coat: str
    tool: str
    coats: int


@dataclass(frozen=True)
class Assignment:
    """Which piece gets which arm, in the order in which to coat them."""

    piece: int
    arm: int


@dataclass(frozen=True)
class ArmCount:
    """What was seen of one arm: pieces, rated cells, and how many of them came out clean."""

    pieces: int
    cells: int
    clean: int


@dataclass(frozen=True)
class ArmVerdict:
    """Share of clean cells with the range that holds it nine times in ten, and the chance to be the best arm."""

    share: float
    low: float
    high: float
    best: float


def plan_experiment(arms: Sequence[Arm], replicates: int, seed: int) -> tuple[Assignment, ...]:
    """Spread the arms over pieces in random order within each replicate, so that drying weather favours none.

    Raises BadValueError for fewer than two arms, too many, or the same arm twice.
    """
    if not 2 <= len(arms) <= _MOST_ARMS:
        raise BadValueError(f"{len(arms)} ways to compare.", field="arms", hint=f"Give 2 to {_MOST_ARMS}.")
    if len(set(arms)) < len(arms):
        raise BadValueError("The same way stands there twice.", field="arms", hint="Change coat, tool or coats of one.")
    require_within(replicates, 1, 10, "replicates")
    rng = np.random.default_rng(seed)
    order = [int(arm) for _ in range(replicates) for arm in rng.permutation(len(arms))]
    return tuple(Assignment(piece, arm) for piece, arm in enumerate(order, 1))


def wilson(successes: float, trials: float, confidence: float = 0.90) -> tuple[float, float]:
    """Interval of a share (Wilson 1927); the whole range without trials."""
    if trials <= 0:
        return 0.0, 1.0
    z = float(ndtri(0.5 + confidence / 2))
    share = successes / trials
    middle = (share + z**2 / (2 * trials)) / (1 + z**2 / trials)
    half = z * math.sqrt(share * (1 - share) / trials + z**2 / (4 * trials**2)) / (1 + z**2 / trials)
    return max(0.0, middle - half), min(1.0, middle + half)


def judge_arms(counts: Sequence[ArmCount]) -> list[ArmVerdict]:
    """Shares, ranges and chances to be best. The latter from Beta(1 + clean, 1 + not) posteriors, by quadrature."""
    effective = []
    for count in counts:
        per_piece = count.cells / count.pieces if count.pieces else 0.0
        effect = 1 + max(0.0, per_piece - 1) * WITHIN_PIECE
        effective.append((count.clean / effect, count.cells / effect))
    grid = (np.arange(2000) + 0.5) / 2000
    shapes = [(1 + clean, 1 + cells - clean) for clean, cells in effective]
    cdfs = np.array([betainc(a, b, grid) for a, b in shapes])
    chances = []
    for mine, (a, b) in enumerate(shapes):
        others = np.prod(np.delete(cdfs, mine, axis=0), axis=0)
        density = np.exp((a - 1) * np.log(grid) + (b - 1) * np.log1p(-grid) - betaln(a, b))
        chances.append(float((density * others).mean()))
    total = sum(chances)
    verdicts = []
    for count, (clean, cells), chance in zip(counts, effective, chances, strict=True):
        low, high = wilson(clean, cells)
        verdicts.append(ArmVerdict(count.clean / count.cells if count.cells else 0.0, low, high, chance / total))
    return verdicts
