"""Round and tapered pieces: a cylinder or the frustum of a cone, coated on the outside between two bare margins.

Lateral area of a frustum: π(r₁ + r₂)·s, s the slant height; a cylinder is its special case.
"""

import math
from dataclasses import dataclass

from shapely.geometry import Polygon

from keencoat.core.errors import BadValueError, require_within
from keencoat.core.geometry import developed_cone, rectangle
from keencoat.core.piece.flat import FlatPiece, Shape

_LARGEST_MM = 1000.0


@dataclass(frozen=True)
class RoundPiece:
    """A round piece: `diameter_mm` at the wider end, `narrow_mm` at the other (the same for a cylinder).

    `thickness_mm` is the wall; `margin_mm` stays bare at both ends, along the slant.
    """

    diameter_mm: float
    narrow_mm: float
    height_mm: float
    thickness_mm: float
    margin_mm: float = 3.0

    def __post_init__(self) -> None:
        require_within(self.diameter_mm, 5, _LARGEST_MM, "width_mm", "mm")
        require_within(self.narrow_mm, 5, self.diameter_mm, "narrow_mm", "mm")
        require_within(self.height_mm, 5, _LARGEST_MM, "height_mm", "mm")
        require_within(self.thickness_mm, 0.05, 100, "thickness_mm", "mm")
        require_within(self.margin_mm, 0, 100, "margin_mm", "mm")
        if 2 * self.margin_mm >= self.slant_mm:
            raise BadValueError(
                f"A bare margin of {self.margin_mm:g} mm leaves nothing to coat.",
                field="margin_mm",
                hint=f"Keep it below {self.slant_mm / 2:.3g} mm.",
            )

    @property
    def slant_mm(self) -> float:
        """Height along the wall."""
        return math.hypot(self.height_mm, (self.diameter_mm - self.narrow_mm) / 2)

    @property
    def has_rim(self) -> bool:
        """A photo shows its wall from the side, not a rim."""
        return False

    @property
    def radius_mm(self) -> float:
        """How its wall is bent, at the narrower end."""
        return self.narrow_mm / 2

    @property
    def size(self) -> str:
        """The size in words."""
        if self.narrow_mm == self.diameter_mm:
            return f"round, Ø {self.diameter_mm:g} × {self.height_mm:g} mm"
        return f"tapered, Ø {self.diameter_mm:g} to {self.narrow_mm:g} × {self.height_mm:g} mm"

    @property
    def outline(self) -> Polygon:
        """The wall, cut open and laid flat."""
        return developed_cone(self.diameter_mm, self.narrow_mm, self.slant_mm)

    @property
    def coated(self) -> Polygon:
        """The coated part of it, between the bare margins."""
        # A margin along the slant takes its share of the way from one diameter to the other.
        step = self.margin_mm / self.slant_mm * (self.diameter_mm - self.narrow_mm)
        return developed_cone(self.diameter_mm - step, self.narrow_mm + step, self.slant_mm - 2 * self.margin_mm)

    @property
    def coated_cm2(self) -> float:
        """The area that coat is mixed for, cm²."""
        # Margins of the same slant take away as much radius above as they add below.
        mean_radius = (self.diameter_mm + self.narrow_mm) / 4
        return math.pi * 2 * mean_radius * (self.slant_mm - 2 * self.margin_mm) / 100

    @property
    def face(self) -> FlatPiece:
        """The wall, unrolled and cut to a rectangle: as wide as the narrow end is round, as high as the slant."""
        return FlatPiece(Shape.RECTANGLE, math.pi * self.narrow_mm, self.slant_mm, self.thickness_mm, self.margin_mm)

    def in_view(self, degrees: float) -> Polygon:
        """What of the coated area one photo shows well: a band so far round the narrow end, on the wall's `face`."""
        wide = min(self.face.width_mm - 2 * self.margin_mm, self.radius_mm * math.radians(degrees))
        return rectangle(wide, self.slant_mm - 2 * self.margin_mm)

    @property
    def stretch(self) -> float:
        """How much faster the surface runs at the wide end than at the narrow one on a rotary, minus 1."""
        return self.diameter_mm / self.narrow_mm - 1


Piece = FlatPiece | RoundPiece


def make_piece(
    shape: Shape, width_mm: float, height_mm: float, thickness_mm: float, margin_mm: float, narrow_mm: float
) -> Piece:
    """A piece from a job's figures; round ones take their wider diameter from `width_mm`."""
    if shape is Shape.CYLINDER:
        return RoundPiece(width_mm, width_mm, height_mm, thickness_mm, margin_mm)
    if shape is Shape.FRUSTUM:
        return RoundPiece(width_mm, narrow_mm, height_mm, thickness_mm, margin_mm)
    return FlatPiece(shape, width_mm, height_mm, thickness_mm, margin_mm)
