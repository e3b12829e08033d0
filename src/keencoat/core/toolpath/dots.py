"""A raster of dots as a program: lines of runs, both ways, streamed a few at a time.

Only lines that hold a dot are burned, and only from their first dot to their last. Rows are given the lowest first, as
the head burns them.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from keencoat.core.errors import require_positive
from keencoat.core.quantities import Machine, Setting
from keencoat.core.toolpath.program import Item, Moves, Task, joined, lit_energy_j
from keencoat.core.toolpath.raster import dot_row_moves

_ROWS_A_TASK = 32


@dataclass(frozen=True, eq=False)
class DotRaster:
    """Dots (rows, columns), the lowest row first, its lower left dot beginning at (left, low) mm; dots are `pitch_mm`
    long, rows lie an interval apart. Goes through anew each time, a few rows at a time."""

    dots: NDArray[np.bool_]
    left_mm: float
    low_mm: float
    pitch_mm: float
    setting: Setting
    machine: Machine
    item: Item

    def __post_init__(self) -> None:
        require_positive(self.pitch_mm, "pitch_mm", "mm")

    def __iter__(self) -> Iterator[Task]:
        lit_rows = np.flatnonzero(self.dots.any(axis=1))
        line = 0
        for _ in range(self.setting.passes):
            for start in range(0, len(lit_rows), _ROWS_A_TASK):
                rows = lit_rows[start : start + _ROWS_A_TASK]
                moves = joined(self._row(int(row), line + n) for n, row in enumerate(rows))
                line += len(rows)
                yield Task(self.item, self.setting, moves)

    def _row(self, row: int, line: int) -> Moves:
        lit = self.dots[row]
        places = np.flatnonzero(lit)
        first, last = int(places[0]), int(places[-1]) + 1
        return dot_row_moves(
            lit[first:last],
            line,
            self.left_mm + first * self.pitch_mm,
            self.low_mm + row * self.setting.interval_mm,
            (last - first) * self.pitch_mm,
            self.setting,
            self.machine,
        )

    def for_time(self) -> "DotRaster":
        """Its lines, each lit from its first dot to its last: they take as long, and are gone through much sooner."""
        rows = np.asarray(self.dots.any(axis=1))
        first, last = self.dots.argmax(axis=1), self.dots.shape[1] - self.dots[:, ::-1].argmax(axis=1)
        places = np.arange(self.dots.shape[1])
        lit = (places >= first[:, None]) & (places < last[:, None]) & rows[:, None]
        return replace(self, dots=lit)

    @property
    def lines(self) -> int:
        """Lines that are burned, over all passes."""
        return int(self.dots.any(axis=1).sum()) * self.setting.passes

    @property
    def energy_j(self) -> float:
        """Energy that the beam delivers: it is on at the setting's power and speed alone."""
        return lit_energy_j(self.setting, self.machine, self.lit_mm)

    @property
    def lit_mm(self) -> float:
        """How far the beam is on, over all passes."""
        return float(self.dots.sum()) * self.pitch_mm * self.setting.passes
