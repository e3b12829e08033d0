"""Flat pieces: a rectangle or a disc, its size, and the part of it that carries the coat.

Coordinates: mm, origin at the centre of the piece, x right, y up (seen from the side that is burned).
"""

from dataclasses import dataclass
from enum import StrEnum

from shapely.geometry import Polygon

from keencoat.core.errors import BadValueError, require_within
from keencoat.core.geometry import disc, rectangle

_LARGEST_MM = 2000.0


class Shape(StrEnum):
    """The shapes of pieces; the round ones stand in `round.py`."""

    RECTANGLE = "rectangle"
    DISC = "disc"
    CYLINDER = "cylinder"
    FRUSTUM = "frustum"


@dataclass(frozen=True)
class FlatPiece:
    """A flat piece. A disc has width_mm = height_mm = its diameter. `margin_mm` stays uncoated all round."""

    shape: Shape
    width_mm: float
    height_mm: float
    thickness_mm: float
    margin_mm: float = 3.0

    def __post_init__(self) -> None:
        if self.shape not in (Shape.RECTANGLE, Shape.DISC):
            raise BadValueError(f"A {self.shape} is not flat.", field="shape", hint="Give rectangle or disc.")
        require_within(self.width_mm, 5, _LARGEST_MM, "width_mm", "mm")
        require_within(self.height_mm, 5, _LARGEST_MM, "height_mm", "mm")
        require_within(self.thickness_mm, 0.05, 100, "thickness_mm", "mm")
        require_within(self.margin_mm, 0, 100, "margin_mm", "mm")
        if self.has_rim and self.width_mm != self.height_mm:
            raise BadValueError(
                "A disc is as high as it is wide.", field="height_mm", hint="Give its diameter for both."
            )
        if 2 * self.margin_mm >= min(self.width_mm, self.height_mm):
            raise BadValueError(
                f"A bare margin of {self.margin_mm:g} mm leaves nothing to coat.",
                field="margin_mm",
                hint=f"Keep it below {min(self.width_mm, self.height_mm) / 2:g} mm.",
            )

    @property
    def has_rim(self) -> bool:
        """Whether its edge is one round rim, without corners."""
        return self.shape is Shape.DISC

    @property
    def radius_mm(self) -> None:
        """It is not bent."""

    @property
    def stretch(self) -> float:
        """Nothing runs faster at one end than at the other."""
        return 0.0

    @property
    def size(self) -> str:
        """The size in words."""
        return f"Ø {self.width_mm:g} mm" if self.has_rim else f"{self.width_mm:g} × {self.height_mm:g} mm"

    @property
    def face(self) -> "FlatPiece":
        """What the beam meets: the piece itself."""
        return self

    @property
    def outline(self) -> Polygon:
        """The edge of the piece."""
        return self._inset(0.0)

    @property
    def coated(self) -> Polygon:
        """The coated area: the outline, smaller by the margin."""
        return self._inset(self.margin_mm)

    @property
    def coated_cm2(self) -> float:
        """The area that coat is mixed for, cm²."""
        return float(self.coated.area) / 100.0

    def in_view(self, _degrees: float) -> Polygon:
        """What of the coated area one photo shows well: all of it, whatever a round piece is seen by."""
        return self.coated

    def _inset(self, mm: float) -> Polygon:
        width, height = self.width_mm - 2 * mm, self.height_mm - 2 * mm
        return disc(width) if self.has_rim else rectangle(width, height)
