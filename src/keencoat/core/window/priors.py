"""What we believe before the first cell, by process and beam: wide, and stated.

Parameters, for the two boundaries “enough” (1) and “too much” (2), in x = ln(J/mm²) and d = ln(dwell in ms):
a, the boundary's ln energy at 1 ms dwell; b, its slope in d; c, ln of the steepness with which ratings turn
from one to the other. Order of the vector: a1, b1, c1, a2, b2, c2.

A slope near 0.5 is what heat conduction gives: the depth heated in a time t grows with √t, so the energy
needed does too (Carslaw & Jaeger 1959). Centres come from settings that makers report (common practice,
no source) or are our own estimates; the latter are wider.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from keencoat.core.quantities.setting import BeamSource
from keencoat.core.sources import SOURCES

FloatArray = NDArray[np.float64]

STEEPNESS_LN_MEAN = float(np.log(8.0))
STEEPNESS_LN_SD = 0.4
SLOPE_SD = 0.2
WIDTH_SD = 0.5
LAPSE = 0.02
"""Share of ratings that say nothing: a slip of the key, a fingerprint."""


@dataclass(frozen=True)
class WindowPrior:
    """Beliefs in figures that a maker can read; `mean` and `cov` give them as a Gaussian.

    centre_j_mm2: middle of the clean band at 1 ms dwell. width_ln: ln(too much / enough).
    """

    centre_j_mm2: float
    centre_sd_ln: float
    width_ln: float
    slope: float
    source: str
    lapse: float = LAPSE

    @property
    def mean(self) -> FloatArray:
        """Mean of (a1, b1, c1, a2, b2, c2)."""
        enough_ln = float(np.log(self.centre_j_mm2)) - self.width_ln / 2
        return np.array(
            [enough_ln, self.slope, STEEPNESS_LN_MEAN, enough_ln + self.width_ln, self.slope, STEEPNESS_LN_MEAN]
        )

    @property
    def cov(self) -> FloatArray:
        """Covariance: both boundaries share the doubt of the centre and half the doubt of the slope."""
        centre_var, slope_var = self.centre_sd_ln**2, SLOPE_SD**2
        cov = np.diag([centre_var, slope_var, STEEPNESS_LN_SD**2] * 2)
        cov[3, 3] += WIDTH_SD**2
        cov[0, 3] = cov[3, 0] = centre_var
        cov[1, 4] = cov[4, 1] = 0.5 * slope_var
        return cov

    @property
    def source_text(self) -> str:
        """Where the centre comes from, in words."""
        return SOURCES[self.source].text


def _reported(centre_j_mm2: float, width_ln: float, slope: float) -> WindowPrior:
    return WindowPrior(centre_j_mm2, 0.6, width_ln, slope, "common-practice")


def _guessed(centre_j_mm2: float, width_ln: float = 1.1, slope: float = 0.4) -> WindowPrior:
    return WindowPrior(centre_j_mm2, 0.9, width_ln, slope, "own-estimate")


BLUE, NIR, CO2 = BeamSource.BLUE, BeamSource.NEAR_INFRARED, BeamSource.CO2

PRIORS: dict[tuple[str, BeamSource], WindowPrior] = {
    ("frost", BLUE): _reported(2.1, 1.3, 0.5),
    ("frost", NIR): _guessed(2.5),
    ("frost", CO2): _guessed(0.8),
    ("fuse", BLUE): _reported(1.45, 1.3, 0.4),
    ("fuse", NIR): _guessed(2.0),
    ("fuse", CO2): _guessed(1.2),
    ("reveal", BLUE): _reported(0.30, 1.1, 0.25),
    ("reveal", NIR): _guessed(0.5),
    ("reveal", CO2): _reported(0.34, 1.1, 0.25),
    ("back_engrave", BLUE): _guessed(1.0, width_ln=0.9),
    ("protect", CO2): _guessed(0.8),
    ("ablate", BLUE): _guessed(3.0, width_ln=1.3),
    ("ablate", NIR): _guessed(1.5, width_ln=1.3),
    ("ablate", CO2): _guessed(1.2, width_ln=1.3),
    ("resist", BLUE): _guessed(1.5, width_ln=1.5),
    ("resist", NIR): _guessed(1.0, width_ln=1.5),
}


def prior_for(process_key: str, source: BeamSource) -> WindowPrior:
    """The prior of a process under a beam; KeyError cannot happen for pairs that `assess` lets through (tested)."""
    return PRIORS[(process_key, source)]
