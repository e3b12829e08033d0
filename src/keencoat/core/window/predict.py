"""Reading the fitted window: shares of clean pieces, margins, the map, the band for a next grid."""

from dataclasses import dataclass

import numpy as np

from keencoat.core.errors import require_within
from keencoat.core.quantities.energy import areal_energy_j_mm2, dwell_ms, minutes_per_dm2, power_for_energy_pct
from keencoat.core.quantities.setting import Machine, Setting
from keencoat.core.window.band import EnergyBand
from keencoat.core.window.fit import WindowFit
from keencoat.core.window.model import Rating, boundary_ln_energy, chances
from keencoat.core.window.priors import FloatArray

_NODES, _NODE_WEIGHTS = np.polynomial.hermite_e.hermegauss(4)
_NODE_WEIGHTS = _NODE_WEIGHTS / _NODE_WEIGHTS.sum()


@dataclass(frozen=True)
class Scatter:
    """How much a shop varies from piece to piece, as coefficients of variation (0.1 = 10 %)."""

    coat_cv: float = 0.12
    power_cv: float = 0.04
    focus_cv: float = 0.05

    def __post_init__(self) -> None:
        for name in ("coat_cv", "power_cv", "focus_cv"):
            require_within(getattr(self, name), 0, 1, name)

    def ln_sd(self, pieces_burned: int) -> float:
        """Spread in ln energy of a next piece, seen from a fit on `pieces_burned` pieces.

        Coat, power and focus each act like a change of energy, and the test pieces were samples of the same
        scatter: their mean is off by 1/√n of it.
        """
        one_piece = self.coat_cv**2 + self.power_cv**2 + self.focus_cv**2
        return float(np.sqrt(one_piece * (1 + 1 / max(1, pieces_burned))))


@dataclass(frozen=True)
class Range:
    """An estimate with the range that holds it nine times in ten."""

    low: float
    mid: float
    high: float


@dataclass(frozen=True)
class PointReading:
    """Everything known of one setting. Margins in per cent of its energy; None where nothing stops it there."""

    setting: Setting
    energy_j_mm2: float
    dwell_ms: float
    minutes_per_dm2: float
    clean: Range
    faint: float
    harsh: float
    margin_to_faint_pct: Range
    margin_to_harsh_pct: Range
    harsh_beyond_machine: bool


def shares(fit: WindowFit, ln_energy: FloatArray, ln_dwell: FloatArray, ln_sd: float) -> dict[Rating, FloatArray]:
    """Share of pieces with each rating, scatter averaged, shape (draws, points)."""
    total: dict[Rating, FloatArray] = {}
    for node, weight in zip(_NODES, _NODE_WEIGHTS, strict=True):
        p = chances(fit.draws, ln_energy + node * ln_sd, ln_dwell)
        for rating, share in ((Rating.FAINT, p.faint), (Rating.CLEAN, p.clean), (Rating.HARSH, p.harsh)):
            total[rating] = weight * share + total.get(rating, 0.0)
    return total


def _range(values: FloatArray, centre: float | None = None) -> Range:
    low, mid, high = np.quantile(values, [0.05, 0.5, 0.95])
    return Range(float(low), float(mid) if centre is None else centre, float(high))


def read_point(fit: WindowFit, setting: Setting, machine: Machine, ln_sd: float) -> PointReading:
    """What the fit says of one setting on this machine."""
    energy, dwell = areal_energy_j_mm2(setting, machine), dwell_ms(setting, machine)
    ln_energy, ln_dwell = np.array([np.log(energy)]), np.array([np.log(dwell)])
    share = shares(fit, ln_energy, ln_dwell, ln_sd)
    enough, too_much = boundary_ln_energy(fit.draws, ln_dwell)
    to_faint = 100 * (1 - np.exp(enough[:, 0] - ln_energy[0]))
    to_harsh = 100 * (np.exp(too_much[:, 0] - ln_energy[0]) - 1)
    full_power = power_for_energy_pct(
        energy * (1 + float(np.median(to_harsh)) / 100),
        setting.speed_mm_s,
        setting.interval_mm,
        setting.passes,
        machine.rated_w,
    )
    return PointReading(
        setting,
        energy,
        dwell,
        minutes_per_dm2(setting),
        _range(share[Rating.CLEAN][:, 0], float(share[Rating.CLEAN].mean())),
        float(share[Rating.FAINT].mean()),
        float(share[Rating.HARSH].mean()),
        _range(to_faint),
        _range(to_harsh),
        full_power > 100,
    )


def next_band(fit: WindowFit, ln_dwell: float = 0.0) -> EnergyBand:
    """The energies that a next grid should span around `ln_dwell`: from hardly enough to nearly surely too much."""
    enough, too_much = boundary_ln_energy(fit.draws, np.array([ln_dwell]))
    low_slope, high_slope = float(np.median(fit.draws[:, 1])), float(np.median(fit.draws[:, 4]))
    low, high = float(np.quantile(enough, 0.2)), float(np.quantile(too_much, 0.8))
    return EnergyBand(low - low_slope * ln_dwell, low_slope, high - high_slope * ln_dwell, high_slope)
