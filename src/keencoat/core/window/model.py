"""The two-boundary model: enough, and too much, in ln areal energy and ln dwell.

g1 = logistic(e^c1·(x − a1 − b1·d)) is the chance that the energy is enough, g2 likewise that it is too much.
A cell is harsh with g2, clean with (1 − g2)·g1, faint with (1 − g2)·(1 − g1): a chipped cell is harsh
whether or not coat is left on it. A small lapse mixes in a rating that says nothing.
"""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from scipy.special import expit

from keencoat.core.quantities.energy import areal_energy_j_mm2, dwell_ms
from keencoat.core.quantities.setting import Machine, Setting
from keencoat.core.window.priors import FloatArray

MODEL_VERSION = "two-boundary-1"


class Rating(StrEnum):
    """What a cell did."""

    FAINT = "faint"
    CLEAN = "clean"
    HARSH = "harsh"


@dataclass(frozen=True)
class Observation:
    """One rated cell, as the model sees it."""

    ln_energy: float
    ln_dwell: float
    rating: Rating


@dataclass(frozen=True)
class Chances:
    """Chances of the three ratings; arrays of shape (draws, points), each triple adding up to 1."""

    faint: FloatArray
    clean: FloatArray
    harsh: FloatArray


def observe(setting: Setting, machine: Machine, rating: Rating) -> Observation:
    """A rated cell burned with `setting` on `machine`."""
    return Observation(
        float(np.log(areal_energy_j_mm2(setting, machine))), float(np.log(dwell_ms(setting, machine))), rating
    )


def boundary_ln_energy(theta: FloatArray, ln_dwell: FloatArray) -> tuple[FloatArray, FloatArray]:
    """ln energy of both boundaries, shape (draws, points), for theta (draws, 6) and ln_dwell (points,)."""
    enough = theta[:, 0, None] + theta[:, 1, None] * ln_dwell
    too_much = theta[:, 3, None] + theta[:, 4, None] * ln_dwell
    return enough, too_much


def chances(theta: FloatArray, ln_energy: FloatArray, ln_dwell: FloatArray, lapse: float = 0.0) -> Chances:
    """Chances of each rating, shape (draws, points), for theta (draws, 6)."""
    enough_at, too_much_at = boundary_ln_energy(theta, ln_dwell)
    enough = expit(np.exp(theta[:, 2, None]) * (ln_energy - enough_at))
    too_much = expit(np.exp(theta[:, 5, None]) * (ln_energy - too_much_at))
    clean = (1 - too_much) * enough
    faint = 1 - too_much - clean
    if lapse:
        kept, slip = 1.0 - lapse, lapse / 3
        return Chances(kept * faint + slip, kept * clean + slip, kept * too_much + slip)
    return Chances(faint, clean, too_much)


def log_likelihood(theta: FloatArray, observations: tuple[Observation, ...], lapse: float) -> FloatArray:
    """Log-likelihood of the ratings, shape (draws,)."""
    if not observations:
        return np.zeros(len(theta))
    ln_energy = np.array([o.ln_energy for o in observations])
    ln_dwell = np.array([o.ln_dwell for o in observations])
    p = chances(theta, ln_energy, ln_dwell, lapse)
    order = {Rating.FAINT: 0, Rating.CLEAN: 1, Rating.HARSH: 2}
    which = np.array([order[o.rating] for o in observations])
    picked = np.choose(which, [p.faint, p.clean, p.harsh])
    return np.asarray(np.log(np.maximum(picked, 1e-300)).sum(axis=1))
