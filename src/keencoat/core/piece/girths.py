"""What tape and calliper say of a round wall: a cylinder, a cone or a barrel, and how far they disagree.

The diameter over the height h is fitted as d(h) = a + b·h + c·h² by least squares, each figure weighing as much as its
tool is exact; a term is kept only where the figures need it. Heights are taken along the axis, from the foot.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from keencoat.core.errors import BadValueError, require_within
from keencoat.core.finding_codes import FindingCode
from keencoat.core.findings import Finding, Severity

INCH_MM = 25.4
_INCHES_WITHIN = 0.15
_SURE_SDS = 2.5
"""Standard deviations from which a difference is more than the tool's own doubt."""
_APART_MM = 2.0


class GirthTool(StrEnum):
    """What a wall was measured with."""

    TAPE = "tape"
    CALLIPER = "calliper"

    @property
    def sd_mm(self) -> float:
        """Doubt of a diameter taken with it, mm: a tape is read to about 0.5 mm round (own estimates)."""
        return 0.5 / math.pi if self is GirthTool.TAPE else 0.1


@dataclass(frozen=True)
class Girth:
    """One measurement: round the wall by tape, or across it by calliper, mm, at a height from the foot."""

    height_mm: float
    figure_mm: float
    by: GirthTool

    def __post_init__(self) -> None:
        require_within(self.height_mm, 0, 1000, "height_mm", "mm")
        require_within(self.figure_mm, 1, 4000, "figure_mm", "mm")

    @property
    def diameter_mm(self) -> float:
        """The diameter that it says."""
        return self.figure_mm / math.pi if self.by is GirthTool.TAPE else self.figure_mm

    def in_its_own(self, diameter_mm: float) -> float:
        """A difference in diameter as the tool would show it: round by tape, across by calliper."""
        return diameter_mm * math.pi if self.by is GirthTool.TAPE else diameter_mm


class WallKind(StrEnum):
    """What a wall is like along its axis."""

    CYLINDER = "cylinder"
    CONE = "cone"
    BARREL = "barrel"


class NarrowEnd(StrEnum):
    """Which end the maker says is the narrow one."""

    NEITHER = "neither"
    FOOT = "foot"
    TOP = "top"


@dataclass(frozen=True)
class Wall:
    """A wall as it was measured: its diameter over height is d(h) = a + b·h + c·h²; `length_mm` from foot to top.
    `off_mm`: how far each figure lies from the wall, in its own tool's terms."""

    kind: WallKind
    length_mm: float
    a: float
    b: float
    c: float
    off_mm: tuple[float, ...]
    findings: tuple[Finding, ...]

    def diameter_mm(self, height_mm: float) -> float:
        """The diameter at a height from the foot."""
        return self.a + self.b * height_mm + self.c * height_mm**2

    @property
    def widest_mm(self) -> float:
        """The largest diameter between foot and top."""
        heights = [0.0, self.length_mm]
        if self.c:
            heights.append(min(max(-self.b / (2 * self.c), 0.0), self.length_mm))
        return max(self.diameter_mm(h) for h in heights)

    def half_angle_deg(self, low_mm: float, high_mm: float) -> float:
        """The angle between wall and axis from one height to another, degrees; above zero where it widens upwards.

        >>> round(Wall(WallKind.CONE, 100, 60, 0.2, 0, (), ()).half_angle_deg(0, 100), 4)
        5.7106
        """
        rise = (self.diameter_mm(high_mm) - self.diameter_mm(low_mm)) / 2
        return math.degrees(math.atan2(rise, high_mm - low_mm))

    def straight_mm(self, within_mm: float) -> float:
        """How long a part strays no more than so far from a straight line: √(8·t/|c|) of a parabola, all of others."""
        return min(self.length_mm, math.sqrt(8 * within_mm / abs(self.c))) if self.c else self.length_mm


def read_wall(girths: Sequence[Girth], length_mm: float, narrow: NarrowEnd, told_mm: float) -> Wall:
    """The wall that these figures say. `told_mm` is the diameter that the piece is said to have.

    Raises BadValueError without any figure, above the wall's end, where a figure must be in inches, and where the
    narrow end turns out to be the wider one.
    """
    require_within(length_mm, 5, 1000, "length_mm", "mm")
    if not girths:
        raise BadValueError(
            "Nothing is measured yet.", field="girths", hint="Measure round it, or across it, at one height or more."
        )
    for number, girth in enumerate(girths):
        _check_place(girth, number, length_mm)
        _check_inches(girth, number, told_mm)
    heights = np.array([g.height_mm for g in girths])
    diameters = np.array([g.diameter_mm for g in girths])
    sds = np.array([g.by.sd_mm for g in girths])
    terms = _terms_needed(heights, diameters, sds)
    of_powers = np.zeros(3)
    of_powers[:terms] = _least_squares(heights, diameters, sds, terms)[0]
    a, b, c = (float(p) for p in of_powers)
    kind = (WallKind.CYLINDER, WallKind.CONE, WallKind.BARREL)[terms - 1]
    off = tuple(
        g.in_its_own(float(d - (a + b * g.height_mm + c * g.height_mm**2)))
        for g, d in zip(girths, diameters, strict=True)
    )
    wall = Wall(kind, length_mm, a, b, c, off, ())
    _check_narrow(wall, narrow)
    return Wall(kind, length_mm, a, b, c, off, tuple(_findings(girths, wall, heights, diameters, sds)))


