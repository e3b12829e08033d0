"""Heat of a moving spot and of a patch, in closed forms of their own: nothing here is shared with the product.

Stationary Gaussian spot on a half-space: T = A·P·√2/(π^1.5·k·w)·atan√(8αt/w²), at last A·P/(√(2π)·k·w) (Lax 1977).
Moving: the same integral with the centre run ahead (Cline & Anthony 1977); its peak against the resting one depends
on Pe = v·w/α only. A disc source on a half-space at depth z on its axis (Carslaw & Jaeger 1959, §10.5):
T = (2q√(αt)/k)·[ierfc(z/2√(αt)) − ierfc(√(z² + a²)/2√(αt))]; images in the far face make it a plate. Both faces lose
heat to still air (Newton's law).
"""

import math
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.special import erfc

Array = NDArray[np.float64]

_TO_AIR_W_MM2K = 14e-6
"""Still air and radiation near room temperature together, 10 to 20 W/(m²·K) in handbooks; from memory."""


def resting_share(alpha_mm2_s: float, waist_mm: float, seconds: float) -> float:
    """Rise under a spot at rest after so long, as a share of its last value."""
    return math.atan(math.sqrt(8 * alpha_mm2_s * seconds) / waist_mm) * 2 / math.pi


def peak_share(peclet: Array | float) -> Array:
    """Peak rise under a moving spot as a share of the resting one's last value, for Pe = v·w/α."""
    ln_pe, share = _peak_table()
    return np.asarray(np.interp(np.log(np.maximum(peclet, 1e-6)), ln_pe, share))


@lru_cache(maxsize=1)
def _peak_table() -> tuple[Array, Array]:
    ln_pe = np.linspace(math.log(1e-3), math.log(1e4), 60)
    # s = tan φ turns ∫ ds/(1 + s²) over all time into ∫ dφ over a quarter turn.
    phi = (np.arange(800) + 0.5) / 800 * (math.pi / 2)
    s2 = np.tan(phi) ** 2
    shares = []
    for pe in np.exp(ln_pe):
        behind = -np.concatenate([[0.0], np.geomspace(1e-2, 30, 140)])[:, None]
        shares.append(np.exp(-2 * (behind + pe * s2 / 8) ** 2 / (1 + s2)).mean(axis=1).max())
    return ln_pe, np.array(shares)


def patch_step_k(
    flux_w_mm2: float, radius_mm: float, seconds: Array, thickness_mm: float, conductivity_w_mk: float, alpha: float
) -> Array:
    """Rise at the middle of a disc that takes `flux_w_mm2` from time 0 on, K, at each of `seconds`; 0 before."""
    root = 2 * np.sqrt(alpha * np.maximum(seconds, 1e-9))
    images = np.arange(40)
    z = 2.0 * images[:, None] * thickness_mm
    each = _ierfc(z / root) - _ierfc(np.hypot(z, radius_mm) / root)
    total = np.where(images == 0, 1, 2) @ each
    # W/mm² over W/(m·K) with √(αt) in mm: a factor of 1000.
    rise = flux_w_mm2 * root / conductivity_w_mk * 1000 * total
    return np.where(seconds > 0, rise, 0.0)


def cooling_s(thickness_mm: float, conductivity_w_mk: float, alpha: float) -> float:
    """Time constant with which a plate cools in air on both faces, s: its heat capacity over 2h."""
    capacity_j_mm2k = conductivity_w_mk * 1e-3 / alpha * thickness_mm
    return capacity_j_mm2k / (2 * _TO_AIR_W_MM2K)


def kept_in_air(seconds: Array, cools_s: float) -> Array:
    """Share of a steady intake that is still there after so long: (1 − e^(−t/τ))/(t/τ)."""
    x = np.maximum(seconds, 1e-9) / cools_s
    return np.asarray(-np.expm1(-x) / x)


def _ierfc(x: Array) -> Array:
    return np.asarray(np.exp(-(x**2)) / math.sqrt(math.pi) - x * erfc(x))
