"""Lightness, contrast and colour difference: CIE 1976 L*a*b*, Weber and Michelson contrast, CIEDE2000."""

import cv2
import numpy as np

from keencoat.core.vision.photo import Floats, Pixels, luminance

_KAPPA, _EPSILON = 24389 / 27, 216 / 24389


def lightness(y: Floats) -> Floats:
    """L* of relative luminance 0…1 (CIE 15): 116·f(Y) − 16, straight below 0.008856; values below 0 count as 0."""
    y = np.maximum(y, 0)
    return np.where(y > _EPSILON, 116 * np.cbrt(y) - 16, _KAPPA * y)


def luminance_for(l_star: Floats) -> Floats:
    """Relative luminance of L*: the way back from `lightness`."""
    return np.where(l_star > _KAPPA * _EPSILON, ((l_star + 16) / 116) ** 3, l_star / _KAPPA)


def lightness_of(rgb: Pixels) -> Floats:
    """L* of sRGB pixels, shape (height, width)."""
    return np.asarray(lightness(luminance(rgb)), dtype=np.float32)


def lab_of(rgb: Floats) -> Floats:
    """L*a*b* (D65) of sRGB in 0…1, shape (height, width, 3)."""
    return np.asarray(cv2.cvtColor(rgb.astype(np.float32), cv2.COLOR_RGB2LAB), dtype=np.float32)


def weber_contrast(mark: float, ground: float) -> float:
    """(mark − ground)/ground, in luminance: for a small mark on a large ground."""
    return (mark - ground) / ground


def michelson_contrast(mark: float, ground: float) -> float:
    """(brighter − darker)/(brighter + darker), in luminance, from 0 to 1: for two alike areas."""
    return abs(mark - ground) / (mark + ground)


def delta_e_2000(one: Floats, other: Floats) -> Floats:
    """CIEDE2000 between colours in L*a*b*, shapes (…, 3) (Sharma, Wu & Dalal 2005, kL = kC = kH = 1)."""
    l1, a1, b1 = np.moveaxis(np.asarray(one, dtype=np.float64), -1, 0)
    l2, a2, b2 = np.moveaxis(np.asarray(other, dtype=np.float64), -1, 0)
    mean_c = (np.hypot(a1, b1) + np.hypot(a2, b2)) / 2
    g = 0.5 * (1 - np.sqrt(mean_c**7 / (mean_c**7 + 25.0**7)))
    a1, a2 = (1 + g) * a1, (1 + g) * a2
    c1, c2 = np.hypot(a1, b1), np.hypot(a2, b2)
    h1, h2 = np.degrees(np.arctan2(b1, a1)) % 360, np.degrees(np.arctan2(b2, a2)) % 360
    grey = c1 * c2 == 0
    turn = np.where(grey, 0, (h2 - h1 + 180) % 360 - 180)
    # A half turn exactly goes one way for a hue before the other and the other way after it.
    turn = np.where(~grey & (h2 - h1 == 180), 180, turn)
    d_l, d_c = l2 - l1, c2 - c1
    d_h = 2 * np.sqrt(c1 * c2) * np.sin(np.radians(turn / 2))
    mean_l, mean_c = (l1 + l2) / 2, (c1 + c2) / 2
    total = h1 + h2
    mean_h = np.where(np.abs(h1 - h2) <= 180, total / 2, np.where(total < 360, (total + 360) / 2, (total - 360) / 2))
    mean_h = np.where(grey, total, mean_h)
    t = (
        1
        - 0.17 * np.cos(np.radians(mean_h - 30))
        + 0.24 * np.cos(np.radians(2 * mean_h))
        + 0.32 * np.cos(np.radians(3 * mean_h + 6))
        - 0.20 * np.cos(np.radians(4 * mean_h - 63))
    )
    s_l = 1 + 0.015 * (mean_l - 50) ** 2 / np.sqrt(20 + (mean_l - 50) ** 2)
    s_c, s_h = 1 + 0.045 * mean_c, 1 + 0.015 * mean_c * t
    r_c = 2 * np.sqrt(mean_c**7 / (mean_c**7 + 25.0**7))
    r_t = -np.sin(np.radians(60 * np.exp(-(((mean_h - 275) / 25) ** 2)))) * r_c
    return np.asarray(np.sqrt((d_l / s_l) ** 2 + (d_c / s_c) ** 2 + (d_h / s_h) ** 2 + r_t * (d_c / s_c) * (d_h / s_h)))
