"""How wide a beam is off its focus, and what an error of height does.

w(z)² = w₀²·(1 + (z/z_R)²), z_R = π·w₀²/(M²·λ) (ISO 11146-1), w₀ the 1/e² radius. z_R is taken from a machine's own
focus ladder where one was burned; otherwise from a beam quality as such machines have it.
"""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from keencoat.core.errors import require_positive
from keencoat.core.quantities import BeamSource, Machine

Floats = NDArray[np.float64]

_USUAL_M2 = {BeamSource.BLUE: 8.0, BeamSource.NEAR_INFRARED: 1.6, BeamSource.CO2: 1.3}
"""Beam quality where nobody has measured it (own estimates): diode bars in one spot are far from diffraction."""
_HARDLY_WIDER = 1.1


@dataclass(frozen=True)
class Beam:
    """A beam's 1/e² radius in focus and the distance at which it is √2 as wide, mm; whether a ladder says so."""

    waist_mm: float
    rayleigh_mm: float
    measured: bool

    def __post_init__(self) -> None:
        require_positive(self.waist_mm, "waist_mm", "mm")
        require_positive(self.rayleigh_mm, "rayleigh_mm", "mm")

    def wider(self, off_mm: Floats) -> Floats:
        """How many times as wide the beam is so far from its focus.

        >>> Beam(0.04, 1.0, False).wider(np.array([0.0, 1.0])).round(4).tolist()
        [1.0, 1.4142]
        """
        return np.sqrt(1 + (off_mm / self.rayleigh_mm) ** 2)

    @property
    def depth_mm(self) -> float:
        """How far from its focus it is a tenth wider: what heights must be held to, one way."""
        return self.rayleigh_mm * math.sqrt(_HARDLY_WIDER**2 - 1)


def usual_beam(machine: Machine) -> Beam:
    """What a machine's beam is like by its spot and wavelength alone."""
    waist = machine.spot_mm / 2
    wavelength_mm = machine.source.wavelength_nm * 1e-6
    return Beam(waist, math.pi * waist**2 / (_USUAL_M2[machine.source] * wavelength_mm), False)
