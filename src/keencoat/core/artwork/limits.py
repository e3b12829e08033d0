"""What a beam can hold at a setting: the finest line, the finest gap, the smallest letters.

A single line of waist σ·2 whose energy is spread over a fill's lines: (h/(√(2π)σ))·exp(−y²/2σ²) of a fill's mean. It is
seen where it is half full, so that its width is 2σ√(2·ln(peak/needed)) (the closed form of a Gaussian over a threshold;
Liu 1982).
"""

import math
from dataclasses import dataclass

from scipy.optimize import brentq
from scipy.special import ndtr

from keencoat.core.artwork.spread import JUST_ENOUGH, DotModel, level_ln

_STROKE_OF_CAPITAL, _GAP_OF_CAPITAL = 0.13, 0.13
"""Stem and counter of a plain upright typeface, in heights of its capitals (typical, from memory)."""
_LINES_OF_STROKE = 2
"""A stem that is one line wide is there in one letter and gone in the next, as it falls on the raster."""
_SEEN = 0.5


@dataclass(frozen=True)
class Detail:
    """What a setting holds, mm: the width of a single line (0 where it does not mark), the narrowest gap that stays
    open between fills, and the height of the smallest capitals that can be read."""

    line_mm: float
    gap_mm: float
    capital_mm: float


def finest_detail(model: DotModel) -> Detail:
    """What these dots hold."""
    seen_ln = (_SEEN - JUST_ENOUGH) / model.pace - model.margin_ln - level_ln(model)
    peak_ln = math.log(model.interval_mm / (math.sqrt(2 * math.pi) * model.sigma_mm))
    line_mm = 2 * model.sigma_mm * math.sqrt(2 * max(0.0, peak_ln - seen_ln))
    gap_mm = _open_gap_mm(model, math.exp(seen_ln))
    least_mm = _LINES_OF_STROKE * model.interval_mm
    capital_mm = max(max(line_mm, least_mm) / _STROKE_OF_CAPITAL, max(gap_mm, least_mm) / _GAP_OF_CAPITAL)
    return Detail(line_mm, gap_mm, capital_mm)


def engraved_capital_mm(line_mm: float, spot_mm: float) -> float:
    """How high capitals of single strokes must be: the three bars of a small “e”, two thirds as high, with gaps as wide
    as a line, or as the spot where that is wider (own estimate)."""
    return 1.5 * (3 * line_mm + 2 * max(line_mm, spot_mm))


def _open_gap_mm(model: DotModel, seen: float) -> float:
    """How far two filled areas must lie apart for the middle between them to stay under `seen` of a fill's energy: both
    sides together leave 2·Φ(−g/2σ) there."""
    if seen >= 1:
        return 0.0
    return 2 * model.sigma_mm * float(brentq(lambda x: 2 * ndtr(-x) - seen, 0.0, 12.0))
