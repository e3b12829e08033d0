"""What a fill does to a coat, point by point: heat passed on, or coat taken off.

The heating index is 1 where a mark just begins. It grows with the absorbed power of the spot (Beer–Lambert in the
film), falls with speed as a moving Gaussian source does, is held back by a thick film while the dwell is short
(diffusion length √(4αt)) and starved by a thin one, rises with what the patch has warmed up, and with repeated passes
of the spot (incubation, Jee, Becker & Walser 1988).
"""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from keencoat.bench.plant.exposure import Hatch
from keencoat.bench.plant.heat import patch_step_k, peak_share
from keencoat.bench.plant.materials import Material, Piece, Way

Array = NDArray[np.float64]

_M2 = 4.0
_REFERENCE = (0.05, 100.0)


@dataclass(frozen=True)
class Beam:
    """The beam on one piece: delivered watts at S from 0 to 1, and the 1/e² radius where the piece lies, mm."""

    rated_w: float
    wavelength_nm: float
    material: Material
    piece: Piece

    def watts(self, power: float) -> float:
        """Watts that arrive: not quite the rating, nor quite linear."""
        m = self.material
        return float(self.rated_w * m.watts_factor * self.piece.power * power**m.power_curve)

    def waist_mm(self, height_mm: float) -> float:
        """Radius of the spot at this height of the head: w₀√(1 + (z/zR)²)."""
        w0 = self.material.spot_mm / 2
        rayleigh = math.pi * w0**2 / (_M2 * self.wavelength_nm * 1e-6)
        return w0 * math.sqrt(1 + ((height_mm + self.piece.focus_mm) / rayleigh) ** 2)


@dataclass(frozen=True, eq=False)
class Fill:
    """What came of a fill: `mark` 0…1, `harm` 0…1 as a density, both over the film's points; the excess over harm in
    the middle (0: just harmful, below: not); how much of a line's width is marked against the lines' distance."""

    mark: Array
    harm: Array
    excess: float
    cover: float


def heating(beam: Beam, watts: float, speed_mm_s: float, waist_mm: float, film_um: Array) -> Array:
    """The heating index of a single line over points of film; 1 just marks."""
    m = beam.material
    dwell_s = 2 * waist_mm / speed_mm_s
    reach_um = 1000 * math.sqrt(4 * m.coat_alpha * dwell_s)
    absorbed = -np.expm1(-m.absorbs_per_um * film_um) / -math.expm1(-m.absorbs_per_um * m.film_um)
    passed = np.exp(-0.5 * (film_um - m.film_um) / reach_um)
    # A film much thinner than meant is gone before it has handed its heat on.
    held = np.minimum(1.0, np.expm1(-2 * film_um / m.film_um) / math.expm1(-2.0))
    waist_0, speed_0 = _REFERENCE
    moving = peak_share(speed_mm_s * waist_mm / m.alpha) / peak_share(speed_0 * waist_0 / m.alpha)
    return np.asarray(watts / m.mark_power_w * waist_0 / waist_mm * float(moving) * absorbed * passed * held)


def bulk_rise_k(beam: Beam, hatch: Hatch, thickness_mm: float, rows: Array) -> Array:
    """How warm the patch is, at each of `rows` (share of its height, 0 lowest) when the last pass goes over it, K."""
    m = beam.material
    left, low, right, top = hatch.box
    area = max(0.05, (right - left) * (top - low))
    duration = hatch.end_s - hatch.start_s
    energy = m.kept_share * beam.watts(hatch.power) * hatch.lit_mm / hatch.speed_mm_s
    passes = len(hatch.passes)
    times = duration * ((passes - 1) + rows) / passes
    return patch_step_k(
        energy / duration / area, math.sqrt(area / math.pi), times, thickness_mm, m.conductivity, m.alpha
    )


def burn_fill(beam: Beam, hatch: Hatch, thickness_mm: float, film_um: Array, warm_k: float) -> Fill:
    """Burn a fill over its points of film, shape (rows, columns), the lowest row first; `warm_k` is left over from
    cells burned before."""
    m = beam.material
    film = np.maximum(film_um, 0.0)
    waist, watts = beam.waist_mm(hatch.height_mm), beam.watts(hatch.power)
    interval = hatch.interval_mm or 2 * waist
    rows = (np.arange(film.shape[0]) + 0.5) / film.shape[0]
    warm = (bulk_rise_k(beam, hatch, thickness_mm, rows) + warm_k)[:, None]
    preheat = 1 + (m.harm_ratio - 1) / 2 * warm / m.bulk_limit_k
    passes = len(hatch.passes)
    if m.way is Way.HEAT:
        repeats = passes * max(1.0, math.sqrt(math.pi / 2) * waist / interval)
        index = heating(beam, watts, hatch.speed_mm_s, waist, film) * preheat * repeats ** (1 - m.incubation)
        # Liu's relation for where a spot is above what marks, D² = 2w² ln(index), heat spread added to the spot.
        spread = math.sqrt(2 * (waist**2 + 8 * m.alpha * waist / hatch.speed_mm_s))
        width = spread * np.sqrt(2 * np.log(np.maximum(index, 1.0)))
        cover = np.clip(1.15 * width / interval, 0, 1)
        mark = cover * _smooth((index - 0.85) / 0.35)
        over = index / m.harm_ratio - 1
        return Fill(mark, _density(over), float(np.median(over)), float(np.median(cover)))
    share = min(1.0, 2 * waist / interval)
    energy = watts * passes / (hatch.speed_mm_s * max(interval, 2 * waist * share))
    dwell_ms = 2000 * waist / hatch.speed_mm_s
    absorbed = -np.expm1(-m.absorbs_per_um * np.maximum(film, 0.3)) / -math.expm1(-m.absorbs_per_um * m.film_um)
    losses = (1 + 0.4 * math.sqrt(dwell_ms)) / 1.4
    removed = m.film_um * energy * absorbed * preheat / (m.remove_j_mm2 * losses)
    mark = share * _smooth((removed / np.maximum(film, 0.3) - 0.88) / 0.2)
    over = (removed - film) / m.spare_um - 1
    return Fill(mark, _density(over), float(np.median(over)), share)


def _smooth(x: Array) -> Array:
    t = np.clip(x, 0, 1)
    return np.asarray(t * t * (3 - 2 * t))


def _density(over: Array) -> Array:
    """Harm as a share of the area, for the excess over what just harms: one and a half per cent there."""
    return np.asarray(np.clip(0.015 * np.exp(np.minimum(18 * over, 4.0)), 0, 0.6))
