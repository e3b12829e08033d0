"""Outlines of what is marked: polygons, with holes where there are any, in mm. One kind for all: the makers below give
them for the shapes that are measured by their sizes, and drawings bring their own."""

import math

import numpy as np
from shapely.geometry import Point, Polygon, box
from shapely.geometry.base import BaseGeometry

_HALVINGS = 26
_QUARTER = 64
"""Straight pieces in a quarter of a circle: its area is 0.01 % too small."""


def rectangle(width_mm: float, height_mm: float) -> Polygon:
    """A rectangle about zero."""
    return box(-width_mm / 2, -height_mm / 2, width_mm / 2, height_mm / 2)


def disc(diameter_mm: float) -> Polygon:
    """A disc about zero."""
    return Point(0, 0).buffer(diameter_mm / 2, quad_segs=_QUARTER)


def developed_cylinder(diameter_mm: float, height_mm: float) -> Polygon:
    """The wall of a cylinder, cut open at its back and laid flat about zero: as wide as it is round."""
    return rectangle(math.pi * diameter_mm, height_mm)


def developed_cone(wide_mm: float, narrow_mm: float, slant_mm: float) -> Polygon:
    """The wall of a frustum of a cone, cut open at its back and laid flat: a part of a ring whose middle lies at zero,
    the wide end below.

    The cone's tip lies s·d/(D − d) beyond the narrow end along the wall, and the flat ring spans 2π(D − d)/(2s):
    Ø 60 and 80 mm, 100 mm high: radii 301.496 and 401.995 mm, 35.8213°.
    """
    if wide_mm - narrow_mm < 1e-9 * wide_mm:
        return developed_cylinder(wide_mm, slant_mm)
    inner = slant_mm * narrow_mm / (wide_mm - narrow_mm)
    span = math.pi * (wide_mm - narrow_mm) / slant_mm
    angles = np.linspace(-span / 2, span / 2, max(2, math.ceil(span / (math.pi / 2) * _QUARTER)) + 1)
    arc = np.stack([np.sin(angles), -np.cos(angles)], axis=1)
    ring = np.concatenate([(inner + slant_mm) * arc, inner * arc[::-1]])
    ring[:, 1] += inner + slant_mm / 2
    return Polygon(ring)


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
