"""The next cells: those that tell most about which settings keep their share of clean pieces.

Each draw of the posterior, with a fresh piece's shift of its own, is a possible world. For a batch of cells on one
fresh piece, worlds are taken as true in turn, the cells' ratings drawn in them, and all worlds weighted anew; what
remains of the doubt is the variance of “this setting holds the wanted share”, over the settings that are the answer in
one world or another. Cells are added one by one, each the one that takes most doubt away for the minutes that it costs
(greedy design; Krause, Singh & Guestrin 2008 for why that is near the best), as long as a further one does more for its
price than those before it did for theirs and the piece's. Where hardly any world is open, all of
them may share a wrong shape: cells go first to where order alone leaves room for a window; and where two pieces showed
nothing but faint cells, to the strongest that the machine can burn.
"""

from dataclasses import dataclass

import numpy as np

from keencoat.core.errors import require_within
from keencoat.core.quantities import Setting, Slice
from keencoat.core.window.choose import RESIDUE_SD, WANTED_SHARE
from keencoat.core.window.fit import WindowFit
from keencoat.core.window.hideouts import cells_there, hideouts, untried_strongest
from keencoat.core.window.imagined import fresh_shifts, rating_chances, ratings_at
from keencoat.core.window.model import boundaries, chances
from keencoat.core.window.parameters import FloatArray, P
from keencoat.core.window.predict import clean_and_harsh
from keencoat.core.window.price import PIECE_MIN, patch_minutes
from keencoat.core.window.reach import Settings, at_full_power, middles, speeds_of

_SPEEDS = 10
_CANDIDATES, _TARGETS, _WORLDS = 64, 40, 48
_SOFT = 0.02
_SHUT_WEIGHT = 0.3
_HARDLY_OPEN = 0.35
_PACE = 0.5
_BOLDNESS = (0.5, 0.7, 0.9)
_QUANTILES = np.array([0.05, 0.25, 0.5, 0.75, 0.95])
_RATED_MIN = 5.0
"""What a cell costs beside its burning: to be rated (own estimate)."""
LEAST_CELLS, USUAL_LEAST_CELLS, MOST_CELLS = 3, 6, 12
"""Cells on one piece, as asked and where we choose: a further one costs minutes, a further piece its blank, coats and
drying."""
_NEXT_TO_NONE = 1e-12


@dataclass(frozen=True)
class Budget:
    """What may still be spent: cells, and rounds (each a fresh piece)."""

    cells_left: int
    rounds_left: int

    def __post_init__(self) -> None:
        require_within(self.cells_left, 0, 10_000, "cells_left")
        require_within(self.rounds_left, 0, 1000, "rounds_left")

    @property
    def round_size(self) -> int:
        """The most cells of the next round; fewer may pay."""
        return min(self.cells_left, MOST_CELLS) if self.rounds_left else 0


USUAL_BUDGET = Budget(cells_left=60, rounds_left=5)
"""What a calibration may cost at most, where nobody says otherwise."""


@dataclass(frozen=True, eq=False)
class _Targets:
    """The answers of some worlds: whether each holds in each world, softened, shape (worlds, targets); how much each
    matters. The last one is whether any setting holds at all."""

    holds: FloatArray
    matters: FloatArray


def next_cells(fit: WindowFit, at: Slice, cells: int, wanted: float = WANTED_SHARE, seed: int = 1) -> list[Setting]:
    """So many settings for one fresh piece, fastest first; deterministic for a seed."""
    return fastest_first(telling_cells(fit, at, cells, wanted, seed))


def telling_cells(fit: WindowFit, at: Slice, cells: int, wanted: float = WANTED_SHARE, seed: int = 1) -> list[Setting]:
    """The same, those that tell most first: where fewer fit a piece, the rest is left out."""
    return _telling_most(fit, at, cells, wanted, seed)[0]


def cells_that_pay(
    fit: WindowFit, at: Slice, most: int, wanted: float = WANTED_SHARE, seed: int = 1, piece_min: float = PIECE_MIN
) -> list[Setting]:
    """As many of `telling_cells` as pay on one fresh piece, which costs `piece_min` beside its cells: a further one as
    long as it takes away more doubt for what it costs than all before it did for theirs and the piece's."""
    chosen, gains, costs_min = _telling_most(fit, at, most, wanted, seed)
    for count in range(min(most, USUAL_LEAST_CELLS), len(chosen)):
        gained, paid_min = sum(gains[:count]), piece_min + sum(costs_min[:count])
        if gains[count] * paid_min < gained * costs_min[count]:
            return chosen[:count]
    return chosen


def fastest_first(cells: list[Setting]) -> list[Setting]:
    """In the order in which they are laid out."""
    return sorted(cells, key=lambda s: (-s.speed_mm_s, s.power_pct))


