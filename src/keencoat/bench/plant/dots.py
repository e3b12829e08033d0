"""A fill in dots, or in lines of unlike length: burned line by line, at twice the piece's own resolution.

Heat builds up behind the front of the beam and lags behind its end, so that dots smear the way the head goes, and the
shortest never get as hot as a line. How wide a place marks, how much is lifted and what it damages are the fill's own
laws (`fill`), with the lines that are really lit near it.
"""

import math
from dataclasses import dataclass

import cv2
import numpy as np
from scipy.ndimage import correlate1d

from keencoat.bench.plant.exposure import Hatch
from keencoat.bench.plant.fill import (
    Beam,
    Lines,
    Under,
    bulk_rise_k,
    clears,
    harm_density,
    heat_index,
    heat_over,
    lift_points,
    lines_on_a_spot,
    marked_mm,
    marks,
    warmth_of,
)
from keencoat.bench.plant.layer import Array
from keencoat.bench.plant.materials import Material, Way

FINER = 2
REACH_MM = 0.3
_BUILDS_UP, _LIFTS_WIDE, _WARMS_MM, _LIT = 0.5, 2.0, 4.0, 0.5


@dataclass(frozen=True)
class Canvas:
    """Where a fill falls on the piece: its lower left corner, mm, and its size in the piece's own pixels."""

    left_mm: float
    low_mm: float
    rows: int
    columns: int
    px_per_mm: int

    @property
    def fine(self) -> int:
        """Points a millimetre while it burns."""
        return FINER * self.px_per_mm


@dataclass(frozen=True, eq=False)
class Dotted:
    """What came of it by pixel, the lowest row first: `mark`, `harm` as a density, where it was lit; `excess` over what
    just harms, where it was worst but for a twentieth."""

    mark: Array
    harm: Array
    lit: Array
    excess: float


@dataclass(frozen=True, eq=False)
class _Laid:
    """Lines on the canvas: where they lie, mm; `hot`, shape (lines, points): how far the heat has come up, 0…1;
    `near`: lines on a spot."""

    y_mm: Array
    hot: Array
    near: Array


def burn_dots(beam: Beam, hatch: Hatch, thickness_mm: float, film_um: Array, warm_k: float, canvas: Canvas) -> Dotted:
    """Burn a fill over a canvas; `film_um` by its pixels, the lowest row first; `warm_k` is left over from before."""
    m, waist = beam.material, beam.waist_mm(hatch.height_mm)
    interval = hatch.interval_mm or 2 * waist
    laid = _lay(hatch, interval, waist, canvas)
    lines = Lines(hatch.speed_mm_s, interval, len(hatch.passes))
    count = len(laid.y_mm)
    rises = bulk_rise_k(beam, hatch, thickness_mm, (np.arange(count) + 0.5) / count)[:, None]
    around = cv2.blur(laid.hot, (round(_WARMS_MM * canvas.fine), max(1, round(_WARMS_MM / interval))))
    warm = warmth_of(m, rises * around / max(1e-6, float(laid.hot.mean())) + warm_k)
    rows = np.clip(((laid.y_mm - canvas.low_mm) * canvas.px_per_mm).astype(int), 0, canvas.rows - 1)
    film = np.repeat(np.maximum(film_um, 0.0)[rows], FINER, axis=1)
    watts = beam.watts(hatch.power)
    line = _line_of_row(laid.y_mm, interval, canvas)
    if m.way is Way.HEAT:
        under = Under(watts, waist, film, warm, laid.near)
        index = heat_index(m, lines, under) * laid.hot
        mark = _drawn(marked_mm(m, hatch.speed_mm_s, waist, index) / 2, marks(index), laid.y_mm, canvas)
        over = heat_over(m, lines, under)
    else:
        energy = watts * lines.passes / hatch.speed_mm_s * _spread(m, hatch.speed_mm_s, waist, laid, canvas)
        lifted, over = lift_points(m, lines, Under(watts, waist, film[line], warm[line], laid.near[line]), energy)
        mark = clears(lifted)
        over = over[_row_of_line(laid.y_mm, canvas)]
    over = (1 + over) * laid.hot - 1
    lit = np.where(laid.hot > _LIT, 1.0, 0.0)
    fill = lit[line] * _reached(laid.y_mm, interval, canvas)[:, None]
    worst = over[lit > 0]
    return Dotted(
        _coarse(np.clip(mark, 0, 1)),
        _coarse(harm_density(over)[line] * fill),
        _coarse(fill),
        float(np.quantile(worst, 0.95)) if worst.size else -1.0,
    )


