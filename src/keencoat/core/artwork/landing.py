"""How a whole mark lies against where it was meant: shifted, turned, too wide or too high.

First where both pictures correlate most, shifts alone (by their Fourier transforms), then the affine change that
enhances their correlation (Evangelidis & Psarakis 2008), told as a turn and as sizes along both sides.
"""

import math
from dataclasses import dataclass, replace

import cv2
import numpy as np

from keencoat.core.vision import Floats

_STEPS, _ENOUGH, _SOFT_PX = 60, 1e-6, 5
_MOST_PCT, _MOST_TURN_DEG = 20.0, 15.0


@dataclass(frozen=True, eq=False)
class Landing:
    """Where a mark lies: its middle so far right of where it was meant and down from there, px; turned
    counterclockwise, degrees; wider and higher by so many per cent, along its own sides. `matrix` (2, 3) takes places
    as meant to places as seen."""

    right_px: float
    down_px: float
    turn_deg: float
    wider_pct: float
    higher_pct: float
    matrix: np.ndarray

    def of_lesser_size(self, other: "Landing") -> "Landing":
        """The same, with that of two sizes which is nearer to the one that was meant."""
        wider = min(self.wider_pct, other.wider_pct, key=abs)
        return replace(self, wider_pct=wider, higher_pct=min(self.higher_pct, other.higher_pct, key=abs))

    def laid_back(self, picture: np.ndarray) -> np.ndarray:
        """A picture with its mark moved to where it was meant."""
        how = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
        size = picture.shape[1], picture.shape[0]
        return np.asarray(cv2.warpAffine(picture, self.matrix, size, flags=how, borderMode=cv2.BORDER_REPLICATE))


def landing_of(seen: Floats, meant: Floats, most_px: float) -> Landing | None:
    """How the mark in `seen` lies against `meant`, both (rows, columns) and the more the more mark; at most so far
    away. None where nothing is to be found, and where it would be another mark: a fifth wider or narrower, or turned by
    more than 15°."""
    seen, meant = (np.asarray(face, dtype=np.float32) for face in (seen, meant))
    right, down = shift_between(seen, meant, most_px)
    start = np.array([[1, 0, right], [0, 1, down]], dtype=np.float32)
    steps = (cv2.TERM_CRITERIA_COUNT | cv2.TERM_CRITERIA_EPS, _STEPS, _ENOUGH)
    whole = np.ones(seen.shape, np.uint8)
    try:
        _, found = cv2.findTransformECC(meant, seen, start, cv2.MOTION_AFFINE, steps, whole, _SOFT_PX)
    except cv2.error:
        return None
    landing = _read(np.asarray(found, dtype=float), seen.shape)
    far = math.hypot(landing.right_px, landing.down_px) > most_px
    sizes = (abs(landing.wider_pct), abs(landing.higher_pct))
    return None if far or max(sizes) > _MOST_PCT or abs(landing.turn_deg) > _MOST_TURN_DEG else landing


def shift_between(seen: Floats, meant: Floats, most_px: float) -> tuple[float, float]:
    """How far right and down `seen` lies of `meant`, px, where both correlate most; at most so far away."""
    reach = min(math.floor(most_px), min(seen.shape) - 1)
    alike = over_shifts(seen - seen.mean(), meant - meant.mean(), reach)
    down, right = np.unravel_index(int(alike.argmax()), alike.shape)
    return float(right - reach), float(down - reach)


def over_shifts(face: Floats, other: Floats, reach: int) -> Floats:
    """Sum of `face` times `other` moved (down, right) by each shift up to `reach`, shape (2·reach + 1, 2·reach + 1)."""
    room = ShiftRoom(face.shape, reach)
    return room.sums(room.spectrum(face) * np.conj(room.spectrum(other)))


@dataclass(frozen=True)
class ShiftRoom:
    """Pictures of a shape (rows, columns) with room beside them for shifts up to `reach`, px: sums over shifts are
    products of their spectra, which can be added up before they are turned back."""

    shape: tuple[int, ...]
    reach: int

    def spectrum(self, face: Floats) -> np.ndarray:
        """A picture's Fourier transform."""
        return np.asarray(np.fft.rfft2(face, self._size))

    def sums(self, product: np.ndarray) -> Floats:
        """What a product of one spectrum and another's conjugate says: the sum for each shift, as of `over_shifts`."""
        whole = np.fft.irfft2(product, self._size)
        wide = 2 * self.reach + 1
        return np.asarray(np.roll(whole, (self.reach, self.reach), (0, 1))[:wide, :wide])

    @property
    def _size(self) -> tuple[int, ...]:
        return tuple(cv2.getOptimalDFTSize(side + 2 * self.reach) for side in self.shape)


def pushed(face: Floats, right: float, down: float) -> Floats:
    """A picture moved so far right and down, px; what comes in is like its edge."""
    matrix = np.array([[1, 0, right], [0, 1, down]], dtype=np.float32)
    size = face.shape[1], face.shape[0]
    return np.asarray(cv2.warpAffine(face.astype(np.float32), matrix, size, borderMode=cv2.BORDER_REPLICATE))


def _read(matrix: np.ndarray, shape: tuple[int, ...]) -> Landing:
    middle = np.array([(shape[1] - 1) / 2, (shape[0] - 1) / 2, 1.0])
    right, down = matrix @ middle - middle[:2]
    own = matrix[:, :2]
    # Rows run down the picture: what is counted from x towards y there turns clockwise.
    clockwise = math.atan2(own[1, 0] - own[0, 1], own[0, 0] + own[1, 1])
    cos, sin = math.cos(clockwise), math.sin(clockwise)
    sizes = np.array([[cos, sin], [-sin, cos]]) @ own
    return Landing(
        float(right),
        float(down),
        -math.degrees(clockwise),
        100 * (float(sizes[0, 0]) - 1),
        100 * (float(sizes[1, 1]) - 1),
        matrix,
    )
