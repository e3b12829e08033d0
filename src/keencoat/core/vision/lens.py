"""A lens's bend: a pixel at p, in half widths from the middle of the picture, looks where p·(1 + k₁·|p|²) would without
it (radial distortion of first order; Brown 1966)."""

import numpy as np

_ROUNDS = 8
_MOST_LENS = 0.15
_NOTABLE_LENS = 0.004
_LEAST_GAIN_PX = 0.15
_ENOUGH_POINTS = 60
_FIT_ROUNDS, _LEAST_SCALE_PX = 8, 0.5


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
    thinned = np.stack([side[np.linspace(0, len(side) - 1, _ENOUGH_POINTS).astype(int)] for side in sides])
    unbent = float(_bows(thinned, np.zeros(1), size)[0])
    if unbent <= _LEAST_GAIN_PX:
        return 0.0
    best, least = 0.0, unbent
    for step in (0.01, 0.0005):
        tried = best + step * np.arange(-20, 21)
        tried = tried[np.abs(tried) <= _MOST_LENS]
        bows = _bows(thinned, tried, size)
        best, least = float(tried[bows.argmin()]), float(bows.min())
    return best if unbent - least > max(_LEAST_GAIN_PX, 0.2 * unbent) and abs(best) > _NOTABLE_LENS else 0.0


def _bows(sides: np.ndarray, lenses: np.ndarray, size: tuple[int, int]) -> np.ndarray:
    """How far points of sides (sides, points, 2) lie from a straight line, px, if the lens were each of `lenses`: the
    middle one of a side, the mean of the sides. Points far off hardly pull a line (Huber 1964)."""
    p, _, half = _about_middle(sides, size)
    flat = half * p * (1 + lenses[:, None, None, None] * _squared(p))
    chord = flat[..., -1:, :] - flat[..., :1, :]
    along = chord / np.maximum(1e-9, np.linalg.norm(chord, axis=-1, keepdims=True))
    from_start = flat - flat[..., :1, :]
    run = (from_start * along).sum(axis=-1)
    off = from_start[..., 1] * along[..., 0] - from_start[..., 0] * along[..., 1]
    weight = np.ones_like(off)
    for _ in range(_FIT_ROUNDS):
        whole = weight.sum(axis=-1, keepdims=True)
        mean_run, mean_off = ((weight * v).sum(axis=-1, keepdims=True) / whole for v in (run, off))
        spread = (weight * (run - mean_run) ** 2).sum(axis=-1, keepdims=True)
        slope = (weight * (run - mean_run) * (off - mean_off)).sum(axis=-1, keepdims=True) / np.maximum(1e-9, spread)
        away = np.abs(off - mean_off - slope * (run - mean_run)) / np.sqrt(1 + slope**2)
        middle = np.median(away, axis=-1, keepdims=True)
        scale = np.maximum(_LEAST_SCALE_PX, middle)
        weight = scale / np.maximum(scale, away)
    return np.asarray(middle[..., 0].mean(axis=-1))


def _about_middle(points: np.ndarray, size: tuple[int, int]) -> tuple[np.ndarray, np.ndarray, float]:
    middle = np.array([size[0] / 2 - 0.5, size[1] / 2 - 0.5])
    half = size[0] / 2
    return (np.asarray(points, dtype=np.float64) - middle) / half, middle, half
