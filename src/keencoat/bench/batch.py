"""A batch of pieces at one setting, each as it comes: how many come out clean, and what was wrong with the others."""

import math
from dataclasses import dataclass

import numpy as np

from keencoat.bench.filmfield import AS_MEANT, Coated, CoatFault
from keencoat.bench.plant.exposure import Hatch
from keencoat.bench.plant.many import Bench
from keencoat.bench.plant.materials import Material, Piece, draw_piece
from keencoat.bench.plant.piece import BurnedPiece, Sheet
from keencoat.bench.plant.truth import PlantRating, Truth

_SIDE_MM = 18.0
_EDGE_MM = 2.0


@dataclass(frozen=True)
class BatchSetting:
    """What all pieces are burned with; `power` from 0 to 1."""

    power: float
    speed_mm_s: float
    interval_mm: float
    passes: int


@dataclass(frozen=True)
class BatchPiece:
    """One piece of the batch: what it came to, and how it differed from its kind."""

    number: int
    truth: Truth
    piece: Piece
    why: str


def filled_patch(setting: BatchSetting, accel_mm_s2: float, side_mm: float = _SIDE_MM) -> Hatch:
    """A filled square of the planned size, as long as a head with this acceleration takes for it."""
    lines = math.floor(side_mm / setting.interval_mm) + 1
    line_s = side_mm / setting.speed_mm_s + 3 * setting.speed_mm_s / accel_mm_s2
    rows = [(_EDGE_MM + n * setting.interval_mm, _EDGE_MM, _EDGE_MM + side_mm) for n in range(lines)]
    return Hatch(setting.power, setting.speed_mm_s, 0.0, 0.0, line_s * lines * setting.passes, [rows] * setting.passes)


def run_batch(
    bench: Bench, setting: BatchSetting, pieces: int, seed: int, coated: Coated = AS_MEANT
) -> list[BatchPiece]:
    """Burn the planned fill on so many fresh pieces."""
    side, material = _SIDE_MM + 2 * _EDGE_MM, bench.material
    done = []
    for number in range(1, pieces + 1):
        drawn = draw_piece(material, np.random.default_rng([seed, 31, number]))
        sheet = Sheet(side, side, False, bench.thickness_mm)
        piece = BurnedPiece(material, sheet, drawn, bench.rated_w, seed * 100 + number, bench.wavelength_nm, coated)
        piece.expose([filled_patch(setting, bench.accel_mm_s2)], [])
        truth = piece.truths[0]
        done.append(BatchPiece(number, truth, drawn, _why(truth, drawn, material, coated.fault)))
    return done


def _why(truth: Truth, piece: Piece, material: Material, fault: CoatFault) -> str:
    """What most likely made a piece fail: the largest departure, in its own scatter, that goes the right way."""
    if truth.verdict is PlantRating.CLEAN:
        return ""
    way = 1 if truth.verdict is PlantRating.FAINT else -1
    film = way * math.log(piece.film) / material.film_cv
    power = -way * math.log(piece.power) / material.power_cv
    focus = abs(piece.focus_mm) / material.focus_mm_sd if way > 0 else 0.0
    worst = max(film, power, focus)
    if worst < 0.5:
        return "the coat's fault" if fault is not CoatFault.NONE else "the setting sits at the edge"
    if worst == film:
        return f"coat {abs(100 * (piece.film - 1)):.0f} % {'thicker' if piece.film > 1 else 'thinner'} than usual"
    if worst == power:
        return f"beam {abs(100 * (piece.power - 1)):.0f} % {'stronger' if piece.power > 1 else 'weaker'} than usual"
    return f"{abs(piece.focus_mm):.1f} mm out of focus"
