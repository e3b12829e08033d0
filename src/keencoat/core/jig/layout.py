"""A batch jig: pockets for one kind of piece, in rows or like a honeycomb, on a sheet.

A pocket is the piece's outline and the play that a piece has in it; its cut lies half the kerf inside the pocket's
edge, because the beam takes that much. Coordinates: mm, the sheet's lower left corner zero, y up.
"""

import math
from dataclasses import dataclass
from typing import cast

import numpy as np
from shapely import MultiPolygon, Polygon
from shapely.affinity import rotate, translate
from shapely.geometry import Point

from keencoat.core.errors import BadValueError, require_within
from keencoat.core.jig.cut_sheet import CROSS_MM
from keencoat.core.piece import FlatPiece

MOST_POCKETS = 400
_LINE_MM = 4.0


@dataclass(frozen=True)
class JigSpec:
    """What is asked of a jig: its sheet, the play of a piece in its pocket (across, both sides together), the kerf that
    the cut takes, the gap between pockets, the margin all round, the radius of notches for fingers (0: none), where a
    hanging hole points (degrees from x, counterclockwise; None: nowhere), whether pieces lie turned a quarter, and
    whether it is for marks that are seen from behind."""

    sheet_mm: tuple[float, float]
    play_mm: float = 0.4
    kerf_mm: float = 0.15
    gap_mm: float = 6.0
    margin_mm: float = 12.0
    finger_mm: float = 0.0
    hole_deg: float | None = None
    across: bool = False
    mirrored: bool = False

    def __post_init__(self) -> None:
        for value, name in zip(self.sheet_mm, ("sheet_width_mm", "sheet_height_mm"), strict=True):
            require_within(value, 20, 3000, name, "mm")
        require_within(self.play_mm, 0, 5, "play_mm", "mm")
        require_within(self.kerf_mm, 0, 2, "kerf_mm", "mm")
        require_within(self.gap_mm, 1, 200, "gap_mm", "mm")
        require_within(self.margin_mm, 2 * CROSS_MM - 2, 200, "margin_mm", "mm")
        require_within(self.finger_mm, 0, 30, "finger_mm", "mm")
        if self.hole_deg is not None:
            require_within(self.hole_deg, -360, 360, "hole_deg", "°")
        if self.play_mm < self.kerf_mm:
            raise BadValueError(
                f"A play of {self.play_mm:g} mm is less than the {self.kerf_mm:g} mm that the cut takes: its line "
                "would run inside the piece.",
                field="play_mm",
                hint=f"Give {self.kerf_mm + 0.2:g} mm or more, or measure the kerf again.",
            )


@dataclass(frozen=True)
class Pocket:
    """A pocket: its number from 1, and where the middle of its piece lies."""

    number: int
    x_mm: float
    y_mm: float


@dataclass(frozen=True, eq=False)
class Jig:
    """A jig as laid out: pockets in rows from the lower left, their edge about the piece's middle, and two crosses in
    opposite corners of the sheet to line it up by, the one near pocket 1 first."""

    spec: JigSpec
    pockets: tuple[Pocket, ...]
    edge: Polygon
    like_honeycomb: bool
    crosses_mm: tuple[tuple[float, float], tuple[float, float]]

    @property
    def cut(self) -> Polygon:
        """The way of the beam about a piece's middle: half the kerf inside the pocket's edge."""
        return inside_of(self.edge, self.spec.kerf_mm)

    def cuts(self) -> list[Polygon]:
        """The way of the beam round every pocket."""
        return [translate(self.cut, p.x_mm, p.y_mm) for p in self.pockets]

    def opened(self) -> MultiPolygon:
        """All that is cut away."""
        return MultiPolygon([translate(self.edge, p.x_mm, p.y_mm) for p in self.pockets])

    def hole_line(self, pocket: Pocket) -> tuple[tuple[float, float], tuple[float, float]] | None:
        """The line beside a pocket that says which way its piece's hole points; None where nothing is said."""
        if self.spec.hole_deg is None:
            return None
        turn = math.radians(self.spec.hole_deg if not self.spec.mirrored else 180 - self.spec.hole_deg)
        way = np.array([math.cos(turn), math.sin(turn)])
        ray = np.array(self.edge.exterior.coords) @ way
        start = way * (float(ray.max()) + 0.5)
        end = start + way * min(_LINE_MM, max(0.5, self.spec.gap_mm - 1.0))
        at = np.array([pocket.x_mm, pocket.y_mm])
        (x0, y0), (x1, y1) = (at + start).tolist(), (at + end).tolist()
        return (x0, y0), (x1, y1)


