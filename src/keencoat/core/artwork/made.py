"""Artwork made for one setting: dots on the lines of that setting, placed on the piece, never outside the coat.

Coordinates are the piece's own: zero at its middle, x right, y up, as the maker looks at the finished mark.
"""

import math
from dataclasses import dataclass, replace

import numpy as np
from shapely import Point, box, get_coordinates
from shapely.affinity import affine_transform, rotate
from shapely.geometry.base import BaseGeometry

from keencoat.core.artwork.filled import filled_dots
from keencoat.core.artwork.picture import Picture, resampled
from keencoat.core.artwork.screen import Dots, Screen, dots_of
from keencoat.core.artwork.tone_curve import Look, ToneCurve
from keencoat.core.errors import BadValueError, require_within
from keencoat.core.geometry import to_work
from keencoat.core.quantities import Machine, Setting
from keencoat.core.toolpath import DotRaster, Item, Part
from keencoat.core.vision import Floats

MAX_DOTS = 40_000_000
MOST_BLEED_MM = 5.0
_OF_SPOT, _BAND = 3.0, 256
"""Dots along a line are not shorter than a third of the spot: what is finer it cannot hold."""


@dataclass(frozen=True)
class Placement:
    """Where artwork lies: its middle and its width, mm, before quarter turns counterclockwise."""

    width_mm: float
    x_mm: float = 0.0
    y_mm: float = 0.0
    quarter_turns: int = 0

    def __post_init__(self) -> None:
        require_within(self.width_mm, 1, 2000, "width_mm", "mm")
        require_within(self.x_mm, -2000, 2000, "x_mm", "mm")
        require_within(self.y_mm, -2000, 2000, "y_mm", "mm")
        require_within(self.quarter_turns, 0, 3, "quarter_turns")

    def box(self, height_per_width: float) -> tuple[float, float, float, float]:
        """Left, low, right, top of artwork of these proportions."""
        wide, high = self.width_mm, self.width_mm * height_per_width
        if self.quarter_turns % 2:
            wide, high = high, wide
        return self.x_mm - wide / 2, self.y_mm - high / 2, self.x_mm + wide / 2, self.y_mm + high / 2


