"""What an artwork does to its piece: energy, how warm its largest fill and the whole piece may get."""

from dataclasses import dataclass

from keencoat.core.findings import Finding
from keencoat.core.heat.plate import heat_findings, mean_rise_k, patch_rise_k
from keencoat.core.heat.properties import Thermal
from keencoat.core.piece import FlatPiece
from keencoat.core.quantities import Machine, Setting, areal_energy_j_mm2
from keencoat.core.toolpath import line_count


@dataclass(frozen=True)
class ArtHeat:
    """Rises in K, low and high estimate: of the middle of the largest fill, and of the whole piece."""

    fill_low_k: float
    fill_high_k: float
    plate_low_k: float
    plate_high_k: float


@dataclass(frozen=True)
class ArtBurn:
    """An artwork as it burns: side of its largest filled square, energy of the beam, time, and lines of all passes."""

    setting: Setting
    machine: Machine
    fill_mm: float
    energy_j: float
    seconds: float
    lines: int


def artwork_heat(burn: ArtBurn, piece: FlatPiece, thermal: Thermal, kept: tuple[float, float]) -> ArtHeat:
    """The rises that an artwork leads to. `kept` is the least and the largest share of the beam that stays as heat."""
    fill = 0.0
    if burn.fill_mm > 0:
        # A fill waits while its lines go on over the rest of the artwork.
        lines = burn.setting.passes * line_count(burn.fill_mm, burn.setting.interval_mm)
        burns_s = burn.seconds / burn.lines * lines
        flux = areal_energy_j_mm2(burn.setting, burn.machine) / burns_s
        fill = patch_rise_k(flux, burn.fill_mm, burns_s, piece.thickness_mm, thermal)
    plate = mean_rise_k(burn.energy_j, float(piece.outline.area), piece.thickness_mm, thermal, burn.seconds)
    low, high = kept
    return ArtHeat(thermal.at_most_k(low * fill), thermal.at_most_k(high * fill), low * plate, high * plate)


def art_heat_findings(heat: ArtHeat, thermal: Thermal) -> tuple[Finding, ...]:
    """Warnings for glass, glaze and acrylic."""
    return heat_findings(heat.fill_high_k, heat.plate_high_k, thermal, "fills")
