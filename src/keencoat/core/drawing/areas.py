"""Rings as areas: what a filled outline covers, whichever way its rings run and cross."""

from collections.abc import Sequence
from enum import StrEnum

import numpy as np
import pyclipper
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components
from shapely import Polygon, STRtree, get_num_coordinates, get_parts, set_precision, union_all
from shapely.affinity import affine_transform
from shapely.geometry import MultiPolygon
from shapely.geometry.base import BaseGeometry

from keencoat.core.drawing.untrusted import refused
from keencoat.core.errors import BadValueError

Ring = NDArray[np.float64]
Area = BaseGeometry
"""A polygon, or several."""
NOTHING: Area = MultiPolygon()
MAX_POINTS = 400_000
_GRID = 2**28
"""Rings cross on a grid of so many steps over their size: far finer than any spot, and exact in 64 bits."""


class FillRule(StrEnum):
    """Which faces between crossing rings are inside (SVG 1.1, 11.3)."""

    NONZERO = "nonzero"
    EVENODD = "evenodd"


_RULES = {FillRule.NONZERO: pyclipper.PFT_NONZERO, FillRule.EVENODD: pyclipper.PFT_EVENODD}


def area_of(rings: Sequence[Ring], rule: FillRule = FillRule.NONZERO) -> Area:
    """The area that rings, each of shape (points, 2) and closed or not, enclose; open ones are closed straight.

    Crossing rings are swept line by line (Vatti 1992), so that many crossings cost little more than a few.
    """
    enough = [ring for ring in rings if len(ring) >= 3]
    if not enough:
        return NOTHING
    if len(enough) == 1:
        simple = Polygon(enough[0])
        if simple.is_valid:
            return simple
    return _swept(enough, rule)


def joined(areas: Sequence[Area]) -> Area:
    """Areas as one. What touches no other stays as it is: a union would look at its every corner."""
    inked = [area for area in areas if not area.is_empty]
    if len(inked) < 2:
        return inked[0] if inked else NOTHING
    every = np.array(inked, dtype=object)
    one, other = STRtree(every).query(every, predicate="intersects")
    touching = coo_array((np.ones(len(one), dtype=bool), (one, other)), shape=(len(every), len(every)))
    count, cluster = connected_components(touching, directed=False)
    sizes = np.bincount(cluster, minlength=count)
    alone = sizes[cluster] == 1
    order = np.argsort(cluster, kind="stable")
    clusters = np.split(every[order], np.cumsum(sizes)[:-1])
    parts = get_parts([*every[alone], *(union_all(some) for some in clusters if len(some) > 1)])
    return MultiPolygon(list(parts)) if len(parts) > 1 else parts[0]


def only_areas(found: BaseGeometry) -> Area:
    """What of a geometry has an area: lines and points, where areas only touch, fall away."""
    if found.geom_type in ("Polygon", "MultiPolygon"):
        return found
    flat = [part for part in get_parts(get_parts(found)) if part.geom_type == "Polygon"]
    return MultiPolygon(flat)


def _swept(rings: Sequence[Ring], rule: FillRule) -> Area:
    every = np.vstack(rings)
    middle = (every.min(axis=0) + every.max(axis=0)) / 2
    reach = float(np.abs(every - middle).max())
    if not reach:
        return NOTHING
    step = reach / _GRID
    sweep = pyclipper.Pyclipper()
    on_grid = [np.rint((ring - middle) / step).astype(np.int64).tolist() for ring in rings]
    try:
        sweep.AddPaths(on_grid, pyclipper.PT_SUBJECT, True)
    except pyclipper.ClipperException:  # all of them are straight lines: what is left has no area
        return NOTHING
    tree = sweep.Execute2(pyclipper.CT_UNION, _RULES[rule], _RULES[rule])
    parts: list[Polygon] = []
    waiting = [*tree.Childs]
    while waiting:
        node = waiting.pop()
        parts.append(Polygon(node.Contour, [hole.Contour for hole in node.Childs]))
        waiting.extend(child for hole in node.Childs for child in hole.Childs)
    found = MultiPolygon(parts)
    if get_num_coordinates(found) > MAX_POINTS:
        raise too_many_points()
    # Rings that touch in a point are one ring to Clipper, and none to GEOS.
    whole = found if found.is_valid else only_areas(set_precision(found, 1.0))
    return affine_transform(whole, [step, 0, 0, step, *middle])


def too_many_points() -> BadValueError:
    """The error for a drawing that is too much."""
    return refused(f"The drawing has more than {MAX_POINTS:,} points.", "Simplify its curves.")
