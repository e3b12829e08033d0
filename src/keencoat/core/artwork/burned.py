"""Artwork as it will burn: how full, how light, and how likely faint or harsh each place is.

A prediction of this model, never a promise: dots spread (`spread`), the film map says which places want more
(`window`). A fill is faint where the window calls it so; among lone dots a little less energy costs more of the tone,
and a place is faint where its tone falls under four fifths of what is meant. Harsh is what gets too much for a fill.
"""

from dataclasses import dataclass

import cv2
import numpy as np

from keencoat.core.artwork.faces import averaged, side_for
from keencoat.core.artwork.screen import Dots
from keencoat.core.artwork.spread import PLACES, DotModel, energies, reach_rows
from keencoat.core.artwork.tone_curve import SHARES, Look
from keencoat.core.rating import Rating
from keencoat.core.vision import Floats
from keencoat.core.window import PlaceOdds

FAINT_UNDER = 0.80
"""A place is faint where it comes out under so much of what is meant."""
CALLED_OVER = 0.70
"""From this chance on a place is called faint or harsh: called at even odds, three in ten were neither."""
_LEAST_LN, _LEAST = 0.05, 1e-6
_ROWS = 192
"""A multiple of every side that places have."""
_SEEN_OVER, _TOLD_OVER = 5, 9
"""Dots to a side over which an eye sees a tone, and over which their share is told."""


@dataclass(frozen=True)
class BurnedShares:
    """Shares of what is burned: faint and harsh as expected on the whole, and where each place is called so."""

    faint: float = 0.0
    harsh: float = 0.0
    called_faint: float = 0.0
    called_harsh: float = 0.0


@dataclass(frozen=True, eq=False)
class Burned:
    """By places of `side` dots to a side, one unless there are very many, averaged: `fullness` 0…1; `faint` and
    `harsh`: chances for dots that are burned, 0 for the others. `shares` are of dots."""

    fullness: Floats
    faint: Floats
    harsh: Floats
    shares: BurnedShares
    side: int = 1

    def light(self, look: Look) -> Floats:
        """L*/100 of each place."""
        return look.light_of(self.fullness.astype(np.float32))


def as_burned(
    dots: Dots,
    model: DotModel,
    odds: PlaceOdds,
    ln_film: Floats | float = 0.0,
    left_over: Floats | None = None,
    greys: bool = False,
) -> Burned:
    """What these dots become on a film whose ln over the job's is `ln_film`, one figure or one a dot. `left_over`: what
    a wedge saw at SHARES of dots and the model does not explain. `greys`: the dots stand for greys, whose loss was
    reckoned with when they were laid; otherwise each is meant to be full."""
    film: Floats = np.asarray(ln_film, dtype=np.float32)
    side = side_for(dots.shape)
    shape = -(-dots.shape[0] // side), -(-dots.shape[1] // side)
    fullness, faint, harsh = kept = [np.zeros(shape, np.float16) for _ in range(3)]
    counts: Floats = np.zeros(4)
    # A few rows at a time, with those beside them that share their energy or their tone: a whole face at once would
    # fill the memory.
    beside = reach_rows(model) + _TOLD_OVER
    for start in range(0, len(dots), _ROWS):
        near = slice(max(0, start - beside), start + _ROWS + beside)
        here = slice(start - near.start, start - near.start + _ROWS)
        part = _some_as_burned(dots[near], model, odds, film if film.ndim == 0 else film[near], left_over, greys)
        counts += _counts(*(face[here] for face in part[1:]))
        for face, found in zip(kept, part, strict=True):
            face[start // side : (start + _ROWS) // side] = averaged(found[here], side)
    return Burned(fullness, faint, harsh, _shares_of(dots, counts), side)


def burned_from(dots: Dots, fullness: Floats, faint: Floats, harsh: Floats) -> Burned:
    """What is expected of dots by faces that have a value for each."""
    return Burned(fullness, faint, harsh, _shares_of(dots, _counts(faint, harsh)))


def _counts(faint: Floats, harsh: Floats) -> Floats:
    expected = [float(chance.sum(dtype=np.float64)) for chance in (faint, harsh)]
    return np.array([*expected, *(np.count_nonzero(chance > CALLED_OVER) for chance in (faint, harsh))])


def _shares_of(dots: Dots, counts: Floats) -> BurnedShares:
    return BurnedShares(*(counts / max(1, int(dots.sum()))).tolist())


def _some_as_burned(
    dots: Dots, model: DotModel, odds: PlaceOdds, film: Floats, left_over: Floats | None, greys: bool
) -> tuple[Floats, Floats, Floats]:
    energy = np.zeros(dots.shape, np.float32)
    sums: list[Floats] = [np.zeros(dots.shape, np.float32) for _ in range(3)]
    more: list[Floats | float] = [-odds.film_ln * film, 0.0, -_less_ln(model)]
    for part in energies(dots, model):
        reached = model.reached(part)
        for face, more_ln in zip(sums, more, strict=True):
            face += model.fullness(reached, more_ln)
        energy += part
    came, meant, less = (face / PLACES**2 for face in sums)
    wanted = meant if greys else dots.astype(np.float32)
    slack_ln = _slack_ln(wanted, meant, less, model)
    if left_over is not None:
        shares = cv2.blur(dots.astype(np.float32), (_TOLD_OVER, _TOLD_OVER), borderType=cv2.BORDER_REFLECT)
        came = np.clip(came + np.interp(shares, SHARES, left_over).astype(np.float32), 0, 1)
    lit = np.flatnonzero(dots)
    here = film if film.ndim == 0 else film.ravel()[lit]
    faint, harsh = np.zeros(dots.size, np.float32), np.zeros(dots.size, np.float32)
    faint[lit] = odds.of(Rating.FAINT, np.minimum(slack_ln.ravel()[lit] - odds.margin_ln, 0.0), here)
    harsh[lit] = odds.of(Rating.HARSH, np.log(np.maximum(energy.ravel()[lit] / PLACES**2, _LEAST)), here)
    return came, faint.reshape(dots.shape), harsh.reshape(dots.shape)


def _slack_ln(wanted: Floats, meant: Floats, less: Floats, model: DotModel) -> Floats:
    """ln of the energy that a place can do without before it is FAINT_UNDER of what is wanted: its margin in a fill,
    much less among lone dots, under 0 where they are lost anyway."""
    seen, there, left = (cv2.blur(face, (_SEEN_OVER, _SEEN_OVER)) for face in (wanted, meant, less))
    lost = np.maximum(there - left, _LEAST)
    return np.asarray(np.minimum((there - FAINT_UNDER * seen) * _less_ln(model) / lost, model.margin_ln))


def _less_ln(model: DotModel) -> float:
    """As much as makes a fill faint: what is less than that is looked up between."""
    return max(model.margin_ln, _LEAST_LN)
