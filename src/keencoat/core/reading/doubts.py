"""What keeps a cell's reading from being taken on trust: blur, a shadow, a veil of light, something that lies on it.

A blurred photo shows no chips, and a shadow or a veil hides half of them. Each cell is looked at by itself, since a
phone held aslant is sharp on one side only and shadows have edges. A doubt never changes a figure: it takes “sure”
away.
"""

import math
from enum import StrEnum

import cv2
import numpy as np

from keencoat.core.vision import Floats

BLUR_MM, WIDE_HARM_BLUR_MM = 0.13, 0.22
"""Largest σ of an edge at which a harm that must be seen keeps half of its depth: a disc blurred by a Gaussian keeps
1 − exp(−r²/2σ²) in its middle. The first for chips and pinholes of 0.3 mm, the second for harms that lie beside the
mark over half a millimetre."""

SHADED_LN, VEILED = 0.10, 0.45
"""How far, in ln light, the ground beside a cell may lie from the smooth light; and Michelson's contrast of a full mark
below which light lies over the picture: own estimates."""

COVERED_SHARE = 0.12
_OFF_TONE = 6.0


class Doubt(StrEnum):
    """Why a cell is to be looked at by eye."""

    BLURRED = "blurred"
    SHADED = "in a shadow"
    VEILED = "under a veil of light"
    COVERED = "something lies on it or beside it"
    PATCHED = "holes in a patchy mark look like chips"
    TONED = "some tone lies beside the mark"


def edge_blur_mm(share: Floats, middle: float, px_per_mm: int) -> float | None:
    """σ of the left and right edge of a patch, in mm: the step over its steepest slope times √(2π); None for a patch
    too faint to have edges. `share` is the patch with ground on both sides, straight up (rows, columns)."""
    if middle < 0.35:
        return None
    profile = share.mean(axis=0)
    # Rows of a slightly turned patch smear its mean edge: take them in bands.
    bands = [b.mean(axis=0) for b in np.array_split(share, max(1, share.shape[0] // max(1, px_per_mm // 2)))]
    slopes = [float(np.abs(np.diff(cv2.GaussianBlur(b[None], (0, 0), 0.5)[0])).max()) for b in bands]
    step = float(np.quantile(profile, 0.9) - np.quantile(profile, 0.1))
    return step / max(1e-4, float(np.median(slopes))) / math.sqrt(2 * math.pi) / px_per_mm


def ground_off_ln(evened: Floats, bare: np.ndarray, ground: float) -> float:
    """How far the ground beside a cell lies from the evened ground of the picture, at its worst side, in ln light:
    `evened` luminance round the cell and where it is bare, both (rows, columns)."""
    rows, columns = bare.shape
    sides = [
        (slice(0, rows // 4), slice(None)),
        (slice(3 * rows // 4, None), slice(None)),
        (slice(None), slice(0, columns // 4)),
        (slice(None), slice(3 * columns // 4, None)),
    ]
    off = [
        abs(math.log(max(1e-5, float(np.median(evened[s][bare[s]]))) / max(1e-5, ground)))
        for s in sides
        if bare[s].sum() > 20
    ]
    return max(off, default=0.0)


def covered_share(lab: Floats, bare: np.ndarray, ground_lab: Floats) -> float:
    """Share of the ground beside a cell whose colour is not the ground's: a hair, a finger, a label. Lightness alone is
    light's doing and does not count."""
    near = lab[bare]
    if len(near) < 20:
        return 0.0
    off = np.hypot(near[:, 1] - ground_lab[1], near[:, 2] - ground_lab[2])
    return float((off > _OFF_TONE).mean())
