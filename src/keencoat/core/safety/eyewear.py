"""Eyewear: the optical density that brings a direct beam down to the exposure limit.

OD = log10(H / MPE), H averaged over the limiting aperture (IEC 60825-1:2014, limits from memory). Limits are those of
ten seconds: a blink is no protection from a beam that hurts before it, or that nobody sees. Pulses meet two limits,
that of a single pulse (in a train, less) and that of their average power. Guidance to read an eyewear label by, never
clearance to work.
"""

import math
from dataclasses import dataclass
from enum import StrEnum

from keencoat.core.errors import BadValueError, require_positive
from keencoat.core.quantities import BeamSource


class Pulsing(StrEnum):
    """How a beam comes out."""

    CONTINUOUS = "continuous"
    PULSED = "pulsed"
    UNKNOWN = "unknown"


@dataclass(frozen=True)
class Emission:
    """How a machine's beam comes out; pulsed ones with the energy of a pulse, mJ, and their rate, kHz."""

    pulsing: Pulsing
    pulse_mj: float | None = None
    pulse_rate_khz: float | None = None

    def __post_init__(self) -> None:
        if self.pulsing is not Pulsing.PULSED:
            return
        for value, name, unit in ((self.pulse_mj, "pulse_mj", "mJ"), (self.pulse_rate_khz, "pulse_rate_khz", "kHz")):
            if value is None:
                raise BadValueError(
                    f"A pulsed beam needs {name}.",
                    field=name,
                    hint="It stands in the machine's manual; choose “not known” if it does not.",
                )
            require_positive(value, name, unit)


def usual_emission(source: BeamSource) -> Emission:
    """How such a beam usually comes out; most near-infrared markers are pulsed, so of those nothing is known."""
    near = source is BeamSource.NEAR_INFRARED
    return Emission(Pulsing.UNKNOWN if near else Pulsing.CONTINUOUS)


def checked_emission(emission: Emission, rated_w: float) -> Emission:
    """Return `emission` if its pulses can make up the machine's power; raises BadValueError if they make far more."""
    if emission.pulse_mj is not None and emission.pulse_rate_khz is not None:
        average_w = emission.pulse_mj * emission.pulse_rate_khz
        if average_w > 1.5 * rated_w:
            raise BadValueError(
                f"{emission.pulse_mj:g} mJ at {emission.pulse_rate_khz:g} kHz are {average_w:.3g} W; the machine has "
                f"{rated_w:g} W.",
                field="pulse_mj",
                hint="Give the energy at the rate beside it.",
            )
    return emission


@dataclass(frozen=True)
class ExposureLimit:
    """What an eye may meet: W/m² over `aperture_mm` for `seconds`; J/m² of one pulse of a long train over
    `pulse_aperture_mm`, from a nanosecond to some microseconds (longer pulses are allowed more)."""

    mpe_w_m2: float
    aperture_mm: float
    seconds: float
    pulse_j_m2: float
    pulse_aperture_mm: float


_TRAIN = 0.4
"""C5 for retinal limits and more than 600 pulses: at least so much of the single pulse's limit is left."""

LIMITS: dict[BeamSource, ExposureLimit] = {
    BeamSource.BLUE: ExposureLimit(10.0, 7.0, 10.0, _TRAIN * 2e-3, 7.0),
    BeamSource.NEAR_INFRARED: ExposureLimit(50.0, 7.0, 10.0, _TRAIN * 2e-2, 7.0),
    BeamSource.CO2: ExposureLimit(1000.0, 3.5, 10.0, 100.0, 1.0),
}


def least_optical_density(source: BeamSource, power_w: float, emission: Emission) -> float | None:
    """Optical density that eyewear needs for a direct beam of `power_w`; None where nobody said how it comes out.

    Raises BadValueError if the power is not above 0.
    """
    require_positive(power_w, "power_w", "W")
    if emission.pulsing is Pulsing.UNKNOWN:
        return None
    limit = LIMITS[source]
    needed = [power_w / _area_m2(limit.aperture_mm) / limit.mpe_w_m2]
    if emission.pulse_mj is not None:
        needed.append(emission.pulse_mj * 1e-3 / _area_m2(limit.pulse_aperture_mm) / limit.pulse_j_m2)
    return max(0.0, math.log10(max(needed)))


def _area_m2(aperture_mm: float) -> float:
    return math.pi / 4 * (aperture_mm / 1000) ** 2
