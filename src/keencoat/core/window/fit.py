"""Fitting the window: the posterior as equally weighted draws.

The mode and curvature give a Gaussian (Laplace; MacKay 1992); draws of a wider Student t around it are
weighted by the true posterior (importance sampling; Geweke 1989) and resampled. So the answer is right
also where the posterior is lopsided, and the effective sample size tells when it is not.
"""

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache

import numpy as np
from scipy.optimize import minimize

from keencoat.core.window.model import MODEL_VERSION, Observation, log_likelihood
from keencoat.core.window.priors import FloatArray, WindowPrior

DRAWS = 200
_PROPOSALS = 4096
_T_DEGREES = 6.0
_STEP = 1e-4

LogPosterior = Callable[[FloatArray], FloatArray]


class FitStatus(StrEnum):
    """How far a fit may be trusted."""

    PRIOR_ONLY = "prior_only"
    GOOD = "good"
    ROUGH = "rough"


@dataclass(frozen=True, eq=False)
class WindowFit:
    """The posterior. `draws` (200, 6) in the order of `priors`; `mode` (6,); `effective` proposals that counted."""

    draws: FloatArray
    mode: FloatArray
    status: FitStatus
    message: str
    observations: tuple[Observation, ...]
    prior: WindowPrior
    effective: float
    model_version: str = MODEL_VERSION


@lru_cache(maxsize=256)
def fit_window(observations: tuple[Observation, ...], prior: WindowPrior, seed: int = 1) -> WindowFit:
    """Fit the rated cells under a prior. Deterministic for a seed; no observations give the prior itself."""
    precision = np.linalg.inv(prior.cov)

    def log_posterior(theta: FloatArray) -> FloatArray:
        off = theta - prior.mean
        gaussian = -0.5 * np.einsum("ni,ij,nj->n", off, precision, off)
        return np.asarray(gaussian + log_likelihood(theta, observations, prior.lapse))

    mode = _find_mode(log_posterior, prior.mean)
    scale = np.linalg.cholesky(_covariance_at(log_posterior, mode, prior.cov))
    rng = np.random.default_rng(seed)
    normal = rng.standard_normal((_PROPOSALS, len(mode)))
    spread = np.sqrt(_T_DEGREES / rng.chisquare(_T_DEGREES, _PROPOSALS))[:, None]
    standard = normal * spread
    theta = mode + standard @ scale.T
    log_proposal = -0.5 * (_T_DEGREES + len(mode)) * np.log1p((standard**2).sum(axis=1) / _T_DEGREES)
    log_weight = log_posterior(theta) - log_proposal
    weight = np.exp(log_weight - log_weight.max())
    weight /= weight.sum()
    effective = float(1.0 / (weight**2).sum())
    positions = (np.arange(DRAWS) + 0.5) / DRAWS
    picked = np.searchsorted(np.cumsum(weight), positions).clip(max=_PROPOSALS - 1)
    status, message = _judge(len(observations), effective)
    return WindowFit(theta[picked], mode, status, message, observations, prior, effective)


def _find_mode(log_posterior: LogPosterior, start: FloatArray) -> FloatArray:
    steps = _STEP * np.eye(len(start))

    def negative(theta: FloatArray) -> float:
        return -float(log_posterior(theta[None])[0])

    def gradient(theta: FloatArray) -> FloatArray:
        ahead, behind = log_posterior(theta + steps), log_posterior(theta - steps)
        return np.asarray(-(ahead - behind) / (2 * _STEP))

    result = minimize(negative, start, jac=gradient, method="BFGS", options={"gtol": 1e-4, "maxiter": 300})
    return np.asarray(result.x, dtype=np.float64)


def _covariance_at(log_posterior: LogPosterior, mode: FloatArray, prior_cov: FloatArray) -> FloatArray:
    """Inverse curvature at the mode, kept positive definite and no wider than four times the prior."""
    size, step = len(mode), 1e-3
    corners = []
    for i in range(size):
        for j in range(size):
            for si, sj in ((1, 1), (1, -1), (-1, 1), (-1, -1)):
                corner = mode.copy()
                corner[i] += si * step
                corner[j] += sj * step
                corners.append(corner)
    values = log_posterior(np.array(corners)).reshape(size, size, 4)
    hessian = -(values[..., 0] - values[..., 1] - values[..., 2] + values[..., 3]) / (4 * step**2)
    eigenvalues, vectors = np.linalg.eigh((hessian + hessian.T) / 2)
    widest = 4.0 * float(np.linalg.eigvalsh(prior_cov).max())
    inverse = np.clip(1.0 / np.maximum(eigenvalues, 1e-12), 1e-8, widest)
    return np.asarray((vectors * inverse) @ vectors.T)


def _judge(cells: int, effective: float) -> tuple[FitStatus, str]:
    if cells == 0:
        return FitStatus.PRIOR_ONLY, "No cell is rated yet: this is what we would guess from the process alone."
    if effective < 200:
        return FitStatus.ROUGH, "The ratings contradict each other so much that the fit is rough. Rate once more."
    return FitStatus.GOOD, f"Fitted to {cells} rated cell{'s' if cells > 1 else ''}."
