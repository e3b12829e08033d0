"""Where a flat piece lies on the bed: a disc's centre from touched points, a rectangle's corners with its skew.

A circle through three points is their circumcircle; through more it is fitted by geometric least squares (Gander, Golub
& Strebel 1994), begun from the algebraic fit. The doubt of its centre follows from how exactly a point is touched.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import brentq, least_squares

from keencoat.core.errors import BadValueError, require_within
from keencoat.core.finding_codes import FindingCode
from keencoat.core.findings import Finding, Severity
from keencoat.core.geometry import Transform, offset, turn

Floats = NDArray[np.float64]
Point = tuple[float, float]

TOUCH_SD_MM = 0.15
"""How exactly an edge is touched with the pointer, mm (own estimate)."""
_LEAST_APART_MM = 0.5
_FLATTEST = 0.02
_OFF_SDS = 3.0
_WAYS = 720
_SIZE_WITHIN = 0.02
_SQUARE_WITHIN_DEG = 0.3


@dataclass(frozen=True)
class Disc:
    """A disc as it lies: centre and diameter, mm on the bed; `doubt_mm`: how far the centre may be off, nine times in
    ten; how far each point lies outside the circle, mm; and what there is to say."""

    x_mm: float
    y_mm: float
    diameter_mm: float
    doubt_mm: float
    off_mm: tuple[float, ...]
    findings: tuple[Finding, ...]


def disc_through(points: Sequence[Point], told_mm: float | None = None) -> Disc:
    """The disc whose edge was touched at three points or more; `told_mm` is the diameter that it should have.

    Raises BadValueError for fewer, for points that are too close together, and for points on a line.

    >>> found = disc_through([(1, 7), (8, 6), (7, -1)])
    >>> round(found.x_mm, 9), round(found.y_mm, 9), round(found.diameter_mm, 9)
    (4.0, 3.0, 10.0)
    """
    at = _checked(points, 3)
    centre, radius = _algebraic(at)
    if len(at) > 3:
        centre, radius = _geometric(at, centre, radius)
    away = np.hypot(*(at - centre).T)
    off = away - radius
    findings = [*_off_circle(off, at), *_off_size(2 * radius, told_mm)]
    doubt = _radius_of_nine_in_ten(_centre_covariance(at, centre, off))
    return Disc(float(centre[0]), float(centre[1]), 2 * radius, doubt, tuple(float(o) for o in off), tuple(findings))


def disc_from_chords(first: Sequence[Point], second: Sequence[Point], told_mm: float | None = None) -> Disc:
    """The disc of two chords' ends, drawn with a square: where their perpendicular bisectors meet. Raises BadValueError
    as `disc_through`, and for chords that run side by side.

    >>> round(disc_from_chords(((1, 7), (8, 6)), ((8, 6), (7, -1))).x_mm, 9)
    4.0
    """
    ends = _checked([*first, *second], 3)
    (a, b), (c, d) = ends[:2], ends[-2:]
    ways = np.stack([b - a, d - c])
    lengths = np.hypot(*ways.T)
    if min(lengths) < _LEAST_APART_MM:
        raise BadValueError(
            f"A chord of {min(lengths):.1f} mm is too short.", field="points", hint="Draw chords across the disc."
        )
    if abs(np.linalg.det(ways / lengths[:, None])) < math.sin(math.radians(10)):
        raise BadValueError(
            "Both chords run side by side; their middles say little of the centre.",
            field="points",
            hint="Draw the second one across the first, near a right angle.",
        )
    centre = np.linalg.solve(ways, np.array([ways[0] @ (a + b) / 2, ways[1] @ (c + d) / 2]))
    away = np.hypot(*(ends - centre).T)
    off = away - away.mean()
    findings = (*_off_circle(off, ends), *_off_size(2 * float(away.mean()), told_mm))
    solved = np.linalg.inv(ways / lengths[:, None])
    # A chord's middle is as doubtful as half its ends; its turn swings the bisector the more, the further off it meets.
    far = np.hypot(*(centre - np.stack([(a + b) / 2, (c + d) / 2])).T)
    along = TOUCH_SD_MM**2 * (0.5 + 2 * (far / lengths) ** 2)
    doubt = _radius_of_nine_in_ten(solved @ np.diag(along) @ solved.T)
    return Disc(
        float(centre[0]), float(centre[1]), 2 * float(away.mean()), doubt, tuple(float(o) for o in off), findings
    )


def _checked(points: Sequence[Point], least: int) -> Floats:
    at = np.array(points, dtype=float).reshape(-1, 2)
    for number, point in enumerate(at):
        for value, axis in zip(point, "xy", strict=True):
            require_within(float(value), -10_000, 10_000, f"points.{number}.{axis}_mm", "mm")
    unlike: list[Floats] = []
    for number, point in enumerate(at):
        near = [float(np.hypot(*(point - other))) for other in unlike]
        if any(0 < d < _LEAST_APART_MM for d in near):
            raise BadValueError(
                f"Point {number + 1} is {min(near):.2g} mm from another one.",
                field=f"points.{number}",
                hint="Touch the edge at points far apart: a third of the way round each.",
            )
        if all(d > 0 for d in near):
            unlike.append(point)
    if len(unlike) < least:
        raise BadValueError(
            f"{len(unlike)} different points are too few.", field="points", hint=f"Touch {least} points or more."
        )
    return at


def _algebraic(at: Floats) -> tuple[Floats, float]:
    """x² + y² = 2·a·x + 2·b·y + c, from the points' own middle (Kåsa 1976)."""
    middle = at.mean(axis=0)
    own = at - middle
    spread = np.linalg.svd(own, compute_uv=False)
    if spread[1] < _FLATTEST * spread[0]:
        raise BadValueError(
            "These points lie on a line, or nearly.",
            field="points",
            hint="Touch the edge all round: a third of the way each.",
        )
    design = np.column_stack([2 * own, np.ones(len(own))])
    a, b, c = np.linalg.lstsq(design, (own**2).sum(axis=1), rcond=None)[0]
    return np.array([a, b]) + middle, float(math.sqrt(c + a**2 + b**2))


