"""Artwork as it will burn: how full, how light, and how likely faint or harsh each place is.

A prediction of this model, never a promise: dots spread (`spread`), the film map says which places want more
(`window`), and a place that burns in the middle of a fill may come out harsh where a lone dot does not.
"""

from dataclasses import dataclass

import numpy as np

from keencoat.core.artwork.screen import Dots
from keencoat.core.artwork.spread import JUST_ENOUGH, PLACES, DotModel, energies
from keencoat.core.artwork.tone_curve import Look
from keencoat.core.vision import Floats
from keencoat.core.window import PlaceOdds

_LEAST = 1e-6


@dataclass(frozen=True, eq=False)
class Burned:
    """By dots, shape of the artwork: `fullness` 0…1; `faint` and `harsh`: chances for dots that are burned, 0 for the
    others."""

    dots: Dots
    fullness: Floats
    faint: Floats
    harsh: Floats

    @property
    def faint_share(self) -> float:
        """How much of what is burned is likelier faint than not."""
        return self._share(self.faint)

    @property
    def harsh_share(self) -> float:
        """How much of what is burned is likelier harsh than not."""
        return self._share(self.harsh)

    def _share(self, chance: Floats) -> float:
        return float((chance > 0.5).sum() / max(1, int(self.dots.sum())))

    def light(self, look: Look) -> Floats:
        """L*/100 of each place."""
        return look.light_of(self.fullness)


def as_burned(dots: Dots, model: DotModel, odds: PlaceOdds, ln_film: Floats | float = 0.0) -> Burned:
    """What these dots become on a film whose ln over the job's is `ln_film`, one figure or one a dot."""
    asks_ln = odds.film_ln * np.asarray(ln_film, dtype=np.float32)
    fullness, energy = np.zeros(dots.shape, np.float32), np.zeros(dots.shape, np.float32)
    for part in energies(dots, model):
        fullness += model.fullness(part, -asks_ln)
        energy += part
    fullness /= PLACES**2
    lit = np.flatnonzero(dots)
    film = ln_film if np.ndim(ln_film) == 0 else np.asarray(ln_film, dtype=np.float32).ravel()[lit]
    faint, harsh = np.zeros(dots.size, np.float32), np.zeros(dots.size, np.float32)
    # A lone dot is faint by how full it is, not by its mean energy: by what a fill would need to look the same.
    full = fullness.ravel()[lit]
    as_fill_ln = np.where(full < 1, (full - JUST_ENOUGH) / model.pace - model.margin_ln + odds.film_ln * film, 0.0)
    faint[lit] = odds.at(np.minimum(as_fill_ln, 0.0), film)[0]
    harsh[lit] = odds.at(np.log(np.maximum(energy.ravel()[lit] / PLACES**2, _LEAST)), film)[2]
    return Burned(dots, fullness, faint.reshape(dots.shape), harsh.reshape(dots.shape))
