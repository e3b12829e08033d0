"""Is the coat dark enough? Optical density from the light that comes through, and how many coats make the wanted one.

OD = log10(bare / coated) (Beer–Lambert): each even coat adds the same. Readings are lux figures or the mean of a photo
patch in linear light, both at the same lamp and exposure.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import stdtrit

from keencoat.core.errors import BadValueError, require_positive, require_within
from keencoat.core.sources import Cited, own_estimate
from keencoat.core.substrate import Substrate

WANTED_DENSITY: Cited[float] = own_estimate(1.5)
"""At OD 1.5 the layer takes 97 % of the beam."""

_READING_ERROR = 0.04
"""Relative error of one reading: a hand that moves, a lamp that flickers. Own estimate."""

_COAT_CV, _BELIEVED_FOR = 0.2, 3.0
"""How much one coat differs from the next by the same hand, and for how many tests that counts: own estimates."""


@dataclass(frozen=True)
class HoldUp:
    """A hold-up test: light through the bare piece and through `coats` coats, in the same unit."""

    coats: int
    bare: float
    coated: float
    floor: float = 0.0

    def __post_init__(self) -> None:
        require_within(self.coats, 1, 50, "coats")
        require_positive(self.bare, "bare")
        require_within(self.coated, 0, float("inf"), "coated")
        if self.coated - self.floor <= 0:
            raise BadValueError(
                "No light at all was read through the coat.",
                field="coated",
                hint="Use a stronger lamp or a longer exposure for both readings, or take a thinner test piece.",
            )
        if self.coated >= self.bare:
            raise BadValueError(
                f"Through the coat it reads {self.coated:g}, through the bare piece only {self.bare:g}.",
                field="coated",
                hint="Swap the two, and keep lamp and exposure fixed.",
            )


@dataclass(frozen=True)
class Density:
    """Optical density with the range that holds it nine times in ten."""

    low: float
    mid: float
    high: float


@dataclass(frozen=True)
class CoatsNeeded:
    """How many coats reach the wanted density: planned, and in the best and worst case. `per_coat` is one coat's OD."""

    wanted: float
    per_coat: Density
    plan: int
    low: int
    high: int
    source: str


def density_of_film(absorbs_per_mm: float, film_um: float) -> float:
    """Optical density of a layer from its napierian absorption: α·d/ln 10."""
    return absorbs_per_mm * film_um * 1e-3 / math.log(10)


def transmitted(density: float) -> float:
    """Share of the light that comes through.

    >>> transmitted(2)
    0.01
    """
    return float(10.0**-density)


def density_of(test: HoldUp) -> Density:
    """Optical density of a hold-up test.

    >>> density_of(HoldUp(coats=1, bare=500, coated=5)).mid
    2.0
    """
    mid = math.log10((test.bare - test.floor) / (test.coated - test.floor))
    off = 1.645 * math.sqrt(2) * _READING_ERROR / math.log(10)
    return Density(max(0.0, mid - off), mid, mid + off)


def coats_needed(tests: Sequence[HoldUp], guess_per_coat: float, wanted: float = WANTED_DENSITY.value) -> CoatsNeeded:
    """How many coats the wanted density takes, from the maker's own tests, or from `guess_per_coat` without any.

    The density of n coats is a sum of n, each differing from the next: its variance grows with n, and so does that of
    the readings does not. The mean a coat is the weighted line through the origin; its doubt is Student's t, whose
    scale mixes what is assumed of coats with how the tests scatter (scaled inverse χ²; Gelman 2013, ch. 2). A
    guess counts as right within a factor of 1.6.
    """
    require_within(wanted, 0.1, 6, "wanted_density")
    if not tests:
        require_positive(guess_per_coat, "guess_per_coat")
        per_coat = Density(guess_per_coat / 1.6, guess_per_coat, guess_per_coat * 1.6)
        return _needed(wanted, per_coat, "own-estimate")
    n, found = np.array([t.coats for t in tests], dtype=float), np.array([density_of(t).mid for t in tests])
    about = float(found.sum() / n.sum())
    weight = 1 / (n * (_COAT_CV * about) ** 2 + 2 * (_READING_ERROR / math.log(10)) ** 2)
    mid = float((weight * n) @ found / ((weight * n) @ n))
    freedom = _BELIEVED_FOR + len(tests) - 1
    scale2 = (_BELIEVED_FOR + float(weight @ (found - mid * n) ** 2)) / freedom
    off = float(stdtrit(freedom, 0.95)) * math.sqrt(scale2 / float((weight * n) @ n))
    return _needed(wanted, Density(max(1e-3, mid - off), mid, mid + off), "own-record")


def _needed(wanted: float, per_coat: Density, source: str) -> CoatsNeeded:
    plan, low, high = (max(1, math.ceil(wanted / d - 1e-9)) for d in (per_coat.mid, per_coat.high, per_coat.low))
    return CoatsNeeded(wanted, per_coat, plan, low, high, source)


def can_hold_up(substrate: Substrate) -> bool:
    """Whether light comes through the bare piece at all, so that a hold-up test means something."""
    return substrate.passes_light
