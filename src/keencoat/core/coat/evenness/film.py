"""From light to film: how thick the coat is at each point, relative to its mean.

Light through the piece: OD = log10(bare/coated) grows with the film (Beer–Lambert). Light back from it: the coat hides
the ground by a share e^(−κ·film), R = R_coat + (R_ground − R_coat)·e^(−κ·film), so −ln of what still shows grows with
the film. In both cases film/mean film = signal/mean signal.

Light back tells the film only where the coat's own reflectance hardly matters: a dark coat that lets much of a bright
ground show. A white layer on white glaze changes light by no more than the doubt of its own white, so that one picture
cannot part thick from white; its faults still show, by how far a place goes from the coat's light to the bare ground's.
"""

import math
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from keencoat.core.sources import Cited, own_estimate
from keencoat.core.vision import Floats


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
_DARK, _OWN_DOUBT = 0.3, 0.3
"""Up to which share of the ground's light a coat's own counts as dark; and how far that may be off, of itself."""

_CLEAR = 4.0
_LEAST_CONTRAST = 0.04


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
    """`film`, 1 = mean, of shape (height, width), the mean signal it rests on, whether that was measured (else the
    picture tells only where the film differs), and how far the coat's light lies from the bare piece's, as a share."""

    film: Floats
    mean_signal: float
    reference: Reference
    told: bool
    contrast: float


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
    told, contrast = reference is not Reference.ITSELF, 1.0
    if reference is Reference.ITSELF:
        signal = _around_expected(share, optics)
    elif optics.way is LightWay.THROUGH:
        signal = -np.log10(np.clip(share, _LEAST_TRANSMITTED, 1.0))
    else:
        own = optics.coat_reflects / optics.ground_reflects
        middle = float(np.median(share[mask]))
        told = own < _DARK
        if told and middle > own * (1 + _CLEAR * _OWN_DOUBT):
            signal = _hiding(share * optics.ground_reflects, optics)
        elif told:
            # So dark that the coat's own light is most of it: it hides the ground, and by how much is not told.
            signal = np.full(share.shape, HIDDEN, dtype=np.float32)
            signal = np.where(share > 3 * middle, _hiding(share * optics.ground_reflects, optics), signal)
        else:
            signal, contrast = _towards_bare(share, middle, optics.expected), abs(1 - middle)
    if path is not None and reference is not Reference.ITSELF:
        signal = signal / path
    mean = max(1e-3, float(signal[mask].mean()))
    return FilmMap(np.asarray(signal / mean, dtype=np.float32), mean, reference, told, contrast)


def _hiding(reflects: Floats, optics: Optics) -> Floats:
    """−ln of the share of the ground that still shows."""
    showing = (reflects - optics.coat_reflects) / (optics.ground_reflects - optics.coat_reflects)
    return np.asarray(-np.log(np.clip(showing, _LEAST_SHOWING, 1.0)), dtype=np.float32)


HIDDEN = 3.0
"""−ln of the ground that shows where a dark coat hides it all."""


def _towards_bare(share: Floats, middle: float, expected: float) -> Floats:
    """The signal of each place by how far its light lies from the coat's middle (0) to the bare ground's (1), as if the
    mean were `expected`."""
    gap = 1 - middle
    if abs(gap) < _LEAST_CONTRAST:
        return np.full(share.shape, expected, dtype=np.float32)
    showing = math.exp(-expected) + (share - middle) / gap * (1 - math.exp(-expected))
    return np.asarray(-np.log(np.clip(showing, _LEAST_SHOWING, 1.0)), dtype=np.float32)


def _around_expected(share: Floats, optics: Optics) -> Floats:
    if optics.way is LightWay.THROUGH:
        return np.asarray(optics.expected - np.log10(np.clip(share, 1e-3, 1e3)), dtype=np.float32)
    span = optics.ground_reflects - optics.coat_reflects
    middle = optics.coat_reflects + span * np.exp(-optics.expected)
    return _hiding(np.asarray(share * middle, dtype=np.float32), optics)
