"""What other ways of burning the same would take: an answer to "why does it take so long?"."""

from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from keencoat.core.artwork.made import MadeDots
from keencoat.core.quantities import Machine, Setting
from keencoat.core.toolpath import Polylines, burn_time_s

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
    outlines: Polylines | None,
) -> tuple[WayTime, ...]:
    """The same artwork on a piece of that size, burned otherwise: turned on the bed (or not, if it is), lines a fifth
    wider, a pass less, its `outlines` alone, and as if no empty line and no empty end of one were left out."""

    def takes(dots: MadeDots, turned: bool) -> float:
        return burn_time_s(dots.program(setting, machine, size_mm, False, turned).for_time(), machine)

    seconds = takes(made, across)
    found = [WayTime(OtherWay.TURNED, takes(made, not across), True)] if made.is_square else []
    found.append(WayTime(OtherWay.WIDER, seconds / _WIDER, False))
    if setting.passes > 1:
        found.append(WayTime(OtherWay.ONE_PASS_LESS, seconds * (setting.passes - 1) / setting.passes, False))
    if outlines is not None:
        found.append(WayTime(OtherWay.OUTLINES, burn_time_s(outlines, machine), False))
    whole = replace(made, dots=np.ones_like(made.dots))
    found.append(WayTime(OtherWay.ALL_LINES, takes(whole, across), True))
    return tuple(found)
