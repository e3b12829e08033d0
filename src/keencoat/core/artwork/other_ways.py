"""What other ways of burning the same would take: an answer to "why does it take so long?"."""

from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np
from shapely.geometry.base import BaseGeometry

from keencoat.core.artwork.made import MadeDots
from keencoat.core.quantities import Machine, Setting
from keencoat.core.toolpath import burn_time_s, move_time_s

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
    made: MadeDots,
    setting: Setting,
    machine: Machine,
    size_mm: tuple[float, float],
    across: bool,
    area: BaseGeometry | None,
) -> tuple[WayTime, ...]:
    """The same artwork on a piece of that size, burned otherwise: turned on the bed (or not, if it is), lines a fifth
    wider, a pass less, the outlines of `area` alone, and as if no empty line and no empty end of one were left out."""

    def takes(dots: MadeDots, turned: bool) -> float:
        return burn_time_s(dots.program(setting, machine, size_mm, False, turned).for_time(), machine)

    seconds = takes(made, across)
    found = [WayTime(OtherWay.TURNED, takes(made, not across), True)] if made.is_square else []
    found.append(WayTime(OtherWay.WIDER, seconds / _WIDER, False))
    if setting.passes > 1:
        found.append(WayTime(OtherWay.ONE_PASS_LESS, seconds * (setting.passes - 1) / setting.passes, False))
    if area is not None:
        found.append(WayTime(OtherWay.OUTLINES, _outlines_s(area, setting, machine), False))
    whole = replace(made, dots=np.ones_like(made.dots))
    found.append(WayTime(OtherWay.ALL_LINES, takes(whole, across), True))
    return tuple(found)


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
