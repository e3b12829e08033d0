"""How much a shop varies from piece to piece, and how well anybody knows.

A typed figure is a guess. Measured, the standard deviation of n pieces is known to about 1/√(2(n − 1)) in ln. Both
count, each by its precision: three pieces may look alike, or apart, by luck.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from keencoat.core.errors import require_within


@dataclass(frozen=True)
class Scatter:
    """Coefficients of variation from piece to piece (0.1 = 10 %): coat thickness, power, and focus as energy.

    `measured_pieces`: on how many pieces the coat's was measured; 0 for a guess. `photos_tell`: whether photos can, as
    light comes through the piece.
    """

    coat_cv: float = 0.12
    power_cv: float = 0.03
    focus_cv: float = 0.03
    measured_pieces: int = 0
    photos_tell: bool = True

    def __post_init__(self) -> None:
        for name in ("coat_cv", "power_cv", "focus_cv"):
            require_within(getattr(self, name), 0, 1, name)
        require_within(self.measured_pieces, 0, 100_000, "measured_pieces")

    @property
    def is_measured(self) -> bool:
        """Whether it rests on pieces at all, or on somebody's guess."""
        return self.measured_pieces >= LEAST_PIECES

    @property
    def doubt_ln(self) -> float:
        """How far it may be off, as a standard deviation of its ln: that of a guess, or of guess and pieces, and the
        model."""
        if not self.is_measured:
            return math.hypot(MODEL_DOUBT_LN, 1 / math.sqrt(_GUESS_PRECISION + _SHOPS_PRECISION))
        return math.hypot(MODEL_DOUBT_LN, 1 / math.sqrt(_GUESS_PRECISION + _precision(self.measured_pieces)))

    @property
    def guess_off_ln(self) -> float:
        """By how much a guess is likely off, as ln: it is drawn to what shops usually have, each by its precision."""
        to_usual = math.log(USUAL_CV) - ln_cv(self.coat_cv)
        return _SHOPS_PRECISION * to_usual / (_SHOPS_PRECISION + _GUESS_PRECISION)

    def with_coats(self, coat_cv: float, pieces: int) -> "Scatter":
        """This guess, drawn to what so many coats showed (Gaussians in ln, by precision); from 1 % up."""
        seen = _precision(pieces)
        drawn = (_GUESS_PRECISION * ln_cv(self.coat_cv) + seen * ln_cv(coat_cv)) / (_GUESS_PRECISION + seen)
        return replace(self, coat_cv=math.exp(drawn), measured_pieces=pieces)


def _precision(pieces: int) -> float:
    return 2.0 * max(1, pieces - 1)


def ln_cv(cv: float) -> float:
    """ln of a coefficient of variation, from 1 % up."""
    return math.log(max(cv, _LEAST_CV))


LEAST_PIECES = 3
_LEAST_CV = 0.01
GUESS_DOUBT_LN, MODEL_DOUBT_LN = 0.6, 0.3
"""A shop's guess of its own scatter is off by a factor of 1.8; what films, watts and heights explain of the marks' is
off by a third: own estimates."""
_GUESS_PRECISION = 1 / GUESS_DOUBT_LN**2
USUAL_CV, _SHOPS_LN = 0.10, 0.4
"""What coats of most shops vary by, and how far shops differ in its ln: common practice, no source."""
_SHOPS_PRECISION = 1 / _SHOPS_LN**2

RUN_TELLS = 8
"""Pieces of one setting whose outcome tells how much pieces differ, whatever was guessed."""


class ScatterBasis(StrEnum):
    """What is behind the figure of a shop's scatter."""

    GUESS = "guess"
    COATS = "coats"
    RUN = "run"


def basis_of(scatter: Scatter, run_pieces: int) -> ScatterBasis:
    """What tells how much pieces differ: coats that were measured, whole pieces that were run, or nobody yet."""
    if scatter.is_measured:
        return ScatterBasis.COATS
    return ScatterBasis.RUN if run_pieces >= RUN_TELLS else ScatterBasis.GUESS


def basis_words(scatter: Scatter, run_pieces: int) -> str:
    """The same for a maker to read, with what to do about a guess."""
    pct = f"{100 * scatter.coat_cv:.0f} %"
    return {
        ScatterBasis.GUESS: f"Your {pct} of coat scatter is a guess: {_how_to_measure(scatter)}. Until then it counts "
        "together with what coats usually vary by, and the odds leave room for both to be off.",
        ScatterBasis.COATS: f"Coat scatter {pct}, by {scatter.measured_pieces} measured coats and your guess.",
        ScatterBasis.RUN: f"How much your pieces differ was learned from {run_pieces} pieces that were run.",
    }[basis_of(scatter, run_pieces)]


def settled_words(scatter: Scatter, run_pieces: int, odds: str, worth: str = "") -> str:
    """What to do with a setting that is likely enough, by its odds and what more cells are worth, in words."""
    is_guess = basis_of(scatter, run_pieces) is ScatterBasis.GUESS
    condition = " if your pieces differ as you guess; not knowing that," if is_guess else ":"
    photos = f"Photograph {LEAST_PIECES} coats, or lock it" if is_guess and scatter.photos_tell else "Lock it"
    tells = worth or "More cells tell little."
    return f"It likely holds{condition} the odds are {odds}. {tells} {photos} and count the run."


def _how_to_measure(scatter: Scatter) -> str:
    counted = f"count a run of {RUN_TELLS} pieces"
    if scatter.photos_tell:
        return f"photograph {LEAST_PIECES} coats, or {counted}"
    return f"{counted}, as no photo tells the film of a piece that lets no light through"


@dataclass(frozen=True)
class MeasuredCoat:
    """One piece's coat as photographed: variation within it, and its mean film in any unit that all share (None where
    the picture does not tell)."""

    cv: float
    film: float | None


def coat_scatter(coats: Sequence[MeasuredCoat]) -> float:
    """Coefficient of variation of a coat over places and pieces: the root mean square within pieces and, from three
    films on, the spread between them. Raises ValueError for no coat."""
    if not coats:
        raise ValueError("no coat was measured")
    within = math.sqrt(sum(c.cv**2 for c in coats) / len(coats))
    films = [math.log(c.film) for c in coats if c.film]
    if len(films) < LEAST_PIECES:
        return within
    mean = sum(films) / len(films)
    return math.hypot(within, math.sqrt(sum((f - mean) ** 2 for f in films) / (len(films) - 1)))
