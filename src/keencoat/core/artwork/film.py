"""The film that a photo of a coated piece told, at the dots of artwork that is burned through it."""

import numpy as np
from scipy.ndimage import map_coordinates

from keencoat.core.artwork.made import MadeDots
from keencoat.core.errors import BadValueError
from keencoat.core.vision import Floats

_MOST_LN = 1.2


def film_at_dots(squares: Floats, size_mm: tuple[float, float], made: MadeDots, mirrored: bool) -> Floats:
    """ln of the film over its mean at each dot. `squares`: film by squares of a face of that width and height, in the
    middle of the piece, upper left first, 1 for its mean, NaN where it is not told (taken as the mean); `mirrored`: the
    mark is seen through the piece, and the coat was photographed from its own side. Raises BadValueError for no
    squares."""
    if squares.ndim != 2 or not np.isfinite(squares).any():
        raise BadValueError("This photo tells no film.", field="film_map", hint="Photograph the coat again.")
    told = np.where(np.isfinite(squares), squares, 1.0)[::-1]
    rows, columns = told.shape
    y_mm = made.low_mm + (np.arange(made.dots.shape[0]) + 0.5) * made.interval_mm
    x_mm = made.left_mm + (np.arange(made.dots.shape[1]) + 0.5) * made.pitch_mm
    at_y = (y_mm / size_mm[1] + 0.5) * rows - 0.5
    at_x = ((-x_mm if mirrored else x_mm) / size_mm[0] + 0.5) * columns - 0.5
    down, along = np.meshgrid(at_y, at_x, indexing="ij")
    found = map_coordinates(told, [down, along], order=1, mode="nearest", output=np.float32)
    return np.asarray(np.clip(np.log(np.maximum(found, 1e-3)), -_MOST_LN, _MOST_LN))
