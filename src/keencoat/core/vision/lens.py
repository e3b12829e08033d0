"""A lens's bend: a pixel at p, in half widths from the middle of the picture, looks where p·(1 + k₁·|p|²) would without
it (radial distortion of first order; Brown 1966)."""

import numpy as np
from scipy.optimize import minimize_scalar

from keencoat.core.vision.quads import line_through

_ROUNDS = 8
_MOST_LENS = 0.15
_NOTABLE_LENS = 0.004
_LEAST_GAIN_PX = 0.15
_ENOUGH_POINTS = 60


def straightened(points: np.ndarray, k1: float, size: tuple[int, int]) -> np.ndarray:
    """Where points (n, 2) in px of a picture of `size` (width, height) would lie had the lens no bend."""
    if k1 == 0:
        return points
    p, middle, half = _about_middle(points, size)
    return np.asarray(middle + half * p * (1 + k1 * _squared(p)))


def bent(points: np.ndarray, k1: float, size: tuple[int, int]) -> np.ndarray:
    """The inverse of `straightened`, by fixed-point steps: sure to a hundredth of a pixel for |k₁| ≤ 0.15."""
    if k1 == 0:
        return points
    q, middle, half = _about_middle(points, size)
    squared = _squared(q)
    share = np.ones_like(squared)
    for _ in range(_ROUNDS):
        share = 1 / (1 + k1 * squared * share**2)
    return np.asarray(middle + half * q * share)


def _squared(p: np.ndarray) -> np.ndarray:
    """p², shape (…, 1); a sum along an axis of two takes numpy many times as long."""
    return np.asarray(p[..., :1] ** 2 + p[..., 1:] ** 2)


def lens_of(sides: list[np.ndarray], size: tuple[int, int]) -> float:
    """The k₁ that makes straight sides, told by points (n, 2) in px, straightest; 0 where that gains little."""
    thinned = [side[:: max(1, len(side) // _ENOUGH_POINTS)] for side in sides]

    def bow(k: float) -> float:
        total = []
        for side in thinned:
            flat = straightened(side, k, size)
            at, along = line_through(flat)
            total.append(np.abs((flat - at) @ np.array([-along[1], along[0]])))
        return float(np.mean([np.median(t) for t in total]))

    unbent = bow(0.0)
    if unbent <= _LEAST_GAIN_PX:
        return 0.0
    best = minimize_scalar(bow, bounds=(-_MOST_LENS, _MOST_LENS), method="bounded", options={"xatol": 1e-3})
    gains = unbent - float(best.fun)
    return float(best.x) if gains > max(_LEAST_GAIN_PX, 0.2 * unbent) and abs(best.x) > _NOTABLE_LENS else 0.0


def _about_middle(points: np.ndarray, size: tuple[int, int]) -> tuple[np.ndarray, np.ndarray, float]:
    middle = np.array([size[0] / 2 - 0.5, size[1] / 2 - 0.5])
    half = size[0] / 2
    return (np.asarray(points, dtype=np.float64) - middle) / half, middle, half
