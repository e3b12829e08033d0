"""What a workshop's own ratings say of where it draws its lines: two figures, moved no further than they warrant.

A maximum a posteriori fit of `full_at` and `harm_ln` to cells that a person rated and a photo measured, with the usual
limits as prior (sd 0.08 of fullness, 0.5 in ln): a handful of slips moves little, a habit is followed.
"""

import math
from dataclasses import dataclass

import numpy as np
from scipy.optimize import minimize

from keencoat.core.reading.cells import CellReading
from keencoat.core.reading.rate import FULL_AT, Tuning, propose
from keencoat.core.window.model import Rating

_FULL_SD, _HARM_SD = 0.08, 0.5
_SLIP = 0.03


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

    def cost(at: np.ndarray) -> float:
        tuning = Tuning(float(at[0]), float(at[1]))
        total = 0.5 * ((at[0] - FULL_AT) / _FULL_SD) ** 2 + 0.5 * (at[1] / _HARM_SD) ** 2
        for one in judged:
            p = propose(one.cell, one.process, tuning)
            chance = {Rating.FAINT: p.faint, Rating.CLEAN: p.clean, Rating.HARSH: p.harsh}[one.rating]
            total -= math.log((1 - _SLIP) * chance + _SLIP / 3)
        return float(total)

    start = np.array([[FULL_AT, 0.0], [FULL_AT + _FULL_SD, 0.0], [FULL_AT, _HARM_SD]])
    options = {"initial_simplex": start, "xatol": 1e-3, "fatol": 1e-3}
    best = minimize(cost, start[0], method="Nelder-Mead", options=options)
    return Tuning(float(np.clip(best.x[0], 0.4, 0.95)), float(np.clip(best.x[1], -1.5, 1.5)), len(judged))
