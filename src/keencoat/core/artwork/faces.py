"""Faces of artwork, a value a dot or a few, laid onto a picture of the piece.

A whole face has more dots than a screen has pixels, and in floats it would fill the memory: beyond MOST_PLACES,
squares of dots are averaged, a band of rows at a time.
"""

import math

import cv2
import numpy as np

from keencoat.core.artwork.made import MadeDots
from keencoat.core.artwork.screen import Dots
from keencoat.core.vision import Floats

MOST_PLACES = 4_000_000
_BAND = 256


def side_for(shape: tuple[int, ...]) -> int:
    """How many dots to a side are averaged to one value so that there are about MOST_PLACES at most.

    >>> side_for((2000, 2000)), side_for((3750, 3750)), side_for((5000, 8000))
    (1, 2, 4)
    """
    return max(1, math.ceil(math.sqrt(math.prod(shape) / MOST_PLACES)))


def averaged(values: Floats | Dots, side: int) -> Floats:
    """Means of squares of `side` rows and columns; those that reach past the end are filled up with nothing.

    >>> averaged(np.ones((3, 2), np.bool_), 2).tolist()
    [[1.0], [0.5]]
    """
    if side == 1:
        return np.asarray(values, dtype=np.float32)
    rows, columns = (-(-count // side) for count in values.shape)
    means = np.empty((rows, columns), np.float32)
    for start in range(0, rows, _BAND):
        some = values[start * side : (start + _BAND) * side].astype(np.float32)
        more = -some.shape[0] % side, -some.shape[1] % side
        filled = np.pad(some, ((0, more[0]), (0, more[1]))) if any(more) else some
        size = columns, filled.shape[0] // side
        means[start : start + size[1]] = cv2.resize(filled, size, interpolation=cv2.INTER_AREA)
    return means


def lay_on(
    face: Floats,
    values: Floats | Dots,
    made: MadeDots,
    size_mm: tuple[float, float],
    px_per_mm: float,
    side: int = 1,
) -> None:
    """Lay values of `made`, each of `side` dots to a side, on their place of a picture of the piece (upper left first),
    averaged to its pixels; what lies beyond the picture is left out."""
    coarser = side_for(values.shape)
    values, side = averaged(values, coarser), side * coarser
    high_mm, wide_mm = values.shape[0] * side * made.interval_mm, values.shape[1] * side * made.pitch_mm
    rows, columns = max(1, round(high_mm * px_per_mm)), max(1, round(wide_mm * px_per_mm))
    finer = rows > values.shape[0] or columns > values.shape[1]
    how = cv2.INTER_NEAREST if finer else cv2.INTER_AREA
    part = cv2.resize(np.ascontiguousarray(values[::-1]), (columns, rows), interpolation=how)
    left = round((made.left_mm + size_mm[0] / 2) * px_per_mm)
    top = round((size_mm[1] / 2 - made.low_mm - high_mm) * px_per_mm)
    down = slice(max(0, top), min(face.shape[0], top + rows))
    along = slice(max(0, left), min(face.shape[1], left + columns))
    face[down, along] = part[down.start - top : down.stop - top, along.start - left : along.stop - left]
