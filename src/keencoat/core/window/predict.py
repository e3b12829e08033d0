"""Reading the fitted window: shares of clean pieces, margins, the band for a next grid."""

from dataclasses import dataclass

import numpy as np

from keencoat.core.quantities import (
    Machine,
    Range,
    Setting,
    Slice,
    areal_energy_j_mm2,
    dwell_ms,
    minutes_per_dm2,
    power_for_energy_pct,
)
from keencoat.core.rating import Rating
from keencoat.core.window.band import EnergyBand
from keencoat.core.window.fit import WindowFit
from keencoat.core.window.model import (
    NODE_WEIGHTS,
    NODES,
    ModelPoints,
    average_chances,
    boundaries,
    piece_sd,
    points_of,
)
from keencoat.core.window.parameters import FloatArray, P

_BEYOND = 300.0
"""ln of odds that count as never and always; the product of two stays a number."""


@dataclass(frozen=True)
class SettingOdds:
    """Everything known of one setting. Margins in per cent of its energy; `harsh_beyond_machine` where the laser's own
    limit comes before the boundary."""

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


def shares(fit: WindowFit, at: ModelPoints) -> dict[Rating, FloatArray]:
    """Share of pieces with each rating, shape (draws, points): every draw averaged over its own scatter of pieces."""
    share = average_chances(fit.draws, at, fit.prior.scatter)
    return {Rating.FAINT: share.faint, Rating.CLEAN: share.clean, Rating.HARSH: share.harsh}


def clean_and_harsh(fit: WindowFit, at: ModelPoints) -> tuple[FloatArray, FloatArray]:
    """Shares of clean and of harsh pieces, shape (draws, points): `shares` for maps, where every millisecond counts."""
    return clean_between(fit, at.ln_energy, *boundaries(fit.draws, at))


def clean_between(
    fit: WindowFit, ln_energy: FloatArray, enough_at: FloatArray, harm_at: FloatArray, more_sd: float = 0.0
) -> tuple[FloatArray, FloatArray]:
    """Shares of clean and of harsh pieces, shape (draws, points), between boundaries of that shape; the energies may
    differ by draw. `more_sd` is added to the pieces' scatter."""
    by_enough, by_harm = (np.exp(fit.draws[:, p, None]) for p in (P.STEEP_ENOUGH, P.STEEP_HARM))
    own, shared = piece_sd(fit.draws, fit.prior.scatter), fit.draws[:, P.SHARED]
    sd = np.hypot(own, more_sd)[:, None]
    harm_sd = np.copysign(np.hypot(shared * own, more_sd), shared)[:, None]
    # A piece's own shift multiplies the odds: one exponential a boundary does for all nodes.
    too_little = np.exp(np.clip(by_enough * (enough_at - ln_energy), -_BEYOND, _BEYOND))
    too_much = np.exp(np.clip(by_harm * (ln_energy - harm_at), -_BEYOND, _BEYOND))
    clean, spared = np.zeros_like(enough_at), np.zeros_like(enough_at)
    for node, weight in zip(NODES, NODE_WEIGHTS, strict=True):
        whole = weight / (1 + too_much * np.exp(np.clip(-by_harm * (node * harm_sd), -_BEYOND, _BEYOND)))
        spared += whole
        clean += whole / (1 + too_little * np.exp(np.clip(by_enough * (node * sd), -_BEYOND, _BEYOND)))
    return clean, 1 - spared


def _range(values: FloatArray, centre: float | None = None) -> Range:
    low, mid, high = np.quantile(values, [0.05, 0.5, 0.95])
    return Range(float(low), float(mid) if centre is None else centre, float(high))


def odds_of(fit: WindowFit, setting: Setting, machine: Machine) -> SettingOdds:
    """What the fit says of one setting on this machine."""
    energy = areal_energy_j_mm2(setting, machine)
    at = points_of([setting], machine)
    share = shares(fit, at)
    enough, too_much = boundaries(fit.draws, at)
    to_faint = 100 * (1 - np.exp(enough[:, 0] - at.ln_energy[0]))
    to_harsh = 100 * (np.exp(too_much[:, 0] - at.ln_energy[0]) - 1)
    harsh_j_mm2 = energy * (1 + float(np.median(to_harsh)) / 100)
    full_power = power_for_energy_pct(harsh_j_mm2, setting.speed_mm_s, Slice.of(setting, machine))
    return SettingOdds(
        setting,
        energy,
        dwell_ms(setting, machine),
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
    none = np.zeros(1)
    enough, too_much = boundaries(fit.draws, ModelPoints(none, np.array([ln_dwell]), none, none, none, none, none))
    slope = float(np.median(fit.draws[:, P.SLOPE]))
    high_slope = slope + float(np.median(fit.draws[:, P.WEDGE]))
    low, high = float(np.quantile(enough, 0.2)), float(np.quantile(too_much, 0.8))
    high = max(high, low + 0.4)
    return EnergyBand(low - slope * ln_dwell, slope, high - high_slope * ln_dwell, high_slope)
