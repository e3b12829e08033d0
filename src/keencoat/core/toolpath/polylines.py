"""Polylines as a program: each drawn once a pass, with the beam on from its first point to its last."""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

from keencoat.core.quantities import Machine, Setting
from keencoat.core.toolpath.letters import Stroke
from keencoat.core.toolpath.program import Item, Task, lit_energy_j
from keencoat.core.toolpath.raster import stroke_moves

_STROKES_A_TASK = 32


@dataclass(frozen=True, eq=False)
class Polylines:
    """Strokes in work coordinates, in the order in which they are drawn; a pass goes over all of them."""

    strokes: tuple[Stroke, ...]
    setting: Setting
    machine: Machine
    item: Item

    def __iter__(self) -> Iterator[Task]:
        for _ in range(self.setting.passes):
            for start in range(0, len(self.strokes), _STROKES_A_TASK):
                some = self.strokes[start : start + _STROKES_A_TASK]
                yield Task(self.item, self.setting, stroke_moves(some, self.setting, self.machine))

    @property
    def lines(self) -> int:
        """Strokes that are drawn, over all passes."""
        return len(self.strokes) * self.setting.passes

    @property
    def energy_j(self) -> float:
        """Energy that the beam delivers: it is on at the setting's power and speed alone."""
        return lit_energy_j(self.setting, self.machine, self.lit_mm)

    @property
    def lit_mm(self) -> float:
        """How far the beam is on, over all passes."""
        return sum(math.dist(a, b) for stroke in self.strokes for a, b in pairwise(stroke)) * self.setting.passes

    def for_time(self) -> "Polylines":
        """What takes as long: itself."""
        return self
