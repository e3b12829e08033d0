"""What a workshop's own ratings say of where it draws its lines: two figures, moved no further than they warrant.

A maximum a posteriori fit of `full_at` and `harm_ln` to cells that a person rated and a photo measured, with the usual
limits as prior (sd 0.08 of fullness, 0.5 in ln): a handful of slips moves little, a habit is followed.
"""

from dataclasses import dataclass

import numpy as np
from scipy.optimize import minimize_scalar

from keencoat.core.rating import FULL_AT, Rating
from keencoat.core.reading.cells import CellReading
from keencoat.core.reading.rate import Tuning, chances, fullness, harms

_FULL_SD, _HARM_SD = 0.08, 0.5
_FULL_REACH, _HARM_REACH = (0.4, 0.95), (-1.5, 1.5)
_SLIP = 0.03
_ROUNDS = 4


@dataclass(frozen=True)
class Judged:
    """A cell that was measured and then rated by a person."""

    cell: CellReading
    process: str
    rating: Rating


def tune(judged: list[Judged]) -> Tuning:
    """The workshop's lines from its own ratings; the usual ones if there are none."""
    if not judged:
        return Tuning()

    full = np.array([fullness(one.cell) for one in judged])
    worst = np.array([harms(one.cell, one.process)[0][0] for one in judged])
    which = np.array([list(Rating).index(one.rating) for one in judged])

    def cost(full_at: float, harm_ln: float) -> float:
        chance = np.choose(which, chances(full, worst, Tuning(full_at, harm_ln)))
        prior = 0.5 * ((full_at - FULL_AT) / _FULL_SD) ** 2 + 0.5 * (harm_ln / _HARM_SD) ** 2
        return float(prior - np.log((1 - _SLIP) * chance + _SLIP / 3).sum())

    full_at, harm_ln = FULL_AT, 0.0
    for _ in range(_ROUNDS):
        at = full_at
        harm_ln = float(minimize_scalar(lambda h, at=at: cost(at, h), bounds=_HARM_REACH, method="bounded").x)
        full_at = float(minimize_scalar(lambda f, h=harm_ln: cost(f, h), bounds=_FULL_REACH, method="bounded").x)
    return Tuning(full_at, harm_ln, len(judged))
