"""What a setting does to a square millimetre: areal energy, line energy, dwell, overlap.

E = P·passes/(v·h), line energy P/v, dwell = spot/v, overlap = spot/h (spot: 1/e² diameter, ISO 11146-1).
"""

from keencoat.core.quantities.setting import Machine, Setting
from keencoat.core.quantities.slice import Slice


def delivered_w(setting: Setting, machine: Machine) -> float:
    """Watts at the piece, taken as per cent of the rated watts."""
    return machine.rated_w * setting.power_pct / 100.0


def areal_energy_j_mm2(setting: Setting, machine: Machine) -> float:
    """Energy a filled area receives, J/mm²."""
    return delivered_w(setting, machine) * setting.passes / (setting.speed_mm_s * setting.interval_mm)


def line_energy_j_mm(setting: Setting, machine: Machine) -> float:
    """Energy along one scanned line in one pass, J/mm."""
    return delivered_w(setting, machine) / setting.speed_mm_s


def dwell_ms(setting: Setting, machine: Machine) -> float:
    """How long the spot covers a point in one pass, ms."""
    return 1000.0 * machine.spot_mm / setting.speed_mm_s


def overlap_lines(setting: Setting, machine: Machine) -> float:
    """How many neighbouring lines the spot covers."""
    return machine.spot_mm / setting.interval_mm


def power_for_energy_pct(energy_j_mm2: float, speed_mm_s: float, at: Slice) -> float:
    """The power in per cent that gives `energy_j_mm2`; above 100 means out of this machine's reach."""
    return 100.0 * energy_j_mm2 / at.full_j_mm2(speed_mm_s)


def minutes_per_dm2(setting: Setting) -> float:
    """Scanning time of a filled square decimetre without turn-rounds, min."""
    return setting.passes * 10_000.0 / (setting.speed_mm_s * setting.interval_mm) / 60.0