def _lay(hatch: Hatch, interval: float, waist: float, canvas: Canvas) -> _Laid:
    ys, starts, ends = np.array(hatch.passes[0]).T
    low = ys.min()
    rows = np.rint((ys - low) / interval).astype(int)
    count = int(rows.max()) + 1
    lit = np.zeros((count, canvas.columns * FINER + 2), dtype=np.float64)
    for at, sign in ((np.minimum(starts, ends), 1.0), (np.maximum(starts, ends), -1.0)):
        place = np.clip((at - canvas.left_mm) * canvas.fine, 0, canvas.columns * FINER)
        whole = place.astype(int)
        # A step at a broken place: what is left of its point, then the rest.
        np.add.at(lit, (rows, whole), sign * (1 - place + whole))
        np.add.at(lit, (rows, whole + 1), sign * (place - whole))
    lit = np.clip(np.cumsum(lit, axis=1)[:, :-2], 0, 1)
    back = np.zeros(count, dtype=bool)
    back[rows] = ends < starts
    keeps = math.exp(-1 / (_BUILDS_UP * waist * canvas.fine))
    lit[back] = lit[back, ::-1]
    # It takes a second and 40 MB to load, which only a piece that is burned shall cost.
    from scipy.signal import lfilter

    hot = np.asarray(lfilter([1 - keeps], [1, -keeps], lit, axis=1))
    hot[back] = hot[back, ::-1]
    away = np.arange(-4, 5) * interval / waist
    near = correlate1d(hot, np.exp(-2 * away**2), axis=0, mode="constant")
    # Whole lines on a spot, however they fall on it.
    near = np.asarray(near * lines_on_a_spot(waist, interval) / np.exp(-2 * away**2).sum())
    return _Laid(low + interval * np.arange(count), hot, near)


def _rows_mm(canvas: Canvas) -> Array:
    return np.asarray(canvas.low_mm + (np.arange(canvas.rows * FINER) + 0.5) / canvas.fine)


def _line_of_row(y_mm: Array, interval: float, canvas: Canvas) -> Array:
    return np.asarray(np.clip(np.rint((_rows_mm(canvas) - y_mm[0]) / interval), 0, len(y_mm) - 1).astype(int))


def _row_of_line(y_mm: Array, canvas: Canvas) -> Array:
    return np.asarray(np.clip((y_mm - canvas.low_mm) * canvas.fine, 0, canvas.rows * FINER - 1).astype(int))


def _reached(y_mm: Array, interval: float, canvas: Canvas) -> Array:
    """Rows that lie within half an interval of a line."""
    rows = _rows_mm(canvas)
    return np.where((rows >= y_mm[0] - interval / 2) & (rows <= y_mm[-1] + interval / 2), 1.0, 0.0)


def _drawn(half_mm: Array, level: Array, y_mm: Array, canvas: Canvas) -> Array:
    """Lines of a width and a level that change along them, laid beside each other."""
    face = np.zeros((canvas.rows * FINER, canvas.columns * FINER))
    rows_mm = _rows_mm(canvas)
    for number, y in enumerate(y_mm):
        near = slice(*np.searchsorted(rows_mm, (y - REACH_MM, y + REACH_MM)))
        away = np.abs(rows_mm[near] - y)[:, None]
        face[near] += level[number] * np.clip((half_mm[number] - away) * canvas.fine + 0.5, 0, 1)
    return face


def _spread(material: Material, speed_mm_s: float, waist: float, laid: _Laid, canvas: Canvas) -> Array:
    """Energy over the plane for a line's energy of 1 a mm: a raised cosine across, as wide as spot and heat are."""
    half = _LIFTS_WIDE * math.hypot(waist, math.sqrt(8 * material.coat_alpha * waist / speed_mm_s))
    face = np.zeros((canvas.rows * FINER, canvas.columns * FINER))
    rows_mm = _rows_mm(canvas)
    for number, y in enumerate(laid.y_mm):
        near = slice(*np.searchsorted(rows_mm, (y - half, y + half)))
        face[near] += ((1 + np.cos(np.pi * (rows_mm[near] - y) / half)) / (2 * half))[:, None] * laid.hot[number]
    return face


def _coarse(fine: Array) -> Array:
    rows, columns = fine.shape
    return np.asarray(fine.reshape(rows // FINER, FINER, columns // FINER, FINER).mean(axis=(1, 3)))
