"""One patch on many pieces at once, point by point and without a picture: what a batch, or a workshop's year, comes to.

The physics is `fill.burn_points`; only the painting of chips and bands is left out, and harm taken as its mean.
"""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from keencoat.bench.plant.fill import Lines, burn_points, delivered_w, patch_rise_k, waist_mm
from keencoat.bench.plant.layer import Array
from keencoat.bench.plant.materials import Material
from keencoat.bench.plant.piece import SPREAD_HARMS, seen_share

_ROWS, _COLUMNS = 6, 4
_CLOUD_CV = 0.05
_RUN_UP = 3.0


@dataclass(frozen=True)
class Bench:
    """A laser with a material on its bed: rated watts, wavelength, head's acceleration, the plate's thickness."""

    material: Material
    rated_w: float
    wavelength_nm: float
    accel_mm_s2: float
    thickness_mm: float


@dataclass(frozen=True, eq=False)
class Pieces:
    """So many pieces, by arrays of shape (n,): factors of film and power, how far out of focus in mm, and the film's
    own unevenness, shape (rows, n, columns)."""

    film: Array
    power: Array
    focus_mm: Array
    cloud: Array

    def __len__(self) -> int:
        return len(self.film)

    def only(self, number: int) -> "Pieces":
        """One of them, on which several patches may be burned."""
        pick = slice(number, number + 1)
        return Pieces(self.film[pick], self.power[pick], self.focus_mm[pick], self.cloud[:, pick])


def draw_pieces(material: Material, count: int, rng: np.random.Generator) -> Pieces:
    """Pieces as they come."""
    return Pieces(
        np.exp(rng.normal(0, material.film_cv, count)),
        np.exp(rng.normal(0, material.power_cv, count)),
        rng.normal(0, material.focus_mm_sd, count),
        1 + rng.normal(0, _CLOUD_CV, (_ROWS, count, _COLUMNS)),
    )


@dataclass(frozen=True, eq=False)
class Outcome:
    """What came of each piece, arrays of shape (n,): the mark as an eye sees it 0…1, share unmarked, share harmed."""

    mark: Array
    unmarked: Array
    harmed: Array

    @property
    def harsh(self) -> NDArray[np.bool_]:
        """Pieces with too much harm; limits as in `truth.Truth`."""
        return self.harmed >= 0.02

    @property
    def clean(self) -> NDArray[np.bool_]:
        """Pieces fully marked and not harmed."""
        return ~self.harsh & (self.mark >= 0.80) & (self.unmarked <= 0.06)


def burn_many(bench: Bench, power: float, lines: Lines, pieces: Pieces, side_mm: float) -> Outcome:
    """Burn a square patch of `side_mm` at `power` (0…1) on each piece."""
    m = bench.material
    count = math.floor(side_mm / lines.interval_mm) + 1
    lit_mm = side_mm * count * lines.passes
    line_s = side_mm / lines.speed_mm_s + _RUN_UP * lines.speed_mm_s / bench.accel_mm_s2
    watts = delivered_w(m, bench.rated_w, power) * pieces.power[:, None]
    rows = (np.arange(_ROWS) + 0.5) / _ROWS
    energy_j = m.kept_share * lit_mm / lines.speed_mm_s
    rise_per_w = patch_rise_k(
        m, energy_j, side_mm**2, line_s * count * lines.passes, bench.thickness_mm, lines.passes, rows
    )
    film = m.film_um * pieces.film[:, None] * pieces.cloud
    fill = burn_points(
        m,
        lines,
        watts,
        waist_mm(m, bench.wavelength_nm, pieces.focus_mm)[:, None],
        film,
        rise_per_w[:, None, None] * watts,
    )
    if m.harm in SPREAD_HARMS:
        harmed = np.clip(0.02 * np.exp(np.minimum(12 * np.median(fill.over, axis=(0, 2)), 4.0)), 0, 0.4)
        harm = np.zeros_like(fill.mark)
    else:
        harmed, harm = fill.harm.mean(axis=(0, 2)), fill.harm
    seen = seen_share(m.look, fill.mark * (1 - harm))
    return Outcome(seen.mean(axis=(0, 2)), (seen < 0.4).mean(axis=(0, 2)), harmed)


def clean_share(bench: Bench, power: float, lines: Lines, pieces: Pieces, side_mm: float) -> float:
    """Share of pieces that come out clean."""
    return float(burn_many(bench, power, lines, pieces, side_mm).clean.mean())