@dataclass(frozen=True, eq=False)
class MadeDots:
    """Dots (rows, columns), the lowest row first; the first one's lower left corner lies at (left, low) mm. Rows are
    the setting's interval apart, dots `pitch_mm` long."""

    dots: Dots
    left_mm: float
    low_mm: float
    pitch_mm: float
    interval_mm: float

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Left, low, right, top, mm."""
        rows, columns = self.dots.shape
        return (
            self.left_mm,
            self.low_mm,
            self.left_mm + columns * self.pitch_mm,
            self.low_mm + rows * self.interval_mm,
        )

    @property
    def lit_mm2(self) -> float:
        """The area that is burned."""
        return float(self.dots.sum()) * self.pitch_mm * self.interval_mm

    @property
    def is_square(self) -> bool:
        """Whether dots are as long as lines are apart."""
        return math.isclose(self.pitch_mm, self.interval_mm, rel_tol=1e-6)

    def program(
        self, setting: Setting, machine: Machine, size_mm: tuple[float, float], mirrored: bool, turned: bool = False
    ) -> DotRaster:
        """What the head does: in work coordinates of a piece of that width and height, mirrored where the mark is seen
        through it. `turned`: the piece lies turned a quarter counterclockwise on the bed, so that lines go up it.
        Raises BadValueError to turn dots that are longer than lines are apart."""
        left, low = to_work(*size_mm, mirrored).at(self.box[2] if mirrored else self.left_mm, self.low_mm)
        dots = self.dots[:, ::-1] if mirrored else self.dots
        if turned:
            if not self.is_square:
                raise BadValueError(
                    "Lines lie closer than the spot can hold dots: turned, they would come out otherwise.",
                    field="across",
                    hint="Leave the piece as it is.",
                )
            # (x, y) on the piece lies at (height − y, x) on the bed.
            left, low, dots = size_mm[1] - low - dots.shape[0] * self.interval_mm, left, dots[::-1].T
        return DotRaster(
            dots,
            left,
            low + self.interval_mm / 2,
            self.pitch_mm,
            setting,
            machine,
            Item(Part.ARTWORK),
        )


@dataclass(frozen=True)
class Lines:
    """What artwork is laid on: lines so far apart, dots so long, inside `room`."""

    interval_mm: float
    pitch_mm: float
    room: BaseGeometry


@dataclass(frozen=True)
class Tones:
    """How tones become dots: how ground and mark look, the screen and whether it goes to and fro, and the curve that
    takes back what dots gain. Without one, a place that is to be half full gets half the dots."""

    look: Look
    screen: Screen
    curve: ToneCurve | None = None
    serpentine: bool = True


def lines_of(interval_mm: float, spot_mm: float, room: BaseGeometry) -> Lines:
    """The lines of a setting, their dots square, but never shorter than a spot can hold."""
    return Lines(interval_mm, max(interval_mm, spot_mm / _OF_SPOT), room)


def dots_of_picture(picture: Picture, placement: Placement, lines: Lines, tones: Tones) -> MadeDots:
    """A picture (its tones set already) on lines, kept inside their room. With a threshold the picture has one tone:
    what is nearer to the mark's lightness than to the ground's is burned."""
    shares, inside, left, low = _shares_on_lines(picture, placement, lines, tones)
    dots = dots_of(shares, tones.screen, tones.serpentine)
    dots &= inside
    return _made(dots, left, low, lines)


def _reach(has: Dots) -> slice:
    """From the first place that has something to the last one; the first place alone where none has."""
    at = np.flatnonzero(has)
    return slice(int(at[0]), int(at[-1]) + 1) if len(at) else slice(0, 1)


def greys_of_picture(picture: Picture, placement: Placement, lines: Lines, tones: Tones) -> Floats:
    """The shares of a picture on lines before they become dots, 0…1, the lowest row first: what a machine wants that
    makes its own dots."""
    shares, inside, _, _ = _shares_on_lines(picture, placement, lines, tones)
    return np.asarray(shares * inside)


def _shares_on_lines(
    picture: Picture, placement: Placement, lines: Lines, tones: Tones
) -> tuple[Floats, Dots, float, float]:
    """Shares as far as they reach into the room, what of them lies inside, and where their lower left corner lies,
    mm."""
    height, width = picture.light.shape
    left, low, right, top = placement.box(height / width)
    rows, columns = _size((right - left) / lines.pitch_mm, (top - low) / lines.interval_mm)
    # Upside down: the lowest row comes first.
    turned = replace(
        picture,
        light=np.rot90(picture.light, placement.quarter_turns)[::-1],
        there=np.rot90(picture.there, placement.quarter_turns)[::-1],
    )
    fine = resampled(turned, columns, rows)
    shares = fine.light
    # A band at a time: a whole face in several copies would fill the memory.
    for start in range(0, rows, _BAND):
        band = slice(start, start + _BAND)
        shares[band] = _shares(shares[band], tones) * fine.there[band]
    np.clip(shares, 0, 1, out=shares)
    inside = _inside(lines.room, left, low, lines, (rows, columns))
    high, wide = (_reach(np.asarray(inside.any(axis=axis))) for axis in (1, 0))
    left, low = left + wide.start * lines.pitch_mm, low + high.start * lines.interval_mm
    return np.ascontiguousarray(shares[high, wide]), np.ascontiguousarray(inside[high, wide]), left, low


def _shares(light: Floats, tones: Tones) -> Floats:
    """Shares of dots for lightness."""
    if tones.screen is Screen.THRESHOLD:
        return np.asarray(1 - light if tones.look.darkens else light)
    fullness = tones.look.fullness_for(light)
    return fullness if tones.curve is None else tones.curve.shares_for(fullness)


def dots_of_area(area: BaseGeometry, lines: Lines) -> MadeDots:
    """Filled outlines on lines, kept inside their room. Raises BadValueError where nothing is left."""
    kept = area.intersection(lines.room)
    if kept.is_empty or kept.area == 0:
        raise BadValueError("None of it lies on the coat.", field="placement", hint="Move it onto the coated area.")
    left, low, right, top = kept.bounds
    size = _size((right - left) / lines.pitch_mm, (top - low) / lines.interval_mm)
    return _made(_inside(kept, left, low, lines, size), left, low, lines)


def _inside(area: BaseGeometry, left_mm: float, low_mm: float, lines: Lines, size: tuple[int, int]) -> Dots:
    return filled_dots(area, left_mm, low_mm + lines.interval_mm / 2, lines.pitch_mm, lines.interval_mm, size)


def _made(dots: Dots, left_mm: float, low_mm: float, lines: Lines) -> MadeDots:
    return MadeDots(dots, left_mm, low_mm, lines.pitch_mm, lines.interval_mm)


def placed_area(area: BaseGeometry, page_mm: tuple[float, float], placement: Placement) -> BaseGeometry:
    """Outlines of a page (zero at its lower left) where they lie on the piece, as wide as the placement says."""
    size = placement.width_mm / page_mm[0]
    middle = affine_transform(area, [size, 0, 0, size, -placement.width_mm / 2, -size * page_mm[1] / 2])
    turned = rotate(middle, 90 * placement.quarter_turns, origin=(0, 0))
    return affine_transform(turned, [1, 0, 0, 1, placement.x_mm, placement.y_mm])


def off_room_mm(shape_box: tuple[float, float, float, float], room: BaseGeometry) -> float:
    """How far a box reaches beyond the room, mm; 0 where it lies inside."""
    outside = box(*shape_box).difference(room.buffer(1e-9))
    return max((room.distance(Point(at)) for at in get_coordinates(outside)), default=0.0)


def _size(columns: float, rows: float) -> tuple[int, int]:
    """Rows and columns, at least one. Raises BadValueError for more dots than can be worked on."""
    size = max(1, round(rows)), max(1, round(columns))
    if math.prod(size) > MAX_DOTS:
        raise BadValueError(
            f"This would be {math.prod(size) / 1e6:.0f} million dots; {MAX_DOTS // 1_000_000} million is the most.",
            field="placement.width_mm",
            hint="Make it smaller, or split it over pieces.",
        )
    return size
