"""What in a photo is not the bench: how unlike each place is to what the photo's own border leads one to expect there.

A full mark to the edge, or a tile half dark and half bright, has no border that is lighter or darker all round; it is
unlike the bench all round, in colour if not in light.
"""

import cv2
import numpy as np

from keencoat.core.vision.photo import Floats, Pixels
from keencoat.core.vision.surface import fit_surface

_BORDER, _GRAIN = 0.04, 2.0


def unlikeness(rgb: Pixels) -> Floats:
    """Distance from the bench in CIELAB, in scatters of its own; shape (height, width). The border of the photo,
    a twenty-fifth of its height all round, is taken for bench."""
    lab = cv2.GaussianBlur(cv2.cvtColor(rgb.astype(np.float32) / 255, cv2.COLOR_RGB2LAB), (0, 0), _GRAIN)
    height, width = lab.shape[:2]
    ring = np.ones((height, width), dtype=bool)
    deep = max(2, round(_BORDER * min(height, width)))
    ring[deep:-deep, deep:-deep] = False
    apart = np.zeros((height, width), dtype=np.float32)
    for channel in range(3):
        values = np.asarray(lab[..., channel], dtype=np.float64)
        surface, scatter = fit_surface(values, ring)
        apart += ((values - surface) / max(1.0, scatter)) ** 2
    return np.asarray(np.sqrt(apart), dtype=np.float32)
