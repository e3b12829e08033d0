"""Ratings that cells would get on a fresh piece, were a draw of the posterior the truth: what plans are weighed by."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtri, softmax

from keencoat.core.quantities import Setting, Slice
from keencoat.core.window.fit import WindowFit
from keencoat.core.window.model import ModelPoints, chances, piece_sd, points_of
from keencoat.core.window.parameters import FloatArray

_SLIP = 0.04


def fresh_shifts(fit: WindowFit, rng: np.random.Generator) -> FloatArray:
    """A fresh piece's shift in each draw's world, ln energy, evenly spread over what pieces differ; shape (draws,)."""
    worlds = len(fit.draws)
    return np.asarray(
        piece_sd(fit.draws, fit.prior.scatter) * rng.permutation(ndtri((np.arange(worlds) + 0.5) / worlds))
    )


def rating_chances(fit: WindowFit, at: ModelPoints, shifts: FloatArray) -> FloatArray:
    """What each world makes of each cell, slips included: chances of the three, shape (cells, ratings, draws)."""
    p = chances(fit.draws, at, shifts[:, None])
    outcomes = np.stack([p.faint, p.clean, p.harsh]).transpose(2, 0, 1)
    return np.ascontiguousarray((1 - _SLIP) * outcomes + _SLIP / 3)


def ratings_at(chance: FloatArray, u: FloatArray) -> NDArray[np.int_]:
    """The ratings (0 faint, 1 clean, 2 harsh) that even numbers `u`, 0…1, draw by `chance`, (cells, ratings, worlds);
    shape (cells, worlds)."""
    return np.asarray((u > chance[:, 0]).astype(int) + (u > chance[:, 0] + chance[:, 1]))


def weighed_anew(fit: WindowFit, at: Slice, cells: Sequence[Setting], rng: np.random.Generator) -> FloatArray:
    """What the draws would count for after these cells on a fresh piece, were each in turn the truth; shape (truths,
    draws). A truth does not vouch for itself."""
    worlds = len(fit.draws)
    chance = rating_chances(fit, points_of(list(cells), at.machine), fresh_shifts(fit, rng))
    seen = ratings_at(chance, rng.random((worlds, len(cells))).T)
    ln_weight = np.zeros((worlds, worlds))
    for c in range(len(cells)):
        ln_weight += np.log(chance[c])[seen[c]]
    weight = softmax(ln_weight, axis=1)
    np.fill_diagonal(weight, 0.0)
    return np.asarray(weight / np.maximum(weight.sum(axis=1, keepdims=True), 1e-12))
