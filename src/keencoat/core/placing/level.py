"""Level and square: a taper's upper line is brought level, and a turning axis square to the head's travel.

Held in a chuck, a cone's upper line rises by the cone's half angle α over the level axis. On rollers the *lower* line
lies level, so that the upper one rises by 2α. Geometry; spirit levels tell slope in mm/m.
"""

import math
from dataclasses import dataclass

from keencoat.core.errors import BadValueError, require_within
from keencoat.core.placing.turning import TurningKind


@dataclass(frozen=True)
class Levelling:
    """How a taper is brought level: by `angle_deg`, the narrow end up; `shim_mm` under that support, so far from the
    other; what a spirit level on the device shows then, mm/m. `rise_mm`: how far the marked line rises unlevelled."""

    angle_deg: float
    shim_mm: float
    level_mm_per_m: float
    rise_mm: float


def levelling_of(kind: TurningKind, half_angle_deg: float, supports_mm: float, mark_mm: float) -> Levelling:
    """For a wall of this half angle, supports so far apart along the axis, and a mark so long.

    >>> found = levelling_of(TurningKind.ROLLERS, 5.7106, 150, 60)
    >>> round(found.angle_deg, 3), round(found.shim_mm, 2), round(found.level_mm_per_m, 1), round(found.rise_mm, 2)
    (11.421, 30.3, 202.0, 11.88)
    """
    require_within(half_angle_deg, -44, 44, "half_angle_deg", "°")
    require_within(supports_mm, 10, 2000, "supports_mm", "mm")
    angle = abs(half_angle_deg) * (2 if kind is TurningKind.ROLLERS else 1)
    slope = math.tan(math.radians(angle))
    return Levelling(angle, supports_mm * slope, 1000 * slope, mark_mm * math.sin(math.radians(angle)))


@dataclass(frozen=True)
class Squaring:
    """How far a turning axis is from square to the head's travel: the angle, which way to turn the device (seen from
    above), and how far to shift its far foot."""

    angle_deg: float
    shift_mm: float
    counterclockwise: bool


def squaring_of(near_mm: float, far_mm: float, travel_mm: float, feet_mm: float) -> Squaring:
    """From where the pointer falls beside the piece's ridge at both ends of the head's travel along it (mm, to one
    side counted above zero), and the distance between the device's feet along the axis.

    A ridge that drifts to the left as the head goes away calls for a turn to the right.

    >>> squaring_of(0.5, -1.5, 200, 120).shift_mm
    1.2
    """
    require_within(travel_mm, 10, 5000, "travel_mm", "mm")
    require_within(feet_mm, 10, 5000, "feet_mm", "mm")
    for value, name in ((near_mm, "near_mm"), (far_mm, "far_mm")):
        require_within(value, -500, 500, name, "mm")
    drift = far_mm - near_mm
    if abs(drift) >= travel_mm:
        raise BadValueError(
            f"The pointer drifts by {abs(drift):g} mm over {travel_mm:g} mm of travel.",
            field="far_mm",
            hint="Set the device roughly along the axis first, and measure to the piece's ridge at both ends.",
        )
    return Squaring(math.degrees(math.atan2(abs(drift), travel_mm)), abs(drift) / travel_mm * feet_mm, drift < 0)


@dataclass(frozen=True)
class Support:
    """Where a piece is carried, mm from its foot, and what must be free there."""

    at_mm: float
    words: str


def supports_of(length_mm: float, stem_mm: float) -> tuple[Support, ...]:
    """What carries a piece of this length with a stem so long below its bowl (0: none), and what must be free."""
    require_within(stem_mm, 0, length_mm * 0.9, "stem_mm", "mm")
    if stem_mm == 0:
        return (
            Support(0.0, "the foot: free to turn, and stopped from creeping along the axis"),
            Support(length_mm, "the rim: on a soft support of the same height, not gripped"),
        )
    return (
        Support(0.0, "the foot's plate hangs free: it turns, touches nothing, and must not creep"),
        Support(stem_mm / 2, "the stem in a notched rest, loose enough to turn"),
        Support((stem_mm + length_mm) / 2, "the bowl at its widest: what turns it"),
    )
