"""A jig put back on the bed: two crosses are touched, and all pockets go where they are now.

Shift, turn and scale by least squares (Umeyama 1991). The scale is told, not applied: sheets do not grow, but pointers
and millimetres per step are wrong.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from keencoat.core.errors import BadValueError, require_within
from keencoat.core.finding_codes import FindingCode
from keencoat.core.findings import Finding, Severity
from keencoat.core.geometry import Transform, offset, turn
from keencoat.core.jig.layout import Jig
from keencoat.core.quantities import Machine

Point = tuple[float, float]
_SCALE_WITHIN = 0.004
_TURN_WITHIN_DEG = 45.0
_LEAST_APART_MM = 2.0


@dataclass(frozen=True)
class Seating:
    """How a jig lies: from its own coordinates to the bed's, the turn counterclockwise, the scale that the crosses say
    (1: as cut), and the largest distance of a cross from where this puts it, mm."""

    to_bed: Transform
    turn_deg: float
    scale: float
    residual_mm: float
    findings: tuple[Finding, ...]


def seat(own: Sequence[Point], touched: Sequence[Point]) -> Seating:
    """The seating by crosses at `own` places of the jig, touched on the bed in the same order. Raises BadValueError
    where not all of them are touched, and where they were touched at one place."""
    if len(touched) != len(own) or len(own) < 2:
        raise BadValueError(
            f"{len(touched)} of {len(own)} crosses are touched.", field="touched", hint="Touch both, in their order."
        )
    for number, point in enumerate(touched):
        for value, axis in zip(point, "xy", strict=True):
            require_within(value, -10_000, 10_000, f"touched.{number}.{axis}", "mm")
    jig, bed = np.array(own, dtype=float), np.array(touched, dtype=float)
    jig_middle, bed_middle = jig.mean(axis=0), bed.mean(axis=0)
    a, b = jig - jig_middle, bed - bed_middle
    if 2 * float(np.hypot(*b.T).max()) < _LEAST_APART_MM:
        raise BadValueError(
            "The crosses were touched at one place.", field="touched", hint="Touch the other one at its own place."
        )
    along, aside = float((a * b).sum()), float((a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]).sum())
    angle = math.degrees(math.atan2(aside, along))
    scale = math.hypot(along, aside) / float((a**2).sum())
    to_bed = offset(*(-jig_middle).tolist()).then(turn(angle)).then(offset(*bed_middle.tolist()))
    away = [math.dist(to_bed.at(*p), q) for p, q in zip(own, touched, strict=True)]
    return Seating(to_bed, angle, scale, max(away), tuple(_findings(angle, scale, own, touched)))


def off_bed(jig: Jig, seating: Seating, machine: Machine) -> tuple[Finding, ...]:
    """What to say where pockets lie past the bed."""
    beyond = []
    for pocket, ring in zip(jig.pockets, jig.opened().geoms, strict=True):
        x, y = np.array(ring.exterior.coords).T
        x, y = seating.to_bed.at(x, y)
        if max(-x.min(), -y.min(), x.max() - machine.bed_x_mm, y.max() - machine.bed_y_mm) > 0:
            beyond.append(pocket.number)
    if not beyond:
        return ()
    which = (
        f"Pocket {beyond[0]} lies" if len(beyond) == 1 else f"{len(beyond)} pockets, the first of them {beyond[0]}, lie"
    )
    return (
        Finding(
            FindingCode.JIG_OFF_BED,
            Severity.STOP,
            f"{which} past the bed of {machine.bed_x_mm:g} × {machine.bed_y_mm:g} mm.",
            fix="Lay the jig further inwards, and touch its crosses again.",
            figures={"pockets": len(beyond)},
        ),
    )


def _findings(angle: float, scale: float, own: Sequence[Point], touched: Sequence[Point]) -> list[Finding]:
    found = []
    if abs(scale - 1) > _SCALE_WITHIN:
        found.append(
            Finding(
                FindingCode.JIG_STRETCHED,
                Severity.WARN,
                f"The crosses were touched {math.dist(touched[0], touched[-1]):.1f} mm apart; the jig has them "
                f"{math.dist(own[0], own[-1]):.1f} mm.",
                fix="Touch them once more. If it stays so, it is another jig, or the machine's millimetres are off.",
                figures={"scale": scale},
                source="own-estimate",
            )
        )
    if abs(angle) > _TURN_WITHIN_DEG:
        found.append(
            Finding(
                FindingCode.JIG_TURNED,
                Severity.WARN,
                f"By these crosses the jig lies turned by {abs(angle):.0f}°, and so would every mark.",
                fix="Touch the cross near pocket 1 first, then the one across from it.",
                figures={"turn_deg": angle},
                source="own-estimate",
            )
        )
    return found
