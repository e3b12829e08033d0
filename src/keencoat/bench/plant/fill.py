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

_BEAM_QUALITY = {True: 1.3, False: 4.0}
"""M² of a gas laser, and of a diode or fibre at these sizes."""
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
        return delivered_w(self.material, self.rated_w, power) * self.piece.power

    def waist_mm(self, height_mm: float) -> float:
        """Radius of the spot at this height of the head."""
        return float(waist_mm(self.material, self.wavelength_nm, np.array(height_mm + self.piece.focus_mm)))


def delivered_w(material: Material, rated_w: float, power: float) -> float:
    """Watts that arrive on an average day: not quite the rating, nor quite linear."""
    return float(rated_w * material.watts_factor * power**material.power_curve)


def waist_mm(material: Material, wavelength_nm: float, off_mm: Array) -> Array:
    """Radius of the spot so far out of focus: w₀√(1 + (z/zR)²)."""
    w0 = material.spot_mm / 2
    rayleigh = math.pi * w0**2 / (_BEAM_QUALITY[wavelength_nm > 5000] * wavelength_nm * 1e-6)
    return np.asarray(w0 * np.sqrt(1 + (off_mm / rayleigh) ** 2))


@dataclass(frozen=True, eq=False)
class Fill:
    """What came of a fill, point by point: `mark` 0…1, `harm` 0…1 as a density, `over` the excess over what just harms
    (0: just, below: not), `cover` how much of a line's width is marked against the lines' distance."""

    mark: Array
    harm: Array
    over: Array
    cover: Array

    @property
    def excess(self) -> float:
        """The excess in the middle."""
        return float(np.median(self.over))


@dataclass(frozen=True)
class Lines:
    """How a fill was scanned: mm/s, lines' distance in mm, passes."""

    speed_mm_s: float
    interval_mm: float
    passes: int


def heating(material: Material, watts: Array | float, speed_mm_s: float, waist: Array | float, film_um: Array) -> Array:
    """The heating index of a single line over points of film; 1 just marks. Watts and radius (mm) by point, or one."""
    m = material
    reach_um = 1000 * np.sqrt(4 * m.coat_alpha * 2 * waist / speed_mm_s)
    absorbed = -np.expm1(-m.absorbs_per_um * film_um) / -math.expm1(-m.absorbs_per_um * m.film_um)
    passed = np.exp(-0.5 * (film_um - m.film_um) / reach_um)
    # A film much thinner than meant is gone before it has handed its heat on.
    held = np.minimum(1.0, np.expm1(-2 * film_um / m.film_um) / math.expm1(-2.0))
    waist_0, speed_0 = _REFERENCE
    moving = peak_share(speed_mm_s * waist / m.alpha) / peak_share(speed_0 * waist_0 / m.alpha)
    return np.asarray(watts / m.mark_power_w * waist_0 / waist * moving * absorbed * passed * held)


def bulk_rise_k(beam: Beam, hatch: Hatch, thickness_mm: float, rows: Array) -> Array:
    """How warm the patch is, at each of `rows` (share of its height, 0 lowest) when the last pass goes over it, K."""
    left, low, right, top = hatch.box
    area = max(0.05, (right - left) * (top - low))
    duration = hatch.end_s - hatch.start_s
    energy = beam.material.kept_share * beam.watts(hatch.power) * hatch.lit_mm / hatch.speed_mm_s
    return patch_rise_k(beam.material, energy, area, duration, thickness_mm, len(hatch.passes), rows)


def patch_rise_k(
    material: Material, energy_j: float, area_mm2: float, seconds: float, thickness_mm: float, passes: int, rows: Array
) -> Array:
    """How warm a patch is that took `energy_j` in so many seconds, where the last pass goes over each of `rows`, K."""
    times = seconds * ((passes - 1) + rows) / passes
    return patch_step_k(
        energy_j / seconds / area_mm2, math.sqrt(area_mm2 / math.pi), times, thickness_mm, material.conductivity,
        material.alpha,
    )  # fmt: skip


def burn_fill(beam: Beam, hatch: Hatch, thickness_mm: float, film_um: Array, warm_k: float) -> Fill:
    """Burn a fill over its points of film, shape (rows, columns), the lowest row first; `warm_k` is left over from
    cells burned before."""
    waist = beam.waist_mm(hatch.height_mm)
    rows = (np.arange(film_um.shape[0]) + 0.5) / film_um.shape[0]
    warm = (bulk_rise_k(beam, hatch, thickness_mm, rows) + warm_k)[:, None]
    lines = Lines(hatch.speed_mm_s, hatch.interval_mm or 2 * waist, len(hatch.passes))
    return burn_points(beam.material, lines, beam.watts(hatch.power), waist, film_um, warm)


def burn_points(
    material: Material, lines: Lines, watts: Array | float, waist: Array | float, film_um: Array, warm_k: Array
) -> Fill:
    """What lines do to points of film that are `warm_k` warm already; all arrays broadcast."""
    m, interval, passes = material, lines.interval_mm, lines.passes
    film = np.maximum(film_um, 0.0)
    preheat = 1 + (m.harm_ratio - 1) / 2 * warm_k / m.bulk_limit_k
    if m.way is Way.HEAT:
        repeats = passes * np.maximum(1.0, math.sqrt(math.pi / 2) * waist / interval)
        index = heating(m, watts, lines.speed_mm_s, waist, film) * preheat * repeats ** (1 - m.incubation)
        # Liu's relation for where a spot is above what marks, D² = 2w² ln(index), heat spread added to the spot.
        spread = np.sqrt(2 * (waist**2 + 8 * m.alpha * waist / lines.speed_mm_s))
        cover = np.clip(1.15 * spread * np.sqrt(2 * np.log(np.maximum(index, 1.0))) / interval, 0, 1)
        mark = cover * _smooth((index - 0.85) / 0.35)
        over = index / m.harm_ratio - 1
        return Fill(mark, _density(over), over, cover)
    share = np.minimum(1.0, 2 * waist / interval)
    energy = watts * passes / (lines.speed_mm_s * np.maximum(interval, 2 * waist * share))
    dwell_ms = 2000 * waist / lines.speed_mm_s
    absorbed = -np.expm1(-m.absorbs_per_um * np.maximum(film, 0.3)) / -math.expm1(-m.absorbs_per_um * m.film_um)
    losses = (1 + 0.4 * np.sqrt(dwell_ms)) / 1.4
    removed = m.film_um * energy * absorbed * preheat / (m.remove_j_mm2 * losses)
    mark = share * _smooth((removed / np.maximum(film, 0.3) - 0.88) / 0.2)
    over = (removed - film) / m.spare_um - 1
    return Fill(mark, _density(over), over, np.broadcast_to(share, film.shape))


def _smooth(x: Array) -> Array:
    t = np.clip(x, 0, 1)
    return np.asarray(t * t * (3 - 2 * t))


def _density(over: Array) -> Array:
    """Harm as a share of the area, for the excess over what just harms: one and a half per cent there."""
    return np.asarray(np.clip(0.015 * np.exp(np.minimum(18 * over, 4.0)), 0, 0.6))
