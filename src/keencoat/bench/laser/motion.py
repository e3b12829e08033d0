"""A motion planner with acceleration: trapezoids that run on through straight joints and stop at corners."""

import math
from dataclasses import dataclass

_STRAIGHT = 1 - 1e-6
_LEAST_LEG_MM = 1e-6


@dataclass(frozen=True)
class Move:
    """A straight move from (x0, y0) to (x1, y1), mm, at most at `speed_mm_s`, with S from 0 to 1 (0: dark)."""

    x0: float
    y0: float
    x1: float
    y1: float
    speed_mm_s: float
    power: float
    rapid: bool = False

    @property
    def length_mm(self) -> float:
        """Its length."""
        return math.hypot(self.x1 - self.x0, self.y1 - self.y0)


@dataclass(frozen=True)
class Timed:
    """A planned move with the speeds at its ends, mm/s, and how long it takes, s."""

    move: Move
    enter_mm_s: float
    leave_mm_s: float
    seconds: float

    def legs(self, accel_mm_s2: float) -> list[tuple[float, float]]:
        """Its speeding up, its even part and its slowing down, as far as it has them: (length in mm, seconds) each."""
        top = _top_speed(self.move, self.enter_mm_s, self.leave_mm_s, accel_mm_s2)
        ramps = [
            ((top**2 - end**2) / (2 * accel_mm_s2), (top - end) / accel_mm_s2)
            for end in (self.enter_mm_s, self.leave_mm_s)
        ]
        even = self.move.length_mm - ramps[0][0] - ramps[1][0]
        parts = [ramps[0], (even, even / top), ramps[1]]
        return [(length, seconds) for length, seconds in parts if length > _LEAST_LEG_MM]


def plan(moves: list[Move], accel_mm_s2: float) -> list[Timed]:
    """Plan moves from rest to rest. Each is entered as fast as the ones after it allow (backward pass), and left as
    fast as it can be reached (forward pass)."""
    kept = [m for m in moves if m.length_mm > 0]
    joint = [0.0] * (len(kept) + 1)
    for n in range(1, len(kept)):
        joint[n] = _joint_speed(kept[n - 1], kept[n])
    for n in range(len(kept) - 1, -1, -1):
        joint[n] = min(joint[n], math.sqrt(joint[n + 1] ** 2 + 2 * accel_mm_s2 * kept[n].length_mm))
    timed = []
    for n, move in enumerate(kept):
        joint[n + 1] = min(joint[n + 1], math.sqrt(joint[n] ** 2 + 2 * accel_mm_s2 * move.length_mm))
        timed.append(Timed(move, joint[n], joint[n + 1], _seconds(move, joint[n], joint[n + 1], accel_mm_s2)))
    return timed


def _joint_speed(one: Move, other: Move) -> float:
    dot = (one.x1 - one.x0) * (other.x1 - other.x0) + (one.y1 - one.y0) * (other.y1 - other.y0)
    if dot < _STRAIGHT * one.length_mm * other.length_mm:
        return 0.0
    return min(one.speed_mm_s, other.speed_mm_s)


def _top_speed(move: Move, enter: float, leave: float, accel: float) -> float:
    return min(move.speed_mm_s, math.sqrt(accel * move.length_mm + (enter**2 + leave**2) / 2))


def _seconds(move: Move, enter: float, leave: float, accel: float) -> float:
    top = _top_speed(move, enter, leave, accel)
    ramps = (2 * top**2 - enter**2 - leave**2) / (2 * accel)
    return (2 * top - enter - leave) / accel + max(0.0, move.length_mm - ramps) / top
