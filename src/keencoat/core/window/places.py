"""How likely a place of a mark is faint, clean or harsh: by the energy it gets against a fill's, and by its film.

The map of a coat tells what a piece's own film is at each place, so that only what power and focus do is left to
chance.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import RegularGridInterpolator

from keencoat.core.quantities import Machine, Setting
from keencoat.core.rating import Rating
from keencoat.core.window.fit import WindowFit
from keencoat.core.window.model import NODE_WEIGHTS, NODES, boundaries, chances, points_of
from keencoat.core.window.parameters import FloatArray, P

AnyFloats = NDArray[np.floating[Any]]

_LN_ENERGY = np.linspace(-2.0, 0.6, 27)
_LN_FILM = np.linspace(-0.8, 0.8, 17)


def _within(ln: AnyFloats | float, table: FloatArray) -> AnyFloats:
    return np.asarray(np.clip(ln, table[0], table[-1]))


@dataclass(frozen=True, eq=False)
class PlaceOdds:
    """Chances at one setting, averaged over what is not known. `film_ln`: by how much more ln energy a place wants for
    each ln of film, `margin_ln` and `margin_sd`: ln of a fill's energy over what is just enough on the usual piece,
    `piece_sd`: how far pieces stray from that."""

    film_ln: float
    margin_ln: float
    margin_sd: float
    piece_sd: float
    _tables: Mapping[Rating, RegularGridInterpolator]

    def of(self, rating: Rating, ln_energy: AnyFloats, ln_film: AnyFloats | float = 0.0) -> FloatArray:
        """The chance of a rating, of the shape of `ln_energy`: ln of the energy over a fill's, and of the film over
        the job's. Beyond the table its edge counts."""
        table = self._tables[rating]
        if np.ndim(ln_film) == 0:
            row = table(np.stack([np.full_like(_LN_ENERGY, _within(ln_film, _LN_FILM)), _LN_ENERGY], axis=-1))
            return np.asarray(np.interp(ln_energy, _LN_ENERGY, row))
        where = np.broadcast_arrays(_within(ln_film, _LN_FILM), _within(ln_energy, _LN_ENERGY))
        return np.asarray(table(np.stack(where, axis=-1)))


def place_odds(fit: WindowFit, setting: Setting, machine: Machine) -> PlaceOdds:
    """The chances of places on a piece whose film is known at each of them."""
    scatter = fit.prior.scatter
    rest_sd = np.hypot(scatter.power_cv, scatter.focus_cv)
    point = points_of([setting], machine)
    theta = fit.draws
    film = theta[:, P.FILM, None]
    faces = {rating: np.zeros((len(_LN_FILM), len(_LN_ENERGY))) for rating in Rating}
    places = replace(points_of([setting] * len(_LN_ENERGY), machine), ln_energy=point.ln_energy[0] + _LN_ENERGY)
    for i, ln_film in enumerate(_LN_FILM):
        for node, weight in zip(NODES, NODE_WEIGHTS, strict=True):
            p = chances(theta, places, film * ln_film + node * rest_sd)
            for rating, face in faces.items():
                face[i] += weight * getattr(p, rating).mean(axis=0)
    film_ln = float(theta[:, P.FILM].mean())
    margin = point.ln_energy[0] - boundaries(theta, point)[0][:, 0]
    return PlaceOdds(
        film_ln,
        float(margin.mean()),
        float(margin.std()),
        float(np.hypot(film_ln * scatter.coat_cv, rest_sd)),
        {rating: RegularGridInterpolator((_LN_FILM, _LN_ENERGY), face) for rating, face in faces.items()},
    )
