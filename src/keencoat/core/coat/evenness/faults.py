"""Faults of a coat in its film map: thin spots, bare patches, pools, pinholes, cracks, shine. Each with its place.

Limits are shares of the mean film and areas in mm²: own estimates, tuned on simulated photos.
"""

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

import cv2
import numpy as np

from keencoat.core.vision import Floats

THIN_BELOW, BARE_BELOW, POOLED_ABOVE = 0.70, 0.35, 1.45
LEAST_REGION_MM2 = 6.0
_PINHOLE_SHARE = 0.55
_PINHOLE_MM2 = (0.02, 4.0)
_CRACK_LENGTH_MM, _CRACK_SLENDERNESS = 2.5, 7.0
_SHINE_ABOVE = 1.25
_BACKGROUND_MM = 2.5


class FaultKind(StrEnum):
    """What can be wrong at a place."""

    THIN = "thin"
    BARE = "bare"
    POOLED = "pooled"
    PINHOLE = "pinhole"
    CRACK = "crack"
    SHINE = "shine"


@dataclass(frozen=True)
class Fault:
    """A fault at a place of the face: its box in mm from the upper left corner, its area, and its film (1 = mean)."""

    kind: FaultKind
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float
    area_mm2: float
    film: float


def region_faults(squares: Floats, valid: np.ndarray) -> list[Fault]:
    """Thin, bare and pooled regions of the map in 1 mm squares (rows, columns), `valid` where the face is."""
    filled = np.where(valid, squares, 1.0).astype(np.float32)
    smooth = np.asarray(cv2.GaussianBlur(filled, (0, 0), 0.8), dtype=np.float32)
    thin = _regions(valid & (smooth < THIN_BELOW), smooth, _thin_kind)
    pooled = _regions(valid & (smooth > POOLED_ABOVE), smooth, lambda _: FaultKind.POOLED)
    return thin + pooled


def _thin_kind(film: float) -> FaultKind:
    return FaultKind.BARE if film < BARE_BELOW else FaultKind.THIN


def _regions(mask: np.ndarray, film: Floats, kind_of: Callable[[float], FaultKind]) -> list[Fault]:
    count, labels, stats, _ = cv2.connectedComponentsWithStats(mask.astype(np.uint8), connectivity=8)
    faults = []
    for label in range(1, count):
        x, y, width, height, area = (float(v) for v in stats[label])
        if area < LEAST_REGION_MM2:
            continue
        inside = film[labels == label]
        kind = kind_of(float(np.percentile(inside, 25)))
        faults.append(Fault(kind, x, y, width, height, area, float(inside.mean())))
    return faults


def fine_faults(film: Floats, mask: np.ndarray, px_per_mm: int) -> list[Fault]:
    """Pinholes and cracks in the fine film map (height, width): small places far thinner than their neighbourhood.

    `signal` is the mean optical signal: with little of it, noise looks like holes and the limit is drawn wider.
    """
    # The background comes from a coarse map: a median of 2.5 mm at full size would take seconds.
    coarse_px = min(4, px_per_mm)
    shrink = coarse_px / px_per_mm
    coarse = cv2.resize(
        np.where(mask, film, 1.0).astype(np.float32), None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA
    )
    scaled = np.clip(coarse * 100, 0, 255).astype(np.uint8)
    ksize = round(_BACKGROUND_MM * coarse_px) | 1
    size = (film.shape[1], film.shape[0])
    ground = cv2.resize(cv2.medianBlur(scaled, ksize).astype(np.float32) / 100, size)
    blurred = cv2.GaussianBlur(film, (0, 0), 0.6)
    off = blurred - ground
    noise = 1.4826 * float(np.median(np.abs(off[mask])))
    limit = np.minimum(_PINHOLE_SHARE * ground, ground - 6 * noise)
    holes = mask & (blurred < limit) & (ground > 0.5)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(holes.astype(np.uint8), connectivity=8)
    faults = []
    for label in range(1, count):
        x, y, width, height, pixels = (int(v) for v in stats[label])
        area = pixels / px_per_mm**2
        if area < max(_PINHOLE_MM2[0], 3 / px_per_mm**2):
            continue
        part = (labels[y : y + height, x : x + width] == label).astype(np.uint8)
        length = _length_mm(part, px_per_mm)
        slender = length**2 / max(area, 1e-6)
        if length >= _CRACK_LENGTH_MM and slender >= _CRACK_SLENDERNESS:
            kind = FaultKind.CRACK
        elif area <= _PINHOLE_MM2[1]:
            kind = FaultKind.PINHOLE
        else:
            continue
        inside = blurred[y : y + height, x : x + width][part > 0]
        faults.append(
            Fault(kind, x / px_per_mm, y / px_per_mm, width / px_per_mm, height / px_per_mm, area, float(inside.mean()))
        )
    return faults


def _length_mm(part: np.ndarray, px_per_mm: int) -> float:
    """Length of a small thing: half its outline, which is right for a thread and too much for a blob."""
    contours, _ = cv2.findContours(np.pad(part, 1), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    return max(cv2.arcLength(c, True) for c in contours) / 2 / px_per_mm


def shine_faults(light: Floats, smooth: Floats, mask: np.ndarray, px_per_mm: int) -> list[Fault]:
    """Places that throw the lamp back: much brighter than the light around them, where the coat is still open."""
    open_glaze = mask & (light > _SHINE_ABOVE * smooth) & (light > 0.55)
    bright = cv2.morphologyEx(open_glaze.astype(np.uint8), cv2.MORPH_OPEN, np.ones((3, 3), np.uint8))
    count, _, stats, _ = cv2.connectedComponentsWithStats(bright, connectivity=8)
    faults = []
    for label in range(1, count):
        x, y, width, height, pixels = (float(v) for v in stats[label])
        area = pixels / px_per_mm**2
        if area >= 1.0:
            faults.append(
                Fault(FaultKind.SHINE, x / px_per_mm, y / px_per_mm, width / px_per_mm, height / px_per_mm, area, 0.0)
            )
    return faults
