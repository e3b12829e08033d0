"""Outlines as dots: a dot is burned if its middle lies inside.

Each row of dots is crossed with all edges at once; between an odd and an even crossing lies the inside (even–odd rule,
which is what valid polygons with holes mean).
"""

import numpy as np
from numpy.typing import NDArray
from shapely import get_coordinates, get_parts, get_rings
from shapely.geometry.base import BaseGeometry

from keencoat.core.artwork.screen import Dots


def filled_dots(
    shape: BaseGeometry, left_mm: float, low_mm: float, pitch_mm: float, interval_mm: float, size: tuple[int, int]
) -> Dots:
    """Dots of `size` (rows, columns), the lowest row first, that lie in a polygon or several. The raster's lower left
    dot begins at (left, low); rows are burned at low, low + interval and so on."""
    rows, columns = size
    change = np.zeros((rows, columns + 1), dtype=np.int16)
    row, x = _crossings(shape, low_mm, interval_mm, rows)
    order = np.lexsort((x, row))
    row, x = row[order], x[order]
    # The first dot whose middle lies right of the crossing.
    column = np.clip(np.ceil((x - left_mm) / pitch_mm - 0.5), 0, columns).astype(np.int64)
    np.add.at(change, (row[0::2], column[0::2]), 1)
    np.add.at(change, (row[1::2], column[1::2]), -1)
    return np.asarray(np.cumsum(change, axis=1, out=change)[:, :columns] > 0)


def _crossings(
    shape: BaseGeometry, low_mm: float, interval_mm: float, rows: int
) -> tuple[NDArray[np.int64], NDArray[np.float64]]:
    """Rows and x, mm, at which edges cross rows; an edge has its lower end and not its upper one, so that a corner on a
    row counts once."""
    found_rows, found_x = [np.zeros(0, dtype=np.int64)], [np.zeros(0)]
    for ring in get_rings(get_parts(shape)):
        points = get_coordinates(ring)
        a, b = points[:-1], points[1:]
        swap = a[:, 1] > b[:, 1]
        low, high = np.where(swap[:, None], b, a), np.where(swap[:, None], a, b)
        first = np.clip(np.ceil((low[:, 1] - low_mm) / interval_mm), 0, rows).astype(np.int64)
        last = np.clip(np.ceil((high[:, 1] - low_mm) / interval_mm), 0, rows).astype(np.int64)
        counts = last - first
        edge = np.repeat(np.arange(len(counts)), counts)
        row = first[edge] + np.arange(len(edge)) - np.repeat(np.cumsum(counts) - counts, counts)
        y = low_mm + row * interval_mm
        share = (y - low[edge, 1]) / (high[edge, 1] - low[edge, 1])
        found_rows.append(row)
        found_x.append(low[edge, 0] + share * (high[edge, 0] - low[edge, 0]))
    return np.concatenate(found_rows), np.concatenate(found_x)
