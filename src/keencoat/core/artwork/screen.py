"""From tones to dots: threshold, ordered screens, error diffusion.

A tone here is the share of dots to burn, 0 to 1, one a pixel; a dot is burned or it is not. Error diffusion hands what
a dot is too much or too little on to neighbours that are not yet decided, in shares of its kernel; along a row in
reading order, or every other row backwards (serpentine).
"""

from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache

import numpy as np
from numba import njit
from numpy.typing import NDArray

from keencoat.core.errors import BadValueError
from keencoat.core.toolpath import bayer

Tones = NDArray[np.float32]
Dots = NDArray[np.bool_]


class Screen(StrEnum):
    """The ways from tones to dots."""

    THRESHOLD = "threshold"
    BAYER_2 = "bayer_2"
    BAYER_4 = "bayer_4"
    BAYER_8 = "bayer_8"
    FLOYD_STEINBERG = "floyd_steinberg"
    JARVIS = "jarvis_judice_ninke"
    STUCKI = "stucki"
    ATKINSON = "atkinson"
    BURKES = "burkes"
    SIERRA = "sierra"
    SIERRA_TWO = "sierra_two_row"
    SIERRA_LITE = "sierra_lite"


@dataclass(frozen=True)
class Kernel:
    """Where a dot's error goes: rows of shares over `divisor`; the first row begins right of the dot, the next ones
    `reach` dots left of it."""

    rows: tuple[tuple[int, ...], ...]
    divisor: int
    reach: int
    source: str

    @property
    def taps(self) -> tuple[tuple[int, int, float], ...]:
        """(dots right, rows down, share) of each neighbour that gets any."""
        found = []
        for down, row in enumerate(self.rows):
            start = 1 if down == 0 else -self.reach
            found += [(start + i, down, weight / self.divisor) for i, weight in enumerate(row) if weight]
        return tuple(found)


KERNELS: dict[Screen, Kernel] = {
    Screen.FLOYD_STEINBERG: Kernel(((7,), (3, 5, 1)), 16, 1, "floyd1976"),
    Screen.JARVIS: Kernel(((7, 5), (3, 5, 7, 5, 3), (1, 3, 5, 3, 1)), 48, 2, "jarvis1976"),
    Screen.STUCKI: Kernel(((8, 4), (2, 4, 8, 4, 2), (1, 2, 4, 2, 1)), 42, 2, "stucki1981"),
    Screen.ATKINSON: Kernel(((1, 1), (1, 1, 1), (0, 1, 0)), 8, 1, "ulichney1987"),
    Screen.BURKES: Kernel(((8, 4), (2, 4, 8, 4, 2)), 32, 2, "ulichney1987"),
    Screen.SIERRA: Kernel(((5, 3), (2, 4, 5, 4, 2), (0, 2, 3, 2, 0)), 32, 2, "ulichney1987"),
    Screen.SIERRA_TWO: Kernel(((4, 3), (1, 2, 3, 2, 1)), 16, 2, "ulichney1987"),
    Screen.SIERRA_LITE: Kernel(((2,), (1, 1, 0)), 4, 1, "ulichney1987"),
}

_FULL, _HALF, _FINE = np.float32(255.0), np.float32(127.5), np.float32(256.0)
"""Tones are decided on the scale of an 8-bit picture, as the kernels were published and are checked, in steps of a
256th of its own: a share that came from one is exactly what it was."""

_BAYER_SIDES = {Screen.BAYER_2: 2, Screen.BAYER_4: 4, Screen.BAYER_8: 8}


def dots_of(tones: Tones, screen: Screen, serpentine: bool = True) -> Dots:
    """Which dots are burned, of the tones' shape. `serpentine` counts for error diffusion alone. Raises BadValueError
    for what is no picture of shares from 0 to 1.

    >>> dots_of(np.full((2, 4), 0.5, np.float32), Screen.BAYER_2).astype(int).tolist()
    [[1, 0, 1, 0], [0, 1, 0, 1]]
    """
    if tones.ndim != 2 or not tones.size:
        raise BadValueError(f"Tones of shape {tones.shape} are no picture.", field="tones", hint="Give rows of dots.")
    # Written so that NaN fails it too.
    if not (tones.min() >= 0 and tones.max() <= 1):
        raise BadValueError("A tone is none.", field="tones", hint="Each is a share of dots, from 0 to 1.")
    if screen is Screen.THRESHOLD:
        return np.asarray(tones >= 0.5)
    if screen in _BAYER_SIDES:
        side = _BAYER_SIDES[screen]
        tiles = -(-tones.shape[0] // side), -(-tones.shape[1] // side)
        return np.asarray(tones > np.tile(bayer(side), tiles)[: tones.shape[0], : tones.shape[1]])
    above, same, reach = _columns(screen)
    dots = np.zeros(tones.shape, dtype=np.bool_)
    _diffuse(np.asarray(tones, dtype=np.float32), above, same, reach, serpentine, dots)
    return dots


@lru_cache
def _columns(screen: Screen) -> tuple[NDArray[np.float64], NDArray[np.float32], int]:
    """A kernel for `_diffuse`: taps from rows above, in the order in which their errors come in; shares of the last
    two dots of the row itself; how far it reaches."""
    kernel = KERNELS[screen]
    above = sorted((tap for tap in kernel.taps if tap[1]), key=lambda tap: (-tap[1], -tap[0]))
    same = np.zeros(2, dtype=np.float32)
    for right, down, share in kernel.taps:
        if down == 0:
            same[right - 1] = share
    return np.array(above), same, kernel.reach


@njit(cache=True, nogil=True)
def _diffuse(
    tones: Tones,
    above: NDArray[np.float64],
    same: NDArray[np.float32],
    reach: int,
    serpentine: bool,
    dots: Dots,
) -> None:
    """Decide every dot. Each gathers what earlier ones left over instead of their scattering it: the rows above come in
    side by side, so that only two products a dot wait for the dot before."""
    height, width = tones.shape
    errors = np.zeros((3, width + 2 * reach), dtype=np.float32)
    row = np.empty(width, dtype=np.float32)
    for y in range(height):
        for x in range(width):
            row[x] = np.rint(tones[y, x] * _FULL * _FINE) / _FINE
        for t in range(len(above)):
            right, down, share = int(above[t, 0]), int(above[t, 1]), np.float32(above[t, 2])
            backwards = serpentine and (y - down) % 2 == 1
            start = reach + right if backwards else reach - right
            left_over = errors[(y - down) % 3][start : start + width]
            for x in range(width):
                row[x] += left_over[x] * share
        own, own_dots = errors[y % 3][reach : reach + width], dots[y]
        one, two = np.float32(0.0), np.float32(0.0)
        for n in range(width):
            x = width - 1 - n if serpentine and y % 2 == 1 else n
            value = (row[x] + two * same[1]) + one * same[0]
            burned = value >= _HALF
            own_dots[x] = burned
            two, one = one, (value - _FULL if burned else value)
            own[x] = one