def _check_place(girth: Girth, number: int, length_mm: float) -> None:
    if girth.height_mm > length_mm:
        raise BadValueError(
            f"It was measured {girth.height_mm:g} mm above the foot, but the wall is {length_mm:g} mm long.",
            field=f"girths.{number}.height_mm",
            hint="Heights count from the foot, along the axis.",
        )


def _check_inches(girth: Girth, number: int, told_mm: float) -> None:
    if abs(girth.diameter_mm * INCH_MM / told_mm - 1) < _INCHES_WITHIN:
        told = girth.in_its_own(told_mm)
        raise BadValueError(
            f"{girth.figure_mm:g} mm is a 25th of the {told:.0f} mm that this piece should have there.",
            field=f"girths.{number}.figure_mm",
            hint=f"If it was read in inches, type {girth.figure_mm * INCH_MM:.1f} mm.",
        )


def _check_narrow(wall: Wall, narrow: NarrowEnd) -> None:
    ends = {NarrowEnd.FOOT: wall.diameter_mm(0), NarrowEnd.TOP: wall.diameter_mm(wall.length_mm)}
    if narrow is NarrowEnd.NEITHER or wall.kind is not WallKind.CONE:
        return
    other = NarrowEnd.TOP if narrow is NarrowEnd.FOOT else NarrowEnd.FOOT
    if ends[narrow] > ends[other]:
        raise BadValueError(
            f"The {narrow} should be the narrow end, but by these figures it is "
            f"{ends[narrow] - ends[other]:.1f} mm wider than the {other}.",
            field="narrow_end",
            hint=f"Heights count from the foot: swap them, or say that the {other} is narrow.",
        )


def _least_squares(
    heights: np.ndarray, diameters: np.ndarray, sds: np.ndarray, terms: int
) -> tuple[np.ndarray, np.ndarray]:
    """Coefficients from the lowest power on, and their covariance."""
    # Over the tallest height, or the squares of a tall wall drown the rest.
    unit = max(1.0, float(heights.max()))
    design = (heights[:, None] / unit) ** np.arange(terms) / sds[:, None]
    covariance = np.linalg.inv(design.T @ design)
    scaled = covariance @ design.T @ (diameters / sds)
    back = unit ** -np.arange(terms, dtype=float)
    return scaled * back, covariance * np.outer(back, back)


def _terms_needed(heights: np.ndarray, diameters: np.ndarray, sds: np.ndarray) -> int:
    """How many terms the figures need: 1 for a cylinder, 2 for a cone, 3 for a barrel."""
    apart = 1 + int((np.diff(np.sort(heights)) > _APART_MM).sum())
    for terms in range(min(3, apart), 1, -1):
        found, covariance = _least_squares(heights, diameters, sds, terms)
        if abs(found[-1]) > _SURE_SDS * math.sqrt(covariance[-1, -1]):
            return terms
    return 1


def _findings(
    girths: Sequence[Girth], wall: Wall, heights: np.ndarray, diameters: np.ndarray, sds: np.ndarray
) -> list[Finding]:
    found = []
    if wall.kind is WallKind.BARREL:
        line, _ = _least_squares(heights, diameters, sds, 2)
        middle = int(np.abs(diameters - line[0] - line[1] * heights).argmax())
        bulge = float(diameters[middle] - line[0] - line[1] * heights[middle])
        way = "wider" if bulge > 0 else "narrower"
        found.append(
            Finding(
                FindingCode.WALL_BARREL,
                Severity.WARN,
                f"At {heights[middle]:g} mm it is {abs(bulge):.2f} mm {way} than a straight wall would be "
                f"({abs(math.pi * bulge):.1f} mm round it): a barrel, or a tape that slipped.",
                fix="Measure there once more, and at one height between; then engrave where it is straight enough.",
                figures={"bulge_mm": bulge, "height_mm": float(heights[middle])},
                source="own-estimate",
            )
        )
    worst = max(range(len(girths)), key=lambda n: abs(wall.off_mm[n]) / girths[n].in_its_own(girths[n].by.sd_mm))
    limit = _SURE_SDS * girths[worst].in_its_own(girths[worst].by.sd_mm)
    if len(girths) > 1 and abs(wall.off_mm[worst]) > limit:
        girth = girths[worst]
        found.append(
            Finding(
                FindingCode.GIRTH_OFF,
                Severity.WARN,
                f"The {girth.by} at {girth.height_mm:g} mm says {abs(wall.off_mm[worst]):.1f} mm "
                f"{'more' if wall.off_mm[worst] > 0 else 'less'} than the other figures.",
                fix="Measure there once more: the tape level, snug, not over its own end.",
                figures={"off_mm": wall.off_mm[worst], "number": float(worst)},
                source="own-estimate",
            )
        )
    return found
