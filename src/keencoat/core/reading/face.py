"""A straightened grid with its light evened: by a smooth surface through the bare ground, haze left out."""

from dataclasses import dataclass

import cv2
import numpy as np

from keencoat.core.grid import PlacedCell
from keencoat.core.reading.gridplan import Mask, Sight, frame_mask, ground_mask
from keencoat.core.vision import Floats, Pixels, fit_light, lab_of, lightness, luminance

INSET_MM = 0.4
"""How far inside a patch its tone is taken."""
_EDGE_MM = 0.5
_HAZY, _HAZE_REACH_MM, _MARKED_L = 0.08, 2.5, 6.0


@dataclass(frozen=True, eq=False)
class Face:
    """The straightened picture in L* and L*a*b*, light evened; `sign` +1 where marks are brighter than ground."""

    l_star: Floats
    lab: Floats
    y: Floats
    bare: Mask
    ground_l: float
    ground_y: float
    ground_lab: Floats
    noise: float
    sign: float


def even_light(upright: Pixels, sight: Sight) -> Face:
    ground = ground_mask(sight)
    if ground.sum() < 200:
        ground = ground_mask(sight, 0.25)
    face = _evened(upright, ground, sight)
    # Haze lies on the ground beside a mark and is no light: what it may have reached does not count as bare.
    clear = ground.copy()
    for placed in sight.layout.cells:
        if _haze_share(placed, face, sight) > _HAZY:
            clear[sight.patch(placed, -_HAZE_REACH_MM)] = False
    return _evened(upright, clear, sight) if 200 <= clear.sum() < ground.sum() else face


def _evened(upright: Pixels, ground: Mask, sight: Sight) -> Face:
    y = luminance(upright)
    # A wall turns away from the light at its sides.
    light, _ = fit_light(y, ground, 2 if sight.bend is None else 4)
    middle = float(light[ground].mean())
    gain = (middle / np.maximum(light, 1e-5)).astype(np.float32)
    y = np.asarray(y * gain, dtype=np.float32)
    l_star = lightness(y).astype(np.float32)
    ground_l = float(np.median(l_star[ground]))
    residual = l_star[ground] - ground_l
    noise = 1.4826 * float(np.median(np.abs(residual)))
    tones = [float(np.median(l_star[sight.patch(c, INSET_MM)])) - ground_l for c in sight.layout.cells]
    tones += frame_tone(l_star, ground_l, sight)
    sign = 1.0 if max(tones, key=abs) >= 0 else -1.0
    lab = lab_of(upright.astype(np.float32) / 255)
    ground_lab = np.asarray(np.median(lab[ground], axis=0))
    return Face(l_star, lab, y, ground, ground_l, float(np.median(y[ground])), ground_lab, noise, sign)


def frame_tone(l_star: Floats, ground_l: float, sight: Sight) -> list[float]:
    if sight.layout.frame is None:
        return []
    line = cv2.erode(frame_mask(sight).astype(np.uint8), np.ones((3, 3), np.uint8)) > 0
    return [float(np.median(l_star[line])) - ground_l]


def _haze_share(placed: PlacedCell, face: Face, sight: Sight) -> float:
    """Tone beside a patch against its own, 0 for a patch that is hardly marked."""
    tone = face.sign * (float(np.median(face.l_star[sight.patch(placed, INSET_MM)])) - face.ground_l)
    if tone < _MARKED_L:
        return 0.0
    return haze_beside(placed, np.asarray(face.sign * (face.l_star - face.ground_l) / tone), sight)


def haze_beside(placed: PlacedCell, share: Floats, sight: Sight) -> float:
    """Tone beside the patch, on its left, right and upper side."""
    half = placed.side_mm / 2
    near, far = 0.25, min(0.25 + _EDGE_MM, sight.layout.gap_mm / 2)
    x, y = placed.x_mm, placed.y_mm
    boxes = [
        (x - half - far, y - half, x - half - near, y + half),
        (x + half + near, y - half, x + half + far, y + half),
        (x - half, y + half + near, x + half, y + half + far),
    ]
    return float(np.median([share[sight.window(*box)].mean() for box in boxes]))
