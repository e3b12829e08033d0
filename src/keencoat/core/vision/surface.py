"""Smooth surfaces through part of a picture: a low polynomial, with outliers kept out."""

import cv2
import numpy as np

from keencoat.core.vision.photo import Floats

_ROUNDS = 6
_MOST_SAMPLES = 8_000
_COARSE = 8
_LEAST_SCALE = 1e-4


def fit_surface(values: Floats, use: np.ndarray, degree: int = 2) -> tuple[Floats, float]:
    """Fit `values` where `use` is true; return the surface over the whole picture and the residuals' scale.

    Iteratively reweighted least squares with Tukey's biweight, so that dust, shine and faults do not pull.
    Shapes: `values` and `use` (height, width), the surface likewise.
    """
    height, width = values.shape
    rows, columns = np.nonzero(use)
    if len(rows) > _MOST_SAMPLES:
        step = len(rows) // _MOST_SAMPLES + 1
        rows, columns = rows[::step], columns[::step]
    y = values[rows, columns].astype(np.float64)
    terms = _terms((columns + 0.5) / width * 2 - 1, (rows + 0.5) / height * 2 - 1, degree)
    weight = np.ones(len(y))
    coefficients = np.zeros(terms.shape[1])
    scale = 0.0
    # A breath of ridge keeps the few normal equations solvable when the samples lie on one line.
    ridge = 1e-9 * np.eye(terms.shape[1])
    for _ in range(_ROUNDS):
        weighted = terms * weight[:, None]
        coefficients = np.linalg.solve(weighted.T @ terms + ridge, weighted.T @ y)
        off = y - terms @ coefficients
        scale = max(_LEAST_SCALE, 1.4826 * float(np.median(np.abs(off))))
        weight = np.clip(1 - (off / (4.685 * scale)) ** 2, 0, 1) ** 2
    # The surface is smooth: worked out coarsely, then spread.
    coarse_w, coarse_h = -(-width // _COARSE), -(-height // _COARSE)
    xs, ys = np.meshgrid((np.arange(coarse_w) + 0.5) / coarse_w * 2 - 1, (np.arange(coarse_h) + 0.5) / coarse_h * 2 - 1)
    coarse = (_terms(xs.ravel(), ys.ravel(), degree) @ coefficients).reshape(coarse_h, coarse_w)
    surface = cv2.resize(coarse.astype(np.float32), (width, height), interpolation=cv2.INTER_CUBIC)
    return np.asarray(surface), scale


def fit_light(light: Floats, use: np.ndarray, degree: int = 2) -> tuple[Floats, float]:
    """As `fit_surface`, for light: fitted in ln(light), so that a fall-off stays positive; the scale is in ln."""
    surface, scale = fit_surface(np.log(np.maximum(light, 1e-5)), use, degree)
    return np.exp(surface), scale


def _terms(x: np.ndarray, y: np.ndarray, degree: int) -> np.ndarray:
    return np.stack([x**i * y ** (total - i) for total in range(degree + 1) for i in range(total + 1)], axis=1)
