"""Streaks in a map of a coat or of a mark: their direction by the structure tensor, their spacing by autocorrelation.

Structure tensor: Bigün & Granlund 1987. The tensor's smaller eigenvector lies along the streaks; coherence
((λ₁ − λ₂)/(λ₁ + λ₂))² … here its root … tells how much one direction rules.
"""

import math
from dataclasses import dataclass

import cv2
import numpy as np

from keencoat.core.vision.photo import Floats

LEAST_COHERENCE, LEAST_DEPTH = 0.30, 0.025
_PX_PER_MM = 4
_WIDEST_MM = 5.0
_BIN_MM = 0.25


@dataclass(frozen=True)
class Streaks:
    """Streaks: `direction_deg` from the x axis towards y up, 0…180; `spacing_mm` (0 if none repeats); `depth` is the
    standard deviation of the map across them, relative to its mean; `coherence` 0…1."""

    direction_deg: float
    spacing_mm: float
    depth: float
    coherence: float


def find_streaks(face: Floats, mask: np.ndarray, px_per_mm: int) -> Streaks:
    """Measure the streaks of a map (height, width; 1 = mean) where `mask`; faults should be masked out."""
    shrink = min(1.0, _PX_PER_MM / px_per_mm)
    scale = px_per_mm * shrink
    flat = np.where(mask, np.clip(face, 0.3, 2.0), 1.0).astype(np.float32)
    flat = np.asarray(cv2.resize(flat, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA), dtype=np.float32)
    use = cv2.resize(mask.astype(np.float32), (flat.shape[1], flat.shape[0]), interpolation=cv2.INTER_AREA) > 0.99
    # Only what repeats within a few millimetres counts: slow changes are thick and thin ends, not streaks.
    weight = cv2.GaussianBlur(use.astype(np.float32), (0, 0), _WIDEST_MM * scale)
    slow = cv2.GaussianBlur(np.where(use, flat, 0).astype(np.float32), (0, 0), _WIDEST_MM * scale) / np.maximum(
        weight, 1e-3
    )
    band = np.where(use, cv2.GaussianBlur(flat - slow, (0, 0), 0.35 * scale), 0).astype(np.float32)
    inner = cv2.erode(use.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0
    if inner.sum() < 400:
        return Streaks(0.0, 0.0, 0.0, 0.0)
    gx = cv2.Scharr(band, cv2.CV_32F, 1, 0)[inner].astype(np.float64)
    gy = cv2.Scharr(band, cv2.CV_32F, 0, 1)[inner].astype(np.float64)
    xx, xy, yy = float((gx * gx).mean()), float((gx * gy).mean()), float((gy * gy).mean())
    total = xx + yy
    if total <= 0:
        return Streaks(0.0, 0.0, 0.0, 0.0)
    coherence = math.hypot(xx - yy, 2 * xy) / total
    # Across the streaks the gradient is largest; y points down in the picture.
    across = 0.5 * math.atan2(2 * xy, xx - yy)
    depth, spacing = _profile(band, inner, across, scale)
    direction = (math.degrees(-across) + 90) % 180
    return Streaks(direction, spacing, depth, coherence)


def _profile(band: Floats, use: np.ndarray, across: float, px_per_mm: float) -> tuple[float, float]:
    """Depth and spacing from the mean over lines along the streaks."""
    ys, xs = np.nonzero(use)
    run_mm = (xs * math.cos(across) + ys * math.sin(across)) / px_per_mm
    bins = ((run_mm - run_mm.min()) / _BIN_MM).astype(int)
    counts = np.bincount(bins)
    sums = np.bincount(bins, weights=band[ys, xs])
    kept = counts >= 0.2 * counts.max()
    profile = np.where(kept, sums / np.maximum(counts, 1), 0.0)[kept.argmax() : len(kept) - kept[::-1].argmax()]
    depth = float(profile.std())
    return depth, _spacing_mm(profile)


def _spacing_mm(profile: np.ndarray) -> float:
    """Distance of the first clear peak of the autocorrelation; 0 if nothing repeats."""
    centred = profile - profile.mean()
    if len(centred) < 16 or not centred.any():
        return 0.0
    full = np.correlate(centred, centred, mode="full")[len(centred) - 1 :]
    correlation = full / np.arange(len(centred), 0, -1)
    correlation /= correlation[0]
    below = np.flatnonzero(correlation < 0)
    if len(below) == 0:
        return 0.0
    upper = len(correlation) // 2
    for lag in range(int(below[0]) + 1, upper - 1):
        before, here, after = correlation[lag - 1 : lag + 2]
        if here > 0.15 and here >= before and here > after:
            bend = before - 2 * here + after
            shift = 0.5 * (before - after) / bend if bend else 0.0
            return float((lag + shift) * _BIN_MM)
    return 0.0


def are_streaks(streaks: Streaks) -> bool:
    """Whether one direction rules enough, and deep enough, to show in the mark."""
    return streaks.coherence >= LEAST_COHERENCE and streaks.depth >= LEAST_DEPTH
