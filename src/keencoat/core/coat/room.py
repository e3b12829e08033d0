"""The air in the room: what temperature and humidity mean for drying and for dew.

Psychrometrics by psychrolib, the formulas of ASHRAE 2017 (Fundamentals, chapter 1); checked against CoolProp.
"""

import sys
from dataclasses import dataclass
from importlib import import_module
from types import ModuleType

from keencoat.core.errors import require_within
from keencoat.core.finding_codes import FindingCode
from keencoat.core.findings import Finding, Severity


def _psychrolib() -> ModuleType:
    """psychrolib, uncompiled. Where it finds numba it compiles each formula at its first call: five seconds in every
    process that tells when a coat is dry, for answers that take microseconds."""
    numba = sys.modules.get("numba")
    sys.modules["numba"] = None  # type: ignore[assignment] # as if it were not installed
    try:
        return import_module("psychrolib")
    finally:
        if numba is None:
            del sys.modules["numba"]
        else:
            sys.modules["numba"] = numba


psychrolib = _psychrolib()
psychrolib.SetUnitSystem(psychrolib.SI)

SEA_LEVEL_PA = 101_325.0
DEW_MARGIN_K = 3.0
"""A surface must be this much warmer than the dew point before paint goes on (ISO 8502-4, from memory)."""

_COLD_C, _DAMP_PCT = 10.0, 80.0


@dataclass(frozen=True)
class Air:
    """Room air. temperature_c from −5 to 60 °C, humidity_pct from 1 to 100 % (relative)."""

    temperature_c: float
    humidity_pct: float

    def __post_init__(self) -> None:
        require_within(self.temperature_c, -5, 60, "temperature_c", "°C")
        require_within(self.humidity_pct, 1, 100, "humidity_pct", "%")

    @property
    def dew_point_c(self) -> float:
        """Temperature at which this air lays down water, °C."""
        return float(psychrolib.GetTDewPointFromRelHum(self.temperature_c, self.humidity_pct / 100))

    @property
    def wet_bulb_c(self) -> float:
        """Temperature that a wet surface settles at, °C."""
        return float(psychrolib.GetTWetBulbFromRelHum(self.temperature_c, self.humidity_pct / 100, SEA_LEVEL_PA))

    @property
    def vapour_kpa(self) -> float:
        """Water vapour in it, kPa."""
        return saturated_kpa(self.temperature_c) * self.humidity_pct / 100

    def warmed_to(self, temperature_c: float) -> "Air":
        """The same air, warmed: it keeps its water, so its relative humidity falls."""
        return Air(temperature_c, max(1.0, 100 * self.vapour_kpa / saturated_kpa(temperature_c)))


def saturated_kpa(temperature_c: float) -> float:
    """Vapour pressure of water, kPa (ASHRAE Fundamentals by psychrolib).

    >>> round(saturated_kpa(20), 3)
    2.339
    """
    return float(psychrolib.GetSatVapPres(temperature_c)) / 1000


def air_findings(air: Air, surface_c: float | None = None) -> list[Finding]:
    """What this air means for coating; `surface_c` is the piece's own temperature, the room's if None."""
    surface = air.temperature_c if surface_c is None else require_within(surface_c, -20, 80, "surface_c", "°C")
    findings = []
    above = surface - air.dew_point_c
    if above < DEW_MARGIN_K:
        findings.append(
            Finding(
                FindingCode.DEW,
                Severity.WARN,
                f"The piece is only {above:.1f} K above the dew point of {air.dew_point_c:.1f} °C: water may settle on "
                f"it unseen.",
                fix="Let cold pieces warm up in the room for an hour, or warm the room; then wipe them dry.",
                figures={"dew_point_c": air.dew_point_c, "above_k": above},
                source="iso8502-4",
            )
        )
    if air.humidity_pct > _DAMP_PCT:
        findings.append(
            Finding(
                FindingCode.DAMP,
                Severity.WARN,
                f"At {air.humidity_pct:.0f} % humidity water-borne coats hardly dry.",
                fix="A dehumidifier, a warm plate, or wait for drier air.",
                figures={"humidity_pct": air.humidity_pct},
                source="own-estimate",
            )
        )
    if air.temperature_c < _COLD_C:
        findings.append(
            Finding(
                FindingCode.COLD,
                Severity.WARN,
                f"{air.temperature_c:.0f} °C is too cold for most paints to form an even film.",
                fix="Bring pieces and paint into a room of 15 °C or more first.",
                figures={"temperature_c": air.temperature_c},
                source="common-practice",
            )
        )
    return findings
