"""Art on a cylinder's or a cone's wall: from a flat drawing to height along the wall and turn, and back.

A wall is the frustum of a cone of slant length s between diameters below and above; its half angle is α, and a point
ρ along the wall from the cone's tip lies ρ·sin α from the axis. Flat art has its zero at its own middle, x round the
wall and y up. Two ways lead to the wall: **level**, where every line of text runs level round the piece and letters
stand upright, but grow as the wall widens; and **straight**, the art as a sheet that is bent round the cone without
stretching, whose straight lines rise and fall towards the sides. Developing the wall (ring of radii ρ, angle
2π·sin α) is an isometry, so that distances on the sheet are distances on the wall.
"""

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from keencoat.core.errors import BadValueError, require_within

Floats = NDArray[np.float64]
Number = TypeVar("Number", float, NDArray[np.float64])
_HARDLY_A_CONE = 1e-6


class ArtWay(StrEnum):
    """How flat art comes onto a taper."""

    LEVEL = "level"
    STRAIGHT = "straight"


@dataclass(frozen=True)
class TaperedWall:
    """A wall between two diameters, `slant_mm` along it; the same diameters make a cylinder."""

    below_mm: float
    above_mm: float
    slant_mm: float

    def __post_init__(self) -> None:
        require_within(self.below_mm, 1, 1000, "below_mm", "mm")
        require_within(self.above_mm, 1, 1000, "above_mm", "mm")
        require_within(self.slant_mm, 1, 2000, "slant_mm", "mm")
        if abs(self.above_mm - self.below_mm) / 2 >= self.slant_mm:
            raise BadValueError(
                f"From Ø {self.below_mm:g} to {self.above_mm:g} mm the wall is longer than {self.slant_mm:g} mm.",
                field="slant_mm",
                hint="Give the height along the wall, not along the axis.",
            )

    @property
    def sine(self) -> float:
        """sin α: above zero where the wall widens upwards."""
        return (self.above_mm - self.below_mm) / 2 / self.slant_mm

    @property
    def is_cylinder(self) -> bool:
        """Whether both ends are as wide, as far as arithmetic can tell."""
        return abs(self.sine) < _HARDLY_A_CONE

    @property
    def height_mm(self) -> float:
        """The height along the axis."""
        return self.slant_mm * math.sqrt(1 - self.sine**2)

    @property
    def half_angle_deg(self) -> float:
        """α in degrees."""
        return math.degrees(math.asin(self.sine))

    def diameter_mm(self, along_mm: Number) -> Number:
        """The diameter so far along the wall from below."""
        return self.below_mm + 2 * self.sine * along_mm

    @property
    def ring_deg(self) -> float:
        """The angle of the whole wall laid flat: 360°·sin α, 0 for a cylinder."""
        return 360 * abs(self.sine)


@dataclass(frozen=True)
class ArtOnWall:
    """Flat art on a wall: its middle lies `along_mm` up the wall and at `turn_deg` of turn; sizes hold there."""

    wall: TaperedWall
    way: ArtWay
    along_mm: float
    turn_deg: float = 0.0

    @property
    def radius_mm(self) -> float:
        """The wall's radius at the middle of the art."""
        return self.wall.diameter_mm(self.along_mm) / 2

    def onto(self, x_mm: Floats, y_mm: Floats) -> tuple[Floats, Floats]:
        """Flat points → (mm along the wall, degrees of turn)."""
        if self.way is ArtWay.LEVEL or self.wall.is_cylinder:
            return self.along_mm + y_mm, self.turn_deg + np.degrees(x_mm / self.radius_mm)
        tip, way = self.tip_mm, np.sign(self.wall.sine)
        up = tip + way * y_mm
        rho, phi = np.hypot(up, x_mm), np.arctan2(x_mm, up)
        return self.along_mm + way * (rho - tip), self.turn_deg + np.degrees(phi / abs(self.wall.sine))

    def off(self, along_mm: Floats, turn_deg: Floats) -> tuple[Floats, Floats]:
        """The way back: (mm along the wall, degrees of turn) → flat points."""
        turn = np.radians(turn_deg - self.turn_deg)
        if self.way is ArtWay.LEVEL or self.wall.is_cylinder:
            return turn * self.radius_mm, along_mm - self.along_mm
        tip, way = self.tip_mm, np.sign(self.wall.sine)
        rho, phi = tip + way * (along_mm - self.along_mm), turn * abs(self.wall.sine)
        return rho * np.sin(phi), way * (rho * np.cos(phi) - tip)

    def laid_flat(self, along_mm: Floats, turn_deg: Floats) -> tuple[Floats, Floats]:
        """Points of the wall on the wall laid flat, mm: what a paper sheet that is wrapped round it must show. Zero is
        the middle of the art, up is up the wall."""
        return ArtOnWall(self.wall, ArtWay.STRAIGHT, self.along_mm, self.turn_deg).off(along_mm, turn_deg)

    @property
    def tip_mm(self) -> float:
        """How far the cone's tip is from the middle of the art, along the wall."""
        return self.radius_mm / abs(self.wall.sine)


@dataclass(frozen=True)
class Distortion:
    """What a way does to art of a size: how much wider its widest line comes out than its narrowest, per cent; how far
    the ends of its middle line lie above or below its middle, mm; by how much letters at its sides lean, degrees."""

    wider_pct: float
    sag_mm: float
    lean_deg: float


def distortion_of(art: ArtOnWall, width_mm: float, height_mm: float) -> Distortion:
    """What becomes of art of this size: level art grows with the wall, straight art keeps its size and sags."""
    wall, half = art.wall, height_mm / 2
    if art.way is ArtWay.LEVEL or wall.is_cylinder:
        ends = wall.diameter_mm(art.along_mm - half), wall.diameter_mm(art.along_mm + half)
        return Distortion(100 * (max(ends) / min(ends) - 1), 0.0, 0.0)
    along, turn = art.onto(np.array([width_mm / 2]), np.array([0.0]))
    lean = float(turn[0] - art.turn_deg) * wall.sine
    return Distortion(0.0, float(along[0]) - art.along_mm, abs(lean))


@dataclass(frozen=True)
class Band:
    """Art round a wall: how many degrees it takes, and how far both its sides are from the seam at the back, mm."""

    degrees: float
    to_seam_mm: float

    @property
    def meets_itself(self) -> bool:
        """Whether it goes round and over itself."""
        return self.degrees > 360


def band_of(width_mm: float, there_mm: float, seam_deg: float = 180.0, turn_deg: float = 0.0) -> Band:
    """A mark so wide where the wall is `there_mm` across, its middle at `turn_deg`, the seam at `seam_deg`.

    >>> band = band_of(62.83185307, 80.0)
    >>> round(band.degrees, 3), round(band.to_seam_mm, 3)
    (90.0, 94.248)
    """
    degrees = math.degrees(width_mm / (there_mm / 2))
    apart = abs((seam_deg - turn_deg + 180) % 360 - 180)
    return Band(degrees, math.radians(apart - degrees / 2) * there_mm / 2)
