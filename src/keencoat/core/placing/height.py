"""Height of the head: where the focus belongs, and how far it may be off before marks change.

Off focus a fill gets the same areal energy from a wider spot: longer dwell, more overlap. What that does is read from
the job's own window.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from keencoat.core.placing.beam import Beam
from keencoat.core.quantities import Machine, Setting
from keencoat.core.rating import Rating
from keencoat.core.window import ModelPoints, WindowFit, points_of, shares

Floats = NDArray[np.float64]
_PLACES = 41
_AS_FAR = 4.0
"""How far the heights that are looked at go, in lengths by which the beam is √2 as wide."""


@dataclass(frozen=True, eq=False)
class HeightRoom:
    """What an error of height does, columns of shape (places,): mm off focus, spot over the one in focus, share of
    clean pieces; and how far off the wanted share still holds, mm, 0 where not even the focus holds it."""

    off_mm: Floats
    spot_times: Floats
    clean: Floats
    room_mm: float


def height_room(fit: WindowFit, setting: Setting, machine: Machine, beam: Beam, wanted: float) -> HeightRoom:
    """How far off focus this setting keeps the wanted share, both ways alike."""
    off = np.linspace(0, _AS_FAR * beam.rayleigh_mm, _PLACES)
    times = beam.wider(off)
    points = points_beside(setting, machine, np.ones(_PLACES), times)
    clean = shares(fit, points)[Rating.CLEAN].mean(axis=0)
    return HeightRoom(off, times, clean, holds_to(off, clean, wanted))


def points_beside(setting: Setting, machine: Machine, energy_share: Floats, spot_times: Floats) -> ModelPoints:
    """The setting at places that get so much of its areal energy, from a spot so many times as wide: dwell and overlap
    grow with it."""
    one, none, wider = points_of([setting], machine), np.zeros(len(spot_times)), np.log(spot_times)
    return ModelPoints(
        ln_energy=one.ln_energy + np.log(energy_share),
        ln_dwell=one.ln_dwell + wider,
        ln_overlap=one.ln_overlap + wider,
        ln_passes=one.ln_passes + none,
        ln_power=one.ln_power + none,
        ln_film=none,
        ln_patch=none,
    )


def holds_to(places: Floats, clean: Floats, wanted: float) -> float:
    """Up to which place the wanted share holds without a break from the first one on, by straight lines between; 0
    where it does not even there, the last place where it never ends."""
    under = np.flatnonzero(clean < wanted)
    if not len(under):
        return float(places[-1])
    after = int(under[0])
    if after == 0:
        return 0.0
    share = (clean[after - 1] - wanted) / (clean[after - 1] - clean[after])
    return float(places[after - 1] + share * (places[after] - places[after - 1]))
