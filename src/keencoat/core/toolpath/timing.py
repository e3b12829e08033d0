"""How long motions take: trapezoidal speed from rest to rest, d/v + v/a, or 2√(d/a) where v is never reached."""

import math

from keencoat.core.errors import require_positive
from keencoat.core.quantities.setting import Machine
from keencoat.core.toolpath.raster import Motion, Task


def move_time_s(distance_mm: float, speed_mm_s: float, accel_mm_s2: float) -> float:
    """Time of a straight move from rest to rest, s."""
    require_positive(speed_mm_s, "speed_mm_s", "mm/s")
    require_positive(accel_mm_s2, "accel_mm_s2", "mm/s²")
    if distance_mm < speed_mm_s**2 / accel_mm_s2:
        return 2 * math.sqrt(distance_mm / accel_mm_s2)
    return distance_mm / speed_mm_s + speed_mm_s / accel_mm_s2


def motions_time_s(motions: tuple[Motion, ...], machine: Machine, start: tuple[float, float]) -> float:
    """Time of motions from `start`; those that do not stop run on into the next at the same speed."""
    total, run_mm = 0.0, 0.0
    x, y = start
    for motion in motions:
        run_mm += math.hypot(motion.x_mm - x, motion.y_mm - y)
        x, y = motion.x_mm, motion.y_mm
        if motion.stops:
            total += move_time_s(run_mm, motion.speed_mm_s, machine.accel_mm_s2)
            run_mm = 0.0
    return total


def burn_time_s(tasks: list[Task], machine: Machine) -> float:
    """Time of all tasks from the work zero, waits included, s. An estimate: controllers differ a little."""
    total, at = 0.0, (0.0, 0.0)
    for task in tasks:
        total += task.wait_s
        if task.motions:
            total += motions_time_s(task.motions, machine, at)
            at = (task.motions[-1].x_mm, task.motions[-1].y_mm)
    return total
