"""What turns a round piece under the beam: how far its axis travels for a millimetre of surface, and how that is
calibrated.

A device stands in for one axis of the machine: the controller moves that axis by millimetres, and the device turns.
A chuck turns the piece itself, so that a turn is a turn at any diameter. Rollers carry the piece where it is widest:
there their surface and its own run alike, and all narrower places run slower in the same turn.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np
from scipy.special import stdtrit

from keencoat.core.errors import BadValueError, require_finite, require_positive, require_within
from keencoat.core.quantities import Range

_TAPE_SD_MM = 0.3
"""Doubt of a distance between two ticks, measured by tape on the wall, mm (own estimate)."""
_LEAST_ROUND_MM = 10.0
_STRANGE = 1.5


class TurningKind(StrEnum):
    """How a device holds the piece."""

    CHUCK = "chuck"
    ROLLERS = "rollers"


class StandsInFor(StrEnum):
    """The axis of the machine that turns the piece."""

    X = "x"
    Y = "y"


@dataclass(frozen=True)
class TurningDevice:
    """A turning device: `mm_per_turn` is the travel of the axis that turns the chuck, or one roller, once round;
    `roller_mm` the rollers' diameter, 0 for a chuck; `backwards`: it turns the other way than the axis counts."""

    kind: TurningKind
    mm_per_turn: float
    stands_in_for: StandsInFor
    roller_mm: float = 0.0
    backwards: bool = False

    def __post_init__(self) -> None:
        require_within(self.mm_per_turn, 0.1, 10_000, "mm_per_turn", "mm")
        if self.kind is TurningKind.ROLLERS:
            require_within(self.roller_mm, 2, 500, "roller_mm", "mm")

    def turn_mm(self, widest_mm: float) -> float:
        """Travel of the axis that turns a piece of this widest diameter once round, mm.

        On rollers one turn of the piece is π·D of surface, and so D/d turns of a roller.

        >>> TurningDevice(TurningKind.ROLLERS, 120, StandsInFor.Y, roller_mm=40).turn_mm(80)
        240.0
        """
        require_positive(widest_mm, "widest_mm", "mm")
        return self.mm_per_turn if self.kind is TurningKind.CHUCK else self.mm_per_turn * widest_mm / self.roller_mm

    def axis_per_mm(self, widest_mm: float, there_mm: float) -> float:
        """Travel of the axis for a millimetre of surface where the piece is `there_mm` across."""
        return self.turn_mm(widest_mm) / (math.pi * there_mm)


def mm_per_turn_of(steps_per_turn: float, steps_per_mm: float) -> float:
    """Travel of the axis for a turn of the device, from its motor's steps a turn (microsteps and gear counted) and the
    steps that the controller makes for a millimetre of that axis."""
    require_positive(steps_per_turn, "steps_per_turn")
    require_positive(steps_per_mm, "steps_per_mm")
    return steps_per_turn / steps_per_mm


def degrees_per_mm(there_mm: float) -> float:
    """Degrees of turn for a millimetre of surface where the piece is so far across.

    >>> round(degrees_per_mm(80), 4)
    1.4324
    """
    return 360 / (math.pi * require_positive(there_mm, "there_mm", "mm"))


@dataclass(frozen=True)
class TickPair:
    """Two ticks burned so many turns apart, and what lies between them on the wall by tape, mm; after whole turns the
    distance left over a gap, or an overlap below zero, is told by `of_seam`."""

    asked_turns: float
    measured_mm: float
    round_mm: float
    mm_per_turn: float | None = None
    """The device's figure when they were burned, None for the one that it has now."""

    def __post_init__(self) -> None:
        require_within(self.asked_turns, 0.1, 20, "asked_turns", "turns")
        require_finite(self.measured_mm, "measured_mm")
        require_within(self.round_mm, _LEAST_ROUND_MM, 4000, "round_mm", "mm")
        made = self.measured_mm / self.round_mm
        if not self.asked_turns / _STRANGE < made < self.asked_turns * _STRANGE:
            raise BadValueError(
                f"{self.measured_mm:g} mm would be {made:.2f} turns where {self.asked_turns:g} were asked.",
                field="measured_mm",
                hint="Measure along the wall from tick to tick; check the device's kind and its figures.",
            )


def of_seam(turns: float, gap_mm: float, round_mm: float) -> TickPair:
    """A seam test: after so many whole turns the second tick falls short of the first by a gap, mm, or lies beyond it
    by an overlap, below zero."""
    require_within(turns, 1, 20, "asked_turns", "turns")
    if turns != round(turns):
        raise BadValueError(
            f"A seam closes after whole turns, not {turns:g}.", field="asked_turns", hint="Type 1, 2, 3 or more."
        )
    require_within(gap_mm, -round_mm / 3, round_mm / 3, "measured_mm", "mm")
    return TickPair(turns, turns * round_mm - gap_mm, round_mm)


@dataclass(frozen=True)
class TurnCalibration:
    """The device's mm per turn with its 90 % range, and where a seam of one turn falls as it was: mm of gap on the
    piece that was measured, below zero an overlap."""

    mm_per_turn: Range
    seam_gap_mm: float

    def of(self, device: TurningDevice) -> TurningDevice:
        """The device as it turns out to be."""
        return replace(device, mm_per_turn=self.mm_per_turn.mid)


def calibrate(device: TurningDevice, pairs: Sequence[TickPair]) -> TurnCalibration:
    """What the device's mm per turn truly are: the axis travelled as far as was asked, and the wall that far.

    A least-squares line through zero of the turns made over the turns asked: each pair's doubt is that of the tape,
    which counts the less the more turns lie between. Its range is Student's where several pairs scatter more than that.
    Raises BadValueError for none.
    """
    if not pairs:
        raise BadValueError("No ticks are measured.", field="pairs", hint="Burn two ticks, and measure between them.")
    # The axis went as far as was asked by the figure of that day.
    asked = np.array([p.asked_turns * (p.mm_per_turn or device.mm_per_turn) / device.mm_per_turn for p in pairs])
    made = np.array([p.measured_mm / p.round_mm for p in pairs])
    sds = np.array([_TAPE_SD_MM / p.round_mm for p in pairs])
    weight = 1 / sds**2
    ratio = float((weight * asked * made).sum() / (weight * asked**2).sum())
    spread, degrees = 1.0, len(pairs) - 1
    if degrees:
        chi = float((((made - ratio * asked) / sds) ** 2).sum()) / degrees
        spread = math.sqrt(max(1.0, chi))
    sd = spread / math.sqrt(float((weight * asked**2).sum()))
    wide = float(stdtrit(degrees, 0.95)) if spread > 1 else 1.6449
    rounds = pairs[-1].round_mm
    true = device.mm_per_turn / ratio
    low, high = device.mm_per_turn / (ratio + wide * sd), device.mm_per_turn / max(ratio - wide * sd, ratio / 2)
    return TurnCalibration(Range(low, true, high), rounds * (1 - ratio))
