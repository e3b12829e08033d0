"""From light to film: how thick the coat is at each point, relative to its mean.

Light through the piece: OD = log10(bare/coated) grows with the film (Beer–Lambert). Light back from it: the coat hides
the ground by a share e^(−κ·film), R = R_coat + (R_ground − R_coat)·e^(−κ·film), so −ln of what still shows grows with
the film. In both cases film/mean film = signal/mean signal.
"""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from keencoat.core.reading.photo import Floats
from keencoat.core.sources import Cited, own_estimate


class LightWay(StrEnum):
    """How the piece is lit: from behind through it, or from the front."""

    THROUGH = "through"
    BACK = "back"


class Reference(StrEnum):
    """What the light is compared with: a photo of the bare piece, the field round the piece, or the coat itself."""

    BARE_SHOT = "bare_shot"
    SURROUNDINGS = "surroundings"
    ITSELF = "itself"


REFLECTS: dict[str, Cited[float]] = {
    "black": own_estimate(0.05),
    "white": own_estimate(0.90),
    "blue": own_estimate(0.12),
    "cream": own_estimate(0.70),
    "clear": own_estimate(0.50),
}
"""Luminous reflectance of a thick dry layer, by its colour."""

GROUND_REFLECTS: Cited[float] = own_estimate(0.78)
"""Luminous reflectance of a bare white glaze."""

_LEAST_SHOWING, _LEAST_TRANSMITTED = 0.02, 10.0**-3.2


@dataclass(frozen=True)
class Optics:
    """How light tells of the film: its way, what the coat and the ground reflect, and the signal that is expected.

    `expected` is the mean signal (OD through, −ln of what shows back) when nothing in the picture gives it.
    """

    way: LightWay
    coat_reflects: float
    ground_reflects: float
    expected: float


@dataclass(frozen=True, eq=False)
class FilmMap:
    """`film`, 1 = mean, of shape (height, width), and the mean signal it rests on."""

    film: Floats
    mean_signal: float
    reference: Reference


def film_map(
    light: Floats,
    bare: Floats,
    mask: np.ndarray,
    optics: Optics,
    reference: Reference,
    path: Floats | None = None,
) -> FilmMap:
    """Film relative to its mean over `mask`, from `light` and what it would be on the bare piece (same shapes).

    With the reference ITSELF, `bare` is the smooth light of the coated piece, and only differences from the mean are
    seen: the mean signal is the expected one. `path` is how many times longer light's way through the film is at each
    point, where the face is seen aslant.
    """
    share = light / np.maximum(bare, 1e-6)
    if reference is Reference.ITSELF:
        signal = _around_expected(share, optics)
    elif optics.way is LightWay.THROUGH:
        signal = -np.log10(np.clip(share, _LEAST_TRANSMITTED, 1.0))
    else:
        signal = _hiding(share * optics.ground_reflects, optics)
    if path is not None and reference is not Reference.ITSELF:
        signal = signal / path
    mean = max(1e-3, float(signal[mask].mean()))
    return FilmMap(np.asarray(signal / mean, dtype=np.float32), mean, reference)


def _hiding(reflects: Floats, optics: Optics) -> Floats:
    """−ln of the share of the ground that still shows."""
    showing = (reflects - optics.coat_reflects) / (optics.ground_reflects - optics.coat_reflects)
    return np.asarray(-np.log(np.clip(showing, _LEAST_SHOWING, 1.0)), dtype=np.float32)


def _around_expected(share: Floats, optics: Optics) -> Floats:
    if optics.way is LightWay.THROUGH:
        return np.asarray(optics.expected - np.log10(np.clip(share, 1e-3, 1e3)), dtype=np.float32)
    span = optics.ground_reflects - optics.coat_reflects
    middle = optics.coat_reflects + span * np.exp(-optics.expected)
    return _hiding(np.asarray(share * middle, dtype=np.float32), optics)
