"""How long moves take: trapezoidal speed from rest to rest, d/v + v/a, or 2√(d/a) where v is never reached."""

import math

import numpy as np

from keencoat.core.errors import require_positive
from keencoat.core.quantities import Machine
from keencoat.core.toolpath.program import Moves, Program, lengths_mm


def move_time_s(distance_mm: float, speed_mm_s: float, accel_mm_s2: float) -> float:
    """Time of a straight move from rest to rest, s.

    >>> move_time_s(100, 100, 1000), round(move_time_s(5, 200, 1000), 4)
    (1.1, 0.1414)
    """
    require_positive(speed_mm_s, "speed_mm_s", "mm/s")
    require_positive(accel_mm_s2, "accel_mm_s2", "mm/s²")
    if distance_mm < speed_mm_s**2 / accel_mm_s2:
        return 2 * math.sqrt(distance_mm / accel_mm_s2)
    return distance_mm / speed_mm_s + speed_mm_s / accel_mm_s2


def moves_time_s(moves: Moves, machine: Machine, start: tuple[float, float]) -> float:
    """Time of moves from `start`; those that do not stop run on into the next at the same speed. What comes after the
    last stop is not counted."""
    at_rest = np.flatnonzero(moves.stops)
    if not len(at_rest):
        return 0.0
    counted = lengths_mm(moves, start)[: at_rest[-1] + 1]
    run_mm = np.add.reduceat(counted, np.concatenate([[0], at_rest[:-1] + 1]))
    speed, accel = moves.speed_mm_s[at_rest], machine.accel_mm_s2
    reached = run_mm >= speed**2 / accel
    return float(np.where(reached, run_mm / speed + speed / accel, 2 * np.sqrt(run_mm / accel)).sum())


def burn_time_s(program: Program, machine: Machine) -> float:
    """Time of all tasks from the work zero, waits included, s. An estimate: controllers differ a little."""
    total, at = 0.0, (0.0, 0.0)
    for task in program:
        total += task.wait_s
        if len(task.moves):
            total += moves_time_s(task.moves, machine, at)
            at = (float(task.moves.x_mm[-1]), float(task.moves.y_mm[-1]))
    return total
