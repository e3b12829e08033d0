"""What a fill does, point by point: the mark it makes or the coat it takes off, and the damage it does to the piece.

Mark and damage have laws of their own. The mark goes by the heat of a passing line at the face, once through the layer
(`layer`), with repeats of the spot (incubation; Jee, Becker & Walser 1988); a coat that is taken off goes by energy
against its thickness, once a line is hot enough to lift it. Damage goes by the heat a little under the face, which lags
behind a fast spot, by lines that crowd, by the warmth of the patch, and by bursting where the spot is too bright.
"""

import math
from dataclasses import dataclass

import numpy as np

from keencoat.bench.plant.exposure import Hatch
from keencoat.bench.plant.heat import cooling_s, kept_in_air, patch_step_k, peak_share, resting_share
from keencoat.bench.plant.layer import Array, absorbed, bursting, in_time, lasting, unblocked
from keencoat.bench.plant.materials import Material, Piece, Way

_BEAM_QUALITY = {True: 1.3, False: 4.0}
"""M² of a gas laser, and of a diode or fibre at these sizes."""
_REFERENCE = (0.05, 100.0)
_MARK_WARMS, _BY_ENERGY, _NO_FILM_UM = 0.4, 0.6, 0.3


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


@dataclass(frozen=True, eq=False)
class Under:
    """Points under lines; all of it by point, or one for all: watts, the spot's radius in mm, µm of film, how warm the
    piece is already (`warmth_of`), and how many lines lie on a spot."""

    watts: Array | float
    waist: Array | float
    film: Array
    warm: Array | float
    near: Array | float


def heating(material: Material, watts: Array | float, speed_mm_s: float, waist: Array | float, film_um: Array) -> Array:
    """The heating index of a single line over points of film; 1 just marks. Watts and radius (mm) by point, or one."""
    m = material
    layer = absorbed(m, film_um) * lasting(m, film_um) * unblocked(m, film_um) * in_time(m, film_um, waist, speed_mm_s)
    waist_0, _ = _REFERENCE
    return np.asarray(watts / m.mark_power_w * waist_0 / waist * _moving(m.alpha, waist, waist_0, speed_mm_s) * layer)


def standing(material: Material, watts: float, waist_mm: float, seconds: float) -> float:
    """The heating index of a spot that stands still for so long on the nominal coat (Lax 1977)."""
    waist_0, speed_0 = _REFERENCE
    share = resting_share(material.alpha, waist_mm, seconds) / float(peak_share(speed_0 * waist_0 / material.alpha))
    return watts / material.mark_power_w * waist_0 / waist_mm * share


def _moving(alpha: float, waist: Array | float, waist_0: float, speed_mm_s: float) -> Array:
    """Peak of a moving spot against the same spot's at the reference."""
    _, speed_0 = _REFERENCE
    return np.asarray(peak_share(speed_mm_s * waist / alpha) / peak_share(speed_0 * waist_0 / alpha))


def _under_the_face(material: Material, alpha: float, waist: Array | float, lines: Lines, near: Array | float) -> Array:
    """The heat where damage begins, for a watt, against the reference: the spot seen wider by its depth, behind it the
    lag of what has to get there, and lines that crowd or come again."""
    m, (waist_0, speed_0) = material, _REFERENCE
    wide, wide_0 = np.hypot(waist, m.deep_mm), math.hypot(waist_0, m.deep_mm)
    lag = m.deep_mm / np.sqrt(8 * alpha * waist / lines.speed_mm_s)
    lag_0 = m.deep_mm / math.sqrt(8 * alpha * waist_0 / speed_0)
    crowd = np.maximum(1.0, near) ** m.crowding
    again = lines.passes ** (1 - m.harm_incubation)
    return np.asarray(
        wide_0 / wide * _moving(alpha, wide, wide_0, lines.speed_mm_s) * np.exp(lag_0 - lag) * crowd * again
    )


def lines_on_a_spot(waist: Array | float, interval_mm: float) -> Array:
    """How many lines so far apart a spot reaches over."""
    return np.asarray(math.sqrt(math.pi / 2) * waist / interval_mm)


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
    rise = patch_step_k(
        energy_j / seconds / area_mm2,
        math.sqrt(area_mm2 / math.pi),
        times,
        thickness_mm,
        material.conductivity,
        material.alpha,
    )
    cools_s = cooling_s(thickness_mm, material.conductivity, material.alpha)
    return rise * kept_in_air(times, cools_s)


def burn_fill(beam: Beam, hatch: Hatch, thickness_mm: float, film_um: Array, warm_k: float) -> Fill:
    """Burn a fill over its points of film, shape (rows, columns), the lowest row first; `warm_k` is left over from
    cells burned before."""
    waist = beam.waist_mm(hatch.height_mm)
    rows = (np.arange(film_um.shape[0]) + 0.5) / film_um.shape[0]
    warm = (bulk_rise_k(beam, hatch, thickness_mm, rows) + warm_k)[:, None]
    lines = Lines(hatch.speed_mm_s, hatch.interval_mm or 2 * waist, len(hatch.passes))
    return burn_points(beam.material, lines, beam.watts(hatch.power), waist, film_um, warm)


