"""Smooth light over a picture: a low polynomial through log-luminance, with outliers kept out."""

import numpy as np

from keencoat.core.reading.photo import Floats

_ROUNDS = 6
_MOST_SAMPLES = 20_000


def fit_light(light: Floats, use: np.ndarray, degree: int = 2) -> tuple[Floats, float]:
    """Fit ln(light) where `use` is true; return the surface over the whole picture and the residuals' scale (ln).

    Iteratively reweighted least squares with Tukey's biweight, so that dust, shine and faults do not pull.
    Shapes: `light` and `use` (height, width), surface likewise, in the unit of `light`.
    """
    height, width = light.shape
    rows, columns = np.nonzero(use)
    if len(rows) > _MOST_SAMPLES:
        step = len(rows) // _MOST_SAMPLES + 1
        rows, columns = rows[::step], columns[::step]
    y = np.log(np.maximum(light[rows, columns], 1e-5)).astype(np.float64)
    terms = _terms(columns / width * 2 - 1, rows / height * 2 - 1, degree)
    weight = np.ones(len(y))
    coefficients = np.zeros(terms.shape[1])
    scale = 0.0
    for _ in range(_ROUNDS):
        root = np.sqrt(weight)[:, None]
        coefficients = np.linalg.lstsq(terms * root, y * root[:, 0], rcond=None)[0]
        off = y - terms @ coefficients
        scale = max(1e-4, 1.4826 * float(np.median(np.abs(off))))
        weight = np.clip(1 - (off / (4.685 * scale)) ** 2, 0, 1) ** 2
    # The surface is smooth: worked out coarsely, then spread.
    xs, ys = np.meshgrid(np.arange(width) / width * 2 - 1, np.arange(height) / height * 2 - 1)
    surface = sum(
        c * xs.astype(np.float32) ** i * ys.astype(np.float32) ** j
        for c, (i, j) in zip(coefficients.astype(np.float32), _powers(degree), strict=True)
    )
    return np.exp(np.asarray(surface, dtype=np.float32)), scale


def _powers(degree: int) -> list[tuple[int, int]]:
    return [(i, total - i) for total in range(degree + 1) for i in range(total + 1)]


def _terms(x: np.ndarray, y: np.ndarray, degree: int) -> np.ndarray:
    return np.stack([x**i * y**j for i, j in _powers(degree)], axis=1)