def lay_jig(piece: FlatPiece, spec: JigSpec) -> Jig:
    """As many pockets as the sheet holds: in rows, or for discs like a honeycomb where that holds more.

    Raises BadValueError where not one fits, and where there would be more than anybody cuts.
    """
    edge = edge_of(piece, spec)
    left, low, right, top = edge.bounds
    size = (right - left, top - low)
    room = tuple(s - 2 * spec.margin_mm for s in spec.sheet_mm)
    places, honeycomb = _in_rows(size, spec.gap_mm, room), False
    if piece.has_rim and not spec.finger_mm:
        closer = _like_honeycomb(size[0], spec.gap_mm, room)
        if len(closer) > len(places):
            places, honeycomb = closer, True
    if not places:
        raise BadValueError(
            f"Not one pocket of {size[0]:.1f} × {size[1]:.1f} mm fits on {spec.sheet_mm[0]:g} × "
            f"{spec.sheet_mm[1]:g} mm with margins of {spec.margin_mm:g} mm.",
            field="sheet_width_mm",
            hint="Take a larger sheet, or a smaller margin.",
        )
    if len(places) > MOST_POCKETS:
        raise BadValueError(
            f"That would be {len(places)} pockets.",
            field="sheet_width_mm",
            hint=f"A jig holds up to {MOST_POCKETS}: take a smaller sheet, or wider gaps.",
        )
    # In the middle of the sheet, rows from below.
    box = np.array(places)
    used = box.max(axis=0) + size
    shift = (np.array(spec.sheet_mm) - used) / 2 - (left, low)
    ordered = sorted((round(y, 6), round(x, 6)) for x, y in places)
    width = spec.sheet_mm[0]
    pockets = []
    for number, (y, x) in enumerate(ordered, 1):
        at_x = x + shift[0]
        pockets.append(Pocket(number, float(width - at_x if spec.mirrored else at_x), float(y + shift[1])))
    inset = CROSS_MM / 2 + 2
    near, far = (width - inset, inset) if spec.mirrored else (inset, inset), spec.sheet_mm[1] - inset
    return Jig(spec, tuple(pockets), edge, honeycomb, (near, (width - near[0], far)))


def inside_of(edge: Polygon, kerf_mm: float) -> Polygon:
    """The way of a beam that opens an edge: half the kerf inside it."""
    return edge.buffer(-kerf_mm / 2, join_style="mitre") if kerf_mm else edge


def edge_of(piece: FlatPiece, spec: JigSpec) -> Polygon:
    """A pocket's edge about its piece's middle, with notches for fingers on its left and right."""
    outline = rotate(piece.outline, 90, origin=(0, 0)) if spec.across else piece.outline
    edge = outline.buffer(spec.play_mm / 2, join_style="round" if piece.has_rim else "mitre", quad_segs=64)
    left, _, right, _ = edge.bounds
    for x in (left, right) if spec.finger_mm else ():
        edge = cast(Polygon, edge.union(Point(x, 0).buffer(spec.finger_mm, quad_segs=32)))
    return edge


def _in_rows(size: tuple[float, float], gap_mm: float, room: tuple[float, ...]) -> list[tuple[float, float]]:
    counts = [max(0, math.floor((r + gap_mm) / (s + gap_mm) + 1e-9)) for r, s in zip(room, size, strict=True)]
    pitch = [s + gap_mm for s in size]
    return [(c * pitch[0], r * pitch[1]) for r in range(counts[1]) for c in range(counts[0])]


def _like_honeycomb(across_mm: float, gap_mm: float, room: tuple[float, ...]) -> list[tuple[float, float]]:
    """Every other row half a pitch aside, rows √3/2 of a pitch apart: either way round, whichever holds more."""
    return max((_hexagonal(across_mm, gap_mm, room), _turned(_hexagonal(across_mm, gap_mm, room[::-1]))), key=len)


def _hexagonal(across_mm: float, gap_mm: float, room: tuple[float, ...]) -> list[tuple[float, float]]:
    pitch = across_mm + gap_mm
    rows = math.floor((room[1] - across_mm) / (pitch * math.sqrt(3) / 2) + 1e-9) + 1 if room[1] >= across_mm else 0
    found = []
    for row in range(rows):
        aside = pitch / 2 if row % 2 else 0.0
        count = math.floor((room[0] - across_mm - aside) / pitch + 1e-9) + 1 if room[0] >= across_mm + aside else 0
        found += [(aside + c * pitch, row * pitch * math.sqrt(3) / 2) for c in range(count)]
    return found


def _turned(places: list[tuple[float, float]]) -> list[tuple[float, float]]:
    return [(y, x) for x, y in places]