def warmth_of(material: Material, warm_k: Array) -> Array:
    """How much hotter what is `warm_k` warm already gets, as damage counts it."""
    return np.asarray((material.harm_ratio - 1) / 2 * warm_k / material.bulk_limit_k)


def burn_points(
    material: Material, lines: Lines, watts: Array | float, waist: Array | float, film_um: Array, warm_k: Array
) -> Fill:
    """What lines do to points of film that are `warm_k` warm already; all arrays broadcast."""
    near = lines_on_a_spot(waist, lines.interval_mm)
    at = Under(watts, waist, np.maximum(film_um, 0.0), warmth_of(material, warm_k), near)
    burn = _heat_points if material.way is Way.HEAT else _lift_points
    return burn(material, lines, at)


def _heat_points(material: Material, lines: Lines, at: Under) -> Fill:
    index = heat_index(material, lines, at)
    cover = np.clip(marked_mm(material, lines.speed_mm_s, at.waist, index) / lines.interval_mm, 0, 1)
    over = heat_over(material, lines, at)
    return Fill(cover * marks(index), harm_density(over), over, cover)


def heat_index(material: Material, lines: Lines, at: Under) -> Array:
    """The heating index of lines."""
    repeats = lines.passes * np.maximum(1.0, at.near)
    hotter = (1 + _MARK_WARMS * at.warm) * repeats ** (1 - material.incubation)
    return np.asarray(heating(material, at.watts, lines.speed_mm_s, at.waist, at.film) * hotter)


def marked_mm(material: Material, speed_mm_s: float, waist: Array | float, index: Array) -> Array:
    """How wide a line marks: Liu's relation for where a spot is above what marks, D² = 2w² ln(index), the heat's spread
    added to the spot."""
    spread = np.sqrt(2 * (waist**2 + 8 * material.alpha * waist / speed_mm_s))
    return np.asarray(1.15 * spread * np.sqrt(2 * np.log(np.maximum(index, 1.0))))


def marks(index: Array) -> Array:
    """How full a mark is in the middle of a line, 0…1."""
    return _smooth((index - 0.85) / 0.35)


def heat_over(material: Material, lines: Lines, at: Under) -> Array:
    """The excess over what just harms."""
    m = material
    # A thick film spares the piece less than it keeps the mark from it: what it holds it gives off slowly.
    through = absorbed(m, at.film) * np.sqrt(unblocked(m, at.film))
    under = _under_the_face(m, m.alpha, at.waist, lines, at.near)
    damage = at.watts / (m.mark_power_w * m.harm_ratio) * through * under * (1 + at.warm)
    return np.asarray(np.maximum(damage, bursting(m, at.watts, at.waist, at.film)) - 1)


def _lift_points(material: Material, lines: Lines, at: Under) -> Fill:
    share = np.minimum(1.0, 2 * at.waist / lines.interval_mm)
    energy = at.watts * lines.passes / (lines.speed_mm_s * np.maximum(lines.interval_mm, 2 * at.waist * share))
    lifted, over = lift_points(material, lines, at, energy)
    return Fill(share * clears(lifted), harm_density(over), over, np.broadcast_to(share, at.film.shape))


def lift_points(material: Material, lines: Lines, at: Under, energy_j_mm2: Array | float) -> tuple[Array, Array]:
    """How much of a coat is lifted where that much energy arrives, 1 for all of it, and the excess over what harms."""
    m, (waist_0, speed_0) = material, _REFERENCE
    layer = np.maximum(at.film, _NO_FILM_UM)
    losses = _losses(2000 * at.waist / lines.speed_mm_s) / _losses(1.0)
    # Under what lifts the layer it only bakes, however often the line comes by.
    lifts = _smooth((heating(m, at.watts, lines.speed_mm_s, at.waist, np.minimum(layer, m.film_um)) - 0.7) / 0.5)
    kept = absorbed(m, layer) * unblocked(m, layer) * (1 + _MARK_WARMS * at.warm)
    taken = energy_j_mm2 / (m.remove_j_mm2 * losses) * kept
    usual_w = m.remove_j_mm2 * speed_0 * 2 * waist_0
    heat = at.watts / usual_w * _under_the_face(m, m.coat_alpha, at.waist, lines, at.near) * (1 + at.warm)
    over = (taken * m.film_um / layer) ** _BY_ENERGY * heat ** (1 - _BY_ENERGY) / m.harm_ratio - 1
    return lifts * taken * m.film_um / layer, np.asarray(over)


def clears(lifted: Array) -> Array:
    """How much of the ground shows, 0…1, where so much of the coat is lifted."""
    return _smooth((lifted - 0.88) / 0.2)


def _losses(dwell_ms: Array | float) -> Array:
    return np.asarray(1 + 0.4 * np.sqrt(dwell_ms))


def _smooth(x: Array) -> Array:
    t = np.clip(x, 0, 1)
    return np.asarray(t * t * (3 - 2 * t))


def harm_density(over: Array) -> Array:
    """Harm as a share of the area, for the excess over what just harms: one and a half per cent there."""
    return np.asarray(np.clip(0.015 * np.exp(np.minimum(18 * over, 4.0)), 0, 0.6))
