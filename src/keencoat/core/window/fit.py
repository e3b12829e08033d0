"""Fitting the window: the posterior as equally weighted draws.

Sequential Monte Carlo (Del Moral, Doucet & Jasra 2006): draws of the prior are led to the posterior in stages, each
letting the ratings count a little more. At each stage the draws are weighted, resampled, and moved by elliptical
slices (Murray, Adams & MacKay 2010) on a Gaussian fitted to themselves, which leave that stage's posterior as it is.
No shape is assumed, so that wedges, shut windows and contradictions come out as they are.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import brentq
from scipy.special import ndtri

from keencoat.core.window.model import MODEL_VERSION, Likelihood, Observation, RunOutcome, piece_sd, run_log_likelihood
from keencoat.core.window.parameters import SIZE, FloatArray, P
from keencoat.core.window.priors import WindowPrior
from keencoat.core.window.scatter import Scatter, ScatterBasis, basis_of

DRAWS = 320
_FIRST_DRAWS = 8 * DRAWS
_KEPT = 0.5
_FOLLOW = 0.1
"""Share of the draws that must go on counting when later runs weigh them."""
_SLICES, _LAST_SLICES, _SHRINKS = 2, 6, 10
_WIDER = 1.2
_SURPRISED = 1.35
"""Nats a cell beyond which ratings contradict each other: three ratings by mere chance cost ln 3 = 1.1."""

LogLikelihood = Callable[[FloatArray], FloatArray]


class FitStatus(StrEnum):
    """How far a fit may be trusted."""

    PRIOR_ONLY = "prior_only"
    GOOD = "good"
    ROUGH = "rough"


@dataclass(frozen=True, eq=False)
class WindowFit:
    """The posterior. `draws` (DRAWS, SIZE) in the order of `parameters.P`; `piece_shifts` mean shift of each piece in
    ln energy, by its number; `surprise` how unlikely the ratings were beforehand, in nats a cell; `run_pieces` how many
    whole pieces of runs it knows."""

    draws: FloatArray
    piece_shifts: dict[int, float]
    status: FitStatus
    message: str
    observations: tuple[Observation, ...]
    prior: WindowPrior
    surprise: float
    run_pieces: int = 0
    model_version: str = MODEL_VERSION


def with_scatter(fit: WindowFit, scatter: Scatter) -> WindowFit:
    """The same draws, read for pieces that differ by another scatter."""
    return replace(fit, prior=replace(fit.prior, scatter=scatter))


def is_scatter_known(fit: WindowFit) -> bool:
    """Whether anything but a guess tells how much pieces differ."""
    return basis_of(fit.prior.scatter, fit.run_pieces) is not ScatterBasis.GUESS


def just_as_told(fit: WindowFit) -> WindowFit:
    """The fit for pieces that differ as guessed or measured, neither more nor less: the doubt that is left, cells
    lessen."""
    return _as_if_scattered(fit, np.zeros(len(fit.draws)))


def without_wild_guesses(fit: WindowFit) -> WindowFit:
    """The fit by which a window may count as shut: nobody's fear that pieces differ wildly shuts it."""
    if is_scatter_known(fit):
        return fit
    return _as_if_scattered(fit, np.minimum(fit.draws[:, P.SCATTER], 0.0))


def _as_if_scattered(fit: WindowFit, ln_scatter: FloatArray) -> WindowFit:
    draws = fit.draws.copy()
    draws[:, P.SCATTER] = ln_scatter
    return replace(fit, draws=draws)


@lru_cache(maxsize=256)
def fit_window(
    observations: tuple[Observation, ...], prior: WindowPrior, seed: int = 1, runs: tuple[RunOutcome, ...] = ()
) -> WindowFit:
    """Fit rated cells, and runs of whole pieces, under a prior. Deterministic for a seed; no observations give the
    prior itself."""
    rng = np.random.default_rng(seed)
    if not observations and not runs:
        z = _even_normals(rng, DRAWS, SIZE + prior.switches)
        draws = prior.believed(z)
        return WindowFit(draws, {}, *_judge(0, 0.0, 0), (), prior, 0.0)
    likelihood = Likelihood(observations, prior.scatter, prior.lapse) if observations else None
    effects = likelihood.effects if likelihood else 0
    size = SIZE + effects + prior.switches

    def parameters_at(z: FloatArray) -> FloatArray:
        return np.hstack([prior.believed(z), z[:, SIZE : SIZE + effects]])

    def log_likelihood(z: FloatArray) -> FloatArray:
        theta = parameters_at(z)
        ln_fit = likelihood(theta) if likelihood else np.zeros(len(theta))
        return ln_fit + run_log_likelihood(theta, runs, prior.scatter) if runs else ln_fit

    z, evidence_ln = _lead(log_likelihood, size, rng)
    theta = parameters_at(z)
    pieces = sorted({o.piece for o in observations})
    own = theta[:, SIZE : SIZE + len(pieces)] * piece_sd(theta, prior.scatter)[:, None]
    surprise = -evidence_ln / max(1, len(observations))
    run_pieces = sum(r.pieces for r in runs)
    status, message = _judge(len(observations), surprise, run_pieces)
    return WindowFit(
        theta[:, :SIZE],
        dict(zip(pieces, own.mean(axis=0).tolist(), strict=True)),
        status,
        message,
        observations,
        prior,
        surprise,
        run_pieces,
    )


