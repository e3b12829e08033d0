"""What dots become: each is a short piece of a line whose energy spreads, and neighbours share theirs.

Energy over a place, against the mean of a filled area: every lit dot of a line gives a Gaussian across the line and,
along it, the difference of two error functions (a beam that passes from one end of the dot to the other). How full the
mark is there follows the logarithm of the energy: more by `pace` a ln of energy, never under nothing nor over full. Its
level is such that a filled area that gets just enough is 0.80 full in the mean, as `window` reads photos.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np
from scipy.optimize import brentq
from scipy.special import ndtr

from keencoat.core.artwork.screen import Dots, Screen, dots_of
from keencoat.core.errors import require_positive
from keencoat.core.vision import Floats

JUST_ENOUGH = 0.80
PACE = 2.0
"""Fullness a ln of energy, where no wedge tells (own estimate)."""
PLACES = 3
"""A dot is looked at in so many places along and across."""
_REACH = 3.0
_LEAST = 1e-6
_FLAT = 48


@dataclass(frozen=True)
class DotModel:
    """Lines `interval_mm` apart with dots `pitch_mm` long; `sigma_mm`: how far a line's energy spreads to each side;
    `margin_ln`: ln of a filled area's energy over what is just enough; `pace`: fullness a ln of energy."""

    pitch_mm: float
    interval_mm: float
    sigma_mm: float
    margin_ln: float
    pace: float = PACE

    def __post_init__(self) -> None:
        for name in ("pitch_mm", "interval_mm", "sigma_mm", "pace"):
            require_positive(getattr(self, name), name)

    def reached(self, energy: Floats) -> Floats:
        """ln of the energy over just enough, where that much of a fill's mean energy arrives."""
        # As `np.log` at a third of its time, which shows on a whole face.
        ln = np.asarray(cv2.log(np.maximum(energy, _LEAST)), dtype=np.float32)
        return ln + np.float32(self.margin_ln + level_ln(self))

    def fullness(self, reached: Floats, more_ln: Floats | float = 0.0) -> Floats:
        """How full the mark is where `reached` ln over just enough arrive; `more_ln` where the film asks for less or
        more."""
        full = (reached + np.float32(more_ln)) * np.float32(self.pace)
        full += np.float32(JUST_ENOUGH)
        return np.clip(full, 0, 1, out=full)


def level_ln(model: DotModel) -> float:
    """What is added to ln energy so that a fill of just enough is JUST_ENOUGH full, lines and gaps together."""
    return _level(model.sigma_mm / model.interval_mm, model.pace)


def reach_rows(model: DotModel) -> int:
    """Over how many rows a line's energy is shared, to each side."""
    return _neighbours(model.sigma_mm / model.interval_mm)


def energies(dots: Dots, model: DotModel) -> Iterator[Floats]:
    """Energy over a fill's mean, one array of the dots' shape for each of PLACES² places within a dot."""
    lit = dots.astype(np.float32)
    along = [_along(model, (p + 0.5) / PLACES) for p in range(PLACES)]
    across = [_across(model, (p + 0.5) / PLACES - 0.5) for p in range(PLACES)]
    for y_kernel in across:
        for x_kernel in along:
            yield np.asarray(cv2.sepFilter2D(lit, cv2.CV_32F, x_kernel, y_kernel, borderType=cv2.BORDER_CONSTANT))


def mean_fullness(dots: Dots, model: DotModel, more_ln: Floats | float = 0.0) -> Floats:
    """How full the mark is, averaged over each dot's place; shape of `dots`."""
    return np.asarray(sum(model.fullness(model.reached(e), more_ln) for e in energies(dots, model)) / PLACES**2)


def flat_fullness(tones: Floats, screen: Screen, model: DotModel) -> Floats:
    """How full the mark of even areas is, for each of `tones` (shares of dots), shape (tones,)."""
    # All in one picture, one below the other; what neighbours give each other stays in the borders.
    border = _FLAT // 4
    flats = np.concatenate([_flat(float(tone), screen) for tone in tones])
    full = mean_fullness(flats, model).reshape(len(tones), _FLAT, _FLAT)
    return np.asarray(full[:, border:-border, border:-border].mean(axis=(1, 2)), dtype=np.float64)


@lru_cache(maxsize=1024)
def _flat(tone: float, screen: Screen) -> Dots:
    return dots_of(np.full((_FLAT, _FLAT), tone, dtype=np.float32), screen)


def _along(model: DotModel, at: float) -> Floats:
    """Shares of the neighbours' energy at a place `at` (0 its start, 1 its end) of a dot, those left of it first."""
    sigma = model.sigma_mm / model.pitch_mm
    starts = np.arange(-_neighbours(sigma), _neighbours(sigma) + 1) - at
    return np.asarray(ndtr((starts + 1) / sigma) - ndtr(starts / sigma), dtype=np.float32)


def _across(model: DotModel, at: float) -> Floats:
    """Likewise across, `at` so far from the middle of a line (in lines): a sum over lines of mean 1."""
    return _lines_over(model.sigma_mm / model.interval_mm, at)


def _lines_over(sigma: float, at: float) -> Floats:
    away = np.arange(-_neighbours(sigma), _neighbours(sigma) + 1) - at
    return np.asarray(np.exp(-0.5 * (away / sigma) ** 2) / (np.sqrt(2 * np.pi) * sigma), dtype=np.float32)


@lru_cache(maxsize=1024)
def _level(sigma: float, pace: float) -> float:
    """`level_ln` for a `sigma` in lines."""
    over = np.log(np.maximum([_lines_over(sigma, (p + 0.5) / PLACES - 0.5).sum() for p in range(PLACES)], _LEAST))

    def off(level: float) -> float:
        return float(np.clip(JUST_ENOUGH + pace * (over + level), 0, 1).mean()) - JUST_ENOUGH

    return float(brentq(off, -1.0, 20.0))


def _neighbours(sigma: float) -> int:
    return int(np.ceil(_REACH * sigma + 0.5))