def _geometric(at: Floats, centre: Floats, radius: float) -> tuple[Floats, float]:
    def off(p: Floats) -> Floats:
        return np.asarray(np.hypot(at[:, 0] - p[0], at[:, 1] - p[1]) - p[2])

    best = least_squares(off, [*centre, radius], x_scale=max(radius, 1.0)).x
    return best[:2], float(best[2])


def _radius_of_nine_in_ten(covariance: Floats) -> float:
    """The radius about a point in the plane that holds it nine times in ten. In the ellipse's own coordinates a way θ
    has the spread g(θ) = λ₁cos²θ + λ₂sin²θ, and beyond r lies the mean of exp(−r²/2g): χ with two degrees of freedom
    where both are alike, and the one direction's 1.645 σ where the other is nothing.

    >>> round(_radius_of_nine_in_ten(np.eye(2)), 4), round(_radius_of_nine_in_ten(np.diag([1.0, 1e-9])), 2)
    (2.146, 1.64)
    """
    wide, narrow = np.linalg.eigvalsh(covariance)[::-1]
    way = (np.arange(_WAYS) + 0.5) * math.pi / _WAYS
    spread = np.maximum(wide * np.cos(way) ** 2 + narrow * np.sin(way) ** 2, 1e-300)

    def beyond(radius: float) -> float:
        return float(np.exp(-(radius**2) / (2 * spread)).mean()) - 0.1

    return float(brentq(beyond, 0.0, 3 * math.sqrt(wide)))


def _centre_covariance(at: Floats, centre: Floats, off: Floats) -> Floats:
    """How the centre may lie, mm²: touches are doubtful, more so where they do not fit."""
    ways = at - centre
    ways = ways / np.hypot(*ways.T)[:, None]
    slopes = np.column_stack([ways, np.ones(len(at))])
    free = len(at) - 3
    sd = max(TOUCH_SD_MM, math.sqrt(float((off**2).sum()) / free)) if free else TOUCH_SD_MM
    return np.asarray(sd**2 * np.linalg.inv(slopes.T @ slopes)[:2, :2])


