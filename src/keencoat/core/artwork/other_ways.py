"""What other ways of burning the same would take: an answer to "why does it take so long?"."""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from shapely.geometry.base import BaseGeometry

from keencoat.core.artwork.made import MadeDots
from keencoat.core.artwork.screen import Dots
from keencoat.core.quantities import Machine, Setting
from keencoat.core.toolpath import move_time_s

_WIDER = 1.2


class OtherWay(StrEnum):
    """What is done otherwise."""

    TURNED = "turned"
    WIDER = "wider"
    ONE_PASS_LESS = "one_pass_less"
    OUTLINES = "outlines"
    ALL_LINES = "all_lines"


@dataclass(frozen=True)
class WayTime:
    """How long it would take, s; `tested`: whether the locked setting covers it, or it wants a test of its own."""

    way: OtherWay
    seconds: float
    tested: bool


def other_ways(
    made: MadeDots, setting: Setting, machine: Machine, seconds: float, across: bool, area: BaseGeometry | None
) -> tuple[WayTime, ...]:
    """The same artwork, which takes `seconds`, burned otherwise: turned on the bed, lines a fifth wider, a pass less,
    the outlines of `area` alone, and as if no empty line and no empty end of one were left out.

    All from how long its lines are and what each costs besides, so that an estimate of one is as good as of the other.
    """
    burned = made.dots.T if across else made.dots
    per_mm = setting.passes * made.pitch_mm / setting.speed_mm_s
    dots, lines = _way_of(burned)
    besides_s = max(0.0, seconds - dots * per_mm) / max(1, lines)
    found = []
    if made.is_square:
        turned_dots, turned_lines = _way_of(burned.T)
        found.append(WayTime(OtherWay.TURNED, turned_dots * per_mm + turned_lines * besides_s, True))
    found.append(WayTime(OtherWay.WIDER, seconds / _WIDER, False))
    if setting.passes > 1:
        found.append(WayTime(OtherWay.ONE_PASS_LESS, seconds * (setting.passes - 1) / setting.passes, False))
    if area is not None:
        found.append(WayTime(OtherWay.OUTLINES, _outlines_s(area, setting, machine), False))
    whole = burned.size * per_mm + burned.shape[0] * besides_s
    found.append(WayTime(OtherWay.ALL_LINES, whole, True))
    return tuple(found)


def _way_of(dots: Dots) -> tuple[int, int]:
    """How many dots long all lines are, from the first lit one to the last of each, and how many lines are lit."""
    lit = dots.any(axis=1)
    if not lit.any():
        return 0, 0
    rows = dots[lit]
    first, after = rows.argmax(axis=1), rows.shape[1] - rows[:, ::-1].argmax(axis=1)
    return int((after - first).sum()), int(lit.sum())


def _outlines_s(area: BaseGeometry, setting: Setting, machine: Machine) -> float:
    """Time along all rims, resting at their corners, with the way between them."""
    total, at = 0.0, np.zeros(2)
    for part in getattr(area, "geoms", [area]):
        for ring in (part.exterior, *part.interiors):
            points = np.array(ring.coords)
            total += move_time_s(
                float(np.hypot(*(points[0] - at))) or 1e-9, machine.max_speed_mm_s, machine.accel_mm_s2
            )
            sides = np.hypot(*np.diff(points, axis=0).T)
            total += sum(
                move_time_s(float(side), setting.speed_mm_s, machine.accel_mm_s2) for side in sides if side > 0
            )
            at = points[-1]
    return total * setting.passes