def _telling_most(
    fit: WindowFit, at: Slice, cells: int, wanted: float, seed: int
) -> tuple[list[Setting], list[float], list[float]]:
    """Settings, each with the doubt that it takes away beside those before it, and what it costs, min."""
    rng = np.random.default_rng(seed)
    targets = _targets(fit, at, wanted, rng)
    hidden = hideouts(fit, at) if fit.observations and targets.holds[:, -1].mean() < _HARDLY_OPEN else ()
    there = (cells_there(hidden, at) or untried_strongest(fit, at))[:cells]
    worlds = len(fit.draws)
    shift = fresh_shifts(fit, rng)
    cells_at = _telling(fit, at, shift)
    cost_min = _minutes_of(cells_at)
    chance = rating_chances(fit, cells_at.points(), shift)
    true = rng.permutation(worlds)[:_WORLDS]
    kept = np.ones((_WORLDS, worlds))
    chosen: list[int] = []
    gains: list[float] = []
    for _ in range(cells - len(there)):
        seen = ratings_at(chance[:, :, true], rng.random(_WORLDS))
        doubt, less = _doubt(kept, targets), np.zeros(len(chance))
        for c in range(len(chance)):
            less[c] = doubt - _doubt(kept * chance[c, seen[c]], targets)
        worth = np.maximum(less, _NEXT_TO_NONE) / cost_min
        worth[chosen] = -np.inf
        best = int(worth.argmax())
        chosen.append(best)
        gains.append(float(less[best]))
        kept = kept * chance[best, seen[best]]
        kept /= kept.max(axis=1, keepdims=True)
    found = [*there, *(cells_at.setting(c) for c in chosen)]
    # Places where order alone leaves room are tried whatever the model thinks of them.
    return found, [np.inf] * len(there) + gains, [0.0] * len(there) + cost_min[chosen].tolist()


def _telling(fit: WindowFit, at: Slice, shift: FloatArray) -> Settings:
    """Cells worth a thought: at each speed, powers spread over where the draws put boundaries and middle; of these the
    ones whose rating is least certain."""
    speeds = speeds_of(at.machine, _SPEEDS)
    full = at_full_power(at, speeds).points()
    enough, harm = (b - full.ln_energy for b in boundaries(fit.draws, full))
    enough, harm = enough + shift[:, None], harm + (fit.draws[:, P.SHARED] * shift)[:, None]
    places = np.concatenate(
        [
            np.quantile(enough, _QUANTILES, axis=0),
            np.quantile(harm, _QUANTILES, axis=0),
            np.quantile((enough + harm) / 2, _QUANTILES, axis=0),
        ]
    )
    powers = np.clip(100 * np.exp(np.minimum(places, 0.0)), at.machine.min_power_pct, 100.0)
    every = Settings(at, np.tile(speeds, len(places)), powers.ravel())
    p = chances(fit.draws, every.points(), shift[:, None])
    mean = np.stack([p.faint, p.clean, p.harsh]).mean(axis=1)
    doubt = -(mean * np.log(np.maximum(mean, 1e-12))).sum(axis=0)
    return every.only(np.sort(np.argsort(-doubt, kind="stable")[:_CANDIDATES]))


def _minutes_of(cells: Settings) -> FloatArray:
    """What each cell costs, min."""
    return np.array([_RATED_MIN + patch_minutes(cells.at.setting(100, v)) for v in cells.speeds_mm_s])


def _doubt(weight: FloatArray, targets: _Targets) -> float:
    mean = (weight @ targets.holds) / weight.sum(axis=1, keepdims=True)
    return float((mean * (1 - mean)).mean(axis=0) @ targets.matters)


def _targets(fit: WindowFit, at: Slice, wanted: float, rng: np.random.Generator) -> _Targets:
    speeds = speeds_of(at.machine, 2 * _SPEEDS)
    robust = middles(fit, at, speeds, RESIDUE_SD)
    good = (robust.clean >= wanted).mean(axis=0)
    # Few speeds, one bold, one likely, one safe, so that cells confirm each other; where nothing holds, the best there
    # is: it decides whether the window is shut.
    if good.max() > 0:
        few = [int(np.flatnonzero(good >= share * good.max()).max()) for share in _BOLDNESS]
    else:
        few = [int(robust.clean.mean(axis=0).argmax())]
    some = rng.permutation(len(fit.draws))[:_TARGETS]
    place = np.array(few)[np.arange(_TARGETS) % len(few)]
    settings = Settings(at, speeds[place], robust.powers_pct[some, place])
    clean = clean_and_harsh(fit, settings.points())[0]
    soft = 1 / (1 + np.exp(-np.clip((clean - wanted) / _SOFT, -30, 30)))
    is_open = middles(fit, at, speeds).is_open(wanted)
    # A slow answer is worth less than a fast one.
    worth = settings.speeds_mm_s**_PACE
    matters = np.append(worth / worth.sum(), _SHUT_WEIGHT)
    return _Targets(np.column_stack([soft, is_open]), matters)
