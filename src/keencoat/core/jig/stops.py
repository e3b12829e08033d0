"""Stops for one piece at a time: pins that it is pushed against, and so lies where the one before lay.

Two pins along its longer side and one at a short side hold a sheet (three points hold a body in its plane, 3-2-1
principle; common practice, no source); two pins below hold a disc.
"""

import math

from shapely.geometry import Point, Polygon

from keencoat.core.errors import require_within
from keencoat.core.jig.cut_sheet import CutSheet, Stroke, cross_strokes
from keencoat.core.jig.layout import inside_of
from keencoat.core.piece import FlatPiece

_MARGIN_MM = 12.0
_AT_DEG = (225.0, 315.0)


def pin_places(piece: FlatPiece, pin_mm: float) -> list[tuple[float, float]]:
    """Middles of the pins that touch a piece, about the piece's middle, mm."""
    reach = pin_mm / 2
    if piece.has_rim:
        out = piece.width_mm / 2 + reach
        return [(out * math.cos(math.radians(a)), out * math.sin(math.radians(a))) for a in _AT_DEG]
    half_wide, half_high = piece.width_mm / 2, piece.height_mm / 2
    if half_wide >= half_high:
        return [(-half_wide / 2, -half_high - reach), (half_wide / 2, -half_high - reach), (-half_wide - reach, 0.0)]
    return [(-half_wide - reach, -half_high / 2), (-half_wide - reach, half_high / 2), (0.0, -half_high - reach)]


def stops_sheet(piece: FlatPiece, pin_mm: float, kerf_mm: float) -> CutSheet:
    """A sheet with holes for pins of that diameter; the piece's own outline is marked, and two crosses."""
    require_within(pin_mm, 1, 20, "pin_mm", "mm")
    require_within(kerf_mm, 0, 0.9 * pin_mm, "kerf_mm", "mm")
    around = _MARGIN_MM + pin_mm
    width, height = piece.width_mm + 2 * around, piece.height_mm + 2 * around
    x0, y0 = width / 2, height / 2
    holes = [Point(x0 + x, y0 + y).buffer(pin_mm / 2, quad_segs=32) for x, y in pin_places(piece, pin_mm)]
    marks: list[Stroke] = [tuple((x0 + x, y0 + y) for x, y, *_ in piece.outline.exterior.coords)]
    for x, y in ((5.0, 5.0), (width - 5.0, height - 5.0)):
        marks += cross_strokes(x, y)
    cuts: list[Polygon] = [inside_of(hole, kerf_mm) for hole in holes]
    return CutSheet((width, height), tuple(cuts), tuple(marks))