def _off_circle(off: Floats, at: Floats) -> list[Finding]:
    if len(at) < 4 or np.abs(off).max() < _OFF_SDS * TOUCH_SD_MM:
        return []
    number = _odd_one(at)
    return [
        Finding(
            FindingCode.POINT_OFF,
            Severity.WARN,
            f"Point {number + 1} does not lie on the circle of the others.",
            fix="Touch it once more, or leave it out.",
            figures={"number": float(number), "off_mm": float(off[number])},
            source="own-estimate",
        )
    ]


def _odd_one(at: Floats) -> int:
    """The point without which the others agree best."""
    rest = []
    for number in range(len(at)):
        others = np.delete(at, number, axis=0)
        try:
            centre, radius = _algebraic(others)
        except BadValueError:
            rest.append(math.inf)
            continue
        # Three points always agree: then the one that is furthest off the circle of the rest is it.
        alone = -abs(float(np.hypot(*(at[number] - centre))) - radius) if len(others) == 3 else 0.0
        rest.append(float(np.abs(np.hypot(*(others - centre).T) - radius).max()) + alone)
    return int(np.argmin(rest))


def _off_size(diameter_mm: float, told_mm: float | None) -> list[Finding]:
    if told_mm is None or abs(diameter_mm / told_mm - 1) < _SIZE_WITHIN:
        return []
    return [
        Finding(
            FindingCode.NOT_AS_TOLD,
            Severity.WARN,
            f"These points make Ø {diameter_mm:.1f} mm; the piece is said to have {told_mm:g}.",
            fix="Touch the edge again, further apart, or mend the piece's size.",
            figures={"found_mm": diameter_mm, "told_mm": told_mm},
            source="own-estimate",
        )
    ]


@dataclass(frozen=True)
class LyingSheet:
    """A rectangle as it lies: its middle on the bed, mm, and how far it is turned counterclockwise, degrees."""

    x_mm: float
    y_mm: float
    turn_deg: float
    findings: tuple[Finding, ...]

    @property
    def to_bed(self) -> Transform:
        """From the piece's own coordinates, about its middle, to the bed's: art is turned as the piece is."""
        return turn(self.turn_deg).then(offset(self.x_mm, self.y_mm))


def sheet_at(
    lower_left: Point, lower_right: Point, upper_left: Point | None, size_mm: tuple[float, float]
) -> LyingSheet:
    """A sheet of this size by two corners, or three: the lower edge says how it is turned, and a third corner whether
    it is square. Raises BadValueError where the corners cannot be this sheet's."""
    named = {"lower left": lower_left, "lower right": lower_right} | ({"upper left": upper_left} if upper_left else {})
    at = _checked(list(named.values()), 2)
    width, height = size_mm
    along = at[1] - at[0]
    found = float(np.hypot(*along))
    if not 0.5 < found / width < 2:
        raise BadValueError(
            f"The lower corners are {found:.1f} mm apart; the piece is {width:g} mm wide.",
            field="points",
            hint="Touch lower left first, then lower right, as the piece lies on the bed.",
        )
    findings = _off_size(found, width)
    angle = math.degrees(math.atan2(along[1], along[0]))
    up = np.array([-along[1], along[0]]) / found
    middle = at[:2].mean(axis=0) + up * height / 2
    if len(at) > 2:
        side = at[2] - at[0]
        square = math.degrees(math.atan2(side[1], side[0])) - angle
        square = (square + 180) % 360 - 180
        if not 45 < square < 135:
            raise BadValueError(
                f"The upper left corner lies {square:.0f}° from the lower edge.",
                field="points",
                hint="Touch lower left, lower right, then upper left.",
            )
        findings += _off_size(float(np.hypot(*side)), height)
        if abs(square - 90) > _SQUARE_WITHIN_DEG:
            findings.append(
                Finding(
                    FindingCode.CORNERS_SKEWED,
                    Severity.WARN,
                    f"The corner at the lower left is {square:.1f}°, not square.",
                    fix="Touch the corners again; if the piece is so, place the art from the corner that shows.",
                    figures={"corner_deg": square},
                    source="own-estimate",
                )
            )
        # Both edges say how it is turned, the longer one the more.
        other = angle + square - 90
        weights = np.array([found**2, float(side @ side)])
        angle = float(np.average([angle, other], weights=weights))
        middle = at[0] + np.array(turn(angle).at(width / 2, height / 2))
    return LyingSheet(float(middle[0]), float(middle[1]), angle, tuple(findings))
