"""Faults of known cause, put into a piece: in its coat, under the lens, in the figures, in how it lay. Sizes are drawn
as they come in a workshop; invented."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from keencoat.bench.filmfield import AS_MEANT, Coated, CoatFault
from keencoat.bench.plant.exposure import Hatch
from keencoat.bench.plant.materials import Piece

Run = tuple[float, float, float]


class Fault(StrEnum):
    """What went wrong."""

    THICK = "thick"
    THIN = "thin"
    STREAKED = "streaked"
    POOLED = "pooled"
    TOUCHED = "touched"
    CRACKED = "cracked"
    BARE = "bare"
    FOCUS = "focus"
    WEAK = "weak"
    STRONG = "strong"
    FAST = "fast"
    SLOW = "slow"
    WIDE_LINES = "wide_lines"
    CLOSE_LINES = "close_lines"
    EXTRA_PASS = "extra_pass"
    MOVED = "moved"
    BACKLASH = "backlash"
    OFF = "off"
    ASKEW = "askew"
    STRETCHED = "stretched"


IN_COAT = {
    Fault.THIN: CoatFault.THIN,
    Fault.STREAKED: CoatFault.STREAKED,
    Fault.POOLED: CoatFault.POOLED,
    Fault.TOUCHED: CoatFault.TOUCHED,
    Fault.CRACKED: CoatFault.CRACKED,
}
AT_THE_PIECE = (
    *(Fault.THICK, Fault.THIN, Fault.STREAKED, Fault.POOLED, Fault.TOUCHED, Fault.CRACKED),
    *(Fault.FOCUS, Fault.WEAK, Fault.STRONG, Fault.MOVED, Fault.BACKLASH, Fault.OFF, Fault.ASKEW),
)
"""Faults that leave the file and the time that it takes as they are."""

# Least and largest: a factor, or mm, or degrees.
_SIZES = {
    Fault.THICK: (1.45, 1.9),
    Fault.BARE: (0.01, 0.03),
    Fault.FOCUS: (3.0, 10.0),
    Fault.WEAK: (0.5, 0.72),
    Fault.STRONG: (1.4, 1.9),
    Fault.FAST: (1.4, 2.0),
    Fault.SLOW: (0.45, 0.7),
    Fault.WIDE_LINES: (1.6, 2.5),
    Fault.CLOSE_LINES: (0.45, 0.65),
    Fault.MOVED: (0.8, 3.0),
    Fault.BACKLASH: (0.3, 0.8),
    Fault.OFF: (1.2, 5.0),
    Fault.ASKEW: (2.0, 6.0),
    Fault.STRETCHED: (1.04, 1.09),
}


@dataclass(frozen=True)
class Faulty:
    """A fault of a size (factor, mm or degrees), which way it goes (radians), and how far through the burn it came."""

    fault: Fault
    size: float = 1.0
    way: float = 0.0
    after: float = 0.0

    @property
    def coated(self) -> Coated:
        """How the piece is coated."""
        if self.fault in (Fault.THICK, Fault.BARE):
            return replace(AS_MEANT, film_share=self.size)
        return Coated(IN_COAT[self.fault]) if self.fault in IN_COAT else AS_MEANT

    def piece(self, drawn: Piece) -> Piece:
        """The piece as it lies under the beam."""
        if self.fault is Fault.FOCUS:
            return replace(drawn, focus_mm=drawn.focus_mm + math.copysign(self.size, math.cos(self.way)))
        if self.fault in (Fault.WEAK, Fault.STRONG):
            return replace(drawn, power=drawn.power * self.size)
        return drawn

    def hatch(self, hatch: Hatch) -> Hatch:
        """What the head did in the place of this fill."""
        took = hatch.end_s - hatch.start_s
        passes = [self._lines(runs, hatch) for runs in hatch.passes]
        if self.fault is Fault.EXTRA_PASS:
            passes = [*passes, passes[-1]]
        share = sum(map(len, passes)) / max(1, sum(map(len, hatch.passes)))
        speed = hatch.speed_mm_s * (self.size if self.fault in (Fault.FAST, Fault.SLOW) else 1.0)
        end_s = hatch.start_s + took * share * hatch.speed_mm_s / speed
        return Hatch(hatch.power, speed, hatch.height_mm, hatch.start_s, end_s, passes)

    def _lines(self, runs: Sequence[Run], hatch: Hatch) -> list[Run]:
        left, low, right, top = hatch.box
        x, y = self.size * math.cos(self.way), self.size * math.sin(self.way)
        if self.fault is Fault.MOVED:
            from_y = low + self.after * (top - low)
            return [(at + y, a + x, b + x) if at > from_y else (at, a, b) for at, a, b in runs]
        if self.fault is Fault.OFF:
            return [(at + y, a + x, b + x) for at, a, b in runs]
        if self.fault is Fault.BACKLASH:
            return [(at, a + self.size, b + self.size) if a > b else (at, a, b) for at, a, b in runs]
        if self.fault is Fault.STRETCHED:
            middle = (left + right) / 2
            return [(at, middle + self.size * (a - middle), middle + self.size * (b - middle)) for at, a, b in runs]
        if self.fault in (Fault.WIDE_LINES, Fault.CLOSE_LINES):
            return _spaced(runs, hatch.interval_mm, hatch.interval_mm * self.size)
        return list(runs)

    @property
    def turned_deg(self) -> float:
        """By how much the piece lay askew."""
        return math.copysign(self.size, math.cos(self.way)) if self.fault is Fault.ASKEW else 0.0


def _spaced(runs: Sequence[Run], apart_mm: float, step_mm: float) -> list[Run]:
    """The same drawing in lines so far apart: each is lit as the nearest one was, and dark where none was near."""
    by_line: dict[float, list[Run]] = {}
    for run in runs:
        by_line.setdefault(round(run[0], 4), []).append(run)
    heights = np.array(sorted(by_line))
    wanted = np.arange(heights[0], heights[-1] + 1e-9, step_mm)
    near = heights[np.abs(heights[None, :] - wanted[:, None]).argmin(axis=1)]
    return [
        (float(at), a, b)
        for at, was in zip(wanted, near, strict=True)
        if abs(at - was) <= apart_mm / 2 + 1e-9
        for _, a, b in by_line[round(float(was), 4)]
    ]


def draw_fault(fault: Fault, rng: np.random.Generator) -> Faulty:
    """A fault of a size as it comes."""
    low, high = _SIZES.get(fault, (1.0, 1.0))
    return Faulty(
        fault,
        float(np.exp(rng.uniform(math.log(low), math.log(high)))),
        float(rng.uniform(0, 2 * math.pi)),
        float(rng.uniform(0.25, 0.75)),
    )
