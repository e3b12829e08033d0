"""Two ticks, so many turns apart, that tell how far a turning device turns."""

import numpy as np

from keencoat.core.errors import require_within
from keencoat.core.placing.turning import StandsInFor, TurningDevice
from keencoat.core.quantities import Machine, Setting, require_reachable
from keencoat.core.toolpath import Item, Moves, Part, Task, write_gcode

_TICK_MM = 8.0
_STEP_MM = 3.0
"""How far along the wall the second tick stands from the first, so that both are seen after whole turns."""


def ticks_gcode(
    device: TurningDevice, machine: Machine, turns: float, widest_mm: float, at: tuple[float, float]
) -> str:
    """Ticks along the wall at turn 0 and at `turns`, as G-code; `at` is power in per cent and speed in mm/s."""
    require_within(turns, 0.1, 20, "turns")
    require_within(widest_mm, 5, 1000, "widest_mm", "mm")
    power_pct, speed_mm_s = at
    setting = require_reachable(Setting(power_pct, speed_mm_s, 0.1), machine)
    far = turns * device.turn_mm(widest_mm) * (-1 if device.backwards else 1)
    along = np.array([0.0, _TICK_MM, _STEP_MM, _STEP_MM + _TICK_MM])
    axis = np.array([0.0, 0.0, far, far])
    x, y = (axis, along) if device.stands_in_for is StandsInFor.X else (along, axis)
    lit = np.array([False, True, False, True])
    moves = Moves(
        x,
        y,
        np.where(lit, speed_mm_s, machine.max_speed_mm_s),
        np.where(lit, power_pct, 0.0),
        np.ones(4, dtype=bool),
        ~lit,
    )
    return write_gcode(
        [Task(Item(Part.EDGE, "ticks"), setting, moves)],
        machine,
        f"two ticks, {turns:g} turns apart on Ø {widest_mm:g} mm",
        zero="where the first tick begins, on the wall's ridge",
        turns=device.stands_in_for.value,
    )
