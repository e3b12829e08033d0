"""Rings as areas: what a filled outline covers, whichever way its rings run and cross."""

from collections.abc import Sequence
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray
from shapely import LineString, Point, box, unary_union
from shapely.geometry import MultiPolygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import polygonize

Ring = NDArray[np.float64]
Area = BaseGeometry
"""A polygon, or several."""
NOTHING: Area = MultiPolygon()
_HALVINGS = 26


class FillRule(StrEnum):
    """Which faces between crossing rings are inside (SVG 1.1, 11.3)."""

    NONZERO = "nonzero"
    EVENODD = "evenodd"


def area_of(rings: Sequence[Ring], rule: FillRule = FillRule.NONZERO) -> Area:
    """The area that rings, each of shape (points, 2) and closed or not, enclose; open ones are closed straight."""
    closed = [np.vstack([ring, ring[:1]]) for ring in rings if len(np.unique(ring, axis=0)) >= 3]
    if not closed:
        return NOTHING
    faces = polygonize(unary_union([LineString(ring) for ring in closed]))
    inside = [face for face in faces if _is_inside(face.representative_point(), closed, rule)]
    return unary_union(inside) if inside else NOTHING


def largest_size(bounds: tuple[float, float, float, float], room: BaseGeometry) -> float:
    """How many times as large a box (left, low, right, top, about zero) still lies in a room, by halving."""
    left, low, right, top = bounds
    fits, fails = 0.0, (room.bounds[2] - room.bounds[0]) / (right - left) + 1e-6
    for _ in range(_HALVINGS):
        size = (fits + fails) / 2
        if room.covers(box(size * left, size * low, size * right, size * top)):
            fits = size
        else:
            fails = size
    return fits


def _is_inside(point: Point, rings: Sequence[Ring], rule: FillRule) -> bool:
    turns = sum(_turns_round(point.x, point.y, ring) for ring in rings)
    return turns % 2 == 1 if rule is FillRule.EVENODD else turns != 0


def _turns_round(x: float, y: float, ring: Ring) -> int:
    """How often a closed ring turns round a point, counterclockwise."""
    (x0, y0), (x1, y1) = ring[:-1].T, ring[1:].T
    side = (x1 - x0) * (y - y0) - (x - x0) * (y1 - y0)
    return int(((y0 <= y) & (y1 > y) & (side > 0)).sum() - ((y0 > y) & (y1 <= y) & (side < 0)).sum())
