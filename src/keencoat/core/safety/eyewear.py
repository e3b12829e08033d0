"""Eyewear: the optical density that brings a direct beam down to the exposure limit.

OD = log10(H / MPE), H the beam's power averaged over the limiting aperture (IEC 60825-1:2014, limits from
memory). Guidance to read an eyewear label by, never clearance to work; continuous beams only.
"""

import math
from dataclasses import dataclass

from keencoat.core.errors import require_positive
from keencoat.core.quantities.setting import BeamSource


@dataclass(frozen=True)
class ExposureLimit:
    """Largest irradiance an eye may meet, W/m², over an aperture of `aperture_mm`, for `seconds`."""

    mpe_w_m2: float
    aperture_mm: float
    seconds: float


LIMITS: dict[BeamSource, ExposureLimit] = {
    BeamSource.BLUE: ExposureLimit(25.5, 7.0, 0.25),
    BeamSource.NEAR_INFRARED: ExposureLimit(50.0, 7.0, 10.0),
    BeamSource.CO2: ExposureLimit(1000.0, 3.5, 10.0),
}


def least_optical_density(source: BeamSource, power_w: float) -> float:
    """Optical density that eyewear needs for a direct beam of `power_w`. Raises BadValueError if it is not above 0."""
    require_positive(power_w, "power_w", "W")
    limit = LIMITS[source]
    area_m2 = math.pi / 4 * (limit.aperture_mm / 1000) ** 2
    return max(0.0, math.log10(power_w / area_m2 / limit.mpe_w_m2))