def _even_normals(rng: np.random.Generator, count: int, size: int) -> FloatArray:
    """Normals whose every column has its quantiles evenly spread (Latin hypercube; McKay et al. 1979), shuffled."""
    ranks = np.argsort(rng.random((count, size)), axis=0)
    return np.asarray(ndtri((ranks + 0.5) / count))


def _lead(log_likelihood: LogLikelihood, size: int, rng: np.random.Generator) -> tuple[FloatArray, float]:
    """Draws of the posterior under a standard normal prior, and ln of the evidence."""
    # Many at first, so that a rare kind of window, a shut one where an open one is believed in, is among them.
    z = _even_normals(rng, _FIRST_DRAWS, size)
    ln_fit = log_likelihood(z)
    share, evidence_ln = 0.0, 0.0
    while share < 1:
        step = _next_step(ln_fit, 1 - share, _KEPT if share else DRAWS / _FIRST_DRAWS)
        share = min(1.0, share + step)
        weight = np.exp(step * (ln_fit - ln_fit.max()))
        evidence_ln += float(np.log(weight.mean()) + step * ln_fit.max())
        picked = _picked(weight, DRAWS, rng)
        z, ln_fit = _slice(
            log_likelihood, z[picked], ln_fit[picked], share, _SLICES if share < 1 else _LAST_SLICES, rng
        )
    return z, evidence_ln


def _picked(weight: FloatArray, count: int, rng: np.random.Generator) -> NDArray[np.int_]:
    """Numbers of so many draws, each as often as its weight asks."""
    positions = (np.arange(count) + rng.random()) / count
    return np.searchsorted(np.cumsum(weight / weight.sum()), positions).clip(max=len(weight) - 1)


def weighed_by_runs(draws: FloatArray, runs: tuple[RunOutcome, ...], scatter: Scatter, seed: int = 1) -> FloatArray:
    """Draws as whole pieces of later runs leave them: drawn again by how well each foretold them, as far as a fair
    number of them can follow."""
    if not runs:
        return draws
    ln_fit = run_log_likelihood(draws, runs, scatter)
    weight = np.exp(_next_step(ln_fit, 1.0, _FOLLOW) * (ln_fit - ln_fit.max()))
    return draws[_picked(weight, len(draws), np.random.default_rng(seed))]


def _next_step(ln_fit: FloatArray, left: float, kept: float) -> float:
    """How much more the ratings may count so that such a share of the draws still does."""

    def counting(step: float) -> float:
        weight = np.exp(step * (ln_fit - ln_fit.max()))
        return float(weight.sum() ** 2 / (weight**2).sum()) / len(ln_fit) - kept

    if counting(left) >= 0:
        return left
    return float(brentq(counting, 0.0, left, xtol=1e-3 * left))


def _slice(
    log_likelihood: LogLikelihood,
    z: FloatArray,
    ln_fit: FloatArray,
    share: float,
    slices: int,
    rng: np.random.Generator,
) -> tuple[FloatArray, FloatArray]:
    """Elliptical slices on the draws' own Gaussian; what it lacks of the posterior goes into the slice's height."""
    middle = z.mean(axis=0)
    root = np.linalg.cholesky(_WIDER * np.cov(z.T) + 1e-6 * np.eye(z.shape[1]))
    inverse = np.linalg.inv(root)

    def excess(at: FloatArray, ln_fit_there: FloatArray) -> FloatArray:
        own = 0.5 * (((at - middle) @ inverse.T) ** 2).sum(axis=1)
        return np.asarray(share * ln_fit_there - 0.5 * (at**2).sum(axis=1) + own)

    height = excess(z, ln_fit)
    for _ in range(slices):
        other = middle + rng.standard_normal(z.shape) @ root.T
        level = height + np.log(rng.random(len(z)))
        angle = rng.uniform(0, 2 * np.pi, len(z))
        low, high = angle - 2 * np.pi, angle.copy()
        waiting = np.arange(len(z))
        moved, moved_ln_fit, heights = z.copy(), ln_fit.copy(), height.copy()
        for _ in range(_SHRINKS):
            turn = angle[waiting, None]
            tried = middle + (z[waiting] - middle) * np.cos(turn) + (other[waiting] - middle) * np.sin(turn)
            ln_fit_there = log_likelihood(tried)
            there = excess(tried, ln_fit_there)
            taken = there > level[waiting]
            at = waiting[taken]
            moved[at], moved_ln_fit[at], heights[at] = tried[taken], ln_fit_there[taken], there[taken]
            waiting = waiting[~taken]
            if not len(waiting):
                break
            below = angle[waiting] < 0
            low[waiting] = np.where(below, angle[waiting], low[waiting])
            high[waiting] = np.where(below, high[waiting], angle[waiting])
            angle[waiting] = rng.uniform(low[waiting], high[waiting])
        z, ln_fit, height = moved, moved_ln_fit, heights
    return z, ln_fit


def _judge(cells: int, surprise: float, run_pieces: int) -> tuple[FitStatus, str]:
    if cells == 0 and run_pieces:
        return FitStatus.ROUGH, f"Fitted to {run_pieces} pieces of runs alone: no cell is rated."
    if cells == 0:
        return FitStatus.PRIOR_ONLY, "No cell is rated yet: this is what is expected from all that is known beforehand."
    if cells >= 6 and surprise > _SURPRISED:
        return FitStatus.ROUGH, "The ratings contradict each other so much that the fit is rough. Rate once more."
    return FitStatus.GOOD, f"Fitted to {cells} rated cell{'s' if cells > 1 else ''}."
