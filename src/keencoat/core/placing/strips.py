"""A program on the face of a round piece under a fixed head: strip by strip, the piece turned by hand between.

Faces are the wall cut open, x round it and y up it, zero at the lower left corner; one that lies across has x down the
wall and y round it. The beam falls straight down: what lies s round the wall from the ridge is met R·sin(s/R) beside
it. A strip burns what lies in it and nothing else, so that neighbours meet at one line; beyond it the head runs on dark
for as long as it takes to come to speed.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from keencoat.core.errors import BadValueError, require_within
from keencoat.core.toolpath import Moves, Streamed, Task

Floats = NDArray[np.float64]
_EDGE_MM = 1e-6
_BEND_MM = 0.02


@dataclass(frozen=True)
class Strip:
    """A strip of a face: `middle_mm` round the wall from the face's own middle lies on the ridge, `width_mm` of it are
    burned; `face_mm` is the face's width (round) and height (along); `run_up_mm` is gone dark beyond its sides. What
    comes of it has the ridge at 0, and its other axis as the program has it."""

    radius_mm: float
    middle_mm: float
    width_mm: float
    face_mm: tuple[float, float]
    across: bool
    run_up_mm: float

    def __post_init__(self) -> None:
        require_within(self.radius_mm, 2, 1000, "radius_mm", "mm")
        if not 0 < self.width_mm < np.pi * self.radius_mm:
            raise BadValueError(
                f"A strip of {self.width_mm:.1f} mm reaches round to where no beam falls.",
                field="width_mm",
                hint="Turn the piece more often.",
            )

    def moves(self, moves: Moves, start: tuple[float, float]) -> Moves:
        """Moves on the face from `start` as the head makes them: x from the ridge, y up the wall."""
        if not len(moves):
            return moves
        x, y = self._round_and_along(np.append(start[0], moves.x_mm), np.append(start[1], moves.y_mm))
        of, begins, ends = _parts(x, self.width_mm / 2, self._longest_mm())
        middle = x[:-1][of] + (x[1:] - x[:-1])[of] * (begins + ends) / 2
        dark = np.abs(middle) > self.width_mm / 2
        beside = self._beside(np.append(x[0], x[:-1][of] + (x[1:] - x[:-1])[of] * ends))
        along = np.append(y[0], y[:-1][of] + (y[1:] - y[:-1])[of] * ends)
        moved = np.hypot(np.diff(beside), np.diff(along)) > _EDGE_MM
        beside, along = beside[1:][moved], along[1:][moved]
        at_x, at_y = (self.face_mm[1] - along, beside) if self.across else (beside, along)
        speed, stops = moves.speed_mm_s[of], moves.stops[of] & (ends == 1.0)
        power = np.where(dark, 0.0, moves.power_pct[of])
        return Moves(at_x, at_y, speed[moved], power[moved], stops[moved], moves.rapid[of][moved])

    def _round_and_along(self, x_mm: Floats, y_mm: Floats) -> tuple[Floats, Floats]:
        """Points of the face → round the wall from the ridge, and up it from its lower end."""
        width, height = self.face_mm
        if self.across:
            return y_mm - width / 2 - self.middle_mm, height - x_mm
        return x_mm - width / 2 - self.middle_mm, y_mm

    def _beside(self, round_mm: Floats) -> Floats:
        """Straight across from the ridge; beyond the strip's sides the head runs on, no further than its run-up."""
        half = self.width_mm / 2
        inside = np.clip(round_mm, -half, half)
        beyond = np.clip(round_mm - inside, -self.run_up_mm, self.run_up_mm)
        return np.asarray(self.radius_mm * np.sin(inside / self.radius_mm) + beyond)

    def _longest_mm(self) -> float:
        """So long a straight line strays no further from its curve, l²/8R·tan of the strip's side at most."""
        steep = max(0.05, float(np.tan(min(1.4, self.width_mm / 2 / self.radius_mm))))
        return float(np.sqrt(8 * _BEND_MM * self.radius_mm / steep))


def _parts(x: Floats, half_mm: float, longest_mm: float) -> tuple[NDArray[np.int64], Floats, Floats]:
    """Each move in parts that end at the strip's sides and are no longer than that within: which move each belongs to,
    and where it begins and ends on it, 0 to 1."""
    x0, x1 = x[:-1], x[1:]
    long = np.abs(x1 - x0)
    count = np.maximum(1, np.ceil(np.minimum(long, 2 * half_mm) / longest_mm)).astype(int)
    owners, shares = [np.arange(len(x0))], [np.zeros(len(x0))]
    for side in (-half_mm, half_mm):
        meets = np.where(long > _EDGE_MM, (side - x0) / np.where(long > _EDGE_MM, x1 - x0, 1.0), -1.0)
        inside = (meets > _EDGE_MM) & (meets < 1 - _EDGE_MM)
        owners.append(np.flatnonzero(inside))
        shares.append(meets[inside])
    more = np.repeat(np.arange(len(x0)), count - 1)
    number = np.arange(len(more)) - np.repeat(np.cumsum(count - 1) - (count - 1), count - 1) + 1
    owners.append(more)
    shares.append(number / count[more])
    of, begins = np.concatenate(owners), np.concatenate(shares)
    order = np.lexsort((begins, of))
    of, begins = of[order], begins[order]
    ends = np.append(begins[1:], 1.0)
    ends[np.append(of[1:] != of[:-1], True)] = 1.0
    return of, begins, ends


@dataclass(frozen=True)
class StripProgram:
    """A program on a face, burned on one strip of it."""

    program: Streamed
    strip: Strip

    def __iter__(self) -> Iterator[Task]:
        at = (0.0, 0.0)
        for task in self.program:
            moves = task.moves
            yield replace(task, moves=self.strip.moves(moves, at))
            if len(moves):
                at = (float(moves.x_mm[-1]), float(moves.y_mm[-1]))

    def for_time(self) -> "StripProgram":
        """What takes as long."""
        return StripProgram(self.program.for_time(), self.strip)
